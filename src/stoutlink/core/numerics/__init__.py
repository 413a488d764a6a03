"""Small dense linear algebra on many systems at once."""
