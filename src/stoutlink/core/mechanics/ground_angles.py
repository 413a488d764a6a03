"""Approach, departure and breakover: planes tangent to the standing tyres.

Terms and the tangent planes after ISO 612 (numbers of the clauses from memory: approach, departure and ramp angle).
The tyre is the circle of its loaded radius about the axle centre, which touches the ground: the cautious side, since
a tyre is rounder where it is not pressed flat.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

Flat = tuple[float, float]


def tangent_angle(axle_x: float, radius: float, point: Flat) -> float:
    """Slope, rad, of the plane that touches the tyre from below and passes the point, seen along ±x away from the axle.

    ``axle_x`` m, ``radius`` m (centre at that height), ``point`` (x, z) m outside the tyre. The ground is 0; a point
    under the ground line gives a negative angle. Raises ``ValueError`` for a point inside the tyre's circle.

    >>> round(math.degrees(tangent_angle(0.0, 0.5, (0.5, 0.5))), 9)
    90.0
    """
    dx, dz = abs(point[0] - axle_x), point[1] - radius
    far = math.hypot(dx, dz)
    if far < radius - 1e-12:
        raise ValueError("the point lies inside the tyre")
    return math.atan2(dz, dx) + math.asin(min(1.0, radius / far))


def approach_angle(axle_x: float, radius: float, points: Iterable[Flat], ahead: float = 1.0) -> float | None:
    """Smallest tangent angle over the points beyond an axle (``ahead`` +1: in front of it, −1: behind), rad; ``None``
    without one.

    A point inside the tyre's circle is behind rubber and does not count. ``points`` (x, z) in m. ``axle_x`` and tyre
    ``radius`` m.

    >>> approach_angle(2.5, 0.4, [(1.0, 0.3)]) is None
    True
    """
    out = []
    for point in points:
        if (point[0] - axle_x) * ahead <= 0 or math.hypot(point[0] - axle_x, point[1] - radius) < radius:
            continue
        out.append(tangent_angle(axle_x, radius, point))
    return min(out, default=None)


def breakover_angle(wheelbase: float, radii: tuple[float, float], points: Iterable[Flat]) -> float | None:
    """Ramp (breakover) angle, rad: least sum of the two tangent angles over points between the axles; ``None``
    without one.

    ``radii`` (front, rear) in m, the rear axle at x = 0. For wheels small against the wheelbase and a point in the
    middle it is 2·atan(2·z/L). Points inside a tyre's circle do not count.

    >>> round(math.degrees(breakover_angle(2.0, (1e-9, 1e-9), [(1.0, 1.0)])), 6)
    90.0
    """
    out = []
    for x, z in points:
        inside = any(math.hypot(x - a, z - r) < r for a, r in ((wheelbase, radii[0]), (0.0, radii[1])))
        if 0 < x < wheelbase and not inside:
            out.append(tangent_angle(wheelbase, radii[0], (x, z)) + tangent_angle(0.0, radii[1], (x, z)))
    return min(out, default=None)
