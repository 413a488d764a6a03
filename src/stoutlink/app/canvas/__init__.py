"""Pictures: shapes painted, places that tell and do something, curves."""
