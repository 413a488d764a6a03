"""Fit-up: the axle under this rig to scale, from the front and its driveshaft from above, with the numbers on the
drawing.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QCheckBox, QWidget

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.picture import Picture, dimension, flow, text
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.advice.shaft_words import regions_words
from stoutlink.core.analysis.swap.bolt_circles import circles_differ
from stoutlink.core.analysis.swap.fit_up import FitUp, plan_angle_words
from stoutlink.core.analysis.swap.narrowed import Narrowing
from stoutlink.core.drawing.donor_view import axle_front, fitted_front
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.quantity.shown import show

W, H = 84, 22
SPOTS = (
    ("rig.body.fender_{e}_m", "over fenders", 0.5, 20), ("rig.body.frame_{e}_m", "over frame or springs", 0.5, 64), ("rig.{e}.rim_width_m", "rim width", 0.075, 20),
    ("rig.{e}.wheel_offset_m", "wheel offset", 0.075, 64), ("rig.{e}.adapter_m", "adapter a side", 0.075, 108), ("{e}_plan.width_m", "wanted width", 0.925, 20),
)  # fmt: skip
PARKING = {
    None: "not known",
    "drum_cable": "by drums",
    "caliper_cable": "by calipers",
    "in_hat_cable": "by a drum in the disc",
    "none": "none",
}
HOW_WORDS = {"none": "stays", "spline": "cut", "respline": "splined again", "custom": "ordered", "unknown": "not known"}


class FitLook(DonorLook):
    """Front elevation above, driveshaft from above at the lower left, narrowing at the lower right."""

    takes = ("stance",)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "fit", "Fit-up", parent)
        self.picture = Picture("fit_picture", "Fit-up", self)
        self.fields: list[QuantityField] = []
        self.centre = QCheckBox("bring the pinion to the middle", self)
        self.centre.setObjectName("centre_pinion")
        self.centre.setToolTip("Take more off one side, so that the pinion ends up in the middle.")
        self.centre.clicked.connect(lambda on: self._set("centre_pinion", on))
        self.shaved = QCheckBox("shave the housing", self)
        self.shaved.setObjectName("shaved")
        self.shaved.setToolTip("Count what may be cut off the bottom of the housing.")
        self.shaved.clicked.connect(lambda on: self._set("shaved", on))
        self.measured = QCheckBox("track as measured", self)
        self.measured.setObjectName("track_measured")
        self.measured.setToolTip(
            "Let the rig's measured track count, not the one this axle gives with wheels and adapters."
        )
        self.measured.clicked.connect(self._track_from)
        for box in (self.centre, self.shaved, self.measured):
            box.setFont(font(9))
        self.found: FitUp | None = None
        self.narrowed: Narrowing | None = None

    def _set(self, name: str, on: bool) -> None:
        if self.donor is not None:
            self.workspace.do(SetChoice(f"{self.donor.end}_plan.{name}", on, name.replace("_", " ")))

    def _track_from(self, measured: bool) -> None:
        if self.donor is not None:
            value = "measured" if measured else "axle"
            self.workspace.do(SetChoice(f"rig.{self.donor.end}.track_from", value, "where the track is from"))

    def prepare(self) -> None:
        w, donor = self.workspace, self.donor
        self.found = self.narrowed = None
        for widget in (self.centre, self.shaved):
            widget.setVisible(donor is not None)
        if donor is not None:
            plan = w.project.plan(donor.end)
            for i, (path, caption, *_) in enumerate(SPOTS):
                full = path.format(e=donor.end)
                if i >= len(self.fields):
                    field = QuantityField(w, full, self, title=caption[:1].upper() + caption[1:])
                    field.setFixedSize(W, H)
                    field.setFont(font(9))
                    self.fields.append(field)
                elif self.fields[i].path != full:
                    self.fields[i].set_path(full)
                self.fields[i].refresh()
            self.found = w.study.fit_up(donor)
            if plan.width_m is not None:
                self.narrowed = w.study.narrowed(donor)
            self.centre.setChecked(plan.centre_pinion)
            self.shaved.setChecked(plan.shaved)
            self.shaved.setEnabled(donor.shave_m is not None)
            self.measured.setChecked(w.project.rig.end(donor.end).track_from == "measured")
        for field in self.fields:
            field.setVisible(donor is not None)
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)
        self._arrange()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._arrange()

    def _arrange(self) -> None:
        self.picture.setGeometry(0, 0, self.width(), self.height())
        for field, (_, _, x, y) in zip(self.fields, SPOTS, strict=False):
            field.move(max(6, min(self.width() - W - 6, int(x * self.width() - W / 2))), y)
            field.raise_()
        self.centre.setGeometry(int(0.53 * self.width()), self._split() + 6, 230, 24)
        self.shaved.setGeometry(6, 136, 150, 24)
        self.measured.setGeometry(6, 160, 150, 24)
        self.measured.raise_()
        self.centre.raise_()
        self.shaved.raise_()

    def _split(self) -> int:
        return int(0.57 * self.height())

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        f, donor = self.found, self.donor
        if f is None or donor is None:
            text(
                p,
                QRectF(30, 30, picture.width() - 60, 40),
                "Pick a candidate at the left.",
                t.quiet,
                size=11,
                align="centre",
            )
            return
        rig = self.workspace.rig
        wheel = rig.end(donor.end)
        split = self._split()
        widest = max(2 * ((f.drawn_middle or 0.75) + wheel.tread / 2), rig.body.fender(donor.end) or 0.0, 1.7)
        scale = min((picture.width() - 230) / widest, (split - 156) / (wheel.loaded + wheel.free))
        frame = Frame(QPointF(picture.width() / 2, split - 54), scale)
        paint(p, fitted_front(f, wheel, rig.body), frame, t)
        other = self.workspace.project.donor("rear" if donor.end == "front" else "front")
        if other is not None and other.width_m is not None:
            paint(p, axle_front(other, wheel.loaded, ghost=True)[:1], frame, t)
        self._dimensions(p, t, f, frame, wheel.loaded)
        for field, (_, caption, _, _) in zip(self.fields, SPOTS, strict=False):
            text(p, QRectF(field.x() - 40, field.y() - 14, W + 80, 13), caption, t.quiet, size=8, align="centre")
        text(
            p,
            QRectF(picture.width() - 260, 50, 250, 15),
            f"to scale, from {'behind' if donor.end == 'rear' else 'the front'}",
            t.quiet,
            size=8,
            align="right",
        )
        if f.tyre_middle is None:
            words = "wheel offset not known: enter it for poke, room and lock; tyres drawn from the faces out"
            text(p, QRectF(picture.width() - 246, 64, 236, 46), words, t.quiet, size=8, align="right", wrap=True)
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(10, split), QPointF(picture.width() - 10, split))
        self._below(p, t, f, split + 8)
        self._narrow(
            p,
            t,
            QRectF(0.53 * picture.width(), split + 34, 0.47 * picture.width() - 10, picture.height() - split - 190),
        )

    def _dimensions(self, p: QPainter, t: Theme, f: FitUp, frame: Frame, z: float) -> None:
        unit = self.workspace.unit
        if f.width is not None:
            half = f.width / 2
            dimension(
                p,
                t,
                frame.at((-half, 0)) + QPointF(0, 20),
                frame.at((half, 0)) + QPointF(0, 20),
                f"{show(f.width, 'length', unit)} over wheel faces",
            )
        if f.tyre_outside is not None:
            dimension(
                p,
                t,
                frame.at((-f.tyre_outside, 0)) + QPointF(0, 40),
                frame.at((f.tyre_outside, 0)) + QPointF(0, 40),
                f"{'≈ ' if f.about else ''}{show(2 * f.tyre_outside, 'length', unit)} over the tyres",
            )
        if f.under_housing is not None:
            from_ = -(f.donor.pinion_offset_m or 0.0) if f.donor.end == "rear" else (f.donor.pinion_offset_m or 0.0)
            about = "≈ " if f.below_assumed else ""
            sure = 2 * self.workspace.study.donor_sure(f.donor)["ground_clearance"]
            dimension(
                p,
                t,
                frame.at((from_, 0.0)),
                frame.at((from_, f.under_housing)),
                f"{about}{show(f.under_housing, 'length', unit, decimals=1)} ± {show(sure, 'length', unit, decimals=1)} under the housing",
            )
        if f.poke is not None and f.tyre_outside is not None:
            at = frame.at((f.tyre_outside, z + 0.62))
            colour = t.torch if f.poke > 0.003 else t.text
            words = f"{'▲ ' if f.poke > 0.003 else ''}{'≈ ' if f.about else ''}{show(abs(f.poke), 'length', unit)} {'outside' if f.poke > 0 else 'inside'} the fender"
            text(p, QRectF(at.x() - 80, max(90.0, at.y() - 34), 200, 15), words, colour, size=9, bold=f.poke > 0.003)

    def _below(self, p: QPainter, t: Theme, f: FitUp, y: float) -> None:
        unit, donor, rig = self.workspace.unit, f.donor, self.workspace.rig
        other = self.workspace.project.donor("rear" if donor.end == "front" else "front")
        lines: list[tuple[str, bool]] = []
        if f.room_at_lock is not None and f.lock is not None:
            assumed = " (assumed)" if f.lock_assumed else ""
            lines.append(
                (
                    f"At {math.degrees(f.lock):.0f}° lock{assumed}: {show(f.room_at_lock, 'length', unit)} between tyre and frame",
                    f.room_at_lock < 0.025,
                )
            )
        elif f.lock is not None and f.tyre_middle is not None and donor.kingpin_inset_m is None:
            lines.append(("Measure the kingpin inset to see the tyre at lock", False))
        elif f.room_straight is not None:
            lines.append(
                (f"{show(f.room_straight, 'length', unit)} between tyre and frame or springs", f.room_straight < 0.025)
            )
        if f.backspacing is not None:
            lines.append((f"Backspacing {show(f.backspacing, 'length', unit)}", False))
        if f.wider_than_other is not None and abs(f.wider_than_other) > 0.002:
            words = "wider" if f.wider_than_other > 0 else "narrower"
            spacer = f"; {show(abs(f.wider_than_other) / 2, 'length', unit)} a side evens it out"
            lines.append(
                (f"{show(abs(f.wider_than_other), 'length', unit)} {words} than the other axle{spacer}", False)
            )
        side = f"Pinion {f.pinion_side}, transfer case output {f.output_side}"
        lines.append((side, donor.end == "front" and {f.pinion_side, f.output_side} == {"left", "right"}))
        if f.shaft_length is not None and f.shaft_angle is not None and f.shaft_plan_angle is not None:
            lines.append(
                (
                    f"Driveshaft, first estimate: {show(f.shaft_length, 'length', unit)} between joints, {math.degrees(f.shaft_angle):.0f}° at the output; seen from above {plan_angle_words(f.shaft_plan_angle)}",
                    f.shaft_angle > math.radians(20),
                )
            )
        else:
            lines.append(
                ("Driveshaft: place the output (Rig, drivetrain) and measure the snout to see length and angle", False)
            )
        if donor.bolt_count is not None and donor.bolt_circle_m is not None:
            circle = f"Wheel bolts {donor.bolt_count} on {show(donor.bolt_circle_m, 'length', unit)}"
            if other is not None and other.bolt_count is not None and other.bolt_circle_m is not None:
                circle += f"; the other axle {other.bolt_count} on {show(other.bolt_circle_m, 'length', unit)}"
            lines.append(
                (
                    circle,
                    other is not None and circles_differ(*((donor, other) if donor.end == "front" else (other, donor))),
                )
            )
        brakes = {None: "not known", "disc": "discs", "drum": "drums", "none": "none"}[donor.brake]
        parking = ""
        if donor.end == "rear":
            have, axle = (PARKING[v] for v in (rig.fittings.parking_brake, donor.parking_brake))
            parking = f"; parking brake {axle} here, {have} on the vehicle"
        thread = f"{donor.brake_thread or '?'} against {rig.fittings.brake_thread or '?'} on the vehicle"
        lines.append(
            (
                f"Brakes {brakes}; line thread {thread}{parking}",
                bool(
                    donor.brake_thread and rig.fittings.brake_thread and donor.brake_thread != rig.fittings.brake_thread
                ),
            )
        )
        wide = 0.51 * self.picture.width() - 14
        for words, bad in lines:
            y += flow(p, QRectF(14, y, wide, 60), ("▲ " if bad else "") + words, t.torch if bad else t.text) + 1
        wide, high = self.picture.width(), self.picture.height()
        self._from_above(p, t, f, QRectF(0.53 * wide, high - 150, 0.47 * wide - 10, 144))

    def _from_above(self, p: QPainter, t: Theme, f: FitUp, box: QRectF) -> None:
        output, donor, rig = self.workspace.rig.drivetrain.output_m, f.donor, self.workspace.rig
        if output is None or donor.snout_length_m is None or donor.pinion_offset_m is None or box.height() < 40:
            return
        axle_x = rig.wheelbase_m if donor.end == "front" else 0.0
        joint = (axle_x - donor.snout_length_m if donor.end == "front" else donor.snout_length_m, donor.pinion_offset_m)
        steered = f.lock is not None and f.tyre_middle is not None
        long = abs(output[0] - axle_x) + (0.75 if steered else 0.25)
        high = 2 * (f.tyre_outside or 0.9) + 0.3 if steered else 0.9
        scale = min(box.width() / long, box.height() / high)

        def at(x: float, y: float) -> QPointF:
            along = (x - min(output[0], axle_x) + 0.1) * scale
            return QPointF(box.left() + along, box.center().y() - y * scale)

        p.setPen(QPen(t.faint, 1, Qt.PenStyle.DashDotLine))
        p.drawLine(at(min(output[0], axle_x) - 0.08, 0), at(max(output[0], axle_x) + 0.1, 0))
        p.setPen(QPen(t.soap, 6))
        reach = (f.width or 1.6) / 2 if steered else 0.42
        p.drawLine(at(axle_x, -reach), at(axle_x, reach))
        if f.lock is not None and f.tyre_middle is not None:
            self._at_lock(p, t, f, at, axle_x)
        p.setPen(QPen(t.soap, 3))
        p.drawLine(at(axle_x, joint[1]), at(*joint))
        p.setPen(QPen(t.dye, 3))
        p.drawLine(at(*joint), at(output[0], output[1]))
        p.setBrush(t.sheet)
        p.setPen(QPen(t.soap, 2))
        for place in (at(*joint), at(output[0], output[1])):
            p.drawPolygon(
                QPolygonF(
                    [place + QPointF(-5, 0), place + QPointF(0, -5), place + QPointF(5, 0), place + QPointF(0, 5)]
                )
            )
        text(p, QRectF(box.right() - 200, box.top(), 200, 14), "from above, left is up", t.quiet, size=8, align="right")

    def _at_lock(self, p: QPainter, t: Theme, f: FitUp, at: Callable[[float, float], QPointF], x: float) -> None:
        """Both front tyres from above, straight (faint) and at lock, beside the frame."""
        wheel, body = self.workspace.rig.end(f.donor.end), self.workspace.rig.body
        assert f.lock is not None
        assert f.tyre_middle is not None
        axis = (f.width or 1.6) / 2 - (f.donor.kingpin_inset_m or 0.0)
        for hand in (-1, 1):
            for angle, pen in ((0.0, QPen(t.faint, 1, Qt.PenStyle.DotLine)), (f.lock, QPen(t.quiet, 1.4))):
                c, s = math.cos(angle), math.sin(angle)
                corners = []
                for dx, dy in (
                    (-wheel.free, -wheel.tread / 2),
                    (wheel.free, -wheel.tread / 2),
                    (wheel.free, wheel.tread / 2),
                    (-wheel.free, wheel.tread / 2),
                ):
                    across = hand * (f.tyre_middle - axis) + dy
                    corners.append(at(x + dx * c - across * s, hand * axis + dx * s + across * c))
                p.setPen(pen)
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawPolygon(QPolygonF(corners))
            frame = body.frame(f.donor.end)
            if frame is not None:
                p.setPen(QPen(t.brass, 2))
                p.drawLine(at(x - 0.55, hand * frame / 2), at(x + 0.45, hand * frame / 2))

    def _narrow(self, p: QPainter, t: Theme, box: QRectF) -> None:
        n, unit, donor = self.narrowed, self.workspace.unit, self.donor
        if donor is None:
            return
        if n is None:
            text(
                p,
                box,
                "Narrowing: enter a wanted width above to see what comes off each side, how the shafts get there, and which axles have it already.",
                t.quiet,
                size=9,
                wrap=True,
            )
            return
        word = "Gains" if n.wider else "Takes off"
        lines = [
            f"{word} {show(abs(n.total), 'length', unit)}: left {show(abs(n.left), 'length', unit)}, right {show(abs(n.right), 'length', unit)}",
            f"These shafts: {regions_words(n.regions, unit)}",
        ]
        for side, cut, length in (
            ("Left", n.left_shaft, n.left_length),
            ("Right", n.right_shaft, n.right_length),
        ):
            to = "" if length is None or cut.how == "none" else f" to {show(length, 'length', unit)}"
            lines.append(f"{side} shaft {HOW_WORDS[cut.how]}{to}: {cut.why}")
        lines.append(
            f"Pinion then {show(abs(n.pinion_offset), 'length', unit)} {'left' if n.pinion_offset > 0 else 'right' if n.pinion_offset < 0 else ''} of the middle"
        )
        lines.append(f"Housing {n.jig}; {n.tube}")
        if n.alternatives:
            lines.append("That width already: " + ", ".join(a.name for a in n.alternatives))
        lines.append("▲ A shaft is never cut and welded in the middle.")
        text(p, box, "\n".join(lines), t.text, size=9, wrap=True)

    def as_text(self) -> str:
        f, unit = self.found, self.workspace.unit
        if f is None:
            return "No axle looked at."
        pairs = (
            ("Width over wheel faces", f.width),
            ("Over the tyres", None if f.tyre_outside is None else 2 * f.tyre_outside),
            ("Backspacing", f.backspacing),
            ("Outside the fender a side", f.poke),
            ("Tyre to frame, straight", f.room_straight),
            ("Tyre to frame at lock", f.room_at_lock),
            ("Under the housing", f.under_housing),
            ("Driveshaft between joints", f.shaft_length),
        )
        return "\n".join([f.donor.name, *(f"{name}\t{show(value, 'length', unit)}" for name, value in pairs)])
