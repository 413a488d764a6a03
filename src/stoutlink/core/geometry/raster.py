"""Which triangle is seen at each pixel: a depth buffer for all of them at once, so that bodies which run into each other
hide each other as they should.

Source: scan conversion with a depth buffer (J. Foley et al., Computer Graphics: Principles and Practice, ch. 3 and 15).
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
Ints = NDArray[np.int32]
NOTHING = -1
"""Stands where no triangle is seen."""
FINE = 2.0e7
"""Steps a metre of depth is counted in; within ±100 m of the middle."""
ROOM = 20
"""Bits for the number of a triangle."""
AT_ONCE = 1 << 18
"""So many pixels of triangles are worked out at a time: what passes through memory stays small, and in the cache."""
FARTHEST = (-(1 << 40) << ROOM) | ((1 << ROOM) - 1)
"""Stands at a pixel before anything is seen there: behind all, of no triangle."""


class Seen(Struct, frozen=True, eq=False):
    """What is seen: number of the triangle ``(high, wide)``, :data:`NOTHING` where none is, and depth m towards the
    eye, −inf there.
    """

    which: Ints
    depth: NDArray[np.float32]


def seen(corners: Array, wide: int, high: int) -> Seen:
    """Look at triangles whose ``corners`` ``(m, 3, 3)`` are pixels to the right, pixels down, and m towards the eye, on a
    picture ``wide`` and ``high`` pixels.

    A pixel belongs to what lies at its middle; only triangles that count clockwise on the screen (y down: outsides)
    are seen, so closed bodies want no more. Fewer than 2²⁰ triangles.

    >>> tri = np.array([[[0.0, 0.0, 1.0], [0.0, 4.0, 1.0], [4.0, 0.0, 1.0]]])
    >>> seen(tri, 4, 3).which.tolist()
    [[0, 0, 0, -1], [0, 0, -1, -1], [0, -1, -1, -1]]
    """
    best = np.full(wide * high, FARTHEST, dtype=np.int64)
    spans = _spans(corners, wide, high)
    ends = np.cumsum(spans.many, dtype=np.int64)
    first = 0
    while first < len(ends):
        before = int(ends[first - 1]) if first else 0
        last = max(first + 1, int(np.searchsorted(ends, before + AT_ONCE, side="right")))
        at, key = spans.fragments(slice(first, last))
        np.maximum.at(best, at, key)
        first = last
    number = (best & ((1 << ROOM) - 1)).astype(np.int32)
    depth = (best >> ROOM).astype(np.float32) * np.float32(1.0 / FINE)
    none = number == (1 << ROOM) - 1
    number[none], depth[none] = NOTHING, -np.inf
    return Seen(number.reshape(high, wide), depth.reshape(high, wide))


class _Spans(Struct, frozen=True, eq=False):
    """Runs of pixels beside one another: number of the triangle, place of the first, how many, depth there and its change
    from pixel to pixel, m."""

    number: NDArray[np.int64]
    at: NDArray[np.int32]
    many: NDArray[np.int32]
    depth: Array
    across: Array

    def fragments(self, part: slice) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
        """Every pixel of some of them: its place, and its depth and triangle as a key."""
        many = self.many[part]
        step = np.arange(int(many.sum()), dtype=np.int32)
        step -= np.repeat(np.cumsum(many, dtype=np.int32) - many, many)
        depth = np.repeat(self.across[part], many)
        depth *= step
        depth += np.repeat(self.depth[part], many)
        depth *= FINE
        key = depth.astype(np.int64)
        key <<= ROOM
        key |= np.repeat(self.number[part], many)
        step += np.repeat(self.at[part], many)
        return step, key


def _spans(corners: Array, wide: int, high: int) -> _Spans:
    """Every row of every triangle that is seen from its outside."""
    x, y, z = (np.ascontiguousarray(corners[:, :, k].T) for k in range(3))
    det = (x[1] - x[0]) * (y[2] - y[0]) - (y[1] - y[0]) * (x[2] - x[0])
    top, bottom = y.min(axis=0), y.max(axis=0)
    first = np.clip(np.ceil(top - 0.5), 0, high)
    rows = np.clip(np.ceil(bottom - 0.5), 0, high) - first
    number = np.flatnonzero((det < -1e-9) & (rows > 0) & (x.max(axis=0) > 0) & (x.min(axis=0) < wide))
    x, y, z, det = x[:, number], y[:, number], z[:, number], det[number]
    begins, rows = first[number].astype(np.int32), rows[number].astype(np.int32)
    across = ((z[1] - z[0]) * (y[2] - y[0]) - (z[2] - z[0]) * (y[1] - y[0])) / det
    down = ((z[2] - z[0]) * (x[1] - x[0]) - (z[1] - z[0]) * (x[2] - x[0])) / det
    base = z[0] - across * (x[0] - 0.5) - down * y[0]
    # each edge as x = off + slope·y: the one from top to bottom, and the two that meet in the middle corner
    order = np.argsort(y, axis=0)
    y, x = np.take_along_axis(y, order, axis=0), np.take_along_axis(x, order, axis=0)
    (long, long_off), (upper, upper_off), (lower, lower_off) = (
        _edge(x[a], y[a], x[b], y[b]) for a, b in ((0, 2), (0, 1), (1, 2))
    )
    of = np.repeat(np.arange(len(number), dtype=np.int32), rows)
    row = (begins - np.cumsum(rows) + rows).astype(np.int32)[of] + np.arange(len(of), dtype=np.int32)
    level = row + 0.5
    one = long_off[of] + long[of] * level
    over = level < y[1][of]
    other = np.where(over, upper_off[of], lower_off[of]) + np.where(over, upper[of], lower[of]) * level
    begin = np.clip(np.ceil(np.minimum(one, other) - 0.5), 0, wide)
    many = np.clip(np.ceil(np.maximum(one, other) - 0.5), 0, wide) - begin
    some = np.flatnonzero(many > 0)
    of, row, level, begin, many = (
        of[some],
        row[some],
        level[some],
        begin[some].astype(np.int32),
        many[some].astype(np.int32),
    )
    depth = base[of] + across[of] * begin + down[of] * level
    return _Spans(number[of].astype(np.int64), row * np.int32(wide) + begin, many, depth, across[of])


def _edge(xa: Array, ya: Array, xb: Array, yb: Array) -> tuple[Array, Array]:
    """Slope and offset of edges, x over y; a level one has no row of its own."""
    rise = yb - ya
    slope = np.divide(xb - xa, rise, out=np.zeros_like(rise), where=rise > 1e-12)
    return slope, xa - slope * ya
