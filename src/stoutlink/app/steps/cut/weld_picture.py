"""The weld plan painted: the housing's skin unrolled with every bead, how warm the tubes are, how far the ends moved."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF

from stoutlink.app.desk.theme import Theme
from stoutlink.app.widgets.picture import Hit, Picture, text
from stoutlink.core.advice.weld_words import bead_words
from stoutlink.core.analysis.linkage.weld_plan import WeldSheet
from stoutlink.core.analysis.linkage.weld_run import PLACES, Run
from stoutlink.core.analysis.linkage.weld_seams import QUARTERS, Housing
from stoutlink.core.drawing.weld_views import bead_strokes
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

LEFT, RIGHT = 62.0, 16.0
"""Room beside the housing for words, pixels."""


class Across:
    """Where a place along the housing falls on the picture; left to the left, as from behind."""

    def __init__(self, housing: Housing, wide: float) -> None:
        self.housing, self.wide = housing, wide

    def at(self, y: float) -> float:
        """Pixels from the picture's left edge of a place ``y`` m left of the axle's middle."""
        h = self.housing
        return LEFT + (h.left - y) / (h.left - h.right) * (self.wide - LEFT - RIGHT)

    def tubes(self) -> tuple[np.ndarray, np.ndarray]:
        """Pixels of the places along both tubes, from the casting out."""
        h = self.housing
        return (
            np.linspace(self.at(h.inner_left), self.at(h.left), PLACES),
            np.linspace(self.at(h.inner_right), self.at(h.right), PLACES),
        )


def paint_skin(
    p: QPainter,
    t: Theme,
    picture: Picture,
    box: QRectF,
    sheet: WeldSheet,
    run: Run,
    shown: int,
    picked: str,
    act: Callable[[str], None] | None,
    unit: UnitSystem,
) -> None:
    """The unrolled skin in a box: beads up to ``shown`` are laid (thick), the one after it is next (in dye), the rest
    wait (thin). Without ``act`` it is only looked at (the other school).
    """
    base = sheet.base
    h = base.housing
    assert h is not None
    over = Across(h, float(picture.width()))
    p.setPen(QPen(t.quiet, 1))
    p.setBrush(t.raised)
    p.drawRect(QRectF(over.at(h.left), box.top(), over.at(h.right) - over.at(h.left), box.height()))
    cast = QRectF(over.at(h.inner_left), box.top(), over.at(h.inner_right) - over.at(h.inner_left), box.height())
    p.setBrush(QBrush(t.faint, Qt.BrushStyle.BDiagPattern))
    p.drawRect(cast)
    each = box.height() / 4
    for k, word in enumerate(QUARTERS):
        text(p, QRectF(4, box.top() + k * each, LEFT - 10, each), word, t.quiet, size=8.5, align="right")
        if k:
            p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(over.at(h.left), box.top() + k * each), QPointF(over.at(h.right), box.top() + k * each))
    strokes = [
        QRectF(
            QPointF(over.at(-x0), box.top() + y0 * box.height()), QPointF(over.at(-x1), box.top() + y1 * box.height())
        )
        .normalized()
        .adjusted(-1, -1, 1, 1)
        for step in run.steps
        for (x0, y0), (x1, y1) in bead_strokes(step.bead, h.od)
    ]
    taken = list(strokes)
    # the next bead first, so that its number always finds room
    for number, step in sorted(enumerate(run.steps, 1), key=lambda one: one[0] != shown + 1):
        laid, following = number <= shown, number == shown + 1
        colour = t.soap if laid else t.dye if following else t.faint
        pen = QPen(colour, 4.5 if following else 4.0 if laid else 2.0)
        pen.setCapStyle(Qt.PenCapStyle.FlatCap)
        p.setPen(pen)
        area = QRectF()
        for (x0, y0), (x1, y1) in bead_strokes(step.bead, h.od):
            a = QPointF(over.at(-x0), box.top() + y0 * box.height())
            b = QPointF(over.at(-x1), box.top() + y1 * box.height())
            p.drawLine(a, b)
            area = area.united(QRectF(a, b).normalized().adjusted(-5, -5, 5, 5))
        if step.bead.id == picked:
            p.setPen(QPen(t.brass, 1.4))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(area)
        _number(p, t, number, area, taken, step.bead.seam.runs == "along", following)
        state = base.state(step.bead.id) or "to do"
        tip = f"{number}. {bead_words(step.bead, h, unit)}; {state}."
        do = None if act is None else (lambda one=step.bead.id: act(one))
        picture.hits.append(Hit(area, tip, do, f"bead {number}" if act is not None else f"other {number}"))


def _number(p: QPainter, t: Theme, number: int, area: QRectF, taken: list[QRectF], along: bool, strong: bool) -> None:
    """A bead's number beside it, where nothing is written yet."""
    words = str(number)
    wide = 6.0 * len(words) + 1
    c = area.center()
    places = (
        [QPointF(c.x() - wide / 2, area.top() - 9), QPointF(c.x() - wide / 2, area.bottom() - 3)]
        if along
        else [QPointF(area.right() - 2, c.y() - 6), QPointF(area.left() + 2 - wide, c.y() - 6)]
    )
    for place in places:
        box = QRectF(place.x(), place.y(), wide, 12)
        if not any(box.adjusted(-2, 0, 2, 0).intersects(other) for other in taken):
            taken.append(box)
            text(p, box, words, t.dye if strong else t.text, size=8, bold=strong, align="centre")
            return


