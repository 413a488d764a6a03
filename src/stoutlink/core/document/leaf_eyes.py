"""Where the eyes of a leaf spring, its seat and its shackle's hanger stand, and the spring that has them elsewhere."""

from __future__ import annotations

import math
from typing import Literal

import msgspec

from stoutlink.core.document.layout import Layout
from stoutlink.core.document.leaf import LeafSpring
from stoutlink.core.document.quantities import Point
from stoutlink.core.mechanics.leaf_spring import across, along_for

LeafPoint = Literal["front_eye", "rear_eye", "shackle", "seat"]
LEAF_POINTS: tuple[LeafPoint, ...] = ("front_eye", "rear_eye", "shackle", "seat")
LEAF_WORDS: dict[LeafPoint, str] = {
    "front_eye": "Front eye", "rear_eye": "Rear eye", "shackle": "Shackle's hanger", "seat": "Leaf at the seat",
}  # fmt: skip


def leaf_point(layout: Layout, which: LeafPoint, wheelbase: float) -> Point | None:
    """A point of the left spring at ride height, m; ``None`` without leaves. ``wheelbase`` m."""
    leaf = layout.leaf
    if leaf is None:
        return None
    x0, y = _seat_x(layout, leaf, wheelbase), 0.5 * leaf.spacing_m
    if which == "seat":
        return x0, y, leaf.seat_z_m
    if which == "shackle":
        return _hanger(layout, leaf, wheelbase)
    return _eye(layout, leaf, which == "front_eye", wheelbase)


def leaf_with(layout: Layout, which: LeafPoint, to: Point, wheelbase: float) -> LeafSpring | None:
    """The springs with a point of the left one put at ``to``, the right one its mirror image; ``None`` without leaves.

    An eye: its half of the main leaf takes the length that reaches there, as it is arched. The shackle keeps its
    hanger on the frame while its eye is moved, and takes length and lean from where both then are; so it does when the
    hanger is moved, standing up where that is below the eye. The seat: the main leaf's height there, and the centre
    pin's offset; all eyes keep their place.
    """
    leaf = layout.leaf
    if leaf is None:
        return None
    hanger = _hanger(layout, leaf, wheelbase)
    moving = "front_eye" if leaf.reversed_shackle else "rear_eye"
    if which == "seat":
        eyes = [_eye(layout, leaf, front, wheelbase) for front in (True, False)]
        pin = _axle_x(layout, wheelbase) - to[0]
        leaf = msgspec.structs.replace(leaf, seat_z_m=to[2], pin_offset_m=pin, spacing_m=2.0 * to[1])
        return msgspec.structs.replace(leaf, **_halves(leaf, to[0], eyes[0], eyes[1]))
    leaf = msgspec.structs.replace(leaf, spacing_m=2.0 * to[1])
    if which == "shackle":
        return msgspec.structs.replace(leaf, **_shackle(_eye(layout, leaf, moving == "front_eye", wheelbase), to))
    x0, front = _seat_x(layout, leaf, wheelbase), which == "front_eye"
    way = 1.0 if front else -1.0
    length = along_for(way * (to[0] - x0), to[2] - leaf.seat_z_m, leaf.clamp_m)
    end = "front" if front else "rear"
    leaf = msgspec.structs.replace(leaf, **{f"{end}_m": length, f"{end}_eye_z_m": to[2]})
    return leaf if which != moving else msgspec.structs.replace(leaf, **_shackle(to, hanger))


def _axle_x(layout: Layout, wheelbase: float) -> float:
    return wheelbase if layout.end == "front" else 0.0


def _seat_x(layout: Layout, leaf: LeafSpring, wheelbase: float) -> float:
    return _axle_x(layout, wheelbase) - leaf.pin_offset_m


def _eye(layout: Layout, leaf: LeafSpring, front: bool, wheelbase: float) -> Point:
    x0 = _seat_x(layout, leaf, wheelbase)
    z = leaf.front_eye_z_m if front else leaf.rear_eye_z_m
    out = across(leaf.front_m if front else leaf.rear_m, z - leaf.seat_z_m, leaf.clamp_m)
    return (x0 + out if front else x0 - out), 0.5 * leaf.spacing_m, z


def _hanger(layout: Layout, leaf: LeafSpring, wheelbase: float) -> Point:
    x, y, z = _eye(layout, leaf, leaf.reversed_shackle, wheelbase)
    s, c = leaf.shackle_m * math.sin(leaf.shackle_rad), leaf.shackle_m * math.cos(leaf.shackle_rad)
    return (x - s, y, z - c) if leaf.flipped_shackle else (x + s, y, z + c)


def _shackle(eye: Point, hanger: Point) -> dict[str, float | bool]:
    """Length, lean (lower end rearward +) and whether it stands, from both its ends."""
    dx, dz = hanger[0] - eye[0], hanger[2] - eye[2]
    stands = dz < 0
    lean = math.atan2(-dx, -dz) if stands else math.atan2(dx, dz)
    return {"shackle_m": math.hypot(dx, dz), "shackle_rad": lean, "flipped_shackle": stands}


def _halves(leaf: LeafSpring, x0: float, front: Point, rear: Point) -> dict[str, float]:
    """Lengths of both halves that reach eyes that stay where they are."""
    return {
        "front_m": along_for(front[0] - x0, front[2] - leaf.seat_z_m, leaf.clamp_m),
        "rear_m": along_for(x0 - rear[0], rear[2] - leaf.seat_z_m, leaf.clamp_m),
    }
