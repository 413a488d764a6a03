"""The tape step: drawing, strip of stations, drawer."""
