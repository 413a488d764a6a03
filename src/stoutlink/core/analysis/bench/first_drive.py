"""The first-drive sheet: what must hold before it is driven, who signed for it, and what was let through with a reason."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from stoutlink.core.analysis.bench.axle_steps import LOCKER_TEST
from stoutlink.core.analysis.bench.card import Card
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.analysis.bench.undone import Undone
from stoutlink.core.document.bench import DriveGate, FirstDrive

GateStanding = Literal["shut", "to sign", "signed", "let through", "lapsed"]


class Gate(Struct, frozen=True):
    """One line: whether it holds and why not; how it stands. A signature for what no longer holds has lapsed."""

    key: str
    title: str
    holds: bool
    why: str
    signed: DriveGate | None

    @property
    def standing(self) -> GateStanding:
        """A reason with a name lets through what does not hold; a name alone signs what does."""
        one = self.signed
        if one is None or not one.by.strip():
            return "to sign" if self.holds else "shut"
        if self.holds:
            return "signed"
        return "let through" if one.reason.strip() else "lapsed"

    @property
    def open(self) -> bool:
        """Whether it keeps the rig in the shop."""
        return self.standing not in ("signed", "let through")


class DriveSheet(Struct, frozen=True):
    """All gates; ``again``: places whose re-torque is due."""

    gates: tuple[Gate, ...]
    first: FirstDrive
    again: tuple[str, ...]

    @property
    def may(self) -> bool:
        """Whether every gate is signed or let through."""
        return not any(g.open for g in self.gates)

    def gate(self, key: str) -> Gate | None:
        """A gate by its key."""
        return next((g for g in self.gates if g.key == key), None)


def drive_sheet(
    first: FirstDrive,
    cards: dict[str, Card],
    bolts: tuple[BoltLine, ...],
    open_: tuple[Undone, ...],
    lockers: dict[str, str],
) -> DriveSheet:
    """Gates from the cards, the bolts and the register; ``lockers``: the kind at each end that has an axle."""
    signed = {one.id: one for one in first.gates}
    out: list[Gate] = []

    def add(key: str, title: str, why: list[str]) -> None:
        words = "; ".join(why[:4]) + (f"; and {len(why) - 4} more" if len(why) > 4 else "")
        out.append(Gate(key, title, not why, words, signed.get(key)))

    def steps(card_id: str, *keys: str) -> list[str]:
        card = cards.get(card_id)
        if card is None:
            return [f"there is no card of the {card_id}"]
        lines = [card.line(k) for k in keys]
        return [line.step.title for line in lines if line is not None and line.standing != "done"]

    add("torques", "Every torque put down: U-bolts, hubs, caps, links", [b.place.name for b in bolts if not b.passed and b.standing != "again"])  # fmt: skip
    add("bled", "Brakes bled, and they hold pressure", steps("brakes", "bleed", "hold"))
    add("parking", "Parking brake holds on a slope", steps("brakes", "parking"))
    shafts = cards.get("driveline")
    ends = [] if shafts is None else [ln.step.key for ln in shafts.lines if ln.step.key.endswith(("-droop", "-bump"))]
    add("slip", "Slip splines read at droop and at bump", steps("driveline", *ends) if shafts is not None else ["there is no card of the driveline"])  # fmt: skip
    add("tack", "Nothing left at tack", [u.words for u in open_ if u.source == "welds"] + [u.words for u in open_ if u.source == "own" and "tacked" in u.words])  # fmt: skip
    tests = [
        s for end, kind in lockers.items() for s in (f"{end}: {t}" for t in steps(end, *LOCKER_TEST.get(kind, ())))
    ]
    add("lockers", "Lockers tested", tests)
    add("oil", "Axles sealed and filled", [f"{end}: {t}" for end in lockers for t in steps(end, "sealed", "oil")])
    add("sweep", "Lock to lock and bump to droop: nothing touches", steps("steering", "lock") if "steering" in cards else [])  # fmt: skip
    add("undone", "Nothing left undone", [u.words for u in open_])
    add("again", "First re-torque: after which distance", [] if first.again_m is not None else ["the distance is not typed"])  # fmt: skip
    return DriveSheet(tuple(out), first, tuple(b.place.name for b in bolts if b.standing == "again"))
