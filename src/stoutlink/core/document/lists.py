"""What lists of a project have in common: names once each, what of them changed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TypeVar

from stoutlink.core.errors import ValueOutOfRange

T = TypeVar("T")


def changed(now: tuple[T, ...], before: tuple[T, ...] | None) -> Iterator[T]:
    """Those of a list that are not the very same values in the list before."""
    known = set() if before is None else {id(one) for one in before}
    return (one for one in now if id(one) not in known)


def unique(where: str, names: Iterable[str]) -> None:
    """Raise for the first name that stands twice in a list."""
    seen: set[str] = set()
    for name in names:
        if name in seen:
            raise ValueOutOfRange("D112", f"{where} holds “{name}” twice.")
        seen.add(name)
