"""What the plan's looks show, worked out once for all of them beside the window: schedule and parts first, chance and day then."""

from __future__ import annotations

import datetime
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.analysis.plan.calendars import DAY
from stoutlink.core.analysis.plan.chance import Chance
from stoutlink.core.analysis.plan.day import DaySheet
from stoutlink.core.analysis.plan.parts_list import Between, PartsList, between
from stoutlink.core.analysis.plan.plan_sheet import Moved, PlanSheet, moved
from stoutlink.core.analysis.plan.shop_hours import day_of
from stoutlink.core.analysis.plan.sooner import Sooner
from stoutlink.core.document.build_plan import PartState
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.question import known
from stoutlink.core.study.study import Study


class PlanDesk(QObject):
    """``worked_out`` when something new is there to be shown. ``fresh``: what is held is of the project as it is;
    ``day_fresh``: the day too, else it is the one before."""

    worked_out = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.work: Background[bool] = Background(self)
        self.other: Background[Between] = Background(self)
        self.sheet: PlanSheet | None = None
        self.next: PlanSheet | None = None
        self.chance: Chance | None = None
        self.parts: PartsList | None = None
        self.day: DaySheet | None = None
        self.ways: tuple[Sooner, ...] | None = None
        self.moved: Moved | None = None
        self.fresh = self.day_fresh = False
        self._at: tuple[str, int] = ("", 0)
        self.wants_ways = False

    @property
    def today(self) -> datetime.date:
        """This day."""
        return self.workspace.today()

    @property
    def minute(self) -> int:
        """Midnight of today in minutes of the plan, not before its first day."""
        first = day_of(self.workspace.project.build.begin)
        return 0 if first is None else max(0, (self.today - first).days) * DAY

    @property
    def currency(self) -> str:
        """What money is called."""
        return self.workspace.project.swap.choosing.currency

    def prepare(self) -> None:
        """Take up what is known of the project as it is, and have the rest worked out."""
        study, now, today = self.workspace.study, self.minute, self.today
        begun = bool(study.project.build.begin)
        found, sheet = known(study.plan_of, study.tasks, now) if begun else (True, None)
        got, parts = known(study.parts_list_of, sheet, today) if found else (False, None)
        self.fresh = found and got
        if found:
            same = self._at == (study.project.build.begin, now)
            if sheet is not None and self.sheet is not None and sheet is not self.sheet:
                self.moved = moved(self.sheet, sheet) if same else None
            self.sheet, self._at = sheet, (study.project.build.begin, now)
        if got:
            self.parts = parts
        self.day_fresh = False
        more = self._more(study, sheet, parts, now, today) if self.fresh and sheet is not None else True
        if not begun:
            self.next = self.chance = self.day = self.ways = None
        if (not self.fresh or not more) and not self.workspace.dragging:
            self.work.start(
                self._second if self.fresh else self._first, lambda _: self.worked_out.emit(), lambda _: None
            )

    def _more(self, study: Study, sheet: PlanSheet, parts: PartsList | None, now: int, today: datetime.date) -> bool:
        """Chance, tomorrow and the ways to be sooner, where they are known; whether all that is wanted is."""
        sure, chance = known(study.plan_chance_of, sheet, now)
        self.chance = chance if sure else None
        there, after = known(study.plan_of, study.tasks, now + DAY)
        self.day_fresh = there and after is not None and parts is not None
        if there and after is not None and parts is not None:
            self.next, self.day = after, study.day_of(sheet, after, parts, today)
        ready, ways = known(study.sooner, study.tasks, sheet, now)
        self.ways = ways if ready else None
        return sure and there and (ready or not self.wants_ways)

    def _first(self, tell: Progress) -> bool:
        study, now = self.workspace.study, self.minute
        study.parts_list_of(study.plan_sheet(now), self.today)
        return True

    def _second(self, tell: Progress) -> bool | None:
        study, now = self.workspace.study, self.minute
        sheet = study.plan_sheet(now)
        if sheet is None:
            return True
        parts: list[Callable[[], object]] = [
            lambda: study.plan_sheet(now + DAY),
            lambda: study.plan_chance_of(sheet, now),
        ]
        if self.wants_ways:
            parts.append(lambda: study.sooner(study.tasks, sheet, now))
        for n, one in enumerate(parts):
            if not tell(n / len(parts)):
                return None
            one()
        return True

    def states(self) -> dict[str, PartState]:
        """Every line of the parts list and how far it is."""
        if self.parts is None or not self.fresh:
            return self.workspace.study.part_states
        return {r.id: r.state for r in self.workspace.project.build.arrivals} | {
            x.key: x.state for x in self.parts.lines
        }

    def forget(self) -> None:
        """Another project is in the window: what moved from the one before is nobody's business."""
        self.sheet = self.next = self.chance = self.parts = self.day = self.ways = self.moved = None
        self.fresh = False

    def against(self, path: Path, then: Callable[[Between], None], failed: Callable[[StoutError], None]) -> None:
        """Hold the parts list against that of another project's file, beside the window."""
        study, today = self.workspace.study, self.today

        def work(tell: Progress) -> Between:
            return between(study.parts_list(today), Study(read_project(path)).parts_list(today))

        self.other.start(work, then, lambda _: None, failed)

    def stop(self) -> None:
        """Leave off."""
        self.work.stop()
        self.other.stop()
