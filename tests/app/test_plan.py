"""The plan in the window: begun, ticked, typed, a late part told, a circle named, exported."""

from __future__ import annotations

import datetime
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.bench.sheet import BenchSheet
from stoutlink.app.steps.plan.plan_look import PlanLook
from stoutlink.app.steps.plan.sheet import PlanSheetView
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.document.build_plan import BuildPlan, TaskChange
from stoutlink.core.editing.edits import PutInList, SetChoice
from tests.app.conftest import Answers
from tests.app.test_bench_cards import click, said
from tests.app.test_parts_and_copes import press

DAY = datetime.date(2026, 9, 21)


def plan(qtbot: QtBot, window: MainWindow, *, empty: bool = False) -> PlanLook:
    if empty:
        window.workspace.do(SetChoice("build", BuildPlan(), "none"))
    look = window.sheet(PlanSheetView).plan
    window.workspace.today = lambda: DAY
    window.show_step("plan")
    if not empty:
        settled(qtbot, window)
    return look


def settled(qtbot: QtBot, window: MainWindow) -> None:
    """The plan shown is of what stands now."""
    look = window.sheet(PlanSheetView).plan

    def there() -> bool:
        QApplication.processEvents()
        return (
            look.sheet is not None
            and look.sheet.plan is window.workspace.project.build
            and not look.desk.work.busy
            and not look.desk.other.busy
        )

    qtbot.waitUntil(there, timeout=60_000)


def typed(qtbot: QtBot, window: MainWindow, path: str, words: str) -> None:
    view = window.sheet(PlanSheetView)
    assert view.show_field(path), path
    line = next(x for x in view.findChildren(KeptLine) if x.place == path and x.isVisibleTo(view))
    line.selectAll()
    qtbot.keyClicks(line, words)
    qtbot.keyClick(line, Qt.Key.Key_Return)
    line.clearFocus()


def test_an_empty_plan_says_what_to_do_and_begins_today(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window, empty=True)
    assert "tasks follow from the choices" in look.now.text()
    press(qtbot, window, "begin_plan")
    settled(qtbot, window)
    assert look.now.text().startswith("Drives on ")
    build = window.workspace.project.build
    assert build.begin == "2026-09-21"
    assert build.hours
    window.workspace.undo()
    assert window.workspace.project.build == BuildPlan()


