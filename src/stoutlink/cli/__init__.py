"""The command line: the second front end, which needs no display."""
