"""Parts of plate where they stand on the rig, in one of the three views."""

from __future__ import annotations

import numpy as np

from stoutlink.core.analysis.linkage.part import Part, Vector, on_rig
from stoutlink.core.drawing.axle_views import axle_shapes, link_shapes, ride_pose_of
from stoutlink.core.drawing.shapes import Flat, Line, Shape, ViewName, flatten
from stoutlink.core.drawing.survey_views import surveyed_shapes
from stoutlink.core.geometry.outline import hull
from stoutlink.core.study.study import Study

Outline = tuple[Flat, ...]


def part_outlines(part: Part, view: ViewName) -> tuple[Outline, ...]:
    """Every copy of a part in a view, the plate's thickness counted where it is seen on edge."""
    out = []
    for rim, place in zip(on_rig(part), part.places, strict=True):
        a, b = place.across, place.up
        through = (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])
        half = 0.5 * part.thickness
        both = [_moved(p, through, s * half) for p in rim for s in (1.0, -1.0)]
        flat = [flatten(p, view) for p in both]
        seen = abs(through[{"side": 1, "plan": 2, "rear": 0}[view]])
        out.append(tuple(flatten(p, view) for p in rim) if seen > 0.7 else tuple(hull(np.array(flat))))
    return tuple(out)


def _moved(p: Vector, way: Vector, off: float) -> Vector:
    return (p[0] + off * way[0], p[1] + off * way[1], p[2] + off * way[2])


def steel_shapes(study: Study, end: str, view: ViewName, picked: str) -> list[Shape]:
    """Axle, links and surveyed frame of an end at ride height with its parts on them, the one picked marked."""
    project, rig, layout = study.project, study.true.rig, study.project.layout(end)
    out: list[Shape] = list(surveyed_shapes(project, view))
    if layout is not None:
        pose = ride_pose_of(rig, end)
        out += axle_shapes(rig, layout, view, pose, project.donor(end), project.plan(end))
        out += link_shapes(layout, view, pose, pose.centre)
    parts = study.parts(end)
    for part in sorted(parts, key=lambda p: p.id == picked):
        role = "link_selected" if part.id == picked else "cut"
        out += [Line(rim, role, closed=True) for rim in part_outlines(part, view)]  # type: ignore[arg-type]
    return out