def test_a_task_is_done_and_the_next_stands_there(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    row = look.row
    assert row is not None
    first, done = row.task.key, look.sheet.done if look.sheet else 0.0
    press(qtbot, window, "task_done")
    settled(qtbot, window)
    assert window.workspace.project.build.change(first).state == "done"  # type: ignore[union-attr]
    assert look.row is not None
    assert look.row.task.key != first
    assert look.sheet is not None
    assert look.sheet.done > done
    weld = next(r for r in look.sheet.rows if r.task.tacked)
    heard = said(window)
    look.pick(weld.task.key)
    settled(qtbot, window)
    press(qtbot, window, "task_done")
    assert "tacked only" in heard[-1]


def test_hours_days_and_a_late_part_move_it_and_it_says_what(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    assert look.sheet is not None
    end = look.sheet.end
    assert end is not None
    click(qtbot, look.picture, "task frame:torque")
    settled(qtbot, window)
    typed(qtbot, window, "build.changes.frame:torque.likely_h", "40")
    settled(qtbot, window)
    assert look.sheet.end is not None
    assert look.sheet.end > end
    assert "The last day moves by" in look.more.text()
    typed(qtbot, window, "build.arrivals.driveshaft-rear.latest", "2026-11-24")
    typed(qtbot, window, "build.arrivals.driveshaft-rear.likely", "2026-11-20")
    settled(qtbot, window)
    assert look.sheet.end_day is not None
    assert look.sheet.end_day > datetime.date(2026, 11, 20)
    heard = said(window)
    typed(qtbot, window, "build.wanted", "2026-02-31")
    assert "on no calendar" in heard[-1]
    assert window.workspace.project.build.wanted == "2026-10-31"


def test_a_circle_is_named_and_nothing_is_lost(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    window.workspace.do(PutInList("build.changes", TaskChange(id="rear:out", after=("rear:in",)), "circle"))
    settled(qtbot, window)
    assert look.now.text().startswith("No plan: ")
    assert "wait for one another" in look.now.text()
    assert "Take “Rear axle in for good” off what “Old rear axle out” waits for" in look.now.text()
    window.workspace.undo()
    settled(qtbot, window)
    assert look.now.text().startswith("Drives on ")


def test_own_tasks_people_and_closed_days(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    for group, path in (("people", "people"), ("closed", "closed"), ("hours", "hours")):
        look.show_group(group)
        before = len(getattr(window.workspace.project.build, path))
        press(qtbot, window, "add_to_plan")
        assert len(getattr(window.workspace.project.build, path)) == before + 1
        press(qtbot, window, "remove_from_plan")
        assert len(getattr(window.workspace.project.build, path)) == before
    look.show_group("task")
    press(qtbot, window, "add_to_plan")
    settled(qtbot, window)
    new = window.workspace.project.build.own[-1].id
    typed(qtbot, window, f"build.own.{new}.title", "Paint the skid plate")
    settled(qtbot, window)
    assert look.sheet is not None
    row = look.sheet.row(new)
    assert row is not None
    assert row.task.title == "Paint the skid plate"


def test_what_came_is_told_until_it_was_seen(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    window.workspace.do(SetChoice("rear_plan.locker", "open", "locker"))
    settled(qtbot, window)
    assert "0 tasks came, 1 went" in look.more.text()
    press(qtbot, window, "plan_seen")
    settled(qtbot, window)
    assert "went" not in look.more.text()


@pytest.mark.parametrize("name", ["plan.ics", "plan.csv", "plan.pdf"])
def test_it_is_exported(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path, name: str) -> None:
    plan(qtbot, window)
    answers.path = tmp_path / name
    press(qtbot, window, "export_plan")
    data = (tmp_path / name).read_bytes()
    assert data.startswith({"plan.ics": b"BEGIN:VCALENDAR", "plan.csv": b"key,lane", "plan.pdf": b"%PDF"}[name])


def test_two_hundred_tasks_are_drawn_and_none_over_another(qtbot: QtBot, window: MainWindow) -> None:
    from stoutlink.core.document.build_plan import OwnTask  # noqa: PLC0415

    look = plan(qtbot, window)
    build = window.workspace.project.build
    own = tuple(OwnTask(id=f"own-{k}", title=f"Very long name of a task that goes on {k}", lane="frame") for k in range(1, 110))  # fmt: skip
    window.workspace.do(SetChoice("build", msgspec.structs.replace(build, own=own), "many"))
    settled(qtbot, window)
    look.picture.repaint()
    boxes = [h.box for h in look.picture.hits if h.name.startswith("task ")]
    assert len(boxes) >= 180
    shrunk = [b.adjusted(3, 2, -3, -2) for b in boxes]
    assert not any(a.intersects(b) for k, a in enumerate(shrunk) for b in shrunk[:k] if a.width() > 0 and b.width() > 0)


@pytest.mark.parametrize(
    ("task", "step", "look", "at"),
    [
        ("front:toe", "bench", "card", "steering"), ("rear:ends", "bench", "card", "rear"), ("brakes:bleed", "bench", "card", "brakes"),
        ("rear:gears", "bench", "gears", ""), ("frame:sign", "bench", "drive", ""), ("rear:straight", "cut", "stations", ""),
    ],
)  # fmt: skip
def test_a_task_opens_the_sheet_where_it_is_done(qtbot: QtBot, window: MainWindow, task: str, step: str, look: str, at: str) -> None:  # fmt: skip
    mine = plan(qtbot, window)
    window.workspace.set_end("front")
    mine.pick(task)
    press(qtbot, window, "task_where")
    assert window.step == step
    assert window.sheets[step].shown == look  # type: ignore[attr-defined]
    if at:
        assert window.sheet(BenchSheet).card.assembly == at
    if task.startswith("rear"):
        assert window.workspace.end == "rear"
