"""The project: one frozen value, one file per concept."""
