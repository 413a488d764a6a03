"""The brakes as they will be: pedal, booster and master cylinder, what is at each end, valves, parking brake, fittings."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Name


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


Flare = Literal["unknown", "double", "bubble", "banjo", "an", "none"]
FLARE_WORDS: dict[Flare, str] = {
    "unknown": "not known", "double": "double flare 45°", "bubble": "bubble flare", "banjo": "banjo", "an": "single 37°", "none": "no flare",
}  # fmt: skip


class WheelBrake(Frozen, frozen=True, kw_only=True):
    """What brakes one axle; every field may be unknown. Of a disc A is one side's pistons; a drum has a brake factor."""

    kind: Literal["disc", "drum"] = "disc"
    piston_m: (
        Annotated[float, _n("Piston", "length", 0.01, 0.15, "Diameter of one piston, or of the wheel cylinder.")] | None
    ) = None
    pistons: Annotated[int, _n("Pistons a side", "count", 1, 8, "On one side of one caliper.")] = 1
    both_sides: bool = False
    """Pistons on both sides of the disc (a fixed caliper): they take twice the volume."""
    effective_m: (
        Annotated[
            float,
            _n("Effective radius", "length", 0.03, 0.3, "Axle centre to the middle of the pads; of a drum its radius."),
        ]
        | None
    ) = None
    friction: Annotated[
        float, _n("Lining's friction", "number", 0.1, 0.8, "From the pad's record; about 0.38 is common practice.")
    ] = 0.38
    factor: Annotated[
        float, _n("Brake factor", "number", 0.5, 8.0, "Of a drum: drag over shoe force, from its record.")
    ] = 2.2
    gap_m: Annotated[
        float, _n("Running gap", "fine_length", 0.0, 0.003, "Each piston moves so far until it presses.")
    ] = 0.0005


class Fitting(Frozen, frozen=True, kw_only=True):
    """One joint of the brake lines, from the frame's hard line to a wheel."""

    id: Identifier
    name: Name
    place: Literal["frame", "axle", "wheel", "master"] = "frame"
    tube_m: Annotated[float, _n("Tube", "fine_length", 0.002, 0.02, "Outside diameter of the tube.")] | None = None
    thread: Annotated[str, Meta(max_length=24)] = ""
    other_thread: Annotated[str, Meta(max_length=24)] = ""
    """Of what is screwed to it."""
    gender: Literal["male", "female"] | None = None
    flare: Flare = "unknown"
    other_flare: Flare = "unknown"
    line: Annotated[str, Meta(max_length=100)] = ""
    """The hose of a layout that ends here (layout and line with a point between), whose length the travel says."""
    condition: Literal["unknown", "good", "renew", "renewed"] = "unknown"
    bridge: Annotated[str, Meta(max_length=120)] = ""
    """What joins the two where they differ."""


class BrakeSystem(Frozen, frozen=True, kw_only=True):
    """The whole of it."""

    pedal_ratio: Annotated[float, _n("Pedal ratio", "number", 1.0, 12.0, "Foot's way over the rod's way.")] | None = (
        None
    )
    foot_n: Annotated[float, _n("Foot", "force", 10.0, 1500.0, "Force of the foot that is looked at.")] = 300.0
    boost: (
        Annotated[
            float, _n("Booster", "number", 1.0, 12.0, "Force out over force in, below its run-out; 1 without one.")
        ]
        | None
    ) = None
    master_m: Annotated[float, _n("Master cylinder", "length", 0.01, 0.06, "Its bore.")] | None = None
    stroke_front_m: (
        Annotated[
            float, _n("Stroke for the front", "length", 0.001, 0.08, "Of the part of a tandem that feeds the front.")
        ]
        | None
    ) = None
    stroke_rear_m: (
        Annotated[
            float, _n("Stroke for the rear", "length", 0.001, 0.08, "Of the part of a tandem that feeds the rear.")
        ]
        | None
    ) = None
    front: WheelBrake = WheelBrake()
    rear: WheelBrake = WheelBrake(kind="drum")
    knee_pa: (
        Annotated[
            float, _n("Valve's knee", "pressure", 0.0, 3e7, "Pressure from which the rear gets less; empty: no valve.")
        ]
        | None
    ) = None
    slope: Annotated[
        float,
        _n("Valve's slope", "number", 0.0, 1.0, "Rear pressure gained over front pressure gained, past the knee."),
    ] = 0.4
    grip: Annotated[float, _n("Grip", "number", 0.1, 1.2, "Of the tyres on the road that is looked at.")] = 0.8
    parking_end: Literal["front", "rear", "shaft"] = "rear"
    parking_nm: (
        Annotated[
            float, _n("Parking brake", "torque", 1.0, 50000.0, "What it holds at the wheels of its axle together.")
        ]
        | None
    ) = None
    grade: Annotated[float, _n("Slope to hold", "share", 0.01, 1.0, "Rise over run.")] = 0.2
    anti_lock_gone: bool = False
    valve_kept: bool = False
    """The old vehicle's own valve stays in the line."""
    fittings: Annotated[tuple[Fitting, ...], Meta(max_length=60)] = ()
