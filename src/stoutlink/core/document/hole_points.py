"""Where the holes of a pivot's bracket lie."""

from __future__ import annotations

import math
from collections.abc import Iterable

import msgspec

from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.steering import Holes, Steering
from stoutlink.core.mechanics.holes import hole_offset


def hole_point(layout: Layout, bracket: Bracket, hole: int) -> Point:
    """Where a hole lies, m, from where the pivot stands in the hole in use; on the side of the bracket's own link."""
    link = layout.link(bracket.link)
    assert link is not None
    at = link.pivot(bracket.end)
    du, dv = (
        a - b
        for a, b in zip(_offset(layout, bracket, link, hole), _offset(layout, bracket, link, bracket.hole), strict=True)
    )
    return (at[0] + du, at[1], at[2] + dv) if bracket.plane == "side" else (at[0], at[1] + du, at[2] + dv)


def with_holes(layout: Layout, holes: Iterable[tuple[str, int]]) -> Layout:
    """The layout with pivots bolted into holes of their brackets: (bracket id, hole counted from 1) each; what moves
    with them goes along.

    Raises ``KeyError`` for a bracket that is not there and ``ValueError`` for a hole it does not have."""
    links, brackets = {x.id: x for x in layout.links}, {b.id: b for b in layout.brackets}
    for name, hole in holes:
        bracket = brackets[name]
        if not 1 <= hole <= bracket.holes:
            raise ValueError(f"{bracket.name} has {bracket.holes} holes; {hole} is not among them.")
        link = layout.link(bracket.link)
        assert link is not None
        x, y, z = hole_point(layout, bracket, hole)
        for one, side in layout.moved_with(link, bracket.end):
            links[one] = msgspec.structs.replace(links[one], **{f"{bracket.end}_pivot_m": (x, side * y, z)})
        brackets[name] = msgspec.structs.replace(bracket, hole=hole)
    return msgspec.structs.replace(layout, links=tuple(links.values()), brackets=tuple(brackets.values()))


def bolted(steering: Steering, pitman: int, knuckle: int) -> Steering:
    """Steering with the drag link in other holes of its arms; an arm without a row stays."""
    s = steering
    rows = [
        None if row is None else msgspec.structs.replace(row, hole=hole)
        for row, hole in ((s.pitman_holes, pitman), (s.knuckle_holes, knuckle))
    ]
    return msgspec.structs.replace(
        s,
        pitman_m=arm_point(s.pitman_m, s.pitman_holes, pitman),
        knuckle_m=arm_point(s.knuckle_m, s.knuckle_holes, knuckle),
        pitman_holes=rows[0],
        knuckle_holes=rows[1],
    )


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
