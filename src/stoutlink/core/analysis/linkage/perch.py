"""How the axle sits on its leaves: the stack between tube and spring, what it lifts and turns, where hangers go."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.leaf import LeafSpring
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.leaf_spring import SpringShape, eye_tilt


class Shackled(Struct, frozen=True):
    """Another shackle under the same spring: how much higher the frame comes to stand over the axle, m, and how the
    pinion turns, rad, up +.
    """

    lift: float
    turn: float


class Perch(Struct, frozen=True):
    """``seat`` is the main leaf over the ground by tube, pad, block and pack, m (None: tube not known); ``lift`` how
    much higher than entered that is, so that the frame comes up by as much; ``other_lift`` what the spring on the
    other side of the tube lifts. ``flipped`` and ``longer``: the shackle stood up (or hung down), or of another
    length. ``fixed`` and ``pivot``: stations and heights of the hangers, (x, z) m in the rig. ``axle_off`` how far
    forward of where the rig has it an existing hanger puts the axle, m; ``longer_wheelbase`` what that makes of it.
    """

    seat: float | None
    lift: float | None
    other_lift: float | None
    flipped: Shackled
    longer: Shackled | None
    fixed: tuple[float, float]
    pivot: tuple[float, float]
    flipped_pivot: tuple[float, float]
    """Where the shackle's hanger goes for it to be flipped with the axle and its height left as they are."""
    axle_off: float | None
    longer_wheelbase: float | None


def perch_of(project: Project, rig: Rig, layout: Layout, shape: SpringShape) -> Perch:
    """Work out the perch of a leaf axle."""
    leaf = layout.leaf
    assert leaf is not None
    donor = project.donor(layout.end)
    hub = rig.end(layout.end).loaded + (0.0 if donor is None else donor.hub_drop_m or 0.0)
    tube = None if donor is None else donor.tube_od_m
    seat = None if tube is None else seat_by_stack(leaf, hub, tube, leaf.seat)
    other = None if tube is None else seat_by_stack(leaf, hub, tube, "under" if leaf.seat == "over" else "over")
    upright = math.cos(leaf.shackle_rad) * (-1.0 if shape.shackle_up else 1.0)
    x0 = axle_centre(rig, layout.end)[0] - leaf.pin_offset_m
    fixed, pivot = shape.fixed_eye, shape.frame_pivot
    off = None if leaf.hanger_x_m is None else leaf.hanger_x_m - (x0 + fixed[0])
    return Perch(
        seat,
        None if seat is None else seat - leaf.seat_z_m,
        None if seat is None or other is None else other - seat,
        _shackled(layout, shape, -2.0 * leaf.shackle_m * upright),
        None
        if leaf.planned_shackle_m is None
        else _shackled(layout, shape, (leaf.planned_shackle_m - leaf.shackle_m) * upright),
        (x0 + fixed[0], fixed[1]),
        (x0 + pivot[0], pivot[1]),
        (x0 + 2.0 * shape.moving_eye[0] - pivot[0], 2.0 * shape.moving_eye[1] - pivot[1]),
        off,
        None if off is None else off if layout.end == "front" else -off,
    )


def seat_by_stack(leaf: LeafSpring, hub: float, tube: float, seat: str) -> float:
    """Middle of the main leaf over the ground, m: from the tube's middle at ``hub`` half the tube of ``tube`` m, pad and
    block; over it the leaves below the main one as well (the main leaf lies on top of its pack).
    """
    main = leaf.leaves[0].thickness_m
    pack = sum(one.thickness_m * one.count for one in leaf.leaves)
    away = 0.5 * tube + leaf.pad_m + leaf.block_m
    return hub + away + pack - 0.5 * main if seat == "over" else hub - away - 0.5 * main


def _shackled(layout: Layout, shape: SpringShape, lower: float) -> Shackled:
    """The moving eye stands ``lower`` m more below its frame pivot: the axle goes down with its part of the lever to
    the fixed eye, and the seat turns about it.
    """
    leaf = layout.leaf
    assert leaf is not None
    part = shape.fixed / (leaf.front_m + leaf.rear_m)
    # lower rear eye: nose up at the rear (the pinion looks forward), down in front; a front eye the other way round
    down = eye_tilt(-lower, leaf.front_m, leaf.rear_m) * (-1.0 if shape.reversed_shackle else 1.0)
    return Shackled(lower * part, -down if layout.end == "rear" else down)
