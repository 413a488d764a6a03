"""Shocks, springs and stops over travel: lengths, motion ratio, wheel rate, what ends the travel first."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.anti_numbers import load_share
from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.springing import CarrySpring
from stoutlink.core.mechanics.springing import dual_rate, frequency, lengths, motion_ratio

Array = NDArray[np.float64]
GRAVITY = 9.80665


@dataclass(frozen=True, eq=False)
class SpringTravel:
    """Over the grid: shock and spring length m, left and right, ``(2, rolls, heaves)`` (None where there is none), and along heave at no roll: motion
    ratio, spring rate, wheel rate N/m a side, frequency Hz at ride. ``free`` is the spring's free length that carries the rig at ride, m."""

    layout: Layout
    shock: Array | None
    spring: Array | None
    ratio: Array | None
    rate: Array | None
    wheel_rate: Array | None
    frequency: float | None
    seat_load: float
    free: float | None
    heave: Array
    ride: tuple[int, int]
    roll_stiffness: float | None


def spring_travel(grid: Grid) -> SpringTravel:
    """Shock and spring of an axle over its grid. Spring loads carry the sprung weight of this end, half a side, at ride."""
    layout, rig = grid.layout, grid.rig
    end = layout.end
    sprung = max(0.0, rig.mass_kg * load_share(rig, end) - rig.end(end).unsprung)
    load = 0.5 * sprung * GRAVITY
    shock = None if layout.shock is None else _both(grid, layout.shock.frame_m, layout.shock.axle_m)
    ends = spring_ends(layout)
    i, j = grid.ride
    if layout.spring is None or ends is None:
        return SpringTravel(layout, shock, None, None, None, None, None, load, None, grid.heave, grid.ride, None)
    spring = _both(grid, *ends)
    left = spring[0, i]
    ratio = motion_ratio(left, grid.heave)
    at = float(ratio[j])
    s = layout.spring
    free, rate = _carrying(s, load / at if at > 0.05 else math.nan, float(left[j]), left)
    # heave: k·MR² and what the ratio's own change makes of the load
    force = _force(s, free, left)
    wheel = np.gradient(force * ratio, grid.heave)
    base = 2.0 * abs(ends[1][1])
    return SpringTravel(
        layout, shock, spring, ratio, rate, wheel, frequency(float(wheel[j]), 0.5 * sprung) if wheel[j] > 0 and sprung > 0 else None, load, free, grid.heave,
        grid.ride, 0.5 * float(rate[j]) * at**2 * base**2,
    )  # fmt: skip


def _both(grid: Grid, frame: tuple[float, float, float], axle: tuple[float, float, float]) -> Array:
    """Lengths of the one on the left, as given, and of its mirror on the right; a side shift makes them differ."""
    turned = [lengths(np.array(f), grid.carried(a)) for f, a in ((frame, axle), (_mirrored(frame), _mirrored(axle)))]
    return np.stack(turned)


def _mirrored(p: tuple[float, float, float]) -> tuple[float, float, float]:
    return p[0], -p[1], p[2]


def spring_ends(layout: Layout) -> tuple[tuple[float, float, float], tuple[float, float, float]] | None:
    """Frame and axle seat of the carrying spring: its own, or the shock's for a coilover."""
    s = layout.spring
    if s is None:
        return None
    if s.kind == "coil":
        return None if s.frame_m is None or s.axle_m is None else (s.frame_m, s.axle_m)
    return None if layout.shock is None else (layout.shock.frame_m, layout.shock.axle_m)


def _carrying(s: CarrySpring, load: float, ride: float, row: Array) -> tuple[float | None, Array]:
    """Free length (both springs together) that gives ``load`` at ride, and the rate along the travel."""
    if not math.isfinite(load):
        return None, np.full_like(row, np.nan)
    one = s.rate_n_per_m
    if s.second_n_per_m is None:
        short = load / one
    else:
        both = one * s.second_n_per_m / (one + s.second_n_per_m)
        short = load / both
        if s.slider_m is not None:
            until = s.slider_m * (one + s.second_n_per_m) / one
            if short > until:
                short = until + (load - both * until) / one
    return ride + short, dual_rate(one, s.second_n_per_m, s.slider_m, ride + short - row)


def _force(s: CarrySpring, free: float | None, row: Array) -> Array:
    """Force of the spring at lengths, N."""
    if free is None:
        return np.full_like(row, np.nan)
    short = np.maximum(0.0, free - row)
    if s.second_n_per_m is None:
        return np.asarray(s.rate_n_per_m * short)
    both = s.rate_n_per_m * s.second_n_per_m / (s.rate_n_per_m + s.second_n_per_m)
    if s.slider_m is None:
        return np.asarray(both * short)
    until = s.slider_m * (s.rate_n_per_m + s.second_n_per_m) / s.rate_n_per_m
    return np.asarray(np.where(short < until, both * short, both * until + s.rate_n_per_m * (short - until)))
