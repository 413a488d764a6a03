"""A donor axle from the front, its shaft from the side, its gears and wheel face, to scale; what is not known is
drawn as a ghost.
"""

from __future__ import annotations

import itertools
import math

from stoutlink.core.analysis.swap.capacities import spline_of
from stoutlink.core.analysis.swap.donor_in_rig import DonorInRig
from stoutlink.core.analysis.swap.fit_up import FitUp
from stoutlink.core.analysis.vehicle.axle_place import BELOW
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import Body, WheelEnd
from stoutlink.core.drawing.shapes import Flat, Line, Oval, Role, Shape, box
from stoutlink.core.mechanics.spline import spline_size

WIDTH, TUBE, RING, CIRCLE = 1.6, 0.076, 0.22, 0.14
"""Stand-ins for sizes that are not known, m; drawn dashed."""


def pinion_across(donor: DonorAxle, offset: float | None = None) -> float:
    """Where the pinion stands in the elevation: rear axles are seen from behind, so left is left; front ones from the
    front.
    """
    known = donor.pinion_offset_m if offset is None else offset
    return -(known or 0.0) if donor.end == "rear" else (known or 0.0)


def axle_front(
    donor: DonorAxle, z: float = 0.0, *, ghost: bool = False, width: float | None = None, offset: float | None = None
) -> list[Shape]:
    """The bare axle: tube, centre housing, ring gear, seats, wheel faces, about a height ``z``."""
    wide = width or donor.width_m
    half = (wide or WIDTH) / 2
    role: Role = "ghost" if ghost or wide is None else "housing"
    ring = (donor.ring_diameter_m or RING) / 2
    below = donor.housing_below_m if donor.housing_below_m is not None else BELOW
    middle = pinion_across(donor, offset)
    out: list[Shape] = [Line(((-half, z), (half, z)), role, width=donor.tube_od_m or TUBE)]
    out.append(Oval((middle, z), (ring + below, ring + below), role if donor.ring_diameter_m else "ghost"))
    if not ghost:
        out.append(Oval((middle, z), (ring, ring), "shaft" if donor.ring_diameter_m else "ghost"))
        rise = (
            donor.pinion_rise_m
            if donor.pinion_rise_m is not None
            else {"high": 0.3, "low": -0.3}.get(donor.pinion_height or "", 0.0) * ring
        )
        out.append(Oval((middle, z + rise), (0.028, 0.028), "axle"))
    if donor.seat_spacing_m is not None and not ghost:
        for hand in (-1, 1):
            at = hand * donor.seat_spacing_m / 2
            top = z + (donor.tube_od_m or TUBE) / 2 * (1 if donor.spring_pads != "under" else -1)
            out.append(box((at - 0.035, min(top, top + 0.02)), (at + 0.035, max(top, top + 0.02)), "solid"))
    hub = z - (donor.hub_drop_m or 0.0)
    for side in (-half, half):
        out.append(Line(((side, hub - 0.11), (side, hub + 0.11)), role, width=0.02))
    return out


def fitted_front(fit: FitUp, end: WheelEnd, body: Body) -> list[Shape]:
    """The axle under the rig: tyres where the wheels put them, fenders and frame as widths, the ground."""
    donor = fit.donor
    z = end.loaded
    half = (fit.width or WIDTH) / 2
    out: list[Shape] = [Line(((-half - 0.55, 0.0), (half + 0.55, 0.0)), "ground")]
    frame, fender = body.frame(donor.end), body.fender(donor.end)
    if frame is not None:
        for side in (-1, 1):
            out.append(box((side * frame / 2 - side * 0.06, z + 0.14), (side * frame / 2, z + 0.27), "rail"))
    if fender is not None:
        top = z + end.free + 0.10
        for side in (-1, 1):
            edge = side * fender / 2
            out.append(Line(((edge - side * 0.30, top + 0.04), (edge, top), (edge, top - 0.12)), "body"))
    drop = donor.hub_drop_m or 0.0
    out += axle_front(donor, z + drop, width=fit.width)
    if drop > 0.0:
        for side in (-1, 1):
            out.append(Line(((side * (half - 0.05), z + drop), (side * (half - 0.05), z)), "housing", width=0.09))
    if fit.drawn_middle is not None:
        for side, by in itertools.product((-1, 1), end.abreast):
            middle = side * (fit.drawn_middle + by)
            out.append(box((middle - end.tread / 2, z - end.loaded), (middle + end.tread / 2, z + end.free), "tyre"))
    return out


