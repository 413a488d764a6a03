"""The tape survey: readings as they were taken, where the tape lay, and what is in the way.

Nothing here is in vehicle axes except solids: a reading stays a reading, and one transform (:class:`Datum`) turns a
whole survey into vehicle axes (analysis does that).
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import (
    Angle,
    Clearance,
    Coordinate,
    Frozen,
    Identifier,
    LevelShift,
    Name,
    PartDiameter,
    Point,
    TapeDeviation,
    TapeReading,
    Text,
)  # fmt: skip

PointKind = Literal["rail", "cross_member", "tower", "axle", "other"]
Across = Literal["full", "left", "right", "middle"]
LengthEdge = Literal["centre", "near", "far"]
HeightEdge = Literal["centre", "top", "bottom"]
AcrossEdge = Literal["centre", "outside", "inside"]
SolidKind = Literal[
    "transfer_case",
    "driveshaft",
    "engine_sump",
    "exhaust",
    "fuel_tank",
    "floor",
    "cross_member",
    "steering_box",
    "room_kept",
    "other",
]
SOLID_NAMES: dict[SolidKind, str] = {
    "transfer_case": "transfer case", "driveshaft": "driveshaft", "engine_sump": "engine sump", "exhaust": "exhaust", "fuel_tank": "fuel tank",
    "floor": "floor", "cross_member": "cross-member", "steering_box": "steering box", "room_kept": "room kept for a part not yet fitted", "other": "other",
}  # fmt: skip
KIND_NAMES = {
    "rail": "frame rail",
    "cross_member": "cross-member",
    "tower": "tower or bracket",
    "axle": "point on the axle",
    "other": "other",
}


class Reading(Frozen, frozen=True, kw_only=True):
    """One reading of the tape, m, with the text as typed."""

    value_m: TapeReading
    text: Annotated[str, Meta(max_length=40)] = ""


Readings = Annotated[tuple[Reading, ...], Meta(max_length=24)]


class SurveyPoint(Frozen, frozen=True, kw_only=True):
    """One place along the tape. Any of its readings may be missing or repeated.

    ``across`` says what the sideways reading is: ``full`` width left to right of a mirrored pair, or the offset of
    one side (``left``, ``right``) from the centreline; ``middle``: on the centreline, nothing to read. Edges: a
    reading of an edge of a round part (``diameter_m``) or a rail (its width) plus half of it gives the hidden centre;
    ``near`` is the edge toward the tape's zero. ``angle_rad`` is the slope of the part there, nose up, from the angle
    finder.
    """

    id: Identifier
    name: Annotated[str, Meta(max_length=80)] = ""
    kind: PointKind = "rail"
    across: Across = "full"
    station: Readings = ()
    height: Readings = ()
    side: Readings = ()
    station_edge: LengthEdge = "centre"
    height_edge: HeightEdge = "centre"
    side_edge: AcrossEdge = "centre"
    diameter_m: PartDiameter | None = None
    angle_rad: Angle | None = None
    station_sigma_m: TapeDeviation | None = None
    height_sigma_m: TapeDeviation | None = None
    side_sigma_m: TapeDeviation | None = None


class Datum(Frozen, frozen=True, kw_only=True):
    """Where the tape lay: its zero in vehicle x, which way stations grow, how the frame stood, and the centreline used.

    ``front_rise_m`` and ``rear_rise_m``: how far the frame at the front and rear axle goes *up* from where it was
    measured to ride height (0 at ride height, negative when measured on stands, the bump travel when measured at full
    bump). Axle points are not moved by them. ``zero_sigma_m`` is the 1 σ of the tape's zero, which moves every
    station.
    """

    zero_x_m: Coordinate = 0.0
    direction: Literal["forward", "rearward"] = "forward"
    stood: Literal["ride", "bump", "stands"] = "ride"
    front_rise_m: LevelShift = 0.0
    rear_rise_m: LevelShift = 0.0
    centre_offset_m: LevelShift = 0.0
    zero_sigma_m: TapeDeviation = 0.003


class Survey(Frozen, frozen=True, kw_only=True):
    """One session with the tape."""

    id: Identifier
    name: Name
    notes: Text = ""
    datum: Datum = Datum()
    points: Annotated[tuple[SurveyPoint, ...], Meta(max_length=5000)] = ()

    def point(self, point_id: str) -> SurveyPoint | None:
        """The point with this id."""
        return next((p for p in self.points if p.id == point_id), None)


class BoxSolid(Frozen, frozen=True, kw_only=True, tag_field="shape", tag="box"):
    """A box between two corners in vehicle axes."""

    id: Identifier
    name: Name
    kind: SolidKind
    low_m: Point
    high_m: Point
    clearance_m: Clearance = 0.02


class TubeSolid(Frozen, frozen=True, kw_only=True, tag_field="shape", tag="tube"):
    """A round tube along a path of straight pieces."""

    id: Identifier
    name: Name
    kind: SolidKind
    path_m: Annotated[tuple[Point, ...], Meta(min_length=2, max_length=400)]
    diameter_m: PartDiameter
    clearance_m: Clearance = 0.02


class OutlineSolid(Frozen, frozen=True, kw_only=True, tag_field="shape", tag="outline"):
    """A flat closed outline (from a DXF, or drawn) in one view, with thickness from ``low_m`` to ``high_m`` across it.

    ``view`` side: outline (x, z), thickness in y; plan: outline (x, y), thickness in z; rear: outline (y, z),
    thickness in x.
    """

    id: Identifier
    name: Name
    kind: SolidKind
    view: Literal["side", "plan", "rear"]
    outline_m: Annotated[tuple[tuple[Coordinate, Coordinate], ...], Meta(min_length=3, max_length=4000)]
    low_m: Coordinate
    high_m: Coordinate
    clearance_m: Clearance = 0.02


OwnCoordinate = Annotated[
    float,
    Meta(
        title="Of its own",
        description="In the axes of the file it came from.",
        ge=-200.0,
        le=200.0,
        extra={"kind": "length"},
    ),
]
OwnPoint = tuple[OwnCoordinate, OwnCoordinate, OwnCoordinate]
Direction = Annotated[float, Meta(ge=-1.0001, le=1.0001)]
HalfSize = Annotated[float, Meta(ge=1e-5, le=200.0)]


class SolidPiece(Frozen, frozen=True, kw_only=True):
    """A convex piece in the axes of the file it came from: a bar of half sizes along ``first``, ``second`` and what is square to both, or a drum
    about ``first`` (half its width, its radius twice)."""

    kind: Literal["bar", "drum"] = "bar"
    centre_m: OwnPoint
    first: tuple[Direction, Direction, Direction]
    second: tuple[Direction, Direction, Direction]
    half_m: tuple[HalfSize, HalfSize, HalfSize]


class OwnAnchor(Frozen, frozen=True, kw_only=True):
    """A point of it whose place is known: ``own_m`` in its file's axes, ``at_m`` in vehicle axes."""

    id: Identifier
    own_m: OwnPoint
    at_m: Point


class MeshSolid(Frozen, frozen=True, kw_only=True, tag_field="shape", tag="mesh"):
    """Something drawn elsewhere and taken in as convex pieces, placed by points of it whose places are known: turned and moved, never stretched."""

    id: Identifier
    name: Name
    kind: SolidKind
    pieces: Annotated[tuple[SolidPiece, ...], Meta(min_length=1, max_length=200)]
    anchors: Annotated[tuple[OwnAnchor, ...], Meta(min_length=3, max_length=12)]
    clearance_m: Clearance = 0.02


Solid = BoxSolid | TubeSolid | OutlineSolid | MeshSolid
