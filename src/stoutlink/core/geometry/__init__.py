"""Points, lines, rotations and poses; no meaning attached."""
