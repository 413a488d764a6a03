"""Gears as a fan: every gear set is a ray of engine speed over road speed in top gear, read against the usable band
and the old feel.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.choice_box import ChoiceBox
from stoutlink.app.widgets.picture import Hit, Picture, number_fields, plate, text
from stoutlink.core.analysis.swap.gear_choice import GearChoice, GearOffer
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.mechanics.gearing import engine_rpm
from stoutlink.core.quantity.shown import show


class GearLook(DonorLook):
    """The fan at the left, the sets at the right; a click plans one."""

    takes = ("stance", "weight", "train")

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "gears", "Gears", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setContentsMargins(12, 6, 12, 2)
        self.fields = number_fields(
            workspace,
            row,
            self,
            68,
            (
                ("rig.fittings.old_ratio", "old ratio"),
                ("rig.fittings.old_rolling_radius_m", "on rolling radius"),
                ("rig.road_speed_m_per_s", "road speed to hold"),
            ),
        )
        choices = [(None, "pick-up: not known"), ("driveshaft", "pick-up: driveshaft"), ("wheel", "pick-up: wheel")]
        self.pickup = ChoiceBox(
            workspace,
            "speed_pickup",
            "Speed pick-up",
            choices,
            self,
            tip="Where the speedometer counts: it decides what gears and tyres do to it.",
        )
        self.pickup.path = lambda: "rig.fittings.speed_pickup"
        row.addWidget(self.pickup)
        row.addStretch(1)
        outer.addLayout(row)
        self.picture = Picture("gear_picture", "Gear fan", self)
        outer.addWidget(self.picture, 1)
        self.found: GearChoice | None = None
        self._sigma = 0.0

    def prepare(self) -> None:
        w = self.workspace
        for field in self.fields:
            field.refresh()
        self.pickup.refresh()
        self.found = None
        if self.donor is not None:
            self.found = w.study.gears(self.donor)
            self._sigma = w.study.donor_sure(self.donor)["rpm_at_road_speed"]
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        found, unit, rig = self.found, self.workspace.unit, self.workspace.rig
        if found is None or self.donor is None:
            return
        if not found.offers:
            text(
                p,
                QRectF(30, 30, picture.width() - 60, 60),
                "No gears known. Count ring gear and pinion, or list the sets that exist, on the axle's picture.",
                t.quiet,
                size=11,
                align="centre",
                wrap=True,
            )
            return
        plot = QRectF(62, 22, picture.width() - 62 - 356, picture.height() - 150)
        hold = rig.road_speed_m_per_s
        top_speed = hold * 1.35
        top_rpm = max(o.rpm for o in found.offers) * 1.35 * 1.06

        def at(speed: float, rpm: float) -> QPointF:
            return QPointF(
                plot.left() + speed / top_speed * plot.width(), plot.bottom() - rpm / top_rpm * plot.height()
            )

        p.setPen(QPen(t.edge, 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(plot)
        if found.band is not None:
            low, high = found.band[0], min(found.band[1], top_rpm)
            box = QRectF(at(0, high), at(top_speed, low))
            p.fillRect(box, QBrush(t.edge, Qt.BrushStyle.BDiagPattern))
            text(
                p,
                QRectF(plot.left() + 6, box.top() + 2, 220, 14),
                f"usable band {found.band[0]:.0f}–{found.band[1]:.0f} rpm",
                t.quiet,
                size=8,
            )
        step = 1000 if top_rpm > 2500 else 500
        for rpm in range(step, int(top_rpm) + 1, step):
            text(p, QRectF(plot.left() - 58, at(0, rpm).y() - 7, 52, 14), str(rpm), t.quiet, size=8, align="right")
            p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
            p.drawLine(at(0, rpm), at(top_speed, rpm))
        p.setPen(QPen(t.soap, 1.5, Qt.PenStyle.DashLine))
        p.drawLine(at(hold, 0), at(hold, top_rpm))
        text(
            p,
            QRectF(at(hold, 0).x() - 70, plot.bottom() + 2, 140, 14),
            f"{show(hold, 'speed', unit)} to hold",
            t.text,
            size=8.5,
            align="centre",
        )
        text(
            p,
            QRectF(plot.left(), plot.bottom() + 16, plot.width(), 14),
            "road speed, top gear, high range",
            t.quiet,
            size=8,
            align="centre",
        )
        text(p, QRectF(4, 4, 120, 14), "engine, rpm", t.quiet, size=8)
        ends: list[tuple[float, str, QPen]] = []
        if found.same_feel is not None:
            pen = QPen(t.brass, 2, Qt.PenStyle.DashLine)
            ends.append((self._ray(p, at, found.same_feel, top_speed, pen), "old feel", pen))
        for offer in found.offers:
            planned = offer.pair == found.planned
            ruled = found.other is not None and bool(found.other.offers) and offer.partner is None
            colour = t.dye if planned else t.torch if ruled else t.soap
            pen = QPen(colour, 3 if planned else 1.2, Qt.PenStyle.DotLine if ruled else Qt.PenStyle.SolidLine)
            ends.append((self._ray(p, at, offer.pair.ratio, top_speed, pen), f"{offer.pair.ratio:.2f}", pen))
            here = at(hold, offer.rpm)
            p.setBrush(colour)
            p.setPen(QPen(colour, 1))
            p.drawEllipse(here, 4 if planned else 2.5, 4 if planned else 2.5)
        last = -100.0
        for y, words, pen in sorted(ends, key=lambda e: e[0]):
            last = max(y, last + 13)
            text(p, QRectF(plot.right() + 4, last - 7, 52, 14), words, pen.color(), size=8.5, bold=pen.widthF() > 2)
        self._sets(p, t, picture, plot.right() + 58)
        self._words(p, t, picture, plot.bottom() + 38)

    def _ray(
        self, p: QPainter, at: Callable[[float, float], QPointF], ratio: float, top_speed: float, pen: QPen
    ) -> float:
        """Draw the ray of a ratio; returns where it leaves the picture at the right, in pixels."""
        rig, donor = self.workspace.rig, self.donor
        assert donor is not None
        train = rig.drivetrain
        rpm = engine_rpm(
            top_speed, rig.end(donor.end).rolling, train.top_ratio, train.transfer_high_ratio, ratio * donor.hub_ratio
        )
        p.setPen(pen)
        end = at(top_speed, rpm)
        p.drawLine(at(0, 0), end)
        return end.y()

    def _sets(self, p: QPainter, t: Theme, picture: Picture, x: float) -> None:
        found, unit, donor = self.found, self.workspace.unit, self.donor
        assert found is not None
        assert donor is not None
        wide = picture.width() - x - 10
        columns = (
            (0, 76, "set"),
            (76, 46, "rpm"),
            (122, 62, "crawl"),
            (184, 54, "feel"),
            (238, wide - 238, "goes with"),
        )
        for dx, w, words in columns:
            text(p, QRectF(x + dx, 4, w, 16), words, t.quiet, size=8.5)
        for i, offer in enumerate(found.offers):
            y = 22 + i * 40
            box = QRectF(x - 6, y, wide + 8, 38)
            planned = offer.pair == found.planned
            plate(p, t, box, picked=planned)
            near = offer.pair in found.neighbours
            text(p, QRectF(x, y + 2, 76, 18), f"{offer.pair.ratio:.2f}", t.text, size=10.5, bold=True)
            text(p, QRectF(x, y + 18, 76, 16), f"{offer.pair}{' fitted' if offer.fitted else ''}", t.quiet, size=8.5)
            rpm_colour = t.text if offer.in_band.startswith(("in", "no")) else t.torch
            text(p, QRectF(x + 76, y, 46, 38), f"{offer.rpm:.0f}", rpm_colour, size=9.5)
            text(p, QRectF(x + 122, y + 2, 60, 18), f"{offer.crawl:.0f} : 1", t.text, size=9.5)
            text(
                p, QRectF(x + 122, y + 18, 60, 16), show(offer.crawl_speed, "speed", unit, decimals=2), t.quiet, size=8
            )
            text(
                p,
                QRectF(x + 184, y, 54, 38),
                "–" if offer.change is None else f"{offer.change:+.1%}".replace("-", "−"),
                t.brass if near else t.text,
                size=9.5,
                bold=near,
            )
            self._partner(p, t, offer, QRectF(x + 238, y, wide - 238, 38))
            tip = f"{offer.pair}: {offer.rpm:.0f} rpm at road speed, {offer.in_band}."
            if offer.indicated is not None:
                tip += f" The speedometer then shows {offer.indicated:.3f} of the truth."
            value = None if offer.fitted else offer.pair
            act = lambda v=value: self.workspace.do(SetChoice(f"{donor.end}_plan.gears", v, "gears"))  # noqa: E731
            picture.hits.append(Hit(box, tip + " Click to plan it.", act, f"set_{offer.pair}"))

    def _partner(self, p: QPainter, t: Theme, offer: GearOffer, box: QRectF) -> None:
        found = self.found
        assert found is not None
        if found.other is None:
            text(p, box, "open", t.quiet, size=8.5)
        elif offer.partner is not None:
            text(p, box, f"✓ {offer.partner}", t.text, size=9.5)
        elif offer.apart is None:
            text(p, box, "not known", t.quiet, size=8.5)
        else:
            text(p, box, f"✗ {abs(offer.apart):.1%}", t.torch, size=9)

    def _words(self, p: QPainter, t: Theme, picture: Picture, y: float) -> None:
        found = self.found
        assert found is not None
        lines = []
        if found.same_feel is None:
            lines.append(
                "Enter the old ratio and the rolling radius it ran on: the dashed ray then shows the ratio that keeps the old feel."
            )
        else:
            near = " or ".join(f"{n.ratio:.2f} ({n})" for n in found.neighbours)
            lines.append(
                f"Keeps the old feel: {found.same_feel:.2f}. "
                + (
                    f"Off the list of this ring gear; nearest is {near}."
                    if found.off_list
                    else f"Nearest made: {near}."
                )
            )
        planned = next((o for o in found.offers if o.pair == found.planned), None)
        if planned is not None:
            lines.append(
                f"With {planned.pair.ratio:.2f}: {planned.in_band}"
                + (
                    "."
                    if planned.indicated is None
                    else f"; the speedometer shows {abs(planned.indicated - 1):.1%} too {'much' if planned.indicated > 1 else 'little'}."
                )
            )
        if self._sigma and math.isfinite(self._sigma):
            lines.append(f"± {2 * self._sigma:.0f} rpm (95 %) from the rolling radius.")
        if found.ruled_out:
            lines.append(f"⚠ {found.ruled_out}")
        text(
            p, QRectF(14, y, picture.width() - 28, picture.height() - y), "\n".join(lines), t.text, size=9.5, wrap=True
        )

    def as_text(self) -> str:
        found = self.found
        if found is None:
            return "No axle looked at."
        out = [
            f"Gears of {found.donor.name}"
            + ("" if found.same_feel is None else f"; {found.same_feel:.2f} keeps the old feel")
        ]
        for o in found.offers:
            out.append(
                f"{o.pair}\t{o.pair.ratio:.3f}\t{o.rpm:.0f} rpm\t{o.crawl:.0f}:1\tgoes with {o.partner or 'none'}{chr(9) + 'fitted' if o.fitted else ''}"
            )
        return "\n".join(out + ([found.ruled_out] if found.ruled_out else []))
