"""What shuts the way to what: a task done before another that needs to get in there, and what waiting with a task costs."""

from __future__ import annotations

import datetime
from collections.abc import Iterator
from fnmatch import fnmatchcase

from msgspec import Struct

from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row, afters
from stoutlink.core.analysis.plan.shop_hours import moment


class Shuts(Struct, frozen=True):
    """A task, by its key with ``{e}`` for its end, that shuts the way to others (patterns); hours to open it again and do it once
    more, and how that goes."""

    task: str
    ways: tuple[str, ...]
    hours: float
    why: str


RULES = (
    Shuts("{e}:close", ("{e}:gears", "{e}:locker", "{e}:ends"), 2.5, "It is drained, opened, sealed and filled again."),
    Shuts("{e}:in", ("{e}:weld:*", "{e}:straight", "{e}:tackread", "{e}:gears", "{e}:paint"), 6.0, "The axle comes out again."),
    Shuts("{e}:paint", ("{e}:weld:*", "{e}:straight"), 3.0, "Heat burns the paint: it is stripped and painted again."),
    Shuts("front:linkage", ("front:gears", "front:locker"), 1.0, "The tie rod stands before the carrier: it comes off again."),
    Shuts("driveline:fit-{e}", ("{e}:gears",), 0.7, "The shaft comes off the pinion again."),
    Shuts("brakes:{e}", ("{e}:ends",), 1.5, "Calipers or drums come off again."),
    Shuts("brakes:bleed", ("brakes:lines-{e}", "brakes:{e}"), 1.5, "A line that was opened is bled again."),
    Shuts("frame:torque", ("{e}:shocks", "{e}:cycle", "front:toe"), 0.5, "Bolts that are undone once more are torqued again."),
    Shuts("frame:wheels", ("{e}:ends", "brakes:{e}", "brakes:lines-{e}"), 1.0, "It goes back on stands, wheels off."),
)  # fmt: skip
"""Common practice; hours are ours."""


class Conflict(Struct, frozen=True):
    """``shut`` is done, or comes, before ``late``, whose way it shuts."""

    shut: str
    late: str
    hours: float
    why: str


def pairs(sheet: PlanSheet) -> Iterator[tuple[Row, Row, Shuts]]:
    """Every task with one that shuts the way to it, both of this plan: (shutting, shut off, rule)."""
    rows = {r.task.key: r for r in sheet.rows}
    for rule in RULES:
        for end in ("front", "rear"):
            shut = rows.get(rule.task.format(e=end))
            if shut is None or ("{e}" not in rule.task and "{e}" not in "".join(rule.ways) and end == "rear"):
                continue
            for pattern in rule.ways:
                for key, row in rows.items():
                    if fnmatchcase(key, pattern.format(e=end)) and row is not shut:
                        yield shut, row, rule


def conflicts(sheet: PlanSheet) -> tuple[Conflict, ...]:
    """Where the plan as it is laid shuts a way before it is used: something is done twice."""
    out = []
    for shut, late, rule in pairs(sheet):
        if late.over or shut.state == "dropped":
            continue
        laid = shut.end is not None and late.begin is not None and shut.end <= late.begin
        if shut.over or laid:
            out.append(Conflict(shut.task.key, late.task.key, rule.hours, rule.why))
    return tuple(out)


class Later(Struct, frozen=True):
    """What it means to leave a task for later: the working hours it may wait, the last day it may begin on without moving the
    drive, how many tasks wait for it (the first of them), and what would have to be done again once others have shut the way."""

    spare_h: float | None
    blocks: int
    first: str
    again: tuple[Conflict, ...]
    before: datetime.date | None
    """The day the first of those shuts its way."""


def later(sheet: PlanSheet, key: str) -> Later | None:
    """Do it now or later; ``None`` for a task that is over or not there."""
    row = sheet.row(key)
    if row is None or row.over:
        return None
    waiting: dict[str, list[Row]] = {}
    for other in sheet.rows:
        if not other.over:
            for after in afters(other.task, other.change):
                waiting.setdefault(after.key, []).append(other)
    seen: dict[str, Row] = {}
    todo = [key]
    while todo:
        for other in waiting.get(todo.pop(), ()):
            if other.task.key not in seen:
                seen[other.task.key] = other
                todo.append(other.task.key)
    begun = sorted((r for r in seen.values() if r.begin is not None), key=lambda r: r.begin or 0)
    shut = [(s, rule) for s, mine, rule in pairs(sheet) if mine.task.key == key and not s.over]
    days = [s.begin for s, _ in shut if s.begin is not None]
    return Later(
        None if row.spare is None else row.spare / 60.0,
        len(seen),
        begun[0].task.key if begun else "",
        tuple(Conflict(s.task.key, key, rule.hours, rule.why) for s, rule in shut),
        moment(sheet.plan, min(days)).date() if days else None,
    )
