"""Ground as a wheel meets it: how high its hub must be at each place, and how steep the ground is where it touches."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
STEP = 0.002
"""Between the places the hub's way is worked out at, m."""
TURNS = 0.006
"""Where the wheel comes to touch at two places, its load goes over from one to the other on this way before it, m: on a rigid wheel at once."""


class HubWay(Struct, frozen=True):
    """The way of a hub over a profile: places ``(m,)``, heights ``(m,)``, slopes of the ground under it ``(m,)``, where a wall higher than the
    hub stands (``nan``: none), and the places where the wheel comes to touch anew ``(k,)``."""

    along: Array
    high: Array
    slope: Array
    wall: float
    turns: Array

    def at(self, x: Array) -> tuple[Array, Array]:
        """Hub height and slope at places of any shape, m."""
        return np.interp(x, self.along, self.high), np.interp(x, self.along, self.slope)


def hub_way(profile: Sequence[tuple[float, float]], radius: float) -> HubWay:
    """The way of the hub of a rigid wheel of ``radius`` m that rolls over a ``profile`` of (along, high) points, m, level beyond its ends.

    The hub stands so high that no point of the ground lies within the wheel: the most of ground + √(r² − d²) over places d away. Where it
    touches at d ahead, the ground's slope there is d/√(r² − d²). Source: offset curve of a polyline. Degenerate: two points at
    one place are a wall; one higher than the hub cannot be rolled over and is said as ``wall``. Raises ``ValueError`` for places that go back.

    >>> way = hub_way([(0.0, 0.0), (2.0, 0.0), (2.0, 0.2), (4.0, 0.2)], 0.5)
    >>> z, s = way.at(np.array([1.0, 1.6, 3.0]))
    >>> [round(float(v), 3) for v in z], round(float(s[1]), 3)
    ([0.5, 0.5, 0.7], 1.333)
    """
    xs, zs = (np.array([p[k] for p in profile], dtype=np.float64) for k in (0, 1))
    if np.any(np.diff(xs) < 0):
        raise ValueError("a profile goes forward only")
    margin = 3.0 * radius
    begin, end = float(xs[0]), float(xs[-1])
    along = np.arange(begin - margin, end + margin + STEP, STEP, dtype=np.float64)
    high, where = np.full(len(along), -np.inf), np.zeros(len(along))
    ends = [(xs[0] - 2 * margin, zs[0]), *zip(xs, zs, strict=True), (xs[-1] + 2 * margin, zs[-1])]
    for (x0, z0), (x1, z1) in itertools.pairwise(ends):
        near = (along > x0 - radius) & (along < x1 + radius)
        if x1 - x0 > 1e-9:  # a straight piece: the wheel touches it square to it, else at an end
            m = (z1 - z0) / (x1 - x0)
            foot = along + m * radius / math.hypot(1.0, m)
            inside = near & (foot >= x0) & (foot <= x1)
            _raise(high, where, inside, z0 + m * (foot - x0) + radius / math.hypot(1.0, m), m)
        for x, z in ((x0, z0), (x1, z1)):
            off = x - along
            touch = np.abs(off) < radius
            drop = np.sqrt(np.maximum(radius**2 - off**2, 1e-12))
            _raise(high, where, touch, z + drop, off / drop)
    rise = np.diff(high)
    walls = np.flatnonzero(rise > 0.5 * radius)
    wall = float(along[walls[0]]) if len(walls) else math.nan
    along, high, where, turns = _turned(along, high, where)
    return HubWay(along, high, where, wall, turns)


def _turned(along: Array, high: Array, where: Array) -> tuple[Array, Array, Array, Array]:
    """With a place of its own wherever the wheel comes to touch at two places, and the way before it on which its load goes over."""
    xs, zs, ms = [along], [high], [where.copy()]
    for k in (int(i) for i in np.flatnonzero(np.diff(where) > 0.02)):
        if k + 2 >= len(along):
            continue
        bend = (where[k + 2] - where[k + 1]) / STEP
        x = float(along[k])
        for _ in range(4):  # where what comes from behind and what comes from ahead are as high
            now = where[k + 1] + bend * (x - along[k + 1])
            mean = 0.5 * (now + where[k + 1])
            gap = high[k + 1] + mean * (x - along[k + 1]) - high[k] - where[k] * (x - along[k])
            slope = now - where[k]
            x -= gap / slope if abs(slope) > 1e-9 else 0.0
            x = min(max(x, float(along[k])), float(along[k + 1]))
        peak = float(where[k + 1] + bend * (x - along[k + 1]))
        before = np.arange(max(0, k - round(TURNS / STEP) + 1), k + 1)
        part = np.clip((along[before] - x) / TURNS + 1.0, 0.0, 1.0)
        ms[0][before] = np.maximum(ms[0][before], where[before] + (peak - where[before]) * part)
        xs.append(np.array([x]))
        zs.append(np.array([high[k] + where[k] * (x - along[k])]))
        ms.append(np.array([peak]))
    every = np.concatenate(xs)
    order = np.argsort(every, kind="stable")
    return every[order], np.concatenate(zs)[order], np.concatenate(ms)[order], np.concatenate([np.empty(0), *xs[1:]])


def _raise(high: Array, where: Array, at: NDArray[np.bool_], to: Array, slope: Array | float) -> None:
    better = at & (to > high)
    high[better] = to[better]
    where[better] = slope if isinstance(slope, float) else slope[better]
