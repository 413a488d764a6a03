"""A thing in the round that is pointed at: a click gives the place on its surface, or the corner or end that lies near."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.round_pane import RoundPane
from stoutlink.app.canvas.tags import Tag, paint_tags
from stoutlink.core.document.quantities import Point

CATCH = 9.0
"""Pixels within which a corner or an end is caught."""
STILL = 4.0
"""A hand that has moved less, in pixels, has clicked and not turned."""
POINTING = "Click on the place; drag turns it, Shift and drag moves it, the wheel zooms."


class PointingPane(RoundPane):
    """``pointed`` at a place, in the axes of what is shown."""

    pointed = pyqtSignal(tuple)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("pointing_view")
        self.setAccessibleName("What is pointed at, in the round")
        self.catches: NDArray[np.float64] = np.empty((0, 3))
        """Places that a click near them falls on, m."""
        self.marks: tuple[tuple[Point, str, bool], ...] = ()
        """Places pointed at before with their words, and whether it is the one in hand."""
        self._under: Point | None = None
        self._pressed: QPointF | None = None

    def place_under(self, pixel: QPointF) -> Point | None:
        """The place a click at a pixel would give; ``None`` beside the thing."""
        look = self.look()
        if len(self.catches):
            at = self.eye.onto(self.catches, self.width(), self.height())
            away = np.hypot(at[:, 0] - pixel.x(), at[:, 1] - pixel.y())
            for i in np.argsort(away, kind="stable"):
                if away[i] > CATCH:
                    break
                x, y, z = (float(v) for v in self.catches[i])
                if not look.hidden((x, y, z), 2.0 / self.eye.scale):
                    return x, y, z
        return look.place_at(pixel.x(), pixel.y())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        left = event is not None and event.button() == Qt.MouseButton.LeftButton
        self._pressed = event.position() if left and event is not None else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._pressed is not None:
            if (event.position() - self._pressed).manhattanLength() < STILL:
                return
            self._pressed = None
        super().mouseMoveEvent(event)
        under = self.place_under(event.position()) if not event.buttons() else None
        if not event.buttons():
            self.setToolTip(POINTING)
            self.setCursor(Qt.CursorShape.CrossCursor if under is not None else Qt.CursorShape.ArrowCursor)
        if under != self._under:
            self._under = under
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        pressed, self._pressed = self._pressed, None
        super().mouseReleaseEvent(event)
        place = None if pressed is None else self.place_under(pressed)
        if place is not None:
            self.pointed.emit(place)

    def leaveEvent(self, event: QEvent | None) -> None:
        self._under = None
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        t = self.theme
        if t is None or not self.shown.scene.things:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            boxes, tags = [], []
            for place, words, chosen in self.marks:
                at, r = self._at(place), 6.0 if chosen else 4.5
                colour = t.dye if chosen else t.soap
                p.setPen(QPen(colour, 2.0 if chosen else 1.4))
                p.setBrush(colour if chosen else t.sheet)
                p.drawEllipse(at, r, r)
                boxes.append(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r))
                tags.append(Tag(at, words, colour, 2 if chosen else 1, chosen))
            if self._under is not None:
                p.setPen(QPen(t.dye, 1.6))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(self._at(self._under), 7.0, 7.0)
            paint_tags(p, t, tags, QRectF(self.rect()).adjusted(4, 28, -4, -4), boxes)
