"""Runs: what was driven and how it was set, what was felt and seen; run beside run; a run's settings put back."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.log.run_fields import GROUPS, group_of, run_entries
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.photos import Photos
from stoutlink.app.widgets.picture import Hit, Picture, button, flow, plate, text
from stoutlink.core.advice.log_words import (
    back_words,
    band_short,
    band_words,
    felt_words,
    hit_words,
    run_lines,
    run_number_words,
)
from stoutlink.core.analysis.log.runs import Band, hit_rate, own_bands, then
from stoutlink.core.document.groups import OwnTarget
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.log import FELT, FELT_WORDS, SEEN, FeltWord, Run
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList
from stoutlink.core.editing.log_edits import AddRunPhoto, MarkFelt, PutBack

SKIPPED = ("-travel", "-rate")
"""Numbers of a run that no hole moves."""
MUCH = {0: "○", 1: "●○○", 2: "●●○", 3: "●●●"}


class RunsLook(WorkingLook):
    """Runs to the left, the one picked to the right, beside another where one is held against it."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "runs", "Runs", GROUPS, "Runs", parent, columns=4, wide=150)
        self.setAcceptDrops(True)
        self.new = self.large(
            "new_run", "New run", "Writes down how it is set now, with its numbers as they are now.", self._new
        )
        self.good = self.large(
            "run_good", "Good", "Call the run good: your own bands are made of these.", lambda: self._say("good")
        )
        self.bad = self.large("run_bad", "Bad", "Call the run bad.", lambda: self._say("bad"))
        self.back = self.large(
            "run_back",
            "Put back as then",
            "Holes, pressures and layout as in this run; the bars to turn are said.",
            self._back,
        )
        self.top.addStretch(1)
        self.photos = Photos(self, workspace, self._aim)
        tip = "Put a picture beside the project, to this run."
        self.photo = self.small("run_photo", "Photo…", tip, lambda: self.photos.choose("A photo of this run"))
        self.beside = self.small(
            "run_beside", "Hold another against it", "The next run clicked stands beside this one.", self._beside
        )
        self.gone = self.small("remove_run", "Remove", "Take the run away; undo brings it back.", self._remove)
        self.foot.addStretch(1)
        self.key, self.other, self.choosing = "", "", False

    @property
    def runs(self) -> tuple[Run, ...]:
        """All runs, the last first."""
        return tuple(reversed(self.workspace.project.log.runs))

    @property
    def picked(self) -> Run | None:
        """The run picked, else the last."""
        runs = self.runs
        return next((r for r in runs if r.id == self.key), runs[0] if runs else None)

    @property
    def second(self) -> Run | None:
        """The run it is held against."""
        one = self.picked
        return next((r for r in self.runs if r.id == self.other and (one is None or r.id != one.id)), None)

    def prepare(self) -> None:
        one = self.picked
        for part in (self.good, self.bad, self.back, self.photo, self.beside, self.gone):
            part.setVisible(one is not None)
        if one is None:
            self.show_frame(
                "No run yet.",
                "“New run” writes down how it is set, with its numbers, before or after you drive.",
                fields=False,
            )
            return
        self.good.setEnabled(one.verdict != "good")
        self.bad.setEnabled(one.verdict != "bad")
        turned = self.workspace.study.bars_back(one)
        words = (
            "It is set as in this run."
            if not turned
            else "To be as then: " + "; ".join(back_words(b, self.workspace.unit) for b in turned) + "."
        )
        if self.choosing:
            words = "Click the run to stand beside this one."
        self.show_frame(f"{one.name}{', ' + one.when if one.when else ''}", words)

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        one = self.picked
        return [] if one is None else run_entries(self.workspace.project, one, self.group)

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if len(parts) < 4:
            return
        self.key = parts[2]
        self.show_group(group_of(parts))

    def pick(self, key: str) -> None:
        """Show a run, or have it stand beside the one shown."""
        if self.choosing:
            self.other, self.choosing = key, False
        else:
            self.key = key
        self.show_group(self.group)

    def _new(self) -> None:
        runs = self.workspace.project.log.runs
        key = free_id("run-", (r.id for r in runs))
        run = self.workspace.study.run_now(key, f"Run {len(runs) + 1}", self.workspace.today().isoformat())
        if self.workspace.do(PutInList("log.runs", run, "Write a run down")):
            self.key, self.group = key, "run"
            self.show_group("run")

    def _say(self, verdict: str) -> None:
        one = self.picked
        if one is not None:
            self.workspace.do(SetChoice(f"log.runs.{one.id}.verdict", verdict, "Call a run"))

    def _back(self) -> None:
        one = self.picked
        if one is None:
            return
        try:
            project = then(self.workspace.project, one)
        except LookupError as why:
            self.workspace.said.emit(f"{why.args[0]}; keep the layout a run was driven on.", True)
            return
        turned = self.workspace.study.bars_back(one)
        if self.workspace.do(PutBack(project, one.name)):
            words = "; ".join(back_words(b, self.workspace.unit) for b in turned)
            self.workspace.said.emit(
                f"As in {one.name}. Turn: {words}." if words else f"As in {one.name}; no bar to turn.", False
            )

    def _beside(self) -> None:
        self.choosing, self.other = not self.choosing and not self.other, ""
        self.show_group(self.group)

    def _remove(self) -> None:
        one = self.picked
        if one is not None:
            self.workspace.do(TakeFromList("log.runs", (one.id,), "Remove a run"))

    def mark(self, what: FeltWord) -> None:
        """Felt a little, plainly, badly, not at all, in turn."""
        one = self.picked
        if one is not None:
            now = next((f.much for f in one.felt if f.id == what), 0)
            self.workspace.do(MarkFelt(one.id, what, (now + 1) % 4))

    def _aim(self) -> Callable[[str], object] | None:
        """What puts a photo to the run that is picked."""
        one = self.picked
        return None if one is None else lambda name: self.workspace.do(AddRunPhoto(one.id, name))

    def stop(self) -> None:
        """Leave off work beside the window."""
        super().stop()
        self.photos.stop()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        self.photos.drag(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        self.photos.drop(event)

    def take_band(self, band: Band) -> None:
        """Take a band of one's own as what is wanted."""
        why = f"From {band.count} runs called good, spread {band.spread:.3g}."
        self.workspace.do(
            PutInList("targets", OwnTarget(id=band.id, low=band.low, high=band.high, why=why), "Take your own band")
        )

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The list, the run with its numbers, what was felt."""
        one, w = self.picked, float(picture.width())
        if one is None:
            return
        y = self._list(p, t, picture, 0.26 * w)
        middle = self._numbers(p, t, picture, one, 0.27 * w, 0.68 * w)
        right = self._felt(p, t, picture, one, 0.70 * w, w)
        bottom = max(y, middle, right)
        bands = own_bands(self.workspace.project.log.runs)
        if bands:
            text(
                p,
                QRectF(14, bottom + 4, w - 28, 18),
                "Your own bands, from runs called good; click one to want it",
                t.text,
                size=10,
                bold=True,
            )
            bottom += 24
            wide = (w - 28) / 3.0
            known = {x.id: x for x in self.workspace.project.linkage.targets}
            for n, band in enumerate(bands):
                box = QRectF(14 + (n % 3) * wide, bottom + 20 * (n // 3), wide - 8, 18)
                mine = known.get(band.id)
                taken = mine is not None and abs(mine.low - band.low) < 1e-9 and abs(mine.high - band.high) < 1e-9
                text(
                    p,
                    box,
                    f"{'✓ ' if taken else ''}{band_short(band, self.workspace.unit)}",
                    t.zinc if taken else t.quiet,
                    size=8.5,
                    elide=True,
                )
                picture.hits.append(
                    Hit(
                        box,
                        f"{band_words(band, self.workspace.unit)}. Click to want this band instead of a school's.",
                        partial(self.take_band, band),
                        f"band {band.id}",
                    )
                )
            bottom += 20 * ((len(bands) + 2) // 3)
        bottom += (
            flow(
                p,
                QRectF(14, bottom + 4, w - 28, 40),
                hit_words(hit_rate(self.workspace.project.log.runs)),
                t.quiet,
                size=9,
            )
            + 10
        )
        self.tall(bottom)

    def _list(self, p: QPainter, t: Theme, picture: Picture, wide: float) -> float:
        y, one, two = 4.0, self.picked, self.second
        for run in self.runs:
            box = QRectF(14, y, wide - 16, 38)
            plate(p, t, box, picked=run is one, raised=run is two)
            mark = {"good": "✓", "bad": "▲", "": "·"}[run.verdict]
            text(
                p,
                QRectF(20, y + 2, 18, 18),
                mark,
                {"good": t.zinc, "bad": t.torch, "": t.quiet}[run.verdict],
                size=10,
                bold=True,
            )
            text(p, QRectF(38, y + 2, wide - 64, 18), run.name, t.text, size=9.5, bold=run is one, elide=True)
            where = ", ".join(x for x in (run.when, run.place) if x)
            text(p, QRectF(38, y + 19, wide - 64, 16), where, t.quiet, size=8.5, elide=True)
            picture.hits.append(
                Hit(
                    box,
                    "; ".join(run_lines(run, self.workspace.unit))[:400],
                    partial(self.pick, run.id),
                    f"run {run.id}",
                )
            )
            y += 42
        return y

    def _numbers(self, p: QPainter, t: Theme, picture: Picture, one: Run, x: float, right: float) -> float:
        y, unit, two = 4.0, self.workspace.unit, self.second
        wide = right - x
        text(p, QRectF(x, y, 0.44 * wide, 18), "Numbers then", t.text, size=10, bold=True)
        text(p, QRectF(x + 0.44 * wide, y, 0.28 * wide, 18), one.name, t.dye, size=9, align="right", elide=True)
        if two is not None:
            text(p, QRectF(x + 0.74 * wide, y, 0.26 * wide, 18), two.name, t.quiet, size=9, align="right", elide=True)
        y += 21
        for n in one.numbers:
            if n.id.endswith(SKIPPED):
                continue
            name, value = run_number_words(n.id, n.value, unit)
            other = None if two is None else two.number(n.id)
            differs = other is not None and run_number_words(n.id, other.value, unit)[1] != value
            text(p, QRectF(x, y, 0.44 * wide, 17), name, t.text, size=9, elide=True)
            sigma = (
                ""
                if n.sigma is None or two is not None
                else f" ± {run_number_words(n.id, 2 * n.sigma, unit)[1].removesuffix(' of CG')}"
            )
            text(
                p,
                QRectF(x + 0.32 * wide, y, 0.40 * wide, 17),
                value + sigma,
                t.brass,
                size=9,
                align="right",
                bold=differs,
            )
            if other is not None:
                text(
                    p,
                    QRectF(x + 0.74 * wide, y, 0.26 * wide, 17),
                    run_number_words(n.id, other.value, unit)[1],
                    t.brass if differs else t.quiet,
                    size=9,
                    align="right",
                    bold=differs,
                )
            y += 18
        y += 4
        for run in (one,) if two is None else (one, two):
            lines = [line.strip() for line in run_lines(run, unit)]
            y += (
                flow(
                    p,
                    QRectF(x, y, wide, 90),
                    next(line for line in lines if line.startswith("set:"))
                    if two is None
                    else f"{run.name}, {next(line for line in lines if line.startswith('set:'))}",
                    t.quiet,
                    size=8.5,
                )
                + 3
            )
            if two is not None:
                y += (
                    flow(
                        p,
                        QRectF(x, y, wide, 60),
                        "felt: " + ("; ".join(felt_words(f, unit) for f in run.felt) or "nothing written down"),
                        t.quiet,
                        size=8.5,
                    )
                    + 4
                )
        if one.trial is not None:
            came = {"": "not judged yet", "better": "better", "same": "the same", "worse": "worse"}[one.trial.verdict]
            y += (
                flow(
                    p,
                    QRectF(x, y, wide, 60),
                    f"Tried: {one.trial.change}. Promised: {one.trial.promise or 'nothing said'}. It was {came}.",
                    t.text,
                    size=9,
                )
                + 4
            )
        if one.note:
            y += flow(p, QRectF(x, y, wide, 80), one.note, t.text, size=9) + 4
        return self.photos.paint(p, t, picture, one.photos, x, y, wide) + 6

    def _felt(self, p: QPainter, t: Theme, picture: Picture, one: Run, x: float, w: float) -> float:
        y = 4.0
        felt = {f.id: f for f in one.felt}
        for head, words in (("Felt", [k for k in FELT if k not in SEEN]), ("Seen", [k for k in FELT if k in SEEN])):
            text(p, QRectF(x, y, w - x - 14, 18), head, t.text, size=10, bold=True)
            y += 21
            for key in words:
                mine = felt.get(key)
                box = QRectF(x, y, w - x - 14, 26)
                button(p, t, box)
                if mine is not None:
                    p.setPen(QPen(t.torch, 2))
                    p.drawRoundedRect(box, 3, 3)
                text(
                    p,
                    QRectF(x + 8, y, 40, 26),
                    MUCH[0 if mine is None else mine.much],
                    t.torch if mine is not None else t.quiet,
                    size=9,
                )
                text(
                    p,
                    QRectF(x + 52, y, w - x - 74, 26),
                    FELT_WORDS[key],
                    t.text,
                    size=9.5,
                    bold=mine is not None,
                    elide=True,
                )
                tip = f"{FELT_WORDS[key].capitalize()}: {'not felt' if mine is None else felt_words(mine, self.workspace.unit)}. Click: a little, plainly, badly, not at all."
                picture.hits.append(Hit(box, tip, partial(self.mark, key), f"felt {key}"))
                y += 29
            y += 2
        return y

    def as_text(self) -> str:
        unit = self.workspace.unit
        lines = [line for run in self.workspace.project.log.runs for line in run_lines(run, unit)]
        lines += [band_words(b, unit) for b in own_bands(self.workspace.project.log.runs)]
        return "\n".join([*lines, hit_words(hit_rate(self.workspace.project.log.runs))] if lines else ["No run yet."])
