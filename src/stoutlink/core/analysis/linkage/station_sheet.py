"""Stations of a housing: where the pads go from the datum, whether what was read closes, and how the pinion will stand."""

from __future__ import annotations

import itertools
import math

from msgspec import Struct

from stoutlink.core.document.layout import Layout
from stoutlink.core.document.link_work import TAPE
from stoutlink.core.document.stations import (
    STATION_STAGES,
    StationOf,
    StationReading,
    Stations,
    StationStage,
    StraightReading,
)
from stoutlink.core.quantity.constants import INCH

NOTICE = INCH / 16
"""A misclosure of this is said whatever the readings' ±, m; a ± wider than this cannot judge it (common practice)."""
MARK = {"in": INCH / 32, "mm": 0.0005}
"""What a line can be marked to, m."""
STRAIGHT = INCH / 8
"""An end that misses the bar by this, m, is out (common practice)."""
ANGLE_AGREES = math.radians(0.5)


class Read(Struct, frozen=True):
    """Mean and 1 σ of the readings of one length at one stage, m."""

    value: float
    sigma: float
    count: int


class Closure(Struct, frozen=True):
    """Left, spacing and right against the span at a stage: what is left over, m, and its 2 σ."""

    stage: StationStage
    off: float
    two_sigma: float

    @property
    def bad(self) -> bool:
        """Whether one of the readings is wrong: more is left over than their ± allows."""
        return abs(self.off) > self.two_sigma

    @property
    def noticed(self) -> bool:
        """Whether it is worth a word all the same."""
        return abs(self.off) > NOTICE

    @property
    def blunt(self) -> bool:
        """Whether the readings are too unsure to judge 1/16 in."""
        return self.two_sigma > NOTICE


class End(Struct, frozen=True):
    """An end of the housing at a stage: how far it misses the bar, m, and, where the clock and the distance from the last
    puck are known, how the wheel stands: toe (in +) and camber (out at the top +), rad, for a kink at the puck; for an
    even bow both are twice as large. ``moved`` since the stage before, m (as vectors where both clocks are known).
    """

    side: str
    stage: StationStage
    miss: float
    toe: float | None
    camber: float | None
    moved: float | None

    @property
    def out(self) -> bool:
        """Whether it is out: the limit itself is."""
        return self.miss >= STRAIGHT - 1e-9


class StationSheet(Struct, frozen=True):
    """What the stations say. ``wanted`` spacing and where that is from; ``offset`` of each pad's middle from its datum,
    exact; ``mark`` the left one as it is marked, and where the right one then stands from its own datum (the second
    mark is measured from the first). ``moved``: left and right since the stage before, m."""

    stations: Stations
    wanted: float | None
    wanted_from: str
    read: dict[tuple[StationOf, StationStage], Read]
    span: float | None
    """The latest that was read, m."""
    offset: float | None
    mark: float | None
    right_then: float | None
    closures: tuple[Closure, ...]
    moved: dict[StationStage, tuple[float | None, float | None]]
    pinion: float | None
    pinion_wanted: float | None
    ends: tuple[End, ...]
    """Straightness, left end first, in the order of the stages."""

    @property
    def unproved(self) -> tuple[str, ...]:
        """Ends that were read after welding and never while tacked."""
        return tuple(
            side
            for side in ("left", "right")
            if any(e.side == side and e.stage == "welded" for e in self.ends)
            and not any(e.side == side and e.stage == "tacked" for e in self.ends)
        )

    @property
    def crooked(self) -> bool:
        """Whether the pinion would not stand where the layout has it."""
        return (
            self.pinion is not None
            and self.pinion_wanted is not None
            and abs(self.pinion - self.pinion_wanted) > ANGLE_AGREES
        )


def read_of(readings: tuple[StationReading, ...]) -> Read:
    """Mean of readings and its 1 σ: the greater of what spread and own ± say; a ± nobody gave is a tape's."""
    n = len(readings)
    mean = sum(r.value_m for r in readings) / n
    own = math.sqrt(sum((TAPE if r.sigma_m is None else r.sigma_m) ** 2 for r in readings)) / n
    spread = math.sqrt(sum((r.value_m - mean) ** 2 for r in readings) / (n - 1) / n) if n > 1 else 0.0
    return Read(mean, max(own, spread), n)


