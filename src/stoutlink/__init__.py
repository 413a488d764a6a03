"""Stout Link: plan a solid axle swap from the tape to the cut list."""

__version__ = "0.8.0"
