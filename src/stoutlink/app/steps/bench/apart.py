"""An axle drawn apart: every part a plain shape over its place along the axle, on a line down to it, with mark and number."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from stoutlink.app.desk.theme import Theme
from stoutlink.app.widgets.picture import Hit, Picture, text
from stoutlink.core.document.bench import MarkedPart
from stoutlink.core.document.bench_checks import mark_words

LANE, WIDE = 58.0, 122.0
ON_PINION = ("sleeve", "pinion-shims", "pinion", "yoke")
"""What lies on the pinion's own axis, drawn apart below the axle."""
SHAPES = {
    "shaft": "bar", "cap": "arch", "race": "ring", "ring": "ring", "disc": "ring", "drum": "ring", "hub": "ring", "flange": "ring", "pinion": "cone",
    "carrier": "block", "case": "block", "cover": "plate", "knuckle": "block", "carrier-shims": "stack", "pinion-shims": "stack", "sleeve": "tube",
    "seal": "ring", "clip": "arch", "yoke": "fork", "half": "block", "lockout": "ring", "caliper": "block", "cross-pin": "bar",
}  # fmt: skip


def draw_apart(
    p: QPainter,
    t: Theme,
    picture: Picture,
    box: QRectF,
    parts: tuple[MarkedPart, ...],
    picked: str,
    pick: Callable[[str], object],
) -> float:
    """Draw into the width of a box from its top; returns how far down it came. Parts that would lie over one another take
    the next lane up; the axle lies below all."""
    below = [p_ for key in ON_PINION for p_ in parts if p_.id == key]
    parts = tuple(p_ for p_ in parts if p_.id not in ON_PINION)
    placed = lanes(parts, box.width())
    count = 1 + max((lane for lane, _ in placed), default=0)
    floor = box.top() + count * LANE + 30
    _housing(p, t, QRectF(box.left(), floor, box.width(), 40))
    for part, (lane, x) in zip(parts, placed, strict=True):
        middle = QPointF(box.left() + x, box.top() + (count - 1 - lane) * LANE + 24)
        foot = box.left() + box.width() * (0.5 - 0.46 * part.along)
        _leader(p, t, middle, QPointF(foot, floor + 20))
    for part, (lane, x) in zip(parts, placed, strict=True):
        middle = QPointF(box.left() + x, box.top() + (count - 1 - lane) * LANE + 24)
        _one(p, t, picture, part, middle, part.id == picked, pick)
    if below:
        row, first = floor + 74, box.center().x() - 0.5 * WIDE * (len(below) - 1)
        p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
        p.drawLine(QPointF(box.center().x(), floor + 38), QPointF(box.center().x(), row - 12))
        p.drawLine(QPointF(first, row - 10), QPointF(first + WIDE * (len(below) - 1), row - 10))
        for k, part in enumerate(below):
            _one(p, t, picture, part, QPointF(first + k * WIDE, row), part.id == picked, pick)
        return row + 34
    return floor + 44


def lanes(parts: tuple[MarkedPart, ...], wide: float) -> list[tuple[int, float]]:
    """Lane and middle (pixels from the left) of each part so that none lies over another; left of the axle is at the left."""
    taken: list[list[float]] = []
    out = []
    for part in parts:
        x = min(max(wide * (0.5 - 0.46 * part.along), 0.5 * WIDE), max(wide - 0.5 * WIDE, 0.5 * WIDE))
        lane = next((k for k, row in enumerate(taken) if all(abs(x - one) >= WIDE for one in row)), len(taken))
        if lane == len(taken):
            taken.append([])
        taken[lane].append(x)
        out.append((lane, x))
    return out


def _housing(p: QPainter, t: Theme, box: QRectF) -> None:
    p.setPen(QPen(t.faint, 1.4))
    p.setBrush(Qt.BrushStyle.NoBrush)
    middle = box.center()
    p.drawRect(QRectF(box.left() + 0.04 * box.width(), middle.y() - 6, 0.92 * box.width(), 12))
    p.drawEllipse(middle, 30.0, 20.0)
    text(p, QRectF(box.left(), box.top() - 6, 60, 16), "left", t.quiet, size=8.5)
    text(p, QRectF(box.right() - 60, box.top() - 6, 60, 16), "right", t.quiet, size=8.5, align="right")


