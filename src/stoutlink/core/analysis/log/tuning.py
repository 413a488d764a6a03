"""Every way to bolt an axle, held against what was felt: how far it moves the numbers that bear on it, and what it costs elsewhere."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.analysis.linkage.hole_map import HoleMap, turns_of
from stoutlink.core.analysis.linkage.many_layouts import Setting, numbers_of
from stoutlink.core.analysis.linkage.steering_geometry import bump_steer
from stoutlink.core.analysis.log.bearings import BEARINGS, Bearing
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.hole_points import with_holes
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.log import FeltWord
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

Array = NDArray[np.float64]
LOOKED = 24
"""Combinations whose room, give and steering are worked out: the best by holes alone."""
SHOWN = 6
WORTH = 0.15
"""A way has to move its numbers by this part of a usual difference to be one."""
ENOUGH = 2.5
"""Gains beyond this many usual differences count no more: a number is moved a little at a time."""


class Elsewhere(Struct, frozen=True):
    """What a way does to a number that was not asked for: before and after, in its own unit, and the cost in usual differences (above 0
    worse)."""

    number: str
    before: float
    after: float
    cost: float


class Way(Struct, frozen=True):
    """One way to bolt it: its row of the hole map and words, the numbers moved (before, after), the gain and the cost in usual differences,
    everything it changes elsewhere, the bars that must be turned, and whether every thread reaches."""

    row: int
    words: str
    moved: tuple[tuple[Bearing, float, float], ...]
    gain: float
    cost: float
    elsewhere: tuple[Elsewhere, ...]
    turned: tuple[tuple[str, float, bool], ...]
    layout: Layout

    @property
    def reaches(self) -> bool:
        """Whether every bar's threads reach."""
        return all(ok for _, _, ok in self.turned)

    @property
    def worth(self) -> float:
        """Gain less cost."""
        return self.gain - self.cost


class Tuning(Struct, frozen=True):
    """What can be done at one axle about what was felt; ``gain`` and ``cost`` of every combination by holes alone, ``(m,)``."""

    felt: FeltWord
    end: str
    school: str
    bearings: tuple[Bearing, ...]
    ways: tuple[Way, ...]
    gain: Array
    cost: Array
    current: int


def schools_of(felt: FeltWord, end: str) -> tuple[str, ...]:
    """The schools that disagree about what was felt at this end; one empty name where they do not."""
    mine = [b for b in BEARINGS[felt] if b.end == end]
    named = tuple(dict.fromkeys(b.school for b in mine if b.school))
    return named or (("",) if mine else ())


def bearings_of(felt: FeltWord, end: str, school: str) -> tuple[Bearing, ...]:
    """What bears on it at an end by one school; what no school disputes always does."""
    return tuple(b for b in BEARINGS[felt] if b.end == end and b.school in ("", school))


def tuning(
    project: Project, rig: Rig, found: HoleMap, felt: FeltWord, school: str, cuts: tuple[LinkCut, ...]
) -> Tuning | None:
    """Rank every combination of holes of an axle; ``None`` where nothing at this end bears on it or the holes of now are not on the map.
    Gain and cost are in usual differences of each number (:class:`Headline.usual`)."""
    layout = found.layout
    bearings = bearings_of(felt, layout.end, school)
    if not bearings or found.current < 0:
        return None
    now = found.current
    gain = np.zeros(len(found.holes))
    for b in bearings:
        values, usual = found.values[b.number], HEADLINES[b.number].usual
        if b.way == "zero":
            moved = abs(values[now]) - np.abs(values)
        else:
            moved = (values - values[now]) * (1.0 if b.way == "up" else -1.0)
        gain += np.nan_to_num(moved / usual, nan=-9.0)
    capped = np.minimum(gain, ENOUGH)
    asked = {b.number for b in bearings}
    cost = np.zeros(len(found.holes))
    for name, values in found.values.items():
        if name not in asked:
            cost += np.nan_to_num(_cost(name, values[now], values), nan=9.0)
    worth = np.where((gain >= WORTH) & np.isfinite(found.values["drive"]), capped - cost, -np.inf)
    order = [int(k) for k in np.argsort(-worth, kind="stable")[:LOOKED] if np.isfinite(worth[k])]
    ways = _looked_at(project, rig, found, bearings, order, capped, cost, cuts)
    ways.sort(key=lambda w: (not w.reaches, -w.worth))
    return Tuning(felt, layout.end, school, bearings, tuple(ways[:SHOWN]), gain, cost, now)


def _cost(name: str, now: float, after: Array) -> Array:
    """What moving a number costs where it was not asked to: half of a move that is neither better nor worse, all of a move to worse."""
    one = HEADLINES[name]
    moved = (after - now) / one.usual
    if name == "steer":
        return np.asarray(np.maximum(0.0, (np.abs(after) - abs(now)) / one.usual))
    if one.better == "low":
        return np.asarray(np.maximum(0.0, moved))
    if one.better == "high":
        return np.asarray(np.maximum(0.0, -moved))
    return np.asarray(0.5 * np.abs(moved))


def _looked_at(
    project: Project,
    rig: Rig,
    found: HoleMap,
    bearings: tuple[Bearing, ...],
    rows: list[int],
    gain: Array,
    cost: Array,
    cuts: tuple[LinkCut, ...],
) -> list[Way]:
    if not rows:
        return []
    base = found.layout
    layouts = [
        with_holes(base, [(b.id, int(h)) for b, h in zip(base.brackets, found.holes[k], strict=True)])
        for k in (found.current, *rows)
    ]
    frame, axle = (np.array([[k.pivot(which) for k in one.links] for one in layouts]) for which in ("frame", "axle"))
    more = numbers_of(Setting.of(project, rig, base), frame, axle, ("clearance", "bind", "travel"), 21)
    steers = [_twitch(rig, one) for one in layouts]
    out = []
    for n, (k, layout) in enumerate(zip(rows, layouts[1:], strict=True), 1):
        elsewhere, extra = [], 0.0
        for name, values in found.values.items():
            if all(b.number != name for b in bearings):
                elsewhere.append(_else(name, float(values[found.current]), float(values[k])))
        for name, values in more.items():
            if name in ("clearance", "bind", "travel"):
                one = _else(name, float(values[0]), float(values[n]))
                elsewhere.append(one)
                extra += one.cost
        if steers[0] is not None and steers[n] is not None:
            was, now = steers[0] or 0.0, steers[n] or 0.0
            one = Elsewhere("bump_steer", was, now, max(0.0, (now - was) / BUMP_USUAL))
            elsewhere.append(one)
            extra += one.cost
        turned = tuple((c.link.name, t.turns, t.reaches) for c, t in turns_of(found, k, cuts))
        moved = tuple(
            (b, float(found.values[b.number][found.current]), float(found.values[b.number][k])) for b in bearings
        )
        out.append(
            Way(k, found.words(k), moved, float(gain[k]), float(cost[k]) + extra, tuple(elsewhere), turned, layout)
        )
    return out


BUMP_USUAL = 0.2
"""A usual difference of bump steer over the travel, degrees."""


def _else(name: str, before: float, after: float) -> Elsewhere:
    value = float(_cost(name, before, np.array([after]))[0])
    return Elsewhere(name, before, after, value if np.isfinite(value) else 9.0)


def _twitch(rig: Rig, layout: Layout) -> float | None:
    """The most the knuckles turn over the travel, degrees; ``None`` without a drag link."""
    if layout.steering is None:
        return None
    found = bump_steer(axle_motion(rig, layout, (), layout.droop_m, layout.bump_m))
    return None if found is None else abs(float(np.degrees(found.largest)))
