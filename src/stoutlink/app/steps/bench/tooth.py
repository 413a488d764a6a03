"""One flank of a ring gear's tooth, on which the rubbed patch is painted: dragged to its place, drawn larger at its rim;
with the keys as well.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.widgets.picture import text
from stoutlink.core.analysis.bench.gear_model import Window
from stoutlink.core.analysis.bench.gear_sheet import patch_words
from stoutlink.core.document.gear_setup import Patch

FIRST = Patch(place=0.5, height=0.5)
STEP = 0.02
RIM = 14.0
"""How near to the patch's rim a press must be to draw it larger, pixels."""


class Tooth(QWidget):
    """``painted`` carries the new patch; ``over`` is true when the hand has let go."""

    painted = pyqtSignal(object, bool)

    def __init__(self, name: str, title: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.setToolTip(
            f"{title}: drag the patch to where the paint is rubbed away, its rim to make it larger; arrow keys move it, with Shift they size it."
        )
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.title = title
        self.theme: Theme | None = None
        self.patch: Patch | None = None
        self.window_: Window | None = None
        self._grip: str = ""
        self.setMinimumHeight(150)

    def sizeHint(self) -> QSize:
        return QSize(320, 190)

    def show_patch(self, theme: Theme, patch: Patch | None, window: Window | None) -> None:
        """Show a patch, and where it should lie."""
        self.theme, self.patch, self.window_ = theme, patch, window
        self.setAccessibleDescription(patch_words(patch))
        self.update()

    def face(self) -> QRectF:
        """The flank's box on the widget."""
        return QRectF(44, 30, self.width() - 88, self.height() - 60)

    def point(self, place: float, height: float) -> QPointF:
        """Where a place on the tooth is drawn: toe to the left, root below."""
        f = self.face()
        return QPointF(f.left() + place * f.width(), f.bottom() - height * f.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.fillRect(self.rect(), t.sheet)
            f = self.face()
            # a flank as it is seen: lower at the toe, its root line curved away
            rim = [
                self.point(0, -0.05),
                self.point(1, -0.05),
                self.point(1, 1.05),
                self.point(0.5, 1.0),
                self.point(0, 0.92),
            ]
            p.setPen(QPen(t.soap, 1.8))
            p.setBrush(t.raised)
            p.drawPolygon(QPolygonF(rim))
            text(p, QRectF(f.left(), 6, f.width(), 18), self.title, t.text, size=11, bold=True, align="centre")
            text(p, QRectF(0, f.top(), 40, f.height()), "toe", t.quiet, size=9, align="right")
            text(p, QRectF(f.right() + 4, f.top(), 40, f.height()), "heel", t.quiet, size=9)
            text(p, QRectF(f.left(), f.bottom() + 4, f.width(), 16), "root", t.quiet, size=9, align="centre")
            if self.window_ is not None:
                (a, b), (c, d) = self.window_.place, self.window_.height
                p.setPen(QPen(t.faint, 1, Qt.PenStyle.DashLine))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(QRectF(self.point(a, d), self.point(b, c)))
            one = self.patch
            if one is None:
                text(p, f, "paint where it is rubbed: click", t.quiet, size=10, align="centre")
            else:
                box = self._box(one)
                off = bool(one.off)
                colour = QColor(t.torch if off else t.brass)
                fill = QColor(colour)
                fill.setAlpha(110)
                p.save()
                p.setClipRect(f.adjusted(-2, -2, 2, 2))
                p.setPen(QPen(colour, 2, Qt.PenStyle.DashLine if off else Qt.PenStyle.SolidLine))
                p.setBrush(QBrush(fill))
                p.drawEllipse(box)
                p.restore()
                p.setPen(QPen(t.text, 1.4))
                cross = self.point(one.place, one.height)
                p.drawLine(cross + QPointF(-5, 0), cross + QPointF(5, 0))
                p.drawLine(cross + QPointF(0, -5), cross + QPointF(0, 5))
            if self.hasFocus():
                p.setPen(QPen(t.dye, 2))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _box(self, one: Patch) -> QRectF:
        a = self.point(one.place - 0.5 * one.long, one.height + 0.5 * one.tall)
        b = self.point(one.place + 0.5 * one.long, one.height - 0.5 * one.tall)
        return QRectF(a, b)

    def _at(self, place: QPointF) -> tuple[float, float]:
        f = self.face()
        return (
            min(max((place.x() - f.left()) / f.width(), 0.0), 1.0),
            min(max((f.bottom() - place.y()) / f.height(), 0.0), 1.0),
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        one = self.patch
        self._grip = "move"
        if one is not None:
            box = self._box(one)
            if min(abs(event.position().x() - box.left()), abs(event.position().x() - box.right())) < RIM:
                self._grip = "long"
            elif min(abs(event.position().y() - box.top()), abs(event.position().y() - box.bottom())) < RIM:
                self._grip = "tall"
        self._drag(event.position(), over=False)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._grip:
            self._drag(event.position(), over=False)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._grip:
            self._drag(event.position(), over=True)
            self._grip = ""

    def _drag(self, place: QPointF, *, over: bool) -> None:
        one = self.patch or FIRST
        x, y = self._at(place)
        if self._grip == "long":
            one = Patch(place=one.place, height=one.height, long=_size(2 * abs(x - one.place)), tall=one.tall)
        elif self._grip == "tall":
            one = Patch(place=one.place, height=one.height, long=one.long, tall=_size(2 * abs(y - one.height)))
        else:
            one = Patch(place=x, height=y, long=one.long, tall=one.tall)
        self.painted.emit(one, over)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        moves = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        if event is None or event.key() not in moves:
            super().keyPressEvent(event)
            return
        dx, dy = (STEP * v for v in moves[Qt.Key(event.key())])
        one = self.patch or FIRST
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            one = Patch(
                place=one.place, height=one.height, long=_size(one.long + 2 * dx), tall=_size(one.tall + 2 * dy)
            )
        else:
            x, y = min(max(one.place + dx, 0.0), 1.0), min(max(one.height + dy, 0.0), 1.0)
            one = Patch(place=x, height=y, long=one.long, tall=one.tall)
        self.painted.emit(one, True)


def _size(value: float) -> float:
    return min(max(value, 0.02), 1.0)
