"""Shapes in metres onto a painter: pens by role, one place for screen and print."""

from __future__ import annotations

import math
from functools import cache, lru_cache

from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QPainter, QPen, QPolygonF

from stoutlink.app.desk.theme import Theme, font
from stoutlink.core.drawing.shapes import Arc, Flat, Line, Note, Oval, Role, Shape, Text, plain


class Frame(Struct, frozen=True):
    """How metres become pixels: ``origin`` is where (0, 0) falls, ``scale`` pixels per metre, vertical up."""

    origin: QPointF
    scale: float

    def at(self, point: Flat) -> QPointF:
        """A view point in pixels."""
        return QPointF(self.origin.x() + point[0] * self.scale, self.origin.y() - point[1] * self.scale)

    def back(self, pixel: QPointF) -> Flat:
        """A pixel in metres."""
        return (pixel.x() - self.origin.x()) / self.scale, (self.origin.y() - pixel.y()) / self.scale


@lru_cache(maxsize=2)
def _pens(t: Theme) -> dict[Role, tuple[QPen, QBrush]]:
    """Pen and fill of each role: colour with dash and weight, never colour alone."""
    none = QBrush(Qt.BrushStyle.NoBrush)
    dash, dot, dashdot = Qt.PenStyle.DashLine, Qt.PenStyle.DotLine, Qt.PenStyle.DashDotLine
    return {
        "ground": (QPen(t.soap, 2), none),
        "tyre": (QPen(t.faint, 1), QBrush(_veil(t.tyre, 130))),
        "housing": (QPen(t.quiet, 1), QBrush(_over(t.edge, t.sheet, 200))),
        "axle": (QPen(t.soap, 1.5), none),
        "link_upper": (QPen(t.upper, 1), QBrush(_over(t.upper, t.sheet, 70))),
        "link_lower": (QPen(t.lower, 1), QBrush(_over(t.lower, t.sheet, 130))),
        "link_panhard": (QPen(t.brass, 1), QBrush(_over(t.brass, t.sheet, 70))),
        "link_selected": (QPen(t.dye, 2), QBrush(_over(t.dye, t.sheet, 90))),
        "construction": (QPen(t.faint, 1, dash), none),
        "force": (QPen(t.dye, 1), none),
        "neutral": (QPen(t.quiet, 1, dot), none),
        "roll_axis": (QPen(t.soap, 1, dashdot), none),
        "cg": (QPen(t.soap, 1.5), QBrush(t.soap)),
        "cg_band": (QPen(t.quiet, 1, dash), QBrush(_veil(t.quiet, 40))),
        "ghost": (QPen(t.faint, 1, dash), none),
        "compared": (QPen(t.dye, 1.6, dashdot), none),
        "body": (QPen(t.faint, 1), QBrush(_veil(t.edge, 60))),
        "centreline": (QPen(t.faint, 1, dashdot), none),
        "selected": (QPen(t.dye, 2), none),
        "rail": (QPen(t.brass, 1.6), none),
        "rail_far": (QPen(t.brass, 1, dash), none),
        "solid": (QPen(t.quiet, 1), QBrush(_veil(t.quiet, 110), Qt.BrushStyle.BDiagPattern)),
        "room": (QPen(t.quiet, 1, dash), QBrush(_veil(t.quiet, 80), Qt.BrushStyle.Dense7Pattern)),
        "tape": (QPen(t.brass, 1), none),
        "shaft": (QPen(t.soap, 1.2), QBrush(_over(t.faint, t.sheet, 90))),
        "hole": (QPen(t.quiet, 1), QBrush(t.sheet)),
        "drag_link": (QPen(t.soap, 1.2, dash), none),
        "arc": (QPen(t.brass, 1.2, dot), none),
        "load_pull": (QPen(t.dye, 1.6), none),
        "load_push": (QPen(t.torch, 1.6, dash), none),
        "search_box": (QPen(t.dye, 1, dash), QBrush(_veil(t.dye, 28))),
        "lock": (QPen(t.faint, 1, dot), none),
        "leaf": (QPen(t.soap, 2.2), none),
        "cut": (QPen(t.soap, 1.6), none),
        "mark": (QPen(t.brass, 1), none),
        "bend": (QPen(t.dye, 1.2, dashdot), none),
        "dimension": (QPen(t.quiet, 1), none),
    }


def _veil(colour: QColor, alpha: int) -> QColor:
    out = QColor(colour)
    out.setAlpha(alpha)
    return out


def _over(colour: QColor, ground: QColor, alpha: int) -> QColor:
    """The opaque colour that a veil of ``colour`` has over ``ground``."""
    part = alpha / 255.0
    mixed = (round(part * c + (1.0 - part) * g) for c, g in zip(colour.getRgb()[:3], ground.getRgb()[:3], strict=True))
    return QColor(*mixed)


