"""A layout: the bars that hang one axle, with their tubes and joints."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.anchor import Anchor
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.flex_line import FlexLine
from stoutlink.core.document.leaf import LeafSpring
from stoutlink.core.document.link_work import LINK_STAGES, LinkReading, LinkStage, is_cut, mean_length
from stoutlink.core.document.quantities import (
    Caster,
    Elevation,
    Frozen,
    Identifier,
    JointLength,
    Name,
    Point,
    Stiffness,
    TakeUp,
    Text,
    ThreadDiameter,
    ThreadPitch,
    TubeOd,
    TubeWall,
)  # fmt: skip
from stoutlink.core.document.springing import AirSpring, AntiRollBar, CarrySpring, Driveshaft, Shock, Stops
from stoutlink.core.document.steering import Steering

End = Literal["front", "rear"]
Kind = Literal[
    "double_triangulated_four_link",
    "single_triangulated_four_link",
    "parallel_four_link_panhard",
    "three_link_panhard",
    "radius_arms_panhard",
    "leaf",
    "free_bars",
]
Role = Literal["upper", "lower", "panhard", "arm"]
Side = Literal["left", "right", "centre"]
PivotEnd = Literal["frame", "axle"]
Material = Literal["steel", "steel_4130", "aluminium"]
MATERIAL_WORDS: dict[Material, str] = {"steel": "drawn steel", "steel_4130": "4130 steel", "aluminium": "aluminium"}


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


ONE_BOLT = 1e-6
"""Pivots of one end nearer than this, m, sit on one bolt (radius arms, wishbones)."""
KIND_NAMES = {
    "double_triangulated_four_link": "double triangulated four-link",
    "single_triangulated_four_link": "single triangulated four-link",
    "parallel_four_link_panhard": "parallel four-link with panhard",
    "three_link_panhard": "three-link with panhard",
    "radius_arms_panhard": "radius arms with panhard",
    "leaf": "leaf springs",
    "free_bars": "bars of any kind",
}


class Joint(Frozen, frozen=True, kw_only=True):
    """A link end as bought: threaded (diameter, pitch and hand given) or plain (welded on). An ``example`` has usual
    sizes and came with the program."""

    id: Identifier
    name: Name
    thread_diameter_m: ThreadDiameter | None = None
    thread_pitch_m: ThreadPitch | None = None
    hand: Literal["right", "left"] = "right"
    neck_m: JointLength = 0.0
    shank_m: JointLength = 0.0
    jam_nut_m: JointLength = 0.0
    stiffness_n_per_m: Stiffness | None = None
    kind: Literal["spherical", "bushing"] = "spherical"
    bolt_m: (
        Annotated[float, _n("Bolt", "length", 0.004, 0.06, "Bolt through the joint: the bore of its ball or sleeve.")]
        | None
    ) = None
    ball_width_m: (
        Annotated[
            float,
            _n("Ball or sleeve width", "length", 0.005, 0.2, "Face to face of what the bolt clamps, without spacers."),
        ]
        | None
    ) = None
    spacer_m: Annotated[
        float, _n("Misalignment spacer", "length", 0.0, 0.06, "Width of the spacer on each side of the ball.")
    ] = 0.0
    body_width_m: (
        Annotated[float, _n("Body width", "length", 0.005, 0.2, "Of the joint's body, along the bolt.")] | None
    ) = None
    body_od_m: (
        Annotated[float, _n("Body outside", "length", 0.01, 0.3, "Outside of the joint's body, across the bolt.")]
        | None
    ) = None
    misalignment_rad: (
        Annotated[
            float,
            _n("Misalignment", "angle", 0.0, 1.2, "How far it leans to each side before it binds, in its bracket."),
        ]
        | None
    ) = None
    rating_n: (
        Annotated[float, _n("Static rating", "force", 500.0, 5e6, "Radial load it carries, from its record.")] | None
    ) = None
    example: bool = False


class LinkEnd(Frozen, frozen=True, kw_only=True):
    """Which joint sits at this end and how far its centre stands off the tube face.

    ``bolt_lies``: the bolt is level and square to the link at ride height, or straight across or along the vehicle.
    """

    joint: Identifier
    take_up_m: TakeUp
    insert_od_m: (
        Annotated[float, _n("Insert outside", "length", 0.005, 0.2, "Of the weld-in thread insert.")] | None
    ) = None
    bore_m: (
        Annotated[
            float,
            _n(
                "Bore as measured",
                "length",
                0.002,
                0.2,
                "Inside of the tube at this end, seam dressed, both ways across.",
            ),
        ]
        | None
    ) = None
    insert_shoulder_m: Annotated[
        float,
        _n(
            "Insert shoulder",
            "length",
            0.0,
            0.1,
            "How far the insert's collar stands out of the tube; thread runs in it.",
        ),
    ] = 0.0
    bolt_lies: Literal["across_link", "across_vehicle", "along_vehicle"] = "across_link"
    bolt_turned_rad: Annotated[
        float,
        _n(
            "Bracket turned",
            "angle",
            -1.2,
            1.2,
            "The bolt turned in plan from how it lies, seen from above, left +: the joint's lean starts there.",
        ),
    ] = 0.0
    joint_set_rad: Annotated[
        float,
        _n(
            "Joint set at",
            "angle",
            -0.8,
            0.8,
            "Built-in angle of the joint's bore from square to the tube; 0 for a usual one.",
        ),
    ] = 0.0


class Link(Frozen, frozen=True, kw_only=True):
    """One bar between a frame pivot and an axle pivot, both in vehicle axes at ride height."""

    id: Identifier
    name: Name
    role: Role
    side: Side
    frame_pivot_m: Point
    axle_pivot_m: Point
    tube_od_m: TubeOd
    tube_wall_m: TubeWall
    material: Material = "steel"
    yield_pa: (
        Annotated[
            float, _n("Tube yield strength", "stress", 5e7, 3e9, "From its record; empty: the usual for its material.")
        ]
        | None
    ) = None
    bend_m: Annotated[
        float,
        _n(
            "Bend", "length", 0.0, 0.3, "How far the tube's middle lies off the line between its pivots; 0 is straight."
        ),
    ] = 0.0
    length_locked: bool = False
    in_hand_m: (
        Annotated[
            float,
            _n(
                "Length at hand",
                "length",
                0.05,
                4.0,
                "Pin to pin of a link you have, take-ups as typed; it is kept and not cut. Empty: to be cut.",
            ),
        ]
        | None
    ) = None
    stage: LinkStage = "planned"
    made_m: (
        Annotated[
            float,
            _n(
                "Pin to pin as cut",
                "length",
                0.05,
                4.0,
                "Between the joints at the take-ups typed, once the tube is cut.",
            ),
        ]
        | None
    ) = None
    readings: Annotated[tuple[LinkReading, ...], Meta(max_length=60)] = ()
    frame_end: LinkEnd
    axle_end: LinkEnd

    @property
    def read(self) -> tuple[float, float] | None:
        """Mean pin to pin and its 1 σ, m, of what was read at the latest stage it has come to that was read at."""
        done = LINK_STAGES[: LINK_STAGES.index(self.stage) + 1]
        cut = is_cut(self.stage)
        for stage in reversed(done):
            if cut and not is_cut(stage):
                return None
            found = mean_length(tuple(r for r in self.readings if r.stage == stage))
            if found is not None:
                return found
        return None

    @property
    def as_made(self) -> float | None:
        """Pin to pin of a link that is cut, m: as read off it, else as it was cut for."""
        if not is_cut(self.stage):
            return None
        return self.read[0] if self.read is not None else self.made_m

    @property
    def settled_m(self) -> float | None:
        """Pin to pin that the pivots no longer change, m: of a link at hand, as made, or measured for the cut."""
        if self.in_hand_m is not None:
            return self.in_hand_m
        if is_cut(self.stage):
            return self.as_made
        return None if self.read is None else self.read[0]

    def pivot(self, which: PivotEnd) -> Point:
        """The frame or the axle pivot."""
        return self.frame_pivot_m if which == "frame" else self.axle_pivot_m


BUMP = 0.15
"""Bump and droop of a new layout, m."""


class Layout(Frozen, frozen=True, kw_only=True):
    """Everything that hangs one axle; several layouts of one end may stand side by side.

    A leaf layout has its springs and may have bars besides (a panhard, a traction bar); every other kind has bars
    alone. ``spring_spacing_m`` is between the springs' lines of action at the axle, where it is not leaves that
    carry.
    """

    id: Identifier
    name: Name
    notes: Text = ""
    rejected: Annotated[str, Meta(max_length=400)] = ""
    """Why it is not to be built; empty while it may be."""
    end: End
    kind: Kind = "free_bars"
    mirrored: bool = True
    bump_m: Annotated[
        float, _n("Bump", "length", 0.01, 0.5, "How far up from ride height this axle is to be cycled, at its middle.")
    ] = BUMP
    droop_m: Annotated[
        float, _n("Droop", "length", 0.01, 0.5, "How far down from ride height this axle is to be cycled.")
    ] = BUMP
    pinion_up_rad: Elevation = 0.0
    caster_rad: Caster | None = None
    links: Annotated[tuple[Link, ...], Meta(max_length=24)]
    brackets: Annotated[tuple[Bracket, ...], Meta(max_length=48)] = ()
    anchors: Annotated[tuple[Anchor, ...], Meta(max_length=48)] = ()
    """Pivots that were put on a surveyed rail."""
    leaf: LeafSpring | None = None
    steering: Steering | None = None
    shock: Shock | None = None
    spring: CarrySpring | None = None
    air: AirSpring | None = None
    anti_roll_bar: AntiRollBar | None = None
    wanted_hz: Annotated[
        float,
        _n(
            "Frequency wanted",
            "number",
            0.5,
            4.0,
            "Of the sprung weight of this end, Hz: springs on offer are ranked by it.",
        ),
    ] = 1.3
    stops: Stops = Stops()
    driveshaft: Driveshaft | None = None
    lines: Annotated[tuple[FlexLine, ...], Meta(max_length=24)] = ()
    """Hoses, cables and wires that must reach over the travel."""
    spring_spacing_m: (
        Annotated[
            float,
            _n(
                "Spring spacing",
                "length",
                0.2,
                2.5,
                "Between the springs' lines of action at the axle; empty: three quarters of the track.",
            ),
        ]
        | None
    ) = None

    @property
    def pinion_up(self) -> float:
        """Pinion over level at ride, rad: as entered, and on leaves turned by the shim."""
        return self.pinion_up_rad + (self.leaf.block_nose_up_rad if self.leaf is not None else 0.0)

    @property
    def wrap_allowed(self) -> float:
        """How far the pinion is set off for wrap, rad: one number, the springs' own on leaves, else the driveshaft's."""
        return self.leaf.pinion_allowance_rad if self.leaf is not None else (self.driveshaft or Driveshaft()).wrap_rad

    def link(self, link_id: str) -> Link | None:
        """The bar with this id, or ``None``."""
        return next((one for one in self.links if one.id == link_id), None)

    def bracket(self, link_id: str, which: PivotEnd) -> Bracket | None:
        """The bracket of a pivot: its own, or that of a pivot that moves with it."""
        link = self.link(link_id)
        names = {name for name, _ in self.moved_with(link, which)} if link is not None else set()
        return next((b for b in self.brackets if b.link in names and b.end == which), None)

    def partner(self, link: Link) -> Link | None:
        """The mirrored counterpart of a left or right bar: the only one of its role on the other side, else the one
        whose id says so.
        """
        other = {"left": "right", "right": "left"}.get(link.side)
        if other is None:
            return None
        found = [one for one in self.links if one.role == link.role and one.side == other]
        alone = sum(one.role == link.role and one.side == link.side for one in self.links) == 1
        if len(found) == 1 and alone:
            return found[0]
        twin = link.id.replace(link.side, other)
        return next((one for one in found if one.id == twin and twin != link.id), None)

    def moved_with(self, link: Link, which: PivotEnd) -> tuple[tuple[str, float], ...]:
        """The pivots that are moved with one: links that share its bolt, and in a mirrored layout their partners;
        (link id, 1 or −1 for y).
        """
        out: dict[str, float] = {}
        at = link.pivot(which)
        for one in self.links:
            if one.id == link.id or math.dist(one.pivot(which), at) < ONE_BOLT:
                out[one.id] = 1.0
        for name in tuple(out) if self.mirrored else ():
            known = self.link(name)
            partner = self.partner(known) if known is not None else None
            if partner is not None:
                out.setdefault(partner.id, -1.0)
        return tuple(out.items())

    def pivots_apart(self) -> Iterator[tuple[Link, PivotEnd, tuple[tuple[str, float], ...]]]:
        """Every pivot that stands for itself, with all that moves with it (see :meth:`moved_with`); those that only
        follow are left out.
        """
        ends: tuple[PivotEnd, PivotEnd] = ("frame", "axle")
        seen: set[tuple[str, PivotEnd]] = set()
        for link in self.links:
            for which in ends:
                if (link.id, which) in seen:
                    continue
                together = self.moved_with(link, which)
                seen |= {(name, which) for name, _ in together}
                yield link, which, together
