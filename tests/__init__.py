"""Tests: mirrors of the rooms, plus published numbers, agreements between two routes, and invariants."""
