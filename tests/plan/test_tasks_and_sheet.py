"""The plan from the demos: tasks without typing one, what each waits for, schools, what came and went, what is done and looks it."""

from __future__ import annotations

import datetime

import msgspec
import pytest

from stoutlink.core.advice.plan_words import because_words, circle_words, end_words, moved_words, row_words, weakest
from stoutlink.core.analysis.plan.calendars import DAY
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, could_drop, moved, plan_sheet
from stoutlink.core.analysis.plan.shop_hours import moment, shop_of
from stoutlink.core.analysis.plan.tasks import After, Task
from stoutlink.core.document.build_plan import BuildPlan, Closed, OpenHours, OwnTask, PartRecord, TaskChange, Worker
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study

HOURS = (OpenHours(id="all", days="every_day", from_h=8.0, to_h=16.0),)
PLAN = BuildPlan(begin="2026-03-02", wanted="2026-06-01", hours=HOURS, people=(Worker(id="a", name="Ida"),))


def planned(project: Project, **changes: object) -> Project:
    return msgspec.structs.replace(project, build=msgspec.structs.replace(PLAN, **changes))


def sheet_of(project: Project) -> PlanSheet:
    found = Study(project).plan_sheet()
    assert found is not None
    return found


def keys(project: Project) -> set[str]:
    return {t.key for t in Study(project).tasks}


def few(*tasks: Task, **changes: object) -> PlanSheet:
    return plan_sheet(tasks, msgspec.structs.replace(PLAN, **changes))


def test_both_demos_give_sixty_to_a_hundred_and_twenty_tasks(basalt: Project, tamarack: Project) -> None:
    for p in (basalt, tamarack):
        tasks = Study(msgspec.structs.replace(p, build=BuildPlan())).tasks
        assert 60 <= len(tasks) <= 120
        names = {t.key for t in tasks}
        assert len(names) == len(tasks)
        assert all(a.key in names for t in tasks for a in t.after), "nothing waits for what is not there"
        assert all(a.why.endswith(".") for t in tasks for a in t.after), "every rule has its reason"
        assert all(t.hours > 0 or t.people == 0 for t in tasks)
        assert not sheet_of(planned(p)).circle


def test_order_rules(basalt: Project) -> None:
    sheet = sheet_of(planned(basalt))

    def before(first: str, second: str) -> bool:
        """Whether one task is done before another begins, however they are laid."""
        seen, todo = set(), [second]
        after = {r.task.key: [a.key for a in r.task.after] for r in sheet.rows}
        while todo:
            at = todo.pop()
            if at == first:
                return True
            if at not in seen:
                seen.add(at)
                todo += after[at]
        return False

    assert before("front:box", "front:linkage"), "panhard only after steering box and engine"
    assert before("rear:square", "driveline:made-rear"), "the shaft is ordered after the axle is measured"
    assert before("rear:straight", "rear:gears"), "no gears before a post-weld reading"
    assert before("rear:gears", "rear:locker")
    assert before("rear:locker", "rear:close")
    assert all(before(f"rear:weld:{w}", "rear:paint") for w in ("part-mount-l", "own-drain")), (
        "cover before paint never"
    )
    assert before("brakes:lines-rear", "brakes:bleed"), "brakes bled last"
    assert before("frame:sign", "frame:drive")
    assert before("rear:mock", "front:mock")
    other = sheet_of(planned(basalt, first="front"))
    assert any(a.key == "front:mock" for a in next(r for r in other.rows if r.task.key == "rear:mock").task.after)


def test_both_schools_of_tacking_give_their_reason(basalt: Project) -> None:
    reasons = {}
    for school in ("bump", "ride"):
        row = sheet_of(planned(basalt, bump=school)).row("rear:square")
        assert row is not None
        reasons[school] = row.task.after[0].why
    assert "full bump first" in reasons["bump"]
    assert "ride height" in reasons["ride"]


def test_a_change_of_the_choices_moves_the_plan_and_says_what_came_and_went(basalt: Project) -> None:
    seen = tuple(t.key for t in Study(planned(basalt)).tasks)
    p = planned(basalt, seen=seen, changes=(TaskChange(id="rear:clean", state="done"),))
    assert sheet_of(p).came == sheet_of(p).went == ()
    p = with_parts(p, rear_plan=msgspec.structs.replace(p.swap.rear_plan, locker="open"))
    found = sheet_of(p)
    assert found.went == ("rear:locker",)
    assert found.row("rear:clean") is not None
    assert found.row("rear:clean").state == "done", "what is done stays done"  # type: ignore[union-attr]
    p = with_parts(p, rear_plan=msgspec.structs.replace(p.swap.rear_plan, locker="air"))
    assert "rear:locker" in {r.task.key for r in sheet_of(p).rows}


