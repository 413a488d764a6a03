"""The survey drawn as it is typed: side view over plan, ground and tyres, frame, solids, and the readings that look
wrong.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.lettering import words
from stoutlink.app.canvas.painting import Frame, paint
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.photo_under import PhotoUnder
from stoutlink.core.analysis.survey.survey_points import Placed, place_point
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.survey import Survey, SurveyPoint
from stoutlink.core.drawing.rig_views import rig_plan
from stoutlink.core.drawing.shapes import Line, Oval, Shape, ViewName
from stoutlink.core.drawing.survey_views import point_marks, rail_shapes, solid_middle, solid_shapes

VIEWS: tuple[ViewName, ...] = ("side", "plan")

AROUND = 0.2
"""Room kept around the survey and what is in the way, m."""
FARTHEST = 2.0
"""What stands farther off than this, m, is not brought into view: the rig would be a dot beside it."""


class TapeView(QWidget):
    """``picked`` a point's id, ``picked_solid`` a solid's."""

    picked = pyqtSignal(str)
    picked_solid = pyqtSignal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("tape_view")
        self.setAccessibleName("Survey in side view and plan")
        self.setMinimumHeight(240)
        self.setMouseTracking(True)
        self._workspace = workspace
        self.under = PhotoUnder(workspace, self)
        """Photos under the views."""
        self.under.ready.connect(self.update)
        self._theme: Theme | None = None
        self.survey_id: str | None = None
        self.selected: str | None = None
        self.selected_solid: str | None = None
        self._preview: SurveyPoint | None = None
        self._zoom, self._pan = 1.0, QPointF(0, 0)
        self._drag: QPointF | None = None
        self._kept: tuple[object, QPixmap] | None = None

    # What is shown

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        self.update()

    def preview(self, point: SurveyPoint | None) -> None:
        """Show a point as it is being typed, before it is taken."""
        if point != self._preview:
            self._preview = point
            self.update()

    def survey(self) -> Survey | None:
        """The survey being worked on."""
        return self._workspace.project.survey(self.survey_id) if self.survey_id else None

    def placed(self) -> tuple[Placed, ...]:
        """Its points in vehicle axes."""
        return self._workspace.study.placed(self.survey_id) if self.survey_id else ()

    def frames(self) -> dict[ViewName, Frame]:
        """One scale and one station line for both views."""
        rig = self._workspace.project.rig
        w, h = float(self.width()), float(self.height())
        low, high, top = -rig.rear.free - 0.35, rig.wheelbase_m + rig.front.free + 0.35, 1.25
        for one in self.placed():
            low, high = min(low, one.x - AROUND), max(high, one.x + AROUND)
            top = max(top, one.z + AROUND if math.isfinite(one.z or 0.0) else top) if one.z is not None else top
        near = low - FARTHEST, high + FARTHEST, top + FARTHEST
        for (rear, _, _), (front, _, over) in self._workspace.study.solid_boxes():
            if near[0] <= rear and front <= near[1] and over <= near[2]:
                low, high, top = min(low, rear - AROUND), max(high, front + AROUND), max(top, over + AROUND)
        tall = top + max(rig.front.track_m, rig.rear.track_m) + 0.45
        scale = min(w / (high - low), (h - 50) / tall)
        left = (w - (high - low) * scale) / 2 - low * scale
        ground = 16 + top * scale
        plan = ground + 26 + (max(rig.front.track_m, rig.rear.track_m) / 2 + 0.2) * scale
        out: dict[ViewName, Frame] = {}
        for view, y in (("side", ground), ("plan", plan)):
            middle = QPointF(w / 2, h / 2)
            origin = middle + (QPointF(left, y) - middle) * self._zoom + self._pan
            out[view] = Frame(origin, scale * self._zoom)  # type: ignore[index]
        return out

    def fit(self) -> None:
        """Bring everything back into view."""
        self._zoom, self._pan = 1.0, QPointF(0, 0)
        self.update()

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t = self._theme
        if t is None:
            return
        with QPainter(self) as p:
            p.drawPixmap(0, 0, self._backdrop(t))
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            survey = self.survey()
            placed = self.placed()
            frames = self.frames()
            chosen = next((i for i, one in enumerate(placed) if one.point.id == self.selected), None)
            shown = placed[chosen] if chosen is not None else None
            if self._preview is not None and survey is not None:
                live = place_point(self._preview, survey.datum, self._workspace.project.rig.wheelbase_m, survey.id)
                if live is not None:
                    self._live(p, t, frames, placed, live)
                    shown = live
            if shown is not None:
                for view in VIEWS:
                    for at, _ in point_marks((shown,), view):
                        c = frames[view].at(at)
                        p.setPen(QPen(t.dye, 2))
                        p.setBrush(Qt.BrushStyle.NoBrush)
                        p.drawRect(QRectF(c.x() - 6, c.y() - 6, 12, 12))
                x = frames["side"].at((shown.x, 0.0)).x()
                p.setPen(QPen(t.dye, 1, Qt.PenStyle.DotLine))
                p.drawLine(QPointF(x, 0), QPointF(x, self.height()))

    def _live(
        self, p: QPainter, t: Theme, frames: dict[ViewName, Frame], placed: Sequence[Placed], live: Placed
    ) -> None:
        """The point being typed, with lines to the neighbours it would have."""
        others = sorted(
            (q for q in placed if q.point.id != live.point.id and q.point.kind == "rail" and q.z is not None),
            key=lambda q: q.x,
        )
        before = next((q for q in reversed(others) if q.x <= live.x), None)
        after = next((q for q in others if q.x > live.x), None)
        run = [q for q in (before, live, after) if q is not None]
        p.setPen(QPen(t.dye, 1.6))
        for view in VIEWS:
            for side in range(2):
                line = []
                for q in run:
                    marks = [at for at, _ in point_marks((q,), view)]
                    if marks and (view == "plan" or q.z is not None):
                        line.append(frames[view].at(marks[min(side, len(marks) - 1)]))
                if len(line) > 1:
                    p.drawPolyline(QPolygonF(line))
                if view == "side":
                    break

    def _backdrop(self, t: Theme) -> QPixmap:
        """Everything but the point in hand; painted once until something changes."""
        project = self._workspace.project
        key = (
            t,
            project.rig,
            project.tape.surveys,
            placed_solids(project),
            self.survey_id,
            self.selected_solid,
            self.size(),
            self._zoom,
            self._pan.x(),
            self._pan.y(),
            self._workspace.study.findings_so_far,
            *self.under.stamp(),
            self.devicePixelRatioF(),
        )
        if self._kept is not None and self._same(self._kept[0], key):
            return self._kept[1]
        sheet = QPixmap(self.size() * self.devicePixelRatioF())
        sheet.setDevicePixelRatio(self.devicePixelRatioF())
        sheet.fill(t.sheet)
        with QPainter(sheet) as p:
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint_all(p, t)
        self._kept = (key, sheet)
        return sheet

    @staticmethod
    def _same(a: object, b: object) -> bool:
        assert isinstance(a, tuple)
        assert isinstance(b, tuple)
        return len(a) == len(b) and all(
            x is y or (not isinstance(x, tuple) and x == y) for x, y in zip(a, b, strict=True)
        )

    def _paint_all(self, p: QPainter, t: Theme) -> None:
        project, frames = self._workspace.project, self.frames()
        rig = project.rig
        for view in VIEWS:
            self.under.paint(p, frames[view], view)
        ground: list[Shape] = [Line(((-30.0, 0.0), (30.0, 0.0)), "ground")]
        for x, end in ((0.0, rig.rear), (rig.wheelbase_m, rig.front)):
            ground += [Oval((x, end.loaded), (r, r), "tyre") for r in (end.free, 0.55 * end.free)]
            ground.append(Oval((x, end.loaded), (0.06, 0.06), "axle"))
        paint(p, ground, frames["side"], t)
        paint(p, rig_plan(rig), frames["plan"], t)
        for view in VIEWS:
            for solid in placed_solids(project):
                shapes = solid_shapes(solid, view)
                paint(p, shapes, frames[view], t)
                if solid.id == self.selected_solid:
                    p.setPen(QPen(t.dye, 2))
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    for shape in shapes:
                        if isinstance(shape, Line):
                            p.drawPolygon(QPolygonF([frames[view].at(v) for v in shape.points]))
            for survey in project.tape.surveys:
                own = survey.id == self.survey_id
                placed = self._workspace.study.placed(survey.id)
                shapes = rail_shapes(placed, view)
                p.setOpacity(1.0 if own else 0.4)
                paint(p, shapes, frames[view], t)
                self._marks(p, t, frames[view], placed, view)
                p.setOpacity(1.0)
        self._names(p, t, frames)
        self._tape(p, t, frames["side"])
        p.setPen(t.quiet)
        p.setFont(font(9))
        p.drawText(QRectF(0, 4, self.width() - 8, 16), Qt.AlignmentFlag.AlignRight, "Side, from the right")
        p.drawText(
            QRectF(
                0, frames["plan"].at((0.0, 0.75 * max(rig.front.track_m, rig.rear.track_m))).y(), self.width() - 8, 16
            ),
            Qt.AlignmentFlag.AlignRight,
            "Plan",
        )
        if not any(s.points for s in project.tape.surveys):
            f = frames["side"]
            left, right = (
                f.at((rig.rear.free + 0.06, 0.0)).x(),
                f.at((rig.wheelbase_m - rig.front.free - 0.06, 0.0)).x(),
            )
            box = QRectF(left, f.origin.y() - 0.95 * f.scale, right - left, 110)
            words(
                p,
                t,
                box,
                "Lay the tape on the floor, then type below: station, Enter, height, Enter, width, Enter. The frame draws itself here.",
                size=10,
                centre=True,
            )

    def _marks(self, p: QPainter, t: Theme, f: Frame, placed: Sequence[Placed], view: ViewName) -> None:
        """Small squares for readings, batched; wrong ones as a triangle."""
        wrong = self.suspects()
        squares: list[QPointF] = []
        bad: list[QPointF] = []
        for at, i in point_marks(placed, view):
            c = f.at(at)
            (bad if (placed[i].survey, placed[i].point.id) in wrong else squares).append(c)
        p.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        p.setPen(QPen(t.brass, 1))
        p.setBrush(t.sheet)
        size = 2.5 if len(squares) < 200 else 1.5
        if squares:
            p.drawRects(*(QRectF(c.x() - size, c.y() - size, 2 * size, 2 * size) for c in squares))
        p.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        p.setPen(QPen(t.torch, 1.5))
        p.setBrush(t.torch)
        for c in bad:
            p.drawPolygon(QPolygonF([c + QPointF(0, -8), c + QPointF(7, 6), c + QPointF(-7, 6)]))

    def suspects(self) -> set[tuple[str, str]]:
        """(survey, point) of readings with an open finding that is not just a note."""
        out = set()
        for one in self._workspace.study.open_so_far:
            if one.step == "tape" and one.severity != "note" and one.subject.count("/") >= 2:
                survey, points, _ = one.subject.split("/", 2)
                out |= {(survey, point) for point in points.split("+")}
        return out

    def _names(self, p: QPainter, t: Theme, frames: dict[ViewName, Frame]) -> None:
        p.setFont(font(8))
        taken: list[QRectF] = []
        places = [
            (frames["side"].at((one.x, one.z)), one.point.name)
            for one in self.placed()
            if one.point.name.strip() and one.z is not None
        ][:60]
        for solid in placed_solids(self._workspace.project):
            m = solid_middle(solid)
            places.append((frames["plan"].at((m[0], m[1])) + QPointF(0, 22), solid.name))
        for c, name in places:
            text = p.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, 108)
            wide = p.fontMetrics().horizontalAdvance(text) + 6
            for up in (24, 38, 52, -10, -24):
                box = QRectF(c.x() - wide / 2, c.y() - up, wide, 13)
                if not any(box.intersects(other) for other in taken):
                    taken.append(box)
                    p.fillRect(box, t.sheet)
                    p.setPen(t.quiet)
                    p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
                    break

    def _tape(self, p: QPainter, t: Theme, f: Frame) -> None:
        """The tape on the floor, with its zero and the way its stations grow."""
        survey = self.survey()
        if survey is None:
            return
        zero = survey.datum.zero_x_m
        sign = 1.0 if survey.datum.direction == "forward" else -1.0
        a = f.at((zero, 0.0)) + QPointF(0, 7)
        b = f.at((zero + sign * 3.0, 0.0)) + QPointF(0, 7)
        p.setPen(QPen(t.brass, 3))
        p.drawLine(a, b)
        p.setPen(QPen(t.brass, 1))
        step = 0.3048 if self._workspace.unit == "in" else 0.25
        for i in range(11):
            x = f.at((zero + sign * i * step, 0.0)).x()
            p.drawLine(QPointF(x, a.y() - 3), QPointF(x, a.y() + 5))
        words(
            p, t, QRectF(a.x() - 60, a.y() + 5, 120, 14), "0 ▸" if sign > 0 else "◂ 0", size=8.5, bold=True, centre=True
        )

    # Hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        here = event.position()
        frames, placed = self.frames(), self.placed()
        near = [
            (math.hypot(c.x() - here.x(), c.y() - here.y()), placed[i].point.id)
            for view in VIEWS
            for at, i in point_marks(placed, view)
            for c in (frames[view].at(at),)
        ]
        best = min(near, default=(99.0, ""))
        if best[0] < 12:
            self.picked.emit(best[1])
            return
        for view in VIEWS:
            u, v = frames[view].back(here)
            for solid in reversed(placed_solids(self._workspace.project)):
                for shape in solid_shapes(solid, view):
                    if isinstance(shape, Line) and _inside(shape, u, v):
                        self.picked_solid.emit(solid.id)
                        return
        self._drag = here

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._drag is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._pan += event.position() - self._drag
            self._drag = event.position()
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._drag = None

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None:
            return
        factor = 1.0015 ** event.angleDelta().y()
        new = max(0.4, min(20.0, self._zoom * factor))
        middle = QPointF(self.width() / 2, self.height() / 2)
        about = event.position() - middle - self._pan
        self._pan -= about * (new / self._zoom - 1.0)
        self._zoom = new
        self.update()


def _inside(shape: Line, u: float, v: float) -> bool:
    """Whether a view point lies on a shape."""
    if shape.width > 0 and len(shape.points) == 2:
        (ax, ay), (bx, by) = shape.points
        length = (bx - ax) ** 2 + (by - ay) ** 2
        part = 0.0 if length == 0 else max(0.0, min(1.0, ((u - ax) * (bx - ax) + (v - ay) * (by - ay)) / length))
        return math.hypot(u - ax - part * (bx - ax), v - ay - part * (by - ay)) <= shape.width / 2
    polygon = QPolygonF([QPointF(a, b) for a, b in shape.points])
    return polygon.containsPoint(QPointF(u, v), Qt.FillRule.OddEvenFill)
