"""Everything the program knows and computes; no interface code below this package."""
