"""Start from a kind: pivots that fit the surveyed rails and clear the solids, and switching kind with what carries
over.
"""

from __future__ import annotations

import math

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.linkage.many_layouts import Setting
from stoutlink.core.analysis.search.defaults import default_boxes, default_wants
from stoutlink.core.analysis.search.find import find_layouts
from stoutlink.core.analysis.survey.rail_at import rail_at
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import KIND_NAMES, End, Joint, Kind, Layout, Link, LinkEnd
from stoutlink.core.document.leaf import Leaf, LeafSpring
from stoutlink.core.document.link_defaults import BAR_TUBE, LOWER_TUBE, OPEN_JOINT, TAKE_UP, UPPER_TUBE
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.search import Search
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.constants import GRAVITY

STARTS: tuple[tuple[Kind, str, str], ...] = (
    ("double_triangulated_four_link", "Both pairs spread, no panhard.", "Holds the axle sideways by itself; wants room between the rails and over the axle."),
    ("single_triangulated_four_link", "Uppers spread, lowers straight.", "Lowers along the rails leave room for the exhaust; the uppers meet over the axle."),
    ("parallel_four_link_panhard", "Straight pairs and a panhard.", "Simple brackets, all links along the rails; the bushings must give in roll."),
    ("three_link_panhard", "One upper where there is room.", "Nothing binds, and the upper goes where the engine lets it; it alone takes the torque, the panhard the side."),
    ("radius_arms_panhard", "Two arms and a panhard.", "Few parts; each arm holds the axle by two bushings, so anti-numbers are high and roll is stiff."),
    ("leaf", "Locates and springs in one.", "Few parts and long known; watch the wrap under power."),
)  # fmt: skip
"""The kinds a layout can be started from, each with a few words and one sentence."""


CANNOT: dict[str, tuple[str, ...]] = {
    "radius_arms_panhard": ("pinion", "bind", "drive"),
    "parallel_four_link_panhard": ("bind",),
}
"""What a kind cannot bring into a band by where its pivots are: arms turn the pinion with the axle, parallel pairs
ask bushings to give.
"""


class Proposal(Struct, frozen=True):
    """A layout to start from, joints that have to come with it, and what could not be had, in words."""

    layout: Layout
    joints: tuple[Joint, ...]
    said: str


class _Frame(Struct, frozen=True):
    """The rig as the templates take it: +1 or −1 toward its middle, axle centre, track, rail half spread and height
    at a station.
    """

    project: Project
    rig: Rig
    end: End

    @property
    def toward(self) -> float:
        return 1.0 if self.end == "rear" else -1.0

    @property
    def centre(self) -> tuple[float, float, float]:
        return axle_centre(self.rig, self.end)

    @property
    def track(self) -> float:
        return self.rig.end(self.end).track_m

    def at(self, along: float) -> float:
        """Station a part of the wheelbase from the axle toward the middle."""
        return self.centre[0] + self.toward * along * self.rig.wheelbase_m

    def rail(self, x: float) -> tuple[float, float]:
        found = rail_at(self.project, x)
        if found is not None:
            return found
        wide = self.rig.body.frame(self.end)
        return (0.5 * wide if wide is not None else 0.26 * self.track), self.centre[2] + 0.22


def propose(project: Project, rig: Rig, end: End, kind: Kind, layout_id: str, name: str = "") -> Proposal:
    """A layout of a kind on this rig, brought into the wanted bands and clear of the solids as far as that goes;
    deterministic, under two seconds.
    """
    frame = _Frame(project, rig, end)
    joint, extra = _joint(project)
    title = name or f"{end.capitalize()} {KIND_NAMES[kind]}"
    if kind == "leaf":
        layout = Layout(
            id=layout_id, name=title, end=end, kind="leaf", links=(), leaf=_leaf(frame), pinion_up_rad=_pinion(frame)
        )
        return Proposal(layout, (), "")
    links = tuple(_link(*row, joint=joint) for row in _rows(frame, kind))
    caster = 0.1 if end == "front" else None
    layout = Layout(
        id=layout_id, name=title, end=end, kind=kind, links=links, pinion_up_rad=_pinion(frame), caster_rad=caster
    )
    better, said = _brought_in(project, rig, layout, tuple(one.id for one in links), extra)
    return Proposal(better, extra, said)


