"""A hose to begin with: from the frame above an axle to its tube, at a usual place (estimate), to be measured over."""

from __future__ import annotations

from stoutlink.core.analysis.survey.survey_points import place_survey, rail_run
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.flex_line import FlexLine
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

AHEAD, ABOVE, ASIDE = 0.15, 0.35, 0.35
"""How far ahead of the axle and above it, and how far left of the middle, the frame's end is without a survey, m."""


def line_for(project: Project, rig: Rig, layout: Layout, name: str) -> FlexLine:
    """A brake hose on the left: its frame end on the surveyed rail nearest to the axle where there is one."""
    x, _, z = axle_centre(rig, layout.end)
    frame = (round(x + AHEAD, 4), ASIDE, round(z + ABOVE, 4))
    points = tuple(p for survey in project.tape.surveys for p in place_survey(survey, rig.wheelbase_m))
    near = [p for p in rail_run(points, 1.0) if p.z is not None and any(y > 0 for y in p.sides)]
    if near:
        best = min(near, key=lambda p: abs(p.x - x))
        assert best.z is not None
        frame = (round(best.x, 4), round(next(y for y in best.sides if y > 0), 4), round(best.z, 4))
    return FlexLine(id=name, name="Brake hose", frame_m=frame, far_m=(round(x, 4), ASIDE, round(z + 0.05, 4)))
