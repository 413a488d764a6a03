"""A day of the build: what a gate holds, sittings, what shuts the way, now or later, sooner, what if, packing, knock-ons as tasks."""

from __future__ import annotations

import datetime

import msgspec
import pytest

from stoutlink.core.advice.day_words import (
    close_words,
    conflict_words,
    held_words,
    later_words,
    packing_words,
    sooner_words,
)
from stoutlink.core.advice.plan_words import end_words
from stoutlink.core.advice.work_list import cards, lane_of
from stoutlink.core.analysis.plan.access import conflicts, later
from stoutlink.core.analysis.plan.calendars import DAY
from stoutlink.core.analysis.plan.day import packing
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, moved, plan_sheet, sitting
from stoutlink.core.analysis.plan.shop_hours import moment
from stoutlink.core.analysis.plan.sooner import sooner
from stoutlink.core.analysis.plan.tasks import After, Task
from stoutlink.core.analysis.plan.what_if import what_if
from stoutlink.core.document.build_plan import (
    BuildPlan,
    OpenHours,
    OwnTask,
    PartRecord,
    TaskChange,
    Trip,
    TripItem,
    Worker,
)
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.plan_edits import CloseDay, MarkTask, TaskOfKnockOn
from stoutlink.core.reports.plan_results import day_json, day_text, plan_json
from stoutlink.core.study.study import Study

TODAY = datetime.date(2026, 9, 21)
HOURS = (OpenHours(id="all", days="every_day", from_h=8.0, to_h=16.0),)
PLAN = BuildPlan(begin="2026-03-02", wanted="2026-06-01", hours=HOURS, people=(Worker(id="a", name="Ida"),))


def few(*tasks: Task, **changes: object) -> PlanSheet:
    return plan_sheet(tasks, msgspec.structs.replace(PLAN, **changes))


def hour(sheet: PlanSheet, key: str, *, end: bool = True) -> float:
    row = sheet.row(key)
    assert row is not None
    minute = row.end if end else row.begin
    assert minute is not None
    return minute / 60.0


def changed(project: Project, *changes: TaskChange) -> Project:
    kept = tuple(c for c in project.build.changes if c.id not in {x.id for x in changes})
    return msgspec.structs.replace(project, build=msgspec.structs.replace(project.build, changes=(*kept, *changes)))


def sheet_of(project: Project) -> PlanSheet:
    found = Study(project).plan_sheet(2 * DAY)
    assert found is not None
    return found


@pytest.mark.parametrize("key", ["rear:straight", "rear:paint", "frame:torque", "frame:sign", "frame:drive"])
def test_a_gate_of_cut_or_bench_holds_a_task_whatever_is_ticked(basalt: Project, key: str) -> None:
    """Said to be done with the gate shut it is held up, counts as nothing, and still has to be done."""
    sheet = sheet_of(changed(basalt, TaskChange(id=key, state="done", when="2026-09-20")))
    row = sheet.row(key)
    assert row is not None
    assert row.task.held
    assert row.state == "blocked"
    assert not row.over
    assert row.begin is not None
    assert held_words(row).startswith("Cannot be done yet: ")
    assert sheet.done == pytest.approx(sheet_of(changed(basalt, TaskChange(id=key))).done)


def test_beads_laid_open_the_gate_to_paint(basalt: Project) -> None:
    from stoutlink.core.document.welding import BeadTick  # noqa: PLC0415

    study = Study(basalt)
    weld = study.weld_base("rear")
    assert weld is not None
    ticks = tuple(BeadTick(bead=b.id, state="welded") for b in weld.beads)
    plan = msgspec.structs.replace(weld.plan, ticks=ticks)
    rest = tuple(w for w in basalt.fabrication.welding if w.id != "rear")
    after = with_parts(basalt, welding=(*rest, plan))
    row = sheet_of(after).row("rear:paint")
    assert row is not None
    assert row.task.held == ""
    assert "not laid" in sheet_of(basalt).row("rear:paint").task.held  # type: ignore[union-attr]


