"""What a dragged pivot falls on: frame faces, tube centres, holes, the axle tube, other pivots, and the tape's grid."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from msgspec import Struct

from stoutlink.core.analysis.survey.survey_points import place_survey, rail_run
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.anchor import Across, Up
from stoutlink.core.document.hole_points import hole_point
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.survey import Survey, TubeSolid
from stoutlink.core.drawing.shapes import AXES, SIGN, Flat, ViewName, flatten
from stoutlink.core.editing.pivots import Pivot, moved_along
from stoutlink.core.numerics.remembering import remember_by_identity
from stoutlink.core.quantity.constants import INCH

REACH = 7.0
"""Pixels within which something is fallen on."""
ALIGN = 5.0
"""Pixels within which a coordinate lines up with another pivot's."""


class Snap(Struct, frozen=True):
    """Where it falls, in the view's own coordinates (m), and on what, in words ("" for the grid alone)."""

    at: Flat
    word: str
    across: Across | None = None
    up: Up | None = None
    """The face of a rail it fell on."""


Caught = tuple[Flat, str, Across | None, Up | None]
"""What a :class:`Snap` holds: a drag looks at a hundred of them."""


def snap(project: Project, rig: Rig, layout: Layout, pivot: Pivot, view: ViewName, at: Flat, scale: float) -> Snap:
    """The nearest thing within a few pixels of ``at`` (view coordinates, m; ``scale`` pixels a metre), else the lines
    of other pivots and the grid.
    """
    best: Caught | None = None
    least = REACH
    for found in _things(project, rig, layout, pivot, view, at):
        gap = math.dist(found[0], at) * scale
        if gap <= REACH and (best is None or gap < least - 1e-9):
            best, least = found, gap
    if best is not None:
        return Snap(*best)
    step = INCH / 16 if project.settings.units == "in" else 0.001
    h = _line(layout, pivot, view, 0, at[0], scale, step)
    v = _line(layout, pivot, view, 1, at[1], scale, step)
    return Snap((h, v), "")


def _line(layout: Layout, pivot: Pivot, view: ViewName, which: int, value: float, scale: float, step: float) -> float:
    """One coordinate: in line with another pivot's, else on the grid."""
    axis = AXES[view][which]
    sign = SIGN[view] if which == 0 else 1.0
    own = moved_along(layout, pivot)
    others = [
        sign * point[axis]
        for one in layout.links
        for end, point in (("frame", one.frame_pivot_m), ("axle", one.axle_pivot_m))
        if one.id not in own or (end != pivot[1] and one.id == pivot[0])
    ]
    near = [o for o in others if abs(o - value) * scale < ALIGN]
    return min(near, key=lambda o: abs(o - value)) if near else round(value / step) * step


def _things(project: Project, rig: Rig, layout: Layout, pivot: Pivot, view: ViewName, at: Flat) -> Iterator[Caught]:
    if pivot[1] == "frame":
        yield from _rails(project, view, at)
        for solid in project.tape.solids:
            if isinstance(solid, TubeSolid) and solid.kind in ("cross_member", "other"):
                for a, b in zip(solid.path_m, solid.path_m[1:], strict=False):
                    yield _onto(at, flatten(a, view), flatten(b, view)), f"middle of {solid.name}", None, None
    else:
        yield from _axle_tube(project, rig, layout, view, at)
    for other in project.linkage.layouts:
        for bracket in other.brackets:
            if other.end != layout.end or bracket.end != pivot[1]:
                continue
            if other.id == layout.id and bracket.link in moved_along(layout, pivot):
                continue
            for hole in range(1, bracket.holes + 1):
                yield flatten(hole_point(other, bracket, hole), view), f"hole {hole} of {bracket.name}", None, None


def _rails(project: Project, view: ViewName, at: Flat) -> Iterator[Caught]:
    """Middle line and faces of the surveyed rails."""
    for word, across, up, a, b in _rail_lines(project.tape.surveys, project.rig, view):
        yield _onto(at, a, b), word, across, up


RailLine = tuple[str, Across | None, Up | None, Flat, Flat]


@remember_by_identity(6)
def _rail_lines(surveys: tuple[Survey, ...], rig: Rig, view: ViewName) -> tuple[RailLine, ...]:
    """The rails as straight pieces in a view, with what they are (widths from the points, height from the rig)."""
    points = tuple(p for survey in surveys for p in place_survey(survey, rig.wheelbase_m))
    tall = rig.body.rail_height_m
    out: list[RailLine] = []
    for side in (1.0, -1.0):
        run = [p for p in rail_run(points, side) if p.z is not None]
        for a, b in itertools.pairwise(run):
            ya, yb = (next((y for y in p.sides if y * side > 0), None) for p in (a, b))
            if ya is None or yb is None or a.z is None or b.z is None:
                continue
            wide = (a.point.diameter_m or rig.body.rail_width_m, b.point.diameter_m or rig.body.rail_width_m)
            middle_across: Across | None = None if view == "side" else "middle"
            middle_up: Up | None = None if view == "plan" else "middle"
            faces: list[tuple[str, Across | None, Up | None, float, float, float]] = [
                ("middle of the rail", middle_across, middle_up, 0.0, 0.0, 0.0)
            ]
            if wide[0] and wide[1] and view != "side":
                ha, hb = side * wide[0] / 2, side * wide[1] / 2
                faces.append(("outside of the rail", "outside", middle_up, ha, hb, 0.0))
                faces.append(("inside of the rail", "inside", middle_up, -ha, -hb, 0.0))
            if tall and view != "plan":
                faces.append(("top of the rail", middle_across, "top", 0.0, 0.0, tall / 2))
                faces.append(("bottom of the rail", middle_across, "bottom", 0.0, 0.0, -tall / 2))
            for word, across, up, da, db, dz in faces:
                ends = flatten((a.x, ya + da, a.z + dz), view), flatten((b.x, yb + db, b.z + dz), view)
                out.append((word, across, up, *ends))
    return tuple(out)


def _axle_tube(project: Project, rig: Rig, layout: Layout, view: ViewName, at: Flat) -> Iterator[Caught]:
    """The tube's middle line, and its skin where its diameter is known."""
    x, _, z = axle_centre(rig, layout.end)
    half = 0.5 * rig.end(layout.end).track_m
    donor = project.donor(layout.end)
    tube = donor.tube_od_m if donor is not None else None
    if view == "side":
        yield (x, z), "middle of the axle tube", None, None
        if tube:
            gap = math.dist(at, (x, z))
            if gap > 1e-6:
                k = 0.5 * tube / gap
                yield (x + k * (at[0] - x), z + k * (at[1] - z)), "skin of the axle tube", None, None
        return
    ends = [flatten((x, y, z), view) for y in (half, -half)]
    yield _onto(at, *ends), "middle of the axle tube", None, None
    if tube:
        for way, word in ((0.5, "front" if view == "plan" else "top"), (-0.5, "back" if view == "plan" else "bottom")):
            line = [(a, b + way * tube) if view == "rear" else (a + way * tube, b) for a, b in ends]
            yield _onto(at, *line), f"{word} of the axle tube", None, None


def _onto(at: Flat, a: Flat, b: Flat) -> Flat:
    """Nearest place on a straight piece."""
    dx, dz = b[0] - a[0], b[1] - a[1]
    size = dx * dx + dz * dz
    t = 0.0 if size == 0 else min(1.0, max(0.0, ((at[0] - a[0]) * dx + (at[1] - a[1]) * dz) / size))
    return a[0] + t * dx, a[1] + t * dz