def paint_heat(
    p: QPainter, t: Theme, picture: Picture, box: QRectF, sheet: WeldSheet, shown: int, unit: UnitSystem
) -> None:
    """How warm each place of both tubes is as the last bead ends, with what is allowed before the next one."""
    base, plan = sheet.base, sheet.base.plan
    h = base.housing
    assert h is not None
    over = Across(h, float(picture.width()))
    most = max(sheet.run.hottest, plan.most_c) + 10.0
    low = plan.air_c

    def y(c: float) -> float:
        return box.bottom() - (c - low) / max(most - low, 1.0) * box.height()

    text(p, QRectF(4, box.top(), LEFT - 10, 14), "warm", t.quiet, size=8.5, align="right")
    p.setPen(QPen(t.edge, 1))
    p.drawLine(QPointF(over.at(h.left), box.bottom()), QPointF(over.at(h.right), box.bottom()))
    p.setPen(QPen(t.torch, 1, Qt.PenStyle.DashLine))
    p.drawLine(QPointF(over.at(h.left), y(plan.most_c)), QPointF(over.at(h.right), y(plan.most_c)))
    words = f"{show(plan.most_c, 'temperature', unit)} before a bead"
    text(p, QRectF(over.at(h.inner_left) + 4, y(plan.most_c) - 14, 220, 14), words, t.torch, size=8)
    if shown == 0:
        return
    step = sheet.run.steps[shown - 1]
    for xs, warm in zip(over.tubes(), step.warm, strict=True):
        line = [QPointF(float(a), y(float(c))) for a, c in zip(xs, warm, strict=True)]
        ground = [QPointF(line[-1].x(), box.bottom()), QPointF(line[0].x(), box.bottom())]
        veil = QColor(t.torch)
        veil.setAlpha(60)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(veil)
        p.drawPolygon(QPolygonF([*line, *ground]))
        p.setPen(QPen(t.torch, 1.6))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline(QPolygonF(line))
    x, words = over.at(step.hottest_at), show(step.hottest, "temperature", unit)
    left = min(max(x - 40, LEFT), float(picture.width()) - 90)
    text(p, QRectF(left, y(step.hottest) - 15, 80, 14), words, t.text, size=9, bold=True, align="centre")
    tip = f"The hottest section as bead {shown} ends: {words}, an estimate; the mean of the section."
    picture.hits.append(Hit(box, tip))


def paint_bow(
    p: QPainter, t: Theme, picture: Picture, box: QRectF, sheet: WeldSheet, shown: int, unit: UnitSystem
) -> None:
    """How far the tubes have moved by the beads so far, up (full line) and ahead (dashed), many times enlarged."""
    base = sheet.base
    h, field = base.housing, base.field
    assert h is not None
    assert field is not None
    over = Across(h, float(picture.width()))
    index = {b.id: i for i, b in enumerate(base.beads)}
    moved = field.line(tuple(index[s.bead.id] for s in sheet.run.steps[:shown]))
    most = max(sheet.run.peak, 1e-6)
    middle = box.center().y()
    for k, (word, style) in enumerate((("up", Qt.PenStyle.SolidLine), ("ahead", Qt.PenStyle.DashLine))):
        text(p, QRectF(4, middle - 14 + 14 * k, LEFT - 10, 14), word, t.quiet, size=8.5, align="right")
        p.setPen(QPen(t.faint, 1, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(over.at(h.left), middle), QPointF(over.at(h.right), middle))
        p.setPen(QPen(t.soap if k == 0 else t.brass, 1.8, style))
        path = QPainterPath()
        places = [*reversed(list(zip(*(over.tubes()[0], moved[0][:, k]), strict=True)))]
        places += list(zip(over.tubes()[1], moved[1][:, k], strict=True))
        for j, (x, v) in enumerate(places):
            at = QPointF(float(x), middle - float(v) / most * 0.42 * box.height())
            path.moveTo(at) if j == 0 else path.lineTo(at)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPath(path)
    ends = sheet.run.steps[shown - 1].ends if shown else (0.0, 0.0, 0.0, 0.0)
    for side, box_ in (
        (0, QRectF(over.at(h.left) + 2, box.top(), 260, 14)),
        (1, QRectF(over.at(h.right) - 262, box.top(), 260, 14)),
    ):
        up, ahead = ends[2 * side], ends[2 * side + 1]
        words = (
            f"{show(up, 'fine_length', unit, signed=True)} up, {show(ahead, 'fine_length', unit, signed=True)} ahead"
        )
        text(p, box_, words, t.text, size=9, bold=True, align="left" if side == 0 else "right")
    miss = math.hypot(ends[0], ends[1]), math.hypot(ends[2], ends[3])
    tip = f"The ends by then, estimated ± {base.pull_sure:.0%}: left {show(miss[0], 'fine_length', unit)} off, right {show(miss[1], 'fine_length', unit)}. Up: full line; ahead: dashed; enlarged."
    picture.hits.append(Hit(box, tip))