def station_sheet(stations: Stations, layout: Layout | None, unit: str) -> StationSheet:
    """Work the stations of a housing out. Where a stage has no span of its own, the latest before it counts."""
    read: dict[tuple[StationOf, StationStage], Read] = {}
    for stage in STATION_STAGES:
        for of in ("span", "left", "spacing", "right"):
            mine = tuple(r for r in stations.readings if r.of == of and r.stage == stage)
            if mine:
                read[of, stage] = read_of(mine)
    wanted, wanted_from = stations.wanted_m, "as typed"
    if wanted is None and layout is not None and layout.leaf is not None:
        wanted, wanted_from = layout.leaf.spacing_m, "the springs"
    elif wanted is None and ("spacing", "before") in read:
        wanted, wanted_from = read["spacing", "before"].value, "as read before"
    span = next((read["span", s] for s in reversed(STATION_STAGES) if ("span", s) in read), None)
    offset = None if span is None or wanted is None else 0.5 * (span.value - wanted)
    step = MARK["in" if unit == "in" else "mm"]
    mark = None if offset is None else round(offset / step) * step
    right_then = None if mark is None or span is None or wanted is None else span.value - mark - wanted
    closures = []
    for k, stage in enumerate(STATION_STAGES):
        parts = [read.get((of, stage)) for of in ("left", "spacing", "right")]
        whole = next((read["span", s] for s in reversed(STATION_STAGES[: k + 1]) if ("span", s) in read), None)
        if whole is None or any(p is None for p in parts):
            continue
        known = [p for p in parts if p is not None]
        off = whole.value - sum(p.value for p in known)
        closures.append(Closure(stage, off, 2 * math.sqrt(whole.sigma**2 + sum(p.sigma**2 for p in known))))
    moved: dict[StationStage, tuple[float | None, float | None]] = {}
    for before, after in itertools.pairwise(STATION_STAGES[1:]):
        moved[after] = _moved(read, before, after)
    pinion = None if stations.relation_rad is None else stations.relation_rad + stations.pad_rad + stations.shim_rad
    return StationSheet(
        stations,
        wanted,
        wanted_from if wanted is not None else "",
        read,
        None if span is None else span.value,
        offset,
        mark,
        right_then,
        tuple(closures),
        moved,
        pinion,
        None if layout is None else layout.pinion_up,
        _ends(stations),
    )


def _ends(stations: Stations) -> tuple[End, ...]:
    """Every end at every stage it was read at; of several readings of one the last counts."""
    out = []
    for side in ("left", "right"):
        before: StraightReading | None = None
        for stage in STATION_STAGES:
            mine = [r for r in stations.straight if r.side == side and r.stage == stage]
            if not mine:
                continue
            one = mine[-1]
            ahead, up = ahead_and_up(one)
            far = stations.puck_m
            # an end that is ahead turns the front of its wheel in, one that is high leans the top in
            toe = None if ahead is None or far is None else math.atan2(ahead, far)
            camber = None if up is None or far is None else -math.atan2(up, far)
            out.append(End(side, stage, one.miss_m, toe, camber, None if before is None else _apart(before, one)))
            before = one
    return tuple(out)


def ahead_and_up(one: StraightReading) -> tuple[float | None, float | None]:
    """How far the end is off ahead and up, m; unknown without a clock. Seen from its end the front lies at 9 o'clock on the
    left side and at 3 on the right."""
    if one.clock is None:
        return None, None
    turn = math.radians(30.0 * one.clock)
    right = one.miss_m * math.sin(turn)
    return (-right if one.side == "left" else right), one.miss_m * math.cos(turn)


def _apart(one: StraightReading, two: StraightReading) -> float:
    a, b = ahead_and_up(one), ahead_and_up(two)
    if a[0] is None or b[0] is None or a[1] is None or b[1] is None:
        return abs(two.miss_m - one.miss_m)
    return math.hypot(b[0] - a[0], b[1] - a[1])


def _moved(
    read: dict[tuple[StationOf, StationStage], Read], before: StationStage, after: StationStage
) -> tuple[float | None, float | None]:
    def one(of: StationOf) -> float | None:
        a, b = read.get((of, before)), read.get((of, after))
        return None if a is None or b is None else b.value - a.value

    return one("left"), one("right")
