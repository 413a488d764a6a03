"""The drawing-board constructions: what a fabricator draws with a straight edge.

They agree with the true motion for mirrored links; where an upper is offset or a panhard slopes they can part,
and then the true motion counts. Points are plain ``(x, y, z)`` triples in m.

Source: Milliken & Milliken, Race Car Vehicle Dynamics, ch. 17.
"""

from __future__ import annotations

import math

from stoutlink.core.geometry.lines import crossing

Triple = tuple[float, float, float]
Bar = tuple[Triple, Triple]
"""Frame pivot, axle pivot."""


def projected_centre(upper: Bar, lower: Bar) -> tuple[float, float] | None:
    """Where the side-view lines of an upper and a lower cross, (x, z); ``None`` when parallel.

    ``upper`` and ``lower`` as (frame pivot, axle pivot), m.

    >>> projected_centre(((1.0, 0.0, 0.5), (0.0, 0.0, 0.6)), ((1.0, 0.0, 0.4), (0.0, 0.0, 0.3)))
    (1.5, 0.45)
    """
    (a, b), (c, d) = upper, lower
    return crossing((a[0], a[2]), (b[0], b[2]), (c[0], c[2]), (d[0], d[2]))


def mean_bar(left: Bar, right: Bar) -> Bar:
    """The side-view line of a pair: midpoints of its pivots.

    ``left`` and ``right`` as (frame pivot, axle pivot), m.

    >>> mean_bar(((1.0, 0.4, 0.5), (0.0, 0.2, 0.6)), ((1.0, -0.4, 0.5), (0.0, -0.2, 0.6)))
    ((1.0, 0.0, 0.5), (0.0, 0.0, 0.6))
    """
    return _middle(left[0], right[0]), _middle(left[1], right[1])


def plan_apex(left: Bar, right: Bar) -> Triple | None:
    """Plan-view crossing of a pair, raised to the pair's height on the side view; ``None`` when parallel in plan.

    ``left`` and ``right`` as (frame pivot, axle pivot), m.

    >>> plan_apex(((1.0, 0.4, 0.5), (0.0, 0.2, 0.5)), ((1.0, -0.4, 0.5), (0.0, -0.2, 0.5)))
    (-1.0, 0.0, 0.5)
    """
    (a, b), (c, d) = left, right
    cross = crossing((a[0], a[1]), (b[0], b[1]), (c[0], c[1]), (d[0], d[1]))
    if cross is None:
        return None
    frame, axle = mean_bar(left, right)
    if frame[0] == axle[0]:
        return None
    t = (cross[0] - frame[0]) / (axle[0] - frame[0])
    return cross[0], cross[1], frame[2] + t * (axle[2] - frame[2])


def roll_axis_of_pairs(upper: tuple[Bar, Bar], lower: tuple[Bar, Bar]) -> tuple[Triple, float] | None:
    """Roll axis of two mirrored pairs: a point on it and its inclination (rad, nose-up +).

    The line through both apexes; with one pair parallel in plan, through the other's apex along that pair's side-view
    slope. ``None`` when both are parallel. ``upper`` and ``lower`` pairs (left, right), m.

    >>> up = (((1.0, 0.4, 0.6), (0.0, 0.1, 0.6)), ((1.0, -0.4, 0.6), (0.0, -0.1, 0.6)))
    >>> low = (((1.0, 0.2, 0.4), (0.0, 0.5, 0.4)), ((1.0, -0.2, 0.4), (0.0, -0.5, 0.4)))
    >>> point, nose_up = roll_axis_of_pairs(up, low)
    >>> round(nose_up, 4)
    -0.0997
    """
    first, second = plan_apex(*upper), plan_apex(*lower)
    if first is not None and second is not None:
        if math.dist(first, second) < 1e-12:
            return None
        dx, dz = second[0] - first[0], second[2] - first[2]
        return first, math.atan(dz / dx) if dx else math.copysign(math.pi / 2, dz)
    if first is None and second is None:
        return None
    apex, parallel = (first, lower) if first is not None else (second, upper)
    frame, axle = mean_bar(*parallel)
    assert apex is not None
    return apex, math.atan((frame[2] - axle[2]) / (frame[0] - axle[0]))


def centreline_height(panhard: Bar) -> tuple[float, float] | None:
    """Where a panhard passes the vehicle's centreline: (x, z); ``None`` when it never does.

    ``panhard`` as (frame pivot, axle pivot), m.

    >>> centreline_height(((0.1, 0.5, 0.6), (0.1, -0.5, 0.5)))
    (0.1, 0.55)
    """
    a, b = panhard
    if a[1] == b[1]:
        return None
    t = a[1] / (a[1] - b[1])
    return a[0] + t * (b[0] - a[0]), a[2] + t * (b[2] - a[2])


def plan_angle(bar: Bar) -> float:
    """Angle of a bar to the vehicle's centreline in plan, rad, 0 to π/2.

    >>> round(math.degrees(plan_angle(((1, 0, 0), (0, 1, 0)))), 9)
    45.0
    """
    a, b = bar
    return math.atan2(abs(a[1] - b[1]), abs(a[0] - b[0]))


def included_angle(left: Bar, right: Bar) -> float:
    """Angle between the plan-view lines of a pair, rad, 0 to π/2.

    ``left`` and ``right`` as (frame pivot, axle pivot), m.

    >>> round(included_angle(((1.0, 1.0, 0.5), (0.0, 0.0, 0.5)), ((1.0, -1.0, 0.5), (0.0, 0.0, 0.5))), 4)
    1.5708
    """
    (a, b), (c, d) = left, right
    ux, uy, vx, vy = a[0] - b[0], a[1] - b[1], c[0] - d[0], c[1] - d[1]
    return math.atan2(abs(ux * vy - uy * vx), abs(ux * vx + uy * vy))


def _middle(a: Triple, b: Triple) -> Triple:
    return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2