def shaft_side(donor: DonorAxle, long: float = 1.0) -> list[Shape]:
    """The inner shaft from the side, lengths as parts of ``long``, thicknesses ten times as large as the drawing's
    unit allows to be read.
    """
    thick = 0.9
    major = donor.spline_major_diameter_m
    facts = spline_of(donor)
    if major is None and facts is not None:
        major = spline_size(facts.teeth, facts.pitch, facts.root).major
    d = (major or 0.034) * thick
    neck = (donor.neck_diameter_m or (major or 0.034) * 0.95) * thick
    body = (donor.body_diameter_m or (major or 0.034) * 1.04) * thick
    spline, necked, end = 0.13, 0.42, 0.66
    role: Role = "shaft" if major is not None else "ghost"
    out: list[Shape] = [box((0.0, -d / 2), (spline, d / 2), role)]
    for i in range(1, 7):
        y = -d / 2 + d * i / 7
        out.append(Line(((0.005, y), (spline - 0.005, y)), "construction"))
    out.append(box((spline, -neck / 2), (necked, neck / 2), "shaft" if donor.neck_diameter_m else "ghost"))
    out.append(box((necked, -body / 2), (end, body / 2), "shaft" if donor.body_diameter_m else "ghost"))
    if donor.end == "front":
        joint = 0.045 * thick
        out.append(
            box(
                (end, -joint / 2),
                (end + 0.05, joint / 2),
                "housing" if donor.outer_joint not in (None, "none") else "ghost",
            )
        )
        stub = (donor.stub_neck_diameter_m or neck / thick * 0.96) * thick
        out.append(
            box(
                (end + 0.05, -stub / 2),
                (long - 0.10, stub / 2),
                "shaft" if donor.stub_spline_teeth or donor.stub_neck_diameter_m else "ghost",
            )
        )
        out.append(
            box((long - 0.10, -stub * 0.54), (long, stub * 0.54), "shaft" if donor.stub_spline_teeth else "ghost")
        )
    else:
        out.append(box((end, -body / 2), (long - 0.04, body / 2), "shaft" if donor.body_diameter_m else "ghost"))
        out.append(box((long - 0.04, -0.034), (long, 0.034), "housing" if donor.floating else "ghost"))
    return out


def gear_face(donor: DonorAxle) -> list[Shape]:
    """Ring gear from its face with its teeth, and the pinion beside it."""
    ring = (donor.ring_diameter_m or RING) / 2
    out: list[Shape] = [
        _toothed((0.0, 0.0), ring, donor.ring_teeth or 40, "shaft" if donor.ring_teeth else "ghost"),
        Oval((0.0, 0.0), (ring * 0.62, ring * 0.62), "construction"),
    ]
    small = ring * (donor.pinion_teeth or 9) / (donor.ring_teeth or 40)
    rise = {"high": 0.35, "low": -0.35}.get(donor.pinion_height or "", 0.0) * ring
    out.append(
        _toothed(
            (ring * 0.55, rise),
            max(0.018, small),
            donor.pinion_teeth or 9,
            "housing" if donor.pinion_teeth else "ghost",
        )
    )
    return out


def wheel_face(donor: DonorAxle) -> list[Shape]:
    """Studs on their circle, the pilot, and the drive flange's bolts."""
    circle = (donor.bolt_circle_m or CIRCLE) / 2
    role: Role = "axle" if donor.bolt_circle_m else "ghost"
    out: list[Shape] = [
        Oval((0.0, 0.0), (circle * 1.28, circle * 1.28), "housing"),
        Oval((0.0, 0.0), (circle, circle), "construction"),
    ]
    for i in range(donor.bolt_count or 0):
        a = 2 * math.pi * i / (donor.bolt_count or 1) + math.pi / 2
        out.append(Oval((circle * math.cos(a), circle * math.sin(a)), (0.0075, 0.0075), role))
    if donor.pilot_m is not None:
        out.append(Oval((0.0, 0.0), (donor.pilot_m / 2, donor.pilot_m / 2), "shaft"))
    if donor.flange_bolt_count and donor.flange_bolt_circle_m:
        for i in range(donor.flange_bolt_count):
            a = 2 * math.pi * i / donor.flange_bolt_count
            r = donor.flange_bolt_circle_m / 2
            out.append(Oval((r * math.cos(a), r * math.sin(a)), (0.0045, 0.0045), "construction"))
    return out


def _toothed(centre: Flat, radius: float, teeth: int, role: Role) -> Line:
    points: list[Flat] = []
    for i in range(teeth):
        for part, r in ((0.10, radius * 0.93), (0.35, radius), (0.60, radius), (0.85, radius * 0.93)):
            a = 2 * math.pi * (i + part) / teeth
            points.append((centre[0] + r * math.cos(a), centre[1] + r * math.sin(a)))
    return Line(tuple(points), role, closed=True)


def spline_section(it: DonorInRig, centre: Flat = (0.0, 0.0)) -> list[Shape]:
    """Cross-section of the inner shaft's spline to scale: one straight-sided tooth for each counted; nothing when it
    was not counted.
    """
    n = it.donor.spline_teeth
    if n is None or it.major is None or it.root is None:
        return [Oval(centre, (0.016, 0.016), "ghost")]
    high, low = it.major / 2, it.root / 2
    points: list[Flat] = []
    for i in range(n):
        for part, radius in ((0.10, low), (0.32, high), (0.58, high), (0.80, low)):
            angle = 2 * math.pi * (i + part) / n
            points.append((centre[0] + radius * math.cos(angle), centre[1] + radius * math.sin(angle)))
    out: list[Shape] = [Line(tuple(points), "shaft", closed=True)]
    if it.donor.neck_diameter_m:
        out.append(Oval(centre, (it.donor.neck_diameter_m / 2, it.donor.neck_diameter_m / 2), "construction"))
    return out
