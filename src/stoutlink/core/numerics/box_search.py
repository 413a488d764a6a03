"""Many small searches in a box at once: points spread evenly, and least squares from each of them.

Source: Levenberg (1944), Marquardt (1963).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
DAMPING = np.array([0.05, 1.0, 30.0])
TRIES = len(DAMPING)
"""Every step is tried with less, as much and more damping than the last."""
STEP = 1e-4
"""Difference for slopes, as a part of the box's edge."""


def spread_points(count: int, dimensions: int, first: int = 0) -> Array:
    """Points that fill the unit box evenly, ``(count, dimensions)``, always the same; ``first`` goes on where an
    earlier call ended.

    Additive recurrence with the generalised golden ratio φ: φ^(d+1) = φ + 1, steps φ⁻¹, φ⁻², …
    Source: M. Roberts, The unreasonable effectiveness of quasirandom sequences (2018).

    >>> spread_points(2, 1).round(4).ravel().tolist()
    [0.118, 0.7361]
    """
    ratio = 2.0
    for _ in range(60):
        ratio = (1.0 + ratio) ** (1.0 / (dimensions + 1))
    step = (1.0 / ratio) ** np.arange(1, dimensions + 1)
    n = np.arange(first + 1, first + count + 1)[:, None]
    return np.asarray((0.5 + n * step) % 1.0)


def descend(
    residuals: Callable[[Array], Array],
    start: Array,
    steps: int,
    enough: float = 0.0,
    going: Callable[[], bool] = lambda: True,
) -> tuple[Array, Array]:
    """Least squares from many points of the unit box at once (Levenberg–Marquardt, kept in the box, slopes by
    differences).

    ``residuals`` turns points ``(m, d)`` into ``(m, k)``, all finite. Stops after ``steps``, when every cost is at
    most ``enough``, or when ``going`` says no. Returns points and costs (sums of squares); a point is never worse
    than it started. Source: Marquardt (1963); bounds by fixing coordinates that stand at a face and want out.
    ``start`` lies in the unit box, ``(m, d)``.

    >>> points, left = descend(lambda p: p - 0.3, np.array([[0.9], [0.1]]), 20)
    >>> points.round(4).tolist()
    [[0.3], [0.3]]
    """
    at = np.clip(start, 0.0, 1.0)
    m, d = at.shape
    r = residuals(at)
    cost = (r * r).sum(axis=1)
    damp = np.full(m, 1e-2)
    for _ in range(steps):
        live = np.flatnonzero(cost > enough)
        if not len(live) or d == 0 or not going():
            break
        x, r0 = at[live], r[live]
        side = np.where(x > 0.5, -STEP, STEP)
        probes = x[:, None, :] + side[:, :, None] * np.eye(d)[None]
        moved = residuals(probes.reshape(-1, d)).reshape(len(live), d, -1)
        slope = (moved - r0[:, None, :]) / side[:, :, None]
        gradient = (slope * r0[:, None, :]).sum(-1)
        stuck = ((x <= 0.0) & (gradient > 0)) | ((x >= 1.0) & (gradient < 0))
        slope = np.where(stuck[..., None], 0.0, slope)
        gradient = np.where(stuck, 0.0, gradient)
        normal = slope @ np.swapaxes(slope, -1, -2)
        big = np.maximum(
            normal.diagonal(axis1=-2, axis2=-1),
            1e-6 + 1e-3 * normal.diagonal(axis1=-2, axis2=-1).max(axis=-1, keepdims=True),
        )
        tries = damp[live][:, None] * DAMPING
        system = normal[:, None] + tries[..., None, None] * (big[:, :, None] * np.eye(d))[:, None]
        step = -np.linalg.solve(system, np.broadcast_to(gradient[:, None, :, None], (len(live), TRIES, d, 1)))[..., 0]
        new = np.clip(x[:, None] + np.clip(step, -0.35, 0.35), 0.0, 1.0)
        found = residuals(new.reshape(-1, d)).reshape(len(live), TRIES, -1)
        costs = (found * found).sum(-1)
        best = costs.argmin(axis=1)
        pick = (np.arange(len(live)), best)
        better = costs[pick] < cost[live]
        rows = live[better]
        at[rows], r[rows], cost[rows] = new[pick][better], found[pick][better], costs[pick][better]
        damp[live] = np.clip(np.where(better, tries[pick], damp[live] * 30.0), 1e-8, 1e8)
        if not better.any() and damp[live].min() > 1e5:
            break
    return at, cost
