"""Gears: set up attempt by attempt: what was in, what was read of it, what it says, what to put in next."""

from __future__ import annotations

import datetime
import random
from functools import partial

import msgspec
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.bench.backlash_line import BacklashLine
from stoutlink.app.steps.bench.tooth import Tooth
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.gear_words import CAUTION, attempt_words, small, verdict_words, wrong_words
from stoutlink.core.analysis.bench.gear_model import Window
from stoutlink.core.analysis.bench.gear_sheet import GearSheet, Shims
from stoutlink.core.document.gear_setup import (
    CUT_WORDS,
    GearAttempt,
    GearReading,
    GearSetup,
    Patch,
    ShimStack,
)
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.study.gear_game import felt, is_right, trainer_setup, with_attempt, with_reading

GROUPS = (
    ("attempt", "Attempt", "The shims that are in now."),
    ("sheet", "Sheet", "What the gear's own sheet wants, and how this housing is shimmed."),
    ("shims", "Shims", "What shims are owned: the next ones come from these."),
)


class GearLook(WorkingLook):
    """The verdict above, both flanks and the readings in the middle, the attempts below."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "bench_gear", "Gears", GROUPS, "Attempts", parent)
        self.put_in = self.large(
            "shims_in", "These shims are in", "The next attempt, with the shims proposed.", self._put_in
        )
        self.again = self.large("read_again", "Read it again", "A new reading of the same shims.", self._again)
        self.measure = self.large("measure", "Turn it and look", "The simulated housing answers.", self._measure)
        self.top.addStretch(1)
        teeth = QHBoxLayout()
        teeth.setContentsMargins(12, 0, 12, 0)
        self.drive, self.coast = Tooth("tooth_drive", "Drive flank", self), Tooth("tooth_coast", "Coast flank", self)
        self.drive.painted.connect(partial(self._paint_flank, "drive"))
        self.coast.painted.connect(partial(self._paint_flank, "coast"))
        teeth.addWidget(self.drive)
        teeth.addWidget(self.coast)
        self.body.addLayout(teeth)
        self.line = BacklashLine(workspace, self)
        self.line.entered.connect(self.enter)
        self.body.addWidget(self.line)
        self._buttons()
        self.sheet: GearSheet | None = None
        self.stack = ""
        self._gesture = 0

    def _buttons(self) -> None:
        self.begin = self.small("begin_gears", "Begin with this axle", "Set this axle's gears up.", self._begin)
        self.play = self.small(
            "practise_gears",
            "Practise",
            "A simulated housing with hidden errors: set it up in as few attempts as you can.",
            lambda: self.practise(random.randrange(1, 1_000_000)),
        )
        self.other = self.small("other_shims", "Other shims", "An attempt with shims of your own choice.", self._other)
        self.add = self.small("add_shim", "Add shim", "A shim that is owned.", self._add_shim)
        self.gone = self.small("remove_shim", "Remove shim", "The shim picked is not owned.", self._remove_shim)
        self.close_ = self.small("end_gears", "Put away", "Take this set-up away; undo brings it back.", self._put_away)
        self.foot.addStretch(1)

    @property
    def setup(self) -> GearSetup | None:
        """The set-up of this axle."""
        return None if self.sheet is None else self.sheet.setup

    def prepare(self) -> None:
        w = self.workspace
        self.sheet = w.study.gear_sheet(w.end)
        setup = self.setup
        last = setup.attempts[-1] if setup is not None and setup.attempts else None
        reading = last.readings[-1] if last is not None and last.readings else None
        window = None
        if setup is not None and setup.low_m is not None and setup.high_m is not None:
            window = Window((setup.low_m, setup.high_m))
        assert self.theme is not None
        self.drive.show_patch(self.theme, None if reading is None else reading.drive, window)
        self.coast.show_patch(self.theme, None if reading is None else reading.coast, window)
        game = setup is not None and setup.trainer is not None
        for tooth in (self.drive, self.coast):
            tooth.setVisible(last is not None)
            tooth.setEnabled(not game)
        self.line.setVisible(last is not None and not game)
        self.line.offer(setup, last)
        self._enable(setup, last, reading, game)
        self.show_frame(
            "No gear set-up of this axle yet." if self.sheet is None else self._said(),
            "" if self.sheet is None else wrong_words(self.sheet),
            fields=setup is not None,
        )

    def _said(self) -> str:
        assert self.sheet is not None
        words = verdict_words(self.sheet, self.workspace.unit)
        if self.sheet.verdict == "right" and self.sheet.setup.trainer is not None:
            truth = (
                "and it is" if is_right(self.sheet.setup) else "but the housing hides that it is not: that game is lost"
            )
            return f"{words} You say so after {len(self.sheet.setup.attempts)} attempts, {truth}."
        return words

    def _enable(
        self, setup: GearSetup | None, last: GearAttempt | None, reading: GearReading | None, game: bool
    ) -> None:
        there = setup is not None
        self.begin.setVisible(not there)
        self.play.setVisible(not there)
        for one in (self.other, self.add, self.gone, self.close_, self.put_in):
            one.setVisible(there)
        whole = (
            reading is not None and bool(reading.backlash_m) and reading.drive is not None and reading.coast is not None
        )
        self.again.setVisible(there and not game)
        self.again.setEnabled(whole)
        self.measure.setVisible(game)
        self.measure.setEnabled(self.sheet is not None and self.sheet.verdict != "right")
        self.put_in.setEnabled(self.sheet is not None and self.sheet.next is not None)
        self.other.setEnabled(last is not None)
        self.gone.setEnabled(there and bool(self.stack) and self.group == "shims")

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        setup = self.setup
        if setup is None:
            return []
        last = setup.attempts[-1] if setup.attempts else None
        at = f"gears.{setup.id}"
        if self.group == "attempt":
            if last is None:
                return []
            here = f"{at}.attempts.{last.id}"
            return [
                Entry(f"{here}.pinion_m", "pinion"),
                Entry(f"{here}.toward_m", "ring side"),
                Entry(f"{here}.away_m", "other side"),
            ]
        if self.group == "sheet":
            return [
                Entry(f"{at}.low_m", "backlash from"),
                Entry(f"{at}.high_m", "to"),
                Entry(f"{at}.spread_m", "spread allowed"),
                Entry(f"{at}.source", "whose numbers", "text"),
                Entry(f"{at}.cut", "cut", "choice", tuple(CUT_WORDS.items())),
                Entry(f"{at}.thicker", "thicker is", "choice", (("deeper", "deeper"), ("shallower", "shallower"))),
                Entry(
                    f"{at}.spacer", "pinion's spacer", "choice", (("sleeve", "crush sleeve"), ("solid", "solid, shims"))
                ),
            ]
        if all(s.id != self.stack for s in setup.stacks):
            self.stack = setup.stacks[-1].id if setup.stacks else ""
        if not self.stack:
            return []
        here = f"{at}.stacks.{self.stack}"
        return [
            Entry(f"{here}.place", "goes to", "choice", (("pinion", "the pinion"), ("ring", "the ring"))),
            Entry(f"{here}.thick_m", "thickness"),
            Entry(f"{here}.count", "how many"),
        ]

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if NEW in path or (len(parts) > 2 and parts[2] == "attempts"):
            self.group = "attempt"
        elif len(parts) > 3 and parts[2] == "stacks":
            self.group, self.stack = "shims", parts[3]
        else:
            self.group = "sheet"
        self.show_group(self.group)

    def pick(self, stack: str) -> None:
        """Show a shim's fields."""
        self.stack = stack
        self.show_group("shims")

    def _put(self, setup: GearSetup, words: str, gesture: str = "") -> None:
        self.workspace.do(PutInList("gears", setup, words, gesture=gesture))

    def _begin(self) -> None:
        end = "front" if self.workspace.end == "front" else "rear"
        first = GearAttempt(id="attempt-1", pinion_m=0.0, toward_m=0.0, away_m=0.0)
        self.group = "sheet"
        self._put(GearSetup(id=end, attempts=(first,)), "Begin a gear set-up")  # type: ignore[arg-type]

    def practise(self, seed: int) -> None:
        """Play against a simulated housing."""
        end = "front" if self.workspace.end == "front" else "rear"
        self._put(trainer_setup(end, seed), "Practise gears")  # type: ignore[arg-type]

    def _put_away(self) -> None:
        if self.setup is not None:
            self.workspace.do(TakeFromList("gears", (self.setup.id,), "Put a gear set-up away"))

    def _put_in(self) -> None:
        sheet = self.sheet
        if sheet is not None and sheet.next is not None:
            self._put(with_attempt(sheet.setup, sheet.next.shims), "Put shims in")

    def _other(self) -> None:
        setup = self.setup
        if setup is not None and setup.attempts:
            last = setup.attempts[-1]
            self.group = "attempt"
            self._put(with_attempt(setup, Shims(last.pinion_m, last.toward_m, last.away_m)), "An attempt")

    def _again(self) -> None:
        if self.setup is not None:
            self._put(with_reading(self.setup, GearReading(when=_today())), "Read an attempt again")

    def _measure(self) -> None:
        if self.setup is not None and self.setup.trainer is not None:
            self._put(with_reading(self.setup, felt(self.setup)), "Turn it and look")

    def enter(self, values: object) -> None:
        """Backlash was typed: it goes into the reading that is being made."""
        assert isinstance(values, tuple)
        self._change("Backlash read", backlash_m=values)

    def _paint_flank(self, which: str, patch: Patch, over: bool) -> None:
        self._change("Paint a flank", gesture=f"{which}-{self._gesture}", **{which: patch})
        if over:
            self._gesture += 1

    def _change(self, words: str, gesture: str = "", **changes: object) -> None:
        """Change the reading that is being made: the last one, or a first."""
        setup = self.setup
        if setup is None or not setup.attempts:
            return
        last = setup.attempts[-1]
        reading = last.readings[-1] if last.readings else GearReading(when=_today())
        after = msgspec.structs.replace(reading, **changes)
        attempt = msgspec.structs.replace(last, readings=(*last.readings[:-1], after))
        self._put(msgspec.structs.replace(setup, attempts=(*setup.attempts[:-1], attempt)), words, gesture)

    def _add_shim(self) -> None:
        setup = self.setup
        if setup is None:
            return
        new = free_id("shim-", (s.id for s in setup.stacks))
        like = next((s for s in setup.stacks if s.id == self.stack), None)
        stack = ShimStack(id=new, place="pinion" if like is None else like.place, thick_m=0.000254)
        if self.workspace.do(PutInList(f"gears.{setup.id}.stacks", stack, "Add a shim")):
            self.pick(new)

    def _remove_shim(self) -> None:
        if self.setup is not None and self.stack:
            self.workspace.do(TakeFromList(f"gears.{self.setup.id}.stacks", (self.stack,), "Remove a shim"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Attempts and shims."""
        w, y, unit, setup = float(picture.width()), 6.0, self.workspace.unit, self.setup
        if setup is None:
            words = "“Begin with this axle”: the shims that were in count as the first attempt; type what the gear's sheet wants, read backlash round the ring, paint both flanks. What to put in next comes from the shims you own and from what this very housing did so far. “Practise” plays the same against a simulated one."
            flow(p, QRectF(24, y + 10, w - 48, 90), words, t.quiet, size=11)
            return
        text(p, QRectF(16, y, w - 32, 18), "Attempts", t.text, size=10, bold=True)
        y += 20
        for number, attempt in enumerate(setup.attempts, 1):
            y += flow(p, QRectF(28, y, w - 44, 40), f"{number}. {attempt_words(attempt, unit)}", t.text, size=9.5) + 3
        y += 4
        if setup.stacks:
            text(p, QRectF(16, y, w - 32, 18), "Shims owned", t.text, size=10, bold=True)
            y += 20
        for stack in setup.stacks:
            box = QRectF(20, y, w - 40, 18)
            if stack.id == self.stack and self.group == "shims":
                p.setPen(QPen(t.dye, 2))
                p.drawRect(box)
            words = f"{stack.count} × {small(stack.thick_m, unit)} for the {stack.place}"
            text(p, box.adjusted(8, 0, 0, 0), words, t.text, size=9.5)
            picture.hits.append(
                Hit(box, f"{words}. Click to change it.", partial(self.pick, stack.id), f"shim {stack.id}")
            )
            y += 20
        y += flow(p, QRectF(16, y + 4, w - 32, 60), CAUTION, t.quiet, size=8.5) + 12
        self.tall(y)

    def as_text(self) -> str:
        setup, unit = self.setup, self.workspace.unit
        if setup is None or self.sheet is None:
            return "No gear set-up of this axle yet."
        lines = [self._said(), wrong_words(self.sheet)]
        lines += [f"{k}. {attempt_words(a, unit)}" for k, a in enumerate(setup.attempts, 1)]
        lines += [f"{s.count} × {small(s.thick_m, unit)} for the {s.place}" for s in setup.stacks]
        return "\n".join([*(line for line in lines if line), CAUTION])


def _today() -> str:
    return datetime.date.today().isoformat()
