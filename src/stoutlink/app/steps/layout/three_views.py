"""Side, plan and rear view of one axle on one ground line, with one crosshair through all three, and the rig in the round.
Pivots are dragged, nudged with the arrow keys, or typed on their dimensions.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Mapping, Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.painting import paint
from stoutlink.app.canvas.tags import notes_as_tags, paint_tags
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.backdrop import Backdrop
from stoutlink.app.steps.layout.marks import (
    nothing_hung,
    paint_crosshair,
    paint_dimensions,
    paint_handles,
)
from stoutlink.app.steps.layout.pivot_fields import PivotFields
from stoutlink.app.steps.linked_views import LinkedViews, NearWords
from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.axle_views import AxlePose, construction_shapes, link_shapes, pose_at_station, ride_pose_of
from stoutlink.core.drawing.layout_views import driveshaft_shapes, hole_shapes, leaf_shapes, steering_shapes
from stoutlink.core.drawing.shapes import AXES, SIGN, VIEWS, Flat, Shape, ViewName, flatten
from stoutlink.core.drawing.snapping import snap
from stoutlink.core.drawing.travel_views import strut_shapes
from stoutlink.core.editing.pivots import Pivot, move, name_of, pivots_of, place_of
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.shown import show

HIT, HIT_SMALL = 15.0, 8.0
RIDE_FIRST = "Axle pivots are moved at ride height: put the travel slider back to the middle."
Overlay = Callable[[ViewName], list[Shape]]
_gesture = itertools.count(1)


class ThreeViews(LinkedViews):
    """The drawing of the layout in work. ``selected_changed`` when another pivot is picked."""

    selected_changed = pyqtSignal()
    EMPTY = "Measure the frame, choose axles and lay out links: they stand here in the round."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.setObjectName("three_views")
        self.setAccessibleName("Three views of the axle and its links")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._selected: Pivot | None = None
        self.station: int | None = None
        self.snapping = True
        self.overlay: Overlay | None = None
        self._fitted = False
        self._round_gesture = ""
        self._caught = ""
        self._active: ViewName = "side"
        self._hover: tuple[ViewName, QPointF] | None = None
        self._drag: tuple[Pivot, ViewName, str] | None = None
        self._pan: QPointF | None = None
        self.fields = PivotFields(workspace, self)
        self._backdrop = Backdrop(workspace, self)
        self._posed: tuple[tuple[object, ...], AxlePose | None] | None = None
        self.round.picked.connect(self.select)
        self.round.dragged.connect(self._drag_round)
        self.round.released.connect(self._let_go)

    # What is drawn

    @property
    def layout_shown(self) -> Layout | None:
        """The layout of the axle in work."""
        return self._workspace.project.layout(self._workspace.end)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self.theme = theme
        layout = self.layout_shown
        if layout is not None and not self._fitted:
            self.fit()
        if layout is None or (self._selected and self._selected not in pivots_of(layout)):
            self.select(None)
        elif self._selected and not self.fields.are_of(layout, self._selected):
            chosen, self._selected = self._selected, None  # the same name in another layout
            self.select(chosen)
        self.fields.refresh()
        self.follow_axle()
        self.fields.place()
        self.refresh_round(theme)
        self.redraw()

    def placed(self) -> None:
        """The views were moved: fields follow."""
        self.fields.place()

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
        self.fields.place()
        self.redraw()

    def pose(self) -> AxlePose | None:
        """Where the axle stands; ``None`` where it does not get to."""
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

    def place_in(self, layout: Layout, pivot: Pivot) -> Point | None:
        """Where a pivot is in a layout, at ride."""
        return place_of(layout, pivot, self._workspace.rig.wheelbase_m)

    def ride_centre(self) -> Point | None:
        """The middle of the axle at ride."""
        layout = self.layout_shown
        return None if layout is None else ride_pose_of(self._workspace.rig, layout.end).centre

    def pivot_point(self, pivot: Pivot) -> Point | None:
        """Where a pivot is drawn now (axle pivots move with travel)."""
        layout = self.layout_shown
        return None if layout is None else self._points(layout, [pivot]).get(pivot)

    def handle_at(self, pivot: Pivot, view: ViewName) -> QPointF | None:
        """Pixel of a pivot's handle in a view."""
        point = self.pivot_point(pivot)
        return None if point is None else self.frame_of(view).at(flatten(point, view))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            layout = self.layout_shown
            if layout is not None:
                p.drawPixmap(0, 0, self._backdrop.sheet(t, layout))
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            if layout is None:
                p.fillRect(self.rect(), t.sheet)
                p.setPen(t.quiet)
                p.setFont(font(12))
                p.drawText(
                    QRectF(self.rect()).adjusted(12, 0, -12, 0),
                    int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap),
                    nothing_hung(self._workspace),
                )
                return
            pose = self.pose()
            ride = ride_pose_of(self._workspace.rig, layout.end)
            motion = self._workspace.study.axles[layout.end].motion
            leaf = self._workspace.study.axles[layout.end].leaf
            panes = self.panes()
            donor, plan = self._workspace.project.donor(layout.end), self._workspace.project.plan(layout.end)
            points = self.pivot_points(layout)
            boxes = self.fields.boxes()
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
                notes = list(self._backdrop.notes[view])
                paint(p, shapes, frame, t, notes)
                small = self.drawn.is_small(view)
                handles = paint_handles(p, t, layout, self.selected, view, frame, points, small=small)
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
                if not small:
                    title = QRectF(panes[view].right() - 130, panes[view].top(), 130, 24)
                    paint_tags(
                        p,
                        t,
                        notes_as_tags(notes, frame, t),
                        panes[view].adjusted(3, 3, -3, -3),
                        [*handles, *boxes, title],
                    )
                p.restore()
            told = [] if self.fields.every or self.selected is None else self.describe_numbers()
            paint_dimensions(p, t, self, told)
            self._catch(p, t)

    def _catch(self, p: QPainter, t: Theme) -> None:
        """What a dragged pivot has fallen on."""
        if not self._caught or self._hover is None:
            return
        p.setFont(font(8.5))
        p.setPen(t.dye)
        p.drawText(self._hover[1] + QPointF(14, -10), self._caught)

    # Dimensions of the selected pivot

    def select(self, pivot: Pivot | None) -> None:
        """Pick a pivot (or none) and hang its dimensions on the drawing."""
        layout = self.layout_shown
        if layout is None or pivot not in pivots_of(layout):
            pivot = None
        if pivot == self._selected and self.fields.every:
            return
        self._selected = pivot
        self.fields.pick(pivot if layout is not None and pivot is not None and self.place_in(layout, pivot) else None)
        self.fields.place()
        self.selected_changed.emit()
        if self.theme is not None:
            self.refresh_round(self.theme)
        self.redraw()

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
            if gap <= (HIT_SMALL if self.drawn.is_small(view) else HIT) and (best is None or gap < best[0]):
                best = (gap, pivot)
        return (best[1], view) if best else None

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
                self._workspace.said.emit(RIDE_FIRST, False)
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
        self.redraw()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._drag is not None:
            self._let_go()
        self._drag = self._pan = None
        self._caught = ""

    def _let_go(self) -> None:
        """A pivot is in the hand no more."""
        self._workspace.dragging = False
        self._round_gesture = self.round.caught = self._caught = ""
        self._workspace.session.end_gesture()
        if self.theme is not None:
            self.refresh_round(self.theme)

    def leaveEvent(self, event: object) -> None:
        self._hover = None
        self.redraw()

    def _shift(self, view: ViewName, step: QPointF) -> None:
        self.drawn.shift(view, step)
        self.fields.place()

    def _drag_to(self, pixel: QPointF, *, snapping: bool) -> None:
        assert self._drag is not None
        pivot, view, gesture = self._drag
        frame = self.frame_of(view)
        self._put(pivot, view, frame.back(pixel), frame.scale, gesture, snapping=snapping)

    def _put(self, pivot: Pivot, view: ViewName, flat: Flat, scale: float, gesture: str, *, snapping: bool) -> None:
        """Have a pivot at a place of a view that is drawn at ``scale`` pixels per metre, or on what lies near it there."""
        layout = self.layout_shown
        at = self.place_in(layout, pivot) if layout is not None else None
        if layout is None or at is None:
            return
        to = list(at)
        self._caught, across, up = "", None, None
        if snapping:
            found = snap(self._workspace.project, self._workspace.rig, layout, pivot, view, flat, scale)
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
        at = self.place_in(layout, self.selected) if layout is not None and self.selected is not None else None
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

    def _drag_round(self, pivot: Pivot, to: Point) -> None:
        """A pivot is dragged in the round: in the plane that was chosen."""
        layout = self.layout_shown
        if layout is None or pivot not in pivots_of(layout):
            return
        if self.station is not None and pivot[1] == "axle":
            self._workspace.said.emit(RIDE_FIRST, False)
            return
        if not self._round_gesture:
            self._round_gesture = f"drag {next(_gesture)}"
            self._workspace.dragging = True
        plane = self.round.plane
        if plane is not None:  # the hand is in the plane of a flat view: it catches on the same things as there
            at = flatten(to, plane)
            self._put(pivot, plane, at, self.round.eye.scale, self._round_gesture, snapping=self.snapping)
            self.round.caught = self._caught
            return
        x, y, z = (round(v, 5) for v in to)
        self._workspace.do(move(layout, pivot, (x, y, z), self._round_gesture))

    def pivot_points(self, layout: Layout) -> dict[Pivot, Point]:
        """Where the pivots are drawn now."""
        return self._points(layout, pivots_of(layout))

    def _points(self, layout: Layout, pivots: Iterable[Pivot]) -> dict[Pivot, Point]:
        pose, ride, wheelbase = self.pose(), self.ride_centre(), self._workspace.rig.wheelbase_m
        out = {}
        for pivot in pivots:
            point = place_of(layout, pivot, wheelbase)
            if point is not None and ride is not None:
                out[pivot] = pose.carry(point, ride) if pivot[1] == "axle" and pose is not None else point
        return out

    def round_key(self) -> tuple[object, ...]:
        """What the round view's bodies rest on."""
        w = self._workspace
        return (w.project, w.end, self.station, self._travel())

    def round_bodies(self) -> tuple[Sequence[Posed], NearWords]:
        """Both axles, the one in work at the station shown."""
        study, end, travel = self._workspace.study, self._workspace.end, self._travel()
        posed, others = study.posed_at(end, self.station), self.others_at_ride(end)
        if posed is None:
            return others, ()
        if travel is None:
            return (posed, *others), ()
        column = int(abs(travel.grid.heave - posed.grid.heave[0]).argmin())
        return (posed, *others), self.near_at(posed, travel, travel.grid.ride[0], column)

    def round_pivots(self) -> tuple[Mapping[Pivot, Point], Pivot | None]:
        """Every pivot of the layout in work."""
        layout = self.layout_shown
        return {} if layout is None else self.pivot_points(layout), self.selected

    def _travel(self) -> AxleTravel | None:
        w = self._workspace
        return w.study.travel_known(w.end) if w.cycling.known else None

    def describe(self) -> str:
        """The selected pivot in words, for the status line and copying."""
        layout = self.layout_shown
        at = self.place_in(layout, self.selected) if layout is not None and self.selected is not None else None
        if layout is None or at is None or self.selected is None:
            return "No pivot selected"
        x, y, z = self.describe_numbers()
        return f"{name_of(layout, self.selected)} pivot: station {x}, side {y}, height {z}"

    def describe_numbers(self) -> list[str]:
        """Station, side and height of the selected pivot in the project's unit; nothing where none is."""
        layout = self.layout_shown
        at = self.place_in(layout, self.selected) if layout is not None and self.selected is not None else None
        return [] if at is None else [show(v, "length", self._workspace.unit) for v in at]
