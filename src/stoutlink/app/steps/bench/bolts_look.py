"""Bolts: every place with its thread, its torque and whose that is; put down with the wrench, loosened, torqued again."""

from __future__ import annotations

import datetime
from functools import partial

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_bar import InstrumentBar
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.panels.reading_line import ReadingLine, Typed
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.bench_words import BOLT_WORDS, bolt_words
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.document.bench import ASSEMBLIES, ASSEMBLY_WORDS, Fastener, Tightened
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.bench_edits import Loosen, Tighten
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.quantity.shown import show

GROUPS = (
    ("torque", "Torque", "How many, to what, and whose number that is."),
    ("thread", "Thread", "Thread and grade: what an estimate is made from."),
)
NOTE = "An estimate is 0.75 of proof load by K·F·d, dry or oiled as said; the part's own record always comes before it."
GRADES = (("", "not said"), *((g, g) for g in ("grade 5", "grade 8", "8.8", "10.9", "12.9")))
MARKS = {"open": "○", "part": "◐", "undone": "↺", "out": "▲", "again": "◷", "done": "✓"}


class BoltsLook(WorkingLook):
    """The list of the build; a line picked is worked on."""

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "bench_bolts", "Bolts", GROUPS, "Every bolt that matters", parent)
        self.tight = self.large("bolts_tight", "All tight", "Every bolt of this place, to its torque.", self._all)
        self.loosen = self.large("bolts_loose", "Loosened", "Undone to get at something: it is open again.", self._loosen)  # fmt: skip
        self.top.addStretch(1)
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 14, 2)
        self.label = Label("One bolt, by the wrench:", self)
        self.label.setFont(font(11))
        row.addWidget(self.label)
        self.line = ReadingLine(workspace, desk, "torque_line", self)
        self.line.setMaximumWidth(240)
        self.line.entered.connect(self.read)
        row.addWidget(self.line)
        row.addStretch(1)
        self.body.addLayout(row)
        self.instruments = InstrumentBar(workspace, desk, self, ("wrench",))
        self.body.addWidget(self.instruments)
        self.add = self.small("add_bolts", "Add bolts", "Bolts of a place of your own.", self._add)
        self.write = self.small("write_bolts", "Other thread or torque", "Have fields for this place.", self._write)
        self.gone = self.small("remove_bolts", "Remove", "Take your own line, or what was typed of this place, away.", self._remove)  # fmt: skip
        self.foot.addStretch(1)
        self.key = ""

    @property
    def bolts(self) -> tuple[BoltLine, ...]:
        """The list."""
        return self.workspace.study.fasteners

    @property
    def picked(self) -> BoltLine | None:
        """The line picked, else the first that is open."""
        lines = self.bolts
        return next((b for b in lines if b.place.key == self.key), None)

    def prepare(self) -> None:
        one, lines = self.picked, self.bolts
        done = sum(b.passed for b in lines)
        for part in (self.tight, self.loosen, self.label, self.line, self.write):
            part.setVisible(one is not None)
        self.instruments.setVisible(one is not None)
        self.write.setVisible(one is not None and one.work is None)
        self.gone.setVisible(one is not None and one.work is not None and not one.work.tight)
        if one is None:
            now = f"{done} of {len(lines)} places torqued." if lines else "No axle and no layout yet, so no bolts."
            self.show_frame(now, "Pick a place in the list." if lines else "“Add bolts” takes your own.", fields=False)
            return
        self.tight.setEnabled(one.count is not None and one.target is not None)
        self.loosen.setEnabled(one.standing != "undone")
        count = 0 if one.work is None else len(one.work.tight)
        self.line.ask(f"fasteners.{NEW}{one.place.key}.{count}", "Torque put down", "torque", 1, "T")
        assert self.theme is not None
        self.instruments.refresh(self.theme)
        self.show_frame(one.place.name, bolt_words(one, self.workspace.unit).partition(": ")[2] + ".")

    def entries(self) -> list[Entry]:
        """Torque or thread of the line picked."""
        one = self.picked
        if one is None or one.work is None:
            return []
        at = f"fasteners.{one.work.id}"
        if self.group == "torque":
            own = [Entry(f"{at}.name", "name", "text"), Entry(f"{at}.assembly", "belongs to", "choice", tuple((a, ASSEMBLY_WORDS[a]) for a in ASSEMBLIES))] if self._own(one) else []  # fmt: skip
            return [*own, Entry(f"{at}.count", "how many"), Entry(f"{at}.target_nm", "torque"), Entry(f"{at}.source", "whose number", "text"), Entry(f"{at}.again_m", "again after")]  # fmt: skip
        return [
            Entry(f"{at}.diameter_m", "thread"),
            Entry(f"{at}.pitch_m", "pitch"),
            Entry(f"{at}.grade", "grade", "choice", GRADES),
            Entry(f"{at}.oiled", "threads", "choice", ((False, "dry"), (True, "oiled"))),
        ]

    def _own(self, one: BoltLine) -> bool:
        return one.place.key.startswith("own-")

    def pick(self, key: str) -> None:
        """Work on a line."""
        self.key = key
        if self.theme is not None:
            self.refresh(self.theme)
        if self.line.isVisible():
            self.line.setFocus()

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if NEW in path:
            self.key = path.partition(NEW)[2].rpartition(".")[0]
        elif len(parts) > 1:
            self.key = parts[1]
            self.group = "thread" if parts[-1] in ("diameter_m", "pitch_m", "grade", "oiled") else "torque"
        self.show_group(self.group)

    def _like(self, one: BoltLine) -> Fastener:
        """What is written of a place, or an empty record of it."""
        return one.work or Fastener(id=one.place.key, assembly=one.place.assembly)

    def _put(self, one: BoltLine, count: int, torque: float | None, wrench: str) -> None:
        who = next((c.who for c in self.workspace.project.bench.cards if c.id == one.place.assembly), "")
        done = Tightened(
            count=count, torque_nm=torque, wrench=wrench, when=datetime.date.today().isoformat(), by=who,
            driven_m=self.workspace.project.bench.first_drive.driven_m,
        )  # fmt: skip
        self.workspace.do(Tighten(self._like(one), done))

    def _all(self) -> None:
        one = self.picked
        if one is not None and one.count is not None:
            self._put(one, one.count, one.target, "")

    def read(self, typed: object) -> None:
        """One bolt, to what the wrench said."""
        assert isinstance(typed, Typed)
        one = self.picked
        if one is None:
            return
        if typed.values[0] <= 0.0:
            self.line.refuse(f"{typed.values[0]:g}", "a torque put down is more than 0.")
            return
        self._put(one, 1, typed.values[0], "torque wrench")

    def _loosen(self) -> None:
        one = self.picked
        if one is not None:
            self.workspace.do(Loosen(self._like(one)))

    def _write(self) -> None:
        one = self.picked
        if one is not None:
            self.workspace.do(PutInList("fasteners", self._like(one), "Write a bolt's torque"))

    def _add(self) -> None:
        new = free_id("own-", (f.id for f in self.workspace.project.bench.fasteners))
        end = "front" if self.workspace.end == "front" else "rear"
        if self.workspace.do(PutInList("fasteners", Fastener(id=new, name="Bolts", assembly=end), "Add bolts")):  # type: ignore[arg-type]
            self.group = "torque"
            self.pick(new)

    def _remove(self) -> None:
        one = self.picked
        if one is not None and one.work is not None:
            self.workspace.do(TakeFromList("fasteners", (one.work.id,), "Remove bolts"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The list by assembly."""
        w, y, unit = float(picture.width()), 4.0, self.workspace.unit
        for assembly in ASSEMBLIES:
            mine = [b for b in self.bolts if b.place.assembly == assembly]
            if not mine:
                continue
            text(p, QRectF(14, y, w, 20), ASSEMBLY_WORDS[assembly], t.text, size=10, bold=True)
            y += 21
            for one in mine:
                box = QRectF(14, y, w - 28, 22)
                if one.place.key == self.key:
                    p.setPen(QPen(t.dye, 2))
                    p.setBrush(t.raised)
                    p.drawRoundedRect(box, 3, 3)
                colour = _colour(one, t)
                text(p, QRectF(20, y, 20, 22), MARKS[one.standing], colour, size=11, bold=True)
                text(p, QRectF(42, y, 0.36 * w - 42, 22), one.place.name, t.quiet if one.passed else t.text, size=9.5, elide=True)  # fmt: skip
                thread = "" if one.thread is None else f"{one.thread.name} {one.grade}".strip()
                off = "?" if one.count is None else f"{one.count}"
                text(p, QRectF(0.36 * w, y, 0.22 * w, 22), f"{off} × {thread or 'thread not known'}", t.quiet, size=9, elide=True)  # fmt: skip
                torque = "record" if one.target is None else f"{'≈ ' if one.estimated else ''}{show(one.target, 'torque', unit)}"  # fmt: skip
                text(p, QRectF(0.58 * w, y, 0.16 * w, 22), torque, t.text if one.target is not None else t.quiet, size=9.5, bold=one.target is not None, align="right")  # fmt: skip
                state = BOLT_WORDS[one.standing] + (f", {one.done} of {one.count}" if one.standing == "part" else "")
                text(p, QRectF(0.76 * w, y, 0.24 * w - 24, 22), state, colour, size=9, elide=True)
                picture.hits.append(Hit(box, f"{bolt_words(one, unit)}. Click to work on it.", partial(self.pick, one.place.key), f"bolt {one.place.key}"))  # fmt: skip
                y += 23
            y += 4
        y += flow(p, QRectF(14, y, w - 28, 60), NOTE, t.quiet, size=8.5) + 10
        self.tall(y)

    def as_text(self) -> str:
        return "\n".join([*(bolt_words(b, self.workspace.unit) for b in self.bolts), NOTE])


def _colour(one: BoltLine, t: Theme) -> QColor:
    if one.standing in ("out", "undone"):
        return t.oxide
    return t.torch if one.standing in ("again", "part") else t.zinc if one.passed else t.dye
