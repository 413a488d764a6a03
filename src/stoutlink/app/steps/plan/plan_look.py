"""Plan: today's task large, the build as lanes below it, hours and people, parts on their way."""

from __future__ import annotations

from functools import partial

import msgspec
from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.plan.lanes import draw_lanes
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.plan_words import (
    CAUTION,
    end_words,
    moved_words,
    part_words,
    row_words,
    sheet_words,
    time_words,
    waits_words,
)
from stoutlink.core.analysis.plan.chance import Chance
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row, moved
from stoutlink.core.analysis.plan.shop_hours import USUAL, day_of
from stoutlink.core.document.build_plan import (
    LANE_WORDS,
    Closed,
    OpenHours,
    OwnTask,
    PartRecord,
    TaskChange,
    TaskState,
    Worker,
)
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList
from stoutlink.core.study.question import known

GROUPS = (
    ("task", "Task", "Hours, people, and what else it waits for."),
    ("days", "Days", "First day, the day it should drive, quiet hours, both schools."),
    ("hours", "Hours", "When there is time."),
    ("closed", "Closed", "Days nothing is done, or nothing outdoors."),
    ("people", "People", "Who works on it, and who is away."),
    ("parts", "Parts", "What is on its way, and when it comes."),
)
WEEK = (("weekdays", "weekdays"), ("saturday", "Saturdays"), ("sunday", "Sundays"), ("every_day", "every day"))
KINDS = ((None, "as proposed"), ("shop", "working hours"), ("quiet", "not in quiet hours"), ("outdoors", "outdoors"), ("always", "runs on"))  # fmt: skip
PART_STATES = tuple((s, s) for s in ("needed", "ordered", "late", "here", "wrong"))


