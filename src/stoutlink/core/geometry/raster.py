"""Which triangle is seen at each pixel: a depth buffer for all of them at once, so that bodies which run into each other
hide each other as they should.

Source: scan conversion with a depth buffer (J. Foley et al., Computer Graphics: Principles and Practice, ch. 3 and 15).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Ints = NDArray[np.int32]
NOTHING = -1
"""Stands where no triangle is seen."""
FINE = 2.0e7
"""Steps a metre of depth is counted in; within ±100 m of the middle."""
ROOM = 20
"""Bits for the number of a triangle."""


@dataclass(frozen=True, eq=False)
class Seen:
    """What is seen: number of the triangle ``(high, wide)``, :data:`NOTHING` where none is, and depth m towards the
    eye, −inf there.
    """

    which: Ints
    depth: NDArray[np.float32]


def seen(corners: Array, wide: int, high: int) -> Seen:
    """Look at triangles whose ``corners`` ``(m, 3, 3)`` are pixels to the right, pixels down, and m towards the eye, on a
    picture ``wide`` and ``high`` pixels.

    A pixel belongs to what lies at its middle; only triangles that count clockwise on the screen (y down: outsides)
    are seen, so closed bodies want no more. At most 2²⁰ triangles.

    >>> tri = np.array([[[0.0, 0.0, 1.0], [0.0, 4.0, 1.0], [4.0, 0.0, 1.0]]])
    >>> seen(tri, 4, 3).which.tolist()
    [[0, 0, 0, -1], [0, 0, -1, -1], [0, -1, -1, -1]]
    """
    best = np.full(wide * high, -(1 << 62), dtype=np.int64)
    which, at, key = _fragments(corners, wide, high)
    if len(at):
        np.maximum.at(best, at, key | which)
    there = best > -(1 << 61)
    number = np.where(there, best & ((1 << ROOM) - 1), NOTHING).astype(np.int32)
    depth = np.where(there, (best >> ROOM) / FINE, -np.inf).astype(np.float32)
    return Seen(number.reshape(high, wide), depth.reshape(high, wide))


def _fragments(corners: Array, wide: int, high: int) -> tuple[NDArray[np.int64], NDArray[np.intp], NDArray[np.int64]]:
    """Every pixel of every triangle: its number, its place and its depth as a key."""
    (x0, y0, z0), (x1, y1, z1), (x2, y2, z2) = np.moveaxis(corners, 0, -1)
    det = (x1 - x0) * (y2 - y0) - (y1 - y0) * (x2 - x0)
    low, up = corners[:, :, :2].min(axis=1), corners[:, :, :2].max(axis=1)
    shown = (det < -1e-9) & (up[:, 0] > 0) & (up[:, 1] > 0) & (low[:, 0] < wide) & (low[:, 1] < high)
    number = np.flatnonzero(shown)
    x0, y0, z0, x1, y1, z1, x2, y2, z2, det = (v[number] for v in (x0, y0, z0, x1, y1, z1, x2, y2, z2, det))
    across = ((z1 - z0) * (y2 - y0) - (z2 - z0) * (y1 - y0)) / det
    down = ((z2 - z0) * (x1 - x0) - (z1 - z0) * (x2 - x0)) / det
    first = np.clip(np.ceil(low[number, 1] - 0.5), 0, high).astype(np.int32)
    rows = np.clip(np.ceil(up[number, 1] - 0.5), 0, high).astype(np.int32) - first
    of = np.repeat(np.arange(len(number), dtype=np.int32), rows)
    row = (first - np.cumsum(rows) + rows).astype(np.int32)[of] + np.arange(len(of), dtype=np.int32)
    y = row + 0.5
    left, right = np.full(len(of), np.inf), np.full(len(of), -np.inf)
    for xa, ya, xb, yb in ((x0, y0, x1, y1), (x1, y1, x2, y2), (x2, y2, x0, y0)):
        rise = yb - ya
        slope = np.divide(xb - xa, rise, out=np.zeros_like(rise), where=rise != 0)
        on = np.flatnonzero((y >= np.minimum(ya, yb)[of]) & (y <= np.maximum(ya, yb)[of]) & (rise != 0)[of])
        t = of[on]
        x = (xa - ya * slope)[t] + y[on] * slope[t]
        left[on] = np.minimum(left[on], x)
        right[on] = np.maximum(right[on], x)
    begin = np.clip(np.ceil(left - 0.5), 0, wide)
    many = np.clip(np.ceil(np.minimum(right, wide + 1.0) - 0.5), 0, wide) - begin
    some = np.flatnonzero(many > 0)
    of, row, y, begin, many = of[some], row[some], y[some], begin[some].astype(np.int32), many[some].astype(np.int32)
    base = (z0 - across * (x0 - 0.5) - down * y0)[of] + across[of] * begin + down[of] * y
    start = np.cumsum(many, dtype=np.int64) - many
    run = np.repeat(np.arange(len(many), dtype=np.int32), many)
    step = np.arange(len(run), dtype=np.int32) - start.astype(np.int32)[run]
    at = (row * wide + begin)[run] + step
    depth = base[run] + across[of][run] * step
    key = (depth * FINE).astype(np.int64) << ROOM
    return number[of].astype(np.int64)[run], at, key
