"""How far an axle rolls at ride height before its stops meet or its links bind, solved, not read off a grid."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.grid import stop_spacing
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.linkage.position import sweep_grid

Array = NDArray[np.float64]
FARTHEST = math.radians(45.0)
NEAR = 1e-3
"""Heave each side of ride height that goes with every roll looked at, m: a row needs neighbours."""
LOOKS, ROUNDS = 33, 3
"""Rolls looked at together, and how often the gap between the last that goes and the first that does not is cut."""


def roll_reach(rig: Rig, one: AxleTravel) -> tuple[float, str]:
    """The farthest roll at ride height both ways, rad, and what ends it: one side at its stop (or strap) on one side,
    a bind of the links or a shackle that cannot follow, or 45°.
    """
    low, high = one.grid.limits
    part = min(-low, high) / (0.5 * stop_spacing(rig, one.layout))
    stop = math.asin(min(1.0, max(0.0, part)))
    asked = min(stop, FARTHEST)
    if asked <= 1e-9:
        return 0.0, "stops"
    good, bad = 0.0, asked
    if _all_reached(one, asked):
        return asked, "stops" if stop <= FARTHEST else "looked at no further than 45°"
    for _ in range(ROUNDS):
        tries = np.linspace(good, bad, LOOKS)[1:]
        goes = _reached(one, tries)
        first = int(np.argmin(goes))
        good, bad = (float(tries[first - 1]) if first else good), float(tries[first])
    return good, "links bind" if one.leaf is None else "the shackle"


def _all_reached(one: AxleTravel, roll: float) -> bool:
    return bool(_reached(one, np.linspace(0.0, roll, LOOKS)[1:]).all())


def _reached(one: AxleTravel, rolls: Array) -> NDArray[np.bool_]:
    """Which of rising rolls the axle takes both ways, ride height kept, each followed from ride."""
    if one.leaf is None:
        assert one.motion is not None
        steps = np.linspace(0.0, float(rolls[0]), LOOKS)[:-1]
        way = np.concatenate([steps, rolls])
        both = np.concatenate([-way[:0:-1], way])
        got = sweep_grid(one.motion.bars, np.array([-NEAR, 0.0, NEAR]), both).reached[:, 1]
        n = len(rolls)
        return np.asarray(got[-n:] & got[:n][::-1])
    half, shape = 0.5 * one.leaf.leaf.spacing_m, one.leaf.shape
    return np.array(
        [
            all(math.isfinite(shape.at(side * half * math.sin(r), 0.0).shackle) for side in (1.0, -1.0))
            for r in rolls.tolist()
        ]
    )
