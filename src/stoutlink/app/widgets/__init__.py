"""Fields and bars used by several steps."""
