"""Plan: today's task large, the build as lanes below it with parts and money on the same days, hours and people."""

from __future__ import annotations

from functools import partial

import msgspec
from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.steps.plan.desk import PlanDesk
from stoutlink.app.steps.plan.fields import WEEK, coming_entries, day_entries, list_entries, task_entries
from stoutlink.app.steps.plan.lanes import Axis, draw_lanes
from stoutlink.app.steps.plan.part_drag import PartDrag
from stoutlink.app.steps.plan.under_lanes import draw_money, draw_parts
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.day_words import conflict_words, held_words, later_words, resume_words, sooner_words
from stoutlink.core.advice.plan_words import (
    CAUTION,
    changed_words,
    end_words,
    news_words,
    progress_words,
    row_words,
    sheet_words,
    time_words,
    waits_words,
    weakest,
)
from stoutlink.core.analysis.plan.access import conflicts, later
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row
from stoutlink.core.analysis.plan.shop_hours import USUAL, moment
from stoutlink.core.document.build_plan import OVER, Closed, OpenHours, OwnTask, TaskState, Worker
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.paths import get_value
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList
from stoutlink.core.editing.plan_edits import MarkTask

GROUPS = (
    ("task", "Task", "Hours, people, sittings, and what else it waits for."),
    ("days", "Days", "First day, the day it should drive, quiet hours, both schools."),
    ("hours", "Hours", "When there is time."),
    ("closed", "Closed", "Days nothing is done, or nothing outdoors."),
    ("people", "People", "Who works on it, and who is away."),
    ("coming", "Part", "When the part picked below the lanes comes."),
    ("sooner", "Sooner", "What would have it driving earlier."),
)
LISTS = ("hours", "closed", "people")
ADDS = {"task": "Add task", "hours": "Add hours", "closed": "Add closed days", "people": "Add person"}


