"""Views as plain shapes in metres, for any painter."""
