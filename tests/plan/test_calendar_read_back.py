"""The calendar read back by the icalendar library, and held against the plan."""

from __future__ import annotations

import datetime

import icalendar
import msgspec

from stoutlink.core.analysis.plan.shop_hours import moment
from stoutlink.core.document.build_plan import OwnTask, TaskChange
from stoutlink.core.document.project import Project
from stoutlink.core.reports.plan_results import plan_ics
from stoutlink.core.study.study import Study

STAMP = datetime.datetime(2026, 9, 21, 12, 0, tzinfo=datetime.UTC)
ODD = "Cut; weld, grind\\polish: “ü” and 80 letters more so that the line is folded somewhere in the middle"


def test_every_task_left_is_an_event_with_its_hours(basalt: Project, tamarack: Project) -> None:
    for p in (basalt, tamarack):
        sheet = Study(p).plan_sheet()
        assert sheet is not None
        read = icalendar.Calendar.from_ical(plan_ics(sheet, p.name, STAMP))
        assert not read.errors
        events = read.walk("VEVENT")
        rows = [r for r in sheet.rows if not r.over and r.begin is not None]
        assert len(events) == len(rows)
        by_title = {(str(e["SUMMARY"]), e.decoded("DTSTART")) for e in events}
        assert by_title == {(r.task.title, moment(sheet.plan, r.begin or 0)) for r in rows}
        for e in events:
            assert e.decoded("DTEND") > e.decoded("DTSTART")
            assert e.decoded("DTSTAMP") == STAMP
        assert len({str(e["UID"]) for e in events}) == len(events)


def test_ids_stay_when_the_plan_moves_and_odd_text_comes_back(basalt: Project) -> None:
    own = OwnTask(id="own-9", title=ODD)
    one = msgspec.structs.replace(basalt, build=msgspec.structs.replace(basalt.build, own=(*basalt.build.own, own)))
    late = TaskChange(id="own-9", not_before="2026-11-02")
    two = msgspec.structs.replace(one, build=msgspec.structs.replace(one.build, changes=(*one.build.changes, late)))
    found = []
    for p in (one, two):
        sheet = Study(p).plan_sheet()
        assert sheet is not None
        events = icalendar.Calendar.from_ical(plan_ics(sheet, p.name, STAMP)).walk("VEVENT")
        found.append({str(e["UID"]): e for e in events})
    assert found[0].keys() == found[1].keys()
    (uid,) = [k for k, e in found[0].items() if str(e["SUMMARY"]) == ODD]
    assert found[1][uid].decoded("DTSTART").date() >= datetime.date(2026, 11, 2)
    assert found[0][uid].decoded("DTSTART") != found[1][uid].decoded("DTSTART")
