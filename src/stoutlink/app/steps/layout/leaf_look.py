"""Leaves: the pack, its rate, wrap and pinion, perches and U-bolts, shackle through the travel."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.advice.hanging_rules import HANGER_AGREES, PADS_AGREE, PADS_OFF, STACK_AGREES
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.linkage.leaf_elsewhere import LEVEL, levelled, reused
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.leaf import Leaf
from stoutlink.core.drawing.layout_views import leaf_shapes
from stoutlink.core.drawing.shapes import Shape, ViewName
from stoutlink.core.editing.edits import ReplaceList
from stoutlink.core.quantity.shown import show

Say = Callable[..., str]
CAUTION = "Springs under load: chain the axle, stand clear of the leaf's ends. Pads and perches by a qualified welder."


class LeafLook(LayoutLook):
    """Numbers above, what they are made of below."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "leaf", "Leaf springs", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        self.picture = Picture("leaf_numbers", "Numbers of the leaf springs", self)
        inside.addWidget(scrolled(self.picture, self), 5)
        row = QHBoxLayout()
        for name, words, tip, slot in (
            ("add_leaf", "Another thickness", "A line for leaves of another thickness in the pack.", self._add),
            ("take_leaf", "One thickness less", "Take the last line of leaves away.", self._take),
        ):
            one = QPushButton(words, self)
            one.setObjectName(name)
            one.setToolTip(tip)
            one.setFont(font(8.5))
            one.setProperty("flat", True)
            one.clicked.connect(slot)
            row.addWidget(one)
        row.addStretch(1)
        inside.addLayout(row)
        self.drawer = PathDrawer(workspace, "leaf_drawer", 2, self, wide=88)
        self.parts = scrolled(self.drawer, self)
        inside.addWidget(self.parts, 4)

    def prepare(self) -> None:
        layout = self.layout_shown
        self.drawer.show_entries(_entries(layout) if layout is not None and layout.leaf is not None else ())
        assert self.theme is not None
        self.picture.show_with(self.theme, self._paint)

    def overlay(self, view: ViewName) -> list[Shape]:
        found = self.axle.leaf
        if found is None:
            return []
        return leaf_shapes(found, view, (-found.layout.droop_m, found.layout.bump_m)) if view == "side" else []

    def _add(self) -> None:
        layout = self.layout_shown
        if layout is not None and layout.leaf is not None:
            leaves = (*layout.leaf.leaves, Leaf(thickness_m=layout.leaf.leaves[-1].thickness_m, count=1))
            self.workspace.do(ReplaceList(f"layouts.{layout.id}.leaf.leaves", leaves, "Another thickness of leaf"))

    def _take(self) -> None:
        layout = self.layout_shown
        if layout is not None and layout.leaf is not None and len(layout.leaf.leaves) > 1:
            self.workspace.do(
                ReplaceList(f"layouts.{layout.id}.leaf.leaves", layout.leaf.leaves[:-1], "One thickness of leaf less")
            )

    def lines(self) -> list[tuple[str, str, str, bool]]:
        """Word, value, hover, whether it is out of what is wanted."""
        found = self.axle.leaf
        return [] if found is None else _lines(found, self.workspace)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 2.0
        rows = self.lines()
        tall = 16.0
        for word, value, tip, out in rows:
            text(p, QRectF(4, y, w * 0.40, tall), word, t.quiet, size=8.5, elide=True)
            text(
                p,
                QRectF(w * 0.40, y, w * 0.60 - 4, tall),
                f"{'▲ ' if out else ''}{value}",
                t.torch if out else t.text,
                size=8.5,
                align="right",
                elide=True,
            )
            picture.hits.append(Hit(QRectF(0, y, w, tall), f"{word}: {value}. {tip}"))
            y += tall
        y += flow(p, QRectF(4, y + 3, w - 8, 60), CAUTION, t.quiet, size=8) + 8
        if picture.minimumHeight() != int(y):
            picture.setMinimumHeight(int(y))

    def as_text(self) -> str:
        return "\n".join(f"{word}\t{value}" for word, value, _, _ in self.lines())


