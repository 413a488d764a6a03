"""A layout: the bars that hang one axle, with their tubes and joints."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

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

End = Literal["front", "rear"]
Kind = Literal[
    "double_triangulated_four_link",
    "single_triangulated_four_link",
    "parallel_four_link_panhard",
    "three_link_panhard",
    "radius_arms_panhard",
    "free_bars",
]
Role = Literal["upper", "lower", "panhard", "arm"]
Side = Literal["left", "right", "centre"]
PivotEnd = Literal["frame", "axle"]
KIND_NAMES = {
    "double_triangulated_four_link": "double triangulated four-link",
    "single_triangulated_four_link": "single triangulated four-link",
    "parallel_four_link_panhard": "parallel four-link with panhard",
    "three_link_panhard": "three-link with panhard",
    "radius_arms_panhard": "radius arms with panhard",
    "free_bars": "bars of any kind",
}


class Joint(Frozen, frozen=True, kw_only=True):
    """A link end as bought: threaded (diameter, pitch and hand given) or plain (welded on)."""

    id: Identifier
    name: Name
    thread_diameter_m: ThreadDiameter | None = None
    thread_pitch_m: ThreadPitch | None = None
    hand: Literal["right", "left"] = "right"
    neck_m: JointLength = 0.0
    shank_m: JointLength = 0.0
    jam_nut_m: JointLength = 0.0
    stiffness_n_per_m: Stiffness | None = None


class LinkEnd(Frozen, frozen=True, kw_only=True):
    """Which joint sits at this end and how far its centre stands off the tube face."""

    joint: Identifier
    take_up_m: TakeUp


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
    material: Literal["steel", "aluminium"] = "steel"
    frame_end: LinkEnd
    axle_end: LinkEnd

    def pivot(self, which: PivotEnd) -> Point:
        """The frame or the axle pivot."""
        return self.frame_pivot_m if which == "frame" else self.axle_pivot_m


class Layout(Frozen, frozen=True, kw_only=True):
    """All bars of one axle; several layouts of one end may stand side by side."""

    id: Identifier
    name: Name
    notes: Text = ""
    end: End
    kind: Kind = "free_bars"
    mirrored: bool = True
    pinion_up_rad: Elevation = 0.0
    caster_rad: Caster | None = None
    links: Annotated[tuple[Link, ...], Meta(min_length=1, max_length=24)]

    def link(self, link_id: str) -> Link | None:
        """The bar with this id, or ``None``."""
        return next((one for one in self.links if one.id == link_id), None)

    def partner(self, link: Link) -> Link | None:
        """The mirrored counterpart of a left or right bar, if there is exactly one."""
        other = {"left": "right", "right": "left"}.get(link.side)
        found = [one for one in self.links if one.role == link.role and one.side == other]
        return found[0] if len(found) == 1 and self._alone(link) else None

    def _alone(self, link: Link) -> bool:
        return sum(one.role == link.role and one.side == link.side for one in self.links) == 1
