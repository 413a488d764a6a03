"""A day of the build in words, what goes along elsewhere, now or later, what shuts the way, what would be sooner."""

from __future__ import annotations

from collections.abc import Iterator

from stoutlink.core.advice.parts_words import PART_STATE_WORDS, counted
from stoutlink.core.advice.plan_words import day_words, part_words, time_words
from stoutlink.core.analysis.plan.access import Conflict, Later
from stoutlink.core.analysis.plan.day import DaySheet, Packing
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row
from stoutlink.core.analysis.plan.shop_hours import minute_of
from stoutlink.core.analysis.plan.sooner import Sooner


def _titles(sheet: PlanSheet) -> dict[str, str]:
    return {r.task.key: r.task.title for r in sheet.rows}


def later_words(one: Later, sheet: PlanSheet) -> Iterator[str]:
    """Do it now or later: what waiting costs."""
    names = _titles(sheet)
    if one.spare_h is not None:
        yield "Waiting moves the day." if one.spare_h < 0.25 else f"It may wait {one.spare_h:.1f} h of its own hours before the day moves."  # fmt: skip
    if one.blocks:
        first = f", “{names.get(one.first, one.first)}” first" if one.first else ""
        yield f"{one.blocks} task{'s wait' if one.blocks != 1 else ' waits'} for it{first}."
    else:
        yield "Nothing waits for it."
    for c in one.again:
        yield f"Once “{names.get(c.shut, c.shut)}” is done it costs {c.hours:.1f} h more: {c.why}"
    if one.before is not None:
        yield f"That is on {one.before.isoformat()} as it is laid out."


def conflict_words(one: Conflict, sheet: PlanSheet) -> str:
    """What shuts a way before it is used."""
    names = _titles(sheet)
    return f"“{names.get(one.shut, one.shut)}” comes before “{names.get(one.late, one.late)}” and shuts the way: about {one.hours:.1f} h again. {one.why}"  # fmt: skip


def sooner_words(one: Sooner, sheet: PlanSheet) -> str:
    """One way to have it driving sooner."""
    days = f"{one.days:.0f} day{'s' if round(one.days) != 1 else ''}" if one.days >= 0.95 else f"{one.days * 24:.0f} h"
    what = {
        "drop": f"“{_titles(sheet).get(one.key, one.key)}” left for after the first drive",
        "part": f"“{part_words(sheet.plan, one.key)}” here at once",
        "hands": "one more person",
        "place": "one more task at the vehicle at a time",
    }[one.way]
    return f"{what[0].upper()}{what[1:]}: {days} sooner."


def held_words(row: Row) -> str:
    """Why a gate holds a task; empty where none does."""
    return f"Cannot be done yet: {row.task.held}." if row.task.held else ""


def now_words(day: DaySheet, sheet: PlanSheet) -> str:
    """What is on today, for two people apart."""
    if not day.going:
        return "Nothing is on today."
    return " · ".join(f"{' and '.join(r.who)}: {r.task.title}" for r in day.going[:3])


def close_words(day: DaySheet, sheet: PlanSheet, tomorrow: PlanSheet) -> Iterator[str]:
    """The day's end: what was done, what is open, what is short, what comes first."""
    if day.left is not None and day.left.left:
        who = f" ({day.left.who})" if day.left.who else ""
        yield f"Left on {day.left.day}{who}: {day.left.left}"
    for head, rows in (
        ("Done", day.done),
        ("Open", day.going),
        ("Tacked or mocked, not final", day.tacked),
        ("Held up", day.blocked),
    ):
        if rows:
            yield f"{head}:"
        for r in rows:
            why = (r.change.why if r.change is not None else "") or (r.task.held if r.state == "blocked" else "")
            yield f"  {r.task.title}" + (f": {why}" if why and head == "Held up" else "")
    if not day.done:
        yield "Nothing was put down as done today."
    if day.tomorrow:
        yield "First next time:"
    for who, r in day.tomorrow:
        yield f"  {who}: {r.task.title}, {time_words(tomorrow.plan, r.begin or 0)}"
    if day.short:
        yield "Short of:"
    for x in day.short:
        where = f", {x.wanted.end}" if x.wanted.end != "both" else ""
        come = "" if x.due is None else f", comes {x.due.likely.isoformat()}"
        needed = "" if x.needed is None else f", for {x.needed.isoformat()}"
        yield f"  {counted(x)}{where}: {PART_STATE_WORDS[x.state]}{come}{needed}"


def packing_words(one: Packing) -> Iterator[str]:
    """What goes along."""
    yield f"{one.trip.where}{f', {one.trip.day}' if one.trip.day else ''}: {', '.join(r.task.title for r in one.tasks) or 'no task picked yet'}."
    for x in one.parts:
        yield f"  part: {counted(x)}"
    for x in one.missing:
        yield f"  not here yet: {counted(x)} ({PART_STATE_WORDS[x.state]})"
    for item in one.trip.items:
        state = "back" if item.back else "used up" if item.used else "out" if item.out else "to pack"
        yield f"  {item.kind}: {item.name} ({state})"
    if one.out:
        yield f"Out and not back: {', '.join(i.name for i in one.out)}."


def resume_words(day: DaySheet, sheet: PlanSheet) -> str:
    """What to say first when the plan is opened again."""
    if day.left is None or not day.left.left:
        return ""
    return f"Left on {day_words(sheet.plan, minute_of(sheet.plan, day.left.day) or 0)}: {day.left.left}"