def test_work_done_elsewhere_is_done_here_and_tacked_is_not(basalt: Project) -> None:
    p = planned(basalt)
    link = "rear:bar:lower_right"
    first = sheet_of(p).row(link)
    assert first is not None
    assert first.state == "open"
    q = with_value(p, "layouts.rear-a.links.lower_right.stage", "tacked")
    row, final = sheet_of(q).row(link), sheet_of(q).row("rear:final:lower_right")
    assert row is not None
    assert final is not None
    assert row.state == "done", "cut, fitted, tacked is what that task was"
    assert final.state == "open", "welded out is another"
    weld = next(r for r in sheet_of(p).rows if r.task.key.startswith("rear:weld:") and r.task.tacked)
    assert weld.state == "tacked"
    said = PutInList("build.changes", TaskChange(id=weld.task.key, state="done"), "x").apply(p)
    again = sheet_of(said).row(weld.task.key)
    assert again is not None
    assert again.state == "tacked", "nothing is done while it is tacked"


def test_looks_and_done_are_two_things() -> None:
    a, b = Task("a", "A", "rear", 1.0, weight=3), Task("b", "B", "rear", 9.0, weight=1)
    one = few(a, b, changes=(TaskChange(id="a", state="done"),))
    assert one.looks == pytest.approx(0.75)
    assert one.done == pytest.approx(0.1)
    two = few(a, b, changes=(TaskChange(id="a", state="tacked"), TaskChange(id="b", state="mocked")))
    assert (two.looks, two.done) == (1.0, 0.0)
    three = few(a, b, changes=(TaskChange(id="a", state="done"), TaskChange(id="b", state="dropped")))
    assert (three.looks, three.done) == (1.0, 1.0)


def test_hours_people_and_days_are_the_users() -> None:
    a = Task("a", "A", "rear", 4.0, people=2)
    assert few(a).end == 12 * 60, "one person is all there is: eight to twelve"
    assert few(a, changes=(TaskChange(id="a", likely_h=8.0),)).end == 16 * 60
    assert few(a, changes=(TaskChange(id="a", likely_h=10.0),)).end == DAY + 10 * 60, "it rests overnight"
    assert few(a, changes=(TaskChange(id="a", spent_h=1.0),)).end == 11 * 60
    assert few(a, changes=(TaskChange(id="a", not_before="2026-03-05"),)).end == 3 * DAY + 12 * 60
    assert few(a, closed=(Closed(id="c", first="2026-03-02", last="2026-03-03"),)).end == 2 * DAY + 12 * 60
    assert few(a, quiet_from_h=8.0, quiet_to_h=10.0, changes=(TaskChange(id="a", hours="quiet"),)).end == 14 * 60
    assert few(a, changes=(TaskChange(id="a", hours="always"),)).end == 4 * 60
    away = (Worker(id="a", name="Ida", away_from="2026-03-02", away_to="2026-03-02"),)
    assert few(a, people=away).end == DAY + 12 * 60


def test_a_part_by_the_end_of_its_day_and_what_it_moves() -> None:
    a, b = Task("a", "A", "rear", 4.0, needs=("hub",)), Task("b", "B", "rear", 2.0)
    here = few(a, b)
    part = PartRecord(id="hub", name="Hub", state="ordered", likely="2026-03-03")
    late = few(a, b, arrivals=(part,))
    row = late.row("a")
    assert row is not None
    assert row.begin == 2 * DAY + 8 * 60, "it is there when that day is over"
    assert row.why is not None
    assert (row.why.wait, row.why.key) == ("part", "hub")
    assert because_words(row, late) == "waits for a part: Hub, and for the next open hour"
    assert late.row("b").begin == 8 * 60, "what does not need it goes on"  # type: ignore[union-attr]
    found = moved(here, late)
    assert found.days == pytest.approx((late.end - here.end) / DAY)  # type: ignore[operator]
    assert {k for k, _ in found.tasks} >= {"a"}
    assert "A" in moved_words(found, late)
    assert few(a, b, arrivals=(msgspec.structs.replace(part, state="here"),)).end == here.end
    assert few(a, b, arrivals=(msgspec.structs.replace(part, likely=""),)).end == here.end, "no day said is no day"


def test_the_day_is_met_or_not() -> None:
    a = Task("a", "A", "rear", 8.0 * 5)
    in_time = few(a, wanted="2026-03-06")
    assert in_time.late_days == 0 or (in_time.late_days is not None and in_time.late_days <= 0)
    assert in_time.end_day == datetime.date(2026, 3, 6)
    late = few(a, wanted="2026-03-05")
    assert late.late_days == 1
    assert "1 day after the day wanted" in end_words(late)
    never = few(a, access_ends="2026-03-03")
    assert never.no_day
    assert never.end is None
    assert "no working day left" in end_words(never)