def _lines(a: LeafAxle, workspace: Workspace) -> list[tuple[str, str, str, bool]]:
    s, unit, leaf = workspace.project.settings, workspace.unit, a.leaf

    def size(v: float, d: int = 2) -> str:
        return show(v, "length", unit, decimals=d if unit == "in" else max(0, d - 1))

    def deg(v: float) -> str:
        return f"{math.degrees(v):.1f}°".replace("-", "−")

    rear = a.layout.end == "rear"
    nose = "up" if (a.wrap > 0) == rear else "down"
    school, height = s.thrust_school, s.height_school
    poses = [(word, a.pose(h)) for word, h in (("droop", -a.layout.droop_m), ("ride", 0.0), ("bump", a.layout.bump_m))]
    leans = ", ".join(
        f"{word} {deg(pose.shackle) if math.isfinite(pose.shackle) else 'out of reach'}" for word, pose in poses
    )
    out = [
        (
            "Rate, one spring",
            f"{show(a.halves.heave_rate, 'spring_rate', unit)} in heave, {show(a.halves.roll_rate, 'spring_rate', unit)} in roll",
            "In heave the housing tilts as it likes, in roll the tube holds it: roll is stiffer.",
            False,
        ),
        (
            "From",
            "the scales (measured)" if a.rate_measured else "the leaves",
            "A measured rate wins over the leaves.",
            False,
        ),
        (
            "Load at ride, from free",
            f"{show(a.load, 'force', unit)}, {size(a.load / a.halves.heave_rate)}",
            "Half of what this end carries, without the axle itself.",
            False,
        ),
        (
            "Stress, thickest leaf",
            f"{show(a.stress, 'stress', unit)} ride, {show(a.stress_bump, 'stress', unit)} bump",
            "Bending by the seat's load.",
            a.stress_bump > 1.1e9,
        ),
        (
            "Wrap at full throttle",
            f"{deg(abs(a.wrap))} nose {nose}, {deg(leaf.pinion_allowance_rad)} allowed",
            f"{show(a.thrust, 'force', unit)} of thrust on a wind-up rate of {show(a.halves.wind_up_rate * math.pi / 180, 'torque', unit)} a degree each.",
            abs(a.wrap) > leaf.pinion_allowance_rad,
        ),
        (
            "Set the pinion",
            f"{deg(a.layout.pinion_up)} up at ride, works at {deg(a.layout.pinion_up + (abs(a.wrap) if nose == 'up' else -abs(a.wrap)))}",
            "Where it stands, and where wrap at full throttle takes it.",
            False,
        ),
        (
            "Anti-squat, beam" if rear else "Anti-lift, beam",
            f"{a.drive_percent[school][height]:.0f} %".replace("-", "−"),
            "The seat on an arc of three quarters of the half with the fixed eye, and unequal halves' tilt (default school).",
            False,
        ),
        (
            "Front-eye school",
            "–" if a.eye_percent is None else f"at most {a.eye_percent[school][height]:.0f} %",
            "A rigid trailing arm from eye to tyre: an upper bound, quick to draw (common practice).",
            False,
        ),
        (
            "Axle path, fore and aft",
            f"{size(a.forward)} over the travel, {deg(a.pinion_change)} of tilt",
            "From full droop to full bump.",
            False,
        ),
        (
            "Shackle from upright",
            leans,
            "Lower end rearward is +.",
            any(not math.isfinite(p.shackle) or abs(p.shackle) > math.radians(75) for _, p in poses),
        ),
        *_perch_lines(a, size, deg),
        (
            "Roll centre",
            f"{size(a.roll_centre_line, 1)} eye to shackle, {size(a.roll_centre_leaf, 1)} at the leaf",
            f"Both schools, each ± {size(0.05, 1)} (from memory).",
            False,
        ),
    ]
    for word, bolt in (("U-bolt over the tube", a.u_bolt), ("U-bolt over the casting", a.u_bolt_casting)):
        if bolt is not None:
            out.append(
                (
                    word,
                    f"{size(bolt[0])} inside, leg {size(bolt[1])}",
                    "Leg from the inside of the bend: tube or casting, pad, block, pack, plate, washer, nut and three threads.",
                    False,
                )
            )
    out += _more_lines(a, workspace, size)
    pads = (
        "enter their spacing"
        if a.perch_apart is None
        else "as the springs"
        if abs(a.perch_apart) < PADS_AGREE
        else f"{size(abs(a.perch_apart), 3)} {'wider' if a.perch_apart > 0 else 'narrower'} than the springs"
    )
    out.append(
        (
            "Pads on the axle",
            pads,
            "Half the difference is off on each side. Round last.",
            a.perch_apart is not None and abs(a.perch_apart) > PADS_OFF,
        )
    )
    if a.panhard_pull is not None:
        out.append(
            (
                "Panhard against the leaves",
                f"pulls {size(a.panhard_pull, 3)}",
                "The springs hold the axle already; its arc is bind.",
                a.panhard_pull > 0.006,
            )
        )
    if abs(a.wrap) > leaf.pinion_allowance_rad:
        out.append(
            (
                "Hint",
                "a traction bar takes the torque off the leaves",
                "From the housing to the frame, pivoted so that it follows the axle's path.",
                False,
            )
        )
    return out


