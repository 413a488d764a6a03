"""Tune: what bears on what was felt, every way to bolt it as a map of gain and cost, the way picked before and after."""

from __future__ import annotations

import math
from functools import partial

import msgspec
import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.canvas.plot import Plot
from stoutlink.app.desk.theme import Theme
from stoutlink.app.steps.log.desk import LogDesk
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.picture import Hit, Picture, flow, plate, text
from stoutlink.core.advice.log_words import (
    TUNE_CAUTION,
    bearing_words,
    cost_words,
    number_name,
    number_text,
    tuning_lines,
    way_lines,
)
from stoutlink.core.analysis.log.bearings import ELSEWHERE
from stoutlink.core.analysis.log.tuning import Tuning, Way, bearings_of, schools_of
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.log import FELT, FELT_WORDS, FeltWord, Trial
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.editing.layout_edits import FitHoles

SHORT: dict[FeltWord, str] = {
    "unloads": "Unloads",
    "dives": "Dives",
    "vibrates": "Vibrates",
    "rubs": "Rubs",
    "squats": "Squats",
    "lifts": "Lifts",
}
GROUPS = tuple(
    (key, SHORT.get(key, FELT_WORDS[key].capitalize()), f"What bears on it: {FELT_WORDS[key]}.") for key in FELT
)
VIEWS = (("Side", 0, 2), ("Plan", 0, 1), ("Rear", 1, 2))


