"""A plain rig and plain axles of round numbers, so that a hand can follow."""

from __future__ import annotations

from typing import Any

import msgspec

from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.document.groups import Swap
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.rig import Drivetrain, Rig, WheelEnd

G = 9.80665


def plain_rig(**changes: Any) -> Rig:
    """2000 kg, half on each axle, loaded radius 0.45 m, 400 N·m through 4 × 2.5 with a clutch, no converter."""
    wheel = WheelEnd(
        track_m=1.6,
        tyre_free_radius_m=0.48,
        loaded_radius_m=0.45,
        rolling_radius_m=0.465,
        unsprung_mass_kg=250.0,
        wheel_offset_m=0.0,
    )
    train = Drivetrain(
        engine_torque_nm=400.0, gear_ratios=(4.0, 1.0), reverse_ratio=3.5, transfer_low_ratio=2.5, coupling="clutch"
    )
    rig = Rig(
        name="Plain",
        wheelbase_m=2.5,
        mass_kg=2000.0,
        cg_height_m=0.8,
        cg_ahead_of_rear_m=1.25,
        front=wheel,
        rear=wheel,
        drivetrain=train,
    )
    return msgspec.structs.replace(rig, **changes)


def plain_axle(**changes: Any) -> DonorAxle:
    """A rear axle with everything the ladder asks for."""
    base: dict[str, Any] = {
        "id": "plain",
        "name": "Plain rear",
        "end": "rear",
        "spline_teeth": 30,
        "spline_pitch_per_in": 24.0,
        "spline_root": "45_flat",
        "neck_diameter_m": 0.030,
        "shaft_yield_pa": 900e6,
        "ring_teeth": 40,
        "pinion_teeth": 10,
        "ratios": (ToothPair(ring=40, pinion=10), ToothPair(ring=41, pinion=9)),
        "ring_diameter_m": 0.22,
        "cut": "standard",
        "pinion_height": "low",
        "locker": "spool",
        "width_m": 1.6,
        "bolt_count": 6,
        "bolt_circle_m": 0.14,
        "tube_od_m": 0.08,
        "tube_wall_m": 0.008,
        "tube_yield_pa": 350e6,
        "seat_spacing_m": 1.0,
        "floating": "full",
        "weight_kg": 120.0,
        "price": 800.0,
        "brake": "disc",
        "brake_thread": "M10x1.0",
        "parking_brake": "in_hat_cable",
        "pinion_joint_series": "P1",
        "pinion_joint_rating_nm": 3000.0,
        "pinion_offset_m": 0.0,
        "snout_length_m": 0.3,
        "abs_sensor": "wheel",
        "spring_pads": "over",
        "basis": "measured",
    }
    return DonorAxle(**{**base, **changes})


def plain_front(**changes: Any) -> DonorAxle:
    """Its partner in front."""
    base: dict[str, Any] = {
        "id": "front",
        "name": "Plain front",
        "end": "front",
        "cut": "reverse",
        "pinion_height": "high",
        "outer_joint": "cross",
        "outer_joint_rating_nm": 6000.0,
        "steer_lock_rad": 0.5,
        "kingpin_inset_m": 0.09,
        "knuckle": "kingpin",
        "stub_spline_teeth": 30,
        "lockouts": "manual",
        "lockout_rating_nm": 5000.0,
        "steering_arms": "both",
        "parking_brake": None,
        "locker": "open",
    }
    return plain_axle(**{**base, **changes})


def plain_project(
    front: DonorAxle | None = None, rear: DonorAxle | None = None, rig: Rig | None = None, **changes: Any
) -> Project:
    """Both plain axles chosen."""
    one, two = front or plain_front(), rear or plain_axle()
    project = Project(
        name="Plain", rig=rig or plain_rig(), swap=Swap(donors=(one, two), front_donor=one.id, rear_donor=two.id)
    )
    return with_parts(project, **changes)
