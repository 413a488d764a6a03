"""What the tape found: frame rails, single points and what is in the way, in any view."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np

from stoutlink.core.analysis.survey.clearances import extent
from stoutlink.core.analysis.survey.mesh_place import corners_of
from stoutlink.core.analysis.survey.survey_points import Placed, place_survey, rail_run
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import MeshSolid, OutlineSolid, Solid, TubeSolid
from stoutlink.core.drawing.shapes import Flat, Line, Role, Shape, ViewName, box, flatten
from stoutlink.core.geometry.outline import hull

BIG = 20.0
"""Points further out than this, m, are not drawn: they have a finding instead."""


def rail_shapes(points: Sequence[Placed], view: ViewName) -> list[Shape]:
    """Frame rails as lines through their points, left (full line) and right (dashed where it differs), within 20 m."""
    out: list[Shape] = []
    seen: list[tuple[Flat, ...]] = []
    for side, role in ((1.0, "rail"), (-1.0, "rail_far")):
        run = [p for p in rail_run(tuple(points), side) if abs(p.x) < BIG and abs(p.z or 0.0) < BIG]
        line = tuple(at for p in run if (at := _seen(p, side, view)) is not None)
        if len(line) > 1 and line not in seen:
            seen.append(line)
            out.append(Line(line, "rail" if role == "rail" or view != "side" else "rail_far"))
    return out


def _seen(p: Placed, side: float, view: ViewName) -> Flat | None:
    if view == "side":
        return None if p.z is None else (p.x, p.z)
    y = next((y for y in p.sides if y * side > 0), None)
    if y is None:
        return None
    return (p.x, y) if view == "plan" else (None if p.z is None else (-y, p.z))


def point_marks(points: Sequence[Placed], view: ViewName) -> list[tuple[Flat, int]]:
    """Where each point's marks stand in a view, with the point's index."""
    out: list[tuple[Flat, int]] = []
    for i, p in enumerate(points):
        if abs(p.x) > BIG or abs(p.z or 0.0) > BIG:
            continue
        if view == "side":
            out.append(((p.x, p.z if p.z is not None else 0.0), i))
        elif view == "plan":
            out += [((p.x, y), i) for y in (p.sides or (0.0,))]
        elif p.z is not None:
            out += [((-y, p.z), i) for y in (p.sides or (0.0,))]
    return out


def solid_shapes(solid: Solid, view: ViewName) -> list[Shape]:
    """A solid's outline in a view."""
    role: Role = "room" if solid.kind == "room_kept" else "solid"
    if isinstance(solid, TubeSolid):
        flat = [flatten(p, view) for p in solid.path_m]
        return [Line((a, b), role, width=solid.diameter_m) for a, b in itertools.pairwise(flat)]
    if isinstance(solid, OutlineSolid) and solid.view == view:
        sign = -1.0 if view == "rear" else 1.0
        return [Line(tuple((sign * u, v) for u, v in solid.outline_m), role, closed=True)]
    if isinstance(solid, MeshSolid):
        return [
            Line(tuple(hull(np.array([flatten((x, y, z), view) for x, y, z in one.tolist()]))), role, closed=True)
            for one in corners_of(solid)
        ]
    low, high = extent(solid)
    (u0, v0), (u1, v1) = flatten(low, view), flatten(high, view)
    return [box((min(u0, u1), min(v0, v1)), (max(u0, u1), max(v0, v1)), role)]


def surveyed_shapes(project: Project, view: ViewName) -> list[Shape]:
    """Everything the tape found, for the views that links are laid out in."""
    out = [
        shape
        for survey in project.tape.surveys
        for shape in rail_shapes(place_survey(survey, project.rig.wheelbase_m), view)
    ]
    return out + [shape for solid in placed_solids(project) for shape in solid_shapes(solid, view)]


def solid_middle(solid: Solid) -> tuple[float, float, float]:
    """The middle of the upright box around a solid, m."""
    low, high = extent(solid)
    return (low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2