class TuneLook(WorkingLook):
    """For the axle in work."""

    def __init__(self, desk: LogDesk, parent: QWidget | None = None) -> None:
        super().__init__(desk.workspace, "tune", "Tune", GROUPS, "The tuning map", parent)
        self.desk = desk
        self.bolt = self.large(
            "tune_bolt", "Bolt it so", "Puts the bolts into the holes of the way picked.", self._bolt
        )
        self.try_ = self.large(
            "tune_try",
            "Write it down as a try",
            "Bolts it so and writes a run that promises what it should do.",
            self._try,
        )
        self.top.addStretch(1)
        self.felt: FeltWord = "hops"
        self.school = ""
        self.row = -1
        self.found: Tuning | None = None
        self.ready = True
        self.begin()

    def begin(self) -> None:
        """Begin with what was felt last."""
        last = next((r for r in reversed(self.workspace.project.log.runs) if r.felt), None)
        self.felt = "hops" if last is None else last.felt[0].id
        self.school, self.row = "", -1
        self.group = self.felt

    @property
    def picked(self) -> Way | None:
        """The way picked, else the first."""
        if self.found is None:
            return None
        ways = self.found.ways
        return next((w for w in ways if w.row == self.row), ways[0] if ways else None)

    def show_group(self, key: str) -> None:
        """What was felt."""
        self.felt = key  # type: ignore[assignment]
        self.school, self.row = "", -1
        super().show_group(key)

    def prepare(self) -> None:
        end = self.workspace.end
        schools = schools_of(self.felt, end)
        if self.school not in schools:
            self.school = schools[0] if schools else ""
        self.ready, self.found = self.desk.advice(self.felt, end, self.school)
        way = self.picked
        for part in (self.bolt, self.try_):
            part.setVisible(way is not None)
        layout = self.workspace.project.layout(end)
        if way is not None:
            first, *_ = way_lines(way, end, self.workspace.unit)
            self.show_frame(first, "" if way.reaches else "▲ A thread does not reach: that bar is made anew.")
        elif not self.ready:
            self.show_frame("Working out every way to bolt it…", "")
        elif not schools:
            self.show_frame(
                f"Nothing at the {end} axle bears on it.", ELSEWHERE.get(self.felt, "Look at the other axle.")
            )
        elif layout is None:
            self.show_frame(f"No {end} layout yet.", "Lay the axle out first (Layout).")
        elif not layout.brackets:
            self.show_frame(
                f"No bracket of the {end} axle has a row of holes.",
                "Give a pivot a row of holes in Layout, and every way to bolt it is held against what you felt.",
            )
        else:
            self.show_frame(
                "No combination of holes moves it enough.",
                self.desk.why or ELSEWHERE.get(self.felt, "Other brackets, or leave it."),
            )

    def pick(self, row: int) -> None:
        """Have a way in view."""
        self.row = row
        if self.theme is not None:
            self.refresh(self.theme)

    def take_school(self, name: str) -> None:
        """By the other school."""
        self.school, self.row = name, -1
        if self.theme is not None:
            self.refresh(self.theme)

    def _holes(self, way: Way) -> tuple[tuple[str, int], ...]:
        return tuple((b.id, b.hole) for b in way.layout.brackets)

    def _bolt(self) -> bool:
        way = self.picked
        layout = self.workspace.project.layout(self.workspace.end)
        return way is not None and layout is not None and self.workspace.do(FitHoles(layout.id, self._holes(way)))

    def _try(self) -> None:
        way, unit = self.picked, self.workspace.unit
        runs = self.workspace.project.log.runs
        if way is None:
            return
        promise = "; ".join(
            f"{number_name(b.number, b.end).lower()} {number_text(b.number, x, unit)} → {number_text(b.number, y, unit)}"
            for b, x, y in way.moved
        )
        felt = self.felt
        if not self._bolt():
            return
        key = free_id("run-", (r.id for r in runs))
        trial = Trial(after=runs[-1].id if runs else key, felt=felt, change=way.words[:200], promise=promise[:200])
        run = msgspec.structs.replace(
            self.workspace.study.run_now(key, f"Try: {FELT_WORDS[felt]}", self.workspace.today().isoformat()),
            trial=trial,
        )
        if self.workspace.do(PutInList("log.runs", run, "Write a try down")):
            self.workspace.said.emit(f"Written down as {run.name}; say in Runs what came of it.", False)

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """What bears on it and the map to the left; ways, and before and after, to the right."""
        w, y = float(picture.width()), 4.0
        end = self.workspace.end
        schools = schools_of(self.felt, end)
        if len(schools) > 1:
            for n, name in enumerate(schools):
                box = QRectF(14 + n * 200, y, 190, 24)
                plate(p, t, box, picked=name == self.school, raised=True)
                text(p, box, f"school: {name}", t.text, size=9, align="centre", bold=name == self.school)
                picture.hits.append(
                    Hit(
                        box,
                        f"Practitioners disagree here; click to go by “{name}”.",
                        partial(self.take_school, name),
                        f"school {name}",
                    )
                )
            y += 32
        for b in bearings_of(self.felt, end, self.school):
            y += flow(p, QRectF(14, y, w - 28, 40), f"• {bearing_words(b)}", t.text, size=9) + 2
        if self.felt in ELSEWHERE:
            y += flow(p, QRectF(14, y, w - 28, 40), ELSEWHERE[self.felt], t.quiet, size=9) + 2
        top = y + 6
        left = self._map(p, t, picture, QRectF(54, top + 14, 0.40 * w - 60, 240)) if self.found is not None else top
        right = self._ways(p, t, picture, 0.43 * w, top, w)
        y = max(left, right)
        way = self.picked
        if way is not None and self.found is not None:
            layout = self.workspace.project.layout(end)
            assert layout is not None
            wide = (w - 28) / 3.0
            for n, (name, i, j) in enumerate(VIEWS):
                self._view(p, t, QRectF(14 + n * wide, y + 6, wide - 8, 150), name, i, j, layout, way.layout)
            y += 164
        y += flow(p, QRectF(14, y, w - 28, 40), TUNE_CAUTION, t.quiet, size=8.5) + 10
        self.tall(y)

    def _map(self, p: QPainter, t: Theme, picture: Picture, box: QRectF) -> float:
        """Every combination: how far it moves what was wanted, and what it costs elsewhere by holes alone."""
        assert self.found is not None
        gain, cost = self.found.gain, self.found.cost
        good = np.isfinite(gain) & np.isfinite(cost) & (gain > -8.0) & (cost < 8.5)
        far = max(1.0, float(np.abs(gain[good]).max(initial=1.0)))
        tall = max(1.0, float(cost[good].max(initial=1.0)))
        plot = Plot(box, (-1.05 * far, 1.05 * far), (-0.05 * tall, 1.05 * tall))
        plot.paint(p, t)
        text(
            p,
            QRectF(box.left(), box.top() - 15, box.width(), 14),
            "the way wanted →, cost elsewhere ↑ (usual differences)",
            t.quiet,
            size=8.5,
        )
        p.setPen(QPen(t.edge, 1, Qt.PenStyle.DotLine))
        p.drawLine(plot.at(0.0, 0.0), plot.at(0.0, tall))
        shown = {way.row: n for n, way in enumerate(self.found.ways, 1)}
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t.faint)
        some = np.flatnonzero(good)
        for k in some[:: max(1, len(some) // 1500)]:
            p.drawEllipse(plot.at(float(gain[k]), float(cost[k])), 2, 2)
        p.setBrush(t.soap)
        here = plot.at(0.0, 0.0)
        p.drawRect(QRectF(here.x() - 4, here.y() - 4, 8, 8))
        mine = self.picked
        for row, n in shown.items():
            at = plot.at(float(gain[row]), float(cost[row]))
            spot = QRectF(at.x() - 9, at.y() - 9, 18, 18)
            p.setPen(QPen(t.dye, 2 if mine is not None and mine.row == row else 1))
            p.setBrush(t.raised)
            p.drawEllipse(spot)
            text(p, spot, str(n), t.dye, size=8.5, bold=True, align="centre")
            picture.hits.append(Hit(spot, f"Way {n}. Click to see it.", partial(self.pick, row), f"dot {n}"))
        return box.bottom() + 22

    def _ways(self, p: QPainter, t: Theme, picture: Picture, x: float, y: float, w: float) -> float:
        if self.found is None:
            return y
        end, unit, mine = self.found.end, self.workspace.unit, self.picked
        for n, way in enumerate(self.found.ways, 1):
            box = QRectF(x, y, w - x - 14, 52)
            plate(p, t, box, picked=way is mine)
            text(p, QRectF(x + 8, y + 2, 20, 16), str(n), t.dye, size=10, bold=True)
            text(p, QRectF(x + 28, y + 2, w - x - 50, 16), way.words, t.text, size=9, bold=way is mine, elide=True)
            moved = "; ".join(
                f"{number_name(b.number, end).lower()} {number_text(b.number, before, unit)} → {number_text(b.number, after, unit)}"
                for b, before, after in way.moved
            )
            text(p, QRectF(x + 28, y + 18, w - x - 50, 16), moved, t.zinc, size=8.5, elide=True)
            costs = "; ".join(cost_words(way, end, unit)) or "costs nothing worth a word elsewhere"
            text(
                p,
                QRectF(x + 28, y + 34, w - x - 50, 16),
                ("▲ thread does not reach; " if not way.reaches else "") + costs,
                t.quiet if way.reaches else t.torch,
                size=8.5,
                elide=True,
            )
            picture.hits.append(
                Hit(
                    box,
                    " ".join(line.strip() for line in way_lines(way, end, unit)),
                    partial(self.pick, way.row),
                    f"way {n}",
                )
            )
            y += 56
        return y

    def _view(
        self, p: QPainter, t: Theme, box: QRectF, name: str, i: int, j: int, before: Layout, after: Layout
    ) -> None:
        plate(p, t, box)
        text(p, QRectF(box.left() + 6, box.top() + 2, 80, 14), name, t.quiet, size=8.5)
        ends = [(link.frame_pivot_m, link.axle_pivot_m) for one in (before, after) for link in one.links]
        a = [pt[i] for pair in ends for pt in pair]
        b = [pt[j] for pair in ends for pt in pair]
        scale = min((box.width() - 40) / max(0.2, max(a) - min(a)), (box.height() - 40) / max(0.2, max(b) - min(b)))
        ca, cb = 0.5 * (max(a) + min(a)), 0.5 * (max(b) + min(b))
        flip = -1.0 if i == 1 else 1.0

        def at(pt: tuple[float, float, float]) -> QPointF:
            return QPointF(box.center().x() + flip * (pt[i] - ca) * scale, box.center().y() + 6 - (pt[j] - cb) * scale)

        for layout, pen in ((before, QPen(t.faint, 1.4, Qt.PenStyle.DashLine)), (after, QPen(t.dye, 2.2))):
            for link in layout.links:
                p.setPen(pen)
                p.drawLine(at(link.frame_pivot_m), at(link.axle_pivot_m))
        for old, new in zip(before.links, after.links, strict=True):
            for which in ("frame", "axle"):
                if math.dist(old.pivot(which), new.pivot(which)) > 1e-6:
                    p.setPen(QPen(t.torch, 2))
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.drawEllipse(at(new.pivot(which)), 5, 5)

    def as_text(self) -> str:
        if not self.ready:
            return self.now.text()
        words = (
            [*tuning_lines(self.found, self.felt, self.workspace.unit)]
            if self.found is not None
            else [f"{self.now.text()} {self.more.text()}".strip()]
        )
        return "\n".join([*words, TUNE_CAUTION])
