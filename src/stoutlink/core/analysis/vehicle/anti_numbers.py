"""Anti-squat, anti-dive and the anti-lifts of one axle, in every school."""

from __future__ import annotations

from typing import get_args

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.document.project import HeightSchool, ThrustSchool
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.linkage.side_view import anti_percent
from stoutlink.core.mechanics.weight import sprung_height, thrust_share
from stoutlink.core.numerics.remembering import remember_by_identity

Array = NDArray[np.float64]

THRUST_SCHOOLS: tuple[ThrustSchool, ...] = get_args(ThrustSchool)
HEIGHT_SCHOOLS: tuple[HeightSchool, ...] = get_args(HeightSchool)

DRIVE = {"rear": "anti_squat", "front": "anti_lift_drive"}
BRAKE = {"rear": "anti_lift_braking", "front": "anti_dive"}


def load_share(rig: Rig, end: str) -> float:
    """Part of the weight on this axle, standing level."""
    front = rig.cg_ahead_of_rear_m / rig.wheelbase_m
    return front if end == "front" else 1.0 - front


@remember_by_identity(8)
def school_height(rig: Rig, school: HeightSchool) -> float:
    """Height of the centre of gravity that a school uses, m."""
    if school == "whole_vehicle":
        return rig.cg_height_m
    ends = (rig.front, rig.rear)
    return sprung_height(rig.mass_kg, rig.cg_height_m, tuple((e.unsprung, e.loaded) for e in ends))


def drive_percent(rig: Rig, end: str, slope: Array, thrust: ThrustSchool, height: HeightSchool) -> Array:
    """Rear anti-squat or front anti-lift under drive, %, for support slopes of any shape."""
    return anti_percent(slope, thrust_share(thrust, load_share(rig, end)), rig.wheelbase_m, school_height(rig, height))


def brake_percent(rig: Rig, end: str, slope: Array, height: HeightSchool) -> Array:
    """Front anti-dive or rear anti-lift under braking, %, with the real brake split."""
    share = rig.brake_front_share if end == "front" else 1.0 - rig.brake_front_share
    return anti_percent(slope, share, rig.wheelbase_m, school_height(rig, height))