def _more_lines(a: LeafAxle, workspace: Workspace, size: Say) -> list[tuple[str, str, str, bool]]:
    """What levels the frame, and what these springs would do at the other end."""
    out, unit, level, there = [], workspace.unit, levelled(a), reused(a)
    if level is not None and abs(level.raise_by) > LEVEL:
        way = "up" if level.raise_by > 0 else "down"
        block = "no block does" if level.block is None else f"block {size(level.block, 3)}"
        rate = "no rate does" if level.rate is None else show(level.rate, "spring_rate", unit)
        out.append(
            (
                "Frame level",
                f"{size(abs(level.raise_by))} {way}: {block}, or {rate}",
                "To the frame's height over the other axle, by the ride heights in Rig: the block in all, or the rate of one spring of the same free arch. A load level is in Rig, Cases.",
                False,
            )
        )
    if there is not None:
        far = "rear" if a.layout.end == "front" else "front"
        out.append(
            (
                f"These springs at the {far}",
                f"{size(abs(there.lower))} {'lower' if there.lower > 0 else 'higher'}, {there.frequency:.2f} Hz",
                f"A spring stays the spring: {show(there.load, 'force', unit)} on each there against {show(a.load, 'force', unit)} and {there.frequency_here:.2f} Hz here. Options copies the pack to that axle.",
                False,
            )
        )
    return out


def _perch_lines(a: LeafAxle, size: Say, deg: Callable[[float], str]) -> list[tuple[str, str, str, bool]]:
    """What stack, shackle and centre pin do to height, pinion and wheelbase, before and after."""
    p, up, out = a.perch, a.layout.pinion_up, []

    def lifts(v: float) -> str:
        return f"{'lifts' if v > 0 else 'lowers'} {size(abs(v), 2)}"

    if p.seat is not None and p.lift is not None and p.other_lift is not None:
        out += [
            (
                "Main leaf by the stack",
                f"{size(p.seat)} up, {lifts(p.lift)} against {size(a.leaf.seat_z_m)} entered"
                if abs(p.lift) > STACK_AGREES
                else f"{size(p.seat)} up, as entered",
                "Tube, pad, block and pack as entered; where it differs from the height entered, the frame goes by as much.",
                abs(p.lift) > STACK_AGREES,
            ),
            (
                f"Spring {'under' if a.leaf.seat == 'over' else 'over'} the tube",
                f"{lifts(p.other_lift)}: {size(p.seat)} to {size(p.seat + p.other_lift)}",
                "With this pad, block and pack on the other side of the tube.",
                False,
            ),
        ]
    for word, one in (("Flipping the shackle", p.flipped), ("The other shackle", p.longer)):
        if one is not None:
            out.append(
                (
                    word,
                    f"{lifts(one.lift)}, pinion {deg(up)} to {deg(up + one.turn)}",
                    "At the axle, and the pinion before and after; then pick the shim.",
                    False,
                )
            )
    out.append(
        (
            "Hangers at",
            f"{size(p.fixed[0])}, {size(p.fixed[1])} up; shackle {size(p.pivot[0])}, {size(p.pivot[1])} up",
            "Station (rear axle 0, forward +) and height of the fixed eye and of the shackle's frame pivot, by length, arch and centre pin.",
            False,
        )
    )
    out.append(
        (
            "Shackle flipped, height kept",
            f"hanger at {size(p.flipped_pivot[0])}, {size(p.flipped_pivot[1])} up",
            "The other way up under the same eye: neither height nor pinion changes, the hanger on the frame is a new one.",
            False,
        )
    )
    if p.axle_off is not None and p.longer_wheelbase is not None:
        way = "longer" if p.longer_wheelbase > 0 else "shorter"
        out.append(
            (
                "On the hanger that exists",
                f"the axle stands {size(abs(p.axle_off))} {'forward' if p.axle_off > 0 else 'back'}, wheelbase {size(abs(p.longer_wheelbase))} {way}",
                "Against where the rig has the axle; the centre pin's offset evens it out.",
                abs(p.axle_off) > HANGER_AGREES,
            )
        )
    return out


