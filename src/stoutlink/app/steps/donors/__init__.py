"""Donor axles."""
