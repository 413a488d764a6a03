"""The surveyed frame rails at a station."""

from __future__ import annotations

import itertools

from stoutlink.core.analysis.survey.survey_points import placed_points, rail_run
from stoutlink.core.document.project import Project


def rail_at(project: Project, x: float) -> tuple[float, float] | None:
    """Half spread and height of the surveyed frame rails at a station, m, between its points; ``None`` where they do
    not reach or were not read.
    """
    for side in (1.0, -1.0):
        run = [
            (p.x, abs(p.sides[0]), p.z) for p in rail_run(placed_points(project), side) if p.sides and p.z is not None
        ]
        for (x0, y0, z0), (x1, y1, z1) in itertools.pairwise(run):
            if x0 - 0.15 <= x <= x1 + 0.15 and x1 > x0:
                t = min(1.0, max(0.0, (x - x0) / (x1 - x0)))
                if not x0 <= x <= x1 and any(a <= x <= b for (a, *_), (b, *_) in itertools.pairwise(run)):
                    continue
                return y0 + t * (y1 - y0), z0 + t * (z1 - z0)
    return None