def test_a_task_without_a_gate_is_done_when_it_is_said(basalt: Project) -> None:
    for state in ("done", "inspected"):
        row = sheet_of(changed(basalt, TaskChange(id="rear:out", state=state, when="2026-09-21"))).row("rear:out")
        assert row is not None
        assert (row.state, row.over, row.begin) == (state, True, None)


def test_sittings_one_after_the_other_and_what_waits_waits_for_the_last() -> None:
    a, b, c = Task("a", "A", "rear", 6.0), Task("b", "B", "rear", 1.0, (After("a", "."),)), Task("c", "C", "front", 2.0)
    whole, split = (few(a, b, c, changes=(TaskChange(id="a", sittings=n),)) for n in (1, 3))
    keys = [sitting("a", k) for k in (1, 2, 3)]
    rows = [split.row(k) for k in keys]
    assert [r.task.title for r in rows if r is not None] == ["A (1 of 3)", "A (2 of 3)", "A (3 of 3)"]
    assert [r.hours[1] for r in rows if r is not None] == [2.0, 2.0, 2.0]
    for first, then in zip(keys, [*keys[1:], "b"], strict=True):
        assert hour(split, then, end=False) >= hour(split, first)
    assert split.end == whole.end
    done = few(a, b, c, changes=(TaskChange(id="a", sittings=3, state="done"), TaskChange(id=keys[1], state="done")))
    assert [done.row(k).state for k in keys] == ["done", "done", "open"]  # type: ignore[union-attr]
    assert done.done == pytest.approx(4.0 / 9.0)
    longer = few(a, b, c, changes=(TaskChange(id="a", sittings=3, likely_h=9.0),))
    assert [longer.row(k).hours[1] for k in keys] == [3.0, 3.0, 3.0]  # type: ignore[union-attr]
    apart = few(a, b, c, changes=(TaskChange(id="a", sittings=3), TaskChange(id=keys[2], not_before="2026-03-05")))
    assert hour(apart, keys[2], end=False) == 3 * 24 + 8
    assert hour(apart, keys[1]) < 48


def test_hours_left_make_what_is_done_a_range() -> None:
    a, b = Task("a", "A", "rear", 4.0), Task("b", "B", "rear", 4.0)
    sheet = few(a, b, changes=(TaskChange(id="a", state="done"), TaskChange(id="b", least_h=2.0, most_h=12.0)))
    assert sheet.done == 0.5
    assert sheet.done_range == pytest.approx((4 / 16, 4 / 6))


def test_the_plan_as_proposed_shuts_no_way_before_it_is_used(basalt: Project, tamarack: Project) -> None:
    for p in (basalt, tamarack):
        clean = msgspec.structs.replace(p, build=msgspec.structs.replace(p.build, changes=()))
        assert conflicts(sheet_of(clean)) == ()


def test_a_way_shut_early_is_said_with_what_it_costs(basalt: Project) -> None:
    closed = changed(basalt, TaskChange(id="frame:wheels", state="done", when="2026-09-21"))
    found = {(c.shut, c.late) for c in conflicts(sheet_of(closed))}
    assert ("frame:wheels", "rear:ends") in found
    waived = changed(basalt, TaskChange(id="front:linkage", state="done", when="2026-09-21"))
    sheet = sheet_of(waived)
    (tie,) = [c for c in conflicts(sheet) if c.late == "front:gears"]
    assert "tie rod" in tie.why
    assert "shuts the way" in conflict_words(tie, sheet)


