"""The plan as plain data, as a table, as text and as a calendar (RFC 5545)."""

from __future__ import annotations

import datetime
import hashlib
from collections.abc import Iterator
from typing import Any

from stoutlink.core.advice.plan_words import CAUTION, because_words, circle_words, day_words, row_words, sheet_words
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row
from stoutlink.core.analysis.plan.shop_hours import moment
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
        "chance": None
        if chance is None
        else {"met": chance.met, "sigma": chance.sigma, "half": moment(sheet.plan, chance.half).isoformat()},
        "chain": list(sheet.chain),
        "came": list(sheet.came),
        "went": list(sheet.went),
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
    return "\n".join([*sheet_words(sheet, study.plan_chance_of(sheet, now)), CAUTION])


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
    """Text as RFC 5545, 3.3.11 writes it; line breaks become their sign."""
    out = words.replace("\\", "\\\\").replace(";", "\\;").replace(",", "\\,")
    return out.replace("\r\n", "\\n").replace("\n", "\\n").replace("\r", "\\n")


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
