"""The test hill: the rig over a profile, slowly; what each tyre carries and grips, beside the settings of a run."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF, QSignalBlocker, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QWidget

from stoutlink.app.canvas.plot import Plot
from stoutlink.app.desk.theme import Theme
from stoutlink.app.steps.log.desk import LogDesk
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.log_words import HILL_CAUTION, hill_lines, hill_name
from stoutlink.core.analysis.log.hill import WHEELS, HillFound
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.log import HILL_WORDS, HillPoint
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.quantity.shown import show

Array = NDArray[np.float64]
GROUPS = (
    ("hill", "Profile", "What is driven over, and against which run's settings."),
    ("points", "Own points", "A profile of your own: along, and the height under either side's wheels."),
)
SIZES = {
    "ledge": ("high_m", "skew_m"), "steps": ("high_m", "long_m", "count", "skew_m"), "grade": ("slope_rad", "long_m"),
    "side": ("slope_rad", "long_m"), "ditch": ("high_m", "slope_rad", "skew_m"), "own": (),
}  # fmt: skip
WORDS = {
    "high_m": "height",
    "long_m": "length",
    "count": "steps",
    "skew_m": "right side later by",
    "slope_rad": "slope",
}
STEPS = 20_000


class HillLook(WorkingLook):
    """The slider goes along the hill."""

    def __init__(self, desk: LogDesk, parent: QWidget | None = None) -> None:
        super().__init__(
            desk.workspace, "hill", "Test hill", GROUPS, "The rig on the hill", parent, columns=5, wide=104
        )
        self.desk = desk
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 14, 0)
        self.slider = QSlider(Qt.Orientation.Horizontal, self)
        self.slider.setObjectName("hill_at")
        self.slider.setAccessibleName("Where on the hill")
        self.slider.setToolTip("Where on the hill the rig stands; arrow keys go a little.")
        self.slider.setRange(0, STEPS)
        self.slider.setPageStep(1000)
        self.slider.setSingleStep(80)
        self.slider.setValue(STEPS // 2)
        self.slider.valueChanged.connect(lambda _: self.picture.update())
        row.addWidget(self.slider)
        self.body.addLayout(row)
        self.add = self.small("add_hill_point", "One more point", "A point of your own profile, a metre on.", self._add)
        self.gone = self.small("remove_hill_point", "Remove the last", "Take the last point away.", self._remove)
        self.foot.addStretch(1)
        self.mine: HillFound | str | None = None
        self.other: HillFound | str | None = None
        self.ready = True
        self._shown: HillFound | None = None

    def prepare(self) -> None:
        hill = self.workspace.project.log.hill
        self.ready, self.mine, self.other = self.desk.hill()
        own = hill.kind == "own"
        self.add.setVisible(own)
        self.gone.setVisible(own and bool(hill.points))
        found = self.mine if isinstance(self.mine, HillFound) else None
        self.slider.setVisible(found is not None)
        if found is not None and found is not self._shown:
            self._shown = found
            with QSignalBlocker(self.slider):
                self.slider.setValue(self._place(found, found.needs_at))
        name = hill_name(hill, self.workspace.unit).capitalize()
        if not self.ready:
            self.show_frame(f"{name}: driving over it…", "")
        elif isinstance(self.mine, str):
            self.show_frame(self.mine, "")
        elif found is None:
            self.show_frame("Nothing to drive yet.", self.desk.why)
        else:
            said = "goes over it" if found.over else "does not go over it"
            self.show_frame(f"{name}: {said}; most grip used {found.needs:.2f} of {found.friction:.2f}, {found.needs_wheel}.", " ".join(line for line in hill_lines(found, self.workspace.unit) if line.startswith("▲")))  # fmt: skip

    @staticmethod
    def _place(found: HillFound, at: float) -> int:
        first, last = float(found.run.at[0]), float(found.run.at[-1])
        return STEPS // 2 if math.isnan(at) else round(STEPS * (at - first) / max(1e-9, last - first))

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        log = self.workspace.project.log
        hill = log.hill
        if self.group == "points":
            return [Entry(f"log.hill.points.{x.id}.{key}", f"{n}: {word}") for n, x in enumerate(hill.points, 1) for key, word in (("along_m", "along"), ("left_m", "left"), ("right_m", "right"))][:45]  # fmt: skip
        runs = (("", "alone"), *((r.id, r.name) for r in log.runs))
        if hill.against and all(hill.against != key for key, _ in runs):
            runs = (*runs, (hill.against, f"{hill.against} (gone)"))
        sizes = [Entry(f"log.hill.{key}", WORDS[key]) for key in SIZES[hill.kind]]
        return [Entry("log.hill.kind", "profile", "choice", tuple(HILL_WORDS.items())), *sizes, Entry("log.hill.against", "beside run", "choice", runs), Entry("choosing.friction", "grip there is")]  # fmt: skip

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        self.show_group("points" if ".points." in path else "hill")

    def _add(self) -> None:
        points = self.workspace.project.log.hill.points
        last = points[-1] if points else None
        key = free_id("point-", (x.id for x in points))
        new = HillPoint(id=key, along_m=0.0 if last is None else last.along_m + 1.0, left_m=0.0 if last is None else last.left_m, right_m=0.0 if last is None else last.right_m)  # fmt: skip
        if self.workspace.do(PutInList("log.hill.points", new, "One more point")):
            self.show_group("points")

    def _remove(self) -> None:
        points = self.workspace.project.log.hill.points
        if points:
            self.workspace.do(TakeFromList("log.hill.points", (points[-1].id,), "Remove a point"))

    def go_to(self, at: float) -> None:
        """Stand at a place along, m."""
        if isinstance(self.mine, HillFound):
            self.slider.setValue(self._place(self.mine, at))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The rig on the hill, from the side and from behind; below, grip and load over the way."""
        if not isinstance(self.mine, HillFound):
            return
        w, found = float(picture.width()), self.mine
        other = self.other if isinstance(self.other, HillFound) else None
        run = found.run
        at = float(run.at[0]) + self.slider.value() / STEPS * float(run.at[-1] - run.at[0])
        scene = QRectF(14, 4, 0.72 * w - 20, 250)
        self._side(p, t, scene, found, other, at)
        self._rear(p, t, QRectF(0.72 * w, 4, 0.28 * w - 14, 150), found, at)
        self._wheels(p, t, QRectF(0.72 * w, 160, 0.28 * w - 14, 96), found, at)
        graph = QRectF(54, 278, w - 70, 120)
        self._graph(p, t, picture, graph, found, other, at)
        y = graph.bottom() + 20
        lines = list(hill_lines(found, self.workspace.unit))
        if other is not None:
            run_name = next(
                (r.name for r in self.workspace.project.log.runs if r.id == self.workspace.project.log.hill.against), ""
            )
            lines.append(
                f"Beside it, as in {run_name}: most grip used {other.needs:.2f} at the {other.needs_wheel} tyre, {'goes over' if other.over else 'does not go over'}."
            )
        elif isinstance(self.other, str):
            lines.append(f"Beside it: {self.other}")
        half = (len(lines) + 1) // 2
        tops = []
        for n, part in enumerate((lines[:half], lines[half:])):
            z = y
            for line in part:
                z += (
                    flow(
                        p,
                        QRectF(14 + n * 0.5 * w, z, 0.5 * w - 24, 60),
                        line,
                        t.torch if line.startswith("▲") else t.text,
                        size=9,
                    )
                    + 2
                )
            tops.append(z)
        y = max(tops) + 2
        y += flow(p, QRectF(14, y, w - 28, 40), HILL_CAUTION, t.quiet, size=8.5) + 8
        self.tall(y)

    def _side(self, p: QPainter, t: Theme, box: QRectF, found: HillFound, other: HillFound | None, at: float) -> None:
        run = found.run
        rig = run.rig
        k = int(np.abs(run.at - at).argmin())
        x0 = float(run.origin[k, 0]) + 0.5 * rig.front.station
        span = rig.front.station + 2.6
        scale = min(box.width() / span, box.height() / (0.62 * span))
        level = float(np.interp(x0, *np.array(found.left).T))

        def to(x: float, z: float) -> QPointF:
            return QPointF(
                box.center().x() + (x - x0) * scale, box.bottom() - 0.30 * box.height() - (z - level) * scale
            )

        p.save()
        p.setClipRect(box)
        for profile, pen in ((found.right, QPen(t.faint, 1.6, Qt.PenStyle.DashLine)), (found.left, QPen(t.soap, 2.2))):
            points = [(x0 - 9.0, profile[0][1]), *profile, (max(x0, profile[-1][0]) + 9.0, profile[-1][1])]
            p.setPen(pen)
            p.drawPolyline(QPolygonF([to(x, z) for x, z in points]))
        if other is not None:
            self._rig(p, t, to, other, int(np.abs(other.run.at - at).argmin()), hollow=True)
        self._rig(p, t, to, found, k, hollow=False)
        p.restore()
        name = show(float(run.at[k]), "length", self.workspace.unit)
        words = f"at {name}: nose {'up' if run.pitch[k] >= 0 else 'down'} {abs(math.degrees(run.pitch[k])):.1f}°, leans {abs(math.degrees(run.roll[k])):.1f}°"
        if run.tips[k]:
            words = f"▲ {words}: tips here"
        elif not run.rests[k]:
            words = f"{words}: no rest here, it moves on"
        text(
            p,
            QRectF(box.left(), box.top(), box.width(), 18),
            words,
            t.torch if run.tips[k] else t.text,
            size=10,
            bold=True,
        )

    def _rig(self, p: QPainter, t: Theme, to: object, found: HillFound, k: int, *, hollow: bool) -> None:
        run, rig = found.run, found.run.rig
        place = to
        assert callable(place)
        pen = QPen(
            t.faint if hollow else t.dye,
            1.2 if hollow else 2.0,
            Qt.PenStyle.DashLine if hollow else Qt.PenStyle.SolidLine,
        )
        for i in (1, 3, 0, 2):  # the right side first: it is farther away
            a = rig.front if i < 2 else rig.rear
            hub = place(float(run.hub_along[k, i]), float(run.hub_high[k, i]))
            one = place(float(run.hub_along[k, i]) + a.radius, float(run.hub_high[k, i]))
            r = abs(one.x() - hub.x())
            near = i in (0, 2)
            p.setPen(pen if near or hollow else QPen(t.faint, 1.2))
            p.setBrush(Qt.BrushStyle.NoBrush if hollow or not near else t.tyre)
            if hollow and not near:
                continue
            p.drawEllipse(hub, r, r)
            if not hollow:
                self._push(p, t, place, found, k, i)
        corners = []
        for x, z in (
            (-0.75, 0.62),
            (-0.75, 0.95),
            (0.9, 0.95),
            (1.35, 1.55),
            (2.0, 1.55),
            (2.35, 1.05),
            (rig.front.station + 0.65, 1.0),
            (rig.front.station + 0.65, 0.62),
        ):
            origin, c, s = run.origin[k], math.cos(run.pitch[k]), math.sin(run.pitch[k])
            corners.append(place(float(origin[0]) + x * c - z * s, float(origin[1]) + x * s + z * c))
        p.setPen(pen)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon(QPolygonF(corners))
        if hollow:
            return
        gx, gz = (float(v[k]) for v in run.body_point(rig.ahead, rig.left, rig.high))
        p.setPen(QPen(t.brass, 2))
        at = place(gx, gz)
        p.drawEllipse(at, 5, 5)
        p.drawLine(at + QPointF(-8, 0), at + QPointF(8, 0))
        p.drawLine(at + QPointF(0, -8), at + QPointF(0, 8))

    def _push(self, p: QPainter, t: Theme, place: object, found: HillFound, k: int, i: int) -> None:
        """The ground's force on a tyre, along the arrow as large as the load."""
        run, rig = found.run, found.run.rig
        if i not in (0, 2) or not run.rests[k]:
            return
        a = rig.front if i < 2 else rig.rear
        n, d, m = float(run.normal[k, i]), float(run.drive[k, i]), float(run.slope[k, i])
        if n <= 1.0:
            return
        root = math.hypot(1.0, m)
        x, z = float(run.hub_along[k, i]) + a.radius * m / root, float(run.hub_high[k, i]) - a.radius / root
        fx, fz = (-n * m + d) / root, (n + d * m) / root
        size = 1.4 / run.rig.weight
        assert callable(place)
        start, end = place(x, z), place(x + fx * size, z + fz * size)
        p.setPen(QPen(t.torch if abs(d) > found.friction * n else t.zinc, 2.4))
        p.drawLine(start, end)
        back = math.atan2(end.y() - start.y(), end.x() - start.x())
        for turn in (2.6, -2.6):
            p.drawLine(end, end + QPointF(8 * math.cos(back + turn), 8 * math.sin(back + turn)))

    def _rear(self, p: QPainter, t: Theme, box: QRectF, found: HillFound, at: float) -> None:
        """Both axles and the body from behind."""
        run = found.run
        k = int(np.abs(run.at - at).argmin())
        text(
            p,
            QRectF(box.left(), box.top(), box.width(), 16),
            "From behind; front axle dashed",
            t.quiet,
            size=8.5,
        )
        scale = min(box.width() / 2.6, (box.height() - 20) / 1.9)
        mid = 0.5 * float(run.hub_high[k, 2] + run.hub_high[k, 3])

        def to(y: float, z: float) -> QPointF:
            return QPointF(box.center().x() - y * scale, box.bottom() - 46 - (z - mid) * scale)

        for a, i, pen, fill in (
            (run.rig.front, 0, QPen(t.faint, 1.2, Qt.PenStyle.DashLine), None),
            (run.rig.rear, 2, QPen(t.soap, 1.6), t.tyre),
        ):
            roll = float(run.axle_roll[k, 0 if i == 0 else 1])
            c, s = math.cos(roll), math.sin(roll)
            z0 = 0.5 * float(run.hub_high[k, i] + run.hub_high[k, i + 1])
            p.setPen(pen)
            p.setBrush(fill if fill is not None else QColor(0, 0, 0, 0))
            for way in (1.0, -1.0):
                half = 0.5 * a.track * way
                corners = [
                    (half - 0.13, -a.radius),
                    (half + 0.13, -a.radius),
                    (half + 0.13, a.radius),
                    (half - 0.13, a.radius),
                ]
                p.drawPolygon(QPolygonF([to(y * c - z * s, z0 + y * s + z * c) for y, z in corners]))
            p.drawLine(to(-0.5 * a.track * c, z0 - 0.5 * a.track * s), to(0.5 * a.track * c, z0 + 0.5 * a.track * s))
        roll = float(run.roll[k])
        c, s = math.cos(roll), math.sin(roll)
        p.setPen(QPen(t.dye, 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolygon(
            QPolygonF(
                [
                    to(y * c - z * s, mid + y * s + z * c)
                    for y, z in ((-0.55, 0.15), (0.55, 0.15), (0.55, 0.5), (0.4, 1.05), (-0.4, 1.05), (-0.55, 0.5))
                ]
            )
        )

    def _wheels(self, p: QPainter, t: Theme, box: QRectF, found: HillFound, at: float) -> None:
        run = found.run
        k = int(np.abs(run.at - at).argmin())
        used = run.used[k]
        for i, name in enumerate(WHEELS):
            y = box.top() + 24 * i
            text(p, QRectF(box.left(), y, 80, 20), name, t.text, size=9)
            if not run.rests[k]:
                text(p, QRectF(box.left() + 84, y, box.width() - 84, 20), "–", t.quiet, size=9)
                continue
            air = not math.isfinite(used[i])
            words = (
                "in the air"
                if air
                else f"{show(float(run.normal[k, i]), 'force', self.workspace.unit)}, grip {used[i]:.2f}"
            )
            bad = air or used[i] > found.friction
            text(
                p,
                QRectF(box.left() + 84, y, box.width() - 84, 20),
                words,
                t.torch if bad else t.brass,
                size=9,
                bold=bad,
            )

    def _graph(
        self, p: QPainter, t: Theme, picture: Picture, box: QRectF, found: HillFound, other: HillFound | None, at: float
    ) -> None:
        run = found.run
        top = 1.15 * max(found.friction, min(2.0, found.needs), 0.2)
        plot = Plot(box, (float(run.at[0]), float(run.at[-1])), (0.0, top))
        p.setPen(QPen(t.edge, 1))
        p.drawRect(box)
        text(
            p,
            QRectF(box.left(), box.top() - 16, box.width(), 15),
            "Grip used by the tyre that uses most, along the hill; shaded: more than there is"
            + ("; dashed: as in the run beside it" if other is not None else ""),
            t.quiet,
            size=8.5,
        )
        for v in (0.0, found.friction):
            p.setPen(t.quiet)
            text(p, QRectF(0, plot.y(v) - 8, box.left() - 5, 16), f"{v:.2f}", t.quiet, size=8, align="right")
        over = QRectF(box.left(), box.top(), box.width(), plot.y(found.friction) - box.top())
        veil = QColor(t.torch)
        veil.setAlpha(26)
        p.fillRect(over, veil)
        p.save()
        p.setClipRect(box)
        for one, pen in ((other, QPen(t.faint, 1.4, Qt.PenStyle.DashLine)), (found, QPen(t.dye, 2))):
            if one is not None:
                p.setPen(pen)
                _line(p, plot, one)
        p.restore()
        p.setPen(QPen(t.torch, 1.4))
        p.drawLine(plot.at(at, 0.0), plot.at(at, top))
        for words, where in (
            ("slides", found.slides),
            ("tips", found.tips),
            ("lifts", None if found.lifts is None else found.lifts[1]),
        ):
            if where is not None:
                text(
                    p,
                    QRectF(plot.x(where) - 30, box.bottom() + 1, 60, 14),
                    f"▲ {words}",
                    t.torch,
                    size=8,
                    align="centre",
                )

        def drag(place: QPointF, dropped: bool) -> None:
            self.go_to(plot.across[0] + (place.x() - box.left()) / box.width() * (plot.across[1] - plot.across[0]))

        picture.hits.append(Hit(box, "Drag along the hill.", None, "hill graph", drag))

    def as_text(self) -> str:
        if not self.ready:
            return self.now.text()
        if self.mine is None:
            return f"{self.now.text()} {self.more.text()}".strip()
        name = hill_name(self.workspace.project.log.hill, self.workspace.unit)
        lines = [f"Test hill: {name}.", *hill_lines(self.mine, self.workspace.unit)]
        if self.other is not None:
            lines += ["As in the run beside it:", *hill_lines(self.other, self.workspace.unit)]
        return "\n".join([*lines, HILL_CAUTION])


def _line(p: QPainter, plot: Plot, found: HillFound) -> None:
    """The most grip any tyre uses, over the way, broken where nothing rests."""
    run = found.run
    with np.errstate(invalid="ignore"):
        most: Array = np.where(
            run.rests & np.isfinite(run.used).any(axis=1), np.nan_to_num(run.used).max(axis=1), np.nan
        )
    piece: list[QPointF] = []
    for x, v in zip(run.at, most, strict=True):
        if math.isfinite(v):
            piece.append(plot.at(float(x), float(v)))
        elif piece:
            p.drawPolyline(QPolygonF(piece))
            piece = []
    if piece:
        p.drawPolyline(QPolygonF(piece))
