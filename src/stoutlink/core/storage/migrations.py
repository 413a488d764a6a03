"""Older project files, moved forward step by step as plain data before any value is made."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from stoutlink.core.document.project import VERSION

Step = Callable[[dict[str, Any]], dict[str, Any]]

STEPS: dict[int, Step] = {}
"""From version n to n + 1. Version 1 is the first, so there is none yet."""


def migrate(raw: dict[str, Any], version: int, steps: dict[int, Step] | None = None, newest: int = VERSION) -> dict[str, Any]:
    """Bring plain data of ``version`` to ``newest``; every step returns new data and sets ``version`` itself.

    >>> migrate({"version": 1}, 1, {1: lambda raw: raw | {"version": 2, "colour": "none"}}, 2)
    {'version': 2, 'colour': 'none'}
    """
    steps = STEPS if steps is None else steps
    for one in range(version, newest):
        raw = steps[one](raw)
    return raw
