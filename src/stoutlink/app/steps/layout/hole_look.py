"""Holes: a bracket's row or fan, and the map of what every combination of holes gives."""

from __future__ import annotations

from html import escape
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.canvas.plot import Plot
from stoutlink.app.desk.labels import Label, MarkedLabel
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Picture, text
from stoutlink.core.advice.verdict import Gauge
from stoutlink.core.analysis.linkage.bracket_proposal import bracket_for
from stoutlink.core.analysis.linkage.hole_map import HoleMap, combinations, turns_of
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.headline import HEADLINES, MAPPED
from stoutlink.core.document.layout import Layout
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.editing.layout_edits import FitHoles
from stoutlink.core.editing.pivots import of_link
from stoutlink.core.errors import StoutError

Array = NDArray[np.float64]


class HoleLook(LayoutLook):
    """Pick two numbers; every dot is a way to bolt it; click one to fit it."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "holes", "Hole map", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(5)
        row = QHBoxLayout()
        self.across, self.up = StillBox(self), StillBox(self)
        for box, name, title, at in ((self.across, "hole_across", "Across", 0), (self.up, "hole_up", "Up", 1)):
            box.setObjectName(name)
            box.setAccessibleName(f"Number {title.lower()}")
            box.setToolTip(f"What the map shows {title.lower()}.")
            box.setFont(font(9))
            for key in MAPPED:
                box.addItem(HEADLINES[key].field[0].upper() + HEADLINES[key].field[1:], key)
            box.setCurrentIndex(at)
            box.currentIndexChanged.connect(self._other_numbers)
            label = Label(title, self)
            label.setFont(font(8.5))
            row.addWidget(label)
            row.addWidget(box, 1)
        inside.addLayout(row)
        self.map = _Map(self)
        inside.addWidget(self.map, 1)
        self.pivot = MarkedLabel("", self)
        self.pivot.setObjectName("hole_pivot")
        self.pivot.setFont(font(9))
        self.pivot.setWordWrap(True)
        inside.addWidget(self.pivot)
        buttons = QHBoxLayout()
        self.row, self.fan, self.take, self.down, self.up_one = (
            QPushButton(words, self)
            for words in ("Row of holes here", "Fan of holes here", "Take the bracket away", "◂ hole", "hole ▸")
        )
        for one, name, tip, slot in (
            (self.row, "add_row", "Three holes in a line, the pivot in the middle one.", lambda: self._add("row")),
            (self.fan, "add_fan", "Three holes on an arc, the pivot in the middle one.", lambda: self._add("fan")),
            (self.take, "take_bracket", "The pivot stays where it is.", self._take),
            (
                self.down,
                "hole_before",
                "Bolt it one hole nearer to the first; links are made to suit.",
                lambda: self._bolt(-1),
            ),
            (self.up_one, "hole_after", "Bolt it one hole further; links are made to suit.", lambda: self._bolt(1)),
        ):
            one.setObjectName(name)
            one.setToolTip(tip)
            one.setFont(font(9))
            one.clicked.connect(slot)
            buttons.addWidget(one)
        buttons.addStretch(1)
        inside.addLayout(buttons)
        self.drawer = PathDrawer(workspace, "bracket_drawer", 2, self)
        inside.addWidget(self.drawer)
        self.found: HoleMap | None = None
        self.trouble = ""
        views.selected_changed.connect(self._again)

    def _again(self) -> None:
        if self.theme is not None and self.isVisible():
            self.refresh(self.theme)

    def _other_numbers(self) -> None:
        self._again()

    def bracket(self) -> Bracket | None:
        """The bracket of the pivot picked."""
        layout, chosen = self.layout_shown, self.views.selected
        if layout is None or chosen is None or not of_link(chosen):
            return None
        return layout.bracket(chosen[0], chosen[1])

    def prepare(self) -> None:
        layout = self.layout_shown
        self.found, self.trouble = None, ""
        if layout is None:
            return
        try:
            self.found = self.workspace.study.hole_map(self.workspace.end)
        except StoutError as why:
            self.trouble = why.words
        chosen, bracket = self.views.selected, self.bracket()
        can = chosen is not None and of_link(chosen)
        self.row.setVisible(can and bracket is None)
        self.fan.setVisible(can and bracket is None)
        self.take.setVisible(bracket is not None)
        self.down.setVisible(bracket is not None)
        self.up_one.setVisible(bracket is not None)
        if bracket is not None:
            self.down.setEnabled(bracket.hole > 1)
            self.up_one.setEnabled(bracket.hole < bracket.holes)
        link = layout.link(chosen[0]) if chosen is not None and can else None
        if link is None:
            self.pivot.setText("Pick a pivot on the drawing to give it a row or a fan of holes.")
        elif bracket is None:
            self.pivot.setText(f"{escape(link.name)}, {chosen[1] if chosen else ''}: one place, no holes.")
        else:
            self.pivot.setText(
                f"<b>{escape(bracket.name)}</b>, hole {bracket.hole} of {bracket.holes}: {escape(self.reach_words(bracket))}"
            )
        self.pivot.setToolTip(
            "" if bracket is None else "What its holes reach, how much of the wanted band that is, and with two more."
        )
        self.drawer.show_entries(_entries(layout, bracket) if bracket is not None else ())
        assert self.theme is not None
        self.map.show_map(self.theme)

    def reach_words(self, bracket: Bracket) -> str:
        """What this bracket's holes reach of the wanted bands of the two numbers shown, and with two holes more."""
        try:
            found = {r.gauge: r for r in self.workspace.study.hole_reach(self.workspace.end, bracket.id)}
        except StoutError:
            return ""
        gauges, out = {g.id: g for g in self.axle.gauges}, []
        for key in dict.fromkeys(self.keys()):
            one, gauge = found.get(key), gauges.get(key)
            if one is None:
                continue
            line = HEADLINES[key]
            words = f"{line.word} {line.on_axis(one.low)} to {line.on_axis(one.high)}"
            if gauge is not None and gauge.target is not None:
                band = (gauge.target.low, gauge.target.high)
                words += f", {one.part(band):.0%} of the band (two more: {one.part(band, more=True):.0%})"
            else:
                words += f" (two more: {line.on_axis(one.more_low)} to {line.on_axis(one.more_high)})"
            out.append(words)
        return "; ".join(out) + ("." if out else "")

    def turn_words(self, row: int) -> str:
        """What a combination asks of every bar, in turns."""
        found = self.found
        if found is None or row < 0:
            return ""
        cuts = tuple(c for c in self.workspace.study.cuts if c.layout.id == found.layout.id)
        said = [
            f"{one.link.name} {turns.turns:+.1f}{'' if turns.reaches else ' ▲ out of thread'}".replace("-", "−")
            if one.cut.how != "none"
            else f"{one.link.name} made anew"
            for one, turns in turns_of(found, row, cuts)
        ]
        return f"Turns: {', '.join(said)}." if said else ""

    def _bolt(self, step: int) -> None:
        """Use the next hole of the bracket in hand."""
        layout, bracket = self.layout_shown, self.bracket()
        if layout is not None and bracket is not None:
            self.workspace.do(FitHoles(layout.id, ((bracket.id, bracket.hole + step),)))

    def keys(self) -> tuple[str, str]:
        """The two numbers on the map."""
        return str(self.across.currentData()), str(self.up.currentData())

    def fit(self, row: int) -> None:
        """Bolt it as a dot of the map says."""
        layout, found = self.layout_shown, self.found
        if layout is not None and found is not None:
            self.workspace.do(
                FitHoles(
                    layout.id, tuple((b.id, int(h)) for b, h in zip(layout.brackets, found.holes[row], strict=True))
                )
            )

    def _add(self, pattern: Literal["row", "fan"]) -> None:
        layout, chosen = self.layout_shown, self.views.selected
        link = layout.link(chosen[0]) if layout is not None and chosen is not None else None
        if layout is None or link is None or chosen is None:
            return
        bracket = bracket_for(layout, link, chosen[1], pattern, self.workspace.unit)
        self.workspace.do(PutInList(f"layouts.{layout.id}.brackets", bracket, "Add a bracket"))

    def _take(self) -> None:
        layout, bracket = self.layout_shown, self.bracket()
        if layout is not None and bracket is not None:
            self.workspace.do(TakeFromList(f"layouts.{layout.id}.brackets", (bracket.id,), "Take the bracket away"))

    def as_text(self) -> str:
        found, layout = self.found, self.layout_shown
        if found is None or layout is None:
            return self.trouble
        names = list(MAPPED)
        lines = ["\t".join([*(b.name for b in layout.brackets), *names])]
        for row in range(min(len(found.holes), 2000)):
            lines.append(
                "\t".join([*(str(h) for h in found.holes[row]), *(f"{found.values[n][row]:.4g}" for n in names)])
            )
        return "\n".join(lines)


