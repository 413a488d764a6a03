"""The best holes for drag link and panhard: every combination of the holes they have, by what each does to the
steering in bump.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable

import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.analysis.linkage.bar_set import bars_of
from stoutlink.core.analysis.linkage.steering_geometry import on_centreline, turn_over
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.hole_points import bolted, with_holes
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.rig import Rig
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.mechanics.linkage.position import sweep
from stoutlink.core.mechanics.steering import per_step

STATIONS = 41
MOST = 20_000
"""Combinations worked out; more are refused."""


class HoleChoice(Struct, frozen=True):
    """One combination: holes of pitman arm and knuckle arm, (bracket id, hole) of the panhard's, and what it gives:
    largest heading over the travel asked for, per 25 mm of bump (rad), how far the axle is pushed sideways (m),
    height of the panhard on the centreline (m; ``nan`` without one)."""

    pitman: int
    knuckle: int
    brackets: tuple[tuple[str, int], ...]
    largest: float
    per_step: float
    side_shift: float
    panhard_height: float
    current: bool


def steering_holes(layout: Layout) -> int:
    """How many combinations there are; 1 when nothing has holes."""
    s = layout.steering
    rows = [] if s is None else [1 if r is None else r.holes for r in (s.pitman_holes, s.knuckle_holes)]
    return int(np.prod([*rows, *(b.holes for b in _brackets(layout))], dtype=int))


def _brackets(layout: Layout) -> list[Bracket]:
    bars = {x.id for x in layout.links if x.role == "panhard"}
    return [b for b in layout.brackets if b.link in bars]


def best_holes(
    rig: Rig,
    layout: Layout,
    joints: tuple[Joint, ...],
    droop: float,
    bump: float,
    going: Callable[[float], bool] = lambda part: True,
    held: Grid | None = None,
) -> tuple[HoleChoice, ...]:
    """Every combination, the least largest heading first; the links made to suit, ride height kept.

    A combination in which the drag link or the axle does not reach the whole travel comes last, with ``nan``. Raises
    :class:`ValueOutOfRange` above 20 000. ``held``: the travel of an axle that leaves hold, which the panhard's holes
    do not change. Stops early, with nothing, when ``going`` says no.
    """
    s = layout.steering
    if s is None or s.kind != "drag_link":
        return ()
    count = steering_holes(layout)
    if count > MOST:
        raise ValueOutOfRange(
            "L203",
            f"{count:,} combinations of steering holes are more than the {MOST:,} that are worked out.",
            "Give an arm or a bracket fewer holes.",
        )
    brackets = _brackets(layout)
    arms = list(
        itertools.product(*(range(1, 2 if r is None else r.holes + 1) for r in (s.pitman_holes, s.knuckle_holes)))
    )
    here = tuple(1 if r is None else r.hole for r in (s.pitman_holes, s.knuckle_holes))
    heave = np.linspace(-droop, bump, STATIONS) if held is None else held.heave.copy()
    start = int(np.argmin(np.abs(heave)))
    heave[start] = 0.0
    centre = axle_centre(rig, layout.end)
    out: list[HoleChoice] = []
    sets = list(itertools.product(*(range(1, b.holes + 1) for b in brackets)))
    for n, holes in enumerate(sets):
        if not going(n / len(sets)):
            return ()
        named = tuple((b.id, h) for b, h in zip(brackets, holes, strict=True))
        bent = with_holes(layout, named)
        poses = sweep(bars_of(rig, bent, joints), heave, np.zeros(STATIONS)) if held is None else held.level_poses()
        bar = next((x for x in bent.links if x.role == "panhard"), None)
        height = float("nan") if bar is None else on_centreline(bar)[1]
        shift = float(np.ptp(poses.y)) if poses.reached.all() else float("nan")
        for arm in arms:
            turned = bolted(s, *arm)
            heading = turn_over(bent, turned, centre, poses, start).heading
            off = heading - heading[start]
            worst = float(off[np.argmax(np.abs(off))]) if np.isfinite(off).all() else float("nan")
            out.append(
                HoleChoice(
                    arm[0],
                    arm[1],
                    named,
                    worst,
                    per_step(heave, heading),
                    shift,
                    height,
                    arm == here and all(b.hole == h for b, h in zip(brackets, holes, strict=True)),
                )
            )
    return tuple(sorted(out, key=lambda c: (not np.isfinite(c.largest), abs(c.largest))))
