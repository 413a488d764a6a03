"""Scales and angle finder: the line protocol, steady averaging, the port, and stand-ins that behave like real ones."""
