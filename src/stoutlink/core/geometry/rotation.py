"""Orientation of the axle: R = Rz(yaw) · Rx(roll) · Ry(pitch).

Axes after ISO 8855: x forward, y left, z up. Roll + left side up, pitch + nose down, yaw + nose left.

Source: ISO 8855 axes; products of elementary rotations.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def rotation(yaw: Array, roll: Array, pitch: Array) -> Array:
    """Rotation matrices, shape ``(..., 3, 3)``, from angles in rad that broadcast to ``(...)``.

    Columns are the body's x, y and z axes. sin(roll) is the z-component of the lateral (y) column. ``yaw`` about z,
    ``pitch`` about the axle's own y.

    >>> bool((rotation(np.array(0.0), np.array(0.0), np.array(0.0)) == np.eye(3)).all())
    True
    """
    yaw, roll, pitch = np.broadcast_arrays(np.asarray(yaw, float), np.asarray(roll, float), np.asarray(pitch, float))
    sy, cy, sr, cr, sp, cp = np.sin(yaw), np.cos(yaw), np.sin(roll), np.cos(roll), np.sin(pitch), np.cos(pitch)
    out = np.empty((*yaw.shape, 3, 3))
    out[..., 0, 0], out[..., 0, 1], out[..., 0, 2] = cy * cp - sy * sr * sp, -sy * cr, cy * sp + sy * sr * cp
    out[..., 1, 0], out[..., 1, 1], out[..., 1, 2] = sy * cp + cy * sr * sp, cy * cr, sy * sp - cy * sr * cp
    out[..., 2, 0], out[..., 2, 1], out[..., 2, 2] = -cr * sp, sr, cr * cp
    return out


def about(axis: Array, angle: float) -> Array:
    """Matrix ``(3, 3)`` of a turn by ``angle`` rad about a unit axis through the origin (Rodrigues).

    >>> about(np.array([0.0, 0.0, 1.0]), np.pi / 2).round(12) @ np.array([1.0, 0.0, 0.0])
    array([0., 1., 0.])
    """
    x, y, z = axis
    k = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    return np.asarray(np.eye(3) + np.sin(angle) * k + (1.0 - np.cos(angle)) * (k @ k))
