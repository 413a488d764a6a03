"""What moves with the axle besides links: steered tyres from above, shocks and springs."""

from __future__ import annotations

import math

from stoutlink.core.analysis.bar_set import axle_centre
from stoutlink.core.analysis.cycle.springs import spring_ends
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.drawing.axle_views import AxlePose
from stoutlink.core.drawing.shapes import Line, Shape, ViewName, flatten


def steered_tyre_shapes(rig: Rig, donor: DonorAxle | None, pose: AxlePose, steer: float) -> list[Shape]:
    """Front tyres from above, both turned by ``steer`` rad (left +) about an upright kingpin and carried with the axle."""
    wheel, ride = rig.front, axle_centre(rig, "front")
    half, free, tread = wheel.track_m / 2, wheel.free, wheel.tread
    pin = half - 0.09
    if donor is not None and donor.width_m is not None and donor.kingpin_inset_m is not None:
        pin = 0.5 * donor.width_m - donor.kingpin_inset_m
    c, s = math.cos(steer), math.sin(steer)
    out: list[Shape] = []
    for side in (1.0, -1.0):
        arm = side * (half - pin)
        corners = [(-free, -tread / 2), (free, -tread / 2), (free, tread / 2), (-free, tread / 2)]
        points = [(ride[0] + c * a - s * (b + arm), side * pin + s * a + c * (b + arm), ride[2]) for a, b in corners]
        out.append(Line(tuple(flatten(pose.carry(p, ride), "plan") for p in points), "tyre", closed=True))
    return out


def strut_shapes(layout: Layout, view: ViewName, pose: AxlePose, ride: Point) -> list[Shape]:
    """Shocks as thin tubes, springs apart from them as lines, both sides."""
    out: list[Shape] = []
    pairs = []
    if layout.shock is not None:
        pairs.append((layout.shock.frame_m, layout.shock.axle_m, 0.05))
    ends = spring_ends(layout)
    if ends is not None and layout.spring is not None and layout.spring.kind == "coil":
        pairs.append((ends[0], ends[1], 0.11))
    for frame, axle, width in pairs:
        for side in (1.0, -1.0):
            a, b = (frame[0], side * frame[1], frame[2]), pose.carry((axle[0], side * axle[1], axle[2]), ride)
            out.append(Line((flatten(a, view), flatten(b, view)), "shaft", width=width))
    return out
