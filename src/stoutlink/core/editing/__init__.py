"""Labelled edits, history and the session that holds the current project."""
