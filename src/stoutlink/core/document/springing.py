"""Shocks, springs, bars, stops and the driveshaft of one axle, as far as its travel needs them; the left side, the
right is its mirror image.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Point


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class Shock(Frozen, frozen=True, kw_only=True):
    """One shock: pivots at ride height, and its length between them shut and pulled out."""

    frame_m: Point
    axle_m: Point
    collapsed_m: Annotated[float, _n("Shut", "length", 0.1, 1.5, "Between pivots, all the way in.")]
    extended_m: Annotated[float, _n("Pulled out", "length", 0.1, 2.0, "Between pivots, all the way out.")]


class CarrySpring(Frozen, frozen=True, kw_only=True):
    """What carries: a coilover on the shock's own pivots, or a coil between seats of its own. ``second_n_per_m`` in
    series above it until the slider is ``slider_m`` up (a dual rate)."""

    kind: Literal["coilover", "coil"] = "coilover"
    frame_m: Point | None = None
    axle_m: Point | None = None
    rate_n_per_m: Annotated[
        float, _n("Spring rate", "spring_rate", 2e3, 1e6, "Of the spring, or the main one of a dual rate.")
    ]
    second_n_per_m: (
        Annotated[float, _n("Tender rate", "spring_rate", 2e3, 1e6, "Of the upper spring of a dual rate.")] | None
    ) = None
    slider_m: (
        Annotated[
            float,
            _n("Slider stop", "length", 0.0, 1.0, "Compression of the upper spring at which the slider stops it."),
        ]
        | None
    ) = None
    solid_m: (
        Annotated[
            float,
            _n(
                "Coil bind",
                "length",
                0.01,
                1.5,
                "Length at which the coils touch, of all springs together, at the seats.",
            ),
        ]
        | None
    ) = None


class BagOutside(Frozen, frozen=True, kw_only=True):
    """How wide an air spring's body is at one height of it, from its record or a caliper."""

    id: Identifier
    height_m: Annotated[float, _n("Height", "length", 0.02, 1.2, "Between its mounting faces.")] | None = None
    outside_m: (
        Annotated[float, _n("Outside diameter", "length", 0.03, 0.6, "Widest, aired up, at that height.")] | None
    ) = None


class AirSpring(Frozen, frozen=True, kw_only=True):
    """An air spring between seats of its own; its pressure at ride follows from the load it carries. Not fixed below it
    leaves its seat past its longest, where fixed it would be torn."""

    frame_m: Point
    axle_m: Point
    diameter_m: Annotated[
        float,
        _n(
            "Effective diameter",
            "length",
            0.03,
            0.4,
            "At ride height: of the circle whose area times the pressure is its force.",
        ),
    ]
    volume_m3: Annotated[float, _n("Air volume", "volume", 5e-5, 0.1, "At ride height, its tank included.")]
    growth: Annotated[
        float,
        _n("Diameter grows", "number", -2.0, 2.0, "Effective diameter for a unit of bump: 0 for a straight piston."),
    ] = 0.0
    most_pa: (
        Annotated[float, _n("Most pressure", "pressure", 1e5, 3e6, "Gauge pressure it may see, from its record.")]
        | None
    ) = None
    shortest_m: (
        Annotated[float, _n("Shortest", "length", 0.02, 1.0, "Height at which it stands on itself or its inner stop.")]
        | None
    ) = None
    longest_m: (
        Annotated[float, _n("Longest", "length", 0.03, 1.2, "Height at which its bellows is stretched.")] | None
    ) = None
    fixed_below: bool = True
    outside: Annotated[tuple[BagOutside, ...], Meta(max_length=12)] = ()


class AntiRollBar(Frozen, frozen=True, kw_only=True):
    """A torsion bar across the vehicle with an arm at each end, linked to the axle (or the other way round). Arms
    without a section count as rigid.
    """

    od_m: Annotated[float, _n("Bar outside", "length", 0.005, 0.1, "Diameter of the bar.")]
    bore_m: Annotated[float, _n("Bar bore", "length", 0.0, 0.09, "Bore of a tube; 0 is solid.")] = 0.0
    length_m: Annotated[float, _n("Bar length", "length", 0.2, 2.0, "The part that twists, arm to arm.")]
    arm_m: Annotated[float, _n("Arm length", "length", 0.05, 0.8, "Square to the bar, its middle to the link's bolt.")]
    spread_m: Annotated[float, _n("Links apart", "length", 0.2, 2.0, "Between the bar's links at the axle.")]
    station_m: (
        Annotated[
            float,
            _n(
                "Bar's station",
                "length",
                -5.0,
                15.0,
                "Where the bar lies across the frame; empty: held against nothing.",
            ),
        ]
        | None
    ) = None
    height_m: (
        Annotated[float, _n("Bar's height", "length", 0.05, 2.5, "Its middle above the ground at ride height.")] | None
    ) = None
    arm_high_m: (
        Annotated[float, _n("Arm height", "length", 0.005, 0.15, "Section of the arm, in the way it bends.")] | None
    ) = None
    arm_thick_m: (
        Annotated[float, _n("Arm thickness", "length", 0.003, 0.1, "Section of the arm, along the bar.")] | None
    ) = None


