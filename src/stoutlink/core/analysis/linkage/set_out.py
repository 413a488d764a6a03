"""Where everything that is welded to a housing goes on it: station from either datum and how far round the tube."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.linkage.part import Part, Place, Vector
from stoutlink.core.document.project import Project

ON_AXIS = 0.005
"""A pattern whose origin is this near the tube's middle, m, is saddled on it: which way it points says where it sits."""


class SetOut(Struct, frozen=True):
    """One thing on the housing, the middle of its plate: ``at`` from the axle's middle, left +, m; from the left and the
    right datum, m (``None`` while the span is not known), the axle's middle half way between them; ``around`` the tube
    from the top over the front, rad."""

    part: str
    name: str
    at: float
    left: float | None
    right: float | None
    around: float


def set_out(
    project: Project, parts: tuple[Part, ...], centre: Vector, end: str, span: float | None
) -> tuple[SetOut, ...]:
    """Every plate that sits on the housing of an end, from the left to the right. ``centre`` of the axle and ``span``
    between the datums, m."""
    own = {m.id for m in project.fabrication.made_parts if m.end == end and m.seat == "housing"}
    layout = project.layout(end)
    tabs = (
        set()
        if layout is None
        else {f"{layout.id}-{b.id}-tab" for b in layout.brackets if b.end == "axle" and b.mounted_on == "axle_tube"}
    )
    out = []
    for part in parts:
        if part.id not in own and part.id not in tabs:
            continue
        for place in part.places:
            at = place.origin[1]
            half = None if span is None else 0.5 * span
            out.append(
                SetOut(
                    part.id,
                    part.name,
                    at,
                    None if half is None else half - at,
                    None if half is None else half + at,
                    _around(place, centre),
                )
            )
    return tuple(sorted(out, key=lambda one: -one.at))


def _around(place: Place, centre: Vector) -> float:
    off = place.origin[0] - centre[0], place.origin[2] - centre[2]
    if math.hypot(*off) < ON_AXIS:
        off = place.up[0], place.up[2]
    return math.atan2(off[0], off[1]) % (2.0 * math.pi)
