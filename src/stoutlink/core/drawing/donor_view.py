"""A donor axle from the front, to scale, with this rig's tyres, and its shaft's cross-section."""

from __future__ import annotations

import math

from stoutlink.core.analysis.drive import DonorInRig
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import WheelEnd
from stoutlink.core.drawing.shapes import Flat, Line, Oval, Role, Shape, box


def donor_front(donor: DonorAxle, end: WheelEnd, *, ghost: bool = False) -> list[Shape]:
    """Front elevation: tube, ring gear housing at its pinion offset, wheel faces, tyres at the loaded height.

    Wheel offset is not known, so the tyres are drawn with their inner edge at the wheel faces.
    """
    z, half, free = end.loaded, donor.width_m / 2, end.free
    role: Role = "ghost" if ghost else "housing"
    out: list[Shape] = [Line(((-half, z), (half, z)), role, width=donor.tube_od_m)]
    middle = -donor.pinion_offset_m if donor.end == "rear" else donor.pinion_offset_m
    out.append(Oval((middle, z), (0.5 * donor.ring_diameter_m + 0.032, 0.5 * donor.ring_diameter_m + 0.032), role))
    for side in (-half, half):
        out.append(Line(((side, z - 0.16), (side, z + 0.16)), role, width=0.02))
        if not ghost:
            outer = side + math.copysign(end.tread / 2, side)
            out.append(box((outer - end.tread / 2, z - free), (outer + end.tread / 2, z + free), "tyre"))
    if not ghost:
        out.insert(0, Line(((-half - 0.5, 0.0), (half + 0.5, 0.0)), "ground"))
        out.append(Oval((middle, z), (0.5 * donor.ring_diameter_m, 0.5 * donor.ring_diameter_m), "shaft"))
    return out


def spline_section(it: DonorInRig, centre: Flat = (0.0, 0.0)) -> list[Shape]:
    """Cross-section of the inner shaft's spline to scale: one straight-sided tooth for each counted."""
    n, high, low = it.donor.spline_teeth, it.major / 2, it.root / 2
    points: list[Flat] = []
    for i in range(n):
        for part, radius in ((0.10, low), (0.32, high), (0.58, high), (0.80, low)):
            angle = 2 * math.pi * (i + part) / n
            points.append((centre[0] + radius * math.cos(angle), centre[1] + radius * math.sin(angle)))
    out: list[Shape] = [Line(tuple(points), "shaft", closed=True)]
    if it.donor.neck_diameter_m:
        out.append(Oval(centre, (it.donor.neck_diameter_m / 2, it.donor.neck_diameter_m / 2), "construction"))
    return out
