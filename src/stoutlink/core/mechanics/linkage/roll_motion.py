"""Roll centre, roll axis and roll steer, from the twist in roll.

Source: screw axis of a rigid motion.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.motion import Motion
from stoutlink.core.mechanics.linkage.poses import Poses

Array = NDArray[np.float64]


class RollMotion(Struct, frozen=True):
    """Roll motion at each pose, arrays ``(..., stations)`` (points and directions ``(..., stations, 3)``).

    ``centre_height`` m: height, in the transverse plane through the axle centre, with no lateral speed.
    ``axis_point`` m: where the roll axis (screw axis) passes that plane; ``axis_direction`` unit vector, pointing
    forward. ``inclination`` rad, nose-up positive. ``steer`` rad/rad: change of the axle's yaw per roll at its height,
    the slope of yaw over roll also off ride; rear axle: positive is oversteer.
    """

    centre_height: Array
    axis_point: Array
    axis_direction: Array
    inclination: Array
    steer: Array


def roll_motion(poses: Poses, twist: Motion) -> RollMotion:
    """Read the roll twist: z_RC = z_C + v_y/ω_x, screw axis, inclination atan2(ω_z, ω_x), steer dψ/dφ.

    With R = Rz(ψ)·Rx(φ)·Ry(θ) and ω' = Rzᵀω: φ' = ω'_x, θ'·cos φ = ω'_y, ψ' = ω'_z − ω'_y·tan φ; level and straight
    that is ω_z/ω_x.

    The screw axis passes the transverse plane at any offset y, and its height there can differ a little from
    ``centre_height`` where the bars are not mirrored. Source: screw theory (any text); SAE J670 for the terms.
    ``poses`` and their ``twist``, shapes alike.

    >>> from stoutlink.core.mechanics.linkage.bars import Bars
    >>> from stoutlink.core.mechanics.linkage.poses import ride_pose
    >>> from stoutlink.core.mechanics.linkage.motion import motion
    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> bars = Bars.of((0.0, 0.0, 0.5), frame, axle)
    >>> at = ride_pose(bars)
    >>> roll_motion(at, motion(bars, at)).centre_height.round(4).tolist()
    [0.7423]
    """
    v, w = twist.roll_v, twist.roll_w
    wx, wy, wz = w[..., 0], w[..., 1], w[..., 2]
    vx, vy, vz = v[..., 0], v[..., 1], v[..., 2]
    square = wx * wx + wy * wy + wz * wz
    behind = -(wy * vz - wz * vy) / square  # from the screw axis's nearest point to C, forward
    along = behind / wx
    point = np.empty(w.shape)
    point[..., 0] = poses.x
    point[..., 1] = poses.y + (wz * vx - wx * vz) / square + along * wy
    point[..., 2] = poses.z + (wx * vy - wy * vx) / square + along * wz
    direction = w / np.sqrt(square)[..., None]
    cos, sin = np.cos(poses.yaw), np.sin(poses.yaw)
    ahead, aside = cos * wx + sin * wy, cos * wy - sin * wx
    return RollMotion(
        centre_height=poses.z + vy / wx,
        axis_point=point,
        axis_direction=direction * np.sign(direction[..., :1]),
        inclination=np.arctan2(wz, wx),
        steer=(wz - aside * np.tan(poses.roll)) / ahead,
    )
