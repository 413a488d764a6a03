"""Finding layouts: what may move and what is wanted, the search, and its answers."""
