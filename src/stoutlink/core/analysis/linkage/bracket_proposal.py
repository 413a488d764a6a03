"""A row or a fan of holes where a pivot has none yet: usual pitch and count, the pivot in the middle hole."""

from __future__ import annotations

from typing import Literal

from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import Layout, Link, PivotEnd
from stoutlink.core.document.steering import Holes
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import UnitSystem

FAN = 8 * INCH
"""Radius of a fan to begin with, m."""


def pitch_for(unit: UnitSystem) -> float:
    """Hole pitch to begin with, m: 1 in or 25 mm (common practice).

    >>> pitch_for("in"), pitch_for("mm")
    (0.0254, 0.025)
    """
    return INCH if unit == "in" else 0.025


def bracket_for(layout: Layout, link: Link, end: PivotEnd, pattern: Literal["row", "fan"], unit: UnitSystem) -> Bracket:
    """Three holes for a pivot, which sits in the middle one."""
    pair = layout.partner(link) is not None and layout.mirrored
    return Bracket(
        id=free_id("bracket-", (b.id for b in layout.brackets)),
        name=f"{link.role.capitalize() if pair else link.name}, {end}",
        link=link.id,
        end=end,
        pattern=pattern,
        plane="rear" if link.role == "panhard" else "side",
        holes=3,
        hole=2,
        pitch_m=pitch_for(unit),
        radius_m=FAN if pattern == "fan" else None,
    )


def arm_holes_for(unit: UnitSystem) -> Holes:
    """Holes of a steering arm to begin with."""
    return Holes(pitch_m=pitch_for(unit))
