"""Curves: one number over heave or roll with its ±, the compared layout as a ghost, the pose picked as a line."""

from __future__ import annotations

import contextlib
import math

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QMouseEvent, QPainter, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.canvas.plot import Plot
from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.travel.look import WAIT, TravelLook
from stoutlink.app.widgets.picture import Picture, text
from stoutlink.core.advice.pose_words import heave_words, roll_words
from stoutlink.core.analysis.cycle.curve_sure import Bands
from stoutlink.core.analysis.cycle.travel import AxleTravel, Curve
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.quantity.constants import INCH, POUND_FORCE
from stoutlink.core.study.question import GivenUp

Array = NDArray[np.float64]


def _with_plus(value: float, sigma: Array | None, at: int) -> str:
    """A value to the digits its ± allows, and the ±."""
    two = math.nan if sigma is None else 2 * float(sigma[at])
    if not two > 0:
        return f"{value:.4g}"
    digits = max(0, 1 - math.floor(math.log10(two))) if two > 1e-9 else 6
    return f"{value:.{digits}f} ± {two:.{digits}f}" if digits <= 6 else f"{value:.4g}"


GAUGES = {one.curve: one.id for one in HEADLINES.values() if one.curve is not None}
"""Curves whose wanted band is that of a gauge, in the same unit."""


class CurveLook(TravelLook):
    """``moved`` carries the station picked on the curve: over heave a column, over roll a row; ``export`` asks for
    the table.
    """

    moved = pyqtSignal(int, bool)
    export = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "curves", "Curves over the travel", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        row = QHBoxLayout()
        self.which, self.over = StillBox(self), StillBox(self)
        for box, name, title in ((self.which, "curve_which", "Number"), (self.over, "curve_over", "Over")):
            box.setObjectName(name)
            box.setAccessibleName(title)
            box.setFont(font(9))
            box.currentIndexChanged.connect(self._again)
        self.over.addItem("over heave", True)
        self.over.addItem("over roll", False)
        self.save = QPushButton("CSV…", self)
        self.save.setObjectName("export_travel")
        self.save.setToolTip("Write every curve of this axle as a table.")
        self.save.setFont(font(9))
        self.save.clicked.connect(self.export)
        row.addWidget(self.which, 2)
        row.addWidget(self.over, 1)
        row.addWidget(self.save)
        inside.addLayout(row)
        self.picture = _Curve(self)
        inside.addWidget(self.picture, 1)
        self._listed: tuple[str, ...] = ()
        self.work: Background[tuple[AxleTravel, Bands]] = Background(self)
        self.working: AxleTravel | None = None
        self.sure: tuple[AxleTravel, Bands] | None = None

    def _again(self) -> None:
        if self.theme is not None and self.shown.travel is not None:
            self.prepare()

    def prepare(self) -> None:
        travel = self.shown.travel
        listed = () if travel is None else tuple(c.id for c in travel.curves)
        if travel is not None and listed != self._listed:
            now = self.which.currentData()
            self._listed = listed
            self.which.blockSignals(True)
            self.which.clear()
            for c in travel.curves:
                self.which.addItem(c.title, c.id)
            self.which.setCurrentIndex(max(0, self.which.findData(now)))
            self.which.blockSignals(False)
        assert self.theme is not None
        self.picture.show_with(self.theme, self.picture.paint_curve)

        if travel is not None and self.bands is None and self.working is not travel:
            self._start(travel)

    def _start(self, travel: AxleTravel) -> None:
        """Work out the ± of every curve beside the window."""
        study = self.workspace.study
        self.working = travel

        def work(tell: Progress) -> tuple[AxleTravel, Bands] | None:
            with contextlib.suppress(GivenUp):
                return travel, study.curve_sure(travel, going=tell)
            return None

        self.work.start(work, self._done, lambda part: None)

    def _done(self, answer: tuple[AxleTravel, Bands]) -> None:
        self.working, self.sure = None, answer
        self.picture.update()

    def stop(self) -> None:
        self.work.stop()
        self.working = None

    @property
    def bands(self) -> Bands | None:
        """1 σ of the curves of the travel shown, once it is worked out."""
        return self.sure[1] if self.sure is not None and self.sure[0] is self.shown.travel else None

    @property
    def heaving(self) -> bool:
        """Over heave rather than roll."""
        return bool(self.over.currentData())

    def curve(self) -> Curve | None:
        """The curve picked."""
        return None if self.shown.travel is None else self.shown.travel.curve(str(self.which.currentData()))

    def scaled(self, c: Curve, values: Array) -> tuple[Array, str]:
        """Values in the unit shown, and its name."""
        unit = self.workspace.unit
        if c.kind == "length":
            return (values / INCH, "in") if unit == "in" else (values * 1000.0, "mm")
        if c.kind == "angle":
            return np.degrees(values), "°"
        if c.kind == "spring_rate":
            return (values / (POUND_FORCE / INCH), "lb/in") if unit == "in" else (values / 1000.0, "N/mm")
        return values, "%" if c.kind == "percent" else ""

    def sigma_of(self, c: Curve) -> Array | None:
        """1 σ of a curve in the unit shown."""
        bands = self.bands
        if bands is None or c.id not in bands:
            return None
        values = bands[c.id][0 if self.heaving else 1]
        return self.scaled(c, values)[0]

    def as_text(self) -> str:
        c, travel = self.curve(), self.shown.travel
        if c is None or travel is None:
            return ""
        inches = self.workspace.unit == "in"
        heave = travel.grid.heave / INCH if inches else travel.grid.heave * 1000.0
        xs, along = (
            (heave, f"heave, {'in' if inches else 'mm'}") if self.heaving else (np.degrees(travel.grid.roll), "roll, °")
        )
        values, name = self.scaled(c, c.heave if self.heaving else c.roll)
        rows = (f"{x:.2f}\t{f'{v:.5g}' if np.isfinite(v) else '–'}" for x, v in zip(xs, values, strict=True))
        return "\n".join((f"{along}\t{c.title}, {name}", *rows))


