"""What is left undone: one's own loose ends and everything the bench knows to be open, in one register."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from msgspec import Struct

from stoutlink.core.analysis.bench.card import Card
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.document.bench import LOOSE_WORDS, Assembly, LooseEnd


class Undone(Struct, frozen=True):
    """One open item: where it is from (``own``, ``card``, ``bolts``, ``welds``), what it is, why it is open."""

    key: str
    source: str
    assembly: Assembly
    words: str
    why: str = ""


def undone(
    own: Iterable[LooseEnd], cards: Iterable[Card], bolts: Iterable[BoltLine], tacked: dict[Assembly, int]
) -> tuple[Undone, ...]:
    """The register: ``tacked`` counts beads only tacked, by axle."""
    return tuple(_all(own, cards, bolts, tacked))


def _all(
    own: Iterable[LooseEnd], cards: Iterable[Card], bolts: Iterable[BoltLine], tacked: dict[Assembly, int]
) -> Iterator[Undone]:
    for one in own:
        if not one.closed:
            yield Undone(one.id, "own", one.assembly, f"{one.name}: {LOOSE_WORDS[one.kind]}", one.why)
    for card in cards:
        for line in card.lines:
            key = f"{card.id}-{line.step.key}"
            if line.standing == "feel":
                yield Undone(key, "card", card.id, f"{line.step.title}: by feel", "not measured")
            elif line.standing == "reopened":
                yield Undone(key, "card", card.id, f"{line.step.title}: to be done again", "shims were changed since")
            elif line.standing == "out":
                yield Undone(key, "card", card.id, f"{line.step.title}: out of its window", "")
        if card.stop is not None and card.stop.exposed:
            yield Undone(f"{card.id}-stop", "card", card.id, f"Left open: {card.stop.exposed}", card.stop.hand)
    for bolt in bolts:
        if bolt.standing == "undone":
            yield Undone(
                bolt.place.key, "bolts", bolt.place.assembly, f"{bolt.place.name}: loosened", "not torqued since"
            )
        elif bolt.standing == "part":
            yield Undone(
                bolt.place.key,
                "bolts",
                bolt.place.assembly,
                f"{bolt.place.name}: {bolt.done} of {bolt.count} tight",
                "",
            )
    for assembly, count in tacked.items():
        if count:
            words = f"{count} bead{'s' if count > 1 else ''} of the housing only tacked"
            yield Undone(f"{assembly}-tacked", "welds", assembly, words, "")
