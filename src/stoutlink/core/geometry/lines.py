"""Straight lines on a drawing board (two coordinates at a time).

Source: plane analytic geometry.
"""

from __future__ import annotations

import math

Point = tuple[float, float]

PARALLEL = 1e-9


def crossing(p1: Point, p2: Point, q1: Point, q2: Point) -> Point | None:
    """Where the line p1-p2 meets the line q1-q2, both extended, m each; ``None`` when parallel.

    Parallel means the sine of the angle between them is below 1e-9. Raises ``ValueError`` when two
    points of one line coincide.

    >>> crossing((0, 0), (1, 1), (0, 2), (1, 1))
    (1.0, 1.0)
    """
    ux, uy = p2[0] - p1[0], p2[1] - p1[1]
    vx, vy = q2[0] - q1[0], q2[1] - q1[1]
    lu, lv = math.hypot(ux, uy), math.hypot(vx, vy)
    if lu == 0 or lv == 0:
        raise ValueError("a line needs two different points")
    cross = ux * vy - uy * vx
    if abs(cross) <= PARALLEL * lu * lv:
        return None
    t = ((q1[0] - p1[0]) * vy - (q1[1] - p1[1]) * vx) / cross
    return (p1[0] + t * ux, p1[1] + t * uy)
