"""The rig in the round, turned by hand: drawn at once while it turns, finer beside the window once it rests."""

from __future__ import annotations

import math
import time
from collections.abc import Mapping
from typing import Any

import numpy as np
from msgspec import Struct, field
from msgspec.structs import replace
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QShowEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.painting import pane_title
from stoutlink.app.canvas.tags import Tag, gap_tag, paint_tags
from stoutlink.app.desk.background import SHOWN, Background
from stoutlink.app.desk.theme import Theme
from stoutlink.core.analysis.cycle.posed import Nearest
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.round_paint import Colour, pixels
from stoutlink.core.drawing.round_view import Eye, Look, Scene, fitted
from stoutlink.core.drawing.shapes import ViewName
from stoutlink.core.editing.pivots import Pivot

HANDS = "Drag turns the rig, Shift and drag moves it, the wheel zooms; arrows turn it too."
REST_MS = 120
HIT = 10.0
TURN = 0.008
"""Rad of turn for a pixel."""
QUICK_S, COARSE = 0.024, 0.5
"""A look that takes longer than this, s, is coarser by this part while a hand turns it."""
STEP = math.radians(5.0)
SMALLEST, LARGEST = 20.0, 4000.0
GRID = 0.5
"""Between the lines of the ground, m."""


class RoundShown(Struct, frozen=True, eq=False):
    """What is shown: the scene, names of what is lit because it touches or is too near, least distances with their words,
    pivots that can be had, the one picked."""

    scene: Scene = field(default_factory=lambda: Scene(()))
    lit: frozenset[str] = frozenset()
    nearest: tuple[tuple[Nearest, str], ...] = ()
    pivots: Mapping[Pivot, Point] = field(default_factory=dict)
    selected: Pivot | None = None
    empty: str = ""


