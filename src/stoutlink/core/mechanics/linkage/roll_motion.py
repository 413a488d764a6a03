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
    size = np.einsum("...i,...i->...", w, w)
    c = np.stack([poses.x, poses.y, poses.z], axis=-1)
    foot = c + np.cross(w, v) / size[..., None]
    along = (poses.x - foot[..., 0]) / w[..., 0]
    direction = w / np.sqrt(size)[..., None]
    cos, sin = np.cos(poses.yaw), np.sin(poses.yaw)
    ahead, aside = cos * w[..., 0] + sin * w[..., 1], cos * w[..., 1] - sin * w[..., 0]
    return RollMotion(
        centre_height=poses.z + v[..., 1] / w[..., 0],
        axis_point=foot + along[..., None] * w,
        axis_direction=direction * np.sign(direction[..., :1]),
        inclination=np.arctan2(w[..., 2], w[..., 0]),
        steer=(w[..., 2] - aside * np.tan(poses.roll)) / ahead,
    )
