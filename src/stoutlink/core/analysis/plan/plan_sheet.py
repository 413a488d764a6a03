"""The plan as it stands: every task with when, why then, how much it may be late; the chain that sets the date; how far it is."""

from __future__ import annotations

import datetime
import math
from collections.abc import Mapping

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from stoutlink.core.analysis.plan.arrivals import arrives_of
from stoutlink.core.analysis.plan.calendars import DAY, NEVER
from stoutlink.core.analysis.plan.chance import Chance, chance
from stoutlink.core.analysis.plan.jobs import Circle, Job, Net, Shop
from stoutlink.core.analysis.plan.schedule import (
    Because,
    Laid,
    because,
    best_order,
    chain,
    floats,
    kept_order,
    ready_of,
)
from stoutlink.core.analysis.plan.shop_hours import minute_of, moment, shop_of
from stoutlink.core.analysis.plan.tasks import LEAST, MOST, After, Task
from stoutlink.core.document.build_plan import OVER, BuildPlan, TaskChange, TaskState

MILESTONES = (
    ("on stands", "frame:stands"), ("rear axle under it", "rear:in"), ("front axle under it", "front:in"), ("full roller", "frame:wheels"), ("drives", "frame:drive"),
)  # fmt: skip
"""What the rig can do once a task is done."""


class Row(Struct, frozen=True):
    """One task: hours in force, its state, when it begins and ends (``None`` when it is done or dropped, or there is no working
    day left), why then, how many working minutes it may be late, whether it is on the chain."""

    task: Task
    change: TaskChange | None
    hours: tuple[float, float, float]
    state: TaskState
    begin: int | None
    end: int | None
    why: Because | None
    spare: int | None
    on_chain: bool
    who: tuple[str, ...]

    @property
    def over(self) -> bool:
        """Whether nothing of it is left to do."""
        return self.state in OVER


class PlanSheet(Struct, frozen=True):
    """The whole plan. ``circle`` names tasks that wait for one another; then nothing is scheduled. ``end``: minute of the last
    task before the first drive; ``no_day``: the last working day comes before that; ``came``/``went``: tasks since the plan was
    looked at last; ``looks`` and ``done`` as parts of 1, ``done`` as least and most where hours are not known."""

    plan: BuildPlan
    shop: Shop
    rows: tuple[Row, ...]
    chain: tuple[str, ...]
    circle: tuple[str, ...]
    end: int | None
    no_day: bool
    wanted: int | None
    looks: float
    done: float
    came: tuple[str, ...]
    went: tuple[str, ...]
    arrivals: dict[str, int]

    def row(self, key: str) -> Row | None:
        """A task by its key."""
        return next((r for r in self.rows if r.task.key == key), None)

    @property
    def end_day(self) -> datetime.date | None:
        """The day it is done."""
        return None if self.end is None else moment(self.plan, self.end - 1).date()

    @property
    def late_days(self) -> int | None:
        """Days after the one wanted; below 0: days to spare."""
        if self.end is None or self.wanted is None:
            return None
        return math.ceil((self.end - self.wanted) / DAY)

    @property
    def done_range(self) -> tuple[float, float]:
        """The share done if what is left fights, and if all goes well."""
        finished, least, _, most = done_hours(tuple(r.task for r in self.rows), self.plan)
        return tuple(finished / (finished + x) if finished + x else 0.0 for x in (most, least))  # type: ignore[return-value]

    @property
    def milestones(self) -> tuple[tuple[str, int | None], ...]:
        """When the rig is how far: name and minute (0: already)."""
        out = []
        for name, key in MILESTONES:
            row = self.row(key)
            if row is not None:
                out.append((name, 0 if row.over else row.end))
        return tuple(out)


def hours_of(task: Task, change: TaskChange | None) -> tuple[float, float, float]:
    """Least, likely and most hours: as typed, else about the likely ones; never out of order."""
    likely = task.hours if change is None or change.likely_h is None else change.likely_h
    least = LEAST * likely if change is None or change.least_h is None else change.least_h
    most = MOST * likely if change is None or change.most_h is None else change.most_h
    return min(least, likely) * task.share, likely * task.share, max(most, likely) * task.share


def state_of(task: Task, change: TaskChange | None) -> TaskState:
    """What was said of it; what the project knows to be done is done, what is only tacked or held by a gate is not."""
    if change is not None and change.state == "dropped":
        return "dropped"
    if task.done:
        return "inspected" if change is not None and change.state == "inspected" else "done"
    if task.tacked and (change is None or change.state in ("open", "mocked", "done", "inspected")):
        return "tacked"
    if change is not None and task.held and change.state in ("done", "inspected"):
        return "blocked"
    return "open" if change is None else change.state


def with_own(tasks: tuple[Task, ...], plan: BuildPlan) -> tuple[Task, ...]:
    """The tasks with the user's own behind them."""
    own = tuple(Task(o.id, o.title, o.lane, o.likely_h, people=o.people, at_vehicle=o.at_vehicle, needs=o.needs, where=(o.step, "")) for o in plan.own)  # fmt: skip
    return in_sittings((*tasks, *own), plan)


