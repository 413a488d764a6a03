"""Invented rigs, axles and a starter project, shipped as data."""

from __future__ import annotations

from importlib import resources
from pathlib import Path


def demo_file(name: str) -> Path:
    """Path of a shipped data file: ``basalt.stoutlink``, ``starter.stoutlink`` or ``donors.csv``."""
    return Path(str(resources.files(__name__) / name))
