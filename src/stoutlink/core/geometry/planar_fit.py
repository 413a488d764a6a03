"""Least-squares rigid fit of points in a plane.

Source: orthogonal Procrustes problem in the plane.
"""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]


class PlanarFit(Struct, frozen=True):
    """Rotation (rad, counter-clockwise) then shift (m) that takes the first points onto the second, and what is left
    over.

    ``residual`` ``(n, 2)`` is second minus moved first, m; ``turned`` is False when the points could not fix the
    rotation.
    """

    rotation: float
    shift: tuple[float, float]
    residual: Array
    turned: bool

    def move(self, points: Array) -> Array:
        """Points ``(n, 2)`` carried by the fit."""
        c, s = math.cos(self.rotation), math.sin(self.rotation)
        return np.asarray(points @ np.array([[c, s], [-s, c]]) + np.array(self.shift))


def planar_fit(first: Array, second: Array, weight: Array | None = None) -> PlanarFit:
    """Best rigid motion taking ``first`` to ``second``, both ``(n, 2)`` in m, weights ``(n,)`` (1/σ²; equal by
    default).

    Minimises Σ w·|R·p + t − q|². In the plane the rotation is atan2 of Σ w·(p × q) and Σ w·(p · q) about the weighted
    means. One point, or points in one place, fix no rotation: then it is 0 and ``turned`` is False. Raises
    ``ValueError`` for no points or shapes that differ. Source: absolute orientation (Umeyama 1991, without scale),
    two-dimensional case. ``weight`` must not sum to nothing.

    >>> f = planar_fit(np.array([[0., 0], [1, 0]]), np.array([[2., 3], [2, 4]]))
    >>> round(math.degrees(f.rotation), 9), [round(v, 9) for v in f.shift]
    (90.0, [2.0, 3.0])
    """
    first, second = np.asarray(first, float), np.asarray(second, float)
    if first.shape != second.shape or first.ndim != 2 or len(first) == 0 or first.shape[1] != 2:
        raise ValueError("the same number of points is needed on both sides")
    w = np.ones(len(first)) if weight is None else np.asarray(weight, float)
    w = w / w.sum()
    p0, q0 = w @ first, w @ second
    p, q = first - p0, second - q0
    dot = float((w * (p * q).sum(axis=1)).sum())
    cross = float((w * (p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0])).sum())
    turned = math.hypot(dot, cross) > 1e-12
    angle = math.atan2(cross, dot) if turned else 0.0
    c, s = math.cos(angle), math.sin(angle)
    shift = q0 - np.array([c * p0[0] - s * p0[1], s * p0[0] + c * p0[1]])
    moved = first @ np.array([[c, s], [-s, c]]) + shift
    return PlanarFit(angle, (float(shift[0]), float(shift[1])), second - moved, turned)
