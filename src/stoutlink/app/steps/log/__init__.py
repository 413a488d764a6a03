"""The log: as built, runs, tuning, the test hill, care, hand-over."""
