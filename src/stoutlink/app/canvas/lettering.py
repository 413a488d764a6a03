"""Words in boxes and dimension lines on a painted sheet."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from stoutlink.app.desk.theme import Theme, font


def dimension(p: QPainter, t: Theme, a: QPointF, b: QPointF) -> None:
    """A dimension line with slashes at its ends."""
    p.setPen(QPen(t.quiet, 1))
    p.drawLine(a, b)
    for end in (a, b):
        p.drawLine(end + QPointF(-4, 4), end + QPointF(4, -4))


def words(
    p: QPainter,
    t: Theme,
    box: QRectF,
    text: str,
    *,
    size: float = 9.0,
    bold: bool = False,
    quiet: bool = False,
    centre: bool = False,
) -> None:
    """Words in a box, at its left or in its middle."""
    p.setFont(font(size, bold=bold))
    p.setPen(t.quiet if quiet else t.text)
    side = Qt.AlignmentFlag.AlignHCenter if centre else Qt.AlignmentFlag.AlignLeft
    p.drawText(box, int(side | Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap), text)