def _entries(layout: Layout) -> tuple[Entry, ...]:
    at = f"layouts.{layout.id}.leaf"
    leaf = layout.leaf
    assert leaf is not None
    packs = [
        e
        for i in range(len(leaf.leaves))
        for e in (
            Entry(f"{at}.leaves.{i}.count", f"leaves, line {i + 1}"),
            Entry(f"{at}.leaves.{i}.thickness_m", "thick"),
        )
    ]
    yes_no = ((False, "no"), (True, "yes"))
    return (
        *packs,
        Entry(f"{at}.front_m", "front half"),
        Entry(f"{at}.rear_m", "rear half"),
        Entry(f"{at}.width_m", "leaf width"),
        Entry(f"{at}.measured_rate_n_per_m", "measured rate"),
        Entry(f"{at}.shape_factor", "stiffening"),
        Entry(f"{at}.clamp_m", "clamp"),
        Entry(f"{at}.seat", "spring", "choice", (("over", "over the tube"), ("under", "under the tube"))),
        Entry(f"{at}.reversed_shackle", "shackle in front", "choice", yes_no),
        Entry(f"{at}.flipped_shackle", "shackle stands", "choice", yes_no),
        Entry(f"{at}.front_eye_z_m", "front eye up"),
        Entry(f"{at}.rear_eye_z_m", "rear eye up"),
        Entry(f"{at}.seat_z_m", "leaf at seat up"),
        Entry(f"{at}.shackle_m", "shackle"),
        Entry(f"{at}.shackle_rad", "shackle lean"),
        Entry(f"{at}.spacing_m", "spring spacing"),
        Entry(f"{at}.pad_spacing_m", "pad spacing"),
        Entry(f"{at}.pin_offset_m", "pin offset"),
        Entry(f"{at}.block_m", "block"),
        Entry(f"{at}.block_nose_up_rad", "shim, nose up"),
        Entry(f"{at}.pad_m", "pad"),
        Entry(f"{at}.plate_m", "plate"),
        Entry(f"{at}.pinion_allowance_rad", "wrap allowed"),
        Entry(f"{at}.casting_width_m", "casting wide"),
        Entry(f"{at}.casting_height_m", "casting high"),
        Entry(f"{at}.planned_shackle_m", "another shackle"),
        Entry(f"{at}.hanger_x_m", "hanger exists at"),
        Entry(f"{at}.washer_m", "washer"),
        Entry(f"{at}.modulus_pa", "elastic modulus"),
        Entry(f"layouts.{layout.id}.pinion_up_rad", "pinion up"),
        Entry(f"{at}.u_bolt_m", "U-bolt"),
        Entry(f"{at}.u_bolt_pitch_m", "its pitch"),
    )
