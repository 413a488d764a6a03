"""Where the pinion's joint stands and which way the pinion points, the same for every question that asks."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.mechanics.narrowing import narrow_sides

SNOUT = 0.30
"""From the tube's axis to the joint along the pinion while the axle does not say, m (estimate)."""


class PinionPlace(Struct, frozen=True):
    """At ride height: the joint's centre and where the snout starts over the tube, m, and the unit vector along the
    pinion from case to axle.
    """

    start: tuple[float, float, float]
    joint: tuple[float, float, float]
    axis: tuple[float, float, float]
    snout_assumed: bool


def pinion_offset(donor: DonorAxle, plan: AxlePlan) -> float | None:
    """How far the pinion stands left of the middle, m, after planned narrowing; ``None`` while it is not known."""
    if donor.pinion_offset_m is None or donor.width_m is None or plan.width_m is None:
        return donor.pinion_offset_m
    return narrow_sides(donor.width_m, plan.width_m, donor.pinion_offset_m, centre_pinion=plan.centre_pinion)[2]


def pinion_place(rig: Rig, donor: DonorAxle, plan: AxlePlan, pinion_up: float) -> PinionPlace | None:
    """The joint at the pinion of an axle under a rig with its pinion ``pinion_up`` rad above level; ``None`` until the
    pinion's offset is known.
    """
    return None if pinion_offset(donor, plan) is None else pinion_drawn(rig, donor.end, donor, plan, pinion_up)


def pinion_drawn(rig: Rig, end: str, donor: DonorAxle | None, plan: AxlePlan, pinion_up: float) -> PinionPlace:
    """The joint as it is drawn: in the middle, level with the tube, on a snout of the usual length while the axle does
    not say.

    The rise of the pinion over the axle's middle is measured square to the pinion and turns with it: a pinion 3 below
    the middle, 13 long and 15° up ends at 13·cos 15° + 3·sin 15° ahead and 13·sin 15° − 3·cos 15° up. A portal's
    housing stands its drop above the hubs.
    """
    x, y, z = axle_centre(rig, end)
    forward = 1.0 if end == "rear" else -1.0
    snout, rise, drop, offset = SNOUT, 0.0, 0.0, 0.0
    if donor is not None:
        snout = donor.snout_length_m if donor.snout_length_m is not None else SNOUT
        rise, drop, offset = donor.pinion_rise_m or 0.0, donor.hub_drop_m or 0.0, pinion_offset(donor, plan) or 0.0
    s, c = math.sin(pinion_up), math.cos(pinion_up)
    return PinionPlace(
        (x - forward * rise * s, y + offset, z + drop + rise * c),
        (x + forward * (snout * c - rise * s), y + offset, z + drop + snout * s + rise * c),
        (-forward * c, 0.0, -s),
        donor is None or donor.snout_length_m is None,
    )
