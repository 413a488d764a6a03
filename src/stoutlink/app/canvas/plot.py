"""A small plot: a box, two scales, ticks."""

from __future__ import annotations

import math

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from stoutlink.app.desk.theme import Theme, font


class Plot(Struct, frozen=True):
    """Where numbers fall in a box of pixels."""

    box: QRectF
    across: tuple[float, float]
    up: tuple[float, float]

    def x(self, v: float) -> float:
        """Pixel of a number across."""
        return self.box.left() + (v - self.across[0]) / (self.across[1] - self.across[0]) * self.box.width()

    def y(self, v: float) -> float:
        """Pixel of a number up."""
        return self.box.bottom() - (v - self.up[0]) / (self.up[1] - self.up[0]) * self.box.height()

    def at(self, a: float, b: float) -> QPointF:
        """Pixel of both."""
        return QPointF(self.x(a), self.y(b))

    def paint(self, p: QPainter, t: Theme) -> None:
        """Frame and ticks."""
        p.setPen(QPen(t.edge, 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(self.box)
        p.setFont(font(8))
        p.setPen(t.quiet)
        for v in nice(*self.across, max(2, int(self.box.width() // 70))):
            p.drawLine(QPointF(self.x(v), self.box.bottom()), QPointF(self.x(v), self.box.bottom() + 3))
            p.drawText(QRectF(self.x(v) - 30, self.box.bottom() + 3, 60, 13), Qt.AlignmentFlag.AlignCenter, written(v))
        for v in nice(*self.up, max(2, int(self.box.height() // 32))):
            p.drawLine(QPointF(self.box.left() - 3, self.y(v)), QPointF(self.box.left(), self.y(v)))
            p.drawText(
                QRectF(0, self.y(v) - 7, self.box.left() - 5, 14),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                written(v),
            )


def written(v: float) -> str:
    """A tick's number."""
    return f"{v:g}".replace("-", "−")


def nice(low: float, high: float, count: int) -> list[float]:
    """Round numbers between two, about ``count`` of them.

    >>> nice(0.0, 1.0, 5)
    [0.0, 0.2, 0.4, 0.6, 0.8, 1.0]
    """
    raw = (high - low) / count
    size = 10.0 ** math.floor(math.log10(raw))
    step = next(m * size for m in (1, 2, 5, 10) if m * size >= raw * (1 - 1e-9))
    return [round(k * step, 10) + 0.0 for k in range(math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9) + 1)]
