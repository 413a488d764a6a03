"""The travel map: heave along, roll up, the worst at every pose by shade and hatch; a click or drag goes there."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QHelpEvent, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QToolTip, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.cycle.travel_map import (
    BEYOND,
    FREE,
    NEAR,
    RUNS_OUT,
    TOUCHES,
    UNREACHED,
    WORDS,
    TravelMap,
    said_at,
)
from stoutlink.core.quantity.shown import show

HATCH = {
    TOUCHES: Qt.BrushStyle.SolidPattern,
    RUNS_OUT: Qt.BrushStyle.VerPattern,
    NEAR: Qt.BrushStyle.BDiagPattern,
    UNREACHED: Qt.BrushStyle.DiagCrossPattern,
}


class TravelMapView(QWidget):
    """``moved`` carries row (roll) and column (heave)."""

    moved = pyqtSignal(int, int)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("travel_map")
        self.setAccessibleName("Travel map: heave along, roll up")
        self.setMinimumHeight(96)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self._workspace = workspace
        self.theme: Theme | None = None
        self.travel: AxleTravel | None = None
        self.found: TravelMap | None = None
        self.row = self.column = 0
        self.old = False
        self._ground: tuple[tuple[object, ...], QPixmap] | None = None

    def show_at(
        self, theme: Theme, travel: AxleTravel | None, found: TravelMap | None, row: int, column: int, old: bool = False
    ) -> None:
        """Show a travel with the pose picked; an ``old`` one faint."""
        self.old = old
        self.theme, self.travel, self.found, self.row, self.column = theme, travel, found, row, column
        if travel is not None and found is not None:
            self.setAccessibleDescription(", ".join(said_at(travel, found, row, column)))
        self.update()

    def box(self) -> QRectF:
        """Where the poses lie."""
        return QRectF(54, 6, self.width() - 64.0, self.height() - 44.0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.fillRect(self.rect(), t.plate)
            if self.travel is None or self.found is None:
                return
            p.setOpacity(0.35 if self.old else 1.0)
            box = self.box()
            rows, columns = self.found.states.shape
            p.drawPixmap(0, 0, self._painted(t, self.found))
            p.setPen(QPen(t.edge, 1))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
            g = self.travel.grid
            i, j = g.ride
            p.setPen(QPen(t.faint, 1, Qt.PenStyle.DashLine))
            for a, b in ((self._at(i, 0), self._at(i, columns - 1)), (self._at(0, j), self._at(rows - 1, j))):
                p.drawLine(a, b)
            at = self._at(self.row, self.column)
            p.setPen(QPen(t.dye, 1.5))
            p.drawLine(QPointF(at.x(), box.top() - 3), QPointF(at.x(), box.bottom() + 3))
            p.drawLine(QPointF(box.left() - 3, at.y()), QPointF(box.right() + 3, at.y()))
            p.setBrush(t.dye)
            p.drawEllipse(at, 4, 4)
            self._words(p, t, box)

    def _painted(self, t: Theme, found: TravelMap) -> QPixmap:
        """The states, painted once for as long as they, the colours and the size stay."""
        ratio = self.devicePixelRatioF()
        key = (found, t, self.width(), self.height(), ratio)
        if self._ground is not None and all(
            a is b or (isinstance(a, (int, float)) and a == b) for a, b in zip(self._ground[0], key, strict=True)
        ):
            return self._ground[1]
        out = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
        out.setDevicePixelRatio(ratio)
        out.fill(t.plate)
        with QPainter(out) as p:
            box, states = self.box(), found.states
            rows, columns = states.shape
            dx, dy = box.width() / columns, box.height() / rows
            colours = {
                FREE: t.raised,
                BEYOND: t.plate,
                TOUCHES: t.oxide,
                RUNS_OUT: t.torch,
                NEAR: t.brass,
                UNREACHED: t.edge,
            }
            image = QImage(columns, rows, QImage.Format.Format_RGB32)
            image.fill(t.plate)
            for state, colour in colours.items():
                if state in (TOUCHES, FREE, BEYOND):
                    _fill(image, states == state, colour)
            p.drawImage(box, image)
            for state in (RUNS_OUT, NEAR, UNREACHED):
                for r, c0, c1 in _runs(states == state):
                    p.fillRect(
                        QRectF(box.left() + c0 * dx, box.bottom() - (r + 1) * dy, (c1 - c0) * dx, dy + 0.5),
                        QBrush(colours[state], HATCH[state]),
                    )
        self._ground = (key, out)
        return out

    def _words(self, p: QPainter, t: Theme, box: QRectF) -> None:
        assert self.travel is not None
        assert self.found is not None
        unit, g = self._workspace.unit, self.travel.grid
        p.setFont(font(8))
        p.setPen(t.quiet)
        left, right = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight
        p.drawText(
            QRectF(box.left(), box.bottom() + 2, 150, 13),
            left,
            f"droop {show(-g.heave[0], 'length', unit, decimals=1)}",
        )
        p.drawText(
            QRectF(box.right() - 150, box.bottom() + 2, 150, 13),
            right,
            f"bump {show(g.heave[-1], 'length', unit, decimals=1)}",
        )
        p.drawText(QRectF(0, box.top() - 2, 48, 13), right, "left up")
        p.drawText(QRectF(0, box.center().y() - 7, 48, 13), right, "level")
        p.drawText(QRectF(0, box.bottom() - 11, 48, 13), right, "right up")
        x = box.left()
        for state, colour in (
            (TOUCHES, t.oxide),
            (RUNS_OUT, t.torch),
            (NEAR, t.brass),
            (UNREACHED, t.edge),
            (FREE, t.raised),
            (BEYOND, t.plate),
        ):
            if not (self.found.states == state).any():
                continue
            sample = QRectF(x, box.bottom() + 20, 14, 10)
            p.fillRect(sample, QBrush(colour, HATCH.get(state, Qt.BrushStyle.SolidPattern)))
            p.setPen(QPen(t.edge, 1))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(sample)
            p.setPen(t.quiet)
            words = WORDS[state]
            wide = p.fontMetrics().horizontalAdvance(words) + 12
            p.drawText(QRectF(x + 18, box.bottom() + 17, wide, 15), left, words)
            x += 18 + wide

    def _at(self, row: int, column: int) -> QPointF:
        assert self.found is not None
        rows, columns = self.found.states.shape
        box = self.box()
        return QPointF(
            box.left() + (column + 0.5) * box.width() / columns, box.bottom() - (row + 0.5) * box.height() / rows
        )

    def pose_at(self, place: QPointF) -> tuple[int, int] | None:
        """Row and column under a pixel."""
        if self.found is None:
            return None
        rows, columns = self.found.states.shape
        box = self.box()
        column = int((place.x() - box.left()) / box.width() * columns)
        row = int((box.bottom() - place.y()) / box.height() * rows)
        return min(rows - 1, max(0, row)), min(columns - 1, max(0, column))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        found = None if event is None else self.pose_at(event.position())
        if found is not None:
            self.moved.emit(*found)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        self.mousePressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and self.travel is not None and self.found is not None and not self.old:
            found = self.pose_at(QPointF(event.pos()))
            if found is not None:
                QToolTip.showText(event.globalPos(), "\n".join(said_at(self.travel, self.found, *found)[:6]), self)
            return True
        return super().event(event)


def _fill(image: QImage, where: NDArray[np.bool_], colour: QColor) -> None:
    rows = where.shape[0]
    for r, c in zip(*np.nonzero(where), strict=True):
        image.setPixelColor(int(c), rows - 1 - int(r), colour)


def _runs(where: NDArray[np.bool_]) -> list[tuple[int, int, int]]:
    """Rows of neighbours: (row, first, past the last)."""
    out = []
    for r, line in enumerate(where):
        edges = np.flatnonzero(np.diff(np.concatenate([[0], line.astype(int), [0]])))
        out += [(r, int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
    return out