def test_now_or_later_says_what_waits_and_what_would_be_done_again(basalt: Project) -> None:
    sheet = sheet_of(basalt)
    one = later(sheet, "rear:gears")
    assert one is not None
    assert one.first
    after: dict[str, set[str]] = {}
    for r in sheet.rows:
        mine = () if r.change is None else r.change.after
        for a in (*(x.key for x in r.task.after), *mine):
            after.setdefault(a, set()).add(r.task.key)
    seen: set[str] = set()
    todo = ["rear:gears"]
    while todo:
        for k in after.get(todo.pop(), set()) - seen:
            seen.add(k)
            todo.append(k)
    waiting = {k for k in seen if not sheet.row(k).over}  # type: ignore[union-attr]
    assert one.blocks == len(waiting)
    assert {c.shut for c in one.again} == {"rear:close", "rear:in", "driveline:fit-rear"}
    begins = [sheet.row(c.shut).begin for c in one.again]  # type: ignore[union-attr]
    assert one.before == moment(sheet.plan, min(b for b in begins if b is not None)).date()
    words = list(later_words(one, sheet))
    assert any("Waiting moves the day" in w or "It may wait" in w for w in words)
    assert any("drained, opened, sealed" in w for w in words)
    assert later(sheet, "frame:stands") is None, "it is done"


def test_floats_are_what_the_day_bears(basalt: Project) -> None:
    """A task that may wait so long does not move the day when it is told to, in the order of now; a bit more does."""
    a, b, c = Task("a", "A", "rear", 4.0), Task("b", "B", "rear", 4.0, (After("a", "."),)), Task("c", "C", "front", 3.0)
    plan = msgspec.structs.replace(PLAN, people=(Worker(id="a", name="Ida"), Worker(id="b", name="Bo")))
    sheet = plan_sheet((a, b, c), plan)
    one = later(sheet, "c")
    assert one is not None
    assert one.spare_h == pytest.approx(5.0)
    for hours, moves in ((8.0, False), (8.5, True)):
        other = plan_sheet(
            (a, b, c), msgspec.structs.replace(plan, changes=(TaskChange(id="c", likely_h=hours),)), 0, sheet
        )
        assert (other.end > sheet.end) is moves  # type: ignore[operator]


def test_each_way_to_be_sooner_wins_what_it_says() -> None:
    a, b = Task("a", "A", "rear", 12.0, needs=("p",)), Task("own-1", "Own", "rear", 8.0, (After("a", "."),))
    c = Task("c", "C", "front", 12.0)
    part = PartRecord(id="p", state="ordered", likely="2026-03-05")
    plan = msgspec.structs.replace(PLAN, arrivals=(part,))
    tasks = (a, b, c)
    sheet = plan_sheet(tasks, plan)
    found = {(s.way, s.key): s.days for s in sooner(tasks, plan, sheet, 0)}
    assert ("part", "p") in found
    for (way, key), days in found.items():
        if way == "part":
            other = with_value(plan, f"arrivals.{key}.state", "here")
        elif way == "drop":
            other = with_value(plan, f"changes.{key}.state", "dropped")
        elif way == "hands":
            other = msgspec.structs.replace(plan, people=(*plan.people, Worker(id="x", name="X")))
        else:
            other = msgspec.structs.replace(plan, places=plan.places + 1)
        assert -moved(sheet, plan_sheet(tasks, other)).days == pytest.approx(days)
        assert days > 0
    words = [sooner_words(s, sheet) for s in sooner(tasks, plan, sheet, 0)]
    assert any("“p” here at once" in w for w in words)
    assert len(set(words)) == len(words)


def test_what_if_moves_only_what_has_to(basalt: Project) -> None:
    study = Study(basalt)
    sheet = study.plan_sheet(2 * DAY)
    assert sheet is not None
    same = what_if(study.tasks, basalt.build, basalt.build, 2 * DAY, sheet)
    assert same.moved.tasks == ()
    assert same.anew == 0.0
    late = with_value(basalt.build, "arrivals.gear_set-rear.likely", "2026-10-14")
    found = what_if(study.tasks, basalt.build, late, 2 * DAY, sheet)
    keys = {k for k, _ in found.moved.tasks}
    assert "rear:gears" in keys
    assert all(d > 0 for _, d in found.moved.tasks)
    assert found.rows.keys() == keys
    early = [r.task.key for r in sheet.rows if r.end is not None and r.end < (sheet.row("rear:gears").begin or 0) - DAY]  # type: ignore[union-attr]
    assert not keys & set(early)
    anew = plan_sheet(study.tasks, late, 2 * DAY)
    assert anew.end is not None
    assert sheet.end is not None
    assert found.anew == pytest.approx((anew.end - sheet.end) / DAY)


