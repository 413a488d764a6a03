"""What belongs to a layout besides its links: holes, drag link, arcs, forces, search boxes, leaves, tyres at lock,
driveshaft.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.steer import axle_lock
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.linkage.link_loads import LinkLoads
from stoutlink.core.analysis.linkage.wheels import wheel_at
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.analysis.vehicle.pinion_place import pinion_drawn
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.hole_points import hole_point
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.search import Search
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.drawing.axle_views import AxlePose
from stoutlink.core.drawing.shapes import Line, Note, Oval, Role, Shape, ViewName, box, flatten
from stoutlink.core.geometry.outline import hull, wheel_rims
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

Array = NDArray[np.float64]
HOLE = 0.007
"""Radius a hole is drawn with, m (convention)."""
ARC_TRAVEL = 0.2
"""How far up and down arcs are drawn, m."""


def hole_shapes(layout: Layout, view: ViewName, pose: AxlePose | None, ride: Point) -> list[Shape]:
    """The holes of every bracket, on both sides where they are mirrored; those on the axle go with it."""
    out: list[Shape] = []
    for on_axle, point in _holes(layout):
        at = pose.carry(point, ride) if on_axle and pose is not None else point
        out.append(Oval(flatten(at, view), (HOLE, HOLE), "hole"))
    return out


@lru_cache(maxsize=4)
def _holes(layout: Layout) -> tuple[tuple[bool, Point], ...]:
    """Every hole but the one in use, which the pivot's handle covers: whether it is on the axle, and where."""
    out: list[tuple[bool, Point]] = []
    for bracket in layout.brackets:
        link = layout.link(bracket.link)
        if link is None:
            continue
        sides = {side for _, side in layout.moved_with(link, bracket.end)}
        for hole in range(1, bracket.holes + 1):
            if hole != bracket.hole:
                x, y, z = hole_point(layout, bracket, hole)
                out += [(bracket.end == "axle", (x, side * y, z)) for side in sides]
    return tuple(out)


def steering_shapes(layout: Layout, view: ViewName, pose: AxlePose | None, ride: Point) -> list[Shape]:
    """Drag link, tie rod and the steering axis the served knuckle turns about, wheels straight; nothing for full
    hydraulic steering.
    """
    s = layout.steering
    if s is None or s.kind != "drag_link" or pose is None:
        return []
    knuckle, pin = pose.carry(s.knuckle_m, ride), pose.carry(s.kingpin_m, ride)
    side = 1.0 if s.kingpin_m[1] >= 0 else -1.0
    up = 0.12
    top = pose.carry(
        (
            s.kingpin_m[0] - up * math.tan(layout.caster_rad or 0.0),
            s.kingpin_m[1] - side * up * math.tan(s.kingpin_in_rad),
            s.kingpin_m[2] + up,
        ),
        ride,
    )
    low = tuple(2 * a - b for a, b in zip(pin, top, strict=True))
    out: list[Shape] = [
        Line((flatten(s.pitman_m, view), flatten(knuckle, view)), "drag_link", width=0.0),
        Line((flatten((low[0], low[1], low[2]), view), flatten(top, view)), "centreline"),
    ]
    on_tie = s.tie_rod is not None and s.drag_on == "tie_rod"
    if not on_tie:
        out.append(Line((flatten(pin, view), flatten(knuckle, view)), "drag_link"))
    if s.tie_rod is not None:
        x, y, z = s.tie_rod.end_m
        ends = [pose.carry((x, k * y, z), ride) for k in (1.0, -1.0)]
        pins = [pose.carry((s.kingpin_m[0], k * s.kingpin_m[1], s.kingpin_m[2]), ride) for k in (1.0, -1.0)]
        out.append(Line(tuple(flatten(e, view) for e in ends), "drag_link", width=s.tie_rod.od_m))
        out += [Line((flatten(a, view), flatten(b, view)), "drag_link") for a, b in zip(pins, ends, strict=True)]
    return out


