"""Triangles that fill an outline with holes.

Source: ear clipping after every hole is joined to the rim by a cut (D. Eberly, Triangulation by Ear Clipping).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Flat = tuple[float, float]


def filled(rings: Sequence[Sequence[Flat]]) -> tuple[Array, NDArray[np.intp], tuple[int, ...]] | None:
    """Of ``rings``, a rim and its holes in any sense: corners ``(n, 2)`` of the rim (anticlockwise) and its holes (clockwise) one after the other, triangles ``(m, 3)`` that fill it, and how many
    corners each has, m; ``None`` for one without area or that touches itself.

    >>> found = filled([[(0.0, 0.0), (3.0, 0.0), (3.0, 3.0), (0.0, 3.0)], [(1.0, 1.0), (1.0, 2.0), (2.0, 2.0), (2.0, 1.0)]])
    >>> len(found[0]), len(found[1]), found[2]
    (8, 8, (4, 4))
    """
    from ezdxf.math.triangulation import mapbox_earcut_2d  # noqa: PLC0415 - slow to load

    clean = [_wound(_apart(ring), -1.0 if k else 1.0) for k, ring in enumerate(rings)]
    count = tuple(len(r) for r in clean)
    numbers = {p: k for k, p in enumerate(p for ring in clean for p in ring)}
    if min(count) < 3 or len(numbers) != sum(count):
        return None
    found = [[numbers[(v[0], v[1])] for v in three] for three in mapbox_earcut_2d(_joined(clean))]
    if not found:
        return None
    points, triangles = np.array(list(numbers)), np.array(found, dtype=np.intp)
    a, b, c = np.moveaxis(points[triangles], 1, 0)
    covered = 0.5 * np.abs((b - a)[:, 0] * (c - a)[:, 1] - (b - a)[:, 1] * (c - a)[:, 0]).sum()
    wanted = abs(_turn(clean[0])) - sum(abs(_turn(hole)) for hole in clean[1:])
    return (points, triangles, count) if abs(covered - wanted) <= 1e-9 * abs(_turn(clean[0])) else None


def _joined(rings: Sequence[list[Flat]]) -> list[Flat]:
    """One outline that runs through the rim and, by a cut there and back, round every hole."""
    out, rest = rings[0], list(rings[1:])
    while rest:
        edges = [e for ring in (out, *rest) for e in zip(ring, ring[1:] + ring[:1], strict=True)]
        ways = sorted(
            (math.dist(p, q), i, k, j)
            for k, hole in enumerate(rest)
            for j, q in enumerate(hole)
            for i, p in enumerate(out)
        )
        free = (w for w in ways if not any(_cross(out[w[1]], rest[w[2]][w[3]], a, b) for a, b in edges))
        _, i, k, j = next(free, ways[0])
        hole = rest.pop(k)
        out = [*out[: i + 1], *hole[j:], *hole[: j + 1], *out[i:]]
    return out


def _wound(ring: list[Flat], way: float) -> list[Flat]:
    """A ring that runs anticlockwise (+) or clockwise."""
    return ring if _turn(ring) * way > 0 else ring[::-1]


def _turn(ring: list[Flat]) -> float:
    """Area within a ring, anticlockwise +."""
    return 0.5 * sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, ring[1:] + ring[:1], strict=True))


def _cross(p: Flat, q: Flat, a: Flat, b: Flat) -> bool:
    """Whether a cut runs through an edge it does not begin or end at."""
    if p in (a, b) or q in (a, b):
        return False

    def side(u: Flat, v: Flat, w: Flat) -> float:
        return (v[0] - u[0]) * (w[1] - u[1]) - (v[1] - u[1]) * (w[0] - u[0])

    return side(p, q, a) * side(p, q, b) <= 0 and side(a, b, p) * side(a, b, q) <= 0


def _apart(ring: Sequence[Flat]) -> list[Flat]:
    """A rim without corners given twice or straight between their neighbours, which triangles would pass over."""
    out: list[Flat] = []
    for x, y in ring:
        p = (float(x), float(y))
        if p not in out[-1:]:
            out.append(p)
    if len(out) > 1 and out[0] == out[-1]:
        out.pop()

    def bent(k: int) -> bool:
        (ax, ay), (bx, by), (cx, cy) = out[k - 1], out[k], out[(k + 1) % len(out)]
        return abs((bx - ax) * (cy - by) - (by - ay) * (cx - bx)) > 1e-12

    return [p for k, p in enumerate(out) if bent(k)]
