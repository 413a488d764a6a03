"""Links and leaves."""
