"""Brackets: a row or a fan of holes for one pivot, and what has to fit into and onto it."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Name
from stoutlink.core.quantity.constants import INCH


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


MountedOn = Literal["rail_side", "rail_top_or_bottom", "tube", "axle_tube", "free"]
MOUNTED_WORDS: dict[MountedOn, str] = {
    "rail_side": "side of the frame rail", "rail_top_or_bottom": "top or bottom of the rail", "tube": "frame tube", "axle_tube": "axle tube", "free": "plate or truss",
}  # fmt: skip


class Bracket(Frozen, frozen=True, kw_only=True):
    """The holes of one pivot, the mirrored partner's with it. The pivot stands in hole ``hole``, counted from 1; the
    others follow from it.

    ``row``: holes ``pitch_m`` apart along ``angle_rad``, up from pointing forward in the side view (up from pointing
    left in the rear view for ``plane`` rear). ``fan``: holes ``pitch_m`` apart along an arc of ``radius_m`` about the
    link's other pivot's side, its tangent at hole 1 along ``angle_rad``. Sizes for the fit check may be unknown.
    """

    id: Identifier
    name: Name
    link: Identifier
    end: Literal["frame", "axle"]
    pattern: Literal["row", "fan"] = "row"
    plane: Literal["side", "rear"] = "side"
    holes: Annotated[int, _n("Holes", "count", 1, 12, "How many holes the bracket has.")] = 3
    hole: Annotated[int, _n("Hole in use", "count", 1, 12, "Counted from 1 along the row.")] = 1
    pitch_m: Annotated[float, _n("Hole pitch", "length", 0.005, 0.3, "From one hole's centre to the next.")] = INCH
    angle_rad: Annotated[
        float, _n("Row angle", "angle", -3.2, 3.2, "Which way the row runs from hole 1: 0 forward, 90° up.")
    ] = 1.5707963267948966
    radius_m: (
        Annotated[float, _n("Fan radius", "length", 0.02, 3.0, "From the middle of the fan's arc to its holes.")] | None
    ) = None
    mounted_on: MountedOn = "free"
    gap_m: (
        Annotated[float, _n("Gap between tabs", "length", 0.005, 0.3, "Inside of one tab to inside of the other.")]
        | None
    ) = None
    tab_m: Annotated[float, _n("Tab thickness", "length", 0.001, 0.05, "One tab.")] | None = None
    bolt_hole_m: Annotated[float, _n("Bolt hole", "length", 0.003, 0.06, "Diameter of the holes.")] | None = None
    edge_m: (
        Annotated[float, _n("Hole to edge", "length", 0.003, 0.2, "Hole centre to the nearest edge of the tab.")] | None
    ) = None
    reach_m: (
        Annotated[float, _n("Reach", "length", 0.0, 0.4, "From the face it is welded to, to the hole's centre.")] | None
    ) = None
    foot_m: (
        Annotated[
            float, _n("Foot", "length", 0.01, 0.6, "How much of the face it is welded to it takes, across the rail.")
        ]
        | None
    ) = None
    saddle_m: (
        Annotated[float, _n("Saddle diameter", "length", 0.02, 0.4, "Tube outside diameter it is notched for.")] | None
    ) = None
    nut_plate_m: (
        Annotated[float, _n("Nut plate", "length", 0.01, 0.3, "Width of a plate inside the rail that takes the bolts.")]
        | None
    ) = None
    weld_m: (
        Annotated[float, _n("Weld leg", "length", 0.001, 0.03, "Of the fillets along both sides of each tab's foot.")]
        | None
    ) = None
    bolt_length_m: Annotated[float, _n("Bolt length", "length", 0.01, 0.5, "Under the head to the end.")] | None = None
    bolt_grip_m: (
        Annotated[float, _n("Bolt grip", "length", 0.0, 0.5, "Plain shank under the head, without thread.")] | None
    ) = None
    bolt_yield_pa: (
        Annotated[
            float,
            _n("Bolt yield strength", "stress", 1e8, 2e9, "Empty: 895 MPa, a hardened bolt of the second best grade."),
        ]
        | None
    ) = None
    tab_yield_pa: (
        Annotated[float, _n("Tab yield strength", "stress", 1e8, 2e9, "Empty: 250 MPa, plain plate.")] | None
    ) = None
