"""Stepping the axle through bump and droop: a slider, and how each number runs over the travel."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.advice.verdict import school_words
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.quantity.shown import show

TALLEST = 62.0
"""Height of a row at the most, pixels."""
Rows = list[tuple[str, NDArray[np.float64], str, str]]


class _Curves(QWidget):
    """One row a number: name, its run over the travel, the value here and at ride."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("travel_curves")
        self.rows: Rows = []
        self.theme: Theme | None = None
        self.station = 0
        self.setMinimumHeight(150)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None or not self.rows:
            return
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            w, tall = float(self.width()), min(TALLEST, self.height() / len(self.rows))
            left, right = 96.0, w - 172.0
            for i, (name, values, here, ride) in enumerate(self.rows):
                box = QRectF(left, i * tall + 3, right - left, tall - 6)
                p.setFont(font(9))
                p.setPen(t.quiet)
                p.drawText(
                    QRectF(0, i * tall, left - 6, tall),
                    Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft,
                    name,
                )
                p.setPen(QPen(t.edge, 1))
                p.drawLine(box.bottomLeft(), box.bottomRight())
                self._curve(p, t, box, values)
                p.setPen(t.text)
                p.setFont(font(9.5, bold=True))
                p.drawText(
                    QRectF(right + 8, i * tall, 76, tall),
                    Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                    here,
                )
                p.setPen(t.quiet)
                p.setFont(font(8.5))
                p.drawText(
                    QRectF(right + 84, i * tall, 88, tall),
                    Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                    ride,
                )

    def _curve(self, p: QPainter, t: Theme, box: QRectF, values: NDArray[np.float64]) -> None:
        good = np.isfinite(values)
        if good.sum() < 2:
            return
        low, high = float(values[good].min()), float(values[good].max())
        span = max(high - low, 1e-9)
        n = len(values) - 1

        places = np.flatnonzero(good)[::5]
        xs = box.left() + places / n * box.width()
        ys = box.bottom() - (values[places] - low) / span * box.height()
        p.setPen(QPen(t.soap, 1))
        p.drawPolyline(QPolygonF([QPointF(a, b) for a, b in zip(xs.tolist(), ys.tolist(), strict=True)]))
        x = box.left() + self.station / n * box.width()
        p.setPen(QPen(t.dye, 1))
        p.drawLine(QPointF(x, box.top() - 3), QPointF(x, box.bottom() + 3))
        if good[self.station]:
            p.setBrush(t.dye)
            p.drawEllipse(QPointF(x, box.bottom() - (values[self.station] - low) / span * box.height()), 3, 3)


class TravelPanel(QWidget):
    """Slider from full droop to full bump; ``moved`` carries the station, or −1 at ride height."""

    moved = pyqtSignal(int)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        row = QHBoxLayout()
        self.down = QPushButton("▼ Droop", self)
        self.down.setObjectName("travel_down")
        self.down.setToolTip("One step down (Page Down).")
        self.up = QPushButton("▲ Bump", self)
        self.up.setObjectName("travel_up")
        self.up.setToolTip("One step up (Page Up).")
        self.slider = QSlider(Qt.Orientation.Horizontal, self)
        self.slider.setObjectName("travel")
        self.slider.setAccessibleName("Travel from full droop to full bump")
        self.slider.setToolTip("Moves the axle from full droop to full bump.")
        self.slider.valueChanged.connect(self._slid)
        self.down.clicked.connect(lambda: self.step(-5))
        self.up.clicked.connect(lambda: self.step(5))
        row.addWidget(self.down)
        row.addWidget(self.slider, 1)
        row.addWidget(self.up)
        layout.addLayout(row)
        self.where = Label("", self)
        self.where.setObjectName("travel_where")
        self.where.setAlignment(Qt.AlignmentFlag.AlignCenter)
        layout.addWidget(self.where)
        self._curves = _Curves(self)
        layout.addWidget(self._curves, 1)
        self._ride = 60
        self._motion: AxleMotion | None = None

    def refresh(self, theme: Theme, motion: AxleMotion | None) -> None:
        """Show the travel of an axle."""
        self._motion = motion
        self._curves.theme = theme
        self.setEnabled(motion is not None)
        if motion is None:
            self._curves.rows = []
            self.where.setText("")
            self._curves.update()
            return
        stations = len(motion.heave.poses.z)
        ride = round(-motion.asked[0] / (motion.asked[1] - motion.asked[0]) * (stations - 1))
        with QSignalBlocker(self.slider):
            at_ride = self.slider.value() == self._ride or self.slider.maximum() != stations - 1
            self.slider.setRange(0, stations - 1)
            self._ride = ride
            if at_ride:
                self.slider.setValue(ride)
        self._show()

    def step(self, by: int) -> None:
        """Move the slider."""
        self.slider.setValue(self.slider.value() + by)

    def to_ride(self) -> None:
        """Back to ride height."""
        self.slider.setValue(self._ride)

    def _slid(self, value: int) -> None:
        self._show()
        self.moved.emit(-1 if value == self._ride else value)

    def _show(self) -> None:
        m = self._motion
        if m is None:
            return
        i = min(self.slider.value(), len(m.heave.poses.z) - 1)
        unit = self._workspace.unit
        heave = m.asked[0] + (m.asked[1] - m.asked[0]) * i / (len(m.heave.poses.z) - 1)
        if not m.heave.poses.reached[i]:
            self.where.setText(
                f"The links bind before {show(abs(heave), 'length', unit, decimals=1)} of {'bump' if heave > 0 else 'droop'}."
            )
        elif i == self._ride:
            self.where.setText(f"At ride height · {school_words(self._workspace.project.settings)}")
        else:
            self.where.setText(f"{show(abs(heave), 'length', unit, decimals=1)} of {'bump' if heave > 0 else 'droop'}")
        self._curves.station = i
        self._curves.rows = self._rows(m, i)
        self._curves.update()

    def _rows(self, m: AxleMotion, i: int) -> Rows:
        unit = self._workspace.unit
        t = m.heave
        drive = self._workspace.study.drive_over_heave(m.end)
        deg = np.degrees

        def length(v: float) -> str:
            return show(v, "length", unit, decimals=2 if unit == "in" else 1) if math.isfinite(v) else "–"

        def row(name: str, values: NDArray[np.float64], form: str) -> tuple[str, NDArray[np.float64], str, str]:
            def text(v: float) -> str:
                if not math.isfinite(v):
                    return "–"
                v = 0.0 if abs(v) < 1e-6 else v
                return length(v) if form == "length" else form.format(v).replace("-", "−")

            return name, values, text(float(values[i])), f"ride {text(float(values[self._ride]))}"

        return [
            row("Anti-squat" if m.end == "rear" else "Anti-lift (drive)", drive, "{:.0f} %"),
            row("Roll centre", t.roll.centre_height, "length"),
            row("Roll steer", t.roll.steer, "{:.3f}"),
            row("Pinion up", deg(t.pinion), "{:.1f}°"),
            row("Wheelbase ±", t.wheelbase_change, "length"),
            row("Side shift", t.lateral, "length"),
        ]
