"""A donor axle as a fabricator reads it off the axle or its plate: every field but its name and end may be unknown."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from stoutlink.core.catalogue.joint_size import JointSize


class _Frozen(msgspec.Struct, frozen=True, forbid_unknown_fields=True, kw_only=True):
    pass


def _m(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


def _count(title: str, low: int, high: int, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": "count"})


End = Literal["front", "rear"]
RootForm = Literal["45_flat", "30_flat", "30_fillet", "37_fillet"]
Floating = Literal["semi", "full"]
Locker = Literal[
    "open", "limited_slip", "torque_sensing", "drop_in", "automatic", "selectable", "air", "electric", "spool"
]
Basis = Literal["measured", "sheet", "claim", "estimated"]
Brake = Literal["drum", "disc", "none"]
Knuckle = Literal["kingpin", "ball_joint", "none"]
ParkingBrake = Literal["drum_cable", "caliper_cable", "in_hat_cable", "none"]
Lockouts = Literal["manual", "automatic", "drive_flange", "none"]

Teeth = Annotated[int, _count("Spline teeth", 6, 80, "Count the teeth; mark the first one.")]
Pitch = Annotated[
    float, _m("Spline pitch", "number", 2.5, 128.0, "Teeth per inch of pitch diameter; axle shafts are mostly 24.")
]
Major = Annotated[float, _m("Spline major diameter", "length", 0.01, 0.12, "Measured over the spline with a caliper.")]
Neck = Annotated[float, _m("Shaft neck diameter", "length", 0.01, 0.12, "Thinnest place of the shaft.")]
Strength = Annotated[float, _m("Core yield strength", "stress", 1e8, 3e9, "Core strength, not the hard skin.")]
Rating = Annotated[
    float, _m("Rated torque", "torque", 50.0, 200000.0, "From the part's record; wins over any formula.")
]
Size = Annotated[str, Meta(max_length=24)]
TubeLength = Annotated[
    float, _m("Shaft length", "length", 0.1, 2.0, "From the end of the spline to the joint centre or flange face.")
]


Cap = Annotated[
    float, _m("Joint cap", "length", 0.01, 0.1, "Diameter of a bearing cap of the joint, with the caliper.")
]
Span = Annotated[
    float, _m("Joint span", "length", 0.03, 0.3, "Over the ends of two caps that face each other, joint seated.")
]


class ToothPair(_Frozen, frozen=True, kw_only=True):
    """A gear set by its teeth."""

    ring: Annotated[int, _count("Ring gear teeth", 20, 90, "Count on the ring gear.")]
    pinion: Annotated[int, _count("Pinion teeth", 5, 30, "Count on the pinion.")]

    @property
    def ratio(self) -> float:
        """Ring teeth over pinion teeth."""
        return self.ring / self.pinion

    def __str__(self) -> str:
        return f"{self.ring}/{self.pinion}"


class DonorAxle(_Frozen, frozen=True, kw_only=True):
    """One axle that could go under the rig; SI units, every optional field may be unknown.

    ``basis`` says where the record as a whole comes from: measured on the axle, from a sheet, a seller's claim, or
    estimated; the project's entries say it field by field. An ``example`` is invented and came with the program.
    """

    id: Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,47}$")]
    name: Annotated[str, Meta(min_length=1, max_length=120)]
    maker: Annotated[str, Meta(max_length=120)] = ""
    end: End
    weight_class: Literal["light", "middle", "heavy"] | None = None

    # inner shaft, at the side gear
    spline_teeth: (
        Annotated[
            int,
            _count("Inner spline teeth", 6, 80, "Count the teeth on the inner shaft, where it enters the side gear."),
        ]
        | None
    ) = None
    spline_pitch_per_in: Pitch | None = None
    spline_root: RootForm | None = None
    spline_major_diameter_m: Major | None = None
    neck_diameter_m: Neck | None = None
    shaft_material: Size = ""
    shaft_yield_pa: (
        Annotated[float, _m("Shaft core yield strength", "stress", 1e8, 3e9, "Core strength, not the hard skin.")]
        | None
    ) = None
    shaft_bore_m: (
        Annotated[float, _m("Shaft bore", "length", 0.0, 0.1, "Hole along the shaft; empty or 0 for a solid one.")]
        | None
    ) = None
    spline_form: Literal["cut", "formed"] | None = None
    spline_length_m: (
        Annotated[float, _m("Spline length", "length", 0.005, 0.3, "Length of the cut teeth on the inner shaft.")]
        | None
    ) = None
    spline_engaged_m: (
        Annotated[float, _m("Spline engaged", "length", 0.005, 0.3, "How much of it sits in the side gear.")] | None
    ) = None
    neck_length_m: (
        Annotated[
            float,
            _m("Necked length", "length", 0.0, 1.0, "How far the thin part runs behind the spline, before full body."),
        ]
        | None
    ) = None
    body_diameter_m: (
        Annotated[float, _m("Shaft body diameter", "length", 0.01, 0.12, "The thick part behind the neck.")] | None
    ) = None
    shaft_left_m: (
        Annotated[
            float,
            _m("Left shaft length", "length", 0.1, 2.0, "Left inner shaft, spline end to joint centre or flange."),
        ]
        | None
    ) = None
    shaft_right_m: (
        Annotated[
            float,
            _m("Right shaft length", "length", 0.1, 2.0, "Right inner shaft, spline end to joint centre or flange."),
        ]
        | None
    ) = None
    # outer end of the shaft, and the stub of a steering axle
    outer_spline_teeth: (
        Annotated[int, _count("Outer spline teeth", 6, 80, "Teeth at the outer end of the shaft, in the drive plate.")]
        | None
    ) = None
    outer_spline_pitch_per_in: Pitch | None = None
    outer_spline_root: RootForm | None = None
    outer_spline_major_diameter_m: (
        Annotated[float, _m("Outer spline major", "length", 0.01, 0.12, "Measured over the outer spline.")] | None
    ) = None
    stub_spline_teeth: (
        Annotated[int, _count("Stub spline teeth", 6, 80, "Teeth of the stub shaft, in the hub.")] | None
    ) = None
    stub_spline_pitch_per_in: Pitch | None = None
    stub_spline_root: RootForm | None = None
    stub_spline_major_diameter_m: (
        Annotated[float, _m("Stub spline major", "length", 0.01, 0.12, "Measured over the stub's spline.")] | None
    ) = None
    stub_neck_diameter_m: (
        Annotated[float, _m("Stub neck diameter", "length", 0.01, 0.12, "Thinnest place of the stub shaft.")] | None
    ) = None
    stub_yield_pa: (
        Annotated[float, _m("Stub core yield strength", "stress", 1e8, 3e9, "Empty: as the inner shaft.")] | None
    ) = None
    outer_joint: Literal["cross", "constant_velocity", "none"] | None = None
    outer_joint_class: Size = ""
    outer_joint_rating_nm: (
        Annotated[float, _m("Outer joint rating", "torque", 50.0, 200000.0, "Straight, from its record.")] | None
    ) = None
    steer_lock_rad: (
        Annotated[
            float,
            _m("Steering lock", "angle", 0.0, 1.05, "How far the knuckle turns; the outer joint then stands at it."),
        ]
        | None
    ) = None

    # gears and carrier
    ring_teeth: Annotated[int, _count("Ring gear teeth", 20, 90, "Count on the ring gear.")] | None = None
    pinion_teeth: Annotated[int, _count("Pinion teeth", 5, 30, "Count on the pinion.")] | None = None
    ratios: Annotated[tuple[ToothPair, ...], Meta(max_length=24)] = ()
    carrier_break_ratio: (
        Annotated[float, _m("Carrier break", "ratio", 1.0, 12.0, "Gears above this ratio need the other carrier.")]
        | None
    ) = None
    ring_diameter_m: (
        Annotated[float, _m("Ring gear diameter", "length", 0.1, 0.6, "Outside of the ring gear.")] | None
    ) = None
    ring_rating_nm: (
        Annotated[
            float, _m("Ring gear rating", "torque", 50.0, 200000.0, "Peak output torque from its record, drive flank.")
        ]
        | None
    ) = None
    pinion_spline_teeth: Annotated[int, _count("Pinion spline teeth", 6, 80, "Teeth under the pinion yoke.")] | None = (
        None
    )
    pinion_spline_major_diameter_m: (
        Annotated[float, _m("Pinion spline major", "length", 0.01, 0.12, "Measured over the pinion's spline.")] | None
    ) = None
    pinion_height: Literal["high", "low"] | None = None
    cut: Literal["standard", "reverse"] | None = None
    locker: Locker | None = None
    locker_rating_nm: (
        Annotated[
            float, _m("Carrier or locker rating", "torque", 50.0, 200000.0, "From its record, torque at one side.")
        ]
        | None
    ) = None
    third_member: bool | None = None

    # hub
    floating: Floating | None = None
    c_clips: bool | None = None
    knuckle: Knuckle | None = None
    wheel_bearing: Literal["unit", "spindle"] | None = None
    lockouts: Lockouts | None = None
    lockout_rating_nm: (
        Annotated[float, _m("Hub lock-out rating", "torque", 50.0, 200000.0, "From its record.")] | None
    ) = None
    flange_bolt_count: (
        Annotated[int, _count("Drive flange bolts", 3, 24, "Bolts between drive flange and hub.")] | None
    ) = None
    flange_bolt_diameter_m: (
        Annotated[float, _m("Drive flange bolt", "length", 0.004, 0.03, "Thread diameter.")] | None
    ) = None
    flange_bolt_circle_m: (
        Annotated[float, _m("Drive flange bolt circle", "length", 0.03, 0.4, "Through the bolts' centres.")] | None
    ) = None
    flange_bolt_class: Literal["8.8", "10.9", "12.9"] | None = None
    flange_dowel_count: Annotated[int, _count("Flange dowels", 1, 12, "Fitted pins between flange and hub.")] | None = (
        None
    )
    flange_dowel_diameter_m: (
        Annotated[float, _m("Flange dowel", "length", 0.003, 0.03, "Diameter of a pin, on the bolts' circle.")] | None
    ) = None
    flange_rating_nm: (
        Annotated[float, _m("Drive flange rating", "torque", 50.0, 200000.0, "From its record.")] | None
    ) = None
    hub_ratio: Annotated[float, _m("Hub ratio", "ratio", 0.5, 4.0, "1 without hub gears.")] = 1.0
    hub_drop_m: (
        Annotated[
            float,
            _m(
                "Portal drop",
                "length",
                0.0,
                0.4,
                "How far the wheel's centre lies below the shaft's; 0 without hub gears.",
            ),
        ]
        | None
    ) = None
    wheel_overhang_m: (
        Annotated[float, _m("Wheel bearing overhang", "length", 0.0, 0.3, "Wheel face to the bearing's middle.")] | None
    ) = None
    knuckle_rating_nm: (
        Annotated[
            float,
            _m("Knuckle rating", "torque", 50.0, 200000.0, "Bending moment at the steering axis, from its record."),
        ]
        | None
    ) = None
    kingpin_inset_m: (
        Annotated[float, _m("Kingpin inset", "length", 0.0, 0.4, "Wheel face to the steering axis at hub height.")]
        | None
    ) = None

    # housing
    width_m: (
        Annotated[float, _m("Width over wheel faces", "length", 0.8, 3.5, "Between the faces the wheels bolt to.")]
        | None
    ) = None
    bolt_count: Annotated[int, _count("Wheel bolts", 3, 12, "Studs in one wheel.")] | None = None
    bolt_circle_m: (
        Annotated[float, _m("Bolt circle", "length", 0.06, 0.5, "Diameter of the circle through the studs.")] | None
    ) = None
    dual_wheels: bool | None = None
    stud_thread: Size = ""
    pilot_m: (
        Annotated[float, _m("Wheel pilot", "length", 0.03, 0.25, "Diameter of the hub that centres the wheel.")] | None
    ) = None
    tube_od_m: (
        Annotated[float, _m("Axle tube outside diameter", "length", 0.03, 0.25, "Outside of the housing tube.")] | None
    ) = None
    tube_wall_m: Annotated[float, _m("Axle tube wall", "fine_length", 0.002, 0.05, "Housing tube wall.")] | None = None
    tube_yield_pa: Annotated[float, _m("Tube yield strength", "stress", 1e8, 2e9, "Of the housing tube.")] | None = None
    seat_spacing_m: (
        Annotated[float, _m("Seat spacing", "length", 0.3, 2.0, "Between spring pads or coil seats, centre to centre.")]
        | None
    ) = None
    pinion_offset_m: (
        Annotated[
            float,
            _m(
                "Pinion offset",
                "length",
                -0.8,
                0.8,
                "Pinion left (+) or right (−) of the middle between the wheel faces.",
            ),
        ]
        | None
    ) = None
    snout_length_m: (
        Annotated[float, _m("Snout length", "length", 0.05, 0.8, "Axle centre to the middle of the pinion's joint.")]
        | None
    ) = None
    pinion_rise_m: (
        Annotated[
            float,
            _m(
                "Pinion above axle centre",
                "length",
                -0.2,
                0.2,
                "Height of the pinion's axis over the axle centre; below is negative.",
            ),
        ]
        | None
    ) = None
    pinion_joint_series: Size = ""
    pinion_joint_cap_m: Cap | None = None
    pinion_joint_span_m: Span | None = None
    pinion_joint_rating_nm: (
        Annotated[float, _m("Driveshaft joint rating", "torque", 50.0, 200000.0, "Straight, from its record.")] | None
    ) = None
    housing_below_m: (
        Annotated[
            float,
            _m("Housing below the ring gear", "length", 0.0, 0.2, "Metal and cover between ring gear and the ground."),
        ]
        | None
    ) = None
    shave_m: (
        Annotated[
            float, _m("Can be shaved", "length", 0.0, 0.1, "How much of the bottom may be cut off and closed again.")
        ]
        | None
    ) = None
    jig_length_m: (
        Annotated[
            float, _m("Longest housing in the jig", "length", 0.5, 4.0, "What the narrowing jig takes, end to end.")
        ]
        | None
    ) = None

    tube_form: Literal["constant", "stepped"] | None = None
    jig_pucks: bool | None = None

    # what hangs on it
    brake: Brake | None = None
    brake_thread: Size = ""
    rotor_m: Annotated[float, _m("Disc diameter", "length", 0.1, 0.6, "Outside of the brake disc.")] | None = None
    piston_m: Annotated[float, _m("Caliper piston", "length", 0.01, 0.15, "Diameter of one piston.")] | None = None
    piston_count: (
        Annotated[
            int,
            _count(
                "Pistons a side", 1, 8, "Pistons on one side of a caliper; a floating one has them on one side only."
            ),
        ]
        | None
    ) = None
    brakes_kg: (
        Annotated[float, _m("Brakes' weight", "mass", 0.1, 400.0, "Discs, calipers or drums of both sides together.")]
        | None
    ) = None
    parking_brake: ParkingBrake | None = None
    parking_cable_end: Size = ""
    abs_sensor: Literal["wheel", "housing", "none"] | None = None
    spring_pads: Literal["over", "under", "none"] | None = None
    link_brackets: bool | None = None
    steering_arms: Literal["none", "one", "both"] | None = None
    weight_kg: Annotated[float, _m("Axle weight", "mass", 10.0, 1500.0, "Complete without wheels.")] | None = None
    price: Annotated[float, _m("Price", "money", 0.0, 1e7, "As it stands, in the project's currency.")] | None = None
    missing: Annotated[str, Meta(max_length=200)] = ""
    ratings_are: Literal["yield", "break"] | None = None
    basis: Basis = "sheet"
    example: bool = False
    notes: Annotated[str, Meta(max_length=400)] = ""

    @property
    def pinion_joint(self) -> JointSize:
        """The driveshaft joint its yoke takes."""
        return JointSize(self.pinion_joint_series, self.pinion_joint_cap_m, self.pinion_joint_span_m)

    @property
    def pair(self) -> ToothPair | None:
        """The gear set fitted, if its teeth are known."""
        return (
            None
            if self.ring_teeth is None or self.pinion_teeth is None
            else ToothPair(ring=self.ring_teeth, pinion=self.pinion_teeth)
        )

    @property
    def ratio(self) -> float | None:
        """Axle ratio from the tooth pair fitted."""
        return None if self.ring_teeth is None or self.pinion_teeth is None else self.ring_teeth / self.pinion_teeth

    @property
    def offers(self) -> tuple[ToothPair, ...]:
        """Every gear set known for this axle, the fitted one included, tallest first."""
        fitted = self.pair
        known = {(p.ring, p.pinion): p for p in (*self.ratios, *([fitted] if fitted else []))}
        return tuple(sorted(known.values(), key=lambda p: p.ratio))

    def takes(self, pair: ToothPair) -> bool:
        """Whether a gear set is made for this axle, as far as is known: with no list of sets any may be."""
        return not self.ratios or pair in self.offers


def pairs_near(text: str, sold: tuple[ToothPair, ...]) -> tuple[ToothPair, ...]:
    """The tooth pairs that are meant by what was typed: teeth (``41/8``, ``41:8``, ``41-8``), or a ratio (``5.13``) with
    the pairs of ``sold`` that are that ratio as it is printed, two places; nothing for anything else.

    >>> [str(p) for p in pairs_near("41:8", ())], [str(p) for p in pairs_near("5.13", (ToothPair(ring=41, pinion=8),))]
    (['41/8'], ['41/8'])
    """
    if match := re.fullmatch(r"(\d{1,3})\s*[/:-]\s*(\d{1,3})", text.strip()):
        return (ToothPair(ring=int(match[1]), pinion=int(match[2])),)
    if match := re.fullmatch(r"(\d{1,2})[.,](\d{1,3})(?:\s*:\s*1)?", text.strip()):
        ratio, places = float(f"{match[1]}.{match[2]}"), min(2, len(match[2]))
        return tuple(p for p in sold if abs(p.ratio - ratio) <= 0.5 * 10.0**-places + 0.005)
    return ()


LOCKERS: tuple[Locker, ...] = (
    "open",
    "limited_slip",
    "torque_sensing",
    "drop_in",
    "automatic",
    "air",
    "electric",
    "selectable",
    "spool",
)
LOCKER_WORDS: dict[str, str] = {
    "open": "open differential", "limited_slip": "limited slip", "torque_sensing": "torque-sensing differential", "drop_in": "drop-in automatic locker",
    "automatic": "full automatic locker", "selectable": "selectable locker", "air": "air locker", "electric": "electric locker", "spool": "spool",
}  # fmt: skip
BASIS_WORDS: dict[str, str] = {
    "measured": "measured",
    "sheet": "from a sheet",
    "claim": "seller's claim",
    "estimated": "estimated",
}

FIELDS: tuple[str, ...] = tuple(f.name for f in msgspec.structs.fields(DonorAxle))
"""Every field of a record, in its order."""
Marks = Mapping[tuple[str, str], Basis]
"""Where single fields are from: id and field → basis."""
