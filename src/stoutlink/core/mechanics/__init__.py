"""Formulas and solvers on numbers and arrays in SI; never sees the project."""
