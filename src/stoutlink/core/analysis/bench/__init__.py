"""The bench: what is set up and written down on the way to a closed axle."""
