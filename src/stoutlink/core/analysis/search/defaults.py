"""A question to start from: boxes around the pivots as the survey lets them lie, and bands as the project's schools
want them.
"""

from __future__ import annotations

from stoutlink.core.analysis.linkage.wanted_bands import (
    ANTI_BANDS,
    FRONT_BAND,
    HOLD_BAND,
    PINION_BAND,
    ROLL_BANDS,
    STEER_BAND,
)
from stoutlink.core.analysis.survey.rail_at import rail_at
from stoutlink.core.document.layout import Layout, Link, PivotEnd
from stoutlink.core.document.project import Project
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.search import PivotBox, Search, Want

ALONG, ACROSS, UP = 0.12, 0.09, 0.10
"""How far a pivot may go from where it is, m."""


def default_boxes(project: Project, layout: Layout) -> tuple[PivotBox, ...]:
    """One box a pivot (one for a pair), around where it is: frame pivots between the centreline and just outside the
    rails, never under the belly clearance wanted; axle pivots inside the tyres and no lower than half the loaded
    radius."""
    return tuple(
        _box(project, layout, link, which, pair=any(side < 0 for _, side in together))
        for link, which, together in layout.pivots_apart()
    )


def _box(project: Project, layout: Layout, link: Link, which: PivotEnd, *, pair: bool) -> PivotBox:
    x, y, z = link.pivot(which)
    wheel = project.rig.end(layout.end)
    low, high = [x - ALONG, y - ACROSS, z - UP], [x + ALONG, y + ACROSS, z + UP]
    if which == "frame":
        rail = rail_at(project, x)
        most = (rail[0] + 0.06) if rail is not None else 0.40 * wheel.track_m
        belly = project.rig.stance.belly_wanted_m
        if belly is not None:
            low[2] = min(max(low[2], belly), z)
    else:
        most = 0.5 * wheel.track_m - 0.5 * wheel.across - 0.03
        low[2] = min(max(low[2], 0.5 * wheel.loaded), z)
    if pair:
        sign = 1.0 if y >= 0 else -1.0
        near, far = sorted((abs(y) - ACROSS, abs(y) + ACROSS))
        near, far = min(max(near, 0.04), abs(y)), max(min(far, most), abs(y))
        low[1], high[1] = (near, far) if sign > 0 else (-far, -near)
    else:
        low[1], high[1] = max(low[1], min(-most, y)), min(high[1], max(most, y))
    return PivotBox(id=f"{link.id}:{which}", low_m=_triple(low), high_m=_triple(high))


def _triple(v: list[float]) -> Point:
    return round(v[0], 4), round(v[1], 4), round(v[2], 4)


def default_wants(project: Project, layout: Layout) -> tuple[Want, ...]:
    """Bands of the schools in force (the user's own where there are any), and what else a layout should keep to
    (estimates as in the verdict).
    """
    s = project.settings
    own = {
        t.id.removeprefix(f"{layout.end}-").replace("-", "_"): (t.low, t.high)
        for t in project.linkage.targets
        if t.id.startswith(f"{layout.end}-")
    }
    anti = ANTI_BANDS[s.anti_target] if layout.end == "rear" else FRONT_BAND
    wants = {
        "drive": (*own.get("drive", anti), 2.0),
        "roll_centre": (*own.get("roll_centre", ROLL_BANDS[s.roll_centre_target]), 1.0),
        "steer": (*own.get("steer", STEER_BAND), 1.0),
        "hold": (*own.get("hold", HOLD_BAND), 1.0),
        "pinion": (*own.get("pinion", PINION_BAND), 0.5),
        "clearance": (0.0, 1.0, 2.0),
    }
    if len(layout.links) > 4:
        wants["bind"] = (-0.001, 0.004, 1.0)
    return tuple(Want(id=name, low=low, high=high, weight=weight) for name, (low, high, weight) in wants.items())  # type: ignore[arg-type]


def default_search(project: Project, layout: Layout) -> Search:
    """Both together."""
    return Search(id=layout.end, boxes=default_boxes(project, layout), wants=default_wants(project, layout))