def test_the_day_and_its_close(basalt: Project) -> None:
    study = Study(changed(basalt, TaskChange(id="rear:out", state="done", when="2026-09-21"), TaskChange(id="rear:ends", state="blocked", why="seal driver lent")))  # fmt: skip
    day, sheet, after = study.day_sheet(TODAY), study.plan_sheet(2 * DAY), study.plan_sheet(3 * DAY)
    assert day is not None
    assert sheet is not None
    assert after is not None
    assert [r.task.key for r in day.done] == ["rear:out"]
    assert all(r.begin is not None and moment(sheet.plan, r.begin).date() == TODAY for r in day.going)
    assert [r.task.key for r in day.blocked] == ["rear:ends"]
    assert all(r.state in ("tacked", "mocked") for r in day.tacked)
    first = min((r for r in after.rows if r.begin is not None and r.who), key=lambda r: r.begin or 0)
    assert day.tomorrow[0][1].begin == first.begin
    assert moment(after.plan, day.tomorrow[0][1].begin or 0).date() > TODAY
    assert {x.key for x in day.shop} <= {x.key for x in day.short}
    assert all(x.needed is not None and (x.needed - TODAY).days <= 14 and x.state not in ("here", "fitted") for x in day.short)  # fmt: skip
    words = "\n".join(close_words(day, sheet, after))
    assert "Ends: bearings, hubs, knuckles, seals: seal driver lent" in words
    assert "Left on 2026-09-19 (Ida): Rear housing on the bench" in words
    assert day_json(study, TODAY)["done"] == ["rear:out"]
    assert words.splitlines()[0] in day_text(study, TODAY)


def test_two_people_begin_on_different_tasks() -> None:
    tasks = (Task("a", "A", "rear", 4.0), Task("b", "B", "front", 4.0), Task("c", "C", "rear", 2.0, people=2))
    plan = msgspec.structs.replace(PLAN, people=(Worker(id="a", name="Ida"), Worker(id="b", name="Bo")))
    from stoutlink.core.analysis.plan.day import firsts  # noqa: PLC0415

    found = firsts(plan_sheet(tasks, plan), 0)
    names = [who for who, _ in found]
    keys = [r.task.key for _, r in found]
    assert len(set(keys)) == len(keys)
    assert sorted(" and ".join(names).split(" and ")) == ["Bo", "Ida"]


def test_a_day_is_closed_and_closed_again(basalt: Project) -> None:
    once = CloseDay("2026-09-21", "Shafts in, nothing sealed.", "Bo").apply(basalt)
    twice = CloseDay("2026-09-21", "Shafts in and sealed.", "Bo").apply(once)
    assert [c.left for c in twice.build.closes if c.day == "2026-09-21"] == ["Shafts in and sealed."]
    assert len(twice.build.closes) == len(basalt.build.closes) + 1
    day = Study(twice).day_sheet(TODAY)
    assert day is not None
    assert day.left is not None
    assert day.left.left == "Shafts in and sealed."
    before = Study(twice).day_sheet(datetime.date(2026, 9, 20))
    assert before is not None
    assert before.left is not None
    assert before.left.day == "2026-09-19", "what was left later is not known before"


