"""The travel step: cycle an axle before it is welded."""
