"""Card: one step at a time, readable from the bench, with the whole card beside it as a strip."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from functools import partial

import msgspec
from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QColor, QDragEnterEvent, QDropEvent, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_bar import InstrumentBar
from stoutlink.app.panels.instrument_desk import CHANNEL_KIND, InstrumentDesk
from stoutlink.app.panels.reading_line import CHANNEL_OF, ReadingLine, Typed
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.photos import Photos
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.bench_words import (
    CAUTION,
    STANDING_WORDS,
    card_words,
    number,
    reading_words,
    stop_words,
    window_words,
)
from stoutlink.core.analysis.bench.card import Card, CardLine
from stoutlink.core.document.bench import (
    ASSEMBLIES,
    ASSEMBLY_WORDS,
    Assembly,
    BenchCard,
    BenchReading,
    StepState,
    StepWork,
    Stop,
)
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.bench_edits import AddLimits, AddPhoto, MarkStep, TakeReading, card_of
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.errors import StoutError

GROUPS = (
    ("limits", "Limits", "The window of this step, and whose numbers they are."),
    ("stop", "Left at", "Part in hand, what is open or exposed, what is on order."),
    ("who", "Who", "Who stands at the bench, and which tools are not there."),
)
PICKS = tuple((one, ASSEMBLY_WORDS[one], f"The card of the {ASSEMBLY_WORDS[one].lower()}.") for one in ASSEMBLIES)
MARKS = {
    "shut": "·", "open": "○", "unjudged": "◐", "out": "▲", "reopened": "↺", "feel": "~", "done": "✓", "not_here": "–",
}  # fmt: skip


class CardLook(WorkingLook):
    """``wanted`` asks for another look of the bench, or ``cut``."""

    wanted = pyqtSignal(str)

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "bench_card", "Card", GROUPS, "The whole card", parent, columns=3, wide=180)
        self.setAcceptDrops(True)
        self.pick_bar = LookBar(PICKS, "card_of", 8, self)
        self.pick_bar.picked.connect(self.open_card)
        self.before.addWidget(self.pick_bar)
        self.before.addStretch(1)
        self.tick = self.large("step_done", "Done", "This step is done.", partial(self.mark, "done"))
        self.feel = self.large("step_feel", "By feel", "Done without an instrument: it stays an open item.", partial(self.mark, "by_feel"))  # fmt: skip
        self.absent = self.large("step_not_here", "Not here", "This axle does not have it.", partial(self.mark, "not_here"))  # fmt: skip
        self.reopen = self.large("step_open", "Open again", "Take the tick back.", partial(self.mark, "open"))
        self.there = self.large("step_where", "Go there", "Where this is worked on.", self._go_there)
        self.stopper = self.large("stop_here", "Stop here", "Write down where it is left.", self.stop_here)
        self.resume = self.large("go_on", "Go on", "Take it up again.", self.go_on)
        self.top.addStretch(1)
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        left = QVBoxLayout()
        self.big = Picture("card_step", "The step in work", self)
        self.big.setMinimumWidth(380)
        left.addWidget(self.big, 1)
        self.line = ReadingLine(workspace, desk, "reading_line", self)
        self.line.entered.connect(self.read)
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 8, 4)
        row.addWidget(self.line)
        left.addLayout(row)
        middle.addLayout(left, 3)
        middle.addWidget(self.area, 2)
        outer = self.layout()
        assert isinstance(outer, QVBoxLayout)
        outer.insertLayout(4, middle, 1)
        self.instruments = InstrumentBar(
            workspace, desk, self, ("indicator", "caliper", "feeler", "wrench", "gauge", "angle")
        )
        outer.insertWidget(5, self.instruments)
        self.begin = self.small("begin_card", "Begin this card", "Have fields for every limit, and for who is there.", self._begin)  # fmt: skip
        self.limits = self.small("add_limits", "Type limits", "Have fields for the window of this step.", self._limits)
        self.photos = Photos(self, workspace, self._aim)
        tip = "Put a picture beside the project, to this step."
        self.photo = self.small("add_photo", "Photo…", tip, lambda: self.photos.choose("Photo of this step"))
        self.foot.addStretch(1)
        self.assembly: Assembly = "rear"
        self.key = ""
        self._told = ""

    @property
    def card(self) -> Card | None:
        """The card in work."""
        return self.workspace.study.bench_card(self.assembly)

    @property
    def current(self) -> CardLine | None:
        """The step in work: the one picked, else the next."""
        card = self.card
        if card is None or not card.lines:
            return None
        left = None if card.stop is None else card.line(card.stop.step)
        return card.line(self.key) or left or card.next or card.lines[-1]

    def open_card(self, assembly: str) -> None:
        """Work on another assembly: where it was left stands first."""
        self.assembly, self.key = assembly, ""  # type: ignore[assignment]
        if assembly in ("front", "rear"):
            self.workspace.set_end(assembly)
        if self.theme is not None:
            self.refresh(self.theme)

    def end_changed(self) -> None:
        """The other axle is in work."""
        if self.assembly in ("front", "rear") and self.assembly != self.workspace.end:
            self.assembly, self.key = self.workspace.end, ""  # type: ignore[assignment]

    def prepare(self) -> None:
        self.end_changed()
        study = self.workspace.study
        for one, button in self.pick_bar.buttons.items():
            button.setVisible(one in study.assemblies)
        if self.assembly not in study.assemblies and study.assemblies:
            self.assembly = study.assemblies[0]
        self.pick_bar.show_picked(self.assembly)
        card, line = self.card, self.current
        assert self.theme is not None
        self._buttons(card, line)
        if card is None or line is None:
            self.show_frame(
                "No axle is chosen yet, so there is nothing on the bench.",
                "Choose a donor in Donors: its record makes the card.",
                fields=False,
            )
            self.line.setVisible(False)
            self.instruments.setVisible(False)
            self.big.show_with(self.theme, lambda p, t, picture: None)
            return
        at = card.lines.index(line) + 1
        left = f"{card.done} of {len(card.lines)} done."
        more = line.step.why
        if card.stop is not None:
            more = f"{stop_words(card.stop, card)} {more}"
        self.show_frame(f"{at}. {line.step.title}", f"{left} {more}")
        self._ask(line)
        self.big.show_with(self.theme, self._paint_step)

    def _buttons(self, card: Card | None, line: CardLine | None) -> None:
        reads = line is not None and line.step.kind is not None
        found = line is not None and line.step.found is not None
        state = "open" if line is None or line.work is None else line.work.state
        self.tick.setVisible(line is not None and not reads and not found and state != "done")
        self.feel.setVisible(line is not None and line.step.feel and state != "by_feel" and not line.passed)
        self.absent.setVisible(line is not None and state == "open" and not line.passed and line.step.may_lack)
        self.reopen.setVisible(line is not None and state != "open")
        self.there.setVisible(line is not None and found and line.step.where not in ("", "limits"))
        self.stopper.setVisible(card is not None and card.stop is None)
        self.resume.setVisible(card is not None and card.stop is not None)
        self.limits.setVisible(
            line is not None
            and reads
            and line.step.wants_window
            and line.work is None
            and not any(v is not None for v in line.step.window)
        )
        self.photo.setVisible(line is not None)
        self.begin.setVisible(card is not None and self.workspace.project.card(self.assembly) is None)

    def _ask(self, line: CardLine) -> None:
        step = line.step
        self.line.setVisible(step.kind is not None)
        channel = next((CHANNEL_OF[t] for t in step.tools if t in CHANNEL_OF), "")
        self.instruments.setVisible(bool(channel))
        if channel:
            self.instruments.only(CHANNEL_KIND[channel])
            assert self.theme is not None
            self.instruments.refresh(self.theme)
        count = 0 if line.work is None else len(line.work.readings)
        if step.kind is not None:
            place = f"cards.{self.assembly}.{NEW}{step.key}.{count}"
            self.line.ask(place, step.title, step.kind, step.least, channel)

    def entries(self) -> list[Entry]:
        """Limits of the step, where it was left, who is there."""
        card, line = self.workspace.project.card(self.assembly), self.current
        if card is None or line is None:
            return []
        here = f"cards.{self.assembly}"
        if self.group == "limits":
            if line.work is None:
                return []
            at = f"{here}.steps.{line.step.key}"
            note = Entry(f"{at}.note", "note", "text")
            own = line.step.wants_window and line.step.kind is not None
            if not own or any(v is not None for v in line.step.window):
                return [note]
            spread = [Entry(f"{at}.spread", "spread allowed")] if line.step.least > 1 else []
            return [Entry(f"{at}.low", "from"), Entry(f"{at}.high", "to"), *spread, Entry(f"{at}.source", "whose numbers", "text"), note]  # fmt: skip
        if self.group == "stop":
            if card.stop is None:
                return []
            at = f"{here}.stops.{card.stop.id}"
            return [Entry(f"{at}.hand", "in hand", "text"), Entry(f"{at}.exposed", "open or exposed", "text"), Entry(f"{at}.ordered", "on order", "text")]  # fmt: skip
        return [Entry(f"{here}.who", "at the bench", "text"), Entry(f"{here}.lacking", "tools that lack", "words")]

    def pick(self, key: str) -> None:
        """Work on a step."""
        self.key = key
        if self.theme is not None:
            self.refresh(self.theme)
        if self.line.isVisible():
            self.line.setFocus()

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if len(parts) > 1 and parts[1] in ASSEMBLIES:
            self.open_card(parts[1])
        if NEW in path:
            self.key = path.partition(NEW)[2].split(".")[0]
        elif len(parts) > 3 and parts[2] == "steps":
            self.group, self.key = "limits", parts[3]
        elif len(parts) > 3 and parts[2] == "stops":
            self.group = "stop"
        else:
            self.group = "who"
        self.show_group(self.group)

    def _attempt(self) -> str:
        setup = next(
            (g for g in self.workspace.project.bench.gears if g.id == self.assembly and g.trainer is None), None
        )
        return setup.attempts[-1].id if setup is not None and setup.attempts else ""

    def _refuses(self, line: CardLine) -> bool:
        if not line.waits:
            return False
        self.workspace.said.emit(f"“{line.step.title}” waits for: {'; '.join(line.waits)}.", True)
        return True

    def mark(self, state: StepState) -> None:
        """Tick the step in work, unless something must come before it."""
        line, card = self.current, self.card
        if line is None or card is None or (state in ("done", "by_feel") and self._refuses(line)):
            return
        kind = line.step.kind or "number"
        edit = MarkStep(self.assembly, line.step.key, kind, state, _today(), card.who, self._attempt())
        if self.workspace.do(edit):
            self._on(line, state)

    def _on(self, line: CardLine, state: str) -> None:
        """After a tick the next step stands there."""
        self.key = "" if state != "open" else line.step.key
        if self.theme is not None:
            self.refresh(self.theme)

    def read(self, typed: object) -> None:
        """Write a reading down; one that may not be taken yet is refused and stays in the line."""
        line, card = self.current, self.card
        assert isinstance(typed, Typed)
        if line is None or card is None or line.step.kind is None:
            return
        shown = " ".join(number(v, line.step, self.workspace.unit) for v in typed.values)
        if line.waits:
            self.line.refuse(shown, f"it waits for: {'; '.join(line.waits)}.")
            return
        tool = next((t for t in line.step.tools), "")
        reading = BenchReading(values=typed.values, sigma=typed.sigma, when=_today(), by=card.who, tool=tool, at=self._attempt())  # fmt: skip
        axle = self.workspace.project.donor(self.assembly) if self.assembly in ("front", "rear") else None
        edit = TakeReading(self.assembly, line.step.key, line.step.kind, reading, line.step.feeds, "" if axle is None else axle.id)  # fmt: skip
        try:
            self.workspace.attempt(edit)
        except StoutError as why:
            self.line.refuse(shown, why.words)
            return
        after = self.card
        now = None if after is None else after.line(line.step.key)
        self._on(line, "done" if now is not None and now.passed else "open")

    def stop_here(self) -> None:
        """Write down where it is left; what is in hand and exposed is typed below."""
        line = self.current
        card = card_of(self.workspace.project, self.assembly)
        new = free_id("stop-", (s.id for s in card.stops))
        stop = Stop(id=new, step="" if line is None else line.step.key, when=_today(), by=card.who)
        self.group = "stop"
        self.workspace.do(PutInList("cards", msgspec.structs.replace(card, stops=(*card.stops, stop)), "Stop here"))

    def go_on(self) -> None:
        """Take it up again at the step where it was left."""
        card = card_of(self.workspace.project, self.assembly)
        stop = card.stop
        if stop is not None:
            self.key = stop.step
            done = msgspec.structs.replace(stop, resumed=_today())
            self.workspace.do(
                PutInList("cards", msgspec.structs.replace(card, stops=(*card.stops[:-1], done)), "Go on")
            )

    def _begin(self) -> None:
        card = self.card
        if card is None:
            return
        works = tuple(
            StepWork(id=one.step.key, kind=one.step.kind)
            for one in card.lines
            if one.step.kind is not None and one.step.wants_window and not any(v is not None for v in one.step.window)
        )
        self.group = "who"
        self.workspace.do(PutInList("cards", BenchCard(id=self.assembly, steps=works), "Begin a card"))

    def _limits(self) -> None:
        line = self.current
        if line is not None and line.step.kind is not None:
            self.group = "limits"
            self.workspace.do(AddLimits(self.assembly, line.step.key, line.step.kind))

    def _go_there(self) -> None:
        line = self.current
        if line is not None:
            self.wanted.emit(line.step.where)

    def _aim(self) -> Callable[[str], object] | None:
        """What puts a photo to the step in work."""
        line, assembly = self.current, self.assembly
        if line is None:
            return None
        key, kind = line.step.key, line.step.kind or "number"
        return lambda name: self.workspace.do(AddPhoto(assembly, key, kind, name))

    def stop(self) -> None:
        """Leave off work beside the window."""
        super().stop()
        self.photos.stop()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        self.photos.drag(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        self.photos.drop(event)

    def _paint_step(self, p: QPainter, t: Theme, picture: Picture) -> None:
        line = self.current
        if line is None:
            return
        w, y, unit, step = float(picture.width()) - 28, 6.0, self.workspace.unit, line.step
        colour = _colour(line, t)
        text(p, QRectF(14, y, w, 24), f"{MARKS[line.standing]}  {STANDING_WORDS[line.standing]}", colour, size=13, bold=True)  # fmt: skip
        y += 28
        if line.waits:
            y += flow(p, QRectF(14, y, w, 60), f"Waits for: {'; '.join(line.waits)}.", t.torch, size=11) + 4
        if step.kind is not None:
            y += flow(p, QRectF(14, y, w, 50), f"Wanted: {window_words(line, unit)}" if step.wants_window else "Written down as it is.", t.text, size=13) + 6  # fmt: skip
            if line.reading is not None:
                text(p, QRectF(14, y, w, 44), reading_words(line.reading.values, step, unit), colour, size=24, bold=True, elide=True)  # fmt: skip
                y += 48
                near = line.judged is not None and line.judged.near
                if near:
                    y += flow(p, QRectF(14, y, w, 40), "Nearer to its limit than its own ±: read it again.", t.torch, size=11) + 4  # fmt: skip
                count = 0 if line.work is None else len(line.work.readings)
                if count > 1:
                    before = "; ".join(
                        reading_words(r.values, step, unit) for r in (line.work.readings[:-1] if line.work else ())
                    )
                    y += flow(p, QRectF(14, y, w, 40), f"Read before: {before}.", t.quiet, size=10) + 4
        if line.work is not None and line.work.note:
            y += flow(p, QRectF(14, y, w, 60), line.work.note, t.text, size=11) + 4
        if step.tools:
            y += flow(p, QRectF(14, y, w, 30), f"With: {', '.join(step.tools)}.", t.quiet, size=11) + 4
        if step.caution:
            y += flow(p, QRectF(14, y, w, 80), f"Caution: {step.caution}", t.torch, size=11) + 4
        self.photos.paint(p, t, picture, () if line.work is None else line.work.photos, 14.0, y, w)

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The whole card as a strip."""
        card, line = self.card, self.current
        if card is None:
            return
        w, y, phase = float(picture.width()), 4.0, ""
        for number_, one in enumerate(card.lines, 1):
            if one.step.phase != phase:
                phase = one.step.phase
                text(p, QRectF(10, y, w - 20, 18), phase, t.quiet, size=9, bold=True)
                y += 19
            box = QRectF(8, y, w - 16, 22)
            if line is not None and one.step.key == line.step.key:
                p.setPen(QPen(t.dye, 2))
                p.setBrush(t.raised)
                p.drawRoundedRect(box, 3, 3)
            text(p, QRectF(14, y, 20, 22), MARKS[one.standing], _colour(one, t), size=11, bold=True)
            text(p, QRectF(36, y, w - 50, 22), f"{number_}. {one.step.title}", t.quiet if one.passed or one.standing == "shut" else t.text, size=10, elide=True)  # fmt: skip
            tip = f"{one.step.title}: {STANDING_WORDS[one.standing]}" + (f", for {'; '.join(one.waits)}" if one.waits else "") + ". Click to work on it."  # fmt: skip
            picture.hits.append(Hit(box, tip, partial(self.pick, one.step.key), f"step {one.step.key}"))
            y += 23
        if card.lacking:
            y += flow(p, QRectF(12, y + 4, w - 24, 60), f"Not there: {', '.join(card.lacking)}.", t.torch, size=9.5) + 6
        if card.tools:
            y += flow(p, QRectF(12, y + 4, w - 24, 60), f"Tools still wanted: {', '.join(card.tools)}.", t.quiet, size=9) + 6  # fmt: skip
        y += flow(p, QRectF(12, y + 4, w - 24, 90), CAUTION, t.quiet, size=8.5) + 12
        self.tall(y)

    def as_text(self) -> str:
        card = self.card
        if card is None:
            return "No axle is chosen yet, so there is nothing on the bench."
        return "\n".join([*card_words(card, self.workspace.unit), CAUTION])


def _colour(line: CardLine, t: Theme) -> QColor:
    if line.standing in ("out", "reopened"):
        return t.oxide
    if line.standing in ("feel", "unjudged"):
        return t.torch
    return t.zinc if line.standing == "done" else t.quiet if line.standing in ("shut", "not_here") else t.dye


def _today() -> str:
    return datetime.date.today().isoformat()