def paint(p: QPainter, shapes: list[Shape], frame: Frame, t: Theme, notes: list[Note] | None = None) -> None:
    """Paint shapes of one view; words at places are put into ``notes``, where that is given, to be laid out later."""
    pens = _pens(t)
    for one in plain(shapes):
        if isinstance(one, Line) and one.width > 0 and len(one.points) == 2:
            _tube(p, one, frame, t)
            continue
        pen, brush = pens[one.role]
        p.setPen(pen)
        p.setBrush(brush)
        if isinstance(one, Line) and one.closed:
            p.drawPolygon(QPolygonF([frame.at(v) for v in one.points]))
        elif isinstance(one, Line):
            p.setBrush(none_brush())
            p.drawPolyline(QPolygonF([frame.at(v) for v in one.points]))
        elif isinstance(one, Oval):
            c = frame.at(one.centre)
            p.drawEllipse(c, one.radius[0] * frame.scale, one.radius[1] * frame.scale)
            if one.role == "cg":
                _balance(p, c, one.radius[0] * frame.scale, t)
        elif isinstance(one, Arc):
            p.setBrush(none_brush())
            p.drawPolyline(QPolygonF([frame.at(v) for v in one.points()]))
        elif isinstance(one, Text):
            _text(p, one, frame)
        elif isinstance(one, Note) and notes is not None:
            notes.append(one)
        elif isinstance(one, Note):
            colour, bold = note_look(one.role, t)
            p.setFont(font(8.5, bold=bold))
            p.setPen(colour)
            at = frame.at(one.at)
            flag = {
                "left": Qt.AlignmentFlag.AlignLeft,
                "centre": Qt.AlignmentFlag.AlignHCenter,
                "right": Qt.AlignmentFlag.AlignRight,
            }[one.align]
            p.drawText(QRectF(at.x() + 6, at.y() - 18, 160, 16), flag | Qt.AlignmentFlag.AlignVCenter, one.text)


def note_look(role: Role, t: Theme) -> tuple[QColor, bool]:
    """Colour of words at a place, and whether they are bold."""
    colour = t.dye if role in ("force", "load_pull") else t.torch if role == "load_push" else t.quiet
    return colour, role in ("load_pull", "load_push")


@cache
def none_brush() -> QBrush:
    """No fill."""
    return QBrush(Qt.BrushStyle.NoBrush)


def _text(p: QPainter, one: Text, frame: Frame) -> None:
    """Words of a height in metres, turned with their line."""
    high = one.height * frame.scale
    if high < 4.0:
        return
    at = frame.at(one.at)
    letters = QFont(font(9))  # a font is shared by all who ask for it
    letters.setPixelSize(max(1, round(high / 0.7)))
    p.save()
    p.setFont(letters)
    p.translate(at)
    p.rotate(-math.degrees(one.turn))
    wide = p.fontMetrics().horizontalAdvance(one.text)
    p.drawText(QPointF({"left": 0.0, "centre": -wide / 2, "right": -wide}[one.align], 0.0), one.text)
    p.restore()


@lru_cache(maxsize=256)
def _tube_pens(t: Theme, role: Role, width: float) -> tuple[QPen, QPen, float] | None:
    """Outline and fill of a tube as two strokes of a width in pixels, the fill so much shorter at each end; ``None`` where
    it has to be an outline that is filled."""
    pen, brush = _pens(t)[role]
    if (
        brush.style() != Qt.BrushStyle.SolidPattern
        or brush.color().alpha() < 255
        or pen.style() != Qt.PenStyle.SolidLine
        or width < 3.0
    ):
        return None
    flat, solid, edge = Qt.PenCapStyle.FlatCap, Qt.PenStyle.SolidLine, pen.widthF()
    return QPen(pen.color(), width, solid, flat), QPen(brush.color(), width - 2 * edge, solid, flat), edge


def _tube(p: QPainter, one: Line, frame: Frame, t: Theme) -> None:
    """A tube from end to end. Two stroked lines, outline under fill, are several times faster than a filled polygon."""
    a, b = frame.at(one.points[0]), frame.at(one.points[1])
    width = max(3.0, one.width * frame.scale)
    d = b - a
    size = math.hypot(d.x(), d.y())
    pens = _tube_pens(t, one.role, width) if size >= 0.5 else None
    if pens is not None:
        outline, fill, edge = pens
        p.setPen(outline)
        p.drawLine(a, b)
        inset = d * (edge / size)
        p.setPen(fill)
        p.drawLine(a + inset, b - inset)
        return
    pen, brush = _pens(t)[one.role]
    p.setPen(pen)
    p.setBrush(brush)
    if size < 0.5:
        p.drawEllipse(a, width / 2, width / 2)
        return
    n = QPointF(-d.y(), d.x()) * (width / 2 / size)
    p.drawPolygon(QPolygonF([a + n, b + n, b - n, a - n]))


def _balance(p: QPainter, c: QPointF, r: float, t: Theme) -> None:
    """Quartered disc."""
    box = QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r)
    p.setBrush(QBrush(t.sheet))
    p.drawPie(box, 0, 90 * 16)
    p.drawPie(box, 180 * 16, 90 * 16)


def pane_title(p: QPainter, t: Theme, pane: QRectF, words: str) -> None:
    """What a view shows, in the upper right corner of its pane."""
    p.setFont(font(9))
    room = pane.adjusted(10, 6, -10, -6)
    flags = Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignRight
    p.fillRect(p.boundingRect(room, flags, words).adjusted(-4, -1, 4, 1), _veil(t.sheet, 170))
    p.setPen(t.quiet)
    p.drawText(room, flags, words)