class PlanLook(WorkingLook):
    """``elsewhere`` asks for the step where a task is done."""

    elsewhere = pyqtSignal(str)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "plan", "Plan", GROUPS, "The build as lanes", parent, columns=4, wide=112)
        self.done = self.large("task_done", "Done", "This task is done.", partial(self.mark, "done"))
        self.tacked = self.large("task_tacked", "Tacked only", "It stands, and is not final: it counts as not done.", partial(self.mark, "tacked"))  # fmt: skip
        self.reopen = self.large("task_open", "Open again", "It is not done after all.", partial(self.mark, "open"))
        self.drop = self.large("task_dropped", "Leave out", "It is not done in this build.", partial(self.mark, "dropped"))  # fmt: skip
        self.there = self.large("task_where", "Go there", "Where it is done.", self._go_there)
        self.top.addStretch(1)
        self.begin = self.small("begin_plan", "Begin today", "Plan from today on, evenings and Saturdays.", self._begin)
        self.add = self.small("add_to_plan", "Add task", "One more of what is shown here.", self._add)
        self.gone = self.small("remove_from_plan", "Remove", "Take what is picked away.", self._remove)
        self.seen = self.small("plan_seen", "I have seen what is new", "What came and went is told from now on.", self._seen)  # fmt: skip
        self.foot.addStretch(1)
        self.work: Background[bool] = Background(self)
        self.key, self.one = "", ""
        self.sheet: PlanSheet | None = None
        self.chance: Chance | None = None
        self._before: PlanSheet | None = None
        self._moved = ""

    @property
    def minute(self) -> int:
        """Midnight of today in minutes of the plan, not before its first day."""
        first = day_of(self.workspace.project.build.begin)
        return 0 if first is None else max(0, (self.workspace.today() - first).days) * 24 * 60

    def prepare(self) -> None:
        study, now = self.workspace.study, self.minute
        plan = study.project.build
        found = False
        if plan.begin:
            found, sheet = known(study.plan_of, study.tasks, now)
            if found:
                self._show(sheet)
            elif not self.workspace.dragging:

                def work(tell: Progress) -> bool:
                    found_ = study.plan_sheet(now)
                    if found_ is not None:
                        study.plan_chance_of(found_, now)
                    return True

                self.work.start(work, lambda _: self._worked_out(), lambda _: None)
        else:
            self.sheet = self.chance = None
        self._buttons(bool(plan.begin))
        if not plan.begin:
            count = len(study.tasks)
            self.show_frame(
                f"{count} tasks follow from the choices made; no day is said yet." if count else "No task yet.",
                "“Begin today” lays them out over evenings and Saturdays; days, hours and people are typed below."
                if count
                else "Choose an axle in Donors or a layout: tasks are made from them.",
            )
            return
        if not found and self.sheet is None:
            self.show_frame("Laying the tasks out…", "")
            return
        assert self.sheet is not None
        stale = "" if found else " (laying out what changed…)"
        self.show_frame(end_words(self.sheet, self.chance) + stale, self._more(self.sheet))

    def _show(self, sheet: PlanSheet | None) -> None:
        if sheet is not None and self._before is not None and sheet is not self._before:
            found = moved(self._before, sheet)
            self._moved = moved_words(found, sheet) if found.tasks else ""
        self.sheet = self._before = sheet
        ready, chance = (
            (False, None) if sheet is None else known(self.workspace.study.plan_chance_of, sheet, self.minute)
        )
        self.chance = chance if ready else None

    def _worked_out(self) -> None:
        if self.theme is not None:
            self.refresh(self.theme)

    def _more(self, sheet: PlanSheet) -> str:
        words = f"Looks {sheet.looks:.0%}, done {sheet.done:.0%} by hours."
        if sheet.came or sheet.went:
            words += f" Since it was looked at: {len(sheet.came)} tasks came, {len(sheet.went)} went."
        return f"{words} {self._moved}".strip()

    @property
    def row(self) -> Row | None:
        """The task picked, else the one that comes next."""
        if self.sheet is None:
            return None
        picked = self.sheet.row(self.key)
        if picked is not None:
            return picked
        open_ = [r for r in self.sheet.rows if r.begin is not None and r.task.people > 0]
        return min(open_, key=lambda r: r.begin or 0, default=None)

    def _buttons(self, begun: bool) -> None:
        row = self.row
        for button, on in (
            (self.done, row is not None and row.state != "done"),
            (self.tacked, row is not None and row.state == "open"),
            (self.reopen, row is not None and row.change is not None and row.change.state != "open"),
            (self.drop, row is not None and row.state not in ("done", "dropped")),
            (self.there, row is not None and bool(row.task.where[0])),
        ):
            button.setVisible(begun and on)
        self.begin.setVisible(not begun)
        names = {"task": "Add task", "hours": "Add hours", "closed": "Add closed days", "people": "Add person", "parts": "Add part"}  # fmt: skip
        self.add.setVisible(begun and self.group in names)
        self.add.setText(names.get(self.group, ""))
        self.gone.setVisible(begun and self.group in names and (self.group != "task" or self.key.startswith("own-")))
        self.seen.setVisible(self.sheet is not None and bool(self.sheet.came or self.sheet.went or not self.sheet.plan.seen))  # fmt: skip

    def _list(self) -> str:
        return {"hours": "hours", "closed": "closed", "people": "people", "parts": "arrivals"}.get(self.group, "")

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        plan, at = self.workspace.project.build, "build"
        if self.group == "days":
            return [
                Entry(f"{at}.begin", "first day", "text"), Entry(f"{at}.wanted", "should drive", "text"), Entry(f"{at}.access_ends", "place until", "text"),
                Entry(f"{at}.places", "tasks at the vehicle"), Entry(f"{at}.quiet_from_h", "quiet from"), Entry(f"{at}.quiet_to_h", "quiet to"),
                Entry(f"{at}.first", "which end first", "choice", (("rear", "rear first"), ("front", "front first"))),
                Entry(f"{at}.bump", "tacked at", "choice", (("bump", "full bump"), ("ride", "ride height"))),
            ]  # fmt: skip
        if self.group == "task":
            return self._task_entries()
        items = getattr(plan, self._list())
        if all(i.id != self.one for i in items):
            self.one = items[-1].id if items else ""
        if not self.one:
            return []
        here = f"{at}.{self._list()}.{self.one}"
        if self.group == "hours":
            return [Entry(f"{here}.days", "on", "choice", WEEK), Entry(f"{here}.from_h", "from"), Entry(f"{here}.to_h", "to")]  # fmt: skip
        if self.group == "closed":
            return [Entry(f"{here}.first", "first day", "text"), Entry(f"{here}.last", "last day", "text"), Entry(f"{here}.what", "closed for", "choice", (("shop", "everything"), ("outdoors", "work outdoors"))), Entry(f"{here}.why", "why", "text")]  # fmt: skip
        if self.group == "people":
            return [Entry(f"{here}.name", "name", "text"), Entry(f"{here}.away_from", "away from", "text"), Entry(f"{here}.away_to", "to", "text")]  # fmt: skip
        return [Entry(f"{here}.name", "part", "text"), Entry(f"{here}.state", "it is", "choice", PART_STATES), Entry(f"{here}.earliest", "earliest", "text"), Entry(f"{here}.likely", "likely", "text"), Entry(f"{here}.latest", "latest", "text")]  # fmt: skip

    def _task_entries(self) -> list[Entry]:
        row, plan = self.row, self.workspace.project.build
        key = self.key or ("" if row is None else row.task.key)
        if plan.change(key) is None:
            return []
        at, own = f"build.changes.{key}", f"build.own.{key}"
        mine = [Entry(f"{own}.title", "task", "text"), Entry(f"{own}.lane", "belongs to", "choice", tuple(LANE_WORDS.items())), Entry(f"{own}.at_vehicle", "at the vehicle", "choice", ((True, "yes"), (False, "on the bench"))), Entry(f"{own}.needs", "needs parts", "words")] if any(o.id == key for o in plan.own) else []  # fmt: skip
        return [
            *mine, Entry(f"{at}.least_h", "at least"), Entry(f"{at}.likely_h", "likely"), Entry(f"{at}.most_h", "at most"), Entry(f"{at}.spent_h", "spent"),
            Entry(f"{at}.people", "people"), Entry(f"{at}.hours", "when", "choice", KINDS), Entry(f"{at}.not_before", "not before", "text"),
            Entry(f"{at}.after", "also after", "words"), Entry(f"{at}.not_after", "not after", "words"), Entry(f"{at}.why", "note", "text"),
        ]  # fmt: skip

    def pick(self, key: str) -> None:
        """Work on a task."""
        self.key = key
        self.group = "task"
        plan = self.workspace.project.build
        if plan.change(key) is None:
            self.workspace.do(PutInList("build.changes", TaskChange(id=key), "Look at a task"))
        self.show_group("task")

    def pick_one(self, key: str) -> None:
        """Work on one of a list."""
        self.one = key
        self.show_group(self.group)

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        lists = {"hours": "hours", "closed": "closed", "people": "people", "arrivals": "parts"}
        tail = parts[1] if len(parts) > 1 else ""
        if tail in ("changes", "own"):
            self.group, self.key = "task", parts[2] if len(parts) > 2 else self.key
        elif tail in lists:
            self.group, self.one = lists[tail], parts[2] if len(parts) > 2 else self.one
        else:
            self.group = "days"
        self.show_group(self.group)

    def mark(self, state: TaskState) -> None:
        """Say how far the task is."""
        row = self.row
        if row is None:
            return
        if state == "done" and row.task.tacked:
            self.workspace.said.emit(f"“{row.task.title}” is tacked only: it is done when its beads are laid.", True)
            return
        old = row.change or TaskChange(id=row.task.key)
        new = msgspec.structs.replace(
            old, state=state, when=self.workspace.today().isoformat() if state != "open" else ""
        )
        if self.workspace.do(PutInList("build.changes", new, f"Task {state}")):
            self.key = ""
            self._worked_out()

    def _go_there(self) -> None:
        row = self.row
        if row is not None:
            self.elsewhere.emit(row.task.where[0])

    def _begin(self) -> None:
        plan = self.workspace.project.build
        hours = plan.hours or USUAL
        people = plan.people or (Worker(id="person-1", name="You"),)
        study = self.workspace.study
        seen = tuple(t.key for t in study.tasks)
        arrivals = plan.arrivals or self._parts()
        new = msgspec.structs.replace(plan, begin=self.workspace.today().isoformat(), hours=hours, people=people, seen=seen, arrivals=arrivals)  # fmt: skip
        self.group = "days"
        self.workspace.do(SetChoice("build", new, "plan"))

    def _parts(self) -> tuple[PartRecord, ...]:
        """Bought lines that tasks need, to be given a day."""
        needs = dict.fromkeys(n for t in self.workspace.study.tasks for n in t.needs)
        return tuple(PartRecord(id=n, name=n.replace("_", " ").replace("-", ", ").capitalize()) for n in needs)

    def _add(self) -> None:
        plan = self.workspace.project.build
        today = self.workspace.today().isoformat()
        if self.group == "task":
            key = free_id("own-", (o.id for o in plan.own))
            own = msgspec.structs.replace(plan, own=(*plan.own, OwnTask(id=key, title="A task of your own")), changes=(*plan.changes, TaskChange(id=key)))  # fmt: skip
            if self.workspace.do(SetChoice("build", own, "own task")):
                self.pick(key)
            return
        items = getattr(plan, self._list())
        key = free_id(f"{self.group}-", (i.id for i in items))
        item = {
            "hours": OpenHours(id=key), "closed": Closed(id=key, first=today, last=today), "people": Worker(id=key, name="Somebody"), "parts": PartRecord(id=key, name="Part"),
        }[self.group]  # fmt: skip
        if self.workspace.do(PutInList(f"build.{self._list()}", item, f"Add {self.group}")):
            self.pick_one(key)

    def _remove(self) -> None:
        if self.group == "task":
            if self.key.startswith("own-"):
                self.workspace.do(TakeFromList("build.own", (self.key,), "Remove a task"))
        elif self.one:
            self.workspace.do(TakeFromList(f"build.{self._list()}", (self.one,), "Remove from the plan"))

    def _seen(self) -> None:
        keys = tuple(t.key for t in self.workspace.study.tasks)
        keys += tuple(o.id for o in self.workspace.project.build.own)
        self.workspace.do(SetChoice("build.seen", keys, "plan looked at"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Today's card, the lanes, what the group picked lists."""
        sheet, w = self.sheet, float(picture.width())
        y = 0.0
        if sheet is None:
            for task in self.workspace.study.tasks:
                text(p, QRectF(16, y, w - 32, 18), f"{task.title}: {task.hours:.1f} h", t.quiet, size=9.5, elide=True)
                y += 19
            self.tall(y + 10)
            return
        row = self.row
        if row is not None:
            y += 2
            head = "Picked" if row.task.key == self.key else "Next"
            text(p, QRectF(14, y, w - 28, 24), f"{head}: {row.task.title}", t.dye, size=13, bold=True, elide=True)
            y += 25
            when = "" if row.begin is None else f"{time_words(sheet.plan, row.begin)}, {row.hours[1]:.1f} h" + (f", {' and '.join(row.who)}" if row.who else "") + ". "  # fmt: skip
            spare = "It sets the date. " if row.on_chain else "It may not be late. " if row.spare is not None and row.spare < 15 else "" if row.spare is None else f"May be {row.spare / 60:.1f} h late. "  # fmt: skip
            y += flow(p, QRectF(14, y, w - 28, 50), when + spare + " ".join(x[0].upper() + x[1:].rstrip(".") + "." for x in list(waits_words(row, sheet))[:5]), t.text, size=9.5) + 6  # fmt: skip
        p.save()
        p.translate(0, y)
        before = len(picture.hits)
        high, _ = draw_lanes(p, t, picture, sheet, self.minute, self.key, self.pick)
        p.restore()
        picture.hits[before:] = [Hit(h.box.translated(0, y), h.tip, h.act, h.name) for h in picture.hits[before:]]
        y += high
        y = self._listed(p, t, picture, y)
        y += flow(p, QRectF(14, y + 4, w - 28, 40), CAUTION, t.quiet, size=8.5) + 10
        self.tall(y)

    def _listed(self, p: QPainter, t: Theme, picture: Picture, y: float) -> float:
        """What the group picked has, to pick from."""
        name = self._list()
        if not name or self.sheet is None:
            return y
        for one in getattr(self.workspace.project.build, name):
            words = self._words(one)
            box = QRectF(14, y, picture.width() - 28.0, 19)
            text(p, box.adjusted(6, 0, 0, 0), words, t.dye if one.id == self.one else t.text, size=9.5, elide=True)
            picture.hits.append(Hit(box, f"{words}. Click to change it.", partial(self.pick_one, one.id), f"{name} {one.id}"))  # fmt: skip
            y += 20
        return y

    def _words(self, one: OpenHours | Closed | Worker | PartRecord) -> str:
        if isinstance(one, OpenHours):
            return f"{dict(WEEK)[one.days]}, {one.from_h:g} to {one.to_h:g} h"
        if isinstance(one, Closed):
            return f"{one.first} to {one.last or one.first}: {one.why or 'closed'}"
        if isinstance(one, Worker):
            away = f", away {one.away_from} to {one.away_to or one.away_from}" if one.away_from else ""
            return one.name + away
        day = one.likely or one.latest or one.earliest
        return f"{part_words(self.workspace.project.build, one.id)}: {one.state}, {day or 'no day said'}"

    def as_text(self) -> str:
        if self.sheet is None:
            return "\n".join(f"{t.title}: {t.hours:.1f} h" for t in self.workspace.study.tasks) or "No task yet."
        row = self.row
        lines = list(sheet_words(self.sheet, self.chance))
        picked = [row_words(row, self.sheet), *waits_words(row, self.sheet)] if row is not None else []
        return "\n".join([*lines[:1], *picked, *lines[1:], CAUTION])

    def stop(self) -> None:
        self.work.stop()
