"""Poses of one axle over heave × roll, each followed from ride height."""

from __future__ import annotations

from functools import cached_property, lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.bar_set import bars_of
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.poses import Poses
from stoutlink.core.mechanics.linkage.position import sweep_grid

Array = NDArray[np.float64]
HEAVES, ROLLS, ROLL_RANGE = 121, 41, np.radians(20.0)


class Grid(Struct, frozen=True, eq=False, dict=True):
    """Arrays ``(rolls, heaves)``: axle centre m, yaw, pitch rad; ``nan`` where not reached. ``heave`` ``(heaves,)`` m
    and ``roll`` ``(rolls,)`` rad hold 0. ``within`` marks what is reached and lies within the stops on both sides
    (see :func:`stop_limits`)."""

    rig: Rig
    layout: Layout
    heave: Array
    roll: Array
    x: Array
    y: Array
    yaw: Array
    pitch: Array
    reached: NDArray[np.bool_]
    limits: tuple[float, float]
    """Travel at the stops of one side, m: droop (negative) and bump."""

    @cached_property
    def within(self) -> NDArray[np.bool_]:
        """Reached, and neither side past its stop: with one side at full bump and the other at full droop it is as
        far as it articulates.
        """
        half = 0.5 * stop_spacing(self.rig, self.layout)
        lift = half * np.sin(np.abs(self.roll))[:, None]
        low, high = self.limits
        return np.asarray(self.reached & (self.heave + lift <= high + 1e-9) & (self.heave - lift >= low - 1e-9))

    @property
    def ride(self) -> tuple[int, int]:
        """Row and column nearest to ride height."""
        return int(np.argmin(np.abs(self.roll))), int(np.argmin(np.abs(self.heave)))

    @property
    def centre(self) -> tuple[float, float, float]:
        """The axle's centre at ride."""
        return axle_centre(self.rig, self.layout.end)

    @cached_property
    def at(self) -> Array:
        """Axle centres ``(rolls, heaves, 3)``."""
        z = np.broadcast_to(self.centre[2] + self.heave, self.x.shape)
        return np.stack([self.x, self.y, np.where(self.reached, z, np.nan)], axis=-1)

    @cached_property
    def turn(self) -> Array:
        """Orientation ``(rolls, heaves, 3, 3)``."""
        return rotation(self.yaw, np.broadcast_to(self.roll[:, None], self.yaw.shape), self.pitch)

    def level_poses(self) -> Poses:
        """Poses over heave without roll, as a sweep gives them."""
        i = self.ride[0]
        z, level = self.at[i, :, 2], np.zeros_like(self.heave)
        low, high = (np.array(float(v)) for v in (self.heave[0], self.heave[-1]))
        return Poses(self.x[i], self.y[i], z, self.yaw[i], level, self.pitch[i], self.reached[i], level, low, high)

    def carried(self, point: object) -> Array:
        """An axle point given at ride height, at every pose ``(rolls, heaves, 3)``."""
        local = np.asarray(point, dtype=float) - np.array(self.centre)
        return np.asarray(self.at + self.turn @ local)


@lru_cache(maxsize=8)
def axle_grid(
    rig: Rig,
    layout: Layout,
    joints: tuple[Joint, ...],
    droop: float,
    bump: float,
    heaves: int = HEAVES,
    rolls: int = ROLLS,
) -> Grid:
    """Solve an axle on links over its travel and ±20° of roll. Raises :class:`~stoutlink.core.errors.GeometryError`
    as :func:`axle_motion` does.
    """
    bars = bars_of(rig, layout, joints)
    heave, roll = _with_zero(-droop, bump, heaves), np.linspace(-ROLL_RANGE, ROLL_RANGE, rolls)
    p = sweep_grid(bars, heave, roll)
    return Grid(rig, layout, heave, roll, p.x, p.y, p.yaw, p.pitch, p.reached, stop_limits(layout, droop, bump))


def stop_spacing(rig: Rig, layout: Layout) -> float:
    """Between the stops of both sides, m: where the springs stand, else three quarters of the track (estimate)."""
    if layout.leaf is not None:
        return layout.leaf.spacing_m
    if layout.shock is not None and layout.spring_spacing_m is None:
        return 2.0 * abs(layout.shock.axle_m[1])
    return layout.spring_spacing_m if layout.spring_spacing_m is not None else 0.75 * rig.end(layout.end).track_m


def stop_limits(layout: Layout, droop: float, bump: float) -> tuple[float, float]:
    """Travel of one side between its stops, m: bump stop with its give and limit strap where they are known, never
    past what was asked.
    """
    s = layout.stops
    high = bump if s.bump_gap_m is None else min(bump, s.bump_gap_m + s.bump_give_m)
    low = -droop if s.strap_m is None else max(-droop, -s.strap_m)
    return low, high


def leaf_grid(found: LeafAxle, droop: float, bump: float, heaves: int = HEAVES, rolls: int = ROLLS) -> Grid:
    """A leaf axle over its travel: each end of the tube on its own spring's path, the housing tilted by the mean
    travel (the tube keeps it from tilting in roll); what a shackle cannot follow is not reached."""
    heave, roll = _with_zero(-droop, bump, heaves), np.linspace(-ROLL_RANGE, ROLL_RANGE, rolls)
    centre, half = axle_centre(found.rig, found.layout.end), 0.5 * found.leaf.spacing_m
    tilts = found.halves.nose_down_per_bump * heave
    sides = []
    for side in (1.0, -1.0):
        at = heave[None, :] + side * half * np.sin(roll)[:, None]
        sides.append(found.shape.forward(at, np.broadcast_to(tilts, at.shape)))
    forward = 0.5 * (sides[0] + sides[1])
    yaw = np.arctan2(sides[1] - sides[0], 2 * half)
    pitch = np.broadcast_to(tilts, forward.shape)
    reached = np.isfinite(forward) & np.isfinite(yaw)
    limits = stop_limits(found.layout, droop, bump)
    up, ahead = centre[2] - found.leaf.seat_z_m, found.leaf.pin_offset_m  # the hubs turn about the seat
    x = centre[0] + forward + np.sin(pitch) * up + (np.cos(pitch) - 1.0) * ahead
    return Grid(
        found.rig,
        found.layout,
        heave,
        roll,
        x,
        np.where(reached, 0.0, np.nan),
        yaw,
        np.where(reached, pitch, np.nan),
        reached,
        limits,
    )


def _with_zero(low: float, high: float, count: int) -> Array:
    """Even steps from low to high with the nearest one moved to 0, so that ride height is a station."""
    steps = np.linspace(low, high, count)
    steps[int(np.argmin(np.abs(steps)))] = 0.0
    return steps
