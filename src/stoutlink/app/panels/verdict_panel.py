"""The verdict, always in view: one gauge a number, with band, ± and the word for it."""

from __future__ import annotations

import math
from html import escape

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QContextMenuEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from stoutlink.app.desk.labels import Label, MarkedLabel
from stoutlink.app.desk.menus import Entry, pop_up
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.needs import Needs
from stoutlink.app.widgets.picture import LEFT, RIGHT
from stoutlink.app.widgets.target_row import TargetRow
from stoutlink.core.advice.verdict import Gauge
from stoutlink.core.analysis.linkage.uncertainty import Part

STANDING_WORD = {"in": "in band", "edge": "in the band's ±", "out": "out of band", "none": "no agreed band"}


class GaugeBar(QAbstractButton):
    """One gauge; checked means its explanation is open. ``copied`` asks for words on the clipboard."""

    copied = pyqtSignal(str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setCheckable(True)
        self.gauge: Gauge | None = None
        self.compared: float | None = None
        self.theme: Theme | None = None
        self._kept: tuple[object, QPixmap] | None = None
        self.setFixedHeight(54)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(290, 54)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        g = self.gauge
        if g is None or event is None:
            return
        number, whole = g.text, f"{g.title}: {g.text} {g.sure}, {g.word}"
        entries: list[Entry | None] = [
            ("Close what drives it" if self.isChecked() else "What drives it, and set a band", self.click),
            None,
            ("Copy the number", lambda: self.copied.emit(number, g.title)),
            ("Copy as text", lambda: self.copied.emit(whole, g.title)),
        ]
        pop_up(self, event.globalPos(), entries)

    def show_gauge(self, gauge: Gauge, theme: Theme, compared: float | None = None) -> None:
        """Show a gauge, and where the compared layout stands as a hollow tick."""
        self.gauge, self.theme, self.compared = gauge, theme, compared
        self.setObjectName(f"gauge_{gauge.id}")
        self.setAccessibleName(
            f"{gauge.title}: {gauge.text} {gauge.sure}, {STANDING_WORD[gauge.standing]}, {gauge.word}{', ' if gauge.unentered else ''}{rests_words(gauge)}"
        )
        held = "" if compared is None else f" Hollow tick: the compared layout, {compared:.3g}."
        rests = f" Faint: it {rests_words(gauge)}; a click lists them." if gauge.unentered else ""
        self.setToolTip(gauge.feels + held + rests)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        g, t = self.gauge, self.theme
        if g is None or t is None:
            return
        w = float(self.width())
        colour = {"in": t.soap, "edge": t.brass, "out": t.torch, "none": t.soap}[g.standing]
        sure = ", ".join(x for x in (g.sure, f"{len(g.unentered)} not entered" if g.unentered else "") if x)
        with QPainter(self) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.drawPixmap(0, 0, self._still(g, t, colour))
            second = QRectF(10, 18, w - 20, 19)
            p.setPen(t.quiet if g.unentered else t.text)
            p.setFont(font(11.5, bold=not g.unentered))
            p.drawText(second, LEFT, g.text)
            p.setFont(font(9))
            p.setPen(t.quiet)
            p.drawText(second, RIGHT, sure)
            if g.tells:
                self._tick(p, g, colour, self._box())

    def _box(self) -> QRectF:
        return QRectF(10, 41, self.width() - 20.0, 7)

    def _still(self, g: Gauge, t: Theme, colour: QColor) -> QPixmap:
        """What stays while the number moves: its title and word, the scale and the band; painted once."""
        raised = self.underMouse() or self.hasFocus() or self.isChecked()
        ratio = self.devicePixelRatioF()
        band = None if g.target is None else (g.target.low, g.target.high)
        key = (
            self.size(),
            ratio,
            t.name,
            font(9),
            raised,
            g.title,
            g.standing,
            g.word,
            g.low,
            g.high,
            band,
            self.compared,
        )
        if self._kept is not None and self._kept[0] == key:
            return self._kept[1]
        out = QPixmap(self.size() * ratio)
        out.setDevicePixelRatio(ratio)
        out.fill(t.raised if raised else t.plate)
        with QPainter(out) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            p.setFont(font(9))
            p.setPen(t.quiet)
            first = QRectF(10, 3, self.width() - 20, 16)
            p.drawText(first, LEFT, g.title)
            p.setPen(colour)
            p.drawText(first, RIGHT, {"out": "▲ ", "edge": "◊ "}.get(g.standing, "") + g.word)
            self._scale(p, g, t, self._box(), self.compared)
        self._kept = key, out
        return out

    @staticmethod
    def _scale(p: QPainter, g: Gauge, t: Theme, box: QRectF, compared: float | None) -> None:
        p.setPen(QPen(t.edge, 1))
        p.drawRect(box)
        if g.target is not None:
            low = _along(g, box, g.target.low)
            band = QRectF(low, box.top(), max(2.0, _along(g, box, g.target.high) - low), box.height())
            p.fillRect(band, QBrush(t.faint, Qt.BrushStyle.BDiagPattern))
            p.setPen(QPen(t.quiet, 1))
            p.drawRect(band)
        if compared is not None and math.isfinite(compared):
            p.setPen(QPen(t.dye, 1.4))
            p.setBrush(QBrush(t.plate))
            p.drawRect(QRectF(_along(g, box, compared) - 3, box.top() - 3, 6, box.height() + 6))

    @staticmethod
    def _tick(p: QPainter, g: Gauge, colour: QColor, box: QRectF) -> None:
        """Where the number stands, and its ±."""
        x = _along(g, box, g.value)
        p.setPen(QPen(colour, 1.5))
        if g.sigma > 0:
            y = box.center().y()
            ends = (_along(g, box, g.value + 2 * s) for s in (-g.sigma, g.sigma))
            p.drawLine(*(QPointF(v, y) for v in ends))
        p.setPen(QPen(colour, 3))
        p.drawLine(QPointF(x, box.top() - 3), QPointF(x, box.bottom() + 3))


def _along(g: Gauge, box: QRectF, v: float) -> float:
    """Where a value stands on a gauge's scale."""
    return min(box.right(), max(box.left(), box.left() + (v - g.low) * box.width() / (g.high - g.low)))


def rests_words(g: Gauge) -> str:
    """How many values a gauge rests on that nobody has entered; nothing for none."""
    count = len(g.unentered)
    return f"rests on {count} value{'s' if count > 1 else ''} nobody entered" if count else ""


def explain(g: Gauge) -> str:
    """What a gauge rests on that nobody entered, with a way there, what drives it, what band is wanted, and what to
    measure better, as rich text."""
    lines = [escape(g.feels), escape(g.drives)]
    if g.unentered:
        ways = ", ".join(f"<a href='{escape(path)}'>{escape(what)}</a>" for what, path in g.unentered)
        lines.insert(0, f"<b>It {rests_words(g)}</b>: {ways}.")
    if g.target is not None:
        lines.append(f"Wanted: {escape(g.target.reason)}")
    if g.parts:
        lines.append(f"The ± ({g.method}) comes from:<br>" + "<br>".join(_part(g, p) for p in g.parts[:3]))
    return "<br><br>".join(lines)


def _part(g: Gauge, part: Part) -> str:
    """One of the inputs that contribute most, and what measuring it better would gain."""
    per = 2 * g.per_unit
    digits = 3 if g.sigma < 0.02 else 2 if g.sigma < 0.5 else 1
    gain = f"half its ± would make it ± {per * part.if_halved:.{digits}f} instead of ± {2 * g.sigma:.{digits}f}"
    return f"<b>{part.share:.0%} {escape(part.what)}</b>: {gain}; {escape(part.better)}."


class VerdictPanel(QWidget):
    """Gauges of the axle in work, with the switch between rear and front; ``copied`` asks for words on the clipboard."""

    copied = pyqtSignal(str, str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("verdict")
        self.setAccessibleName("Verdict")
        self._workspace = workspace
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(10, 8, 10, 6)
        title = Label("Verdict", self)
        title.setFont(font(12, bold=True))
        head.addWidget(title)
        head.addStretch(1)
        self._ends = QButtonGroup(self)
        for end in ("rear", "front"):
            button = QPushButton(f"{end.capitalize()} axle", self)
            button.setObjectName(f"end_{end}")
            button.setCheckable(True)
            button.setToolTip(f"Judge and work on the {end} axle.")
            button.clicked.connect(lambda _=False, e=end: workspace.set_end(e))
            self._ends.addButton(button)
            head.addWidget(button)
        outer.addLayout(head)
        self._area = QScrollArea(self)
        self._area.setObjectName("verdict_area")
        self._area.setAccessibleName("Verdict, gauges")
        self._area.setWidgetResizable(True)
        self._area.setFrameShape(QScrollArea.Shape.NoFrame)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        self._layout = QVBoxLayout(inner)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(0)
        self._bars: list[tuple[GaugeBar, QLabel, TargetRow]] = []
        self._problem = MarkedLabel("", inner)
        self._problem.setObjectName("verdict_problem")
        self._problem.setWordWrap(True)
        self._problem.setContentsMargins(10, 6, 10, 6)
        self._layout.addWidget(self._problem)
        self.needs = Needs(workspace, "verdict_needs", inner)
        self._layout.addWidget(self.needs)
        self._layout.addStretch(1)
        self._area.setWidget(inner)
        outer.addWidget(self._area, 1)

    def refresh(self, theme: Theme) -> None:
        """Show the current review."""
        self._theme = theme
        end = self._workspace.end
        for button in self._ends.buttons():
            button.setChecked(button.objectName() == f"end_{end}")
        axle = self._workspace.study.axles[end]
        while len(self._bars) < len(axle.gauges):
            self._add_bar()
        for i, (bar, note, wanted) in enumerate(self._bars):
            used = i < len(axle.gauges)
            bar.setVisible(used)
            note.setVisible(used and bar.isChecked())
            wanted.setVisible(used and bar.isChecked() and axle.gauges[i].id != "travel")
            if used:
                held = axle.compared.values.get(axle.gauges[i].id) if axle.compared is not None else None
                bar.show_gauge(axle.gauges[i], theme, held)
                if bar.isChecked():
                    note.setText(explain(axle.gauges[i]))
                    wanted.show_gauge(end, axle.gauges[i])
        needs = self._workspace.study.needed("stance", "weight")
        self.needs.setVisible(not axle.gauges and (bool(needs) or axle.layout is None))
        if end == "front" and self._workspace.project.rig.drivetrain.front_axle == "independent":
            self.needs.show_needs("The independent front stays: no verdict on it. Gears and locker are in Donors.", ())
        elif axle.layout is None:
            extra = ((f"A layout for the {end} axle", lambda: self._workspace.go_to.emit("layouts")),)
            self.needs.show_needs(f"No verdict on the {end} axle yet. It needs:", needs, extra)
        elif needs:
            self.needs.show_needs(f"No verdict on the {end} axle yet. It needs:", needs)
        if axle.problem is not None and not needs:
            self._problem.setText(
                f"<b>No numbers for the {end} axle.</b><br>{escape(axle.problem.sentence)}<br>{escape(axle.problem.hint)}"
            )
        self._problem.setVisible(axle.problem is not None and not needs)

    def _unfold(self) -> None:
        if self._theme is not None:
            self.refresh(self._theme)

    def _add_bar(self) -> None:
        bar, note, wanted = GaugeBar(self), MarkedLabel("", self), TargetRow(self._workspace, self)
        note.setWordWrap(True)
        note.setContentsMargins(12, 2, 12, 8)
        note.setFont(font(9))
        note.setTextInteractionFlags(Qt.TextInteractionFlag.TextBrowserInteraction)
        note.setOpenExternalLinks(False)
        note.linkActivated.connect(self._workspace.go_to.emit)
        bar.clicked.connect(self._unfold)
        bar.copied.connect(self.copied)
        at = self._layout.count() - 3
        self._layout.insertWidget(at, bar)
        self._layout.insertWidget(at + 1, wanted)
        self._layout.insertWidget(at + 2, note)
        self._bars.append((bar, note, wanted))
