"""Seams that parts of one's own make on the housing."""

from __future__ import annotations

import math

from stoutlink.core.analysis.linkage.made_parts import made_parts
from stoutlink.core.analysis.linkage.part import Part
from stoutlink.core.analysis.linkage.weld_seam import Seam
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.made_part import SEAMS_AS, MadePart
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig

TABS = ("gusset", "shock_mount", "carrier", "hanger", "brace")
"""Kinds welded along both sides of their foot."""


def made_seams(project: Project, rig: Rig, layout: Layout | None, end: str, od: float) -> tuple[Seam, ...]:
    """The welds of every part of one's own that sits on the housing of an end, whose tube is ``od`` m outside."""
    known = {p.id: p for p in made_parts(project, rig, layout, end)}
    out: list[Seam] = []
    for one in project.fabrication.made_parts:
        if one.end == end and one.seat == "housing":
            out += _seams(one, known[one.id], axle_centre(rig, end), od)
    return tuple(out)


def _seams(one: MadePart, part: Part, centre: tuple[float, float, float], od: float) -> list[Seam]:
    """Of one part: (along or across, station less the part's, turn round the tube less the part's, length)."""
    around = math.atan2(one.at_m[0] - centre[0], one.at_m[2] - centre[2])
    leg, half = part.size("weld"), 0.5 * part.thickness
    if one.kind == "truss":
        arch = min(part.size("notch"), 0.98 * part.size("length"))
        long = 0.5 * (part.size("length") - arch)
        off = 0.5 * (arch + long)
        rows = [("along", off, 0.0, long, "left"), ("along", -off, 0.0, long, "right")]
    elif one.kind == "perch":
        turn = math.asin(min(1.0, part.size("height") / od))
        rows = [
            ("along", 0.0, turn, part.size("length"), "front"),
            ("along", 0.0, -turn, part.size("length"), "rear"),
        ]
    elif one.kind in TABS and one.plane == "side":
        rows = [("across", off, 0.0, 0.5 * part.seam, word) for off, word in ((half, "left"), (-half, "right"))]
    elif one.kind in TABS:
        turns = ((2 * half / od, "front"), (-2 * half / od, "rear"))
        rows = [("along", 0.0, turn, 0.5 * part.seam, word) for turn, word in turns]
    else:
        rows = [("along", 0.0, 0.0, part.seam, "")]
    out = []
    for side in (1.0, -1.0) if one.mirrored else (1.0,):
        for runs, off, turn, long, word in rows:
            if long <= 0:
                continue
            which = f"{'-l' if side > 0 else '-r'}" if one.mirrored else ""
            name = f"{one.name}{(', left' if side > 0 else ', right') if one.mirrored else ''}{f', {word}' if word else ''}"
            out.append(
                Seam(
                    f"part-{one.id}{which}{f'-{word}' if word else ''}",
                    name,
                    SEAMS_AS.get(one.kind, "gusset"),
                    "across" if runs == "across" else "along",
                    side * (one.at_m[1] + off),
                    (around + turn) % (2 * math.pi),
                    long,
                    leg,
                    f"made_parts.{one.id}.weld_m",
                )
            )
    return out