def _entries(layout: Layout, bracket: Bracket) -> tuple[Entry, ...]:
    at = f"layouts.{layout.id}.brackets.{bracket.id}"
    out = [
        Entry(
            f"{at}.pattern",
            "pattern",
            "choice",
            (("row", "row"), *((("fan", "fan"),) if bracket.radius_m is not None else ())),
        ),
        Entry(f"{at}.plane", "runs in", "choice", (("side", "side view"), ("rear", "rear view"))),
        Entry(f"{at}.holes", "holes"),
        Entry(f"{at}.pitch_m", "pitch"),
        Entry(f"{at}.angle_rad", "angle"),
        Entry(f"{at}.radius_m", "fan radius"),
        Entry(f"{at}.name", "name", "text"),
    ]
    return tuple(out)


class _Map(Picture):
    """The scatter of all combinations."""

    def __init__(self, look: HoleLook) -> None:
        super().__init__("hole_map", "Map of all hole combinations", look)
        self.setMinimumHeight(150)
        self._look = look
        self._dots: tuple[Array, Array, NDArray[np.intp]] | None = None
        self._hover = -1

    def show_map(self, theme: Theme) -> None:
        """Show what the look has found."""
        self._hover = -1
        self.show_with(theme, self._paint)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        look, found = self._look, self._look.found
        self._dots = None
        w, h = float(self.width()), float(self.height())
        if found is None:
            text(p, QRectF(12, 12, w - 24, h - 24), look.trouble, t.quiet, size=10, wrap=True)
            return
        kx, ky = look.keys()
        x, y = found.values[kx], found.values[ky]
        good = np.flatnonzero(np.isfinite(x) & np.isfinite(y))
        if not len(good):
            words = (
                "The pinion's change is not worked out for so many combinations."
                if "pinion" in (kx, ky)
                else "No combination holds the axle."
            )
            text(p, QRectF(12, 12, w - 24, 40), words, t.quiet, size=10, wrap=True)
            return
        gauges = {g.id: g for g in look.axle.gauges}
        gx, gy = gauges.get(kx), gauges.get(ky)
        plot = Plot(QRectF(52, 8, w - 62, h - 68), _span(x[good], gx), _span(y[good], gy))
        _bands(p, t, plot, gx, gy)
        plot.paint(p, t)
        box = plot.box
        xs = box.left() + (x[good] - plot.across[0]) / (plot.across[1] - plot.across[0]) * box.width()
        ys = box.bottom() - (y[good] - plot.up[0]) / (plot.up[1] - plot.up[0]) * box.height()
        _, first = np.unique(np.stack([np.round(xs), np.round(ys)]), axis=1, return_index=True)
        p.setPen(
            QPen(
                t.soap,
                5 if len(good) < 800 else 3 if len(good) < 20000 else 1.5,
                Qt.PenStyle.SolidLine,
                Qt.PenCapStyle.RoundCap,
            )
        )
        p.drawPoints(QPolygonF([QPointF(a, b) for a, b in zip(xs[first].tolist(), ys[first].tolist(), strict=True)]))
        self._dots = (xs, ys, good)
        if found.current >= 0 and np.isfinite(x[found.current]) and np.isfinite(y[found.current]):
            _current(p, t, plot, (float(x[found.current]), float(y[found.current])), gx, gy)
        spot = np.flatnonzero(good == self._hover)
        if len(spot):
            p.setPen(QPen(t.dye, 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(QPointF(xs[spot[0]], ys[spot[0]]), 6, 6)
        row = self._hover if len(spot) else found.current
        lead = "" if len(spot) else f"{combinations(found.layout):,} ways; now "
        words = (
            f"{HEADLINES[kx].on_axis(x[row])}, {HEADLINES[ky].on_axis(y[row])}: {found.words(row)}".replace("-", "−")
            if row >= 0
            else ""
        )
        asked = look.turn_words(row) if len(spot) else ""
        words = " ".join(x for x in (words, asked) if x)
        text(p, QRectF(4, h - 41, w - 8, 40), lead + words, t.dye if len(spot) else t.quiet, size=8.5, wrap=True)

    def nearest(self, at: QPointF) -> int:
        """Row of the dot nearest to a pixel, −1 when none is near."""
        if self._dots is None:
            return -1
        gap = np.hypot(self._dots[0] - at.x(), self._dots[1] - at.y())
        i = int(gap.argmin())
        return int(self._dots[2][i]) if gap[i] < 14 else -1

    def dot(self, row: int) -> QPointF | None:
        """Pixel of a combination's dot."""
        if self._dots is None:
            return None
        spot = np.flatnonzero(self._dots[2] == row)
        return QPointF(float(self._dots[0][spot[0]]), float(self._dots[1][spot[0]])) if len(spot) else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        row = -1 if event is None else self.nearest(event.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if row >= 0 else Qt.CursorShape.ArrowCursor)
        if row != self._hover:
            self._hover = row
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        row = -1 if event is None else self.nearest(event.position())
        if row >= 0:
            self._look.fit(row)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        keys = {Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1}
        found = self._look.found
        step = None if event is None else keys.get(Qt.Key(event.key()))
        if found is not None and step is not None:
            at = self._hover if self._hover >= 0 else found.current
            self._hover = (at + step) % len(found.holes)
            self.update()
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._hover >= 0:
            self._look.fit(self._hover)
        else:
            super().keyPressEvent(event)


def _bands(p: QPainter, t: Theme, plot: Plot, gx: Gauge | None, gy: Gauge | None) -> None:
    """Wanted bands hatched; where both are met is framed."""
    box = plot.box
    x = None if gx is None or gx.target is None else (plot.x(gx.target.low), plot.x(gx.target.high))
    y = None if gy is None or gy.target is None else (plot.y(gy.target.high), plot.y(gy.target.low))
    p.save()
    p.setClipRect(box)
    if x is not None:
        p.fillRect(QRectF(x[0], box.top(), x[1] - x[0], box.height()), QBrush(t.edge, Qt.BrushStyle.BDiagPattern))
    if y is not None:
        p.fillRect(QRectF(box.left(), y[0], box.width(), y[1] - y[0]), QBrush(t.edge, Qt.BrushStyle.FDiagPattern))
    if x is not None and y is not None:
        p.setPen(QPen(t.soap, 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(QRectF(x[0], y[0], x[1] - x[0], y[1] - y[0]))
    p.restore()


def _current(p: QPainter, t: Theme, plot: Plot, at: tuple[float, float], gx: Gauge | None, gy: Gauge | None) -> None:
    """The one fitted now, with ±2 σ both ways."""
    middle = plot.at(*at)
    sx = abs(plot.x(at[0] + 2 * gx.sigma) - middle.x()) if gx is not None else 0.0
    sy = abs(plot.y(at[1] + 2 * gy.sigma) - middle.y()) if gy is not None else 0.0
    p.save()
    p.setClipRect(plot.box)
    p.setPen(QPen(t.brass, 1.5))
    p.setBrush(Qt.BrushStyle.NoBrush)
    if sx > 2 and sy > 2:
        p.drawEllipse(middle, sx, sy)
    p.drawLine(middle - QPointF(max(sx, 9), 0), middle + QPointF(max(sx, 9), 0))
    p.drawLine(middle - QPointF(0, max(sy, 9)), middle + QPointF(0, max(sy, 9)))
    p.setPen(QPen(t.dye, 2.5))
    p.drawEllipse(middle, 5, 5)
    p.restore()


def _span(values: Array, gauge: Gauge | None) -> tuple[float, float]:
    """A scale that holds all dots and, where it is near, the wanted band."""
    low, high = float(values.min()), float(values.max())
    wide = max(high - low, 1e-6 + 0.05 * abs(high))
    if gauge is not None and gauge.target is not None:
        for edge in (gauge.target.low, gauge.target.high):
            if low - 1.5 * wide <= edge <= high + 1.5 * wide:
                low, high = min(low, edge), max(high, edge)
    pad = 0.07 * max(high - low, wide)
    return low - pad, high + pad
