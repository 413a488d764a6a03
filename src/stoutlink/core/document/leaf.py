"""A leaf spring pack as it is measured off the spring and the frame; one side, the other is its mirror image."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class Leaf(Frozen, frozen=True, kw_only=True):
    """Leaves of one thickness in the pack, and how many."""

    thickness_m: Annotated[float, _n("Leaf thickness", "fine_length", 0.002, 0.04, "Of one leaf, with the caliper.")]
    count: Annotated[int, _n("Leaves", "count", 1, 16, "How many of this thickness.")] = 1


class LeafSpring(Frozen, frozen=True, kw_only=True):
    """Springs of one axle. Heights are above the ground at ride height, on the main leaf's middle line.

    ``front_m`` and ``rear_m`` run along the flattened main leaf from the eyes' centres to the seat's centre (centre
    pin), from which and the arch follows where the eyes stand; ``clamp_m`` is the clamped length between the U-bolts that does not bend but is lever still, half of it each side. The shackle hangs at the rear, or at the front when ``reversed_shackle``. ``shackle_rad`` is the
    shackle's lean from vertical at ride, lower end rearward +.
    """

    spacing_m: Annotated[float, _n("Spring spacing", "length", 0.3, 2.0, "Left to right, middle to middle.")]
    front_m: Annotated[
        float, _n("Front half", "length", 0.15, 1.5, "Front eye to centre pin, along the flattened main leaf.")
    ]
    rear_m: Annotated[
        float, _n("Rear half", "length", 0.15, 1.5, "Centre pin to rear eye, along the flattened main leaf.")
    ]
    width_m: Annotated[float, _n("Leaf width", "length", 0.02, 0.2, "Across one leaf.")]
    leaves: Annotated[tuple[Leaf, ...], Meta(min_length=1, max_length=12)]
    shape_factor: Annotated[
        float,
        _n("Stiffening factor", "number", 1.0, 1.5, "1 for leaves cut to a triangle, 1.5 for full-length leaves."),
    ] = 1.15
    clamp_m: Annotated[
        float,
        _n("Inactive clamp", "length", 0.0, 0.4, "Length between the U-bolts that cannot bend; 0 takes nothing off."),
    ] = 0.0
    modulus_pa: Annotated[float, _n("Elastic modulus", "stress", 1e11, 3e11, "Spring steel, 207 GPa from memory.")] = (
        207e9
    )
    measured_rate_n_per_m: (
        Annotated[
            float, _n("Measured rate", "spring_rate", 2e3, 1e6, "One spring, on the scales; wins over the leaves.")
        ]
        | None
    ) = None
    seat: Literal["over", "under"] = "over"
    reversed_shackle: bool = False
    front_eye_z_m: Annotated[
        float, _n("Front eye height", "length", 0.1, 2.5, "Centre of the front eye above the ground at ride height.")
    ]
    rear_eye_z_m: Annotated[
        float, _n("Rear eye height", "length", 0.1, 2.5, "Centre of the rear eye above the ground at ride height.")
    ]
    seat_z_m: Annotated[
        float,
        _n("Main leaf at the seat", "length", 0.1, 2.5, "Middle of the main leaf over the seat, above the ground."),
    ]
    shackle_m: Annotated[float, _n("Shackle length", "length", 0.03, 0.5, "Pivot to pivot.")] = 0.1
    shackle_rad: Annotated[
        float, _n("Shackle lean", "angle", -1.4, 1.4, "From vertical at ride height, lower end rearward +.")
    ] = 0.3
    flipped_shackle: bool = False
    pin_offset_m: Annotated[
        float, _n("Centre pin offset", "length", -0.3, 0.3, "Axle centre ahead of the centre pin, by seat or pad.")
    ] = 0.0
    pad_spacing_m: (
        Annotated[
            float,
            _n(
                "Pad spacing",
                "length",
                0.3,
                2.0,
                "Between the pads on the axle, middle to middle; empty: not welded yet.",
            ),
        ]
        | None
    ) = None
    block_m: Annotated[float, _n("Block", "length", 0.0, 0.25, "Between spring and seat.")] = 0.0
    block_nose_up_rad: Annotated[
        float,
        _n(
            "Block or shim angle",
            "angle",
            -0.3,
            0.3,
            "How far a shim or tapered block turns the pinion up (+) or down (−), from where the pads alone hold it.",
        ),
    ] = 0.0
    pad_m: Annotated[
        float, _n("Pad thickness", "length", 0.0, 0.1, "From the tube to the spring's seat, without block.")
    ] = 0.01
    plate_m: Annotated[float, _n("U-bolt plate", "length", 0.0, 0.05, "Thickness.")] = 0.01
    casting_height_m: (
        Annotated[
            float,
            _n("Casting height", "length", 0.03, 0.4, "Where one side's U-bolts go over the casting, not the tube."),
        ]
        | None
    ) = None
    casting_width_m: (
        Annotated[
            float,
            _n("Casting width", "length", 0.03, 0.4, "Fore and aft, where the U-bolts go over it."),
        ]
        | None
    ) = None
    planned_shackle_m: (
        Annotated[
            float,
            _n("Another shackle", "length", 0.03, 0.5, "A length to try: what it lifts and turns is said."),
        ]
        | None
    ) = None
    hanger_x_m: (
        Annotated[
            float,
            _n("Hanger that exists", "length", -5.0, 15.0, "Station of a fixed eye's hanger already on the frame."),
        ]
        | None
    ) = None
    u_bolt_m: Annotated[float, _n("U-bolt thread", "length", 0.006, 0.03, "Diameter.")] = 0.0142875
    u_bolt_pitch_m: Annotated[float, _n("U-bolt pitch", "length", 0.0005, 0.004, "Travel for one turn of the nut.")] = (
        0.00141
    )
    washer_m: Annotated[float, _n("Washer", "length", 0.0, 0.02, "Thickness under the nut.")] = 0.003
    pinion_allowance_rad: Annotated[
        float, _n("Pinion allowance", "angle", 0.0, 0.3, "How far the pinion is set down for wrap under power.")
    ] = 0.0349
