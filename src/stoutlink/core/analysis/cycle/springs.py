"""Shocks, springs, bars and stops over travel: lengths, motion ratio, wheel rate, frequency, roll stiffness."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.springing import AirSpring, CarrySpring
from stoutlink.core.mechanics.springing import air_force, bar_roll_rate, dual_rate, frequency, lengths, motion_ratio
from stoutlink.core.quantity.constants import GRAVITY

Array = NDArray[np.float64]
Ends = tuple[tuple[float, float, float], tuple[float, float, float]]
SLOW, FAST = 1.0, 1.4
"""Exponents of air squeezed slowly and fast."""


class SpringTravel(Struct, frozen=True, eq=False):
    """Over the grid: shock and spring length m, left and right, ``(2, rolls, heaves)`` (None where there is none),
    and along heave at no roll: motion ratio, spring rate, wheel rate N/m a side, frequency Hz at ride. ``free`` is
    the spring's free length that carries the rig at ride, m; ``pressure`` the gauge pressure of an air spring at
    ride, Pa. Roll stiffness N·m/rad of the springs, and of the anti-roll bar with its rate per relative travel
    N/m."""

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
    bar: tuple[float, float] | None = None
    force: Array | None = None
    pressure: float | None = None
    pressures: tuple[float, float] | None = None
    """Least and largest gauge pressure of an air spring along heave, fast, Pa."""


def spring_travel(grid: Grid) -> SpringTravel:
    """Shock, spring and bar of an axle over its grid. Spring loads carry the sprung weight of this end, half a side,
    at ride.

    Roll: stiffness k·(dl/dφ)² of both springs at their real poses, lean and all. Heave: the wheel rate is the slope of force × motion ratio, so k·MR² and what the ratio's own change makes of the
    load. Air squeezed fast for rate and frequency.
    """
    layout, rig = grid.layout, grid.rig
    end = layout.end
    sprung = max(0.0, rig.mass_kg * load_share(rig, end) - rig.end(end).unsprung)
    load = 0.5 * sprung * GRAVITY
    shock = None if layout.shock is None else both_lengths(grid, (layout.shock.frame_m, layout.shock.axle_m))
    ends = spring_ends(layout)
    i, j = grid.ride
    b = layout.anti_roll_bar
    section = None if b is None or b.arm_high_m is None or b.arm_thick_m is None else (b.arm_high_m, b.arm_thick_m)
    bar = None if b is None else bar_roll_rate(b.od_m, b.bore_m, b.length_m, b.arm_m, b.spread_m, section)
    if ends is None:
        return SpringTravel(layout, shock, None, None, None, None, None, load, None, grid.heave, grid.ride, None, bar)
    spring = both_lengths(grid, ends)
    left = spring[0, i]
    ratio = motion_ratio(left, grid.heave)
    at = float(ratio[j])
    carried = load / at if at > 0.05 else math.nan
    free = pressure = pressures = None
    if layout.air is not None:
        pressure = carried / (0.25 * math.pi * layout.air.diameter_m**2)
        force, rate = _air(layout.air, pressure, float(left[j]) - left)
        if math.isfinite(pressure):
            pressures = _pressures(layout.air, pressure, float(left[j]) - left)
        if layout.air.longest_m is not None and not layout.air.fixed_below:
            off = left > layout.air.longest_m  # it has left its seat
            force, rate = np.where(off, 0.0, force), np.where(off, 0.0, rate)
    else:
        assert layout.spring is not None
        free, rate = _carrying(layout.spring, carried, float(left[j]), left)
        force = _force(layout.spring, free, left)
    wheel = np.gradient(force * ratio, grid.heave)
    return SpringTravel(
        layout,
        shock,
        spring,
        ratio,
        rate,
        wheel,
        frequency(float(wheel[j]), 0.5 * sprung) if wheel[j] > 0 and sprung > 0 else None,
        load,
        free,
        grid.heave,
        grid.ride,
        float(rate[j]) * sum(_slope_at_ride(grid, one[:, j]) ** 2 for one in spring),
        bar,
        force,
        pressure if pressure is not None and math.isfinite(pressure) else None,
        pressures,
    )


def both_lengths(grid: Grid, ends: Ends) -> Array:
    """Lengths of the one on the left, as given, and of its mirror on the right; a side shift makes them differ."""
    turned = [lengths(np.array(f), grid.carried(a)) for f, a in (ends, (_mirrored(ends[0]), _mirrored(ends[1])))]
    return np.stack(turned)


def _slope_at_ride(grid: Grid, lengths: Array) -> float:
    """How fast a length changes with roll at ride, m/rad: a quartic through five poses where there are as many."""
    i, step = grid.ride[0], float(grid.roll[1] - grid.roll[0])
    if 2 <= i < len(lengths) - 2 and np.isfinite(lengths[i - 2 : i + 3]).all():
        a, b, _, c, d = lengths[i - 2 : i + 3]
        return float(8.0 * (c - b) - (d - a)) / (12.0 * step)
    return float(lengths[i + 1] - lengths[i - 1]) / (2.0 * step)


def bag_radius(air: AirSpring, heights: Array) -> float | None:
    """Half of the widest an air spring gets over heights m, straight between what is known, held beyond; None where no
    outside diameter is known."""
    known = sorted(
        (one.height_m, one.outside_m) for one in air.outside if one.height_m is not None and one.outside_m is not None
    )
    if not known:
        return None
    wide = np.interp(heights[np.isfinite(heights)], [h for h, _ in known], [d for _, d in known])
    return 0.5 * float(wide.max()) if wide.size else 0.5 * max(d for _, d in known)


def _mirrored(p: tuple[float, float, float]) -> tuple[float, float, float]:
    return p[0], -p[1], p[2]


def spring_ends(layout: Layout) -> Ends | None:
    """Frame and axle seat of what carries: its own, or the shock's for a coilover; ``None`` without any."""
    if layout.air is not None:
        return layout.air.frame_m, layout.air.axle_m
    s = layout.spring
    if s is None:
        return None
    if s.kind == "coil":
        return None if s.frame_m is None or s.axle_m is None else (s.frame_m, s.axle_m)
    return None if layout.shock is None else (layout.shock.frame_m, layout.shock.axle_m)


def _air(air: AirSpring, pressure: float, bump: Array) -> tuple[Array, Array]:
    """Force and rate of an air spring along its own shortening, squeezed fast."""
    if not math.isfinite(pressure):
        return np.full_like(bump, np.nan), np.full_like(bump, np.nan)
    step = 1e-5

    def force(s: Array) -> Array:
        return air_force(air.diameter_m, air.growth, air.volume_m3, pressure, s, FAST)

    return force(bump), (force(bump + step) - force(bump - step)) / (2 * step)


def _pressures(air: AirSpring, pressure: float, bump: Array) -> tuple[float, float]:
    across = np.maximum(1e-6, air.diameter_m + air.growth * bump)
    gauge = air_force(air.diameter_m, air.growth, air.volume_m3, pressure, bump, FAST) / (0.25 * np.pi * across**2)
    return (float(np.nanmin(gauge)), float(np.nanmax(gauge))) if np.isfinite(gauge).any() else (math.nan, math.nan)


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
    """Force of the spring at lengths, N; a loose one gives none."""
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