def _leader(p: QPainter, t: Theme, top: QPointF, foot: QPointF) -> None:
    p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
    p.drawLine(QPointF(top.x(), top.y()), QPointF(foot.x(), foot.y()))


def _one(
    p: QPainter, t: Theme, picture: Picture, part: MarkedPart, at: QPointF, picked: bool, pick: Callable[[str], object]
) -> None:
    box = QRectF(at.x() - 0.5 * WIDE + 2, at.y() - 24, WIDE - 4, 54)
    p.setPen(QPen(t.dye if picked else t.sheet, 2))
    p.setBrush(t.raised if picked else t.sheet)
    p.drawRoundedRect(box, 3, 3)
    colour = {"in": t.quiet, "out": t.dye, "back": t.zinc, "renewed": t.brass}[part.state]
    dashed = Qt.PenStyle.SolidLine if part.state != "out" else Qt.PenStyle.DashLine
    p.setPen(QPen(colour, 1.6, dashed))
    p.setBrush(Qt.BrushStyle.NoBrush)
    _shape(p, SHAPES.get(part.id.rsplit("-left", 1)[0].rsplit("-right", 1)[0], "plate"), QPointF(at.x(), at.y() - 10))
    text(p, QRectF(box.left(), at.y() + 2, box.width(), 14), part.name, t.text, size=8, align="centre", elide=True)
    mark = "" if part.mark is None else mark_words(part.mark)
    number = f"{part.order}  " if part.order else ""
    text(p, QRectF(box.left(), at.y() + 16, box.width(), 12), f"{number}{mark}", t.brass, size=7.5, align="centre", elide=True)  # fmt: skip
    says = f"{part.name}, {part.state}{', ' + mark if mark else ', not marked'}. Click to pick it."
    picture.hits.append(Hit(box, says, partial(pick, part.id), f"part {part.id}"))


def _shape(p: QPainter, kind: str, c: QPointF) -> None:
    x, y = c.x(), c.y()
    if kind == "bar":
        p.drawRect(QRectF(x - 30, y - 3, 60, 6))
    elif kind == "arch":
        p.drawArc(QRectF(x - 12, y - 8, 24, 22), 0, 180 * 16)
        p.drawLine(QPointF(x - 12, y + 3), QPointF(x - 5, y + 3))
        p.drawLine(QPointF(x + 5, y + 3), QPointF(x + 12, y + 3))
    elif kind == "ring":
        p.drawEllipse(c, 9.0, 10.0)
        p.drawEllipse(c, 4.0, 5.0)
    elif kind == "cone":
        p.drawPolygon(QPolygonF([QPointF(x - 14, y - 4), QPointF(x + 10, y - 9), QPointF(x + 10, y + 9), QPointF(x - 14, y + 4)]))  # fmt: skip
    elif kind == "stack":
        for k in range(4):
            p.drawLine(QPointF(x - 4.5 + 3 * k, y - 8), QPointF(x - 4.5 + 3 * k, y + 8))
    elif kind == "tube":
        p.drawRect(QRectF(x - 8, y - 7, 16, 14))
        p.drawLine(QPointF(x - 8, y), QPointF(x + 8, y))
    elif kind == "fork":
        p.drawPolyline(QPolygonF([QPointF(x + 10, y - 8), QPointF(x - 4, y - 8), QPointF(x - 4, y + 8), QPointF(x + 10, y + 8)]))  # fmt: skip
        p.drawLine(QPointF(x - 14, y), QPointF(x - 4, y))
    elif kind == "block":
        p.drawRoundedRect(QRectF(x - 16, y - 8, 32, 16), 5, 5)
    else:
        p.drawRect(QRectF(x - 3, y - 9, 6, 18))
