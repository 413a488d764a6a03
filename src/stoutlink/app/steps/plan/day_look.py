"""Day: what is on today, how it was left, what comes first next time, what is short, and what goes along to work elsewhere."""

from __future__ import annotations

from functools import partial

import msgspec
from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.theme import Theme
from stoutlink.app.steps.plan.desk import PlanDesk
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.day_words import close_words, now_words, packing_words, resume_words
from stoutlink.core.advice.parts_words import PART_STATE_WORDS, counted
from stoutlink.core.advice.plan_words import CAUTION, STATE_WORDS, day_words, progress_words, time_words
from stoutlink.core.analysis.plan.day import DaySheet, Packing, packing
from stoutlink.core.analysis.plan.plan_sheet import Row
from stoutlink.core.document.build_plan import Trip, TripItem
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.editing.plan_edits import CloseDay

GROUPS = (
    ("trip", "Trip", "Work elsewhere: where, when, which tasks are done there."),
    ("item", "Thing", "A tool, a jig or a part that goes along."),
)
KINDS = (("tool", "tool"), ("jig", "jig"), ("part", "part"))
YES = ((False, "no"), (True, "yes"))


class DayLook(WorkingLook):
    """``task_wanted`` and ``part_wanted`` ask for a task in the plan, a line in the parts list."""

    task_wanted = pyqtSignal(str)
    part_wanted = pyqtSignal(str)

    def __init__(self, desk: PlanDesk, parent: QWidget | None = None) -> None:
        super().__init__(desk.workspace, "day", "Day", GROUPS, "The day", parent, columns=4, wide=140)
        self.desk = desk
        self.close_ = self.large(
            "close_day",
            "Close the day",
            "Write down where it was left; told when the plan is opened again.",
            self._close,
        )
        self.top.addStretch(1)
        self.add = self.small(
            "add_trip", "Plan work elsewhere", "A day at another place, with a packing list.", self._add
        )
        self.thing = self.small("add_thing", "One more thing", "A tool, a jig or a part that goes along.", self._thing)
        self.gone = self.small("remove_trip", "Remove", "Take the trip or the thing picked away.", self._remove)
        self.foot.addStretch(1)
        self.trip, self.item = "", ""

    @property
    def day(self) -> DaySheet | None:
        """The day shown."""
        return self.desk.day

    @property
    def trips(self) -> tuple[Trip, ...]:
        """Days of work elsewhere."""
        return self.workspace.project.build.trips

    @property
    def picked(self) -> Trip | None:
        """The trip picked, else the first."""
        return next((t for t in self.trips if t.id == self.trip), self.trips[0] if self.trips else None)

    def prepare(self) -> None:
        self.desk.prepare()
        begun, trip = bool(self.workspace.project.build.begin), self.picked
        self.close_.setVisible(begun)
        self.add.setVisible(begun)
        self.thing.setVisible(begun and trip is not None)
        self.gone.setVisible(begun and trip is not None)
        if not begun:
            self.show_frame(
                "No plan yet.", "“Begin today” in Plan lays the tasks out; then a day has a list.", fields=False
            )
            return
        if self.day is None or self.desk.sheet is None:
            self.show_frame("Laying the day out…", "", fields=False)
            return
        left = resume_words(self.day, self.desk.sheet)
        stale = "" if self.desk.day_fresh else " (laying out what changed…)"
        today = day_words(self.desk.sheet.plan, self.desk.minute)
        self.show_frame(
            f"{today}: {now_words(self.day, self.desk.sheet)}{stale}",
            f"{progress_words(self.desk.sheet)} {left}".strip(),
            fields=trip is not None,
        )

    def entries(self) -> list[Entry]:
        """Fields of the trip, or of the thing picked of it."""
        trip = self.picked
        if trip is None:
            return []
        at = f"build.trips.{trip.id}"
        if self.group == "trip":
            return [
                Entry(f"{at}.where", "where", "text"),
                Entry(f"{at}.day", "day", "text"),
                Entry(f"{at}.tasks", "tasks", "words"),
            ]
        if all(i.id != self.item for i in trip.items):
            self.item = trip.items[-1].id if trip.items else ""
        if not self.item:
            return []
        here = f"{at}.items.{self.item}"
        return [Entry(f"{here}.name", "what", "text"), Entry(f"{here}.kind", "is", "choice", KINDS), Entry(f"{here}.out", "packed", "choice", YES), Entry(f"{here}.back", "back", "choice", YES), Entry(f"{here}.used", "used up", "choice", YES)]  # fmt: skip

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        self.trip = parts[2] if len(parts) > 2 else self.trip
        self.item = parts[4] if len(parts) > 4 else self.item
        self.show_group("item" if len(parts) > 3 and parts[3] == "items" else "trip")

    def _close(self) -> None:
        before = next((c for c in self.workspace.project.build.closes if c.day == self.desk.today.isoformat()), None)
        start = "" if before is None else before.left
        left = dialogs.ask_text(
            self, "Close the day", "Where is it left? What is open, exposed, tacked only; part in hand.", start
        )
        if left is None:
            return
        people = self.workspace.project.build.people
        self.workspace.do(CloseDay(self.desk.today.isoformat(), left.strip(), people[0].name if people else ""))

    def _add(self) -> None:
        key = free_id("trip-", (t.id for t in self.trips))
        rows = () if self.day is None else tuple(r for _, r in self.day.tomorrow if not r.task.at_vehicle)
        trip = Trip(
            id=key, where="Another shop", day=self.desk.today.isoformat(), tasks=tuple(r.task.key for r in rows)
        )
        if self.workspace.do(PutInList("build.trips", trip, "Plan work elsewhere")):
            self.trip = key
            self.show_group("trip")

    def _thing(self) -> None:
        trip = self.picked
        if trip is None:
            return
        key = free_id("thing-", (i.id for i in trip.items))
        new = msgspec.structs.replace(trip, items=(*trip.items, TripItem(id=key, name="Grinder")))
        if self.workspace.do(PutInList("build.trips", new, "Pack one more thing")):
            self.item = key
            self.show_group("item")

    def _remove(self) -> None:
        trip = self.picked
        if trip is None:
            return
        if self.group == "item" and self.item:
            self.workspace.do(TakeFromList(f"build.trips.{trip.id}.items", (self.item,), "Leave a thing here"))
        else:
            self.workspace.do(TakeFromList("build.trips", (trip.id,), "Remove the trip"))

    def tick(self, trip: str, item: str) -> None:
        """Out, back, and to be packed once more."""
        self.trip, self.item = trip, item
        one = next((t for t in self.trips if t.id == trip), None)
        thing = None if one is None else next((i for i in one.items if i.id == item), None)
        if one is None or thing is None:
            return
        nxt = msgspec.structs.replace(
            thing, out=not thing.back and (not thing.out or not thing.back), back=thing.out and not thing.back
        )
        items = tuple(nxt if i.id == item else i for i in one.items)
        self.workspace.do(PutInList("build.trips", msgspec.structs.replace(one, items=items), "Tick the packing list"))
        self.show_group("item")

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Three columns: what is done and open, what comes next and is short, what goes along."""
        day, sheet, after = self.day, self.desk.sheet, self.desk.next
        if day is None or sheet is None or after is None or self.desk.parts is None:
            return
        w = picture.width() / 2.0
        left = right = 6.0
        for head, rows in (
            ("On today", day.going),
            ("Done today", day.done),
            ("Held up", day.blocked),
            ("Tacked or mocked, not final", day.tacked),
        ):
            if rows or head == "On today":
                left = self._rows(p, t, picture, head, rows, left, w)
        right = self._head(p, t, "First next time", w, right, w)
        for who, row in day.tomorrow:
            words = f"{who}: {row.task.title}, {time_words(after.plan, row.begin or 0)}"
            right = self._line(
                p, t, picture, words, w, right, w, partial(self.task_wanted.emit, row.task.key), f"next {row.task.key}"
            )
        right = self._head(p, t, f"Short of, next 14 days ({len(day.short)})", w, right + 6, w)
        for x in day.short:
            end = f", {x.wanted.end}" if x.wanted.end != "both" else ""
            words = f"{counted(x)}{end}: {PART_STATE_WORDS[x.state]}, for {x.needed}"
            right = self._line(
                p, t, picture, words, w, right, w, partial(self.part_wanted.emit, x.key), f"short {x.key}"
            )
        y = max(left, right) + 8
        for trip in self.trips:
            y = self._trip(p, t, picture, packing(sheet, self.desk.parts, trip), y)
        y += flow(p, QRectF(14, y + 4, picture.width() - 28, 40), CAUTION, t.quiet, size=8.5) + 10
        self.tall(y)

    def _head(self, p: QPainter, t: Theme, words: str, x: float, y: float, w: float) -> float:
        text(p, QRectF(x + 14, y, w - 28, 20), words, t.text, size=10.5, bold=True)
        return y + 23

    def _rows(
        self, p: QPainter, t: Theme, picture: Picture, head: str, rows: tuple[Row, ...], y: float, w: float
    ) -> float:
        y = self._head(p, t, head, 0, y, w)
        for row in rows:
            why = (row.change.why if row.change is not None else "") or (
                row.task.held if row.state == "blocked" else ""
            )
            words = f"{' and '.join(row.who) + ': ' if row.who else ''}{row.task.title}" + (f" ({why})" if why else "")
            if row.state not in ("open", "done"):
                words += f" · {STATE_WORDS[row.state]}"
            y = self._line(
                p, t, picture, words, 0, y, w, partial(self.task_wanted.emit, row.task.key), f"row {row.task.key}"
            )
        if not rows:
            text(p, QRectF(24, y, w - 40, 18), "Nothing.", t.quiet, size=9.5)
            y += 20
        return y + 6

    def _line(
        self, p: QPainter, t: Theme, picture: Picture, words: str, x: float, y: float, w: float, act: object, name: str
    ) -> float:
        box = QRectF(x + 14, y, w - 28, 18)
        text(p, box.adjusted(10, 0, 0, 0), words, t.text, size=9.5, elide=True)
        picture.hits.append(Hit(box, f"{words}. Click to go to it.", act, name))  # type: ignore[arg-type]
        return y + 20

    def _trip(self, p: QPainter, t: Theme, picture: Picture, one: Packing, y: float) -> float:
        w = float(picture.width())
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QRectF(12, y, w - 24, 0).topLeft(), QRectF(12, y, w - 24, 0).topRight())
        box = QRectF(14, y + 3, w - 28, 20)
        text(p, box, next(packing_words(one)), t.text, size=10.5, bold=True, elide=True)
        picture.hits.append(
            Hit(
                box,
                "Click to change where, when and which tasks.",
                partial(self._pick_trip, one.trip.id),
                f"trip {one.trip.id}",
            )
        )
        y += 27
        for x in one.parts:
            text(p, QRectF(24, y, w - 48, 18), f"part: {counted(x)}", t.text, size=9.5, elide=True)
            y += 20
        for x in one.missing:
            text(p, QRectF(24, y, w - 48, 18), f"▲ not here yet: {counted(x)} ({PART_STATE_WORDS[x.state]})", t.torch, size=9.5, elide=True)  # fmt: skip
            y += 20
        for item in one.trip.items:
            state = "↩ back" if item.back else "– used up" if item.used else "→ out" if item.out else "○ to pack"
            words = f"{state}   {item.kind}: {item.name}"
            where = QRectF(14, y, w - 28, 18)
            text(p, where.adjusted(10, 0, 0, 0), words, t.torch if item in one.out else t.text, size=9.5, elide=True)
            picture.hits.append(
                Hit(
                    where,
                    f"{words}. Click to tick it out, then back.",
                    partial(self.tick, one.trip.id, item.id),
                    f"thing {item.id}",
                )
            )
            y += 20
        return y + 6

    def _pick_trip(self, key: str) -> None:
        self.trip = key
        self.show_group("trip")

    def as_text(self) -> str:
        day, sheet, after = self.day, self.desk.sheet, self.desk.next
        if day is None or sheet is None or after is None or self.desk.parts is None:
            return "No day laid out yet."
        stale = "" if self.desk.day_fresh else " (laying out what changed…)"
        lines = [
            day_words(sheet.plan, self.desk.minute) + stale,
            progress_words(sheet),
            *close_words(day, sheet, after),
        ]
        for trip in self.trips:
            lines += packing_words(packing(sheet, self.desk.parts, trip))
        return "\n".join([*lines, CAUTION])
