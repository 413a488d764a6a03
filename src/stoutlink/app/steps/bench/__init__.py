"""The bench step: what is set up, read and written down before an axle is closed."""
