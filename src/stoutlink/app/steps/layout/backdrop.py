"""What stands still behind the links while a pivot is dragged: the surveyed rig, tyres, housing, balance point,
borders.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtGui import QPainter, QPixmap

from stoutlink.app.canvas.painting import Frame, paint, pane_title
from stoutlink.app.canvas.view_geometry import ViewGeometry
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.drawing.axle_views import (
    AxlePose,
    axle_shapes,
    balance_shapes,
    link_shapes,
    pose_at_station,
    ride_pose_of,
)
from stoutlink.core.drawing.layout_views import lock_shapes
from stoutlink.core.drawing.shapes import VIEWS, Line, Note, Shape, ViewName
from stoutlink.core.drawing.survey_views import surveyed_shapes

if TYPE_CHECKING:
    from stoutlink.app.steps.layout.three_views import ThreeViews


class Backdrop:
    """It and the words that go with it, painted once for as long as nothing in it changes."""

    def __init__(self, workspace: Workspace, views: ThreeViews) -> None:
        self._workspace, self._views = workspace, views
        self._kept: tuple[object, QPixmap] | None = None
        self.notes: dict[ViewName, list[Note]] = {view: [] for view in VIEWS}
        """Words that are still to be laid out in each view."""

    def sheet(self, t: Theme, layout: Layout) -> QPixmap:
        """It, as large as the views."""
        views, project = self._views, self._workspace.project
        compared = project.compared(layout.end)
        if compared is not None and compared.id == layout.id:
            compared = None
        rig, station, ratio = self._workspace.rig, views.station, views.devicePixelRatioF()
        place = (views.size(), views.drawn.place, ratio)
        key = (
            t,
            rig,
            project.tape.surveys,
            placed_solids(project),
            layout.end,
            layout.pinion_up,
            station,
            place,
            compared,
            views.under.stamp(),
        )
        if self._kept is not None and self._kept[0] == key and station is None:
            return self._kept[1]
        sheet = QPixmap(views.size() * ratio)
        sheet.setDevicePixelRatio(ratio)
        held = None if compared is None else self._compared_pose(compared)
        self.notes = paint_backdrop(
            sheet,
            t,
            self._workspace,
            layout,
            views.pose(),
            views.drawn,
            moving=station is not None,
            title_of=views.title_of,
            borders=views.paint_borders,
            under=views.under.paint,
            compared=None if compared is None or held is None else (compared, held),
        )
        self._kept = (key, sheet)
        return sheet

    def _compared_pose(self, compared: Layout) -> AxlePose | None:
        """Where the compared layout's axle is: at the same station where it gets there, else at ride."""
        held, station = self._workspace.study.axles[compared.end].compared, self._views.station
        if station is not None:
            return None if held is None or held.motion is None else pose_at_station(held.motion, station)
        return ride_pose_of(self._workspace.rig, compared.end)


def paint_backdrop(
    sheet: QPixmap,
    t: Theme,
    workspace: Workspace,
    layout: Layout,
    pose: AxlePose | None,
    drawn: ViewGeometry,
    *,
    moving: bool,
    title_of: Callable[[ViewName], str],
    borders: Callable[[QPainter, Theme], None],
    under: Callable[[QPainter, Frame, ViewName], None],
    compared: tuple[Layout, AxlePose] | None = None,
) -> dict[ViewName, list[Note]]:
    """Paint it on a sheet of the views' size; ``moving`` shows the links at ride as ghosts, ``compared`` another
    layout's links, likewise. Returns the words that are still to be laid out in each view.
    """
    words: dict[ViewName, list[Note]] = {view: [] for view in VIEWS}
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
            under(p, drawn.frame_of(view), view)
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
            paint(p, shapes, drawn.frame_of(view), t, words[view])
            pane_title(p, t, panes[view], title_of(view))
            p.restore()
        borders(p, t)
    return words
