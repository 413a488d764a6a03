"""Seams on a housing: those the layout's tabs and pads make and those of one's own, cut up into beads."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.linkage.parts import PLATE, layout_parts
from stoutlink.core.analysis.linkage.weld_made import made_seams
from stoutlink.core.analysis.linkage.weld_seam import Seam
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.stations import Stations
from stoutlink.core.document.welding import SeamKind, WeldPlan
from stoutlink.core.quantity.constants import INCH

LONGEST: dict[SeamKind, float] = {
    "pad": 1.75 * INCH,
    "tab": 1.5 * INCH,
    "gusset": 1.25 * INCH,
    "truss": 2.75 * INCH,
    "guard": 2.25 * INCH,
    "casting": 2.0 * INCH,
    "end": 2.0 * INCH,
}
"""The longest bead by what it holds, m (common practice: the middle of what is usual)."""
PAD_EDGE = math.radians(60.0)
"""How far round from its middle a pad's edges sit on the tube (a guess; take the seam out and put your own in its place)."""
PAD_OVER = 0.5 * INCH
"""A pad is longer than the leaf is wide by this, m (common practice)."""
CASTING = 0.26
"""A casting along the housing where nobody measured it, m (a guess)."""
FACES_TO_ENDS = 0.30
"""Faces of both wheels together stand past the housing's ends by this where nobody measured it, m (a guess)."""
TOP, FRONT, BOTTOM, REAR = 0.0, 0.5 * math.pi, math.pi, 1.5 * math.pi


class Bead(Struct, frozen=True):
    """One bead: the ``number``-th of ``of`` along its seam, its middle, where it begins and ends along the housing, m."""

    id: str
    seam: Seam
    number: int
    of: int
    at: float
    around: float
    length: float

    @property
    def begins(self) -> float:
        """Its end nearer to the right, m."""
        return self.at - 0.5 * self.wide

    @property
    def ends(self) -> float:
        """Its end nearer to the left, m."""
        return self.at + 0.5 * self.wide

    @property
    def wide(self) -> float:
        """What it covers along the housing, m: its length, or across the tube its leg."""
        return self.length if self.seam.runs == "along" else self.seam.leg


class Housing(Struct, frozen=True):
    """The housing as the plan takes it, m: ``left`` and ``right`` end, ``inner_left`` and ``inner_right`` edge of the
    casting, all from the axle's middle, left +; ``proposed``: what of it nobody entered, in words."""

    od: float
    wall: float
    left: float
    right: float
    inner_left: float
    inner_right: float
    proposed: tuple[str, ...]

    def side(self, at: float) -> int:
        """0 for the left tube, 1 for the right, 2 for the casting."""
        return 0 if at > self.inner_left else 1 if at < self.inner_right else 2


def housing_of(plan: WeldPlan, donor: DonorAxle | None, stations: Stations | None, seat: float | None) -> Housing | str:
    """The housing a plan is for, or what is missing, in words. ``seat`` is the spacing of what sits on it, m."""
    od = plan.tube_od_m if plan.tube_od_m is not None else None if donor is None else donor.tube_od_m
    wall = plan.tube_wall_m if plan.tube_wall_m is not None else None if donor is None else donor.tube_wall_m
    if od is None or wall is None:
        return "the axle tube's outside" if od is None else "the axle tube's wall"
    if 2 * wall >= od:
        return "a tube whose wall is less than half its outside"
    proposed = []
    span = plan.span_m
    if span is None and stations is not None:
        read = [r.value_m for r in stations.readings if r.of == "span"]
        span = sum(read) / len(read) if read else None
    if span is None and donor is not None and donor.width_m is not None:
        span = donor.width_m - FACES_TO_ENDS
        proposed.append("its length by the wheel faces")
    if span is None and seat is not None:
        span = seat + 0.25
        proposed.append("its length by what sits on it")
    if span is None or span <= 0.1:
        return "the housing's length"
    casting = plan.casting_m
    if casting is None:
        casting = min(CASTING, 0.5 * span)
        proposed.append("the casting")
    middle = plan.offset_m
    if middle is None:
        middle = 0.0 if donor is None or donor.pinion_offset_m is None else donor.pinion_offset_m
        if donor is None or donor.pinion_offset_m is None:
            proposed.append("the casting's place")
    left, right = 0.5 * span, -0.5 * span
    inner = middle + 0.5 * casting, middle - 0.5 * casting
    if inner[0] > left - 0.03 or inner[1] < right + 0.03:
        return "a casting that leaves tube on both sides"
    return Housing(od, wall, left, right, *inner, tuple(proposed))


