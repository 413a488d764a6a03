"""Handles of the pivots and the crosshair through all views."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from stoutlink.app.canvas.painting import Frame
from stoutlink.app.desk.theme import Theme
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.shapes import AXES, SIGN, Flat, ViewName, flatten
from stoutlink.core.editing.pivots import Pivot, moved_along


def paint_handles(
    p: QPainter,
    t: Theme,
    layout: Layout,
    selected: Pivot | None,
    view: ViewName,
    frame: Frame,
    points: dict[Pivot, Point],
) -> None:
    """Squares on the frame, circles on the axle; the one picked is filled, what moves with it has its colour."""
    tied = {(name, selected[1]) for name in moved_along(layout, selected)} if selected is not None else set()
    for pivot in sorted(points, key=lambda one: one == selected):
        at = frame.at(flatten(points[pivot], view))
        chosen = pivot == selected
        p.setPen(QPen(t.dye if chosen or pivot in tied else t.soap, 2.5 if chosen else 1.5))
        p.setBrush(t.dye if chosen else t.sheet)
        r = 6.5 if chosen else 5.0
        if pivot[1] == "frame":
            p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r))
        else:
            p.drawEllipse(at, r, r)


def paint_crosshair(
    p: QPainter, t: Theme, source: ViewName, at: Flat, view: ViewName, frame: Frame, pane: QRectF
) -> None:
    """The place under the pointer in ``source``, as lines in another view."""
    a, b = AXES[source]
    known = {a: SIGN[source] * at[0], b: at[1]}
    p.setPen(QPen(t.faint, 0.8))
    for axis in AXES[view]:
        if axis not in known:
            continue
        if axis == AXES[view][0]:
            x = frame.at((SIGN[view] * known[axis], 0.0)).x()
            p.drawLine(QPointF(x, pane.top()), QPointF(x, pane.bottom()))
        else:
            y = frame.at((0.0, known[axis])).y()
            p.drawLine(QPointF(pane.left(), y), QPointF(pane.right(), y))
