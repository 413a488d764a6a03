"""What leaves the program: cut lists and results."""