class _Curve(Picture):
    def __init__(self, look: CurveLook) -> None:
        super().__init__("travel_curve", "Curve over the travel", look)
        self.setMinimumHeight(170)
        self._look = look
        self._plot: Plot | None = None
        self._known: tuple[tuple[object, ...], QPixmap] | None = None

    def paint_curve(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The curve picked; what does not move with the pose is painted once."""
        look = self._look
        travel, c = look.shown.travel, look.curve()
        if travel is None or c is None:
            self._plot = self._known = None
            text(p, QRectF(4, 4, self.width() - 8.0, 16), WAIT, t.quiet, size=9)
            return
        heaving, unit, w = look.heaving, look.workspace.unit, float(self.width())
        values, name = look.scaled(c, c.heave if heaving else c.roll)
        across = travel.grid.heave / INCH if unit == "in" else travel.grid.heave * 1000.0
        xs = across if heaving else np.degrees(travel.grid.roll)
        if np.isfinite(values).sum() < 2:
            text(
                p,
                QRectF(10, 10, w - 20, 40),
                f"{c.title} is not defined over {'heave' if heaving else 'roll'} here.",
                t.quiet,
                size=10,
                wrap=True,
            )
            self._plot = self._known = None
            return
        sigma = look.sigma_of(c)
        key = (
            travel,
            look.shown.compared,
            look.bands,
            t,
            c.id,
            heaving,
            unit,
            self.size(),
            self.devicePixelRatioF(),
            look.working is travel,
        )
        if self._known is None or not all(
            a is b or (isinstance(a, str | bool | float | QSize) and a == b)
            for a, b in zip(key, self._known[0], strict=True)
        ):
            self._known = (key, self._still(t, travel, c, xs, values, sigma))
        p.drawPixmap(0, 0, self._known[1])
        plot = self._plot
        assert plot is not None
        at = look.shown.column if heaving else look.shown.row
        x = plot.x(float(xs[at]))
        p.setPen(QPen(t.dye, 1.2))
        p.drawLine(QPointF(x, plot.box.top()), QPointF(x, plot.box.bottom()))
        value = float(values[at])
        if math.isfinite(value):
            p.setBrush(t.dye)
            p.drawEllipse(QPointF(x, plot.y(value)), 3.5, 3.5)
        where = (
            heave_words(float(travel.grid.heave[at]), unit)
            if heaving
            else roll_words(float(travel.grid.roll[at])) or "no roll"
        )
        level = look.shown.row == travel.grid.ride[0] if heaving else look.shown.column == travel.grid.ride[1]
        off = "" if level else f" ({'no roll' if heaving else 'ride height'})"
        words = f"{_with_plus(value, sigma, at)} {name}".replace("-", "−") if math.isfinite(value) else "not reached"
        text(p, QRectF(4, 2, w - 8, 16), f"{c.title}: {words} at {where}{off}", t.text, size=9, bold=True, elide=True)

    def _still(self, t: Theme, travel: AxleTravel, c: Curve, xs: Array, values: Array, sigma: Array | None) -> QPixmap:
        """Axes, wanted band, ±, ghost and curve."""
        look, ratio = self._look, self.devicePixelRatioF()
        heaving, unit, w, h = look.heaving, look.workspace.unit, float(self.width()), float(self.height())
        out = QPixmap(round(w * ratio), round(h * ratio))
        out.setDevicePixelRatio(ratio)
        out.fill(t.sheet)
        with QPainter(out) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            good = np.isfinite(values)
            other = look.shown.compared.curve(c.id) if look.shown.compared is not None else None
            ghost = None if other is None else look.scaled(other, other.heave if heaving else other.roll)[0]
            every = values[good] if ghost is None else np.concatenate([values[good], ghost[np.isfinite(ghost)]])
            low, high = float(np.percentile(every, 1)), float(np.percentile(every, 99))
            pad = max(0.08 * (high - low), 1e-3 + 0.01 * abs(high))
            plot = self._plot = Plot(
                QRectF(52, 22, w - 62, h - 60), (float(xs[0]), float(xs[-1])), (low - pad, high + pad)
            )
            gauge = next(
                (g for g in look.workspace.study.axles[travel.layout.end].gauges if g.id == GAUGES.get(c.id)), None
            )
            p.save()
            p.setClipRect(plot.box)
            if gauge is not None and gauge.target is not None:
                top, bottom = plot.y(gauge.target.high), plot.y(gauge.target.low)
                p.fillRect(
                    QRectF(plot.box.left(), top, plot.box.width(), bottom - top),
                    QBrush(t.edge, Qt.BrushStyle.BDiagPattern),
                )
            if sigma is not None:
                half = 2 * np.nan_to_num(sigma[good])
                over = [plot.at(float(a), float(v)) for a, v in zip(xs[good], values[good] + half, strict=True)]
                under = [plot.at(float(a), float(v)) for a, v in zip(xs[good], values[good] - half, strict=True)]
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(QBrush(t.faint, Qt.BrushStyle.Dense6Pattern))
                p.drawPolygon(QPolygonF(over + under[::-1]))
            if ghost is not None:
                p.setPen(QPen(t.dye, 1.4, Qt.PenStyle.DashDotLine))
                self._line(p, plot, xs, ghost)
            p.setPen(QPen(t.soap, 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            self._line(p, plot, xs, values)
            p.restore()
            plot.paint(p, t)
            extra = [
                words
                for words, there in (
                    ("hatched: wanted", gauge is not None and gauge.target is not None),
                    ("grain: ± 95 %", sigma is not None),
                    ("± being worked out", sigma is None and look.working is travel),
                    ("dash-dot: compared layout", ghost is not None),
                )
                if there
            ]
            axis = f"heave, {unit} (bump +)" if heaving else "roll, ° (left side up +)"
            text(
                p, QRectF(4, h - 18, w - 8, 15), " · ".join([axis, *extra]), t.quiet, size=8, align="centre", elide=True
            )
        return out

    @staticmethod
    def _line(p: QPainter, plot: Plot, xs: Array, values: Array) -> None:
        run: list[QPointF] = []
        for a, b in zip(xs.tolist(), values.tolist(), strict=True):
            if math.isfinite(b):
                run.append(plot.at(a, b))
            elif run:
                p.drawPolyline(QPolygonF(run))
                run = []
        p.drawPolyline(QPolygonF(run))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        travel = self._look.shown.travel
        if event is None or self._plot is None or travel is None:
            return
        part = (event.position().x() - self._plot.box.left()) / self._plot.box.width()
        count = len(travel.grid.heave) if self._look.heaving else len(travel.grid.roll)
        self._look.moved.emit(min(count - 1, max(0, round(part * (count - 1)))), self._look.heaving)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self.mousePressEvent(event)
