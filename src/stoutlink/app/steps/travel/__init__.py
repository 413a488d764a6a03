"""Cycling an axle."""
