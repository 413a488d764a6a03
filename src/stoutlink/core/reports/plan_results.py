"""The plan as plain data, as a table, as text and as a calendar (RFC 5545)."""

from __future__ import annotations

import datetime
import hashlib
import re
from collections.abc import Iterator
from typing import Any

from stoutlink.core.advice.day_words import close_words, conflict_words, packing_words, sooner_words
from stoutlink.core.advice.parts_words import PART_STATE_WORDS
from stoutlink.core.advice.plan_words import (
    CAUTION,
    DAYS,
    because_words,
    circle_words,
    day_words,
    progress_words,
    row_words,
    sheet_words,
)
from stoutlink.core.analysis.plan.access import conflicts
from stoutlink.core.analysis.plan.calendars import DAY
from stoutlink.core.analysis.plan.day import Packing, packing
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row
from stoutlink.core.analysis.plan.shop_hours import day_of, moment
from stoutlink.core.document.build_plan import LANE_WORDS
from stoutlink.core.reports.packet_pages import BOX, Written
from stoutlink.core.study.study import Study
from stoutlink.core.tables import table_text

NO_PLAN = "No plan yet: say its first day (build.begin) and, where you have one, the day it should drive."


def plan_json(study: Study, now: int = 0) -> dict[str, Any]:
    """The plan, hours and ISO days."""
    sheet = study.plan_sheet(now)
    if sheet is None:
        tasks = [{"key": t.key, "title": t.title, "lane": t.lane, "hours": t.hours} for t in study.tasks]
        return {"planned": False, "tasks": tasks}
    chance = study.plan_chance_of(sheet, now)
    return {
        "planned": True,
        "drives": None if sheet.end_day is None else sheet.end_day.isoformat(),
        "late_days": sheet.late_days,
        "no_working_day_left": sheet.no_day,
        "circle": list(sheet.circle),
        "looks": sheet.looks,
        "done": sheet.done,
        "done_range": list(sheet.done_range),
        "chance": None
        if chance is None
        else {"met": chance.met, "sigma": chance.sigma, "half": moment(sheet.plan, chance.half).isoformat()},
        "chain": list(sheet.chain),
        "came": list(sheet.came),
        "went": list(sheet.went),
        "conflicts": [
            {"shut_by": c.shut, "task": c.late, "hours_again": c.hours, "why": c.why} for c in conflicts(sheet)
        ],
        "sooner": [{"way": s.way, "key": s.key, "days": s.days} for s in study.sooner(study.tasks, sheet, now)],
        "milestones": [
            {"name": n, "day": None if m is None or m == 0 else moment(sheet.plan, m - 1).date().isoformat()}
            for n, m in sheet.milestones
        ],
        "tasks": [_row(r, sheet) for r in sheet.rows],
    }


def _row(r: Row, sheet: PlanSheet) -> dict[str, Any]:
    return {
        "key": r.task.key,
        "title": r.task.title,
        "lane": r.task.lane,
        "state": r.state,
        "held": r.task.held,
        "least_h": r.hours[0],
        "likely_h": r.hours[1],
        "most_h": r.hours[2],
        "begin": None if r.begin is None else moment(sheet.plan, r.begin).isoformat(),
        "end": None if r.end is None else moment(sheet.plan, r.end).isoformat(),
        "why": because_words(r, sheet),
        "spare_h": None if r.spare is None else r.spare / 60.0,
        "on_chain": r.on_chain,
        "who": list(r.who),
        "after": [a.key for a in r.task.after],
        "needs": list(r.task.needs),
    }


def plan_text(study: Study, now: int = 0) -> str:
    """The plan in words."""
    sheet = study.plan_sheet(now)
    if sheet is None:
        return "\n".join([NO_PLAN, *(f"{t.title}: {t.hours:.1f} h" for t in study.tasks)])
    ways = [conflict_words(c, sheet) for c in conflicts(sheet)] + [
        sooner_words(x, sheet) for x in study.sooner(study.tasks, sheet, now)
    ]
    return "\n".join([*sheet_words(sheet, study.plan_chance_of(sheet, now)), *ways, CAUTION])


