"""Where a new part of one's own stands, until it is moved."""

from __future__ import annotations

from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.made_part import PART_WORDS, MadePart, PartKind
from stoutlink.core.document.project import Project
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig

FRAME: tuple[PartKind, ...] = ("hanger", "shackle", "rail_plate", "frame_notch", "carrier", "bump_pad", "brace")
"""Kinds that sit on the frame unless somebody says otherwise."""
REAR: tuple[PartKind, ...] = ("truss", "shock_mount", "brace")
LEVEL: tuple[PartKind, ...] = ("guard", "perch", "bump_pad", "coil_seat", "frame_notch")


def new_part(project: Project, rig: Rig, kind: PartKind, name: str, end: str) -> MadePart:
    """A part to begin with, about where such a one stands: shock mounts at the shock, perches under the springs."""
    layout, donor = project.layout(end), project.donor(end)
    tube = donor.tube_od_m if donor is not None and donor.tube_od_m is not None else 0.08
    cx, _, cz = axle_centre(rig, end)
    number = 1 + sum(m.kind == kind for m in project.fabrication.made_parts)
    at: Point = (cx, 0.4, cz + 0.5 * tube)
    mirrored = kind not in ("truss", "guard", "brace")
    if kind in ("truss", "guard"):
        at = (cx, 0.0, cz + (0.5 * tube if kind == "truss" else -0.6 * tube))
    elif kind == "shock_mount" and layout is not None and layout.shock is not None:
        x, y, z = layout.shock.axle_m
        at = (cx + 0.5 * tube if x >= cx else cx - 0.5 * tube, y, min(z - 0.03, cz + 0.5 * tube))
    elif kind == "perch" and layout is not None and layout.leaf is not None:
        side = 1.0 if layout.leaf.seat == "over" else -1.0
        at = (cx, 0.5 * layout.leaf.spacing_m, cz + side * 0.5 * tube)
    elif kind in FRAME:
        at = (cx, 0.45, cz + 0.35)
    return MadePart(
        id=name,
        name=f"{PART_WORDS[kind].capitalize()} {number}",
        kind=kind,
        end="front" if end == "front" else "rear",
        seat="frame" if kind in FRAME else "housing",
        plane="rear" if kind in REAR else "plan" if kind in LEVEL else "side",
        at_m=at,
        mirrored=mirrored,
        count=2 if kind == "shackle" else 1,
    )