def test_what_goes_along_and_what_is_not_back(basalt: Project) -> None:
    items = (TripItem(id="a", name="Gauge", out=True), TripItem(id="b", name="Jig", out=True, back=True), TripItem(id="c", name="Discs", out=True, used=True), TripItem(id="d", name="Saw"))  # fmt: skip
    trip = Trip(id="t", where="Elsewhere", tasks=("rear:gears", "none:such"), items=items)
    study = Study(basalt)
    sheet = study.plan_sheet(2 * DAY)
    assert sheet is not None
    found = packing(sheet, study.parts_list(TODAY), trip)
    assert [r.task.key for r in found.tasks] == ["rear:gears"]
    assert {x.key for x in found.missing} == {"gear_set-rear", "tool_setup"} & {x.key for x in found.missing}
    assert "gear_set-rear" in {x.key for x in found.missing}, "it is on order"
    assert "gear_kit-rear" in {x.key for x in found.parts}, "it is here"
    assert [i.name for i in found.out] == ["Gauge"]
    words = "\n".join(packing_words(found))
    assert "Out and not back: Gauge." in words
    assert "tool: Saw (to pack)" in words


def test_a_knock_on_becomes_a_task_and_is_settled_when_that_is_done(basalt: Project) -> None:
    study = Study(basalt)
    card = next(c for c in cards(study.open_so_far) if c.first.code == "K143")
    made = TaskOfKnockOn(card.keys, card.sentence, lane_of(basalt, card), card.first.step).apply(basalt)
    own = made.build.own[-1]
    assert (own.lane, own.step, own.knock_ons) == ("brakes", "donors", card.keys)
    row = sheet_of(made).row(own.id)
    assert row is not None
    assert row.task.where == ("donors", "")
    done = MarkTask(own.id, "done", "2026-09-21", own.title).apply(made)
    keys = {f.key for f in Study(done).open_so_far}
    assert not keys & set(card.keys)
    note = next(a for a in done.accepted if a.code == card.keys[0])
    assert (note.when, note.why.startswith("Done as a task: ")) == ("2026-09-21", True)
    again = MarkTask(own.id, "open", "2026-09-22").apply(done)
    assert set(card.keys) <= {f.key for f in Study(again).open_so_far}
    dropped = MarkTask(own.id, "dropped", "2026-09-22").apply(made)
    assert set(card.keys) <= {f.key for f in Study(dropped).open_so_far}, "left out is not dealt with"


def test_a_task_of_the_program_marked_touches_no_knock_on(basalt: Project) -> None:
    after = MarkTask("rear:out", "done", "2026-09-21").apply(basalt)
    assert after.accepted is basalt.accepted
    assert after.build.change("rear:out") == TaskChange(id="rear:out", state="done", when="2026-09-21")
    assert MarkTask("rear:out", "open", "2026-09-22").apply(after).build.change("rear:out") == TaskChange(id="rear:out")


def test_json_has_ways_conflicts_and_gates(basalt: Project) -> None:
    closed = changed(basalt, TaskChange(id="frame:wheels", state="done", when="2026-09-21"))
    data = plan_json(Study(closed), 2 * DAY)
    assert {"shut_by": "frame:wheels", "task": "rear:ends"}.items() <= next(c for c in data["conflicts"] if c["task"] == "rear:ends").items()  # fmt: skip
    assert all(s["days"] > 0 for s in data["sooner"])
    assert next(t for t in data["tasks"] if t["key"] == "frame:sign")["held"]
    own = OwnTask(id="own-9", title="Own")
    more = msgspec.structs.replace(closed, build=msgspec.structs.replace(closed.build, own=(*closed.build.own, own)))
    assert any(t["key"] == "own-9" for t in plan_json(Study(more), 2 * DAY)["tasks"])


def test_a_plan_with_nothing_left_has_no_day_and_is_not_late() -> None:
    a = Task("a", "A", "rear", 4.0)
    sheet = few(a, changes=(TaskChange(id="a", state="done"),), wanted="2026-03-03")
    assert (sheet.end, sheet.late_days, sheet.no_day, sheet.done) == (None, None, False, 1.0)
    assert end_words(sheet) == "Nothing is left to do: every task is done or left out."
