"""Parts of an axle as its record makes them, to be marked before they come out; what comes out next, what goes back next."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.bench import Mark, MarkedPart, Side


def proposed_parts(axle: DonorAxle, locker: str) -> tuple[MarkedPart, ...]:
    """Every part that has a side, a place or an order of its own, in the order they come out."""
    return tuple(_parts(axle, locker))


def _part(key: str, name: str, along: float, side: Side = "middle", pair: str = "") -> MarkedPart:
    return MarkedPart(id=key, name=name, along=along, side=side, pair=pair)


def _both(key: str, name: str, along: float, *, pair: bool = False) -> Iterator[MarkedPart]:
    for side, sign in (("left", 1.0), ("right", -1.0)):
        yield _part(f"{key}-{side}", f"{side.capitalize()} {name}", sign * along, side, f"{key}-{side}" if pair else "")  # type: ignore[arg-type]


def _parts(axle: DonorAxle, locker: str) -> Iterator[MarkedPart]:
    if axle.brake == "disc":
        yield from _both("caliper", "caliper", 1.0)
        yield from _both("disc", "disc", 0.97)
    elif axle.brake == "drum":
        yield from _both("drum", "drum", 0.97)
    if axle.lockouts in ("manual", "automatic"):
        yield from _both("lockout", "hub lock-out", 0.94)
    elif axle.floating == "full":
        yield from _both("flange", "drive flange", 0.94)
    yield from _both("hub", "hub", 0.9) if axle.wheel_bearing is not None else ()
    if axle.knuckle in ("kingpin", "ball_joint"):
        yield from _both("knuckle", "knuckle", 0.84)
    yield _part("cover", "Cover", 0.0) if not axle.third_member else _part("case", "Third member", 0.0)
    if axle.c_clips:
        yield _part("cross-pin", "Cross pin and its bolt", 0.02)
        yield from _both("clip", "C-clip", 0.08)
    yield from _both("shaft", "shaft", 0.55)
    yield from _both("cap", "bearing cap", 0.16, pair=True)
    yield from _both("carrier-shims", "carrier shims", 0.28)
    yield from _both("race", "carrier bearing race", 0.23)
    yield _part("carrier", "Carrier" if locker in ("open", "drop_in") else "Carrier with its locker", 0.0)
    if locker == "drop_in":
        yield from _both("half", "locker half", 0.06)
    yield _part("ring", "Ring gear", 0.1, pair="gears")
    yield _part("yoke", "Yoke", 0.0)
    yield _part("pinion", "Pinion", 0.0, pair="gears")
    yield _part("pinion-shims", "Pinion shims", 0.0)
    yield _part("sleeve", "Sleeve or spacer", 0.0)
    yield from _both("seal", "shaft seal", 0.4)


def next_order(parts: tuple[MarkedPart, ...]) -> int:
    """The number the next part out gets."""
    return max((p.order for p in parts), default=0) + 1


def way_back(parts: tuple[MarkedPart, ...]) -> tuple[MarkedPart, ...]:
    """Parts that are out, in the order they go back: the last out first."""
    return tuple(sorted((p for p in parts if p.state == "out" and p.order > 0), key=lambda p: -p.order))


def free_mark(parts: tuple[MarkedPart, ...]) -> Mark:
    """A punch mark with a count no part carries."""
    taken = {p.mark.count for p in parts if p.mark is not None and p.mark.kind == "punch"}
    return Mark(count=next((k for k in range(1, 13) if k not in taken), 12))
