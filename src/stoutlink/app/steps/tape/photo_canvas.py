"""A photograph to be marked and traced on: moved and enlarged by hand, with its marks, what is traced, and the net of the plane as
the marks have it."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

import numpy as np
from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.lettering import words
from stoutlink.app.canvas.tags import Tag, paint_tags
from stoutlink.app.desk.theme import Theme
from stoutlink.core.document.plane_picture import PlanePicture, TracedKind

Flat = tuple[float, float]
Hand = Literal["", "mark", "point", "line", "outline"]
HANDS = "Click sets a mark or a corner (Space: in the middle of the view), drag moves one, drag beside them moves the picture, the wheel enlarges; arrows nudge what is picked, comma and full stop go from one to the next, Delete takes it away."
HIT = 10.0
SMALLEST, LARGEST = 0.02, 40.0
RESIDUALS = 10.0
"""How many times too long the miss of a mark is drawn."""
EMPTY = (
    "Drop a photo of the rig here, taken square to what is to be measured, or press “Photo…”. Mark four places or more "
    "whose height and station are known, then trace."
)


class Spot(Struct, frozen=True):
    """What can be picked: a mark, or a corner of something traced."""

    kind: Literal["mark", "traced"]
    id: str
    corner: int = 0


class Shown(Struct, frozen=True, eq=False):
    """What is on the canvas: the picture's record, its pixels (smaller than they were, perhaps), what is picked, the hand that is in, names by spot's
    id, misses of marks in pixels, and lines of the plane's net."""

    picture: PlanePicture | None = None
    image: QImage | None = None
    waiting: str = ""
    picked: Spot | None = None
    hand: Hand = ""
    names: tuple[tuple[str, str], ...] = ()
    misses: tuple[tuple[str, Flat], ...] = ()
    odd: frozenset[str] = frozenset()
    net: tuple[tuple[Flat, ...], ...] = ()