def arc_shapes(layout: Layout) -> list[Shape]:
    """From behind: the arcs that the axle ends of panhard and drag link run about their frame ends."""
    bars = [(x.frame_pivot_m, x.axle_pivot_m) for x in layout.links if x.role == "panhard"]
    if layout.steering is not None and layout.steering.kind == "drag_link":
        bars.append((layout.steering.pitman_m, layout.steering.knuckle_m))
    out: list[Shape] = []
    for a, b in bars:
        centre, end = flatten(a, "rear"), flatten(b, "rear")
        radius = math.dist(centre, end)
        if radius < 0.05:
            continue
        middle, half = math.atan2(end[1] - centre[1], end[0] - centre[0]), min(1.2, ARC_TRAVEL / radius)
        out.append(
            Line(
                tuple(
                    (centre[0] + radius * math.cos(u), centre[1] + radius * math.sin(u))
                    for u in np.linspace(middle - half, middle + half, 33).tolist()
                ),
                "arc",
            )
        )
    return out


def load_shapes(loads: LinkLoads, case: str, view: ViewName, unit: UnitSystem, only: str | None = None) -> list[Shape]:
    """Force of every link in a case (``worst``: the largest of all): arrows apart for pull, together for push;
    written along it.
    """
    out: list[Shape] = []
    for one in loads.links:
        if only is not None and one.link.id != only:
            continue
        force = max(one.forces.values(), key=abs) if case == "worst" else one.forces.get(case, 0.0)
        a, b = flatten(one.link.frame_pivot_m, view), flatten(one.link.axle_pivot_m, view)
        length = math.dist(a, b)
        if length < 0.08:
            continue
        role: Role = "load_pull" if force >= 0 else "load_push"
        out.append(Line((a, b), role))
        out += _arrows(a, b, role, apart=force >= 0)
        part = 0.78 if one.link.role == "upper" else 0.62
        words = f"{show(abs(force), 'force', unit)} {'pull' if force >= 0 else 'push'}"
        out.append(Note((a[0] + part * (b[0] - a[0]), a[1] + part * (b[1] - a[1])), words, role))
    return out


def _arrows(a: tuple[float, float], b: tuple[float, float], role: Role, *, apart: bool) -> list[Shape]:
    length = math.dist(a, b)
    u = ((b[0] - a[0]) / length, (b[1] - a[1]) / length)
    out: list[Shape] = []
    for at, way in ((0.18, -1.0), (0.82, 1.0)):
        tip = (a[0] + at * length * u[0], a[1] + at * length * u[1])
        back = -way if apart else way
        size = 0.03
        wings = [
            (tip[0] + back * size * u[0] + s * 0.5 * size * -u[1], tip[1] + back * size * u[1] + s * 0.5 * size * u[0])
            for s in (1.0, -1.0)
        ]
        out.append(Line((wings[0], tip, wings[1]), role))
    return out


def search_shapes(search: Search, view: ViewName) -> list[Shape]:
    """Where each pivot may lie."""
    out: list[Shape] = []
    for one in search.boxes:
        (u0, v0), (u1, v1) = flatten(one.low_m, view), flatten(one.high_m, view)
        out.append(box((min(u0, u1), min(v0, v1)), (max(u0, u1), max(v0, v1)), "search_box"))
    return out


def leaf_shapes(found: LeafAxle, view: ViewName, heaves: Iterable[float]) -> list[Shape]:
    """Springs and shackles at ride, and dashed at other heights of the seat, m."""
    out: list[Shape] = []
    for heave in heaves:
        out += leaf_pose_shapes(found, view, (heave, heave), None, "leaf" if heave == 0 else "ghost")
    return out


