"""The inspection sheet: look by look on delivery, ending in keep, repair with its cost, or walk away."""

from __future__ import annotations

import datetime
from functools import partial
from html import escape

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from stoutlink.app.desk.labels import Label, MarkedLabel
from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.analysis.swap.inspection import LOOKS, STATE_WORDS, Judgement
from stoutlink.core.document.swap import CheckState, Inspection, InspectionCheck
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.shown import edit_text, parse_quantity
from stoutlink.core.text import whole

STATES: tuple[CheckState, ...] = ("good", "worn", "bad")
SIGNS = {"keep": "✓", "repair": "◐", "walk away": "✗", "unfinished": "…"}


class InspectLook(DonorLook):
    """Verdict above, counted ratio beside it, one row a look."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "inspect", "Inspection on delivery", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(14, 8, 14, 6)
        self.verdict = MarkedLabel("", self)
        self.verdict.setObjectName("inspection_verdict")
        self.verdict.setWordWrap(True)
        self.verdict.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        outer.addWidget(self.verdict)
        self._count = QWidget(self)
        row = QHBoxLayout(self._count)
        row.setContentsMargins(0, 0, 0, 0)
        self.fields: dict[str, QuantityField] = {}
        self._count_row = row
        self.who = WordField(workspace, None, "Who looked", self._count, name="inspection_who")
        self.who.setPlaceholderText("who looked")
        self.who.setFixedWidth(130)
        row.addWidget(self.who)
        row.addStretch(1)
        outer.addWidget(self._count)
        self.start = QPushButton("Start the sheet", self)
        self.start.setObjectName("start_inspection")
        self.start.setToolTip("Begin an inspection sheet for this axle.")
        self.start.clicked.connect(self._start)
        outer.addWidget(self.start, 0, Qt.AlignmentFlag.AlignLeft)
        area = QScrollArea(self)
        area.setObjectName("inspect_area")
        area.setAccessibleName("What to look at")
        area.setObjectName("inspection_area")
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        inner = QWidget()
        grid = QGridLayout(inner)
        grid.setContentsMargins(0, 4, 6, 4)
        grid.setVerticalSpacing(3)
        area.setWidget(inner)
        outer.addWidget(area, 1)
        self._area = area
        self.buttons: dict[tuple[str, str], QPushButton] = {}
        self.notes: dict[str, KeptLine] = {}
        self.costs: dict[str, KeptLine] = {}
        self._rows: dict[str, list[QWidget]] = {}
        for i, one in enumerate(LOOKS):
            title = MarkedLabel(f"<b>{one.title}</b><br>{one.how}", inner)
            title.setWordWrap(True)
            title.setFont(font(8.5))
            grid.addWidget(title, i, 0)
            group = QButtonGroup(inner)
            group.setExclusive(False)
            widgets: list[QWidget] = [title]
            for j, state in enumerate(STATES):
                button = QPushButton(STATE_WORDS[state], inner)
                button.setObjectName(f"look_{one.id}_{state}")
                button.setAccessibleName(f"{one.title}: {STATE_WORDS[state]}")
                button.setCheckable(True)
                button.setMinimumHeight(32)
                button.setToolTip(
                    {
                        "good": "Nothing found.",
                        "worn": f"Worn: about {one.worn:g} to mend (estimate).",
                        "bad": "Bad: walk away." if one.fatal else f"Bad: about {one.bad:g} to mend (estimate).",
                    }[state]
                )
                button.clicked.connect(lambda _=False, n=one.id, s=state: self.say(n, s))
                group.addButton(button)
                grid.addWidget(button, i, 1 + j)
                self.buttons[one.id, state] = button
                widgets.append(button)
            lines = (
                (self.notes, "note", "note", f"{one.title}: what was found.", self._note, 4),
                (
                    self.costs,
                    "cost",
                    "cost of mending",
                    f"What mending it costs you; empty: about {one.worn:g} when worn, {one.bad:g} when bad (estimates).",
                    self._cost,
                    5,
                ),
            )
            for kept, key, words, tip, slot, column in lines:
                line = KeptLine(workspace, inner)
                line.title = f"{one.title}: {words}"
                line.setObjectName(f"look_{one.id}_{key}")
                line.setAccessibleName(f"{one.title}: {words}")
                line.setPlaceholderText(key)
                line.setToolTip(tip)
                line.editingFinished.connect(partial(slot, one.id))
                grid.addWidget(line, i, column)
                kept[one.id] = line
                widgets.append(line)
            self.costs[one.id].setFixedWidth(64)
            self.notes[one.id].setMinimumWidth(110)
            self._rows[one.id] = widgets
        grid.setColumnStretch(0, 5)
        grid.setColumnStretch(4, 2)
        grid.setRowStretch(len(LOOKS), 1)
        self.judged: Judgement | None = None

    def sheet(self) -> Inspection | None:
        """The sheet of the axle looked at."""
        return (
            None
            if self.donor is None
            else next((i for i in self.workspace.project.swap.inspections if i.id == self.donor.id), None)
        )

    def _start(self) -> None:
        if self.donor is not None and self.sheet() is None:
            self.workspace.do(
                PutInList(
                    "inspections",
                    Inspection(id=self.donor.id, when=datetime.date.today().isoformat()),
                    "Start an inspection sheet",
                )
            )

    def say(self, look: str, state: CheckState) -> None:
        """Note what a look found; the same again takes it back."""
        found = self.sheet() or (
            None if self.donor is None else Inspection(id=self.donor.id, when=datetime.date.today().isoformat())
        )
        if found is None:
            return
        old = found.check(look) or InspectionCheck(id=look)
        new = msgspec.structs.replace(old, state="unknown" if old.state == state else state)
        self._put(found, new)

    def _note(self, look: str) -> None:
        found = self.sheet()
        if found is None:
            return
        old = found.check(look) or InspectionCheck(id=look)
        words = whole(self.notes[look].text().strip())
        if self.notes[look].isModified():
            self._put(found, msgspec.structs.replace(old, note=words), self.notes[look])

    def _cost(self, look: str) -> None:
        """A price of one's own for mending what a look found."""
        found, words = self.sheet(), self.costs[look].text().strip()
        if found is None:
            return
        old = found.check(look) or InspectionCheck(id=look)
        try:
            amount = parse_quantity(words, "money", self.workspace.unit) if words else None
        except StoutError as why:
            if self.costs[look].isModified():
                self.costs[look].refuse(words, why.words)
            return
        if self.costs[look].isModified():
            self._put(found, msgspec.structs.replace(old, cost=amount), self.costs[look])

    def _put(self, found: Inspection, check: InspectionCheck, line: KeptLine | None = None) -> None:
        """Note what was found; a ``line`` keeps the text it has when that cannot be."""
        rest = [c for c in found.checks if c.id != check.id]
        title = next(one.title for one in LOOKS if one.id == check.id).lower()
        edit = PutInList("inspections", msgspec.structs.replace(found, checks=(*rest, check)), f"Inspect {title}")
        if line is None:
            self.workspace.do(edit)
            return
        words = line.text().strip()
        line.release()
        try:
            self.workspace.attempt(edit)
        except StoutError as why:
            line.refuse(words, why.words)

    def prepare(self) -> None:
        w, donor, t = self.workspace, self.donor, self.theme
        found = self.sheet()
        self.start.setVisible(donor is not None and found is None)
        self._area.setVisible(donor is not None and found is not None)
        self._count.setVisible(found is not None)
        if donor is None or t is None:
            self.verdict.setText("Pick a candidate at the left: its inspection sheet leads through the delivery.")
            return
        self.judged = j = self.workspace.study.judged(donor)
        if found is not None:
            for key, words in (
                ("tag_ratio", "ratio on the tag"),
                ("pinion_turns", "pinion turns"),
                ("wheel_turns", "for wheel turns"),
            ):
                path = f"inspections.{donor.id}.{key}"
                if key not in self.fields:
                    label = Label(words, self._count)
                    label.setFont(font(9))
                    field = QuantityField(w, path, self._count, title=words.capitalize())
                    field.setFixedSize(74, 24)
                    self._count_row.insertWidget(2 * len(self.fields), label)
                    self._count_row.insertWidget(2 * len(self.fields) + 1, field)
                    self.fields[key] = field
                elif self.fields[key].path != path:
                    self.fields[key].set_path(path)
                self.fields[key].refresh()
            for one in LOOKS:
                check = found.check(one.id)
                for widget in self._rows[one.id]:
                    widget.setVisible(donor.end in one.ends)
                for state in STATES:
                    self.buttons[one.id, state].setChecked(check is not None and check.state == state)
                here, own = f"inspections.{donor.id}.{NEW}.{one.id}", check.cost if check is not None else None
                self.notes[one.id].offer(f"{here}.note", check.note if check is not None else "")
                self.costs[one.id].offer(f"{here}.cost", "" if own is None else edit_text(own, "money", w.unit))
            self.who.path = f"inspections.{donor.id}.who"
            self.who.refresh()
            self.who.setToolTip(f"Who looked it over, on {found.when}." if found.when else "Who looked it over.")
        colour = {"keep": t.text, "repair": t.brass, "walk away": t.oxide, "unfinished": t.quiet}[j.verdict]
        money = f" Repairs about {j.cost:.0f} {w.project.swap.choosing.currency}".rstrip() + "." if j.cost else ""
        counted = f" Counted ratio {j.counted:.2f}." if j.counted is not None else ""
        trouble = (
            f"<br><span style='color:{t.torch.name()}'>▲ {escape(j.ratio_trouble)}</span>" if j.ratio_trouble else ""
        )
        self.verdict.setText(
            f"<span style='font-size:15pt; color:{colour.name()}'><b>{SIGNS[j.verdict]} {j.verdict.capitalize()}</b></span>&nbsp;&nbsp; {escape(j.why)}{escape(money)}{counted}{trouble}"
            f"<br><span style='color:{t.quiet.name()}; font-size:8.5pt'>Block the axle so that it cannot roll or tip; springs and parking brakes store energy. A look over replaces no licensed inspection.</span>"
        )

    def as_text(self) -> str:
        donor, found = self.donor, self.sheet()
        if donor is None:
            return "No axle looked at."
        j = self.workspace.study.judged(donor)
        out = [
            f"Inspection of {donor.name}" + (f", {found.when} {found.who}".rstrip() if found else ""),
            f"{j.verdict}: {j.why}",
        ]
        for one in LOOKS:
            if donor.end in one.ends:
                check = found.check(one.id) if found else None
                out.append(
                    f"{one.title}\t{STATE_WORDS[check.state if check else 'unknown']}\t{check.note if check else ''}"
                )
        return "\n".join(out + [f"{w}\t{c:.0f}" for _, w, c in j.repairs])