class RoundPane(QWidget):
    """``picked`` a pivot; ``dragged`` it to a point, ``released`` it; ``larger``: somebody wants this view large; ``moved``:
    the eye is somewhere else."""

    picked = pyqtSignal(object)
    dragged = pyqtSignal(object, tuple)
    released = pyqtSignal()
    larger = pyqtSignal()
    moved = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("round_view")
        self.setAccessibleName("The rig in the round")
        self.setToolTip(HANDS)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.eye = Eye()
        self.plane: ViewName | None = None
        """The plane a pivot is dragged in; ``None``: square to the look."""
        self.small = False
        self.caught = ""
        """What a dragged pivot has fallen on."""
        self.behind = False
        """What is drawn is not of now any more: it follows when the hand rests."""
        self.shown = RoundShown()
        self.theme: Theme | None = None
        self._fitted = False
        self._image: tuple[tuple[object, ...], QImage] | None = None
        self._fine: tuple[tuple[object, ...], QImage] | None = None
        self._look: tuple[tuple[object, ...], Look] | None = None
        self._refine: Background[QImage] = Background(self, SHOWN)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self._refine_now)
        self._slow = 0.0
        """How long the last look in full took, s: where it is long, one turns a coarser picture."""
        self._hand: tuple[str, QPointF] | None = None
        self._pivot: Pivot | None = None

    def show_round(self, theme: Theme, shown: RoundShown) -> None:
        """Show this."""
        self.theme, self.shown, self.behind = theme, shown, False
        if not self._fitted and shown.scene.things and self.width() > 40:
            self.fit()
        self._changed()

    def fit(self) -> None:
        """Bring everything into the picture."""
        if self.shown.scene.things and self.width() > 40:
            self._fitted = True
            self.eye = fitted(self.eye, self.shown.scene.things, self.width(), self.height())
            self.moved.emit()
        self._changed()

    def fly_to(self, at: Point) -> None:
        """Have a place in the middle, near enough to see it."""
        self._fitted = True
        self.eye = replace(self.eye, middle=at, scale=max(self.eye.scale, 0.5 * min(self.width(), self.height()) / 0.6))
        self.moved.emit()
        self._changed()

    def look_from(self, turn: float, tilt: float) -> None:
        """Look from a side, everything in the picture."""
        self.eye = replace(self.eye, turn=turn, tilt=tilt)
        self.fit()

    def zoom(self, factor: float, about: QPointF | None = None) -> None:
        """Larger or smaller, what is under a pixel kept in place."""
        pixel = about or QPointF(self.width() / 2, self.height() / 2)
        scale = max(SMALLEST, min(LARGEST, self.eye.scale * factor))
        off = QPointF(pixel.x() - self.width() / 2, pixel.y() - self.height() / 2) * (1.0 - scale / self.eye.scale)
        self.eye = replace(self.eye, scale=scale).shifted(off.x(), off.y())
        self.moved.emit()
        self._changed()

    def ready(self) -> bool:
        """Whether the picture in view is as fine as it will be."""
        return not self._rest.isActive() and not self._refine.busy

    def _changed(self) -> None:
        """Draw it now, finer once it rests."""
        self.update()
        if self.isVisible() and self.shown.scene.things:
            self._rest.start()

    def stop(self) -> None:
        """Leave off work beside the window."""
        self._rest.stop()
        self._refine.stop()

    # Picture

    def _key(self) -> tuple[object, ...]:
        return (self.shown.scene, self.shown.lit, self.eye, self.size(), self.devicePixelRatioF(), self.theme)

    def look(self) -> Look:
        """What is seen now."""
        key = (self.shown.scene, self.eye, self.size())
        if self._look is None or self._look[0] != key:
            fine = COARSE if self._hand is not None and self._slow > QUICK_S else 1.0
            began = time.perf_counter()
            self._look = (key, self.shown.scene.look(self.eye, max(1, self.width()), max(1, self.height()), fine))
            if fine == 1.0:
                self._slow = time.perf_counter() - began
        return self._look[1]

    def _refine_now(self) -> None:
        """Twice as fine, beside the window."""
        theme = self.theme
        key, shown, eye = self._key(), self.shown, self.eye
        if theme is None or not self.isVisible() or not shown.scene.things or self._hand is not None:
            return
        if self._fine is not None and self._fine[0] == key:
            return
        ratio = self.devicePixelRatioF()
        wide, high = max(1, round(self.width() * ratio)), max(1, round(self.height() * ratio))
        colours = _colours(theme)

        def work(going: Any) -> QImage | None:
            look = shown.scene.look(replace(eye, scale=eye.scale * ratio), wide, high, 2)
            if not going(0.6):
                return None
            fine = _image(pixels(look, shown.lit, colours))
            out = fine.scaled(
                wide, high, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation
            )
            out.setDevicePixelRatio(ratio)
            return out

        def done(image: QImage) -> None:
            self._fine = (key, image)
            self.update()

        self._refine.start(work, done, lambda part: None)

    def _picture(self, t: Theme) -> QImage:
        key = self._key()
        if self._fine is not None and self._fine[0] == key:
            return self._fine[1]
        if self._image is None or self._image[0] != key:
            self._image = (key, _image(pixels(self.look(), self.shown.lit, _colours(t))))
        return self._image[1]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.fillRect(self.rect(), t.sheet)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            pane = QRectF(self.rect())
            if not self.shown.scene.things:
                p.setPen(t.quiet)
                p.drawText(
                    pane.adjusted(10, 10, -10, -10),
                    int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap),
                    self.shown.empty,
                )
                return
            self._ground(p, t)
            p.setOpacity(0.35 if self.behind else 1.0)
            p.drawImage(pane, self._picture(t))
            p.setOpacity(1.0)
            if self.behind:
                pane_title(p, t, pane, "follows when the hand rests")
                return
            tags = self._nearest(p, t)
            if not self.small:
                boxes = self._handles(p, t)
                paint_tags(p, t, tags, pane.adjusted(4, 4, -4, -4), boxes)
            pane_title(p, t, pane, self.caught or "Round")

    def _ground(self, p: QPainter, t: Theme) -> None:
        """A net of lines on the ground."""
        box = self.shown.scene.bounds
        if box is None:
            return
        low, high = box
        x = np.arange(math.floor(low[0] / GRID - 1), math.ceil(high[0] / GRID + 1) + 1) * GRID
        y = np.arange(math.floor(low[1] / GRID - 1), math.ceil(high[1] / GRID + 1) + 1) * GRID
        p.setPen(QPen(_mixed(t.edge, t.sheet, 0.55), 1))
        for a, b in [((v, y[0]), (v, y[-1])) for v in x] + [((x[0], v), (x[-1], v)) for v in y]:
            p.drawLine(self._at((a[0], a[1], 0.0)), self._at((b[0], b[1], 0.0)))

    def _at(self, point: tuple[float, float, float]) -> QPointF:
        x, y, _ = self.eye.onto(np.array(point), self.width(), self.height())
        return QPointF(float(x), float(y))

    def _nearest(self, p: QPainter, t: Theme) -> list[Tag]:
        """Lines of least distance, with their numbers as tags."""
        return [
            gap_tag(p, t, self._at(one.a), self._at(one.b), one.gap, words, k)
            for k, (one, words) in enumerate(self.shown.nearest)
        ]

    def _handles(self, p: QPainter, t: Theme) -> list[QRectF]:
        """Pivots: squares on the frame, circles on the axle, faint where something stands in front of them."""
        look, out = self.look(), []
        for pivot, point in sorted(self.shown.pivots.items(), key=lambda one: one[0] == self.shown.selected):
            at, chosen = self._at(point), pivot == self.shown.selected
            hidden = look.hidden(point, 0.08)
            r = 6.0 if chosen else 3.5 if hidden else 4.5
            p.setPen(
                QPen(t.dye if chosen else t.faint if hidden else t.soap, 2.0 if chosen else 1.0 if hidden else 1.4)
            )
            p.setBrush(t.dye if chosen else t.sheet)
            box = QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r)
            if pivot[1] == "frame":
                p.drawRect(box)
            else:
                p.drawEllipse(box)
            out.append(box)
        return out

    # Hands

    def pivot_near(self, pixel: QPointF) -> Pivot | None:
        """The pivot under a pixel; the picked one first."""
        best: tuple[float, Pivot] | None = None
        for pivot, point in self.shown.pivots.items():
            off = self._at(point) - pixel
            gap = math.hypot(off.x(), off.y()) - (3.0 if pivot == self.shown.selected else 0.0)
            if gap <= HIT and (best is None or gap < best[0]):
                best = (gap, pivot)
        return None if best is None else best[1]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        at = event.position()
        moves = event.button() == Qt.MouseButton.MiddleButton or event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        found = None if self.small or moves else self.pivot_near(at)
        if found is not None and event.button() == Qt.MouseButton.LeftButton:
            self._pivot = found
            self.picked.emit(found)
            self._hand = ("pivot", at)
        elif event.button() in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            self._hand = ("move" if moves else "turn", at)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        if self._hand is None:
            near = not self.small and self.pivot_near(at) is not None
            self.setCursor(Qt.CursorShape.SizeAllCursor if near else Qt.CursorShape.ArrowCursor)
            thing = None if self.behind else self.look().at(at.x(), at.y())
            self.setToolTip(HANDS if thing is None else thing.name)
            return
        what, before = self._hand
        step = at - before
        self._hand = (what, at)
        if what == "pivot" and self._pivot is not None:
            through = self.shown.pivots.get(self._pivot)
            if through is not None:
                to = self.eye.back((at.x(), at.y()), self.width(), self.height(), through, self.plane)
                self.dragged.emit(self._pivot, to)
            return
        self.eye = (
            self.eye.turned(step.x() * TURN, step.y() * TURN)
            if what == "turn"
            else self.eye.shifted(step.x(), step.y())
        )
        self.moved.emit()
        self._changed()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        held, self._hand, self._pivot, self._look = self._hand, None, None, None
        if held is not None and held[0] == "pivot":
            self.released.emit()
        self._rest.start()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if self.small:
            self.larger.emit()
        elif event is not None and self.pivot_near(event.position()) is None:
            self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None:
            self.zoom(1.0015 ** event.angleDelta().y(), event.position())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        way = None if event is None else ways.get(Qt.Key(event.key()))
        if event is None or way is None:
            super().keyPressEvent(event)
            return
        self.eye = self.eye.turned(way[0] * STEP, way[1] * STEP)
        self.moved.emit()
        self._changed()

    def showEvent(self, event: QShowEvent | None) -> None:
        self._changed()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        before = None if event is None else event.oldSize()
        if not self._fitted or before is None or before.width() < 1 or before.height() < 1:
            self.fit()
            return
        part = min(self.width() / before.width(), self.height() / before.height())
        self.eye = replace(self.eye, scale=max(SMALLEST, min(LARGEST, self.eye.scale * part)))
        self._changed()

    def turn_to(self, turn: float, tilt: float) -> None:
        """Look from there, at the same place and scale."""
        if (turn, tilt) != (self.eye.turn, self.eye.tilt):
            self.eye = replace(self.eye, turn=turn, tilt=tilt)
            self._changed()


