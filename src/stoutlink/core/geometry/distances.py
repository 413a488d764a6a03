"""Least distances between straight pieces and boxes, in space.

Source: plane and solid geometry; C. Ericson, Real-Time Collision Detection, ch. 5.
"""

from __future__ import annotations

import math

Point = tuple[float, float, float]


def between_segments(p1: Point, p2: Point, q1: Point, q2: Point) -> float:
    """Least distance between two straight pieces, m; pieces may be points, parallel or crossing.

    Source: clamped closest points of two lines (C. Ericson, Real-Time Collision Detection, 5.1.9). ``p1`` to ``p2``
    is one piece, ``q1`` to ``q2`` the other, points (x, y, z) in m.

    >>> between_segments((0, 0, 0), (2, 0, 0), (1, 1, 3), (1, -1, 3))
    3.0
    """
    d1, d2, r = _minus(p2, p1), _minus(q2, q1), _minus(p1, q1)
    a, e, f, c, b = _dot(d1, d1), _dot(d2, d2), _dot(d2, r), _dot(d1, r), _dot(d1, d2)
    if a <= 1e-18:
        s, t = 0.0, _clamp(f / e) if e > 1e-18 else 0.0
    elif e <= 1e-18:
        s, t = _clamp(-c / a), 0.0
    else:
        square = a * e - b * b
        s = _clamp((b * f - c * e) / square) if square > 1e-15 * a * e else 0.0
        t = (b * s + f) / e
        if t < 0.0:
            s, t = _clamp(-c / a), 0.0
        elif t > 1.0:
            s, t = _clamp((b - c) / a), 1.0
    one = tuple(p + s * d for p, d in zip(p1, d1, strict=True))
    two = tuple(p + t * d for p, d in zip(q1, d2, strict=True))
    return math.dist(one, two)


def point_to_box(point: Point, low: Point, high: Point) -> float:
    """Distance from a point to an upright box, m; negative inside: how deep.

    ``low`` and ``high`` are opposite corners, (x, y, z) in m.

    >>> point_to_box((2, 0.5, 0.5), (0, 0, 0), (1, 1, 1)), point_to_box((0.9, 0.5, 0.5), (0, 0, 0), (1, 1, 1))
    (1.0, -0.09999999999999998)
    """
    over = [max(a - v, v - b) for v, a, b in zip(point, low, high, strict=True)]
    deepest = max(over)
    return deepest if deepest <= 0 else math.hypot(*(max(0.0, v) for v in over))


def segment_to_box(p1: Point, p2: Point, low: Point, high: Point) -> float:
    """Least distance between a straight piece and an upright box, m; negative when it runs through: the greatest depth.

    The signed distance to a convex body is convex along a line, so a golden-section search finds its least value (to
    1e-9 of the length). ``p1`` to ``p2`` is the piece, ``low`` and ``high`` opposite corners, (x, y, z) in m.

    >>> round(segment_to_box((-1, 3, 0.5), (2, 3, 0.5), (0, 0, 0), (1, 1, 1)), 9)
    2.0
    """
    golden = (math.sqrt(5.0) - 1.0) / 2.0

    def at(t: float) -> float:
        return point_to_box(tuple(a + t * (b - a) for a, b in zip(p1, p2, strict=True)), low, high)  # type: ignore[arg-type]

    a, b = 0.0, 1.0
    c, d = b - golden, a + golden
    fc, fd = at(c), at(d)
    while b - a > 1e-9:
        if fc <= fd:
            b, d, fd = d, c, fc
            c = b - golden * (b - a)
            fc = at(c)
        else:
            a, c, fc = c, d, fd
            d = a + golden * (b - a)
            fd = at(d)
    return min(fc, fd, at(0.0), at(1.0))


def _minus(a: Point, b: Point) -> Point:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


def _dot(a: Point, b: Point) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def _clamp(v: float) -> float:
    return min(1.0, max(0.0, v))
