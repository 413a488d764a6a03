"""The pick: every pair as a dot, the best by the user's own weights at the right, and in words why one is ahead."""

from __future__ import annotations

import contextlib
import math
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.choice_box import ChoiceBox
from stoutlink.app.widgets.picture import Hit, Picture, bar, button, number_fields, plate, quiet_label, text
from stoutlink.core.analysis.swap.pick import CRITERIA, Array, PairScore, Ranking, why_ahead
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.editing.swap_edits import ChoosePair
from stoutlink.core.mechanics.pareto import front_of
from stoutlink.core.reports.ranking import criterion_words
from stoutlink.core.study.question import GivenUp, rests_on_the_same, same_parts
from stoutlink.core.study.study import Study

GEARING = (("old_feel", "gears: old feel"), ("deepest", "gears: deepest"))
MOST_DOTS = 1500
LETTERS = {"strength": "S", "weight": "W", "clearance": "U", "cost": "C", "hours": "H", "manners": "R"}
AT_ONCE = 20_000
"""So many pairs are ranked within a blink; more are ranked beside the window."""
MOST_MARGIN = 4.0
ROW = 62


MOST = 40
"""Pairs ranked."""
Candidates = tuple[DonorAxle | None, ...]


class PickLook(DonorLook):
    """Weights above, the cloud at the left with its front, ranked pairs at the right."""

    takes = ("stance", "weight", "train")

    pair = True
    ranked = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "pick", "Pick a pair", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setContentsMargins(12, 6, 12, 2)
        row.setSpacing(5)
        weighs = {
            "strength": "strength",
            "weight": "weight",
            "clearance": "clearance",
            "cost": "cost",
            "hours": "hours",
            "manners": "manners",
            "least_margin": "least margin",
        }
        self.fields = number_fields(
            workspace, row, self, 46, ((f"choosing.{name}", word) for name, word in weighs.items())
        )
        row.addStretch(1)
        outer.addLayout(row)
        self.axes: list[QComboBox] = []
        second = QHBoxLayout()
        second.setContentsMargins(12, 0, 12, 2)
        for words, start in (("across", "cost"), ("up", "strength")):
            tag = quiet_label(words, self)
            box = StillBox(self)
            box.setObjectName(f"pick_{words}")
            box.setAccessibleName(f"Criterion {words}")
            box.setToolTip("Which of the six the picture shows.")
            box.setFont(font(9))
            for name, (title, _) in CRITERIA.items():
                box.addItem(title, name)
            box.setCurrentIndex(list(CRITERIA).index(start))
            box.currentIndexChanged.connect(lambda _: self.picture.update())
            second.addWidget(tag)
            second.addWidget(box)
            self.axes.append(box)
        self.scope = StillBox(self)
        self.scope.setObjectName("pick_scope")
        self.scope.setAccessibleName("Which ends are open")
        self.scope.setToolTip("Whether both ends are picked, or one stays as chosen.")
        self.scope.setFont(font(9))
        for value, words in (
            ("both", "both ends open"),
            ("front", "front open, rear stays"),
            ("rear", "rear open, front stays"),
        ):
            self.scope.addItem(words, value)
        self.scope.currentIndexChanged.connect(lambda _: None if self.theme is None else self.refresh(self.theme))
        second.addWidget(self.scope)
        self.fields += number_fields(workspace, second, self, 64, (("choosing.least_crawl", "crawl at least"),))
        self.gearing = ChoiceBox(workspace, "pick_gearing", "Gears of a pair", GEARING, self)
        self.gearing.path = lambda: "choosing.gearing"
        self.gearing.setToolTip("Which gear sets a pair is made ready with, of those that go together.")
        second.addWidget(self.gearing)
        second.addStretch(1)
        outer.addLayout(second)
        self.picture = Picture("pick_picture", "Pairs", self)
        outer.addWidget(self.picture, 1)
        self.found: Ranking | None = None
        self.part: float | None = None
        """How far a ranking under way is."""
        self._asked: tuple[Study, tuple[Candidates, Candidates]] | None = None
        """What was ranked last, or is."""
        self._given_up = False
        self._work: Background[Ranking] = Background(self)
        self.shown = 0

    def prepare(self) -> None:
        w = self.workspace
        project = w.project
        for field in self.fields:
            field.refresh()
        self.gearing.refresh()
        scope = self.scope.currentData()
        ends: dict[str, list[DonorAxle | None]] = {}
        for end in ("front", "rear"):
            stays = scope not in ("both", end)
            ends[end] = [project.donor(end)] if stays else [d for d in project.swap.donors if d.end == end]
        study, pairs = w.study, (tuple(ends["front"]), tuple(ends["rear"]))
        asked = self._asked
        if (
            asked is not None
            and same_parts(pairs, asked[1])
            and rests_on_the_same(study.ranking, *pairs, MOST, of=asked[0])
        ):
            self._paint()
            return
        self._asked = study, pairs
        self.found, self.part, self._given_up = None, None, False
        self._work.stop()
        if not (any(ends["front"]) or any(ends["rear"])):
            self._paint()
        elif max(1, len(ends["front"])) * max(1, len(ends["rear"])) <= AT_ONCE:
            self._take(w.study.ranking(*pairs, MOST))
        else:
            self.part = 0.0
            self._work.start(
                lambda tell: self._ranked(study, pairs, tell),
                self._take,
                self._moved,
            )
            self._paint()

    @staticmethod
    def _ranked(study: Study, pairs: tuple[Candidates, Candidates], tell: Progress) -> Ranking | None:
        with contextlib.suppress(GivenUp):
            return study.ranking(*pairs, MOST, going=tell)
        return None

    def _take(self, found: Ranking) -> None:
        """The ranking is there."""
        self.found, self.part = found, None
        self.shown = min(self.shown, max(0, len(found.best) - 1))
        self._paint()
        self.ranked.emit()

    def _moved(self, part: float) -> None:
        self.part = part
        self.picture.update()

    def stop(self) -> None:
        """Leave off whatever is being ranked; the window goes."""
        self._work.stop()

    def cancel(self) -> None:
        """Give the ranking up."""
        self._work.stop()
        self.part, self._given_up = None, True
        self._paint()

    def _paint(self) -> None:
        if self.theme is not None:
            self.picture.show_with(self.theme, self._draw)

    def number(self, name: str, value: float) -> str:
        """One criterion's number in words."""
        if not math.isfinite(value):
            return "not known" if math.isnan(value) else "not asked"
        return criterion_words(self.workspace.project, name, value)

    def _draw(self, p: QPainter, t: Theme, picture: Picture) -> None:
        found = self.found
        if self.part is not None:
            self._waiting(p, t, picture)
            return
        if self._given_up:
            box = QRectF(picture.width() / 2 - 90, 70, 180, 28)
            text(
                p,
                QRectF(30, 30, picture.width() - 60, 30),
                "Given up before it was done.",
                t.quiet,
                size=11,
                align="centre",
            )
            button(p, t, box, "Rank the pairs")
            picture.hits.append(Hit(box, "Start the ranking again.", self._again, "again"))
            return
        if found is None or not found.best:
            words = (
                "No pairs to rank: bring in axles for both ends."
                if found is None
                else "Every pair is ruled out: no gear sets of any two go together."
            )
            text(p, QRectF(30, 30, picture.width() - 60, 60), words, t.quiet, size=11, align="centre", wrap=True)
            return
        split = picture.width() - 400.0
        self._cloud(p, t, picture, found, QRectF(70, 12, split - 92, picture.height() - 66))
        self._list(p, t, picture, found, split)

    def _again(self) -> None:
        self._asked = None
        self.prepare()

    def _waiting(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """How far the ranking is, and a way out."""
        box = QRectF(picture.width() / 2 - 200, 80, 400, 18)
        text(p, QRectF(30, 40, picture.width() - 60, 30), "Ranking all pairs …", t.text, size=11, align="centre")
        bar(p, t, box, self.part or 0.0, t.dye)
        stop = QRectF(picture.width() / 2 - 60, 112, 120, 26)
        button(p, t, stop, "Give up")
        picture.hits.append(Hit(stop, "Stop ranking; nothing is changed.", self.cancel, "give_up"))

    def _cloud(self, p: QPainter, t: Theme, picture: Picture, found: Ranking, plot: QRectF) -> None:
        across, up = (str(box.currentData()) for box in self.axes)
        xs, ys, place = found.cloud[across], found.cloud[up], found.cloud["place"]
        good = np.isfinite(xs) & np.isfinite(ys)
        if not good.any():
            text(p, plot, "Not known for any pair.", t.quiet, size=10, align="centre")
            return
        xs, ys, place = _capped(across, xs[good]), _capped(up, ys[good]), place[good]
        limits = []
        for values in (xs, ys):
            low, high = float(values.min()), float(values.max())
            room = 0.06 * (high - low) or 0.5 * abs(high) or 0.5
            limits.append((low - room, high + room))

        def at(x: float, y: float) -> QPointF:
            (x0, x1), (y0, y1) = limits
            return QPointF(
                plot.left() + (x - x0) / (x1 - x0) * plot.width(), plot.bottom() - (y - y0) / (y1 - y0) * plot.height()
            )

        p.setPen(QPen(t.edge, 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(plot)
        for i in range(5):
            xv, yv = (low + (high - low) * (i + 0.5) / 5 for low, high in limits)
            text(
                p,
                QRectF(at(xv, 0).x() - 50, plot.bottom() + 3, 100, 14),
                self.number(across, round(xv) if across == "cost" else xv),
                t.quiet,
                size=8,
                align="centre",
            )
            text(
                p,
                QRectF(plot.left() - 68, at(0, yv).y() - 7, 62, 14),
                self.number(up, round(yv) if up == "cost" else yv),
                t.quiet,
                size=8,
                align="right",
            )
        text(
            p,
            QRectF(plot.left(), plot.bottom() + 18, plot.width(), 16),
            f"{CRITERIA[across][0]} →",
            t.text,
            size=9,
            align="centre",
        )
        text(p, QRectF(plot.left() + 4, plot.top() + 2, 240, 16), f"↑ {CRITERIA[up][0]}", t.text, size=9)
        if up == "strength":
            hold = at(0, 1.0).y()
            if plot.top() < hold < plot.bottom():
                p.setPen(QPen(t.soap, 1, Qt.PenStyle.DashLine))
                p.drawLine(QPointF(plot.left(), hold), QPointF(plot.right(), hold))
        flat = np.column_stack([v if CRITERIA[n][1] else -v for n, v in ((across, xs), (up, ys))])
        edge = front_of(flat)
        step = max(1, len(xs) // MOST_DOTS)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(t.faint)
        for i in range(0, len(xs), step):
            p.drawEllipse(at(float(xs[i]), float(ys[i])), 2.2, 2.2)
        order = np.flatnonzero(edge)[np.argsort(xs[edge])]
        points = [at(float(xs[i]), float(ys[i])) for i in order]
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(t.brass, 2))
        p.drawPolyline(QPolygonF(points))
        for point in points:
            p.drawRect(QRectF(point.x() - 3, point.y() - 3, 6, 6))
        for n in range(min(5, len(found.best))):
            mine = np.flatnonzero(place == n)
            if len(mine):
                point = at(float(xs[mine[0]]), float(ys[mine[0]]))
                colour = t.dye if n == self.shown else t.soap
                p.setPen(QPen(colour, 2))
                p.setBrush(t.sheet)
                p.drawEllipse(point, 9, 9)
                text(
                    p,
                    QRectF(point.x() - 9, point.y() - 9, 18, 18),
                    str(n + 1),
                    colour,
                    size=8.5,
                    bold=True,
                    align="centre",
                )
                picture.hits.append(
                    Hit(
                        QRectF(point.x() - 10, point.y() - 10, 20, 20),
                        found.best[n].name,
                        partial(self.look_at, n),
                        f"dot_{n}",
                    )
                )
        ruled = f", {found.ruled_out} ruled out by their gears" if found.ruled_out else ""
        text(
            p,
            QRectF(14, picture.height() - 20, plot.right() - 14, 16),
            f"{found.considered} pairs{ruled}. Squares: beaten in neither.",
            t.quiet,
            size=8,
        )

    def look_at(self, n: int) -> None:
        """Show one of the ranked pairs in full; one of a ranking that is no longer shown is none."""
        if self.found is None or not 0 <= n < len(self.found.best):
            return
        self.shown = n
        self.picture.update()

    def _list(self, p: QPainter, t: Theme, picture: Picture, found: Ranking, left: float) -> None:
        wide = picture.width() - left - 10
        shades: list[QColor] = [t.dye, t.soap, t.brass, t.quiet, t.faint, t.upper]
        rows = max(1, min(len(found.best), int((picture.height() - 196) / ROW)))
        for n, one in enumerate(found.best[:rows]):
            y = 8 + n * ROW
            box = QRectF(left, y, wide, ROW - 6)
            plate(p, t, box, picked=n == self.shown)
            picture.hits.append(
                Hit(box, f"{one.name}. {_crawls(one)}Click for its six numbers.", partial(self.look_at, n), f"pair_{n}")
            )
            weak = one.numbers["strength"] < self.workspace.project.swap.choosing.least_margin
            text(p, QRectF(left + 8, y + 2, 20, 20), f"{n + 1}", t.text, size=11, bold=True)
            text(p, QRectF(left + 28, y + 2, wide - 90, 18), one.name, t.text, size=9, bold=n == self.shown, elide=True)
            text(
                p,
                QRectF(left + wide - 60, y + 2, 54, 18),
                f"{one.score:.2f}",
                t.text,
                size=10,
                bold=True,
                align="right",
            )
            x = left + 28
            total = sum(found.weights.values()) or 1.0
            for k, (name, (title, _)) in enumerate(CRITERIA.items()):
                part = found.weights[name] * one.scaled[name] / total * (wide - 40)
                p.fillRect(QRectF(x, y + 22, part, 11), shades[k])
                if part > 12:
                    text(p, QRectF(x, y + 22, part, 11), LETTERS[name], t.sheet, size=7, bold=True, align="centre")
                picture.hits.append(
                    Hit(
                        QRectF(x, y + 20, part, 15),
                        f"{title}: {self.number(name, one.numbers[name])}, {one.scaled[name]:.0%} of the way from worst to best, weight {found.weights[name]:g}",
                        None,
                        f"part_{n}_{name}",
                    )
                )
                x += part + 1
            sets = " / ".join(str(g) if g is not None else "?" for g in one.gears)
            line = f"{'▲ ' if weak else ''}margin {self.number('strength', one.numbers['strength'])}   {self.number('cost', one.numbers['cost'])}   gears {sets}"
            text(p, QRectF(left + 28, y + 35, wide - 40, 18), line, t.torch if weak else t.quiet, size=8.5, elide=True)
        self._shown(p, t, picture, found, left, 12 + rows * ROW)

    def _shown(self, p: QPainter, t: Theme, picture: Picture, found: Ranking, left: float, y: float) -> None:
        one = found.best[self.shown]
        wide = picture.width() - left - 10
        for k, (name, (title, _)) in enumerate(CRITERIA.items()):
            x, row = left + 4 + (k % 3) * wide / 3, y + (k // 3) * 32
            text(p, QRectF(x, row, wide / 3 - 4, 14), title, t.quiet, size=8)
            text(
                p,
                QRectF(x, row + 13, wide / 3 - 4, 17),
                self.number(name, one.numbers[name]),
                t.text,
                size=9.5,
                bold=True,
            )
        text(p, QRectF(left + 4, y + 66, wide - 8, 64), self.why(found), t.text, size=8.5, wrap=True)
        flags = f"Not known and counted as the worst: {'; '.join(one.unknown)}." if one.unknown else ""
        text(p, QRectF(left + 4, y + 130, wide - 150, 30), flags, t.torch, size=8.5, wrap=True)
        box = QRectF(picture.width() - 150, picture.height() - 34, 138, 26)
        button(p, t, box, "Put this pair under")
        picture.hits.append(
            Hit(box, "Choose both axles and plan the gears that go together.", lambda: self.choose(one), "choose_pair")
        )

    def why(self, found: Ranking) -> str:
        """Why the pair shown is ahead of the next, or what it would have to gain on the one before."""
        n = self.shown
        if len(found.best) < 2:
            return "The only pair that goes together."
        first, second = (n, n + 1) if n + 1 < len(found.best) else (n - 1, n)
        a, b = found.best[first], found.best[second]
        least = self.workspace.project.swap.choosing.least_margin
        if a.numbers["strength"] >= least > b.numbers["strength"]:
            return f"Number {first + 1} holds (margin {a.numbers['strength']:.2f}), number {second + 1} does not ({b.numbers['strength']:.2f} of {least:g} wanted): that comes first."
        if b.numbers["strength"] < least:
            return f"Neither {first + 1} nor {second + 1} reaches the least margin of {least:g}; among those the nearest to it stands first ({a.numbers['strength']:.2f} against {b.numbers['strength']:.2f})."
        shown = {k: (self.number(k, a.numbers[k]), self.number(k, b.numbers[k])) for k in CRITERIA}
        return f"{first + 1} against {second + 1}: " + why_ahead(a, b, found.weights, shown)

    def choose(self, one: PairScore) -> None:
        """Put a pair under the rig, with its gears planned."""
        self.workspace.do(ChoosePair(one.front, one.rear, one.gears[0], one.gears[1]))

    def as_text(self) -> str:
        found = self.found
        if found is None or not found.best:
            return "No pairs." if found is None else "Every pair is ruled out: no gear sets of any two go together."
        return "\n".join(
            f"{n + 1}\t{one.name}\t{one.score:.3f}\t"
            + "\t".join(f"{CRITERIA[k][0]} {self.number(k, v)}" for k, v in one.numbers.items())
            + (f"\tCrawl {one.crawl:.0f}:1" if math.isfinite(one.crawl) else "")
            for n, one in enumerate(found.best)
        )


def _crawls(one: PairScore) -> str:
    """How deep a pair crawls, where its gears are known."""
    return f"Crawls {one.crawl:.0f}:1. " if math.isfinite(one.crawl) else ""


def _capped(name: str, values: Array) -> Array:
    """Margins beyond four are drawn at four."""
    return np.minimum(values, MOST_MARGIN) if name == "strength" else values
