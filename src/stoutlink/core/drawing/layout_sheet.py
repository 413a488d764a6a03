"""A layout as a drawing for paper: one view with the surveyed rig, its links and their pivots dimensioned."""

from __future__ import annotations

import math

from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.drawing.axle_views import axle_shapes, balance_shapes, link_shapes, ride_pose_of
from stoutlink.core.drawing.shapes import Dimension, Flat, Line, Shape, Text, ViewName, flatten
from stoutlink.core.drawing.survey_views import surveyed_shapes
from stoutlink.core.quantity.shown import show
from stoutlink.core.study.study import Study

LETTERS = 0.03
"""Height of dimensions where the paper does not say, m on the rig."""
TITLES: dict[ViewName, str] = {"side": "Side, from the right", "plan": "Plan", "rear": "Rear, from behind"}


def layout_drawing(study: Study, layout: Layout, view: ViewName, letters: float = LETTERS) -> list[Shape]:
    """The layout at ride height in one view, with stations and heights (side), stations and sides (plan), or sides and
    heights (rear) of every left-hand and middle pivot, measured from the axle's centre and the ground or the
    centreline. ``letters`` is the height of the words, m on the rig."""
    project, rig = study.project, study.true.rig
    wide = rig.wheelbase_m + 1.0
    base: list[Shape] = [Line(((-1.0, 0.0), (wide, 0.0)), "ground" if view == "side" else "centreline")]
    if view == "rear":
        base = [Line(((-1.1, 0.0), (1.1, 0.0)), "ground"), Line(((0.0, -0.05), (0.0, 1.4)), "centreline")]
    out = [*base, *surveyed_shapes(project, view), *balance_shapes(rig, view, 0.0, 0.0)]
    pose = ride_pose_of(rig, layout.end)
    out += axle_shapes(rig, layout, view, pose, project.donor(layout.end), project.plan(layout.end))
    out += link_shapes(layout, view, pose, pose.centre)
    return [*out, *_dimensions(project, layout, view, flatten(axle_centre(rig, layout.end), view), letters)]


def _dimensions(project: Project, layout: Layout, view: ViewName, axle: Flat, letters: float) -> list[Shape]:
    unit = project.settings.units
    out: list[Shape] = []
    pivots = []
    for link in layout.links:
        if link.side == "right" and layout.partner(link) is not None:
            continue
        for end, point in (("frame", link.frame_pivot_m), ("axle", link.axle_pivot_m)):
            pivots.append((f"{link.name}, {end}", flatten(point, view)))
    zero, taken = 0.0, -math.inf
    start = axle[0] if view != "rear" else zero
    rows = sorted({round(abs(at[0] - start), 6) for _, at in pivots})
    for name, at in sorted(pivots, key=lambda v: v[1][0]):
        across, up = abs(at[0] - start), abs(at[1] - zero)
        if across > 1e-6:
            below = -(3.0 + 2.4 * rows.index(round(across, 6))) * letters
            off = below if at[0] >= start else -below
            out.append(Dimension((start, zero), (at[0], zero), show(across, "length", unit), off, letters, "across"))
        taken = max(at[0] - 0.8 * letters, taken + 1.8 * letters)  # one dimension's room beside the last
        if up > 1e-6:
            sign = 1.0 if at[1] > zero else -1.0
            off = sign * (at[0] - taken)
            out.append(Dimension((at[0], zero), at, show(up, "length", unit), off, letters, "up"))
        out.append(Text((at[0] + 0.5 * letters, at[1] + 0.5 * letters), name, 0.8 * letters, "dimension"))
    return out