class PhotoCanvas(QWidget):
    """``put`` a new mark or point at a pixel; ``drawn`` a line or outline through pixels; ``picked`` a spot; ``moved`` one to a pixel
    (with a name for the gesture); ``removed`` the one picked."""

    put = pyqtSignal(tuple)
    drawn = pyqtSignal(tuple)
    picked = pyqtSignal(object)
    moved = pyqtSignal(object, tuple, str)
    removed = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("photo_canvas")
        self.setAccessibleName("Photo to mark and trace on")
        self.setToolTip(HANDS)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(200, 160)
        self.theme: Theme | None = None
        self.shown = Shown()
        self.pending: list[Flat] = []
        """Corners of the line or outline that is being drawn."""
        self._scale, self._origin, self._fitted = 1.0, QPointF(), ""
        self._held: tuple[Spot | None, QPointF, bool] | None = None
        self._gestures = 0
        self._pointer = QPointF()

    def show_with(self, theme: Theme, shown: Shown) -> None:
        """Show this."""
        if shown.hand != self.shown.hand or shown.picture is None:
            self.pending = []
        self.theme, self.shown = theme, shown
        key = "" if shown.picture is None else f"{shown.picture.id} {shown.picture.photo}"
        if key and key != self._fitted and self.width() > 40:
            self.fit()
            self._fitted = key
        self.update()

    # View

    def fit(self) -> None:
        """Bring the whole picture into view."""
        one = self.shown.picture
        if one is None:
            return
        self._scale = min((self.width() - 16) / one.wide_px, (self.height() - 16) / one.high_px)
        self._origin = QPointF(
            0.5 * (self.width() - self._scale * one.wide_px), 0.5 * (self.height() - self._scale * one.high_px)
        )
        self.update()

    def zoom(self, factor: float, about: QPointF | None = None) -> None:
        """Larger or smaller, what is under a place kept there."""
        at = about or QPointF(0.5 * self.width(), 0.5 * self.height())
        scale = max(SMALLEST, min(LARGEST, self._scale * factor))
        self._origin = at + (self._origin - at) * (scale / self._scale)
        self._scale = scale
        self.update()

    def at(self, pixel: Flat) -> QPointF:
        """Where a pixel of the picture is in the widget."""
        return self._origin + QPointF(pixel[0], pixel[1]) * self._scale

    def back(self, place: QPointF) -> Flat:
        """The pixel of the picture under a place of the widget, within the picture."""
        one = self.shown.picture
        off = (place - self._origin) / self._scale
        if one is None:
            return off.x(), off.y()
        return (
            round(min(max(off.x(), 0.0), float(one.wide_px)), 2),
            round(min(max(off.y(), 0.0), float(one.high_px)), 2),
        )

    def resizeEvent(self, event: object) -> None:
        self.fit()

    def spots(self) -> list[tuple[Spot, Flat]]:
        """All that can be picked, with its pixel."""
        one = self.shown.picture
        if one is None:
            return []
        out: list[tuple[Spot, Flat]] = [(Spot("mark", m.id), m.pixel) for m in one.marks]
        out += [(Spot("traced", t.id, k), px) for t in one.traced for k, px in enumerate(t.pixels)]
        return out

    def spot_near(self, place: QPointF) -> Spot | None:
        """The nearest one under the hand."""
        near = [
            (
                math.hypot((off := self.at(px) - place).x(), off.y()) - (3.0 if spot == self.shown.picked else 0.0),
                k,
                spot,
            )
            for k, (spot, px) in enumerate(self.spots())
        ]
        best = min(near, default=None)
        return None if best is None or best[0] > HIT else best[2]

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.fillRect(self.rect(), t.sheet)
            one = self.shown.picture
            if one is None:
                words(p, t, QRectF(40, 0.3 * self.height(), self.width() - 80, 120), EMPTY, size=11, centre=True)
                return
            box = QRectF(self.at((0.0, 0.0)), self.at((one.wide_px, one.high_px)))
            if self.shown.image is not None:
                p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
                p.drawImage(box, self.shown.image)
            else:
                p.setPen(QPen(t.edge, 1, Qt.PenStyle.DashLine))
                p.drawRect(box)
                words(p, t, box, self.shown.waiting, size=11, centre=True)
            self._net(p, t)
            self._traced(p, t, one)
            self._marks(p, t, one)
            self._names(p, t)

    def _names(self, p: QPainter, t: Theme) -> None:
        """Names beside what they are of, never over one another; what is picked first."""
        names, tags, boxes, told = dict(self.shown.names), [], [], set()
        for spot, px in self.spots():
            at = self.at(px)
            boxes.append(QRectF(at.x() - 7, at.y() - 7, 14, 14))
            name = names.get(spot.id, "")
            if name and (spot.kind, spot.id) not in told:
                told.add((spot.kind, spot.id))
                picked = self.shown.picked is not None and (self.shown.picked.kind, self.shown.picked.id) == (
                    spot.kind,
                    spot.id,
                )
                tags.append(
                    Tag(at, name, t.dye if picked else t.text, 9 if picked else 5 if spot.kind == "mark" else 3, picked)
                )
        paint_tags(p, t, tags, QRectF(self.rect()).adjusted(4, 4, -4, -4), boxes)

    def _net(self, p: QPainter, t: Theme) -> None:
        colour = QColor(t.brass)
        colour.setAlphaF(0.45)
        p.setPen(QPen(colour, 1))
        for line in self.shown.net:
            p.drawPolyline(QPolygonF([self.at(one) for one in line]))

    def _line(self, p: QPainter, colour: QColor, wide: float, draw: Callable[[], object]) -> None:
        """Draw on a dark rim, to be seen on any picture."""
        rim = QColor(0, 0, 0, 150)
        for pen in (QPen(rim, wide + 2.0), QPen(colour, wide)):
            p.setPen(pen)
            draw()

    def _traced(self, p: QPainter, t: Theme, one: PlanePicture) -> None:
        p.setBrush(Qt.BrushStyle.NoBrush)
        picked = self.shown.picked
        for traced in one.traced:
            mine = picked is not None and picked.kind == "traced" and picked.id == traced.id
            self._shape(p, t.dye if mine else t.zinc, traced.kind, list(traced.pixels))
            for k, px in enumerate(traced.pixels):
                chosen = mine and picked is not None and picked.corner == k
                self._cross(p, t.dye if chosen else t.zinc, self.at(px), 6.0 if chosen else 4.0)
        if self.pending:
            kind: TracedKind = "outline" if self.shown.hand == "outline" else "line"
            self._shape(p, t.torch, kind, [*self.pending, self.back(self._pointer)])
            for px in self.pending:
                self._cross(p, t.torch, self.at(px), 5.0)

    def _shape(self, p: QPainter, colour: QColor, kind: TracedKind, pixels: list[Flat]) -> None:
        if kind == "point" or len(pixels) < 2:
            return
        shape = QPolygonF([self.at(px) for px in pixels])
        self._line(p, colour, 1.6, lambda: p.drawPolygon(shape) if kind == "outline" else p.drawPolyline(shape))

    def _cross(self, p: QPainter, colour: QColor, at: QPointF, size: float) -> None:
        def draw() -> None:
            p.drawLine(at - QPointF(size, 0), at + QPointF(size, 0))
            p.drawLine(at - QPointF(0, size), at + QPointF(0, size))

        self._line(p, colour, 1.6, draw)

    def _marks(self, p: QPainter, t: Theme, one: PlanePicture) -> None:
        p.setBrush(Qt.BrushStyle.NoBrush)
        misses = dict(self.shown.misses)
        for mark in one.marks:
            at = self.at(mark.pixel)
            picked = self.shown.picked == Spot("mark", mark.id)
            colour = t.oxide if mark.id in self.shown.odd else t.dye if picked else t.brass if mark.place else t.faint
            r = 8.0 if picked else 6.0
            self._line(p, colour, 1.8, lambda at=at, r=r: p.drawEllipse(at, r, r))  # type: ignore[misc]
            self._cross(p, colour, at, 2.5)
            miss = misses.get(mark.id)
            if miss is not None:
                end = self.at((mark.pixel[0] - RESIDUALS * miss[0], mark.pixel[1] - RESIDUALS * miss[1]))
                self._line(p, t.oxide, 1.4, lambda at=at, end=end: p.drawLine(at, end))  # type: ignore[misc]

    # Hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.shown.picture is None:
            return
        self.setFocus()
        here = event.position()
        if event.button() == Qt.MouseButton.RightButton and self.pending:
            self.finish()
            return
        spot = None if self.pending or event.button() != Qt.MouseButton.LeftButton else self.spot_near(here)
        if spot is not None:
            self._gestures += 1
            self.picked.emit(spot)
        self._held = (spot, here, False)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        here = event.position()
        self._pointer = here
        if self._held is None:
            over = self.shown.picture is not None and not self.pending and self.spot_near(here) is not None
            shape = Qt.CursorShape.CrossCursor if self.shown.hand else Qt.CursorShape.ArrowCursor
            self.setCursor(Qt.CursorShape.SizeAllCursor if over else shape)
            if self.pending:
                self.update()
            return
        spot, start, going = self._held
        if not going and (here - start).manhattanLength() < 4:
            return
        self._held = (spot, here, True)
        if spot is None:
            self._origin += here - start
            self.update()
        else:
            self.moved.emit(spot, self.back(here), f"trace {self._gestures}")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        held, self._held = self._held, None
        one = self.shown.picture
        if event is None or held is None or one is None or event.button() != Qt.MouseButton.LeftButton:
            return
        spot, start, going = held
        if going or spot is not None or not self.shown.hand:
            return
        self._set(start, one)

    def _set(self, start: QPointF, one: PlanePicture) -> None:
        """What the hand sets, at a place of the widget; nothing beside the picture."""
        off = (start - self._origin) / self._scale
        if not self.shown.hand or not (0.0 <= off.x() <= one.wide_px and 0.0 <= off.y() <= one.high_px):
            return
        if self.shown.hand in ("mark", "point"):
            self.put.emit(self.back(start))
            return
        if self.shown.hand == "outline" and len(self.pending) >= 3:
            first = self.at(self.pending[0]) - start
            if math.hypot(first.x(), first.y()) <= HIT:
                self.finish()
                return
        self.pending.append(self.back(start))
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if self.pending:
            self.finish()
        elif not self.shown.hand:
            self.fit()

    def finish(self) -> None:
        """The line or outline is drawn."""
        least = 3 if self.shown.hand == "outline" else 2
        if len(self.pending) >= least:
            corners, self.pending = tuple(self.pending), []
            self.drawn.emit(corners)
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = event.key()
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        way, picked = ways.get(Qt.Key(key)), self.shown.picked
        pixel = next((px for spot, px in self.spots() if spot == picked), None)
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.pending:
            self.finish()
        elif key == Qt.Key.Key_Escape and self.pending:
            self.pending = []
            self.update()
        elif key == Qt.Key.Key_Backspace and self.pending:
            self.pending.pop()
            self.update()
        elif key == Qt.Key.Key_Space and self.shown.picture is not None:
            self._set(QPointF(0.5 * self.width(), 0.5 * self.height()), self.shown.picture)
        elif key == Qt.Key.Key_Delete and picked is not None:
            self.removed.emit()
        elif way is not None and picked is not None and pixel is not None:
            step = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            to = np.clip(np.array(pixel) + step * np.array(way), 0.0, None)
            self.moved.emit(picked, (float(to[0]), float(to[1])), f"nudge {picked}")
        elif key in (Qt.Key.Key_Period, Qt.Key.Key_Comma) and self.spots():
            every = [spot for spot, _ in self.spots()]
            step = 1 if key == Qt.Key.Key_Period else -1
            self.picked.emit(every[(every.index(picked) + step) % len(every)] if picked in every else every[0])
        else:
            super().keyPressEvent(event)
