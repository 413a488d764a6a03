"""What is due at the bench now: tests that can be made, bolts to torque again, cards that were left, steps reopened."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal

from msgspec import Struct

from stoutlink.core.analysis.bench.card import Card
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.analysis.bench.undone import Undone
from stoutlink.core.document.bench import Assembly

DueKind = Literal["test", "again", "left", "reopened", "undone"]
TESTS = ("Locker", "Test")
"""Phases whose steps are tests: one that can be made is due."""


class Due(Struct, frozen=True):
    """One thing that is due, in words."""

    kind: DueKind
    assembly: Assembly
    words: str


def due(cards: Iterable[Card], bolts: Iterable[BoltLine], open_: Iterable[Undone]) -> tuple[Due, ...]:
    """Everything that is due, tests first."""
    return tuple(_all(tuple(cards), bolts, open_))


def _all(cards: tuple[Card, ...], bolts: Iterable[BoltLine], open_: Iterable[Undone]) -> Iterator[Due]:
    for card in cards:
        for line in card.lines:
            if line.step.phase in TESTS and line.standing in ("open", "unjudged") and line.step.found is None:
                yield Due("test", card.id, line.step.title)
    for bolt in bolts:
        if bolt.standing == "again":
            yield Due("again", bolt.place.assembly, f"torque again: {bolt.place.name}")
    for card in cards:
        if card.stop is not None:
            left = card.line(card.stop.step)
            at = f" at “{left.step.title}”" if left is not None else ""
            yield Due("left", card.id, f"left{at}")
    for one in open_:
        yield Due("reopened" if one.words.endswith("to be done again") else "undone", one.assembly, one.words)
