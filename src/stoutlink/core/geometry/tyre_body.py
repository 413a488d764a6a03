"""A tyre as a body: a cylinder with rounded shoulders, turned about the kingpin; distances to straight pieces and boxes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.geometry.many_distances import least_along, segments_to_box

Array = NDArray[np.float64]
SHOULDER = 0.035
"""Radius of the shoulders, m (estimate), at most a quarter of the width."""
AROUND = 72
"""Places around the rim that are held against a box: between them it is nearer by less than a millimetre."""
STEPS = 18
"""Golden-section steps: the place along a piece is found to 0.618¹⁸ of its length, the distance far better."""


@dataclass(frozen=True)
class Tyre:
    """A tyre's size, m: free radius and section width."""

    radius: float
    width: float

    @property
    def shoulder(self) -> float:
        """Radius of its rounded shoulders."""
        return min(SHOULDER, 0.25 * self.width)


def tyre_to_segment(tyre: Tyre, centre: Array, spin: Array, p: Array, q: Array) -> Array:
    """Signed distance from tyres (``centre``, unit ``spin`` axis ``(..., 3)``) to straight pieces p–q, m; negative inside.

    The distance to a convex body is convex along a line: golden section.
    """
    inner, half = tyre.radius - tyre.shoulder, 0.5 * tyre.width - tyre.shoulder

    def at(t: Array) -> Array:
        return _to_points(p + t[..., None] * (q - p) - centre, spin, inner, half) - tyre.shoulder

    shape = np.broadcast_shapes(centre.shape, spin.shape, p.shape, q.shape)[:-1]
    return least_along(at, shape, STEPS)


def _to_points(away: Array, spin: Array, inner: float, half: float) -> Array:
    """Signed distance of points (from the centre) to the flat-sided cylinder inside the shoulders."""
    along = (away * spin).sum(-1)
    out = np.sqrt(np.maximum(0.0, (away * away).sum(-1) - along * along)) - inner
    side = np.abs(along) - half
    deep = np.maximum(out, side)
    return np.asarray(np.where(deep <= 0, deep, np.hypot(np.maximum(out, 0.0), np.maximum(side, 0.0))))


def tyre_to_box(tyre: Tyre, centre: Array, spin: Array, low: Array, high: Array) -> Array:
    """Distance from tyres ``(..., 3)`` to one upright box, m, to a millimetre; 0 or less where they run into each other.

    The least of: straight pieces across the tread around the rim against the box, and the box's edges against the tyre.
    """
    ref = np.where(np.abs(spin[..., 2:3]) < 0.9, np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0]))
    e1 = np.cross(ref, spin)
    e1 /= np.linalg.norm(e1, axis=-1, keepdims=True)
    e2 = np.cross(spin, e1)
    turn = np.linspace(0.0, 2.0 * np.pi, AROUND, endpoint=False)
    inner, half = tyre.radius - tyre.shoulder, 0.5 * tyre.width - tyre.shoulder
    rim = inner * (np.cos(turn)[:, None] * e1[..., None, :] + np.sin(turn)[:, None] * e2[..., None, :])
    base = centre[..., None, :] + rim
    across = half * spin[..., None, :]
    near = segments_to_box(base - across, base + across, low, high, 14).min(axis=-1) - tyre.shoulder
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    for i, j in ((0, 1), (2, 3), (4, 5), (6, 7), (0, 2), (1, 3), (4, 6), (5, 7), (0, 4), (1, 5), (2, 6), (3, 7)):
        near = np.minimum(near, tyre_to_segment(tyre, centre, spin, corners[i], corners[j]))
    return np.asarray(near)
