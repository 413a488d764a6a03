"""New short names for things in a list."""

from __future__ import annotations

import itertools
from collections.abc import Iterable


def free_id(stem: str, taken: Iterable[str]) -> str:
    """The stem with the next number that no name in ``taken`` has.

    >>> free_id("survey-", ["survey-1", "as-built"]), free_id("p", ["p2"])
    ('survey-2', 'p3')
    """
    known = set(taken)
    first = 1 + sum(one.startswith(stem) for one in known)
    return next(name for n in itertools.count(first) if (name := f"{stem}{n}") not in known)
