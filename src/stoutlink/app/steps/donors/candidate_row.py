"""A candidate in the list of axles: its shaft to scale, its name, gears, weight and price."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme, font
from stoutlink.core.analysis.swap.donor_in_rig import DonorInRig
from stoutlink.core.drawing.donor_view import spline_section
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


class CandidateRow(QStyledItemDelegate):
    """A candidate: shaft section to scale, name, ratio and price."""

    theme: Theme | None = None
    unit: UnitSystem = "in"

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(200, 58)

    def paint(self, p: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        t = self.theme
        it: DonorInRig | None = index.data(Qt.ItemDataRole.UserRole)
        if p is None or t is None or it is None:
            return
        p.save()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        r = QRectF(option.rect)
        if option.state & QStyle.StateFlag.State_Selected:
            p.fillRect(r, t.raised)
            p.fillRect(QRectF(r.left(), r.top(), 4, r.height()), t.dye)
        chosen = bool(index.data(Qt.ItemDataRole.UserRole + 1))
        paint(p, spline_section(it), Frame(QPointF(r.left() + 28, r.center().y()), 860), t)
        p.setPen(t.text)
        p.setFont(font(9.5, bold=chosen))
        name = p.fontMetrics().elidedText(
            ("✓ " if chosen else "") + it.donor.name, Qt.TextElideMode.ElideRight, int(r.width()) - 62
        )
        p.drawText(QRectF(r.left() + 54, r.top() + 7, r.width() - 58, 20), Qt.AlignmentFlag.AlignVCenter, name)
        p.setPen(t.quiet)
        p.setFont(font(8.5))
        gears = f"{it.ratio:.2f}" if it.ratio is not None else "gears ?"
        box = QRectF(r.left() + 54, r.top() + 30, r.width() - 62, 18)
        p.drawText(box, Qt.AlignmentFlag.AlignVCenter, f"{gears}, {show(it.donor.weight_kg, 'mass', self.unit)}")
        p.drawText(
            box,
            Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
            f"{it.donor.price:.0f}" if it.donor.price is not None else "price ?",
        )
        p.setPen(QPen(t.edge, 1))
        p.drawLine(r.bottomLeft(), r.bottomRight())
        p.restore()
