"""Side, plan and rear view of one axle at one scale, on one ground line, with one crosshair through all three.

Third-angle arrangement: the plan stands over the side view, the rear view to its left; the free corner carries the
travel panel. Pivots are dragged, nudged with the arrow keys, or typed on their dimensions.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPixmap, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.canvas.view_geometry import ViewGeometry
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.backdrop import paint_backdrop
from stoutlink.app.steps.layout.marks import (
    dimension_lines,
    nothing_hung,
    paint_crosshair,
    paint_dimensions,
    paint_handles,
)
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.axle_views import AxlePose, construction_shapes, link_shapes, pose_at_station, ride_pose_of
from stoutlink.core.drawing.layout_views import driveshaft_shapes, hole_shapes, leaf_shapes, steering_shapes
from stoutlink.core.drawing.shapes import AXES, SIGN, VIEWS, Shape, ViewName, flatten
from stoutlink.core.drawing.snapping import snap
from stoutlink.core.drawing.travel_views import strut_shapes
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.pivots import Pivot, move, name_of, of_leaf, of_link, path_of, pivots_of, place_of
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.shown import Typed, show

HIT = 15.0
Overlay = Callable[[ViewName], list[Shape]]
_gesture = itertools.count(1)


class ThreeViews(QWidget):
    """The drawing of the layout in work. ``selected_changed`` when another pivot is picked."""

    selected_changed = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("three_views")
        self.setAccessibleName("Three views of the axle and its links")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._workspace = workspace
        self._theme: Theme | None = None
        self._selected: Pivot | None = None
        self.station: int | None = None
        self.snapping = True
        self.drawn = ViewGeometry()
        self.overlay: Overlay | None = None
        self._fitted = False
        self._caught = ""
        self._active: ViewName = "side"
        self._hover: tuple[ViewName, QPointF] | None = None
        self._drag: tuple[Pivot, ViewName, str] | None = None
        self._pan: QPointF | None = None
        self._fields: list[QuantityField] = []
        self._kept: tuple[object, QPixmap] | None = None
        self._posed: tuple[tuple[object, ...], AxlePose | None] | None = None

    # What is drawn

    @property
    def layout_shown(self) -> Layout | None:
        """The layout of the axle in work."""
        return self._workspace.project.layout(self._workspace.end)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        layout = self.layout_shown
        if layout is not None and not self._fitted:
            self.fit()
        if layout is None or (self._selected and self._selected not in pivots_of(layout)):
            self.select(None)
        elif self._selected and self._fields and self._fields[0].path != f"{path_of(layout, self._selected)}.0":
            chosen, self._selected = self._selected, None  # the same name in another layout
            self.select(chosen)
        for one in self._fields:
            one.refresh()
        self._place_fields()
        self.update()

    def fit(self) -> None:
        """Bring the whole axle into the views."""
        layout = self.layout_shown
        if layout is None or self.width() < 50:
            return
        self.drawn.size = (float(self.width()), float(self.height()))
        self._fitted = True
        rig = self._workspace.rig
        end = rig.end(layout.end)
        centre = rig.wheelbase_m if layout.end == "front" else 0.0
        points = [p for link in layout.links for p in (link.frame_pivot_m, link.axle_pivot_m)]
        if layout.leaf is not None:
            points += [
                (centre + layout.leaf.front_m, 0.0, layout.leaf.front_eye_z_m),
                (centre - layout.leaf.rear_m, 0.0, layout.leaf.rear_eye_z_m + 0.1),
            ]
        xs = [p[0] for p in points]
        left = min([*xs, centre - end.free]) - 0.08
        right = max([*xs, centre + end.free]) + 0.16
        zs = [p[2] for p in points]
        top = max([*zs, rig.cg_height_m, end.loaded + end.free]) + 0.12
        half = end.track_m / 2 + 0.25
        self.drawn.fit((left, right), half, (-0.16, top))
        self._place_fields()
        self.update()

    def panes(self) -> dict[ViewName, QRectF]:
        """Where the views lie in the widget."""
        return self.drawn.panes()

    def frame_of(self, view: ViewName) -> Frame:
        """Metres to pixels in a view."""
        return self.drawn.frame_of(view)

    def _pose(self) -> AxlePose | None:
        layout = self.layout_shown
        if layout is None:
            return None
        key = (self._workspace.project, self._workspace.end, self.station)
        if self._posed is None or any(a is not b for a, b in zip(self._posed[0], key, strict=True)):
            self._posed = (key, self._pose_now(layout))
        return self._posed[1]

    def _pose_now(self, layout: Layout) -> AxlePose | None:
        motion = self._workspace.study.axles[layout.end].motion
        if self.station is not None and motion is not None:
            return pose_at_station(motion, self.station)
        return ride_pose_of(self._workspace.rig, layout.end)

    @property
    def selected(self) -> Pivot | None:
        """The pivot that is picked; ``None`` also when the layout in work does not have it (any more)."""
        layout = self.layout_shown
        return self._selected if layout is not None and self._selected in pivots_of(layout) else None

    def _place(self, layout: Layout, pivot: Pivot) -> Point | None:
        return place_of(layout, pivot, self._workspace.rig.wheelbase_m)

    def pivot_point(self, pivot: Pivot) -> Point | None:
        """Where a pivot is drawn now (axle pivots move with travel)."""
        layout, pose = self.layout_shown, self._pose()
        point = self._place(layout, pivot) if layout is not None else None
        if layout is None or point is None:
            return None
        if pivot[1] == "axle" and pose is not None:
            return pose.carry(point, ride_pose_of(self._workspace.rig, layout.end).centre)
        return point

    def handle_at(self, pivot: Pivot, view: ViewName) -> QPointF | None:
        """Pixel of a pivot's handle in a view."""
        point = self.pivot_point(pivot)
        return None if point is None else self.frame_of(view).at(flatten(point, view))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self._theme
        if t is None:
            return
        with QPainter(self) as p:
            layout = self.layout_shown
            if layout is not None:
                p.drawPixmap(0, 0, self._backdrop(t, layout))
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            if layout is None:
                p.fillRect(self.rect(), t.sheet)
                p.setPen(t.quiet)
                p.setFont(font(12))
                p.drawText(
                    QRectF(self.rect()).adjusted(self.drawn.corner().right() + 12, 0, -12, 0),
                    int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap),
                    nothing_hung(self._workspace),
                )
                return
            pose = self._pose()
            ride = ride_pose_of(self._workspace.rig, layout.end)
            motion = self._workspace.study.axles[layout.end].motion
            leaf = self._workspace.study.axles[layout.end].leaf
            panes = self.panes()
            donor, plan = self._workspace.project.donor(layout.end), self._workspace.project.plan(layout.end)
            points = {pivot: at for pivot in pivots_of(layout) if (at := self.pivot_point(pivot)) is not None}
            for view in VIEWS:
                frame = self.frame_of(view)
                p.save()
                p.setClipRect(panes[view])
                shapes: list[Shape] = driveshaft_shapes(self._workspace.rig, layout, donor, plan, view, pose)
                if pose is not None:
                    shapes += link_shapes(layout, view, pose, ride.centre)
                shapes += hole_shapes(layout, view, pose, ride.centre)
                shapes += steering_shapes(layout, view, pose, ride.centre)
                if pose is not None:
                    shapes += strut_shapes(layout, view, pose, ride.centre)
                if motion is not None and self.station is None:
                    shapes += construction_shapes(self._workspace.rig, motion, view)
                if leaf is not None:
                    shapes += leaf_shapes(leaf, view, (0.0,))
                if self.overlay is not None:
                    shapes += self.overlay(view)
                paint(p, shapes, frame, t)
                paint_handles(p, t, layout, self.selected, view, frame, points)
                if self._hover is not None:
                    paint_crosshair(
                        p,
                        t,
                        self._hover[0],
                        self.frame_of(self._hover[0]).back(self._hover[1]),
                        view,
                        frame,
                        panes[view],
                    )
                p.restore()
            told = [] if self._fields or self.selected is None else self.describe_numbers()
            paint_dimensions(p, t, self, told)
            self._catch(p, t)

    def _catch(self, p: QPainter, t: Theme) -> None:
        """What a dragged pivot has fallen on."""
        if not self._caught or self._hover is None:
            return
        p.setFont(font(8.5))
        p.setPen(t.dye)
        p.drawText(self._hover[1] + QPointF(14, -10), self._caught)

    def _compared_pose(self, compared: Layout) -> AxlePose | None:
        """Where the compared layout's axle is: at the same station where it gets there, else at ride."""
        held = self._workspace.study.axles[compared.end].compared
        if self.station is not None:
            return None if held is None or held.motion is None else pose_at_station(held.motion, self.station)
        return ride_pose_of(self._workspace.rig, compared.end)

    def _backdrop(self, t: Theme, layout: Layout) -> QPixmap:
        """What does not change while a pivot is dragged: ground, tyres, housing, balance point, borders; painted
        once.
        """
        project = self._workspace.project
        compared = project.compared(layout.end)
        if compared is not None and compared.id == layout.id:
            compared = None
        key = (
            t,
            self._workspace.rig,
            project.surveys,
            project.solids,
            layout.end,
            layout.pinion_up,
            self.station,
            self.size(),
            self.drawn.scale,
            self.drawn.middle,
            self.devicePixelRatioF(),
            compared,
        )
        moving = self.station is not None
        if self._kept is not None and self._kept[0] == key and not moving:
            return self._kept[1]
        sheet = QPixmap(self.size() * self.devicePixelRatioF())
        sheet.setDevicePixelRatio(self.devicePixelRatioF())
        held = None if compared is None else self._compared_pose(compared)
        paint_backdrop(
            sheet,
            t,
            self._workspace,
            layout,
            self._pose(),
            self.drawn,
            moving=moving,
            compared=None if compared is None or held is None else (compared, held),
        )
        self._kept = (key, sheet)
        return sheet

    # Dimensions of the selected pivot

    def select(self, pivot: Pivot | None) -> None:
        """Pick a pivot (or none) and hang its dimensions on the drawing."""
        layout = self.layout_shown
        if layout is None or pivot not in pivots_of(layout):
            pivot = None
        if pivot == self._selected and self._fields:
            return
        self._selected = pivot
        for one in self._fields:
            one.hide()
            one.deleteLater()
        self._fields = []
        placed = pivot is not None and layout is not None and self._place(layout, pivot) is not None
        if pivot is not None and layout is not None and placed and of_leaf(pivot) is None:
            for axis, title in enumerate(("Station", "Side", "Height")):
                path = f"{path_of(layout, pivot)}.{axis}"
                own = None if not of_link(pivot) else self._typed(pivot, axis)
                field = QuantityField(self._workspace, path, self, title=title, make_edit=own)
                field.setObjectName(f"pivot_{('station', 'side', 'height')[axis]}")
                field.setFixedSize(92, 24)
                field.show()
                self._fields.append(field)
        self._place_fields()
        self.selected_changed.emit()
        self.update()

    def _typed(self, pivot: Pivot, axis: int) -> Callable[[Typed], Edit]:
        def make(typed: Typed) -> Edit:
            layout = self.layout_shown
            assert layout is not None
            at = self._place(layout, pivot)
            assert at is not None
            to = list(at)
            to[axis] = typed.value
            texts = ["", "", ""]
            texts[axis] = typed.text
            basis = "estimated" if typed.estimated else "measured"
            return move(layout, pivot, (to[0], to[1], to[2]), "", (texts[0], texts[1], texts[2]), basis, typed.sigma)  # type: ignore[arg-type]

        return make

    def _place_fields(self) -> None:
        for field, (view, _, _, at) in zip(self._fields, dimension_lines(self), strict=False):
            pane = self.panes()[view]
            x = max(pane.left() + 4, min(pane.right() - field.width() - 4, at.x() - field.width() / 2))
            y = max(pane.top() + 24, min(pane.bottom() - field.height() - 2, at.y() - field.height() / 2))
            field.move(int(x), int(y))

    # Hands

    def pivot_near(self, pixel: QPointF) -> tuple[Pivot, ViewName] | None:
        """The pivot whose handle is nearest to a pixel, in the view under it."""
        layout, view = self.layout_shown, self.view_at(pixel)
        if layout is None or view is None:
            return None
        best: tuple[float, Pivot] | None = None
        for pivot in pivots_of(layout):
            at = self.handle_at(pivot, view)
            if at is None:
                continue
            gap = math.hypot(at.x() - pixel.x(), at.y() - pixel.y()) - (3.0 if pivot == self.selected else 0.0)
            if gap <= HIT and (best is None or gap < best[0]):
                best = (gap, pivot)
        return (best[1], view) if best else None

    def view_at(self, pixel: QPointF) -> ViewName | None:
        """The view under a pixel."""
        return next((view for view, pane in self.panes().items() if pane.contains(pixel)), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        found = self.pivot_near(event.position())
        view = self.view_at(event.position())
        if view is not None:
            self._active = view
        if event.button() == Qt.MouseButton.LeftButton and found is not None:
            self.select(found[0])
            if self.station is not None and found[0][1] == "axle":
                self._workspace.said.emit(
                    "Axle pivots are moved at ride height: put the travel slider back to the middle.", False
                )
                return
            self._drag = (*found, f"drag {next(_gesture)}")
            self._workspace.dragging = True
        elif event.button() in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            self._pan = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = event.position()
        view = self.view_at(at)
        self._hover = (view, at) if view else None
        if self._drag is not None:
            free = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
            self._drag_to(at, snapping=self.snapping and not free)
        elif self._pan is not None:
            step = at - self._pan
            self._pan = at
            self._shift(view or self._active, step)
        else:
            self.setCursor(Qt.CursorShape.SizeAllCursor if self.pivot_near(at) else Qt.CursorShape.ArrowCursor)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._drag is not None:
            self._workspace.dragging = False
            self._workspace.session.end_gesture()
        self._drag = self._pan = None
        self._caught = ""

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.pivot_near(event.position()) is None:
            self.fit()

    def leaveEvent(self, event: object) -> None:
        self._hover = None
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        view = self.view_at(event.position())
        if view is None:
            return
        self.zoom(1.0015 ** event.angleDelta().y(), view, event.position())

    def zoom(self, factor: float, view: ViewName = "side", about: QPointF | None = None) -> None:
        """Change the common scale, keeping the point under ``about`` in place."""
        self.drawn.zoom(factor, view, about)
        self._place_fields()
        self.update()

    def _shift(self, view: ViewName, step: QPointF) -> None:
        self.drawn.shift(view, step)
        self._place_fields()

    def _drag_to(self, pixel: QPointF, *, snapping: bool) -> None:
        assert self._drag is not None
        pivot, view, gesture = self._drag
        layout = self.layout_shown
        at = self._place(layout, pivot) if layout is not None else None
        if layout is None or at is None:
            return
        to, flat = list(at), self.frame_of(view).back(pixel)
        self._caught, across, up = "", None, None
        if snapping:
            found = snap(self._workspace.project, self._workspace.rig, layout, pivot, view, flat, self.drawn.scale)
            flat, self._caught, across, up = found.at, found.word, found.across, found.up
        for axis, value in zip(AXES[view], (SIGN[view] * flat[0], flat[1]), strict=True):
            to[axis] = value
        self._workspace.do(move(layout, pivot, (to[0], to[1], to[2]), gesture, across=across, up=up))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        direction = arrows.get(Qt.Key(event.key()))
        if direction is not None and self.selected is not None:
            big = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.nudge(direction, 8 if big else 1)
        elif event.key() in (Qt.Key.Key_Period, Qt.Key.Key_Comma):
            self.step_pivot(1 if event.key() == Qt.Key.Key_Period else -1)
        elif event.key() == Qt.Key.Key_Escape:
            self.select(None)
        else:
            super().keyPressEvent(event)

    def nudge(self, direction: tuple[int, int], times: int = 1) -> None:
        """Move the selected pivot one step (1/16 in or 1 mm) in the view last touched."""
        layout = self.layout_shown
        at = self._place(layout, self.selected) if layout is not None and self.selected is not None else None
        if layout is None or at is None or self.selected is None:
            return
        step = (INCH / 16 if self._workspace.unit == "in" else 0.001) * times
        to = list(at)
        a, b = AXES[self._active]
        to[a] += SIGN[self._active] * direction[0] * step
        to[b] += direction[1] * step
        self._workspace.do(move(layout, self.selected, (to[0], to[1], to[2]), "nudge"))

    def step_pivot(self, by: int) -> None:
        """Pick the next or previous pivot."""
        layout = self.layout_shown
        if layout is None:
            return
        every = pivots_of(layout)
        if not every:
            return
        at = every.index(self.selected) if self.selected in every else -by if by > 0 else 0
        self.select(every[(at + by) % len(every)])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.drawn.size = (float(self.width()), float(self.height()))
        self.fit()

    def describe(self) -> str:
        """The selected pivot in words, for the status line and copying."""
        layout = self.layout_shown
        at = self._place(layout, self.selected) if layout is not None and self.selected is not None else None
        if layout is None or at is None or self.selected is None:
            return "No pivot selected"
        x, y, z = self.describe_numbers()
        return f"{name_of(layout, self.selected)} pivot: station {x}, side {y}, height {z}"

    def describe_numbers(self) -> list[str]:
        """Station, side and height of the selected pivot in the project's unit; nothing where none is."""
        layout = self.layout_shown
        at = self._place(layout, self.selected) if layout is not None and self.selected is not None else None
        return [] if at is None else [show(v, "length", self._workspace.unit) for v in at]
