"""Bought things as tables, each row with its source."""
