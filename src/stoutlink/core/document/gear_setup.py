"""Setting up a ring and pinion: which shims there are, what was in at each attempt, what was read of it."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier

GearCut = Literal["milled", "milled_reverse", "hobbed"]
CUT_WORDS: dict[GearCut, str] = {
    "milled": "milled", "milled_reverse": "milled, reverse", "hobbed": "hobbed",
}  # fmt: skip
Edge = Literal["toe", "heel", "root", "top"]
EDGES: tuple[Edge, ...] = ("toe", "heel", "root", "top")


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class Patch(Frozen, frozen=True, kw_only=True):
    """Where a painted flank was rubbed clean: middle of the patch along the tooth (0 toe, 1 heel) and up it (0 root, 1
    top), how long and how tall it is as parts of the tooth."""

    place: Annotated[float, Meta(ge=0.0, le=1.0)]
    height: Annotated[float, Meta(ge=0.0, le=1.0)]
    long: Annotated[float, Meta(ge=0.02, le=1.0)] = 0.45
    tall: Annotated[float, Meta(ge=0.02, le=1.0)] = 0.35

    @property
    def off(self) -> tuple[Edge, ...]:
        """Edges it runs off; one that reaches over the whole tooth runs off neither of two."""
        ends: list[Edge] = []
        for low, high, middle, size in (
            ("toe", "heel", self.place, self.long),
            ("root", "top", self.height, self.tall),
        ):
            begins, goes = middle - 0.5 * size < 1e-6, middle + 0.5 * size > 1 - 1e-6
            if begins != goes:
                ends.append(low if begins else high)  # type: ignore[arg-type]
        return tuple(ends)


class GearReading(Frozen, frozen=True, kw_only=True):
    """What was read of one attempt at one time: backlash at places round the ring, and the pattern on both flanks."""

    backlash_m: Annotated[
        tuple[Annotated[float, _n("Backlash", "fine_length", 0.0, 0.003, "At the tooth, by the indicator.")], ...],
        Meta(max_length=12),
    ] = ()
    drive: Patch | None = None
    coast: Patch | None = None
    when: Annotated[str, Meta(max_length=40)] = ""


class GearAttempt(Frozen, frozen=True, kw_only=True):
    """Shims that were in, and what was read of them; a later reading does not take the place of an earlier one."""

    id: Identifier
    pinion_m: Annotated[float, _n("Pinion shims", "fine_length", 0.0, 0.01, "Stack at the pinion, all together.")]
    toward_m: Annotated[
        float, _n("Ring side shims", "fine_length", 0.0, 0.02, "Stack that holds the ring towards the pinion.")
    ]
    away_m: Annotated[float, _n("Other side shims", "fine_length", 0.0, 0.02, "Stack on the other side.")]
    readings: Annotated[tuple[GearReading, ...], Meta(max_length=60)] = ()


class ShimStack(Frozen, frozen=True, kw_only=True):
    """Shims of one thickness that are owned."""

    id: Identifier
    place: Literal["pinion", "ring"] = "pinion"
    thick_m: Annotated[float, _n("Thickness", "fine_length", 0.00001, 0.01, "Of one, with the micrometer.")]
    count: Annotated[int, _n("How many", "count", 1, 12, "That are owned.")] = 1


class GearSetup(Frozen, frozen=True, kw_only=True):
    """Setting up the gears of one axle; ``id`` is its end. The window is the maker's: ``source`` says whose."""

    id: Literal["front", "rear"]
    cut: GearCut = "milled"
    thicker: Literal["deeper", "shallower"] = "deeper"
    spacer: Literal["sleeve", "solid"] = "sleeve"
    low_m: Annotated[float, _n("Backlash from", "fine_length", 0.00001, 0.002, "Least that is wanted.")] | None = None
    high_m: Annotated[float, _n("Backlash to", "fine_length", 0.00001, 0.003, "Most that is wanted.")] | None = None
    spread_m: Annotated[
        float, _n("Spread allowed", "fine_length", 0.00001, 0.001, "Between the places round the ring.")
    ] = 0.00006
    source: Annotated[str, Meta(max_length=200)] = ""
    stacks: Annotated[tuple[ShimStack, ...], Meta(max_length=40)] = ()
    attempts: Annotated[tuple[GearAttempt, ...], Meta(max_length=40)] = ()
    trainer: Annotated[int, Meta(ge=0, le=1_000_000)] | None = None
    """The simulated housing this is played against; none for an axle that is there."""