def day_json(study: Study, today: datetime.date) -> dict[str, Any]:
    """The day as plain data."""
    found = study.day_sheet(today)
    if found is None:
        return {"planned": False}
    trips = _trips(study, today)
    return {
        "planned": True,
        "day": found.day.isoformat(),
        "left": None if found.left is None else {"day": found.left.day, "left": found.left.left, "who": found.left.who},
        "done": [r.task.key for r in found.done],
        "open": [r.task.key for r in found.going],
        "tacked": [r.task.key for r in found.tacked],
        "held_up": [{"key": r.task.key, "why": (r.change.why if r.change else "") or r.task.held} for r in found.blocked],
        "first_next": [{"who": who, "key": r.task.key, "title": r.task.title} for who, r in found.tomorrow],
        "short": [{"line": x.key, "state": x.state, "needed": None if x.needed is None else x.needed.isoformat()} for x in found.short],
        "shopping": [x.key for x in found.shop],
        "trips": [
            {"id": t.trip.id, "where": t.trip.where, "parts": [x.key for x in t.parts], "not_here": [x.key for x in t.missing], "not_back": [i.name for i in t.out]}
            for t in trips
        ],
    }  # fmt: skip


def _trips(study: Study, today: datetime.date) -> list[Packing]:
    first = day_of(study.project.build.begin)
    now = 0 if first is None else max(0, (today - first).days) * DAY
    sheet = study.plan_sheet(now)
    if sheet is None:
        return []
    parts = study.parts_list_of(sheet, today)
    return [packing(sheet, parts, t) for t in study.project.build.trips]


def day_text(study: Study, today: datetime.date) -> str:
    """The day in words."""
    found = study.day_sheet(today)
    if found is None:
        return NO_PLAN
    first = day_of(study.project.build.begin)
    now = 0 if first is None else max(0, (today - first).days) * DAY
    sheet, next_ = study.plan_sheet(now), study.plan_sheet(now + DAY)
    assert sheet is not None
    assert next_ is not None
    lines = [f"{DAYS[today.weekday()]} {today.isoformat()}. {progress_words(sheet)}", *close_words(found, sheet, next_)]
    for trip in _trips(study, today):
        lines += packing_words(trip)
    return "\n".join([*lines, CAUTION])


def day_pages(study: Study, today: datetime.date) -> Iterator[Written]:
    """The day sheet: what is on, what is short, what goes along, to tick off."""
    found = study.day_sheet(today)
    if found is None:
        return
    head = tuple(day_text(study, today).splitlines()[:2])
    rows = tuple(
        (LANE_WORDS[r.task.lane], r.task.title, " and ".join(r.who), f"{r.hours[1]:.1f}", BOX) for r in found.going
    )
    yield Written(f"Day sheet, {today.isoformat()}", head, ("Where", "Task", "Who", "Hours", "Done"), rows, (1.8, 6.4, 2, 1, 0.9), (CAUTION,))  # fmt: skip
    short = tuple((x.wanted.title, str(x.wanted.count), PART_STATE_WORDS[x.state], "" if x.needed is None else x.needed.isoformat(), BOX) for x in found.short)  # fmt: skip
    if short:
        yield Written("Short of", (), ("Item", "No.", "State", "Needed", "Got"), short, (7, 0.9, 1.8, 1.8, 0.9))
    for trip in _trips(study, today):
        items = [(x.wanted.title, "part", BOX, BOX) for x in trip.parts] + [
            (i.name, i.kind, BOX, BOX) for i in trip.trip.items
        ]
        yield Written(f"Along to {trip.trip.where}", tuple(list(packing_words(trip))[:1]), ("Item", "What", "Out", "Back"), tuple(items), (7, 1.6, 0.9, 0.9))  # fmt: skip


