"""Where three linked views lie on a sheet: one scale, one middle, third-angle arrangement."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF

from stoutlink.app.canvas.painting import Frame
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.shapes import AXES, SIGN, ViewName, flatten

SMALLEST, LARGEST = 30.0, 3000.0
"""Pixels per metre."""


class ViewGeometry:
    """Panes, scale and middle of the views; knows no widget."""

    def __init__(self) -> None:
        self.size = (880.0, 750.0)
        self.scale = 200.0
        self.middle: Point = (0.4, 0.0, 0.5)

    def panes(self) -> dict[ViewName, QRectF]:
        """The plan over the side view, the rear view to its left, the corner over the rear view left free."""
        w, h = self.size
        x, y = round(w * 0.45), round(h * 0.60)
        return {"rear": QRectF(0, y, x, h - y), "side": QRectF(x, y, w - x, h - y), "plan": QRectF(x, 0, w - x, y)}

    def corner(self) -> QRectF:
        """The free corner."""
        rear = self.panes()["rear"]
        return QRectF(0, 0, rear.width(), rear.top())

    def frame_of(self, view: ViewName) -> Frame:
        """Metres to pixels in a view."""
        pane = self.panes()[view].center()
        h, v = flatten(self.middle, view)
        return Frame(QPointF(pane.x() - h * self.scale, pane.y() + v * self.scale), self.scale)

    def fit(self, along: tuple[float, float], half: float, up: tuple[float, float]) -> None:
        """Bring a box (m) into all views: x range, half width, z range."""
        panes = self.panes()
        self.scale = min(
            panes["side"].width() / (along[1] - along[0]),
            panes["rear"].width() / (2 * half),
            panes["side"].height() / (up[1] - up[0]),
            panes["plan"].height() / (2 * half),
        )
        self.middle = ((along[0] + along[1]) / 2, 0.0, (up[0] + up[1]) / 2)

    def zoom(self, factor: float, view: ViewName, about: QPointF | None = None) -> None:
        """Change the scale, keeping the point under a pixel in place."""
        pixel = about or self.panes()[view].center()
        h, v = self.frame_of(view).back(pixel)
        self.scale = max(SMALLEST, min(LARGEST, self.scale * factor))
        self.shift(view, pixel - self.frame_of(view).at((h, v)))

    def shift(self, view: ViewName, step: QPointF) -> None:
        """Move all views together by a step in pixels made in one of them."""
        a, b = AXES[view]
        middle = list(self.middle)
        middle[a] -= SIGN[view] * step.x() / self.scale
        middle[b] += step.y() / self.scale
        self.middle = (middle[0], middle[1], middle[2])
