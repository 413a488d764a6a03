"""Sideways: panhard, drag link beside it, arcs, bump steer, and the plan angles named exactly."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.canvas.plot import Plot
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.start_look import can_have_panhard, put_panhard
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.linkage.steering_geometry import BumpSteer
from stoutlink.core.analysis.linkage.steering_proposal import drag_link_beside
from stoutlink.core.document.headline import BEYOND, HEADLINES
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.layout_views import arc_shapes
from stoutlink.core.drawing.shapes import Shape, ViewName
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.shown import show, turned

CURVE = 120.0
"""Height of the bump steer curve, pixels."""


class SidewaysLook(LayoutLook):
    """What holds the axle sideways, and what that does to the steering."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "sideways", "Lateral location and bump steer", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        self.picture = Picture("sideways", "Panhard, drag link and angles", self)
        inside.addWidget(scrolled(self.picture, self), 1)
        row = QHBoxLayout()
        self.add, self.take = QPushButton("Add a drag link", self), QPushButton("Take the steering away", self)
        for one, name, tip, slot in (
            (
                self.add,
                "add_steering",
                "Laid beside the panhard, same hand, same slope; then drag its ends to where yours are.",
                self._add,
            ),
            (self.take, "take_steering", "The drag link leaves the drawing.", self._take),
        ):
            one.setObjectName(name)
            one.setToolTip(tip)
            one.setFont(font(9))
            one.clicked.connect(slot)
            row.addWidget(one)
        self.panhard = QPushButton("Add a panhard", self)
        self.panhard.setObjectName("sideways_panhard")
        self.panhard.setToolTip("Square across the rig beside the leaf springs.")
        self.panhard.setFont(font(9))
        self.panhard.clicked.connect(self._add_panhard)
        row.addWidget(self.panhard)
        row.addStretch(1)
        inside.addLayout(row)
        self.drawer = PathDrawer(workspace, "steering_drawer", 2, self)
        inside.addWidget(self.drawer)

    def prepare(self) -> None:
        layout = self.layout_shown
        steers = layout is not None and layout.end == "front"
        has = layout is not None and layout.steering is not None
        self.add.setVisible(steers and not has)
        self.take.setVisible(has)
        self.panhard.setVisible(can_have_panhard(layout))
        self.drawer.show_entries(_entries(layout) if layout is not None and has else ())
        assert self.theme is not None
        self.picture.show_with(self.theme, self._paint)

    def overlay(self, view: ViewName) -> list[Shape]:
        layout = self.layout_shown
        return arc_shapes(layout) if layout is not None and view == "rear" else []

    def _add(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.workspace.do(
                SetChoice(f"layouts.{layout.id}.steering", drag_link_beside(self.workspace.rig, layout), "steering")
            )

    def _add_panhard(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            put_panhard(self.workspace, layout)

    def _take(self) -> None:
        layout = self.layout_shown
        if layout is not None:
            self.views.select(None)
            self.workspace.do(SetChoice(f"layouts.{layout.id}.steering", None, "steering"))

    def _leaf_lines(self, layout: Layout, leaf: LeafAxle) -> list[tuple[str, str, str, str]]:
        """Panhard and drag link beside leaf springs."""
        unit, out = self.workspace.unit, []

        def across(a: Point, b: Point) -> tuple[float, str, str]:
            """Length between two points, and slope up to the second, seen from behind."""
            slope = math.atan2(b[2] - a[2], abs(b[1] - a[1]))
            return slope, show(math.dist(a, b), "length", unit), f"{math.degrees(slope):.1f}°".replace("-", "−")

        bar = next((x for x in layout.links if x.role == "panhard"), None)
        slopes = []
        if bar is None:
            out.append(
                (
                    "Held sideways",
                    "by the leaves",
                    "A panhard beside them is optional; its arc pulls on the springs.",
                    "",
                )
            )
        else:
            slope, length, words = across(bar.frame_pivot_m, bar.axle_pivot_m)
            slopes.append(slope)
            pull = leaf.panhard_pull or 0.0
            out += [
                ("Panhard between pivots", length, "Longer moves the axle less.", ""),
                ("Slope up to the axle end", words, "Level at ride does least harm.", ""),
                (
                    "Pulls against the leaves",
                    show(pull, "length", unit, decimals=3),
                    "The springs hold the axle already; its arc over the travel is bind.",
                    "torch" if pull > 0.006 else "",
                ),
            ]
        steering = layout.steering
        if steering is not None and steering.kind == "drag_link":
            slope, length, words = across(steering.pitman_m, steering.knuckle_m)
            slopes.append(slope)
            out += [
                ("Drag link between pivots", length, "Pitman arm to knuckle or tie rod.", ""),
                ("Slope up to the knuckle", words, "Beside a panhard: the same slope and length.", ""),
            ]
            travel = self.workspace.study.travel_known(layout.end)
            if travel is not None and travel.steer is not None:
                per = "inch" if unit == "in" else "25 mm"
                out.append(
                    (
                        f"Bump steer per {per}",
                        turned(travel.steer.per_step, 3),
                        "Half the change from 25 mm of droop to 25 mm of bump, on the path the leaves give the axle; more in Travel, Steering.",
                        "",
                    )
                )
            else:
                out.append(("Bump steer", "in Travel, Steering", "It takes the path the leaves give the axle.", ""))
        if len(slopes) == 2:
            apart = abs(slopes[0] - slopes[1])
            out.append(
                (
                    "Slopes differ by",
                    f"{math.degrees(apart):.1f}°",
                    "Panhard and drag link with one slope and length move the axle and the wheel alike (common practice).",
                    "torch" if apart > math.radians(3.0) else "",
                )
            )
        return out

    def _lines(self) -> list[tuple[str, str, str, str]]:
        """Word, value, hover, colour role."""
        layout, axle, unit = self.layout_shown, self.axle, self.workspace.unit
        motion = axle.motion
        if layout is not None and axle.leaf is not None:
            return self._leaf_lines(layout, axle.leaf)
        if layout is None or motion is None:
            return []
        out: list[tuple[str, str, str, str]] = []
        bar = self.axle.panhard

        def deg(v: float, d: int = 1) -> str:
            return f"{math.degrees(v):.{d}f}°".replace("-", "−")

        if bar is not None:
            share = bar.roll_centre / motion.rig.cg_height_m
            out += [
                (
                    "Panhard on the centreline",
                    show(bar.centre_height, "length", unit, decimals=1),
                    "Its height where it passes the vehicle's middle.",
                    "",
                ),
                (
                    "Roll centre it makes",
                    f"{show(bar.roll_centre, 'length', unit, decimals=1)}, {share:.2f} of CG"
                    if HEADLINES["roll_centre"].tells(share)
                    else BEYOND,
                    "Its centreline height carried along the roll axis to the axle.",
                    "",
                ),
                ("Slope up to the axle end", deg(bar.slope), "Level at ride does least harm.", ""),
                ("Between pivots", show(bar.length, "length", unit), "Longer moves the axle less.", ""),
                (
                    "Moves the axle sideways",
                    f"{show(bar.side_shift, 'length', unit, decimals=2)} over the travel",
                    "From full droop to full bump.",
                    "torch" if bar.side_shift > 0.015 else "",
                ),
            ]
        steer = axle.steer
        if steer is not None:
            per = "inch" if unit == "in" else "25 mm"
            bad = "torch" if any(f.code == "G230" for f in axle.findings) else ""
            out += [
                (
                    f"Bump steer per {per}",
                    turned(steer.heading_per_step, 3),
                    "Half the change from 25 mm of droop to 25 mm of bump; wheel to the left is +, the axle's own turn included.",
                    bad,
                ),
                (
                    "Knuckle against the axle",
                    turned(steer.delta_per_step, 3),
                    "The same, about the kingpin alone.",
                    "",
                ),
                (
                    "Largest over the travel",
                    f"{math.degrees(steer.largest):+.2f}° at {show(steer.largest_at, 'length', unit, decimals=1)}".replace(
                        "-", "−"
                    ),
                    "A small slope at ride with a large value here is a link of the wrong hand or length.",
                    bad,
                ),
                (
                    "Twitch at the steering wheel",
                    f"{math.degrees(steer.twitch):.1f}° per {per}",
                    "How far the steering wheel turns in your hands while the road wheels are kept straight; the sector shaft as Travel, Steering has it.",
                    "",
                ),
            ]
            if steer.match is not None:
                m = steer.match
                out.append(
                    (
                        "Drag link against panhard",
                        f"{show(abs(m.length_apart), 'length', unit)} {'longer' if m.length_apart > 0 else 'shorter'}, {abs(math.degrees(m.slope_apart)):.1f}° off, {'same hand' if m.same_hand else 'opposite hand'}",
                        "One length, one slope, one hand: both run the same arc (common practice).",
                        "" if m.same_hand else "torch",
                    )
                )
        elif layout.steering is not None:
            out.append(
                (
                    "Full hydraulic steering",
                    "no drag link, no bump steer",
                    "Generally not legal on public roads: ask your local code.",
                    "torch",
                )
            )
        for pair in motion.drawn.pairs:
            each = (
                deg(pair.left)
                if abs(pair.left - pair.right) < 1e-4
                else f"left {deg(pair.left)}, right {deg(pair.right)}"
            )
            out.append(
                (
                    f"{pair.role.capitalize()} links in plan",
                    f"each {each}, included {deg(pair.included)}",
                    "Each link against the centreline, and the angle between the two.",
                    "",
                )
            )
        if motion.drawn.pairs:
            out.append(
                (
                    "All pairs, included",
                    deg(motion.drawn.triangulation),
                    "Sum of the pairs' included angles: about 40° without a panhard is common practice; it does not see pairs that oppose each other.",
                    "",
                )
            )
        out.append(
            (
                "1 kN sideways at the axle",
                f"{motion.ride.lateral_hold:.2f} kN in the hardest worked link",
                "The number that sees everything: by statics, or by stiffness when there are more than four bars.",
                "",
            )
        )
        return out

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 2.0
        lines = self._lines()
        if not lines:
            flow(p, QRectF(6, 8, w - 12, 80), "Leaf springs hold this axle; see Leaves.", t.quiet, size=10)
            return
        if self.axle.steer is not None:
            self._curve(p, t, QRectF(0, y, w, CURVE), self.axle.steer)
            y += CURVE + 4
        for word, value, tip, colour in lines:
            text(p, QRectF(4, y, w * 0.43, 16), word, t.quiet, size=8.5, elide=True)
            text(
                p,
                QRectF(w * 0.44, y, w * 0.56 - 4, 16),
                value,
                t.torch if colour == "torch" else t.text,
                size=8.5,
                align="right",
                elide=True,
            )
            picture.hits.append(Hit(QRectF(0, y, w, 16), f"{word}: {value}. {tip}"))
            y += 17
        if picture.minimumHeight() != int(y + 4):
            picture.setMinimumHeight(int(y + 4))

    def _curve(self, p: QPainter, t: Theme, box: QRectF, steer: BumpSteer) -> None:
        """Heading of the wheel over bump and droop."""
        unit = self.workspace.unit
        scale = 1 / INCH if unit == "in" else 1000.0
        good = np.isfinite(steer.turn.heading)
        if good.sum() < 2:
            return
        x, y = steer.heave[good] * scale, np.degrees(steer.turn.heading[good])
        most = max(0.5, float(np.abs(y).max()) * 1.15)
        plot = Plot(
            QRectF(box.left() + 38, box.top() + 2, box.width() - 44, box.height() - 34),
            (float(x[0]), float(x[-1])),
            (-most, most),
        )
        plot.paint(p, t)
        p.setPen(QPen(t.edge, 1, Qt.PenStyle.DashLine))
        p.drawLine(plot.at(float(x[0]), 0.0), plot.at(float(x[-1]), 0.0))
        p.setPen(QPen(t.brass, 1.6))
        p.drawPolyline(QPolygonF([plot.at(float(a), float(b)) for a, b in zip(x, y, strict=True)]))
        text(
            p,
            QRectF(box.left() + 38, box.bottom() - 17, box.width() - 44, 15),
            f"wheel heading, ° left +, over droop and bump, {unit}",
            t.quiet,
            size=8,
            align="centre",
        )
        p.setPen(QPen(t.dye, 1))
        p.drawLine(QPointF(plot.x(0.0), plot.box.top()), QPointF(plot.x(0.0), plot.box.bottom()))

    def as_text(self) -> str:
        return "\n".join(f"{word}\t{value}" for word, value, _, _ in self._lines())


def _entries(layout: Layout) -> tuple[Entry, ...]:
    at = f"layouts.{layout.id}.steering"
    return (
        Entry(f"{at}.kind", "steering", "choice", (("drag_link", "drag link"), ("hydraulic", "full hydraulic"))),
        Entry(f"{at}.kingpin_in_rad", "kingpin leans in"),
        Entry(f"{at}.box_ratio", "box ratio"),
        Entry(f"{at}.pitman_arm_m", "pitman arm"),
        Entry(f"{at}.kingpin_m.1", "kingpin side"),
        Entry(f"{at}.kingpin_m.2", "kingpin height"),
        Entry(f"layouts.{layout.id}.caster_rad", "caster"),
    )
