"""Cut list."""
