"""The pose of an axle between the nodes of its grid, taken as straight there: a few hundredths of a millimetre off."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.geometry.rotation import rotation

Array = NDArray[np.float64]


Corner = tuple[NDArray[np.intp], NDArray[np.intp], Array]


def corners_of(grid: Grid, heave: Array, roll: Array) -> tuple[Corner, ...]:
    """The four nodes around each pose ``(n,)`` and what part each has: rows, columns, weights that sum to 1."""
    i = np.clip(np.searchsorted(grid.roll, roll) - 1, 0, max(0, len(grid.roll) - 2))
    j = np.clip(np.searchsorted(grid.heave, heave) - 1, 0, max(0, len(grid.heave) - 2))
    u = (roll - grid.roll[i]) / (grid.roll[i + 1] - grid.roll[i])
    v = (heave - grid.heave[j]) / (grid.heave[j + 1] - grid.heave[j])
    return (i, j, (1 - u) * (1 - v)), (i, j + 1, (1 - u) * v), (i + 1, j, u * (1 - v)), (i + 1, j + 1, u * v)


def between(grid: Grid, heave: Array, roll: Array) -> tuple[Array, Array]:
    """Axle centres ``(n, 3)`` m and orientations ``(n, 3, 3)`` at poses ``(n,)``; ``nan`` where they are not reached."""
    weights = corners_of(grid, heave, roll)
    x, y, yaw, pitch = (
        sum((np.where(w > 1e-9, field[a, b], 0.0) * w for a, b, w in weights), np.zeros_like(heave))
        for field in (grid.x, grid.y, grid.yaw, grid.pitch)
    )
    return np.stack([x, y, grid.centre[2] + heave], axis=-1), rotation(yaw, roll, pitch)


def carried_between(grid: Grid, point: object, heave: float, roll: float) -> Array:
    """One axle point given at ride height, at one pose."""
    at, turn = between(grid, np.array([heave]), np.array([roll]))
    return np.asarray(at[0] + turn[0] @ (np.asarray(point, dtype=float) - np.array(grid.centre)))