class PlanLook(WorkingLook):
    """``elsewhere`` asks for the step, look and assembly where a task is done, ``part_wanted`` for a line of the parts list."""

    elsewhere = pyqtSignal(str, str, str)
    part_wanted = pyqtSignal(str)

    def __init__(self, desk: PlanDesk, parent: QWidget | None = None) -> None:
        super().__init__(desk.workspace, "plan", "Plan", GROUPS, "The build as lanes", parent, columns=4, wide=112)
        self.desk = desk
        self.done = self.large("task_done", "Done", "This task is done.", partial(self.mark, "done"))
        self.tacked = self.large("task_tacked", "Tacked only", "It stands, and is not final: it counts as not done.", partial(self.mark, "tacked"))  # fmt: skip
        self.blocked = self.large("task_blocked", "Held up", "It cannot go on; say why in its note.", partial(self.mark, "blocked"))  # fmt: skip
        self.inspected = self.large("task_inspected", "Looked over", "It is done and somebody looked it over.", partial(self.mark, "inspected"))  # fmt: skip
        self.reopen = self.large("task_open", "Open again", "It is not done after all.", partial(self.mark, "open"))
        self.drop = self.large("task_dropped", "Leave out", "It is not done in this build.", partial(self.mark, "dropped"))  # fmt: skip
        self.there = self.large("task_where", "Go there", "Where it is done.", self._go_there)
        self.cut = self.large("cut_link", "Cut the link", "Take the weakest link of the circle away.", self._cut)
        self.to_part = self.large("part_line", "In the parts list", "The line of the part picked.", self._to_part)
        self.top.addStretch(1)
        self.begin = self.small("begin_plan", "Begin today", "Plan from today on, evenings and Saturdays.", self._begin)
        self.add = self.small("add_to_plan", "Add task", "One more of what is shown here.", self._add)
        self.gone = self.small("remove_from_plan", "Remove", "Take what is picked away.", self._remove)
        self.earlier = self.small("part_earlier", "A day earlier", "The part picked comes a day earlier.", partial(self._shift, -1))  # fmt: skip
        self.later_ = self.small("part_later", "A day later", "The part picked comes a day later.", partial(self._shift, 1))  # fmt: skip
        self.seen = self.small("plan_seen", "I have seen what is new", "What came and went is told from now on.", self._seen)  # fmt: skip
        self.foot.addStretch(1)
        self.drag = PartDrag(desk, self)
        self.drag.changed.connect(self._again)
        self.key, self.one, self.part = "", "", ""
        self._axis: Axis | None = None

    @property
    def sheet(self) -> PlanSheet | None:
        """The plan shown."""
        return self.desk.sheet

    def prepare(self) -> None:
        desk, plan = self.desk, self.workspace.project.build
        desk.wants_ways = self.group == "sooner"
        desk.prepare()
        self._buttons(bool(plan.begin))
        if not plan.begin:
            count = len(self.workspace.study.tasks)
            self.show_frame(
                f"{count} tasks follow from the choices made; no day is said yet." if count else "No task yet.",
                "“Begin today” lays them out over evenings and Saturdays; days, hours and people are typed below."
                if count
                else "Choose an axle in Donors or a layout: tasks are made from them.",
            )
            return
        if desk.sheet is None:
            self.show_frame("Laying the tasks out…", "")
            return
        stale = "" if desk.fresh else " (laying out what changed…)"
        self.show_frame(end_words(desk.sheet, desk.chance) + stale, self._more(desk.sheet))

    def _more(self, sheet: PlanSheet) -> str:
        if self.drag.held is not None:
            return self.drag.words(sheet)
        words = [progress_words(sheet)]
        words.append(news_words(sheet))
        told = self.desk.moved is not None and bool(self.desk.moved.tasks)
        if self.desk.moved is not None and told:
            words.append(changed_words(self.desk.moved))
        parts = self.desk.parts
        guessed = [] if parts is None else [x for x in parts.lines if x.task and x.due is None and x.to_order]
        if guessed:
            words.append(f"{len(guessed)} parts have no day: the plan takes them to be there in time.")
        shut = conflicts(sheet)
        if shut:
            more = f" {len(shut) - 1} more like it." if len(shut) > 1 else ""
            words.append(conflict_words(shut[0], sheet) + more)
        left = "" if self.desk.day is None or told else resume_words(self.desk.day, sheet)
        return " ".join(w for w in (*words, left) if w)

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
        row, part = self.row, self.group == "coming" and bool(self.part)
        on_task = begun and row is not None and not part
        for button, on in (
            (self.done, row is not None and row.state not in ("done", "inspected")),
            (self.tacked, row is not None and row.state in ("open", "blocked")),
            (self.blocked, row is not None and row.state in ("open", "tacked", "mocked")),
            (self.inspected, row is not None and row.state == "done"),
            (self.reopen, row is not None and row.change is not None and row.change.state != "open"),
            (self.drop, row is not None and row.state not in OVER),
            (self.there, row is not None and bool(row.task.where[0])),
        ):
            button.setVisible(on_task and on)
        self.cut.setVisible(begun and self.sheet is not None and bool(self.sheet.circle))
        self.to_part.setVisible(begun and part)
        for button in (self.earlier, self.later_):
            button.setVisible(begun and part)
        self.begin.setVisible(not begun)
        self.add.setVisible(begun and self.group in ADDS)
        self.add.setText(ADDS.get(self.group, ""))
        self.gone.setVisible(begun and self.group in ADDS and (self.group != "task" or self.key.startswith("own-")))
        self.seen.setVisible(self.sheet is not None and bool(self.sheet.came or self.sheet.went or not self.sheet.plan.seen))  # fmt: skip

    def entries(self) -> list[Entry]:
        """Fields of the group picked."""
        plan = self.workspace.project.build
        if self.group == "days":
            return day_entries()
        if self.group == "task":
            row = self.row if self.key else None
            return task_entries(plan, "" if row is None else row.task.key, "" if row is None else row.task.base)
        if self.group == "coming":
            return coming_entries(self.part)
        if self.group not in LISTS:
            return []
        items = getattr(plan, self.group)
        if all(i.id != self.one for i in items):
            self.one = items[-1].id if items else ""
        return list_entries(self.group, self.one) if self.one else []

    def pick(self, key: str) -> None:
        """Work on a task; the one picked once more is let go."""
        self.key = "" if key == self.key and self.group == "task" else key
        self.show_group("task")

    def pick_one(self, key: str) -> None:
        """Work on one of a list."""
        self.one = key
        self.show_group(self.group)

    def pick_part(self, key: str) -> None:
        """Have the days of a part."""
        self.part = key
        self.show_group("coming")

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        tail = parts[1] if len(parts) > 1 else ""
        if tail in ("changes", "own"):
            self.group, self.key = "task", parts[2] if len(parts) > 2 else self.key
        elif tail == "arrivals":
            self.group, self.part = "coming", parts[2] if len(parts) > 2 else self.part
        elif tail in LISTS:
            self.group, self.one = tail, parts[2] if len(parts) > 2 else self.one
        else:
            self.group = "days"
        self.show_group(self.group)

    def mark(self, state: TaskState) -> None:
        """Say how far the task is."""
        row = self.row
        if row is None:
            return
        finished = state in ("done", "inspected")
        if finished and row.task.tacked:
            self.workspace.said.emit(f"“{row.task.title}” is tacked only: it is done when its beads are laid.", True)
            return
        if finished and row.task.held:
            self.workspace.said.emit(f"“{row.task.title}” cannot be done yet: {row.task.held}.", True)
            return
        if self.workspace.do(MarkTask(row.task.key, state, self.desk.today.isoformat(), row.task.title)):
            if state == "blocked":
                self.key = row.task.key
                self.show_group("task")
            else:
                self.key = ""
                self.show_group(self.group)

    def drag_part(self, key: str, at: QPointF, dropped: bool) -> None:
        """A part is dragged along the days; let go, its day is written down."""
        if self._axis is None:
            return
        day = moment(self.workspace.project.build, max(0, self._axis.minute(at.x()) - 1)).date()
        self.part, self.group = key, "coming"
        if dropped:
            self.drag.comes(key, day)
        else:
            self.drag.over(key, day)

    def _shift(self, days: int) -> None:
        self.drag.shift(self.part, days)

    def _again(self) -> None:
        if self.theme is not None:
            self.refresh(self.theme)

    def _to_part(self) -> None:
        self.part_wanted.emit(self.part)

    def _go_there(self) -> None:
        row = self.row
        if row is not None:
            self.elsewhere.emit(*row.task.where, row.task.subject)

    def _cut(self) -> None:
        link = None if self.sheet is None else weakest(self.sheet)
        if link is None:
            return
        task, before = link
        old = get_value(self.workspace.project, f"build.changes.{task}")
        if before in old.after:
            new = msgspec.structs.replace(old, after=tuple(k for k in old.after if k != before))
        else:
            new = msgspec.structs.replace(old, not_after=(*old.not_after, before))
        self.workspace.do(PutInList("build.changes", new, "Cut a link"))

    def _begin(self) -> None:
        plan = self.workspace.project.build
        hours = plan.hours or USUAL
        people = plan.people or (Worker(id="person-1", name="You"),)
        seen = tuple(t.key for t in self.workspace.study.tasks)
        new = msgspec.structs.replace(plan, begin=self.desk.today.isoformat(), hours=hours, people=people, seen=seen)
        self.group = "days"
        self.workspace.do(SetChoice("build", new, "plan"))

    def _add(self) -> None:
        plan = self.workspace.project.build
        today = self.desk.today.isoformat()
        if self.group == "task":
            key = free_id("own-", (o.id for o in plan.own))
            if self.workspace.do(PutInList("build.own", OwnTask(id=key, title="A task of your own"), "Add a task")):
                self.pick(key)
            return
        key = free_id(f"{self.group}-", (i.id for i in getattr(plan, self.group)))
        item = {
            "hours": OpenHours(id=key), "closed": Closed(id=key, first=today, last=today), "people": Worker(id=key, name="Somebody"),
        }[self.group]  # fmt: skip
        if self.workspace.do(PutInList(f"build.{self.group}", item, f"Add {self.group}")):
            self.pick_one(key)

    def _remove(self) -> None:
        if self.group == "task":
            if self.key.startswith("own-"):
                self.workspace.do(TakeFromList("build.own", (self.key.partition(":")[0],), "Remove a task"))
        elif self.one:
            self.workspace.do(TakeFromList(f"build.{self.group}", (self.one,), "Remove from the plan"))

    def _seen(self) -> None:
        keys = tuple(t.key for t in self.workspace.study.tasks)
        keys += tuple(o.id for o in self.workspace.project.build.own)
        self.workspace.do(SetChoice("build.seen", keys, "plan looked at"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Today's card, the lanes, parts and money on the same days, what the group picked lists."""
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
            y += flow(p, QRectF(14, y, w - 28, 66), " ".join(self._card(row, sheet)), t.text, size=9.5) + 6
        if self.group in LISTS or self.group == "sooner":
            y = self._listed(p, t, picture, y)
        p.save()
        p.translate(0, y)
        before = len(picture.hits)
        high, axis = draw_lanes(p, t, picture, sheet, self.desk.minute, self.key, self.pick, self.drag.rows)
        self._axis = axis
        if self.desk.parts is not None:
            high = draw_parts(p, t, picture, sheet.plan, axis, high, self.desk.parts, self.part, self.drag.held, self.pick_part, self.drag_part)  # fmt: skip
            high = draw_money(
                p, t, picture, sheet.plan, axis, self.desk.minute, high, self.desk.parts, self.desk.currency
            )
        p.restore()
        picture.hits[before:] = [h.down(y) for h in picture.hits[before:]]
        y += high
        y += flow(p, QRectF(14, y + 4, w - 28, 40), CAUTION, t.quiet, size=8.5) + 10
        self.tall(y)

    def _card(self, row: Row, sheet: PlanSheet) -> list[str]:
        """What the task picked has to say."""
        when = "" if row.begin is None else f"{time_words(sheet.plan, row.begin)}, {row.hours[1]:.1f} h" + (f", {' and '.join(row.who)}" if row.who else "") + "."  # fmt: skip
        spare = "It sets the date." if row.on_chain else ""
        waits = [x[0].upper() + x[1:].rstrip(".") + "." for x in list(waits_words(row, sheet))[:4]]
        one = later(sheet, row.task.key)
        now_or_later = [] if one is None else list(later_words(one, sheet))[:4]
        return [w for w in (when, held_words(row), spare, *now_or_later, self._knock_on_words(row), *waits) if w]

    def _knock_on_words(self, row: Row) -> str:
        """Of a task made of a knock-on: whether that is still there."""
        own = next((o for o in self.workspace.project.build.own if o.id == (row.task.base or row.task.key)), None)
        if own is None or not own.knock_ons:
            return ""
        there = {f.key for f in self.workspace.study.findings_so_far}
        return (
            "" if there & set(own.knock_ons) else "What it was made for is gone: leave it out, or keep it as your own."
        )

    def _listed(self, p: QPainter, t: Theme, picture: Picture, y: float) -> float:
        """What the group picked has, to pick from."""
        if self.sheet is None:
            return y
        if self.group == "sooner":
            ways = self.desk.ways
            lines = ["Trying…"] if ways is None else [sooner_words(x, self.sheet) for x in ways]
            for words in lines or [
                "Nothing tried here wins a day: what may be left out, late parts, one more person or place."
            ]:
                text(p, QRectF(20, y, picture.width() - 40.0, 19), words, t.text, size=9.5, elide=True)
                y += 20
            return y + 6
        for one in getattr(self.workspace.project.build, self.group):
            words = self._words(one)
            box = QRectF(14, y, picture.width() - 28.0, 19)
            text(p, box.adjusted(6, 0, 0, 0), words, t.dye if one.id == self.one else t.text, size=9.5, elide=True)
            picture.hits.append(Hit(box, f"{words}. Click to change it.", partial(self.pick_one, one.id), f"{self.group} {one.id}"))  # fmt: skip
            y += 20
        return y + 6

    def _words(self, one: OpenHours | Closed | Worker) -> str:
        if isinstance(one, OpenHours):
            return f"{dict(WEEK)[one.days]}, {one.from_h:g} to {one.to_h:g} h"
        if isinstance(one, Closed):
            return f"{one.first} to {one.last or one.first}: {one.why or 'closed'}"
        away = f", away {one.away_from} to {one.away_to or one.away_from}" if one.away_from else ""
        return one.name + away

    def as_text(self) -> str:
        sheet = self.sheet
        if sheet is None:
            return "\n".join(f"{t.title}: {t.hours:.1f} h" for t in self.workspace.study.tasks) or "No task yet."
        row = self.row
        lines = list(sheet_words(sheet, self.desk.chance))
        picked = [row_words(row, sheet), *self._card(row, sheet)] if row is not None else []
        ways = [conflict_words(c, sheet) for c in conflicts(sheet)]
        ways += [sooner_words(x, sheet) for x in self.desk.ways or ()]
        return "\n".join([*lines[:1], *picked, *ways, *lines[1:], CAUTION])

    def stop(self) -> None:
        self.drag.work.stop()