def in_sittings(tasks: tuple[Task, ...], plan: BuildPlan) -> tuple[Task, ...]:
    """Tasks of several sittings as one task each, one after the other, alike in hours; what waits for the task waits for the last
    of them. The first keeps the task's key."""
    many = {c.id: c.sittings for c in plan.changes if c.sittings > 1}
    if not many:
        return tasks
    out = []
    for t in tasks:
        after = tuple(replace(a, key=sitting(a.key, many[a.key])) if a.key in many else a for a in t.after)
        n = many.get(t.key, 1)
        for k in range(1, n + 1):
            title = f"{t.title} ({k} of {n})" if n > 1 else t.title
            mine = after if k == 1 else (After(sitting(t.key, k - 1), "The sitting before."),)
            out.append(replace(t, key=sitting(t.key, k), title=title, after=mine, base=t.key if k > 1 else "", share=1.0 / n, weight=t.weight if k == n else 0))  # fmt: skip
    return tuple(out)


def sitting(key: str, k: int) -> str:
    """The key of a task's sitting, from 1 on.

    >>> sitting("rear:gears", 1), sitting("rear:gears", 3)
    ('rear:gears', 'rear:gears:3')
    """
    return key if k == 1 else f"{key}:{k}"


def said(plan: BuildPlan, task: Task) -> TaskChange | None:
    """What was said of a task; of a later sitting how far it is itself, hours and people as of the whole."""
    mine = plan.change(task.key)
    whole = plan.change(task.base) if task.base else None
    if whole is None:
        return mine
    one = mine or TaskChange(id=task.key)
    return msgspec.structs.replace(one, least_h=whole.least_h, likely_h=whole.likely_h, most_h=whole.most_h, people=whole.people, hours=whole.hours)  # fmt: skip


def afters(task: Task, change: TaskChange | None) -> tuple[After, ...]:
    """What it waits for: the program's reasons less what was waived, and the user's."""
    if change is None:
        return task.after
    kept = tuple(a for a in task.after if a.key not in change.not_after)
    mine = () if task.base else change.after
    return (*kept, *(After(k, "You said so.") for k in mine))


def jobs_of(tasks: tuple[Task, ...], plan: BuildPlan, now: int) -> tuple[Job, ...]:
    """What is left to do, as jobs: what is done or dropped is no job and holds nobody up."""
    out = []
    over = {t.key for t in tasks if state_of(t, said(plan, t)) in OVER}
    for t in tasks:
        if t.key in over:
            continue
        change = said(plan, t)
        spent = 0.0 if change is None or change.spent_h is None else change.spent_h
        least, likely, most = (round(60 * max(h - spent, 0.1 * h)) for h in hours_of(t, change))
        date = None if change is None else minute_of(plan, change.not_before)
        people = t.people if change is None or change.people is None else change.people
        kind = t.kind if change is None or change.hours is None else change.hours
        after = tuple(a.key for a in afters(t, change) if a.key not in over)
        out.append(Job(t.key, least, likely, most, after, people, t.at_vehicle, kind, max(now, date or 0), t.needs))
    return tuple(out)


def plan_sheet(tasks: tuple[Task, ...], plan: BuildPlan, now: int = 0, keep: PlanSheet | None = None) -> PlanSheet:
    """Schedule what is left from the minute ``now`` on: in the best order found, or in that of a sheet to ``keep``, so that only
    moves what has to."""
    every = with_own(tasks, plan)
    keys = {t.key for t in every}
    came = tuple(t.key for t in every if plan.seen and t.key not in plan.seen)
    went = tuple(k for k in plan.seen if k not in keys)
    arrives = arrives_of(plan, now)
    arrivals = {k: a.likely for k, a in arrives.items()}
    wanted = minute_of(plan, plan.wanted, end=True)
    looks, done = _looks(every, plan), _done(every, plan)
    jobs = jobs_of(every, plan, now)
    placed: dict[str, tuple[int, int, tuple[str, ...]]] = {}
    why: Mapping[str, Because] = {}
    spare: dict[str, int] = {}
    on: tuple[str, ...] = ()
    end: int | None = None
    no_day = False
    circle: tuple[str, ...] = ()
    shop = shop_of(plan)
    try:
        net = Net(jobs, shop)
    except Circle as found:
        circle = found.keys
    else:
        ready = ready_of(net, arrivals)
        if jobs:
            order, laid = best_order(net, ready) if keep is None else kept_order(net, ready, _begins(keep))
            why = because(net, laid, ready, arrivals)
            spare = floats(net, laid, order)
            for k, job in enumerate(jobs):
                group = shop.subsets[int(laid.who[0][k])]
                placed[job.key] = int(laid.start[0][k]), int(laid.finish[0][k]), tuple(shop.persons[p] for p in group)
            drives = [t.key for t in every if t.drives and t.key in placed]
            last = max((placed[k][1] for k in drives), default=0)
            no_day = any(f >= NEVER for _, f, _ in placed.values())
            end = None if no_day else last
            on = () if no_day else _chain_to(net, laid, why, max(drives, key=lambda k: placed[k][1]) if drives else "")
    rows = []
    for t in every:
        change = said(plan, t)
        where = placed.get(t.key)
        real = where is not None and where[1] < NEVER
        rows.append(
            Row(
                t,
                change,
                hours_of(t, change),
                state_of(t, change),
                where[0] if real and where is not None else None,
                where[1] if real and where is not None else None,
                why.get(t.key),
                spare.get(t.key) if real else None,
                t.key in on,
                () if where is None else where[2],
            )
        )
    return PlanSheet(plan, shop, tuple(rows), on, circle, end, no_day, wanted, looks, done, came, went, arrivals)


