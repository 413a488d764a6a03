"""Pivots put on surveyed rails: where the rail is now, and which pivots it has left behind."""

from __future__ import annotations

import itertools

from msgspec import Struct

from stoutlink.core.analysis.survey.survey_points import place_survey, rail_run
from stoutlink.core.document.anchor import Anchor
from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.survey import Survey

APART = 0.0005
"""A rail that moved by less than this, m, is where it was."""
REACH = 0.15
"""Rails are carried on straight this far beyond their last point, m."""


class RailPlace(Struct, frozen=True):
    """The middle of a rail at a station, and half its width and height where they are known, m."""

    y: float
    z: float
    half_width: float | None
    half_height: float | None


class Anchored(Struct, frozen=True):
    """A pivot on its rail: where the rail wants it now (``None``: the rail is not surveyed there any more)."""

    anchor: Anchor
    link: Link
    wanted: Point | None

    @property
    def off(self) -> Point:
        """How far the rail has moved away from under the pivot, m (along, left, up)."""
        if self.wanted is None:
            return 0.0, 0.0, 0.0
        x, y, z = (b - a for a, b in zip(self.link.frame_pivot_m, self.wanted, strict=True))
        return x, y, z


def rail_place(surveys: tuple[Survey, ...], rig: Rig, side: float, x: float) -> RailPlace | None:
    """The rail of a side (+1 left) at station ``x``, between its surveyed points; ``None`` where it was not read."""
    points = tuple(p for survey in surveys for p in place_survey(survey, rig.wheelbase_m))
    run = []
    for p in rail_run(points, side):
        y = next((v for v in p.sides if v * side > 0), None)
        if y is not None and p.z is not None:
            run.append((p.x, y, p.z, p.point.diameter_m or rig.body.rail_width_m))
    tall = rig.body.rail_height_m
    for a, b in itertools.pairwise(run):
        first, last = a is run[0], b is run[-1]
        if b[0] > a[0] and a[0] - (REACH if first else 0.0) <= x <= b[0] + (REACH if last else 0.0):
            t = min(1.0, max(0.0, (x - a[0]) / (b[0] - a[0])))
            wide = None if a[3] is None or b[3] is None else 0.5 * (a[3] + t * (b[3] - a[3]))
            return RailPlace(
                a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2]), wide, None if tall is None else 0.5 * tall
            )
    return None


def anchored(layout: Layout, surveys: tuple[Survey, ...], rig: Rig) -> tuple[Anchored, ...]:
    """Pivots of a layout still bound to a rail, with where the rail wants them."""
    out = []
    for anchor in layout.anchors:
        link = layout.link(anchor.id.partition(":")[0])
        if link is None:
            continue
        _, y, z = link.frame_pivot_m
        across = anchor.across if y == anchor.at_m[1] else None
        up = anchor.up if z == anchor.at_m[2] else None
        if across is None and up is None:
            continue
        out.append(Anchored(anchor, link, _wanted(anchor, across, up, link.frame_pivot_m, surveys, rig)))
    return tuple(out)


def left_behind(layout: Layout, surveys: tuple[Survey, ...], rig: Rig) -> tuple[Anchored, ...]:
    """Those the rail has moved away from, or that have no rail under them any more."""
    found = anchored(layout, surveys, rig)
    return tuple(one for one in found if one.wanted is None or max(abs(v) for v in one.off) > APART)


def _wanted(
    anchor: Anchor, across: str | None, up: str | None, now: Point, surveys: tuple[Survey, ...], rig: Rig
) -> Point | None:
    side = 1.0 if anchor.rail == "left" else -1.0
    rail = rail_place(surveys, rig, side, now[0])
    if rail is None or (across in ("inside", "outside") and rail.half_width is None):
        return None
    if up in ("top", "bottom") and rail.half_height is None:
        return None
    wide, tall = rail.half_width or 0.0, rail.half_height or 0.0
    y = now[1] if across is None else rail.y + side * wide * {"middle": 0.0, "outside": 1.0, "inside": -1.0}[across]
    z = now[2] if up is None else rail.z + tall * {"middle": 0.0, "top": 1.0, "bottom": -1.0}[up]
    return now[0], y, z
