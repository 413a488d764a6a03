"""A donor axle as a fabricator reads it off the axle or its plate."""

from __future__ import annotations

from typing import Annotated, Literal

import msgspec
from msgspec import Meta


class _Frozen(msgspec.Struct, frozen=True, forbid_unknown_fields=True, kw_only=True):
    pass


def _m(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


End = Literal["front", "rear"]
RootForm = Literal["45_flat", "30_flat", "30_fillet"]
Floating = Literal["semi", "full"]
Locker = Literal["open", "limited_slip", "automatic", "selectable", "spool"]
Basis = Literal["measured", "sheet", "claim", "estimated"]


class DonorAxle(_Frozen, frozen=True, kw_only=True):
    """One axle that could go under the rig; SI units, every optional field may be unknown.

    ``basis`` says where the record comes from: measured on the axle, from a sheet, a seller's claim, or estimated.
    """

    id: Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,47}$")]
    name: Annotated[str, Meta(min_length=1, max_length=120)]
    maker: Annotated[str, Meta(max_length=120)] = ""
    end: End
    weight_class: Literal["light", "middle", "heavy"] = "middle"
    spline_teeth: Annotated[int, _m("Spline teeth", "number", 8, 80, "Count the teeth on the inner shaft.")]
    spline_pitch_per_in: Annotated[
        float, _m("Spline pitch", "number", 2.5, 128.0, "Teeth per inch of pitch diameter; axle shafts are mostly 24.")
    ] = 24.0
    spline_root: RootForm = "45_flat"
    spline_major_diameter_m: Annotated[float, _m("Spline major diameter", "length", 0.01, 0.12, "Measured over the spline.")] | None = None
    neck_diameter_m: Annotated[float, _m("Shaft neck diameter", "length", 0.01, 0.12, "Thinnest place of the shaft.")] | None = None
    shaft_yield_pa: Annotated[float, _m("Shaft core yield strength", "stress", 1e8, 3e9, "Core strength, not the hard skin.")] = 900e6
    ring_teeth: Annotated[int, _m("Ring gear teeth", "number", 20, 90, "Count on the ring gear.")]
    pinion_teeth: Annotated[int, _m("Pinion teeth", "number", 5, 30, "Count on the pinion.")]
    ring_diameter_m: Annotated[float, _m("Ring gear diameter", "length", 0.1, 0.6, "Outside of the ring gear.")]
    pinion_height: Literal["high", "low"] = "low"
    cut: Literal["standard", "reverse"] = "standard"
    width_m: Annotated[float, _m("Width over wheel faces", "length", 0.8, 3.5, "Between the faces the wheels bolt to.")]
    bolt_count: Annotated[int, _m("Wheel bolts", "number", 3, 12, "Studs in one wheel.")]
    bolt_circle_m: Annotated[float, _m("Bolt circle", "length", 0.06, 0.5, "Diameter of the circle through the studs.")]
    tube_od_m: Annotated[float, _m("Axle tube outside diameter", "length", 0.03, 0.25, "Outside of the housing tube.")]
    tube_wall_m: Annotated[float, _m("Axle tube wall", "length", 0.002, 0.05, "Housing tube wall.")]
    pinion_offset_m: Annotated[
        float, _m("Pinion offset", "length", -0.8, 0.8, "Pinion left (+) or right (−) of the middle between the wheel faces.")
    ] = 0.0
    floating: Floating = "full"
    c_clips: bool = False
    locker: Locker = "open"
    hub_ratio: Annotated[float, _m("Hub ratio", "ratio", 0.5, 4.0, "1 without hub gears.")] = 1.0
    weight_kg: Annotated[float, _m("Axle weight", "mass", 10.0, 1500.0, "Complete without wheels.")]
    price: Annotated[str, Meta(max_length=40)] = ""
    basis: Basis = "sheet"
    notes: Annotated[str, Meta(max_length=400)] = ""

    @property
    def ratio(self) -> float:
        """Axle ratio from the tooth pair."""
        return self.ring_teeth / self.pinion_teeth
