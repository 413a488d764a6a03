"""The survey."""
