"""What stands still behind the links while a pivot is dragged: the surveyed rig, tyres, housing, balance point,
borders.
"""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen, QPixmap

from stoutlink.app.canvas.painting import paint, pane_title
from stoutlink.app.canvas.view_geometry import ViewGeometry
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.document.layout import Layout
from stoutlink.core.drawing.axle_views import AxlePose, axle_shapes, balance_shapes, link_shapes, ride_pose_of
from stoutlink.core.drawing.layout_views import lock_shapes
from stoutlink.core.drawing.shapes import VIEWS, Line, Shape, ViewName
from stoutlink.core.drawing.survey_views import surveyed_shapes

TITLES: dict[ViewName, str] = {"side": "Side, from the right", "plan": "Plan", "rear": "Rear, from behind"}


def paint_backdrop(
    sheet: QPixmap,
    t: Theme,
    workspace: Workspace,
    layout: Layout,
    pose: AxlePose | None,
    drawn: ViewGeometry,
    *,
    moving: bool,
    compared: tuple[Layout, AxlePose] | None = None,
) -> None:
    """Paint it on a sheet of the views' size; ``moving`` shows the links at ride as ghosts, ``compared`` another
    layout's links, likewise.
    """
    sheet.fill(t.sheet)
    with QPainter(sheet) as p:
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        rig, panes = workspace.rig, drawn.panes()
        ride = ride_pose_of(rig, layout.end)
        numbers = workspace.study.rig_numbers()
        sigma = (numbers["cg_height"].sigma, numbers["cg_ahead"].sigma)
        for view in VIEWS:
            p.save()
            p.setClipRect(panes[view])
            shapes: list[Shape] = [Line(((-20.0, 0.0), (20.0, 0.0)), "ground" if view != "plan" else "centreline")]
            if view == "rear":
                shapes.append(Line(((0.0, -20.0), (0.0, 20.0)), "centreline"))
            shapes += surveyed_shapes(workspace.project, view)
            shapes += balance_shapes(rig, view, *sigma)
            if compared is not None:
                shapes += [
                    Line(one.points, "compared") for one in link_shapes(compared[0], view, compared[1], ride.centre)
                ]
            if moving:
                shapes += [
                    Line(one.points, "ghost", one.closed, one.width)
                    for one in link_shapes(layout, view, ride, ride.centre)
                ]
            if pose is not None:
                shapes += axle_shapes(
                    rig, layout, view, pose, workspace.project.donor(layout.end), workspace.project.plan(layout.end)
                )
            if view == "plan" and not moving:
                shapes += lock_shapes(rig, layout, workspace.project.donor(layout.end))
            paint(p, shapes, drawn.frame_of(view), t)
            pane_title(p, t, panes[view], TITLES[view])
            p.restore()
        _borders(p, t, panes)


def _borders(p: QPainter, t: Theme, panes: dict[ViewName, QRectF]) -> None:
    p.setPen(QPen(t.edge, 1))
    p.drawLine(panes["side"].topLeft(), panes["side"].bottomLeft())
    p.drawLine(panes["plan"].topLeft(), panes["plan"].bottomLeft())
    p.drawLine(QPointF(0, panes["rear"].top()), panes["side"].topRight())