def _begins(sheet: PlanSheet) -> dict[str, int]:
    """When each task begins, of those that do."""
    return {r.task.key: r.begin for r in sheet.rows if r.begin is not None}


def _chain_to(net: Net, laid: Laid, why: Mapping[str, Because], last: str) -> tuple[str, ...]:
    if not last:
        return chain(net, laid, why)
    out = [last]
    while why[out[-1]].wait in ("job", "person", "place") and why[out[-1]].key not in out:
        out.append(why[out[-1]].key)
    return tuple(reversed(out))


def _looks(tasks: tuple[Task, ...], plan: BuildPlan) -> float:
    """Share of the visible parts that are in place, mocked and tacked included."""
    whole = sum(t.weight for t in tasks if state_of(t, said(plan, t)) != "dropped")
    there = sum(t.weight for t in tasks if state_of(t, said(plan, t)) in ("mocked", "tacked", "done", "inspected"))
    return there / whole if whole else 0.0


def _done(tasks: tuple[Task, ...], plan: BuildPlan) -> float:
    """Hours of finished tasks over all; what is tacked or mocked counts nothing."""
    finished, _, likely, _ = done_hours(tasks, plan)
    whole = finished + likely
    return finished / whole if whole else 0.0


def done_hours(tasks: tuple[Task, ...], plan: BuildPlan) -> tuple[float, float, float, float]:
    """Hours of finished tasks, and of the others at least, likely and at most."""
    finished = 0.0
    left = [0.0, 0.0, 0.0]
    for t in tasks:
        change = said(plan, t)
        state = state_of(t, change)
        if state == "dropped" or t.people == 0:
            continue
        hours = hours_of(t, change)
        if state in ("done", "inspected"):
            finished += hours[1]
        else:
            left = [a + b for a, b in zip(left, hours, strict=True)]
    return finished, left[0], left[1], left[2]


def plan_chance(sheet: PlanSheet, now: int = 0) -> Chance | None:
    """How surely it is done by the end of the day wanted; ``None`` without a day or with nothing left."""
    tasks = tuple(r.task for r in sheet.rows)
    first = {t.key for t in tasks if t.drives}
    jobs = tuple(j for j in jobs_of(tasks, sheet.plan, now) if j.key in first)
    if sheet.wanted is None or not jobs or sheet.circle:
        return None
    net = Net(jobs, sheet.shop)
    arrives = arrives_of(sheet.plan, now)
    order, _ = best_order(net, ready_of(net, sheet.arrivals))
    return chance(net, order, arrives, sheet.wanted)


class Moved(Struct, frozen=True):
    """What a change does: the tasks whose begin moves, in days, and the days the end moves by."""

    tasks: tuple[tuple[str, float], ...]
    days: float


def moved(before: PlanSheet, after: PlanSheet) -> Moved:
    """What moved between two sheets of the same tasks."""
    out = []
    for row in before.rows:
        other = after.row(row.task.key)
        if other is not None and row.begin is not None and other.begin is not None and other.begin != row.begin:
            out.append((row.task.key, (other.begin - row.begin) / DAY))
    days = 0.0 if before.end is None or after.end is None else (after.end - before.end) / DAY
    return Moved(tuple(out), days)


def could_drop(
    tasks: tuple[Task, ...], plan: BuildPlan, sheet: PlanSheet, now: int = 0
) -> tuple[tuple[str, float], ...]:
    """Tasks on the chain that nothing needs for the drive or that are one's own, and the days each would win if left for later."""
    out = []
    for key in sheet.chain:
        row = sheet.row(key)
        if row is None or not (key.startswith("own-") or row.task.key.endswith((":paint", ":dry"))):
            continue
        without_it = tuple(c for c in plan.changes if c.id != key)
        dropped = TaskChange(id=key, state="dropped")
        other = plan_sheet(tasks, msgspec.structs.replace(plan, changes=(*without_it, dropped)), now)
        won = -moved(sheet, other).days
        if won > 0:
            out.append((key, won))
    return tuple(out)
