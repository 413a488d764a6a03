"""The steps of the route, one folder each."""
