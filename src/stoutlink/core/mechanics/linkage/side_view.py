"""Side view: instant centre in heave, support slope, anti-squat, anti-dive and the two anti-lifts.

Sources: T. Gillespie, Fundamentals of Vehicle Dynamics, ch. 7; Milliken & Milliken, Race Car Vehicle Dynamics,
ch. 17; virtual work. The axle's own inertia is neglected.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.motion import Motion
from stoutlink.core.mechanics.linkage.poses import Poses

Array = NDArray[np.float64]
End = Literal["front", "rear"]

PARALLEL = 1e-7
"""|ω_y| below this (rad/m, an instant centre beyond 10 000 km) counts as parallel."""


class SideView(Struct, frozen=True):
    """Side-view motion at each pose, arrays ``(..., stations)``.

    ``centre_x``, ``centre_z`` of the instant centre, m, ``inf`` when parallel; ``slope`` at the contact under the axle
    centre, ``slope_left`` and ``slope_right`` under the tyres (they differ where the bars are not mirrored).
    """

    centre_x: Array
    centre_z: Array
    slope: Array
    slope_left: Array
    slope_right: Array


def side_view(poses: Poses, twist: Motion, end: End, loaded_radius: float | Array, track: float) -> SideView:
    """Instant centre and support slope.

    x_IC = x_C + v_z/ω_y, z_IC = z_C − v_x/ω_y. The contact lies ``loaded_radius`` (m) straight below C, taken afresh
    at every pose, wheels locked to the housing: σ_rear = −(v_x − ω_y·r), σ_front = +(v_x − ω_y·r) at v_z = 1, the
    slope of the line from contact to instant centre. ``track`` in m places the left and right contacts. ω_y → 0 puts
    the centre at infinity; the slopes keep working. ``poses`` and their ``twist``, shapes alike; ``end`` front or
    rear.

    >>> from stoutlink.core.mechanics.linkage.bars import Bars
    >>> from stoutlink.core.mechanics.linkage.poses import ride_pose
    >>> from stoutlink.core.mechanics.linkage.motion import motion
    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> bars = Bars.of((0.0, 0.0, 0.5), frame, axle)
    >>> at = ride_pose(bars)
    >>> side_view(at, motion(bars, at), "rear", 0.5, 1.6).slope.round(4).tolist()
    [0.0741]
    """
    v_x, w_y, w_z = twist.heave_v[..., 0], twist.heave_w[..., 1], twist.heave_w[..., 2]
    parallel = np.abs(w_y) < PARALLEL
    with np.errstate(divide="ignore", invalid="ignore"):
        x = np.where(parallel, np.inf, poses.x + 1.0 / w_y)
        z = np.where(parallel, np.inf, poses.z - v_x / w_y)
    sign = -1.0 if end == "rear" else 1.0
    contact = v_x - w_y * loaded_radius
    half = 0.5 * track
    return SideView(x, z, sign * contact, sign * (contact - w_z * half), sign * (contact + w_z * half))


def anti_percent(slope: Array, share: float | Array, wheelbase: float | Array, height: float | Array) -> Array:
    """100·share·σ·L/h in %: anti-squat, anti-lift or anti-dive by which share and which end's slope go in.

    ``share`` is the part of the thrust (or of the braking) at this axle, ``height`` that of the school's centre of
    gravity in m. Gillespie ch. 7: 100 % when e/d = h/L for a solid rear axle driving alone. ``wheelbase`` L m.

    >>> float(anti_percent(np.array(0.25), 1.0, 2.8, 0.7))
    100.0
    """
    return np.asarray(100.0 * np.asarray(share) * slope * wheelbase / height)