def with_panhard(project: Project, rig: Rig, layout: Layout) -> Proposal:
    """The layout with a panhard beside what hangs it, square to the rig, level at the axle's height plus what the tube
    takes; as it is where it has one."""
    if any(one.role == "panhard" for one in layout.links):
        return Proposal(layout, (), f"{layout.name} has a panhard already.")
    frame, (joint, extra) = _Frame(project, rig, layout.end), _joint(project)
    row = next(row for row in _rows(frame, "three_link_panhard") if row[1] == "panhard")
    bar = _link(*row, joint=joint)
    return Proposal(msgspec.structs.replace(layout, links=(*layout.links, bar)), extra, "")


def switched(project: Project, rig: Rig, old: Layout, kind: Kind) -> Proposal:
    """The same layout as another kind: links of one role and side keep pivots, tubes, joints and brackets; only the
    new ones are placed and fitted in.
    """
    fresh = propose(project, rig, old.end, kind, old.id, old.name)
    kept: list[str] = []
    links = []
    for link in fresh.layout.links:
        same = next(
            (one for one in old.links if (one.role, one.side) == (link.role, link.side) and link.role != "arm"), None
        )
        if same is None:
            links.append(link)
            continue
        kept.append(link.id)
        links.append(msgspec.structs.replace(same, id=link.id))
    names = {(one.role, one.side): one.id for one in links}
    brackets = []
    for bracket in old.brackets:
        was = old.link(bracket.link)
        now = names.get((was.role, was.side)) if was is not None else None
        if now is not None and now in kept:
            brackets.append(msgspec.structs.replace(bracket, link=now))
    layout = msgspec.structs.replace(
        fresh.layout,
        name=old.name,
        notes=old.notes,
        pinion_up_rad=old.pinion_up_rad,
        caster_rad=old.caster_rad,
        steering=old.steering,
        mirrored=old.mirrored,
        links=tuple(links),
        brackets=tuple(brackets),
        spring_spacing_m=old.spring_spacing_m,
    )
    new = tuple(one.id for one in links if one.id not in kept)
    if kind == "leaf" or not new or not kept:
        return Proposal(layout, fresh.joints, fresh.said)
    better, said = _brought_in(project, rig, layout, new, fresh.joints)
    return Proposal(better, fresh.joints, said)


def _brought_in(
    project: Project, rig: Rig, layout: Layout, free: tuple[str, ...], extra: tuple[Joint, ...]
) -> tuple[Layout, str]:
    """The layout after a short search that moves only the links in ``free``."""
    known = with_parts(project, joints=(*project.linkage.joints, *extra))
    boxes = tuple(b for b in default_boxes(known, layout) if b.id.rpartition(":")[0] in free)
    wants = tuple(w for w in default_wants(known, layout) if w.id not in CANNOT.get(layout.kind, ()))
    pinion = next((w.high for w in wants if w.id == "pinion"), math.inf)
    wants = tuple(msgspec.structs.replace(w, high=max(w.high, START_PINION)) if w.id == "pinion" else w for w in wants)
    search = Search(id=layout.end, boxes=boxes, wants=wants)
    try:
        found = find_layouts(Setting.of(known, rig, layout), search, rounds=1, most=1, ask_relax=False)
    except StoutError as why:
        return layout, why.sentence
    if found.answers:
        turns = found.answers[0].values.get("pinion", 0.0)
        said = f"The pinion turns {turns:.1f}° over the travel; up to {pinion:.0f}° is wanted, and Find looks for that."
        return found.answers[0].layout, said if turns > pinion else ""
    if found.nearest is None:
        return layout, "The pivots are where such layouts usually have them; they were not fitted to the targets."
    missed = [name.replace("_", " ") for name, off in found.nearest.missed.items() if off > 0]
    return found.nearest.layout, f"Near these pivots not every target can be met; still out: {', '.join(missed)}."


