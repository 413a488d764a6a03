"""The route: a slim strip with the steps as they stand. Never a wizard: any step, any time."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.core.study.route_state import StepState
from stoutlink.core.study.study import Study


class Station(Struct, frozen=True):
    """One step on the route: id, title, one sentence, and how it stands."""

    id: str
    title: str
    help_text: str
    state: Callable[[Study], StepState]


class _Station(QAbstractButton):
    def __init__(self, station: Station, first: bool, last: bool, parent: QWidget) -> None:
        super().__init__(parent)
        self.station, self._first, self._last = station, first, last
        self.state, self.word = "untouched", ""
        self.theme: Theme | None = None
        self.setText(station.title)
        self.setObjectName(f"route_{station.id}")
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setToolTip(station.help_text)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(92, 80)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            w, middle = self.width(), QPointF(self.width() / 2, 27.0)
            if self.isChecked():
                p.fillRect(QRectF(0, 0, w, self.height()), t.sheet)
                p.fillRect(QRectF(0, 0, 4, self.height()), t.dye)
            elif self.underMouse() or self.hasFocus():
                p.fillRect(QRectF(0, 0, w, self.height()), t.raised)
            p.setPen(QPen(t.faint, 2))
            if not self._first:
                p.drawLine(QPointF(middle.x(), 0), QPointF(middle.x(), 16))
            if not self._last:
                p.drawLine(QPointF(middle.x(), 78), QPointF(middle.x(), self.height()))
            self._mark(p, t, middle)
            p.setPen(t.text if self.isChecked() else t.quiet)
            for size in (11.0, 10.0, 9.0):
                p.setFont(font(size, bold=self.isChecked()))
                if p.fontMetrics().horizontalAdvance(self.text()) <= w - 8:
                    break
            p.drawText(QRectF(0, 42, w, 20), Qt.AlignmentFlag.AlignCenter, self.text())
            p.setPen(t.torch if self.state == "open" else t.quiet)
            p.setFont(font(8.5))
            p.drawText(QRectF(0, 60, w, 17), Qt.AlignmentFlag.AlignCenter, self.word)

    def _mark(self, p: QPainter, t: Theme, c: QPointF) -> None:
        colour = {"open": t.torch, "settled": t.soap}.get(self.state, t.quiet)
        p.setPen(QPen(colour, 2))
        p.setBrush(QBrush(QColor(0, 0, 0, 0)))
        if self.state == "open":
            p.setBrush(QBrush(colour))
            p.drawPolygon(QPolygonF([c + QPointF(0, -9), c + QPointF(10, 8), c + QPointF(-10, 8)]))
        elif self.state == "settled":
            p.setBrush(QBrush(colour))
            p.drawRect(QRectF(c.x() - 7, c.y() - 7, 14, 14))
        elif self.state == "work":
            p.drawRect(QRectF(c.x() - 7, c.y() - 7, 14, 14))
            p.fillRect(QRectF(c.x() - 7, c.y(), 14, 7), colour)
        else:
            p.drawRect(QRectF(c.x() - 7, c.y() - 7, 14, 14))


class Route(QWidget):
    """The strip on the left; ``picked`` names the step."""

    picked = pyqtSignal(str)

    def __init__(self, stations: tuple[Station, ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("route")
        self.setAccessibleName("Route")
        self.setFixedWidth(92)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 8, 0, 0)
        layout.setSpacing(0)
        self._stations = {}
        for i, station in enumerate(stations):
            one = _Station(station, i == 0, i == len(stations) - 1, self)
            one.clicked.connect(lambda _=False, s=station.id: self.picked.emit(s))
            self._stations[station.id] = one
            layout.addWidget(one)
        layout.addStretch(1)

    def show_step(self, step: str) -> None:
        """Mark the step that is on the sheet."""
        self._stations[step].setChecked(True)

    def refresh(self, study: Study, theme: Theme) -> None:
        """Show the state of each step."""
        for one in self._stations.values():
            now = (theme, *one.station.state(study))
            if now != (one.theme, one.state, one.word):
                one.theme, one.state, one.word = now
                one.setAccessibleName(f"{one.text()}, {one.word}")
                one.update()