def test_what_comes_after_the_drive_does_not_set_its_day() -> None:
    a, b = Task("a", "A", "rear", 4.0), Task("b", "B", "rear", 40.0, drives=False)
    found = few(a, b, changes=(TaskChange(id="b", after=("a",)),))
    assert found.end == 12 * 60
    assert found.chain == ("a",)


def test_a_circle_is_named_and_the_link_that_was_said_is_the_one_to_cut() -> None:
    a, b, c = Task("a", "Axle", "rear", 1.0), Task("b", "Bar", "rear", 1.0), Task("c", "Cover", "rear", 1.0)
    ring = (TaskChange(id="a", after=("c",)), TaskChange(id="b", after=("a",)), TaskChange(id="c", after=("b",)))
    found = few(a, b, c, changes=ring)
    assert set(found.circle) == {"a", "b", "c"}
    assert weakest(found) is not None
    assert "wait for one another" in circle_words(found)
    assert found.end is None
    task, before = weakest(found)  # type: ignore[misc]
    cut = tuple(msgspec.structs.replace(x, after=()) if x.id == task else x for x in ring)
    assert not few(a, b, c, changes=cut).circle
    assert before in next(x for x in ring if x.id == task).after


def test_own_tasks_wait_and_may_be_left_out() -> None:
    a = Task("a", "A", "rear", 4.0)
    own = (OwnTask(id="own-1", title="Skid plate", likely_h=8.0),)
    found = few(a, own=own, changes=(TaskChange(id="own-1", after=("a",)),))
    assert found.end == DAY + 12 * 60
    assert found.chain == ("a", "own-1")
    won = could_drop((a,), found.plan, found)
    assert [k for k, _ in won] == ["own-1"]
    assert won[0][1] == pytest.approx(1.0)
    waived = few(Task("b", "B", "rear", 1.0, (After("a", "Because."),)), a, changes=(TaskChange(id="b", not_after=("a",)),), people=(Worker(id="a", name="A"), Worker(id="b", name="B")))  # fmt: skip
    assert waived.row("b").begin == 8 * 60  # type: ignore[union-attr]


def test_words_of_a_task_are_its_own() -> None:
    found = few(Task("a", "Axle out", "rear", 2.0))
    row = found.row("a")
    assert row is not None
    assert row_words(row, found) == "Axle out: open, 2.0 h (1.4 to 3.6), Mon 2026-03-02 08:00 to Mon 2026-03-02 10:00, sets the date; it can begin at once, and for the next open hour"  # fmt: skip


def test_hours_of_the_week_are_those_of_the_calendar() -> None:
    """Every open minute of three weeks by the weekday of its date."""
    plan = msgspec.structs.replace(
        PLAN,
        hours=(OpenHours(id="e", days="weekdays", from_h=18.0, to_h=21.5), OpenHours(id="s", days="sunday", from_h=9.0, to_h=12.0)),
        closed=(Closed(id="c", first="2026-03-10", last="2026-03-11"),),
        access_ends="2026-03-20",
    )  # fmt: skip
    open_ = {m for a, b in shop_of(plan).spans["shop"] for m in range(a, b)}
    for m in range(0, 22 * DAY, 7):
        at = moment(plan, m)
        hour = at.hour + at.minute / 60
        wanted = (at.weekday() < 5 and 18 <= hour < 21.5) or (at.weekday() == 6 and 9 <= hour < 12)
        wanted = wanted and at.date() not in (datetime.date(2026, 3, 10), datetime.date(2026, 3, 11))
        assert (m in open_) == (wanted and at.date() <= datetime.date(2026, 3, 20)), at


@pytest.mark.parametrize(
    ("path", "value", "code"),
    [
        ("build.begin", "2026-02-30", "D181"),
        ("build.wanted", "1826-03-01", "D186"),
        ("build.wanted", "2026-03-01", "D185"),
        ("build.hours.all.to_h", 7.0, "D182"),
        ("build.changes.x.most_h", 1.0, "D183"),
        ("build.changes.x.after", ("x",), "D184"),
    ],
)
def test_wrong_days_and_hours_are_one_sentence(basalt: Project, path: str, value: object, code: str) -> None:
    p = planned(basalt, changes=(TaskChange(id="x", least_h=2.0),))
    with pytest.raises(StoutError) as why:
        SetChoice(path, value, "it").apply(p)
    assert why.value.code == code
