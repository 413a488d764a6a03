"""Instantaneous motion of the axle: twist in heave and in roll at any solved pose.

Twist = velocity v of the axle centre C and angular velocity ω, both in vehicle axes. Heave: v_z = 1, no roll rate.
Roll: v_z = 0 and roll rate 1, meaning (ω × y_b)_z / cos(roll) = 1 with y_b the axle's lateral unit vector.
With the Euler rates of the pose, ω = yaw'·ẑ + roll'·x_h + pitch'·y_b, x_h = (cos yaw, sin yaw, 0).

Source: implicit differentiation of the constraints.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.closure import Closure
from stoutlink.core.mechanics.linkage.poses import Poses

Array = NDArray[np.float64]


class Motion(Struct, frozen=True):
    """Twists per unit heave (1 m) and per unit roll (1 rad), and the bars at the same poses.

    ``heave_v``, ``heave_w``, ``roll_v``, ``roll_w`` have shape ``(..., stations, 3)``: m/m, rad/m, m/rad, rad/rad.
    ``rows`` are unit-bar Jacobian rows on (v_x, v_y, ω_z, ω_yb), ``(..., stations, n, 4)``, moments in m.
    ``bar_error`` is |d| − L of every bar, m, ``(..., stations, n)``: zero for four bars, the give of the bushings for
    more. Values are ``nan`` where the pose was not reached.
    """

    heave_v: Array
    heave_w: Array
    roll_v: Array
    roll_w: Array
    rows: Array
    bar_error: Array


def motion(bars: Bars, poses: Poses) -> Motion:
    """Differentiate the poses of ``bars`` exactly; shapes follow ``poses`` ``(..., stations)``, whose leading
    shape must be ``bars.lead``.

    >>> from stoutlink.core.mechanics.linkage.poses import ride_pose
    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> bars = Bars.of((0.0, 0.0, 0.5), frame, axle)
    >>> motion(bars, ride_pose(bars)).roll_v.shape
    (1, 3)
    """
    lead, stations = bars.lead, poses.x.shape[-1]
    layouts = int(np.prod(lead, dtype=int))

    def flat(v: Array) -> Array:
        return v.reshape(layouts, stations).T

    centre = bars.centre.reshape(layouts, 3).T[:, None, :]
    q = np.empty((4, stations, layouts))
    q[0], q[1] = flat(poses.x) - centre[0], flat(poses.y) - centre[1]
    np.tan(0.5 * flat(poses.yaw), out=q[2])
    np.tan(0.5 * flat(poses.pitch), out=q[3])
    closure = Closure(bars, flat(poses.z) - centre[2], flat(poses.roll))
    with np.errstate(all="ignore"):
        rows = closure.rows(q)
        cy, sy = rows.cy, rows.sy
        lateral = -sy * closure.cr, cy * closure.cr, closure.sr
        unit, error = closure.unit_rows(rows), closure.bar_error(rows)
        _, (by_heave, by_roll) = closure.motion(rows)
        twists = np.empty((4, 3, stations, layouts))
        for i, (rate, v_z, turn) in enumerate(((by_heave, 1.0, 0.0), (by_roll, 0.0, 1.0))):
            v, w = twists[2 * i], twists[2 * i + 1]
            v[:2], v[2] = rate[:2], v_z
            for one, along in zip(w, lateral, strict=True):
                np.multiply(rate[3], along, out=one)
            w[2] += rate[2]
            if turn:
                w[0] += cy
                w[1] += sy

    def shaped(v: Array) -> Array:
        """(k..., stations, layouts) to (lead, stations, k...)."""
        return v.transpose(v.ndim - 1, v.ndim - 2, *range(v.ndim - 2)).reshape(*lead, stations, *v.shape[:-2])

    heave_v, heave_w, roll_v, roll_w = (shaped(v) for v in twists)
    return Motion(heave_v, heave_w, roll_v, roll_w, shaped(unit), shaped(error))
