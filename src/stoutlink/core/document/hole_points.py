"""Where the holes of a pivot's bracket lie."""

from __future__ import annotations

import math

from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.steering import Holes
from stoutlink.core.mechanics.holes import hole_offset


def hole_point(layout: Layout, bracket: Bracket, hole: int) -> Point:
    """Where a hole lies, m, from where the pivot stands in the hole in use; on the side of the bracket's own link."""
    link = layout.link(bracket.link)
    assert link is not None
    at = link.pivot(bracket.end)
    du, dv = (a - b for a, b in zip(_offset(layout, bracket, link, hole), _offset(layout, bracket, link, bracket.hole), strict=True))
    return (at[0] + du, at[1], at[2] + dv) if bracket.plane == "side" else (at[0], at[1] + du, at[2] + dv)


def arm_point(point: Point, row: Holes | None, hole: int) -> Point:
    """Where a hole of a steering arm lies, m: straight up from the one in use, where ``point`` is."""
    return point if row is None else (point[0], point[1], point[2] + (hole - row.hole) * row.pitch_m)


def _offset(layout: Layout, bracket: Bracket, link: Link, hole: int) -> tuple[float, float]:
    """From hole 1, in the bracket's plane. A fan bends toward the link's other pivot."""
    radius = None
    if bracket.pattern == "fan" and bracket.radius_m is not None:
        here, there = link.pivot(bracket.end), link.pivot("axle" if bracket.end == "frame" else "frame")
        i = 0 if bracket.plane == "side" else 1
        to = (there[i] - here[i], there[2] - here[2])
        left = (-math.sin(bracket.angle_rad), math.cos(bracket.angle_rad))
        radius = bracket.radius_m if to[0] * left[0] + to[1] * left[1] >= 0 else -bracket.radius_m
    return hole_offset(hole, bracket.pitch_m, bracket.angle_rad, radius)
