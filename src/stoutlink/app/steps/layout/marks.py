"""Handles of the pivots, the crosshair through all views, dimensions, and what stands where nothing is drawn."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from stoutlink.app.canvas.painting import Frame
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.shapes import AXES, SIGN, Flat, ViewName, flatten
from stoutlink.core.editing.pivots import Pivot, moved_along

if TYPE_CHECKING:
    from stoutlink.app.steps.layout.three_views import ThreeViews


def paint_handles(
    p: QPainter,
    t: Theme,
    layout: Layout,
    selected: Pivot | None,
    view: ViewName,
    frame: Frame,
    points: dict[Pivot, Point],
    *,
    small: bool = False,
) -> list[QRectF]:
    """Squares on the frame, circles on the axle; the one picked is filled, what moves with it has its colour. Returns where
    they are."""
    out = []
    tied = {(name, selected[1]) for name in moved_along(layout, selected)} if selected is not None else set()
    picked, along, other = _handle_pens(t)
    small_by = 0.55 if small else 1.0
    p.setBrush(t.sheet)
    for pivot in sorted(points, key=lambda one: one == selected):
        at = frame.at(flatten(points[pivot], view))
        chosen = pivot == selected
        p.setPen(picked if chosen else along if pivot in tied else other)
        if chosen:
            p.setBrush(t.dye)
        r = (6.5 if chosen else 5.0) * small_by
        box = QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r)
        if pivot[1] == "frame":
            p.drawRect(box)
        else:
            p.drawEllipse(box)
        out.append(box)
    return out


@lru_cache(maxsize=2)
def _handle_pens(t: Theme) -> tuple[QPen, QPen, QPen]:
    """Of the handle picked, of one that moves with it, and of any other."""
    return QPen(t.dye, 2.5), QPen(t.dye, 1.5), QPen(t.soap, 1.5)


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


def paint_dimensions(p: QPainter, t: Theme, views: ThreeViews, told: list[str]) -> None:
    """The lines of the picked pivot's dimensions, and what is ``told`` on them where no field stands (points of leaves
    have none of their own there).
    """
    for i, (view, a, b, at) in enumerate(dimension_lines(views)):
        if views.drawn.is_small(view):
            continue
        p.setPen(QPen(t.dye, 1))
        p.drawLine(a, b)
        for end in (a, b):
            p.drawLine(end + QPointF(-4, 4), end + QPointF(4, -4))
        if i < len(told):
            box = QRectF(at.x() - 34, at.y() - 9, 68, 18)
            p.fillRect(box, t.sheet)
            p.setPen(t.text)
            p.setFont(font(9))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, told[i])


def dimension_lines(views: ThreeViews) -> list[tuple[ViewName, QPointF, QPointF, QPointF]]:
    """For station, side and height: view, the two ends of the dimension in pixels, and where its field stands."""
    point = views.pivot_point(views.selected) if views.selected else None
    layout = views.layout_shown
    if point is None or layout is None:
        return []
    return [_dimension(views, axis, point) for axis in range(3)]


def _dimension(views: ThreeViews, axis: int, point: Point) -> tuple[ViewName, QPointF, QPointF, QPointF]:
    """One coordinate of a point, in the view where it is seen best: one that is not small, where there is one."""
    shown_in: tuple[ViewName, ViewName] = (("side", "plan"), ("plan", "rear"), ("side", "rear"))[axis]
    view = next((v for v in shown_in if not views.drawn.is_small(v)), shown_in[0])
    frame, pane = views.frame_of(view), views.panes()[view]
    flat = flatten(point, view)
    handle = frame.at(flat)
    if AXES[view][0] == axis:  # runs across the view
        base = frame.at((0.0, 0.0)).y() + 22 if view != "plan" else pane.bottom() - 36
        y = min(base, pane.bottom() - 14)
        zero = max(pane.left() + 2, min(pane.right() - 2, frame.at((0.0, 0.0)).x()))
        a, b = QPointF(zero, y), QPointF(handle.x(), y)
        return view, a, b, (a + b) / 2
    a, b = QPointF(handle.x() + 26, frame.at((flat[0], 0.0)).y()), QPointF(handle.x() + 26, handle.y())
    return view, a, b, (a + b) / 2


def nothing_hung(workspace: Workspace) -> str:
    """What stands where nothing is laid out."""
    end = workspace.end
    if end == "front" and workspace.project.rig.drivetrain.front_axle == "independent":
        return "The independent front stays."
    todo = "enter the rig first." if workspace.study.needed("stance", "weight") else "start from a kind, at the left."
    return f"Nothing hangs the {end} axle yet: {todo}"