START_PINION = 10.0
"""Pinion change over the travel a start may have, degrees: with much anti-squat the side-view centre is near and less is
seldom to be had without giving up another number (estimate); what is more than wanted is said.
"""
Row = tuple[str, str, str, Point, Point, tuple[float, float]]


def _rows(f: _Frame, kind: Kind) -> list[Row]:
    """Links of a kind as (id, role, side, frame pivot, axle pivot, tube), where such layouts usually have them
    (common practice, in parts of the rig).
    """
    s, (xc, _, r), t = f.toward, f.centre, f.track
    low_x, up_x = f.at(0.37), f.at(0.33)
    rail_low, rail_up = f.rail(low_x), f.rail(up_x)
    belly = f.rig.stance.belly_wanted_m or 0.0
    seat, top = r - 0.03, r + 0.28
    low_z = max(belly + 0.03, r + 0.06)
    up_z = _upper_height(f, low_z, seat, top)
    upper_spread = _pair("upper", (up_x, rail_up[0], up_z), (xc + s * 0.03, 0.07 * t, top), UPPER_TUBE)
    straight = _pair(
        "lower", (low_x, rail_low[0], low_z), (xc + s * 0.03, max(0.29 * t, rail_low[0]), seat), LOWER_TUBE
    )
    bar_x = xc - s * 0.10
    bar = ("panhard", "panhard", "centre", (bar_x, 0.28 * t, r + 0.24), (bar_x, -0.27 * t, r + 0.18), BAR_TUBE)
    if kind == "double_triangulated_four_link":
        return [
            *upper_spread,
            *_pair("lower", (low_x, 0.5 * rail_low[0], low_z), (xc + s * 0.03, 0.33 * t, seat), LOWER_TUBE),
        ]
    if kind == "single_triangulated_four_link":
        return [*upper_spread, *straight]
    if kind == "parallel_four_link_panhard":
        return [
            *_pair("upper", (up_x, rail_up[0], up_z), (xc + s * 0.03, rail_up[0], top - 0.06), UPPER_TUBE),
            *straight,
            bar,
        ]
    if kind == "radius_arms_panhard":
        return [
            *_pair("arm", (low_x, rail_low[0], low_z), (xc + s * 0.10, rail_low[0], r + 0.05), LOWER_TUBE, "_near"),
            *_pair("arm", (low_x, rail_low[0], low_z), (xc - s * 0.05, rail_low[0], r - 0.07), LOWER_TUBE, "_far"),
            bar,
        ]
    side = _upper_side(f)
    y, name = 0.17 * t * side, "left" if side > 0 else "right"
    one = ("upper", "upper", name, (up_x, 0.9 * y, up_z), (xc + s * 0.02, y, r + 0.24), UPPER_TUBE)
    return [*straight, one, bar]


def _upper_height(f: _Frame, low_z: float, seat: float, top: float) -> float:
    """Where the uppers' frame end makes the middle of the wanted band: both side-view lines meet on the force line
    (Gillespie, ch. 7).
    """
    band = next((w for w in default_wants(f.project, _nothing(f.end)) if w.id == "drive"), None)
    middle = 50.0 if band is None else 0.5 * (band.low + band.high)
    reach, along = 0.33 * f.rig.wheelbase_m, 0.37 * f.rig.wheelbase_m
    force = middle / 100.0 * f.rig.cg_height_m / f.rig.wheelbase_m
    lower = (low_z - seat) / along
    if force - lower < 0.05:
        return low_z + 0.17
    meet = seat / (force - lower)
    return min(max(top + (force * meet - top) * reach / meet, low_z + 0.14), top + 0.12)