def _mixed(a: QColor, b: QColor, part: float) -> QColor:
    one, two = a.getRgb()[:3], b.getRgb()[:3]
    return QColor(*(round(part * x + (1 - part) * y) for x, y in zip(one, two, strict=True)))


def _colours(t: Theme) -> dict[str, Colour]:
    """What things of a role are lit in full, and the ink of edges."""
    grey = _mixed(t.quiet, t.sheet, 0.75)
    known: dict[str, QColor] = {
        "tyre": _mixed(t.tyre, t.quiet, 0.75), "housing": _mixed(t.quiet, t.edge, 0.7), "link_upper": t.upper, "link_lower": t.lower, "link_panhard": t.brass,
        "rail": _mixed(t.brass, t.sheet, 0.75), "solid": grey, "room": _mixed(t.quiet, t.sheet, 0.4), "shaft": _mixed(t.soap, t.quiet, 0.4),
        "drag_link": _mixed(t.brass, t.soap, 0.4), "leaf": t.zinc, "cut": _mixed(t.dye, t.quiet, 0.55), "mark": t.torch,
        "lit": t.oxide, "ink": _mixed(t.soap, t.sheet, 0.12) if t.sheet.lightness() < 128 else t.text,
    }  # fmt: skip
    return {key: colour.getRgb()[:3] for key, colour in known.items()}


def _image(colours: NDArray[np.uint32]) -> QImage:
    """Pixels as a picture of its own."""
    high, wide = colours.shape
    return QImage(colours.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32_Premultiplied).copy()
