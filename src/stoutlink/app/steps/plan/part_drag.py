"""A part dragged along the days: what that would move is worked out beside the window while the hand is on it."""

from __future__ import annotations

import datetime
from collections.abc import Mapping

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.steps.plan.desk import PlanDesk
from stoutlink.core.advice.plan_words import anew_words, moved_words
from stoutlink.core.analysis.plan.arrivals import comes_on, due_of
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row
from stoutlink.core.analysis.plan.what_if import WhatIf
from stoutlink.core.editing.bench_edits import put
from stoutlink.core.editing.edits import PutInList


class PartDrag(QObject):
    """``changed`` when there is something else to show. ``held``: the part in the hand and the day it is over."""

    changed = pyqtSignal()

    def __init__(self, desk: PlanDesk, parent: QObject) -> None:
        super().__init__(parent)
        self.desk = desk
        self.work: Background[WhatIf] = Background(self)
        self.held: tuple[str, datetime.date] | None = None
        self.found: WhatIf | None = None

    @property
    def rows(self) -> Mapping[str, Row]:
        """Tasks where they would be."""
        return {} if self.found is None else self.found.rows

    def over(self, key: str, day: datetime.date) -> None:
        """The part is held over a day, today at the earliest."""
        day = max(day, self.desk.today)
        if self.held == (key, day):
            return
        self.held = (key, day)
        study, now, sheet = self.desk.workspace.study, self.desk.minute, self.desk.sheet
        build = study.project.build
        other = msgspec.structs.replace(
            build, arrivals=put(build.arrivals, comes_on(build.part(key), key, day, self.desk.today))
        )

        def work(tell: Progress) -> WhatIf:
            return study.what_if(other, now, sheet)

        self.work.start(work, self._tried, lambda _: None)
        self.changed.emit()

    def _tried(self, found: WhatIf) -> None:
        if self.held is not None:
            self.found = found
            self.changed.emit()

    def words(self, sheet: PlanSheet) -> str:
        """What would move."""
        assert self.held is not None
        key, day = self.held
        late = (
            f" That is after the day wanted, {sheet.plan.wanted}."
            if sheet.plan.wanted and day.isoformat() > sheet.plan.wanted
            else ""
        )
        words = "working out what moves…"
        if self.found is not None:
            words = f"in the order of now {moved_words(self.found.moved, sheet)} {anew_words(self.found.anew)}"
        return f"If “{self.name(key)}” comes on {day:%a %d %b}: {words}{late}"

    def name(self, key: str) -> str:
        """What a part is called."""
        line = None if self.desk.parts is None else self.desk.parts.line(key)
        return key if line is None else line.wanted.title

    def comes(self, key: str, day: datetime.date) -> None:
        """Write down that a part comes on a day, its earliest and latest moved along."""
        self.held = self.found = None
        w = self.desk.workspace
        record = comes_on(w.project.build.part(key), key, max(day, self.desk.today), self.desk.today)
        if not record.name:
            record = msgspec.structs.replace(record, name=self.name(key)[:120])
        wanted = w.project.build.wanted
        if w.do(PutInList("build.arrivals", record, "Move a part's day")) and wanted and record.likely > wanted:
            w.said.emit(f"“{record.name}” comes on {record.likely}, after the day wanted, {wanted}.", False)
        self.changed.emit()

    def shift(self, key: str, days: int) -> None:
        """A part comes days later, or earlier."""
        record = self.desk.workspace.project.build.part(key)
        due = None if record is None else due_of(record, self.desk.today)
        if due is not None:
            self.comes(key, due.likely + datetime.timedelta(days=days))