def layout_seams(project: Project, rig: Rig, layout: Layout | None, plan: WeldPlan, od: float) -> tuple[Seam, ...]:
    """Seams the layout makes on the tube: each tab's foot on both its sides, left and right, and the pads of leaves
    where none are on it, or their stations are being laid out (unless perches of one's own are made); and those of parts of one's own.
    """
    if layout is None:
        return made_seams(project, rig, None, plan.id, od)
    out: list[Seam] = list(made_seams(project, rig, layout, plan.id, od))
    tabs = {p.id: p for p in layout_parts(project, rig, layout)}
    for b in layout.brackets:
        tab = tabs.get(f"{layout.id}-{b.id}-tab")
        if tab is None or b.end != "axle" or b.mounted_on != "axle_tube":
            continue
        out += _tab_seams(project, rig, layout, b, tab.size("foot"), tab.size("weld"), tab.thickness, od)
    leaf = layout.leaf
    laid_out = any(s.id == layout.end for s in project.fabrication.stations)
    own = any(m.kind == "perch" and m.end == layout.end and m.seat == "housing" for m in project.fabrication.made_parts)
    if leaf is not None and not own and (leaf.pad_spacing_m is None or laid_out):
        long = leaf.width_m + PAD_OVER if plan.pad_long_m is None else plan.pad_long_m
        leg = PLATE if plan.pad_leg_m is None else plan.pad_leg_m
        middle = TOP if leaf.seat == "over" else BOTTOM
        for side, at in (("left", 0.5 * leaf.spacing_m), ("right", -0.5 * leaf.spacing_m)):
            for word, turn in (("rear", -PAD_EDGE), ("front", PAD_EDGE)):
                around = middle + turn if leaf.seat == "over" else middle - turn
                out.append(
                    Seam(
                        f"pad-{side}-{word}",
                        f"{side} pad, {word} edge",
                        "pad",
                        "along",
                        at,
                        around % (2 * math.pi),
                        long,
                        leg,
                        f"welding.{plan.id}.pad_long_m",
                    )
                )
    return tuple(out)


def _tab_seams(
    project: Project, rig: Rig, layout: Layout, b: Bracket, foot: float, leg: float, thick: float, od: float
) -> list[Seam]:
    """The welds of both tabs of a bracket: a tab across the tube has them in- and outboard, one along it front and rear."""
    link = layout.link(b.link)
    assert link is not None
    x, y, z = link.pivot(b.end)
    cx, _, cz = axle_centre(rig, layout.end)
    around = math.atan2(x - cx, z - cz) % (2 * math.pi)
    joint = project.joint(link.frame_end.joint if b.end == "frame" else link.axle_end.joint)
    body = 0.05 if joint is None or joint.body_od_m is None else joint.body_od_m
    gap = b.gap_m if b.gap_m is not None else body
    partner = layout.mirrored and layout.partner(link) is not None
    arc = od * math.asin(min(foot / od, 1.0))
    out = []
    for side in (1.0, -1.0) if partner else (1.0,):
        for k, tab in enumerate((0.5 * (gap + thick), -0.5 * (gap + thick)), 1):
            for face in (0.5 * thick, -0.5 * thick):
                off = tab + face
                word = "left" if side * y > 0 else "right"
                if b.plane == "side":
                    at, turn, runs, length = side * (y + off), around, "across", arc
                    which = "outboard" if face * y > 0 else "inboard"
                else:
                    at, turn, runs, length = side * y, around + off / (0.5 * od), "along", foot
                    which = "front" if face > 0 else "rear"
                of_two = ("outer" if (tab > 0) == (y > 0) else "inner") if b.plane == "side" else f"tab {k}"
                out.append(
                    Seam(
                        f"{b.id}-{word}-{k}-{which}",
                        f"{b.name}, {word}, {of_two} tab {which}"
                        if b.plane == "side"
                        else f"{b.name}, {of_two} {which}",
                        "tab",
                        "across" if runs == "across" else "along",
                        at,
                        turn % (2 * math.pi),
                        length,
                        leg,
                        f"layouts.{layout.id}.brackets.{b.id}.weld_m",
                    )
                )
    return out


def own_seams(plan: WeldPlan) -> tuple[Seam, ...]:
    """Seams of one's own."""
    return tuple(
        Seam(
            f"own-{s.id}",
            s.name,
            s.kind,
            s.runs,
            s.at_m,
            s.around_rad % (2 * math.pi),
            s.length_m,
            s.leg_m,
            f"welding.{plan.id}.seams.{s.id}.length_m",
        )
        for s in plan.seams
    )


def bead_count(length: float, longest: float) -> int:
    """Beads a seam takes, none longer than ``longest`` (both m, or both anything); a hair of rounding is forgiven.

    >>> bead_count(0.381, 0.0762), bead_count(15.0, 3.0), bead_count(15.1, 3.0)
    (5, 5, 6)
    """
    return max(1, math.ceil(length / longest - 1e-6))


def beads_of(seam: Seam, od: float) -> tuple[Bead, ...]:
    """A seam cut up into beads of one length. Along the tube they follow one another along it, across it round it."""
    n = bead_count(seam.length, LONGEST[seam.kind])
    long = seam.length / n
    out = []
    for k in range(n):
        off = (k + 0.5) * long - 0.5 * seam.length
        at, around = seam.at, seam.around
        if seam.runs == "along":
            at += off
        else:
            around += off / (0.5 * od)
        out.append(Bead(f"{seam.id}-{k + 1}", seam, k + 1, n, at, around % (2 * math.pi), long))
    return tuple(out)


def where(bead: Bead, housing: Housing) -> str:
    """Where a bead lies, in the shop's words: its quarter of the tube and its side."""
    side = ("left", "right", "on the casting")[housing.side(bead.at)]
    return f"{QUARTERS[quarter(bead.around)]}, {side}"


QUARTERS = ("top", "front", "bottom", "rear")


def quarter(around: float) -> int:
    """The quarter of the tube a bead lies in: 0 top, 1 front, 2 bottom, 3 rear."""
    return int(((around + 0.25 * math.pi) % (2 * math.pi)) / (0.5 * math.pi))
