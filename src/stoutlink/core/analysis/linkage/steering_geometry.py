"""Lateral location of one axle: panhard, drag link beside it, and how much the axle steers itself in bump."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.steering import Steering
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.poses import Poses
from stoutlink.core.mechanics.steering import (
    ArcMatch,
    Knuckle,
    KnuckleTurn,
    Sector,
    arc_match,
    kingpin_axis,
    knuckle_turn,
    per_step,
    sector_for,
)

Array = NDArray[np.float64]


class Panhard(Struct, frozen=True):
    """A panhard as seen from behind: height on the centreline and station there (m), slope up to its axle end (rad),
    length (m), roll centre (m).
    """

    link: Link
    centre_height: float
    centre_station: float
    slope: float
    length: float
    roll_centre: float
    side_shift: float
    """How far it pushes the axle sideways over the travel asked for, m (largest less smallest)."""


class BumpSteer(Struct, frozen=True):
    """Over heave: δ about the kingpin and heading of the wheel (rad), per 25 mm of bump and the largest over the
    travel, and how far the steering wheel turns per 25 mm while the knuckle is kept straight (rad)."""

    heave: Array
    turn: KnuckleTurn
    delta_per_step: float
    heading_per_step: float
    largest: float
    largest_at: float
    twitch: float
    match: ArcMatch | None
    reaches: bool


def on_centreline(link: Link) -> tuple[float, float]:
    """Station and height at which a bar passes the vehicle's middle (its own middle where it does not cross), m."""
    a, b = link.frame_pivot_m, link.axle_pivot_m
    t = a[1] / (a[1] - b[1]) if a[1] != b[1] else 0.5
    return a[0] + t * (b[0] - a[0]), a[2] + t * (b[2] - a[2])


def panhard(motion: AxleMotion) -> Panhard | None:
    """The panhard of a layout, if it has one."""
    link = next((one for one in motion.layout.links if one.role == "panhard"), None)
    if link is None:
        return None
    a, b = link.frame_pivot_m, link.axle_pivot_m
    across = abs(b[1] - a[1])
    station, height = on_centreline(link)
    shift = motion.heave.lateral[np.isfinite(motion.heave.lateral)]
    return Panhard(
        link,
        height,
        station,
        math.atan2(b[2] - a[2], across),
        math.dist(a, b),
        motion.ride.roll_centre_height,
        float(shift.max() - shift.min()) if len(shift) else math.nan,
    )


def knuckle_of(layout: Layout, steering: Steering, centre: tuple[float, float, float]) -> Knuckle:
    """The steered knuckle as the mechanics take it."""
    side = 1.0 if steering.kingpin_m[1] >= 0 else -1.0
    axis = kingpin_axis(side, steering.kingpin_in_rad, layout.caster_rad or 0.0)
    tie = None if steering.tie_rod is None else np.array(steering.tie_rod.end_m)
    on_tie = steering.drag_on == "tie_rod" and tie is not None
    return Knuckle(
        np.array(steering.pitman_m),
        np.array(steering.knuckle_m),
        np.array(steering.kingpin_m),
        axis,
        np.array(centre),
        tie,
        on_tie,
    )


def sector_of(steering: Steering) -> Sector:
    """The pitman arm's turning; while its middle is not given it stands behind the drag link's end (upright) or above
    it (across) by the arm's length.
    """
    at = steering.pitman_m
    if steering.sector == "upright":
        middle = steering.sector_m or (at[0] - steering.pitman_arm_m, at[1], at[2])
        return Sector(np.array(middle), np.array([0.0, 0.0, 1.0]), steering.box_ratio)
    middle = steering.sector_m or (at[0], at[1], at[2] + steering.pitman_arm_m)
    return Sector(np.array(middle), np.array([0.0, 1.0, 0.0]), steering.box_ratio)


def hands(
    knuckle: Knuckle, sector: Sector, x: Array, y: Array, z: Array, yaw: Array, roll: Array, pitch: Array
) -> Array:
    """Turn of the steering wheel that keeps the knuckle straight against its axle at poses, rad."""
    end = np.stack([x, y, z], axis=-1) + np.einsum(
        "...ij,j->...i", rotation(yaw, roll, pitch), knuckle.arm - knuckle.centre
    )
    return sector_for(knuckle, sector, end) * sector.ratio


def turn_over(
    layout: Layout, steering: Steering, centre: tuple[float, float, float], poses: Poses, start: int
) -> KnuckleTurn:
    """The knuckle over poses that hold ride height at ``start``."""
    return knuckle_turn(
        knuckle_of(layout, steering, centre), poses.x, poses.y, poses.z, poses.yaw, poses.roll, poses.pitch, start
    )


@lru_cache(maxsize=16)
def bump_steer(motion: AxleMotion) -> BumpSteer | None:
    """Bump steer over the heave sweep; ``None`` without a drag link (full hydraulic steering has none, and no bump
    steer).
    """
    steering = motion.layout.steering
    if steering is None or steering.kind != "drag_link":
        return None
    poses = motion.heave.poses
    heave = np.linspace(motion.asked[0], motion.asked[1], poses.x.shape[-1])
    start = int(np.argmin(np.abs(heave)))
    turn = turn_over(motion.layout, steering, motion.centre, poses, start)
    good = np.isfinite(turn.heading)
    away = np.abs(turn.heading - turn.heading[start])
    at = int(np.nanargmax(away)) if good.any() else start
    largest = float(turn.heading[at] - turn.heading[start])
    bar = panhard(motion)
    match = None
    if bar is not None:
        match = arc_match(
            (np.array(steering.pitman_m), np.array(steering.knuckle_m)),
            (np.array(bar.link.frame_pivot_m), np.array(bar.link.axle_pivot_m)),
        )
    p = poses
    wheel = hands(
        knuckle_of(motion.layout, steering, motion.centre), sector_of(steering), p.x, p.y, p.z, p.yaw, p.roll, p.pitch
    )
    return BumpSteer(
        heave,
        turn,
        per_step(heave, turn.delta),
        per_step(heave, turn.heading),
        largest,
        float(heave[at]),
        abs(per_step(heave, wheel)),
        match,
        bool(good[poses.reached].all()),
    )
