"""A layout taken to the other end of the rig: links mirrored fore and aft about the rig's middle, a leaf pack as it is."""

from __future__ import annotations

import math

import msgspec

from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.springing import Driveshaft


def at_other_end(rig: Rig, layout: Layout, new_id: str, name: str) -> Layout:
    """The layout for the other axle, at its loaded radius. Links, brackets, shocks, springs and hoses keep their
    distance to the axle, ahead for behind; a leaf pack keeps its fixed eye where it is. Steering, caster, rail anchors
    and what depends on the other output (carrier bearing, shaft at hand) stay behind.
    """
    end = "front" if layout.end == "rear" else "rear"
    here, there = axle_centre(rig, layout.end), axle_centre(rig, end)
    up = there[2] - here[2]

    def moved(p: Point) -> Point:
        return round(there[0] - (p[0] - here[0]), 5), p[1], round(p[2] + up, 5)

    def part(value: object, *keys: str) -> object:
        """A part with its points moved."""
        if value is None:
            return None
        points = {k: moved(getattr(value, k)) for k in keys if getattr(value, k) is not None}
        return msgspec.structs.replace(value, **points)  # type: ignore[type-var]

    leaf = layout.leaf
    if leaf is not None:
        heights = {k: round(getattr(leaf, k) + up, 5) for k in ("front_eye_z_m", "rear_eye_z_m", "seat_z_m")}
        leaf = msgspec.structs.replace(leaf, **heights, hanger_x_m=None)
    shaft = layout.driveshaft
    return msgspec.structs.replace(
        layout,
        id=new_id,
        name=name[:120],
        end=end,
        rejected="",
        caster_rad=0.1 if end == "front" else None,
        steering=None,
        anchors=(),
        leaf=leaf,
        links=tuple(part(x, "frame_pivot_m", "axle_pivot_m") for x in layout.links),
        brackets=tuple(
            msgspec.structs.replace(b, angle_rad=round(_turned(math.pi - b.angle_rad), 6)) if b.plane == "side" else b
            for b in layout.brackets
        ),
        shock=part(layout.shock, "frame_m", "axle_m"),
        spring=part(layout.spring, "frame_m", "axle_m"),
        air=part(layout.air, "frame_m", "axle_m"),
        lines=tuple(msgspec.structs.replace(part(x, "frame_m", "far_m"), rides_on="axle") for x in layout.lines),  # type: ignore[type-var]
        driveshaft=None if shaft is None else _bare(shaft),
    )


def _bare(shaft: Driveshaft) -> Driveshaft:
    return msgspec.structs.replace(shaft, carrier_m=None, in_hand=None)


def _turned(angle: float) -> float:
    """An angle within half a turn each way."""
    return math.remainder(angle, 2.0 * math.pi)