def leaf_pose_shapes(
    found: LeafAxle, view: ViewName, heaves: tuple[float, float], held: float | None, role: Role
) -> list[Shape]:
    """Left and right spring with their seats at ``heaves``, m; ``held`` is the tilt the housing keeps them at, rad,
    else each has its own.

    What a shackle cannot follow is left out. Eyes and pivots are drawn in the role ``leaf``.
    """
    leaf, shape = found.leaf, found.shape
    x0 = axle_centre(found.rig, found.layout.end)[0] - leaf.pin_offset_m
    fixed = shape.fixed_eye
    out: list[Shape] = []
    for side, heave in zip((0.5, -0.5), heaves, strict=True):
        pose = shape.at(heave, held)
        if not math.isfinite(pose.forward):
            continue
        seat, y = (pose.forward, shape.seat + heave), side * leaf.spacing_m
        for eye in (fixed, pose.eye):
            if math.isfinite(eye[0]):
                out.append(Line(tuple(flatten((x0 + x, y, z), view) for x, z in _bow(seat, eye, pose.nose_down)), role))
        if math.isfinite(pose.eye[0]):
            pivot = shape.frame_pivot
            out.append(
                Line(
                    (flatten((x0 + pose.eye[0], y, pose.eye[1]), view), flatten((x0 + pivot[0], y, pivot[1]), view)),
                    role,
                )
            )
        if role == "leaf":
            out += [
                Oval(flatten((x0 + x, y, z), view), (0.018, 0.018), "hole")
                for x, z in (fixed, pose.eye, shape.frame_pivot)
                if math.isfinite(x)
            ]
    return out


def _bow(seat: tuple[float, float], eye: tuple[float, float], nose_down: float) -> list[tuple[float, float]]:
    """A half of the main leaf from the seat, where it lies along the tilt, bent like a parabola to the eye."""
    dx, dz = eye[0] - seat[0], eye[1] - seat[1]
    slope = -math.tan(nose_down)
    return [
        (seat[0] + t * dx, seat[1] + slope * t * dx + (dz - slope * dx) * t * t)
        for t in np.linspace(0.0, 1.0, 13).tolist()
    ]


def lock_shapes(rig: Rig, layout: Layout, donor: DonorAxle | None) -> list[Shape]:
    """From above: the front tyres at full lock either way, turned about their kingpins, both alike (a first
    estimate).
    """
    if layout.end != "front":
        return []
    lock = axle_lock(donor)
    return [
        tyre_outline(rig, *wheel_at(rig, layout, donor, side, turn), "plan", "lock")
        for side in (1.0, -1.0)
        for turn in (lock, -lock)
    ]


def tyre_outline(
    rig: Rig, middle: Array, spin: Array, view: ViewName, role: Role, pose: AxlePose | None = None
) -> Line:
    """Outline of a front tyre standing at ``middle`` about ``spin`` at ride, carried with the axle where a pose is
    given.
    """
    rims = wheel_rims(middle, spin, rig.front.free, rig.front.tread)
    if pose is not None:
        rims = np.array(pose.centre) + (rims - np.array(axle_centre(rig, "front"))) @ np.array(pose.turn).T
    return Line(
        tuple(hull(np.array([flatten((float(x), float(y), float(z)), view) for x, y, z in rims]))), role, closed=True
    )


def driveshaft_shapes(
    rig: Rig, layout: Layout, donor: DonorAxle | None, plan: AxlePlan, view: ViewName, pose: AxlePose | None
) -> list[Shape]:
    """From the transfer case's output to the pinion's joint, where both are known."""
    out = rig.drivetrain.output(layout.end)
    if out is None or pose is None:
        return []
    ride = axle_centre(rig, layout.end)
    place = pinion_drawn(rig, layout.end, donor, plan, layout.pinion_up)
    if (out[0] - place.joint[0]) * (1.0 if layout.end == "rear" else -1.0) < 0:
        return []
    joint = pose.carry(place.joint, ride)
    width = layout.driveshaft.tube_od_m if layout.driveshaft is not None else 0.06
    if layout.driveshaft is not None and layout.driveshaft.kind == "two_piece":
        half = [0.5 * (a + b) for a, b in zip(out, place.joint, strict=True)]
        carrier = layout.driveshaft.carrier_m or (half[0], half[1], half[2])
        return [
            Line((flatten(joint, view), flatten(carrier, view)), "shaft", width=width),
            Line((flatten(carrier, view), flatten(out, view)), "shaft", width=width),
            Oval(flatten(carrier, view), (0.04, 0.04), "hole"),
        ]
    return [Line((flatten(joint, view), flatten(out, view)), "shaft", width=width)]
