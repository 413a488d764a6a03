"""The springs of an axle as plane statics take them: how far they go under a load, their stops, and the axle's path."""

from __future__ import annotations

import bisect
import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.springs import SLOW
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.mechanics.attitude import AxleSprings, Step
from stoutlink.core.mechanics.springing import air_force

Array = NDArray[np.float64]
Axles = dict[str, AxleTravel | None]


def both_springs(axles: Axles) -> tuple[AxleSprings, AxleSprings] | None:
    """Front and rear springs with their stops and paths; ``None`` until both are known."""
    found = [axle_springs(axles.get(end)) for end in ("front", "rear")]
    return None if found[0] is None or found[1] is None else (found[0], found[1])


def axle_springs(one: AxleTravel | None, *, slow: bool = False) -> AxleSprings | None:
    """Springs, stops and path of one axle; ``None`` where they are not known. ``slow``: the air of an air spring keeps
    its temperature, as under a load that stays, in place of being squeezed fast."""
    if one is None or slope_at_ride(one) is None or heave_rate(one) is None:
        return None
    low, high = one.grid.limits
    heave = one.grid.heave[one.grid.reached[one.grid.ride[0]]]
    low, high = max(low, float(heave[0])), min(high, float(heave[-1]))
    path = _path(one)
    if one.leaf is not None:
        rate = 2.0 * one.leaf.halves.heave_rate
        return AxleSprings(lambda more: more / rate, low, high, path)
    assert one.springs.force is not None
    assert one.springs.ratio is not None
    load = 2.0 * (_slow_force(one) if slow else one.springs.force) * one.springs.ratio
    good = np.isfinite(load)
    at, load = one.grid.heave[good], np.maximum.accumulate(load[good])
    ride = float(np.interp(0.0, at, load))
    lies = _between(load, at)
    return AxleSprings(lambda more: lies(ride + more)[0], max(low, float(at[0])), min(high, float(at[-1])), path)


def _slow_force(one: AxleTravel) -> Array:
    """Force of a spring along heave, N, that of air with its temperature kept."""
    air, s = one.layout.air, one.springs
    assert s.force is not None
    if air is None or s.pressure is None or s.spring is None:
        return s.force
    row = s.spring[0, s.ride[0]]
    return air_force(air.diameter_m, air.growth, air.volume_m3, s.pressure, row[s.ride[1]] - row, SLOW)


def _path(one: AxleTravel) -> Callable[[float], Step]:
    """How the axle goes over its heave without roll, between the stations of the grid."""
    row = one.grid.ride[0]
    good = np.isfinite(one.grid.x[row]) & np.isfinite(one.grid.pitch[row])
    heave, x, pitch = one.grid.heave[good], one.grid.x[row][good], one.grid.pitch[row][good]
    slope, turn = np.gradient(x, heave, edge_order=2), np.gradient(pitch, heave, edge_order=2)
    ride = one.grid.centre[0]

    found = _between(heave, x - ride, slope, turn)
    return lambda s: Step(*found(s))


def _between(at: Array, *values: Array) -> Callable[[float], list[float]]:
    """Straight between stations, held at the ends, one place at a time: a fraction of ``np.interp``'s time for one."""
    places, rows = at.tolist(), [v.tolist() for v in values]

    def found(v: float) -> list[float]:
        k = min(max(bisect.bisect_right(places, v), 1), len(places) - 1)
        low, high = places[k - 1], places[k]
        part = min(1.0, max(0.0, (v - low) / (high - low))) if high > low else 0.0
        return [row[k - 1] + part * (row[k] - row[k - 1]) for row in rows]

    return found


def heave_rate(one: AxleTravel | None) -> float | None:
    """Heave rate of one side at the wheel, N/m: leaves, or the spring's wheel rate at ride."""
    if one is None:
        return None
    if one.leaf is not None:
        return one.leaf.halves.heave_rate
    rate = one.springs.wheel_rate
    return None if rate is None or not math.isfinite(float(rate[one.grid.ride[1]])) else float(rate[one.grid.ride[1]])


def slope_at_ride(one: AxleTravel | None) -> float | None:
    """Support slope at ride in the school of links, or of leaves as a beam."""
    if one is None:
        return None
    if one.motion is not None:
        return one.motion.ride.slope
    return None if one.leaf is None else one.leaf.slope_beam
