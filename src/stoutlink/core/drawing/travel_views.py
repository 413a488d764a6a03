"""What moves with the axle besides links: steered tyres from above, shocks and springs."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.springs import spring_ends
from stoutlink.core.analysis.cycle.steer import SteerTravel, rods_at, wheel_turns
from stoutlink.core.analysis.linkage.wheels import wheel_at
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.drawing.axle_views import AxlePose
from stoutlink.core.drawing.layout_views import tyre_outline
from stoutlink.core.drawing.shapes import Line, Shape, ViewName, flatten


def steered_tyre_shapes(
    rig: Rig,
    layout: Layout,
    donor: DonorAxle | None,
    steering: SteerTravel | None,
    view: ViewName,
    pose: AxlePose,
    steer: float,
) -> list[Shape]:
    """Outlines of the front tyres, the served one turned by ``steer`` rad (left +) about its kingpin, the other by
    the tie rod, carried with the axle.
    """
    turns = zip((1.0, -1.0), wheel_turns(steering, steer), strict=True)
    return [tyre_outline(rig, *wheel_at(rig, layout, donor, side, angle), view, "tyre", pose) for side, angle in turns]


def steering_pose_shapes(
    found: SteerTravel, layout: Layout, view: ViewName, pose: AxlePose, ride: Point, steer: float
) -> list[Shape]:
    """Drag link, tie rod, their arms and the pitman arm with the wheels turned by ``steer``, carried with the axle;
    the box stays on the frame.
    """
    rods = rods_at(found, steer)
    out: list[Shape] = []
    pitman, end = rods["Drag link"]
    moved = flatten(pose.carry(_point(end), ride), view)
    at = flatten(_point(pitman), view)
    out.append(Line((at, moved), "drag_link", width=0.0))
    out.append(Line((flatten(_point(found.sector.middle), view), at), "drag_link"))
    pin = found.knuckle.kingpin
    if not found.knuckle.on_tie:
        out.append(Line((flatten(pose.carry(_point(pin), ride), view), moved), "drag_link"))
    if "Tie rod" in rods:
        tie = found.steering.tie_rod
        ends = [flatten(pose.carry(_point(e), ride), view) for e in rods["Tie rod"]]
        pins = [flatten(pose.carry(_point(pin * np.array([1.0, k, 1.0])), ride), view) for k in (1.0, -1.0)]
        out.append(Line(tuple(ends), "drag_link", width=tie.od_m if tie is not None else 0.0))
        out += [Line((a, b), "drag_link") for a, b in zip(pins, ends, strict=True)]
    return out


def _point(p: NDArray[np.float64]) -> Point:
    return float(p[0]), float(p[1]), float(p[2])


def strut_shapes(layout: Layout, view: ViewName, pose: AxlePose, ride: Point) -> list[Shape]:
    """Shocks as thin tubes, springs apart from them as lines, both sides."""
    out: list[Shape] = []
    pairs = []
    if layout.shock is not None:
        pairs.append((layout.shock.frame_m, layout.shock.axle_m, 0.05))
    ends = spring_ends(layout)
    if ends is not None and (layout.air is not None or (layout.spring is not None and layout.spring.kind == "coil")):
        pairs.append((ends[0], ends[1], 0.11))
    for frame, axle, width in pairs:
        for side in (1.0, -1.0):
            a, b = (frame[0], side * frame[1], frame[2]), pose.carry((axle[0], side * axle[1], axle[2]), ride)
            out.append(Line((flatten(a, view), flatten(b, view)), "shaft", width=width))
    return out


def hung_shapes(layout: Layout, view: ViewName, pose: AxlePose, ride: Point) -> list[Shape]:
    """Hoses and cables as straight lines between their ends, the far one carried with the axle (wheels straight)."""
    return [
        Line((flatten(one.frame_m, view), flatten(pose.carry(one.far_m, ride), view)), "tape") for one in layout.lines
    ]
