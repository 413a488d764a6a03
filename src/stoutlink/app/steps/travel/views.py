"""Three views of an axle anywhere in its travel; the axle itself is dragged: in the middle it goes up and down, at a
tyre it rolls.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.painting import paint, pane_title
from stoutlink.app.canvas.tags import Tag, gap_tag, notes_as_tags, paint_tags
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.linked_views import LinkedViews, NearWords
from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.quantities import Point
from stoutlink.core.drawing.axle_views import AxlePose, axle_shapes, link_shapes, ride_pose_of
from stoutlink.core.drawing.layout_views import driveshaft_shapes, leaf_pose_shapes
from stoutlink.core.drawing.shapes import AXES, SIGN, VIEWS, Line, Note, Shape, ViewName, flatten
from stoutlink.core.drawing.survey_views import surveyed_shapes
from stoutlink.core.drawing.travel_views import hung_shapes, steered_tyre_shapes, steering_pose_shapes, strut_shapes
from stoutlink.core.editing.pivots import Pivot, move
from stoutlink.core.quantity.shown import show

HIT = 9.0
"""A pivot is in hand when the pointer is within this of it, pixels."""
_gesture = itertools.count(1)


class CycleViews(LinkedViews):
    """``moved`` carries the row (roll) and column (heave) the hand asks for."""

    moved = pyqtSignal(int, int)
    EMPTY = "Choose axles and lay out links: they stand here in the round."

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self.setObjectName("cycle_views")
        self.setAccessibleName("Three views of the axle in its travel")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.travel: AxleTravel | None = None
        self.row = self.column = 0
        self.steer = 0.0
        self.marked: tuple[str, ...] = ()
        self.old = False
        self._pan: tuple[ViewName, QPointF] | None = None
        self._near: tuple[tuple[object, ...], Posed | None, NearWords] | None = None
        self.round.dragged.connect(self._drag_round)
        self.round.released.connect(self._let_go)
        self._ground: tuple[tuple[object, ...], tuple[object, ...], QPixmap] | None = None
        self._round_gesture = ""
        self._held: tuple[ViewName, float, int, int, float] | None = None
        self._grabbed: tuple[Pivot, ViewName, str] | None = None
        self._hand: tuple[Pivot, Point] | None = None
        """The pivot in the hand and where it is now, before the travel is worked out again."""

    def show_at(
        self,
        theme: Theme,
        travel: AxleTravel | None,
        row: int,
        column: int,
        steer: float,
        marked: tuple[str, ...],
        old: bool = False,
    ) -> None:
        """Draw the axle at a pose; names in ``marked`` are what touches there. An ``old`` travel is drawn faint."""
        self.old = old
        new = travel is not None and (self.travel is None or self.travel.layout.end != travel.layout.end)
        self.theme, self.travel, self.row, self.column, self.steer, self.marked = (
            theme,
            travel,
            row,
            column,
            steer,
            marked,
        )
        if new:
            self.fit()
            self.round.fit()
        self.follow_axle()
        self.refresh_round(theme)
        self.redraw()

    def fit(self) -> None:
        """Bring the whole travel into the views."""
        if self.travel is None or self.width() < 50:
            return
        self.drawn.size = (float(self.width()), float(self.height()))
        rig, layout = self._workspace.rig, self.travel.layout
        end = rig.end(layout.end)
        centre = self.travel.grid.centre[0]
        points = [p for link in layout.links for p in (link.frame_pivot_m, link.axle_pivot_m)]
        xs = [p[0] for p in points]
        low, high = self.travel.grid.limits
        half = end.track_m / 2 + 0.3
        self.drawn.fit(
            (min([*xs, centre - end.free]) - 0.1, max([*xs, centre + end.free]) + 0.15),
            half,
            (low - 0.2, max([*(p[2] for p in points), rig.cg_height_m, end.loaded + end.free + high]) + 0.1),
        )

    def ride_centre(self) -> Point | None:
        """The middle of the axle at ride."""
        return None if self.travel is None else self.travel.grid.centre

    def pose(self) -> AxlePose | None:
        """Where the axle stands; ``None`` where it does not get to."""
        t = self.travel
        if t is None or not t.grid.reached[self.row, self.column]:
            return None
        at, turn = t.grid.at[self.row, self.column], t.grid.turn[self.row, self.column]
        rows = tuple((float(r[0]), float(r[1]), float(r[2])) for r in turn)
        return AxlePose((float(at[0]), float(at[1]), float(at[2])), rows)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self.theme
        if t is None:
            return
        with QPainter(self) as p:
            p.fillRect(self.rect(), t.sheet)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            if self.travel is None:
                return
            p.setOpacity(0.35 if self.old else 1.0)
            rig, layout, project = self._workspace.rig, self.travel.layout, self._workspace.project
            ride, pose, panes = ride_pose_of(rig, layout.end), self.pose(), self.drawn.panes()
            donor, plan = project.donor(layout.end), project.plan(layout.end)
            p.drawPixmap(0, 0, self._standing(t, self.travel))
            for view in VIEWS:
                p.save()
                p.setClipRect(panes[view])
                shapes: list[Shape] = []
                if pose is not None:
                    front = layout.end == "front"
                    turned = front and (view == "plan" or abs(self.steer) > 1e-3)
                    shapes += [
                        s
                        for s in axle_shapes(rig, layout, view, pose, donor, plan)
                        if not (turned and s.role == "tyre")
                    ]
                    if turned:
                        shapes += steered_tyre_shapes(rig, layout, donor, self.travel.steer, view, pose, self.steer)
                    shapes += driveshaft_shapes(rig, layout, donor, plan, view, pose)
                    for line, link in zip(link_shapes(layout, view, pose, ride.centre), layout.links, strict=True):
                        shapes.append(
                            line if link.name not in self.marked else Line(line.points, "load_push", width=0.0)
                        )
                        if link.name in self.marked:
                            shapes.append(line)
                            shapes.append(Line(line.points, "load_push"))
                    if self.travel.steer is not None:
                        shapes += steering_pose_shapes(self.travel.steer, layout, view, pose, ride.centre, self.steer)
                    shapes += strut_shapes(layout, view, pose, ride.centre)
                    shapes += hung_shapes(layout, view, pose, ride.centre)
                    if self.travel.leaf is not None:
                        shapes += self._leaves(self.travel, self.travel.leaf, view)
                frame, notes = self.drawn.frame_of(view), list[Note]()
                paint(p, shapes, frame, t, notes)
                boxes = self._paint_handles(p, t, view)
                pane_title(p, t, panes[view], self.title_of(view))
                if not self.drawn.is_small(view) and not self.old:
                    tags = [*self._near_tags(p, t, view), *self._joint_tags(t, view), *notes_as_tags(notes, frame, t)]
                    title = QRectF(panes[view].right() - 130, panes[view].top(), 130, 24)
                    paint_tags(p, t, tags, panes[view].adjusted(3, 3, -3, -3), [*boxes, title])
                if pose is None:
                    p.setPen(t.torch)
                    p.drawText(panes[view], Qt.AlignmentFlag.AlignCenter, "Links or springs end before this.")
                p.restore()
            self.paint_borders(p, t)

    def _near_tags(self, p: QPainter, t: Theme, view: ViewName) -> list[Tag]:
        """Least distances of what is too near here, as lines with their numbers."""
        frame = self.drawn.frame_of(view)
        return [
            gap_tag(p, t, frame.at(flatten(one.a, view)), frame.at(flatten(one.b, view)), one.gap, words, k)
            for k, (one, words) in enumerate(self.near()[1])
        ]

    def _joint_tags(self, t: Theme, view: ViewName) -> list[Tag]:
        """The driveshaft's joints with the angle they stand at."""
        travel, posed = self.travel, self.near()[0]
        shaft = None if travel is None else travel.shaft
        if shaft is None or posed is None:
            return []
        frame, (i, j) = self.drawn.frame_of(view), (self.row, self.column)
        joints = [(shaft.output, shaft.first[i, j]), (tuple(shaft.joint[i, j]), shaft.second[i, j])]
        if shaft.middle is not None:
            joints.append((shaft.turns_at, shaft.middle[i, j]))
        return [
            Tag(frame.at(flatten(at, view)), show(float(angle), "angle", self._workspace.unit), t.quiet)
            for at, angle in joints
            if math.isfinite(angle)
        ]

    def near(self) -> tuple[Posed | None, NearWords]:
        """The axle where it stands, and what is too near there."""
        t, project = self.travel, self._workspace.project
        key = (t, project, self.row, self.column, self.steer)
        if self._near is None or any(a is not b and a != b for a, b in zip(key, self._near[0], strict=True)):
            posed = None if t is None else self._workspace.study.posed_in(t, self.row, self.column, self.steer)
            self._near = (key, posed, self.near_at(posed, t, self.row, self.column))
        return self._near[1], self._near[2]

    def fly(self) -> None:
        """Have what is nearest at this pose in the middle of the round view, where that is large."""
        near = self.near()[1]
        if near and self.drawn.large == "round":
            a, b = near[0][0].a, near[0][0].b
            self.round.fly_to((0.5 * (a[0] + b[0]), 0.5 * (a[1] + b[1]), 0.5 * (a[2] + b[2])))

    def round_key(self) -> tuple[object, ...]:
        """What the round view's bodies rest on."""
        return (self._workspace.project, self._workspace.end, self.travel, self.row, self.column, self.steer)

    def round_bodies(self) -> tuple[Sequence[Posed], NearWords]:
        """Both axles, the one in work at the pose shown."""
        others = self.others_at_ride(self._workspace.end)
        posed, near = self.near()
        return others if posed is None else (posed, *others), near

    def round_pivots(self) -> tuple[Mapping[Pivot, Point], Pivot | None]:
        """The pivots of the links."""
        return self.handles(), None

    def _standing(self, t: Theme, travel: AxleTravel) -> QPixmap:
        """What does not move (ground, frame, solids, links at ride), painted once for as long as it and the place of
        the views stay.
        """
        project, layout, ratio = self._workspace.project, travel.layout, self.devicePixelRatioF()
        whole = (project.tape.surveys, placed_solids(project), self._workspace.rig, layout, t)
        place = (ratio, self.drawn.place, self.under.stamp())
        if (
            self._ground is not None
            and all(a is b for a, b in zip(self._ground[0], whole, strict=True))
            and self._ground[1] == place
        ):
            return self._ground[2]
        out = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
        out.setDevicePixelRatio(ratio)
        out.fill(t.sheet)
        with QPainter(out) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            ride = ride_pose_of(self._workspace.rig, layout.end)
            for view, pane in self.drawn.panes().items():
                p.setClipRect(pane)
                self.under.paint(p, self.drawn.frame_of(view), view)
                shapes: list[Shape] = [Line(((-20.0, 0.0), (20.0, 0.0)), "ground" if view != "plan" else "centreline")]
                shapes += surveyed_shapes(project, view)
                shapes += [Line(one.points, "ghost") for one in link_shapes(layout, view, ride, ride.centre)]
                paint(p, shapes, self.drawn.frame_of(view), t)
        self._ground = (whole, place, out)
        return out

    def _leaves(self, travel: AxleTravel, leaf: LeafAxle, view: ViewName) -> list[Shape]:
        """Both springs where the axle stands, ride dashed."""
        heave, lift = (
            float(travel.grid.heave[self.column]),
            0.5 * leaf.leaf.spacing_m * math.sin(float(travel.grid.roll[self.row])),
        )
        ride = leaf_pose_shapes(leaf, view, (0.0, 0.0), None, "ghost")
        return ride + leaf_pose_shapes(
            leaf, view, (heave + lift, heave - lift), leaf.halves.nose_down_per_bump * heave, "leaf"
        )

    # Hands

    def handles(self) -> dict[Pivot, Point]:
        """Pivots of the layout in work where they stand at the pose shown."""
        t, pose = self.travel, self.pose()
        layout = self._workspace.project.layout(self._workspace.end)
        if t is None or pose is None or layout is None or layout.id != t.layout.id:
            return {}
        out: dict[Pivot, Point] = {}
        for link in layout.links:
            out[(link.id, "frame")] = link.frame_pivot_m
            out[(link.id, "axle")] = pose.carry(link.axle_pivot_m, t.grid.centre)
        if self._hand is not None:
            out[self._hand[0]] = self._hand[1]
        return out

    def _paint_handles(self, p: QPainter, t: Theme, view: ViewName) -> list[QRectF]:
        p.setBrush(t.sheet)
        out, part = [], 0.6 if self.drawn.is_small(view) else 1.0
        for pivot, at in self.handles().items():
            held = self._grabbed is not None and self._grabbed[0] == pivot
            p.setPen(QPen(t.dye if held else t.soap, 2.0 if held else 1.2))
            size = (6.0 if held else 4.0) * part
            middle = self.drawn.frame_of(view).at(flatten(at, view))
            p.drawEllipse(middle, size, size)
            out.append(QRectF(middle.x() - size, middle.y() - size, 2 * size, 2 * size))
        return out

    def pivot_near(self, at: QPointF) -> tuple[Pivot, ViewName] | None:
        """The pivot under a pixel."""
        view = self.view_at(at)
        if view is None:
            return None
        frame = self.drawn.frame_of(view)
        far = {}
        for pivot, point in self.handles().items():
            gap = frame.at(flatten(point, view)) - at
            far[pivot] = math.hypot(gap.x(), gap.y())
        best = min(far, key=lambda k: far[k], default=None)
        return None if best is None or far[best] > HIT else (best, view)

    def _drag_pivot(self, at: QPointF) -> None:
        """Put the pivot in hand where the pointer is; an axle pivot is taken back to ride height with the axle."""
        t, pose = self.travel, self.pose()
        layout = self._workspace.project.layout(self._workspace.end)
        if self._grabbed is None or t is None or pose is None or layout is None:
            return
        pivot, view, gesture = self._grabbed
        to = list(self.handles()[pivot])
        flat = self.drawn.frame_of(view).back(at)
        for axis, value in zip(AXES[view], (SIGN[view] * flat[0], flat[1]), strict=True):
            to[axis] = value
        self._put(layout, pivot, (to[0], to[1], to[2]), gesture)

    def _put(self, layout: Layout, pivot: Pivot, to: Point, gesture: str) -> None:
        """Have a pivot at a point of the pose shown."""
        t, pose = self.travel, self.pose()
        assert t is not None
        assert pose is not None
        self._hand = (pivot, to)
        ride = np.array(to)
        if pivot[1] == "axle":
            turn = np.array(pose.turn)
            ride = np.array(t.grid.centre) + turn.T @ (ride - np.array(pose.centre))
        x, y, z = (round(float(v), 5) for v in ride)
        self._workspace.do(move(layout, pivot, (x, y, z), gesture))
        self.redraw()

    def _drag_round(self, pivot: Pivot, to: Point) -> None:
        """A pivot is dragged in the round: in the plane that was chosen."""
        layout = self._workspace.project.layout(self._workspace.end)
        if layout is None or self.travel is None or self.pose() is None or pivot not in self.handles():
            return
        if not self._round_gesture:
            self._round_gesture = f"travel drag {next(_gesture)}"
            self._workspace.dragging = True
        self._put(layout, pivot, to, self._round_gesture)

    def _let_go(self) -> None:
        """A pivot is in the hand no more."""
        self._grabbed = self._hand = None
        self._round_gesture = ""
        self._workspace.dragging = False
        self._workspace.session.end_gesture()
        if self.theme is not None:
            self.refresh_round(self.theme)
        self.redraw()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        t = self.travel
        if event is None or t is None:
            return
        self.setFocus()
        at = event.position()
        found = self.pivot_near(at)
        if found is not None and event.button() == Qt.MouseButton.LeftButton:
            self._grabbed = (*found, f"travel drag {next(_gesture)}")
            self._workspace.dragging = True
            self.redraw()
            return
        view = self.view_at(at)
        moves = event.button() == Qt.MouseButton.MiddleButton or event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        if view is not None and (moves or view == "plan"):
            self._pan = (view, at)
            return
        if view not in ("side", "rear"):
            return
        side = 0.0
        if view == "rear":
            across = self.drawn.frame_of("rear").back(at)[0]
            half = 0.5 * self._workspace.rig.end(t.layout.end).track_m
            side = 0.0 if abs(across) < 0.45 * half else -math.copysign(half, across)
        self._held = (view, side, self.row, self.column, at.y())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._grabbed is not None:
            self._drag_pivot(event.position())
            return
        if event is not None and self._pan is not None:
            view, before = self._pan
            self._pan = (view, event.position())
            self.drawn.shift(view, event.position() - before)
            self.redraw()
            return
        if event is not None and self._held is None:
            over = self.pivot_near(event.position()) is not None
            self.setCursor(Qt.CursorShape.SizeAllCursor if over else Qt.CursorShape.ArrowCursor)
        if event is None or self._held is None or self.travel is None:
            return
        view, side, row, column, start = self._held
        up = (start - event.position().y()) / self.frame_of(view).scale
        g = self.travel.grid
        if side == 0.0:
            column = int(np.argmin(np.abs(g.heave - (g.heave[column] + up))))
        else:
            row = int(np.argmin(np.abs(np.sin(g.roll) - (math.sin(g.roll[row]) + up / side))))
        self.moved.emit(row, column)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._held = self._pan = None
        if self._grabbed is not None:
            self._let_go()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0)}
        step = None if event is None else steps.get(Qt.Key(event.key()))
        if event is None or step is None or self.travel is None:
            super().keyPressEvent(event)
            return
        many = 5 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        rows, columns = self.travel.grid.reached.shape
        self.moved.emit(
            min(rows - 1, max(0, self.row + step[0] * many)), min(columns - 1, max(0, self.column + step[1] * many))
        )

    def spot(self, view: ViewName, across: float) -> QPointF | None:
        """Pixel of a place on the axle, ``across`` m left of its middle, as it stands now."""
        pose = self.pose()
        if self.travel is None or pose is None:
            return None
        centre = self.travel.grid.centre
        return self.drawn.frame_of(view).at(flatten(pose.carry((centre[0], across, centre[2]), centre), view))
