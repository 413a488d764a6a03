"""Parts of plate beside those a layout's brackets and leaves ask for: each of a kind, its sizes typed or proposed."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Identifier, Name, Point
from stoutlink.core.document.welding import SeamKind

PartKind = Literal[
    "gusset", "truss", "guard", "perch", "shock_mount", "bump_pad", "coil_seat", "hanger", "shackle", "carrier", "rail_plate", "frame_notch", "brace",
]  # fmt: skip
PART_KINDS: tuple[PartKind, ...] = (
    "gusset", "truss", "guard", "perch", "shock_mount", "bump_pad", "coil_seat", "hanger", "shackle", "carrier", "rail_plate", "frame_notch", "brace",
)  # fmt: skip
PART_WORDS: dict[PartKind, str] = {
    "gusset": "gusset", "truss": "truss plate", "guard": "guard", "perch": "spring perch", "shock_mount": "shock mount", "bump_pad": "bump pad",
    "coil_seat": "coil seat", "hanger": "spring hanger", "shackle": "shackle plate", "carrier": "bar carrier tab", "rail_plate": "rail plate",
    "frame_notch": "frame notch", "brace": "panhard brace",
}  # fmt: skip
SEAMS_AS: dict[PartKind, SeamKind] = {
    "truss": "truss",
    "guard": "guard",
    "perch": "pad",
    "shock_mount": "tab",
    "coil_seat": "pad",
    "carrier": "tab",
}
"""How its weld counts on a housing; as a gusset's where nothing else is said."""


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


class MadePart(Frozen, frozen=True, kw_only=True):
    """One such part. Sizes left empty are proposed; which of them a kind has, :mod:`..analysis.linkage.made_parts` says."""

    id: Identifier
    name: Name
    kind: PartKind
    end: Literal["front", "rear"]
    seat: Literal["housing", "frame"] = "housing"
    plane: Literal["side", "rear", "plan"] = "side"
    at_m: Point = (0.0, 0.0, 0.0)
    """Where the middle of its foot is on the rig at ride height, on the left where it is mirrored."""
    turn_rad: Annotated[
        float, _n("Turned", "angle", -3.2, 3.2, "In its plane, anticlockwise; 0 stands up, foot down.")
    ] = 0.0
    mirrored: bool = False
    count: Annotated[int, _n("How many", "count", 1, 20, "At one place.")] = 1
    thick_m: Annotated[float, _n("Plate", "fine_length", 0.001, 0.05, "Thickness.")] | None = None
    length_m: Annotated[float, _n("Length", "length", 0.01, 3.0, "Along its foot, or its longer way.")] | None = None
    height_m: Annotated[float, _n("Height", "length", 0.01, 1.5, "Off its foot, or its other way.")] | None = None
    hole_m: Annotated[float, _n("Hole", "length", 0.003, 0.3, "Diameter.")] | None = None
    edge_m: Annotated[float, _n("Hole to edge", "length", 0.003, 0.3, "Hole's middle to the edge.")] | None = None
    pitch_m: Annotated[float, _n("Pitch", "length", 0.01, 1.0, "From hole to hole.")] | None = None
    flange_m: Annotated[float, _n("Flange", "length", 0.003, 0.6, "Bent part, outside.")] | None = None
    bend_rad: Annotated[float, _n("Bend", "angle", 0.05, 2.3, "How far it is bent from flat.")] | None = None
    radius_m: Annotated[float, _n("Inner radius", "fine_length", 0.0005, 0.1, "Of the bend.")] | None = None
    clip_m: (
        Annotated[float, _n("Clip", "length", 0.0, 0.3, "What is cut off the corner, or its point's length.")] | None
    ) = None
    notch_m: Annotated[float, _n("Notch", "length", 0.01, 1.5, "How wide the arch or notch is.")] | None = None
    depth_m: Annotated[float, _n("Depth", "length", 0.0, 0.3, "How deep the arch or notch is.")] | None = None
    weld_m: Annotated[float, _n("Weld leg", "length", 0.001, 0.03, "Of the fillet along its foot.")] | None = None
