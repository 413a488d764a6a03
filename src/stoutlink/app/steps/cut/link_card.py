"""A link drawn to scale with what to cut, how much thread is in, how far it adjusts, and how far it has come."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QFrame, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.editing.link_edits import STAGE_WORDS
from stoutlink.core.mechanics.link_cut import EndFit
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import format_fraction
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.cut_list_csv import turn_words

CARD = 144
TURN_WORDS = {
    "tube": "turn the tube", "one_end": "half turns of the joint, bolt out", "unbolt": "half turns of either joint, bolt out", "none": "fixed ends",
}  # fmt: skip


class LinkCard(QFrame):
    """One link; ``picked`` when it is clicked or one of its fields has the keys."""

    picked = pyqtSignal()

    def __init__(self, workspace: Workspace, cut: LinkCut, parent: QWidget) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self.cut = cut
        self.theme: Theme | None = None
        self.longest = 1.0
        self.chosen = False
        base = f"layouts.{cut.layout.id}.links.{cut.link.id}"
        self.setObjectName(f"cut_{cut.layout.id}_{cut.link.id}")
        self.setFixedHeight(CARD)
        self._ends = [
            QuantityField(
                workspace, f"{base}.{end}_end.take_up_m", self, title=f"{cut.link.name}, take-up at the {end}"
            )
            for end in ("frame", "axle")
        ]
        for field in self._ends:
            field.setFixedSize(84, 22)
        self._hand = QuantityField(workspace, f"{base}.in_hand_m", self, title=f"{cut.link.name}, length at hand")
        self._hand.setFixedSize(84, 22)

    def ready(self, *, at_axle: bool = False) -> None:
        """Give the keys to the take-up of one end."""
        self._ends[1 if at_axle else 0].setFocus()

    def sizeHint(self) -> QSize:
        return QSize(700, CARD)

    def show_cut(self, cut: LinkCut, longest: float, theme: Theme) -> None:
        """Show a link; ``longest`` sets the common scale."""
        self.cut, self.longest, self.theme = cut, longest, theme
        unit = self._workspace.unit
        self.setAccessibleName(f"{cut.link.name}: cut {show(cut.cut.tube, 'length', unit)}")
        for field in (*self._ends, self._hand):
            field.refresh()
        self._place()
        self.update()

    def _geometry(self) -> tuple[float, float, float]:
        """Left joint centre x, pixels per metre, y of the link's axis."""
        left, right = 200.0, self.width() - 196.0
        return left, (right - left) / self.longest, 62.0

    def _place(self) -> None:
        left, scale, y = self._geometry()
        right = left + self.cut.cut.centre_to_centre * scale
        self._ends[0].move(int(left - 42), int(y + 26))
        self._ends[1].move(int(right - 42), int(y + 26))
        self._hand.move(66, CARD - 28)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.picked.emit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._place()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t, one, unit = self.theme, self.cut, self._workspace.unit
        if t is None:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            if self.chosen:
                p.fillRect(QRectF(0, 4, 4, CARD - 8), t.dye)
            p.setPen(QPen(t.edge, 1))
            p.drawLine(QPointF(12, CARD - 1), QPointF(self.width() - 12, CARD - 1))
            self._words(p, t)
            left, scale, y = self._geometry()
            right = left + one.cut.centre_to_centre * scale
            a, b = left + one.link.frame_end.take_up_m * scale, right - one.link.axle_end.take_up_m * scale
            tube = max(8.0, one.link.tube_od_m * scale)
            bad = one.cut.tube <= 0
            p.setPen(QPen(t.oxide if bad else t.soap, 1.5))
            for x, face, fit in ((left, a, one.cut.ends[0]), (right, b, one.cut.ends[1])):
                inward = 1.0 if face > x else -1.0
                p.setBrush(QBrush(t.raised))
                if fit is not None:
                    shank = face + inward * fit.engaged * scale
                    p.drawRect(QRectF(min(x, shank), y - 4, abs(shank - x), 8))
                p.drawEllipse(QPointF(x, y), 13, 13)
                p.setBrush(QBrush(t.sheet))
                p.drawEllipse(QPointF(x, y), 5, 5)
            if not bad:
                fill = t.lower if one.link.role in ("lower", "arm") else t.upper
                fill = type(fill)(fill)
                fill.setAlpha(80)
                p.setBrush(QBrush(fill))
                p.drawRect(QRectF(a, y - tube / 2, b - a, tube))
            p.setPen(QPen(t.quiet, 1))
            top = y - 34
            for x in (a, b):
                p.drawLine(QPointF(x, y - tube / 2), QPointF(x, top - 6))
            p.drawLine(QPointF(a, top), QPointF(b, top))
            for x in (a, b):
                p.drawLine(QPointF(x - 4, top + 4), QPointF(x + 4, top - 4))
            self._cut_number(p, t, (a + b) / 2, top, unit)
            p.setFont(font(8.5))
            p.setPen(t.quiet)
            p.drawText(
                QRectF((a + b) / 2 - 140, y + tube / 2 + 6, 280, 16),
                Qt.AlignmentFlag.AlignCenter,
                f"{show(one.cut.centre_to_centre, 'length', unit, decimals=3 if unit == 'in' else 1)} between joint centres",
            )
            for x, word in ((left, "frame"), (right, "axle")):
                p.drawText(
                    QRectF(x - 66 if word == "frame" else x - 54, y - 36, 120, 16),
                    Qt.AlignmentFlag.AlignCenter,
                    f"{word} end",
                )
            for field in self._ends:
                p.drawText(
                    QRectF(field.x() - 20, field.y() + 23, field.width() + 40, 14),
                    Qt.AlignmentFlag.AlignCenter,
                    "take-up",
                )
            self._thread(p, t)

    def _cut_number(self, p: QPainter, t: Theme, x: float, y: float, unit: str) -> None:
        one = self.cut
        if one.made:
            words = f"{STAGE_WORDS[one.link.stage]}: {turn_words(one, self._workspace.unit)}"
        elif one.at_hand:
            words = f"at hand: {turn_words(one, self._workspace.unit)}"
        elif one.cut.tube <= 0:
            words = "no tube left to cut"
        elif unit == "in":
            words = f"cut {one.cut.tube / INCH:.3f}″  ({format_fraction(one.cut.tube, 16)})"
        else:
            words = f"cut {one.cut.tube * 1000:.1f} mm"
        p.setFont(font(13, bold=True))
        wide = p.fontMetrics().horizontalAdvance(words) + 16
        p.fillRect(QRectF(x - wide / 2, y - 11, wide, 22), QBrush(t.sheet))
        bad = not one.turns.reaches if one.there else one.cut.tube <= 0
        p.setPen(t.oxide if bad else t.text)
        p.drawText(QRectF(x - wide / 2, y - 11, wide, 22), Qt.AlignmentFlag.AlignCenter, words)

    def _words(self, p: QPainter, t: Theme) -> None:
        one, unit = self.cut, self._workspace.unit
        p.setPen(t.text)
        p.setFont(font(11, bold=True))
        p.drawText(
            QRectF(14, 10, 160, 20),
            Qt.AlignmentFlag.AlignVCenter,
            p.fontMetrics().elidedText(one.link.name, Qt.TextElideMode.ElideRight, 156),
        )
        p.setFont(font(8.5))
        p.setPen(t.quiet)
        bore = "solid" if one.cut.bore <= 1e-4 else f"bore {show(one.cut.bore, 'length', unit)}"
        lines = [
            f"{show(one.link.tube_od_m, 'length', unit)} × {show(one.link.tube_wall_m, 'fine_length', unit)} {one.link.material}",
            bore,
            f"{one.frame_joint.name if one.frame_joint else '?'}",
            f"{one.axle_joint.name if one.axle_joint else '?'}",
        ]
        for i, line in enumerate(lines):
            p.drawText(
                QRectF(14, 34 + 17 * i, 140, 16),
                Qt.AlignmentFlag.AlignVCenter,
                p.fontMetrics().elidedText(line, Qt.TextElideMode.ElideRight, 138),
            )
        p.drawText(QRectF(14, CARD - 28, 50, 22), Qt.AlignmentFlag.AlignVCenter, "at hand")

    def _thread(self, p: QPainter, t: Theme) -> None:
        """Adjustment left and thread engagement, on the right."""
        one, unit = self.cut, self._workspace.unit
        now = one.now
        box_left = self.width() - 140.0
        p.setFont(font(8.5))
        small = 2 if unit == "in" else 1
        short = min(now.longer, now.shorter) < 0
        p.setPen(t.oxide if short else t.text)
        lines = (
            [
                f"+{show(now.longer, 'length', unit, decimals=small)}",
                f"−{show(abs(now.shorter), 'length', unit, decimals=small)}",
            ]
            if one.cut.how != "none"
            else ["fixed"]
        )
        p.drawText(
            QRectF(box_left, 10, 136, 16),
            Qt.AlignmentFlag.AlignLeft,
            "adjusts " + " ".join(lines) if not short else "thread runs out",
        )
        p.setPen(t.quiet)
        words = [TURN_WORDS[one.cut.how]]
        if one.pinion_per_turn is not None:
            words.append(f"pinion {math.degrees(one.pinion_per_turn):+.2f}°/turn".replace("-", "−"))
        for i, line in enumerate(words):
            p.drawText(
                QRectF(box_left, 27 + 16 * i, 134, 16),
                Qt.AlignmentFlag.AlignLeft,
                p.fontMetrics().elidedText(line, Qt.TextElideMode.ElideRight, 132),
            )
        for i, (name, fit) in enumerate((("frame", now.ends[0]), ("axle", now.ends[1]))):
            self._engaged(p, t, QRectF(box_left, 66 + 28 * i, 126, 24), name, fit)

    def _engaged(self, p: QPainter, t: Theme, box: QRectF, name: str, fit: EndFit | None) -> None:
        """Thread engaged as a bar against what is needed (the tick)."""
        unit = self._workspace.unit
        p.setFont(font(8))
        p.setPen(t.quiet)
        if fit is None:
            p.drawText(box, Qt.AlignmentFlag.AlignLeft, f"{name}: welded")
            return
        good = fit.longer >= -1e-9 and fit.shorter >= -1e-9
        p.setPen(t.quiet if good else t.oxide)
        p.drawText(
            box,
            Qt.AlignmentFlag.AlignLeft,
            f"{name} {show(fit.engaged, 'length', unit, decimals=2 if unit == 'in' else 1)} engaged{'' if good else ' ⚠'}",
        )
        bar = QRectF(box.left(), box.top() + 15, box.width(), 6)
        full = max(fit.engaged, fit.needed) * 1.25 or 1.0
        p.setPen(QPen(t.edge, 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(bar)
        p.fillRect(
            QRectF(bar.left(), bar.top(), max(0.0, fit.engaged / full) * bar.width(), bar.height()),
            t.soap if good else t.oxide,
        )
        tick = bar.left() + fit.needed / full * bar.width()
        p.setPen(QPen(t.dye, 2))
        p.drawLine(QPointF(tick, bar.top() - 2), QPointF(tick, bar.bottom() + 2))