def _nothing(end: End) -> Layout:
    return Layout(id="x", name="x", end=end, links=())


def _upper_side(f: _Frame) -> float:
    """A single upper goes to the side away from the transfer case's output and its driveshaft."""
    train = f.rig.drivetrain
    out = train.output(f.end)
    y = out[1] if out is not None else {"left": 0.1, "right": -0.1}.get(train.output_side, 0.1)
    return -1.0 if y > 0 else 1.0


def _pair(role: str, frame: Point, axle: Point, tube: tuple[float, float], tail: str = "") -> list[Row]:
    return [
        (f"{role}_{side}{tail}", role, side, (frame[0], k * frame[1], frame[2]), (axle[0], k * axle[1], axle[2]), tube)
        for side, k in (("left", 1.0), ("right", -1.0))
    ]


def _link(name: str, role: str, side: str, frame: Point, axle: Point, tube: tuple[float, float], *, joint: str) -> Link:
    words = {"centre": ""}.get(side, f"{side} ")
    tail = {"_near": ", inner bushing", "_far": ", outer bushing"}.get(name[name.rfind("_") :], "")
    end = LinkEnd(joint=joint, take_up_m=TAKE_UP, bolt_lies="along_vehicle" if role == "panhard" else "across_link")
    return Link(
        id=name,
        name=f"{words}{role}{tail}".capitalize(),
        role=role,  # type: ignore[arg-type]
        side=side,  # type: ignore[arg-type]
        frame_pivot_m=_rounded(frame),
        axle_pivot_m=_rounded(axle),
        tube_od_m=tube[0],
        tube_wall_m=tube[1],
        frame_end=end,
        axle_end=end,
    )


def _rounded(p: Point) -> Point:
    return round(p[0], 4), round(p[1], 4), round(p[2], 4)


def _joint(project: Project) -> tuple[str, tuple[Joint, ...]]:
    """A joint of the project to start with, else one not chosen yet that comes along."""
    threaded = next((j for j in project.linkage.joints if j.thread_diameter_m is not None), None)
    if threaded is not None:
        return threaded.id, ()
    known = project.joint(OPEN_JOINT.id)
    return OPEN_JOINT.id, () if known is not None else (OPEN_JOINT,)


def _pinion(f: _Frame) -> float:
    """The pinion at the transfer case's output where that is known, else 4° up."""
    out = f.rig.drivetrain.output(f.end)
    if out is None:
        return 0.07
    return round(math.atan2(out[2] - f.centre[2], abs(out[0] - f.centre[0])), 3)


def _leaf(f: _Frame) -> LeafSpring:
    """Springs over the tube under the rails, with leaves enough to carry the load on a tenth of a metre or so."""
    donor = f.project.donor(f.end)
    r = f.centre[2]
    tube = donor.tube_od_m if donor is not None and donor.tube_od_m is not None else 0.08
    rail = f.rail(f.centre[0])
    spacing = donor.seat_spacing_m if donor is not None and donor.seat_spacing_m is not None else 2 * rail[0]
    front, rear = (0.60, 0.70) if f.end == "rear" else (0.55, 0.62)
    load = 0.5 * f.rig.mass_kg * GRAVITY * load_share(f.rig, f.end)
    count = max(3, min(9, round(load / 1100.0)))
    seat = r + tube / 2 + 0.01 + count * 0.007 - 0.0035
    return LeafSpring(
        spacing_m=round(spacing, 4),
        front_m=front,
        rear_m=rear,
        width_m=0.0635,
        leaves=(Leaf(thickness_m=0.007, count=count),),
        front_eye_z_m=round(seat + 0.03, 4),
        rear_eye_z_m=round(seat + 0.05, 4),
        seat_z_m=round(seat, 4),
    )
