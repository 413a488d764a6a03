"""How much torque reaches the parts of a driven axle, and what its gears carry. Every argument may be an array.

Source: statics of the differential.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

RING_K = 0.45e6
"""Ring gear capacity over the cube of its diameter, Pa (estimate, ±30 %)."""
RING_K_SIGMA = 0.15
TALL_RATIO = 4.10
COAST_PART = 0.75
"""Coast flank over drive flank (0.65–0.85, common practice)."""
OPEN, SLIP, LOCKED = 0, 1, 2
"""How the two sides are tied: by halves, by a bias, or rigidly."""


class SideTorques(Struct, frozen=True):
    """Static torques of an axle, N·m, at the shafts inboard of any hub gears and at the ring gear."""

    low: Array
    high: Array
    ring: Array


def side_torques(
    tie: ArrayLike, engine: ArrayLike, low: ArrayLike, high: ArrayLike, bias: ArrayLike = 1.0, preload: ArrayLike = 0.0
) -> SideTorques:
    """Torque of the side with less grip, of the side with more, and of the ring gear.

    ``engine`` E is what the engine can send into the axle after the ring gear, ``low`` and ``high`` are what the
    tyres hold, μ·N·r_L/i_h (infinity for a wheel that is wedged). ``tie``: OPEN both min(E/2, low); SLIP low min(low,
    E/2), high min(high, B·T_low + T_0, E − T_low); LOCKED each side up to min(E, own grip), the ring gear min(E, low
    + high): with both gripping the split is indeterminate, so each shaft is sized for its own bound. Source: statics
    of differential and wheel. ``bias`` is the largest ratio of both sides, ``preload`` N·m what both share before.

    >>> t = side_torques(LOCKED, 5000.0, 0.0, 3000.0); float(t.high), float(t.ring)
    (3000.0, 3000.0)
    >>> t = side_torques(OPEN, 5000.0, 0.0, 3000.0); float(t.high), float(t.ring)
    (0.0, 0.0)
    """
    e, lo, hi = (np.asarray(v, dtype=float) for v in (engine, low, high))
    least = np.minimum(e / 2, lo)
    most_slip = np.minimum(np.minimum(hi, np.asarray(bias) * least + np.asarray(preload)), e - least)
    kind = np.asarray(tie)
    t_low = np.where(kind == LOCKED, np.minimum(e, lo), least)
    t_high = np.where(kind == LOCKED, np.minimum(e, hi), np.where(kind == SLIP, most_slip, least))
    ring = np.where(kind == LOCKED, np.minimum(e, lo + hi), t_low + t_high)
    return SideTorques(t_low, t_high, ring)


def ring_capacity(diameter: ArrayLike, ratio: ArrayLike) -> Array:
    """Peak ring gear torque on the drive flank without a rating, N·m: k·D³, above 4.10 times sqrt(4.10/i) (estimate,
    ±30 %).

    ``diameter`` m of the ring gear, ``ratio`` of the axle.

    >>> round(float(ring_capacity(8.8 * 0.0254, 3.5)), -2)
    5000.0
    """
    d, i = np.asarray(diameter, dtype=float), np.asarray(ratio, dtype=float)
    found: Array = RING_K * d**3 * np.sqrt(TALL_RATIO / np.maximum(i, TALL_RATIO))
    return found


def drives_on_coast(end: str, cut: str) -> bool:
    """Whether going forward loads the coast flank: front with standard cut, or rear with reverse cut.

    ``end`` is ``front`` or ``rear``.

    >>> drives_on_coast("front", "standard"), drives_on_coast("rear", "standard")
    (True, False)
    """
    return (end == "front") == (cut == "standard")


def twist_load(pinion_torque: ArrayLike, track: ArrayLike) -> Array:
    """Load the driveshaft's torque moves from one tyre to the other, N: T_p/track at most (statics of the housing
    about its length).

    ``pinion_torque`` N·m, ``track`` m.

    >>> float(twist_load(3200.0, 1.6))
    2000.0
    """
    found: Array = np.asarray(pinion_torque, dtype=float) / np.asarray(track)
    return found


def seat_moment(
    wheel_load: ArrayLike,
    track: ArrayLike,
    seat_spacing: ArrayLike,
    side_force: ArrayLike = 0.0,
    radius: ArrayLike = 0.0,
) -> Array:
    """Bending moment of the housing tube at the spring seat, N·m: N·(track − seat spacing)/2 + side force·r_L.
    Source: statics of a beam.

    ``wheel_load`` and ``side_force`` N at one tyre; ``track``, ``seat_spacing`` and loaded ``radius`` m.

    >>> round(float(seat_moment(10000.0, 1.6, 1.0)))
    3000
    """
    found: Array = np.asarray(wheel_load) * np.maximum(
        0.0, np.asarray(track) - np.asarray(seat_spacing)
    ) / 2 + np.asarray(side_force) * np.asarray(radius)
    return found
