"""Which numbers of an axle's record come with which part of it, so that an axle can be made of several."""

from __future__ import annotations

from typing import Literal

AxlePart = Literal["housing", "gears", "shafts", "outers"]
AXLE_PARTS: tuple[AxlePart, ...] = ("housing", "gears", "shafts", "outers")
PART_WORDS: dict[str, str] = {
    "housing": "housing and tubes", "gears": "gears and carrier", "shafts": "shafts", "outers": "ends: hubs, brakes, knuckles",
}  # fmt: skip

OF_ITSELF = (
    "id", "name", "maker", "end", "price", "missing", "ratings_are", "basis", "example", "notes",
)  # fmt: skip
"""What is the record's own, whatever it is made of."""
PINION = ("pinion_height", "snout_length_m", "pinion_rise_m")
"""Where the pinion stands: it comes with the housing, or with the gears where these sit in a third member."""
PART_FIELDS: dict[AxlePart, tuple[str, ...]] = {
    "housing": (
        "weight_class", "third_member", "seat_spacing_m", "pinion_offset_m", "tube_od_m", "tube_wall_m", "tube_yield_pa", "tube_form", "housing_below_m",
        "shave_m", "jig_length_m", "jig_pucks", "spring_pads", "link_brackets",
    ),
    "gears": (
        "ring_teeth", "pinion_teeth", "ratios", "carrier_break_ratio", "ring_diameter_m", "ring_rating_nm", "pinion_spline_teeth", "pinion_spline_major_diameter_m",
        "cut", "locker", "locker_rating_nm", "pinion_joint_series", "pinion_joint_cap_m", "pinion_joint_span_m", "pinion_joint_rating_nm",
    ),
    "shafts": (
        "spline_teeth", "spline_pitch_per_in", "spline_root", "spline_major_diameter_m", "neck_diameter_m", "shaft_material", "shaft_yield_pa", "shaft_bore_m",
        "spline_form", "spline_length_m", "spline_engaged_m", "neck_length_m", "body_diameter_m", "c_clips",
        "outer_spline_teeth", "outer_spline_pitch_per_in", "outer_spline_root", "outer_spline_major_diameter_m",
    ),
    "outers": (
        "stub_spline_teeth", "stub_spline_pitch_per_in", "stub_spline_root", "stub_spline_major_diameter_m", "stub_neck_diameter_m", "stub_yield_pa",
        "outer_joint", "outer_joint_class", "outer_joint_rating_nm", "steer_lock_rad", "floating", "knuckle", "wheel_bearing", "lockouts", "lockout_rating_nm",
        "flange_bolt_count", "flange_bolt_diameter_m", "flange_bolt_circle_m", "flange_bolt_class", "flange_dowel_count", "flange_dowel_diameter_m", "flange_rating_nm",
        "hub_ratio", "hub_drop_m", "wheel_overhang_m", "knuckle_rating_nm", "kingpin_inset_m", "bolt_count", "bolt_circle_m", "stud_thread", "pilot_m", "dual_wheels",
        "brake", "brake_thread", "rotor_m", "piston_m", "piston_count", "brakes_kg", "parking_brake", "parking_cable_end", "abs_sensor", "steering_arms",
    ),
}  # fmt: skip
ACROSS: dict[str, tuple[AxlePart, ...]] = {
    "width_m": ("housing", "outers"), "shaft_left_m": ("housing", "shafts", "outers"), "shaft_right_m": ("housing", "shafts", "outers"),
    "weight_kg": AXLE_PARTS,
}  # fmt: skip
"""Numbers that belong to several parts together: of an axle made of several they are measured on it."""