def plan_csv(sheet: PlanSheet) -> str:
    """Every task as a row."""
    rows = [("key", "lane", "task", "state", "likely_h", "begin", "end", "on_chain", "spare_h", "who")]
    for r in sheet.rows:
        rows.append(
            (
                r.task.key, r.task.lane, r.task.title, r.state, f"{r.hours[1]:.2f}",
                "" if r.begin is None else moment(sheet.plan, r.begin).isoformat(),
                "" if r.end is None else moment(sheet.plan, r.end).isoformat(),
                "yes" if r.on_chain else "", "" if r.spare is None else f"{r.spare / 60:.2f}", " ".join(r.who),
            )
        )  # fmt: skip
    return table_text(rows)


def plan_ics(sheet: PlanSheet, name: str, stamp: datetime.datetime) -> bytes:
    """The plan as an iCalendar: an event a task, under an id that stays the same from one export to the next."""
    lines = [
        "BEGIN:VCALENDAR",
        "VERSION:2.0",
        "PRODID:-//Stout Link//Plan//EN",
        "CALSCALE:GREGORIAN",
        f"X-WR-CALNAME:{_escaped(name)}",
    ]
    for r in sheet.rows:
        if r.begin is None or r.end is None or r.over:
            continue
        uid = hashlib.sha256(f"{name}\n{r.task.key}".encode()).hexdigest()[:32]
        lines += [
            "BEGIN:VEVENT",
            f"UID:{uid}@stout-link",
            f"DTSTAMP:{stamp:%Y%m%dT%H%M%SZ}",
            f"DTSTART:{moment(sheet.plan, r.begin):%Y%m%dT%H%M%S}",
            f"DTEND:{moment(sheet.plan, max(r.end, r.begin + 1)):%Y%m%dT%H%M%S}",
            f"SUMMARY:{_escaped(r.task.title)}",
            f"DESCRIPTION:{_escaped(row_words(r, sheet))}",
            f"CATEGORIES:{_escaped(LANE_WORDS[r.task.lane])}",
            "END:VEVENT",
        ]
    lines.append("END:VCALENDAR")
    return ("\r\n".join(part for line in lines for part in _folded(line)) + "\r\n").encode()


def _escaped(words: str) -> str:
    """Text as RFC 5545, 3.3.11 writes it; line breaks become their sign, other controls blanks."""
    out = words.replace("\\", "\\\\").replace(";", "\\;").replace(",", "\\,")
    return re.sub(r"[\x00-\x08\x0b-\x1f\x7f]", " ", re.sub(r"\r\n|\r|\n", r"\\n", out))


def _folded(line: str) -> Iterator[str]:
    """Lines of at most 75 octets, the next begun with a blank (RFC 5545, 3.1); no letter is cut in two."""
    data, first = "", True
    for letter in line:
        if len((data + letter).encode()) > (75 if first else 74):
            yield data if first else f" {data}"
            data, first = "", False
        data += letter
    yield data if first else f" {data}"


def plan_pages(study: Study, now: int = 0) -> Iterator[Written]:
    """The wall sheet: the days to come with what is done on each; then every task with what it waits for."""
    sheet = study.plan_sheet(now)
    if sheet is None:
        return
    head = tuple(list(sheet_words(sheet, study.plan_chance_of(sheet, now)))[:2])
    if sheet.circle:
        yield Written("Plan", (circle_words(sheet),))
        return
    rows = []
    for r in sorted((r for r in sheet.rows if r.begin is not None), key=lambda r: r.begin or 0):
        assert r.begin is not None
        rows.append(
            (
                day_words(sheet.plan, r.begin),
                LANE_WORDS[r.task.lane],
                r.task.title,
                f"{r.hours[1]:.1f}",
                "yes" if r.on_chain else "",
                BOX,
            )
        )
    yield Written("Plan", head, ("Day", "Where", "Task", "Hours", "Sets the date", "Done"), tuple(rows), (2.4, 1.7, 6, 0.9, 1.2, 0.9), (CAUTION,))  # fmt: skip