class Stops(Frozen, frozen=True, kw_only=True):
    """Where travel ends at one side: free bump before the stop touches, how far it then gives, and droop at which a
    strap is tight.
    """

    bump_gap_m: (
        Annotated[float, _n("Free bump", "length", 0.0, 0.6, "Axle up from ride until the bump stop touches.")] | None
    ) = None
    bump_give_m: Annotated[float, _n("Stop gives", "length", 0.0, 0.2, "How far the stop compresses.")] = 0.02
    strap_m: (
        Annotated[
            float, _n("Strap tight at", "length", 0.0, 0.8, "Axle down from ride until the limit strap is tight.")
        ]
        | None
    ) = None


class SlipShaft(Frozen, frozen=True, kw_only=True):
    """A driveshaft that is at hand: the length of its slip spline, and either its length pushed all the way in or how
    much spline shows at a pose of which the length is known.
    """

    spline_m: Annotated[
        float, _n("Spline length", "length", 0.01, 0.8, "Length in mesh with the shaft pushed all the way in.")
    ]
    closed_m: (
        Annotated[
            float, _n("Closed length", "length", 0.1, 4.0, "Joint centre to joint centre, pushed all the way in.")
        ]
        | None
    ) = None
    showing_m: (
        Annotated[float, _n("Spline showing", "length", 0.0, 0.8, "Bare spline outside the sleeve at the pose said.")]
        | None
    ) = None
    shown_at: Literal["taped", "ride", "bump", "droop"] = "taped"
    taped_m: (
        Annotated[
            float, _n("Length taped", "length", 0.1, 4.0, "Joint centre to joint centre while that much spline showed.")
        ]
        | None
    ) = None


class Driveshaft(Frozen, frozen=True, kw_only=True):
    """The shaft between transfer case and pinion. ``yoke_rad`` is how far its two yokes are out of phase (of a
    two-piece shaft: the rear piece's).

    A two-piece shaft turns in a carrier bearing on the frame; ``carrier_m`` is the joint behind it, empty: half way
    at ride."""

    kind: Literal["single", "double_cardan", "two_piece"] = "single"
    carrier_m: Point | None = None
    tube_od_m: Annotated[float, _n("Shaft tube outside", "length", 0.02, 0.2, "Of the driveshaft tube.")] = 0.0762
    tube_wall_m: Annotated[
        float, _n("Shaft tube wall", "fine_length", 0.0008, 0.03, "Wall of the driveshaft tube.")
    ] = 0.0021
    joint_limit_rad: (
        Annotated[float, _n("Joint limit", "angle", 0.05, 1.2, "How far a joint bends before its yokes touch.")] | None
    ) = None
    spline_m: (
        Annotated[
            float, _n("Slip engaged at ride", "length", 0.0, 0.6, "Length of slip spline engaged at ride height.")
        ]
        | None
    ) = None
    spline_diameter_m: (
        Annotated[float, _n("Slip spline diameter", "length", 0.01, 0.12, "Outside of the slip spline.")] | None
    ) = None
    slip_in_m: (
        Annotated[
            float, _n("Slip left inward", "length", 0.0, 0.6, "How far it can still slide together at ride height.")
        ]
        | None
    ) = None
    in_hand: SlipShaft | None = None
    """The one that is there, in place of what shall be engaged at ride."""
    yoke_rad: Annotated[
        float, _n("Yokes out of phase", "angle", -1.6, 1.6, "0: both yokes of the shaft lie in one plane.")
    ] = 0.0
    wrap_rad: Annotated[
        float, _n("Pinion wrap allowed", "angle", 0.0, 0.2, "How far the pinion is set down for power.")
    ] = 0.026
