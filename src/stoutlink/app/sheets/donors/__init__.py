"""The donors step: one file per look."""
