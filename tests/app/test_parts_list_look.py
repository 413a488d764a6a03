"""Parts list, day and the dragging of an arrival in the window: by mouse and keyboard, undone, exported, taken in, held against."""

from __future__ import annotations

import datetime
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QApplication, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.plan.day_look import DayLook
from stoutlink.app.steps.plan.parts_look import PartsListLook
from stoutlink.app.steps.plan.plan_look import PlanLook
from stoutlink.app.steps.plan.sheet import PlanSheetView
from stoutlink.app.widgets.picture import Picture
from stoutlink.core.advice.parts_words import line_words, list_words
from stoutlink.core.advice.plan_words import end_words
from stoutlink.core.analysis.plan.parts_list import PartLine
from stoutlink.core.document.build_plan import TaskChange
from stoutlink.core.document.price_text import money_words
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.storage.files import write_project
from tests.app.conftest import Answers
from tests.app.test_bench_cards import click, said
from tests.app.test_parts_and_copes import press
from tests.app.test_plan import DAY, plan, settled, typed


def laid(qtbot: QtBot, window: MainWindow) -> None:
    """The schedule and the list are of what stands now; chance and tomorrow may still be under way."""
    desk, workspace = window.sheet(PlanSheetView).desk, window.workspace

    def there() -> bool:
        QApplication.processEvents()
        begun = desk.sheet is not None and desk.sheet.plan is workspace.project.build
        return desk.fresh and begun and not desk.other.busy

    qtbot.waitUntil(there, timeout=60_000)


def parts(qtbot: QtBot, window: MainWindow) -> PartsListLook:
    plan(qtbot, window)
    view = window.sheet(PlanSheetView)
    view.look("parts_list")
    settled(qtbot, window)
    view.parts.picture.repaint()
    return view.parts


def day(qtbot: QtBot, window: MainWindow) -> DayLook:
    plan(qtbot, window)
    view = window.sheet(PlanSheetView)
    view.look("day")
    settled(qtbot, window)
    qtbot.waitUntil(lambda: view.day.day is not None, timeout=60_000)
    view.day.picture.repaint()
    return view.day


def line(look: PartsListLook, key: str) -> PartLine:
    assert look.found is not None
    found = look.found.line(key)
    assert found is not None
    return found


def told(window: MainWindow) -> str:
    """What the status line says."""
    return window._said.toolTip()


def test_the_list_says_what_the_core_says(qtbot: QtBot, window: MainWindow) -> None:
    look = parts(qtbot, window)
    found = window.workspace.study.parts_list(DAY)
    assert look.now.text() == next(list_words(found, window.workspace.project.build, "cr"))
    assert {h.name for h in look.picture.hits} == {f"part {x.key}" for x in found.lines}
    for x in found.lines:
        hit = look.picture.named(f"part {x.key}")
        assert hit is not None
        assert hit.tip.startswith(line_words(x))
    text = look.as_text()
    assert all(line_words(x) in text for x in found.lines)


def test_a_line_is_ordered_comes_and_is_fitted(qtbot: QtBot, window: MainWindow) -> None:
    look = parts(qtbot, window)
    click(qtbot, look.picture, "part driveshaft-front")
    assert look.now.text() == line_words(line(look, "driveshaft-front"))
    for button, state in (
        ("part_ordered", "ordered"),
        ("part_here", "here"),
        ("part_fitted", "fitted"),
        ("part_wrong", "wrong"),
    ):
        press(qtbot, window, button)
        laid(qtbot, window)
        assert line(look, "driveshaft-front").state == state
        assert not next(b for b, s in look.states if s == state).isVisible(), "what it is already is not offered"
    record = window.workspace.project.build.part("driveshaft-front")
    assert record is not None
    assert (record.ordered, record.name) == ("2026-09-21", "Driveshaft to length")
    for _ in range(4):
        window.workspace.undo()
    laid(qtbot, window)
    assert window.workspace.project.build.part("driveshaft-front") is None, (
        "a line nothing is said of is not in the file"
    )


def test_prices_typed_reach_cost_list_and_months(qtbot: QtBot, window: MainWindow) -> None:
    look = parts(qtbot, window)
    before = look.found.total if look.found else 0.0
    typed(qtbot, window, "prices.driveshaft-front.amount", "401.25")
    laid(qtbot, window)
    assert line(look, "driveshaft-front").amount == 401.25
    assert look.found is not None
    assert look.found.total == pytest.approx(before + 401.25 - 380.0, abs=1e-9)
    typed(qtbot, window, "prices.driveshaft-front.paid", "400")
    typed(qtbot, window, "prices.driveshaft-front.paid_on", "2026-08-02")
    laid(qtbot, window)
    month = next(m for m in look.found.months if m.name == "2026-08")
    assert (month.paid, line(look, "driveshaft-front").amount) == (400.0, 401.25)
    box = look.drawer.findChild(type(look.drawer._fields[2]), "choice_prices.driveshaft-front.settled")
    assert box is not None
    window.workspace.do(SetChoice("prices.driveshaft-front.settled", True, "settled"))
    laid(qtbot, window)
    assert line(look, "driveshaft-front").amount == 400.0
    p = window.workspace.project
    cost = window.workspace.study.cost(p.donor("front"), p.donor("rear"), None)
    assert next(x.amount for x in cost.lines if x.key == "driveshaft-front") == 400.0
    heard = said(window)
    typed(qtbot, window, "prices.driveshaft-front.paid_on", "2026-13-02")
    assert "on no calendar" in heard[-1]


def test_every_field_of_a_line_does_something(qtbot: QtBot, window: MainWindow) -> None:
    look = parts(qtbot, window)
    at = (
        "build.arrivals.brake_lines-front"
        if look.found and look.found.line("brake_lines-front")
        else "build.arrivals.gear_kit-front"
    )
    key = at.rpartition(".")[2]
    for name, words, says in (
        ("ordered_as", "a set", "ordered as “a set”"), ("came_as", "half a set", "came as “half a set”"), ("note", "ask again", "ask again"),
        ("likely", "2026-10-09", "comes 2026-10-09"), ("ask", "25", "for sale after at 25"),
    ):  # fmt: skip
        typed(qtbot, window, f"{at}.{name}", words)
        laid(qtbot, window)
        assert says in line_words(line(look, key)), name
    assert line(look, key).unlike
    window.workspace.do(SetChoice(f"{at}.likely", "", "no day"))
    laid(qtbot, window)
    typed(qtbot, window, f"{at}.lead_days", "12")
    laid(qtbot, window)
    assert "comes 2026-10-03 if ordered today" in line_words(line(look, key))
    press(qtbot, window, "part_sold")
    typed(qtbot, window, f"{at}.sold_for", "19.99")
    laid(qtbot, window)
    assert look.found is not None
    assert look.found.line(f"sold-{key}").amount == -19.99  # type: ignore[union-attr]


def test_lines_are_left_out_by_kind_and_own_ones_come_and_go(qtbot: QtBot, window: MainWindow) -> None:
    look = parts(qtbot, window)
    for key in ("todo", "late", "here", "all"):
        press(qtbot, window, f"show_{key}")
        look.picture.repaint()
        shown = {h.name.removeprefix("part ") for h in look.picture.hits}
        assert look.found is not None
        expected = {
            "todo": {x.key for x in look.found.lines if x.to_order}, "late": {"gear_kit-rear", "joint-rod-100-l"},
            "here": {x.key for x in look.found.lines if x.state in ("here", "fitted")}, "all": {x.key for x in look.found.lines},
        }[key]  # fmt: skip
        assert shown == expected
    press(qtbot, window, "add_part_line")
    laid(qtbot, window)
    assert look.groups.buttons["own"].isVisible()
    key = look.key
    typed(qtbot, window, f"own_costs.{key}.title", "Tax")
    typed(qtbot, window, f"own_costs.{key}.amount", "-12.5")
    laid(qtbot, window)
    assert (line(look, key).wanted.title, line(look, key).amount) == ("Tax", -12.5)
    press(qtbot, window, "remove_part_line")
    laid(qtbot, window)
    assert look.found is not None
    assert look.found.line(key) is None


def test_the_keyboard_picks_a_line(qtbot: QtBot, window: MainWindow) -> None:
    look = parts(qtbot, window)
    look.picture.setFocus()
    qtbot.keyClick(look.picture, Qt.Key.Key_Down)
    qtbot.keyClick(look.picture, Qt.Key.Key_Return)
    assert look.line is not None
    first = look.picture.hits[0].name.removeprefix("part ")
    assert look.key == first


@pytest.mark.parametrize("name", ["parts.csv", "parts.pdf"])
def test_it_is_exported(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path, name: str) -> None:
    parts(qtbot, window)
    answers.path = tmp_path / name
    press(qtbot, window, "export_plan")
    assert (tmp_path / name).read_bytes().startswith({"parts.csv": b"line,system,item", "parts.pdf": b"%PDF"}[name])


def test_a_table_is_taken_in_and_undone_in_one_step(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    look = parts(qtbot, window)
    before = window.workspace.project
    (tmp_path / "t.csv").write_text(
        "line,item,price_each,state\ndriveshaft-rear,,355.55,ordered\n,Freight,20,\nnone,,1,\n", encoding="utf-8"
    )
    answers.path = tmp_path / "t.csv"
    press(qtbot, window, "take_parts_list")
    laid(qtbot, window)
    assert line(look, "driveshaft-rear").amount == 355.55
    assert "2 lines taken in. Line 4: nothing asks for “none”" in told(window)
    window.workspace.undo()
    assert window.workspace.project is before
    parts(qtbot, window)
    (tmp_path / "paid_in_full.csv").write_text("item\nx\n", encoding="utf-8")
    answers.path = tmp_path / "paid_in_full.csv"
    press(qtbot, window, "take_parts_list")
    assert "no column “line”" in told(window)


def test_two_builds_are_held_side_by_side(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path, basalt: Project
) -> None:
    look = parts(qtbot, window)
    other = with_parts(basalt, rear_plan=msgspec.structs.replace(basalt.swap.rear_plan, shaved=True))
    write_project(other, tmp_path / "dearer.stoutlink")
    answers.path = tmp_path / "dearer.stoutlink"
    press(qtbot, window, "two_builds")
    qtbot.waitUntil(lambda: look.between is not None, timeout=60_000)
    assert look.now.text().startswith("dearer costs 130 more: this build ")
    assert "Only dearer: Shaving the housing and its cover, rear: ~130" in look.as_text()
    press(qtbot, window, "two_builds")
    assert look.between is None
    (tmp_path / "broken.stoutlink").write_text("{", encoding="utf-8")
    answers.path = tmp_path / "broken.stoutlink"
    press(qtbot, window, "two_builds")
    qtbot.waitUntil(lambda: "broken.stoutlink: " in told(window), timeout=60_000)
    assert look.between is None


def drag(qtbot: QtBot, picture: Picture, name: str, by: int, *, drop: bool) -> None:
    picture.repaint()
    hit = picture.named(name)
    assert hit is not None, name
    at = hit.box.center().toPoint()
    qtbot.mousePress(picture, Qt.MouseButton.LeftButton, pos=at)
    for k in range(1, 6):
        qtbot.mouseMove(picture, at + QPoint(by * k // 5, 0))
    if drop:
        qtbot.mouseRelease(picture, Qt.MouseButton.LeftButton, pos=at + QPoint(by, 0))


def test_an_arrival_is_dragged_and_says_what_it_moves(qtbot: QtBot, window: MainWindow) -> None:
    look: PlanLook = plan(qtbot, window)
    before = window.workspace.project.build.part("gear_set-rear")
    assert before is not None
    window.activateWindow()
    name = "arrival gear_set-rear"
    look.picture.repaint()
    hit = look.picture.named(name)
    assert hit is not None
    assert hit.drag is not None
    hit.drag(hit.box.center() + QPointF(150, 0), False)
    assert "working out what moves" in look.more.text() or "in the order of now" in look.more.text()
    qtbot.waitUntil(lambda: "in the order of now" in look.more.text(), timeout=60_000)
    assert "tasks move, the last day moves by" in look.more.text()
    assert "Laid out anew the last day" in look.more.text()
    assert look.drag.rows
    assert window.workspace.project.build.part("gear_set-rear") == before, "nothing is written while the hand is on it"
    hit.drag(hit.box.center() + QPointF(150, 0), True)
    laid(qtbot, window)
    after = window.workspace.project.build.part("gear_set-rear")
    assert after is not None
    assert after.likely > before.likely
    assert after.earliest > before.earliest
    assert not look.drag.rows
    window.workspace.undo()
    assert window.workspace.project.build.part("gear_set-rear") == before


def test_the_mouse_drags_and_a_click_only_picks(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    before = window.workspace.project.build
    click(qtbot, look.picture, "arrival gear_set-rear")
    qtbot.waitUntil(lambda: look.part == "gear_set-rear", timeout=5000)
    assert window.workspace.project.build is before
    drag(qtbot, look.picture, "arrival gear_set-rear", 120, drop=True)
    laid(qtbot, window)
    moved = window.workspace.project.build.part("gear_set-rear")
    assert moved is not None
    assert moved.likely > "2026-10-06"
    likely = datetime.date.fromisoformat(moved.likely)
    press(qtbot, window, "part_earlier")
    laid(qtbot, window)
    again = window.workspace.project.build.part("gear_set-rear")
    assert again is not None
    assert again.likely == (likely - datetime.timedelta(days=1)).isoformat()
    press(qtbot, window, "part_line")
    assert window.sheet(PlanSheetView).shown == "parts_list"
    assert window.sheet(PlanSheetView).parts.key == "gear_set-rear"


def test_a_day_after_the_one_wanted_is_said(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    heard = said(window)
    look.drag.comes("gear_set-rear", datetime.date(2026, 11, 20))
    assert "comes on 2026-11-20, after the day wanted, 2026-10-31" in heard[-1]
    look.drag.comes("gear_set-rear", datetime.date(2026, 1, 1))
    assert window.workspace.project.build.part("gear_set-rear").likely == "2026-09-21", "never before today"  # type: ignore[union-attr]


def test_months_and_milestones_stand_under_the_lanes(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    look.picture.repaint()
    found = window.workspace.study.parts_list(DAY)
    for m in found.months:
        hit = look.picture.named(f"month {m.name}")
        assert hit is not None
        assert hit.tip.startswith(f"{m.name}: paid {money_words(m.paid)}, to pay {money_words(m.to_pay)}")
    names = {h.name for h in look.picture.hits if h.name.startswith("milestone ")}
    assert names == {"milestone on stands", "milestone rear axle under it", "milestone front axle under it", "milestone full roller", "milestone drives"}  # fmt: skip
    lowest_lane = max(h.box.bottom() for h in look.picture.hits if h.name.startswith("task "))
    assert all(h.box.top() > lowest_lane for h in look.picture.hits if h.name.startswith(("month ", "arrival ")))


def test_a_task_a_gate_holds_is_not_done(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    heard = said(window)
    look.pick("frame:torque")
    press(qtbot, window, "task_done")
    assert "cannot be done yet" in heard[-1]
    assert "not torqued (Bench, Bolts)" in heard[-1]
    assert window.workspace.project.build.change("frame:torque") is None
    press(qtbot, window, "task_blocked")
    laid(qtbot, window)
    assert look.sheet is not None
    assert look.sheet.row("frame:torque").state == "blocked"  # type: ignore[union-attr]
    typed(qtbot, window, "build.changes.frame:torque.why", "wrench lent")
    laid(qtbot, window)
    assert look.sheet.row("frame:torque").change.why == "wrench lent"  # type: ignore[union-attr]


def test_the_weakest_link_of_a_circle_is_cut(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    assert not look.cut.isVisible()
    window.workspace.do(PutInList("build.changes", TaskChange(id="rear:out", after=("rear:in",)), "circle"))
    laid(qtbot, window)
    press(qtbot, window, "cut_link")
    laid(qtbot, window)
    assert look.now.text().startswith("Drives on ")
    assert window.workspace.project.build.change("rear:out").after == ()  # type: ignore[union-attr]


def test_sittings_and_sooner(qtbot: QtBot, window: MainWindow) -> None:
    look = plan(qtbot, window)
    look.pick("rear:gears")
    typed(qtbot, window, "build.changes.rear:gears.sittings", "3")
    laid(qtbot, window)
    assert look.sheet is not None
    assert look.sheet.row("rear:gears:3") is not None
    look.show_group("sooner")
    qtbot.waitUntil(lambda: look.desk.ways is not None, timeout=60_000)
    text = look.as_text()
    for way in look.desk.ways or ():
        assert way.days > 0
    assert " sooner." in text or not look.desk.ways


def test_a_knock_on_is_planned_done_and_settled(qtbot: QtBot, window: MainWindow) -> None:
    plan(qtbot, window)
    study = window.workspace.study
    code = next(f for f in study.open_so_far if f.code == "K143")
    window.knock_ons.refresh(window.knock_ons._theme)  # type: ignore[arg-type]
    cards = [c for c in window.knock_ons._cards if c[0].first.key == code.key]
    window.knock_ons.make_task(cards[0][0])
    laid(qtbot, window)
    own = window.workspace.project.build.own[-1]
    assert own.knock_ons == (code.key,)
    button = next(w for k, w in window.knock_ons._cards.items() if k[0].first.key == code.key).findChild(
        QPushButton, "make_task"
    )
    assert button is not None
    assert (button.text(), button.isEnabled()) == ("Planned", False)
    look = window.sheet(PlanSheetView).plan
    look.pick(own.id)
    press(qtbot, window, "task_done")
    laid(qtbot, window)
    assert code.key not in {f.key for f in window.workspace.study.open_so_far}
    window.workspace.undo()
    assert code.key in {f.key for f in window.workspace.study.open_so_far}


def test_the_day_is_closed_and_told_when_it_is_opened_again(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = day(qtbot, window)
    assert look.now.text().startswith("Mon 2026-09-21: ")
    answers.text = "Front hub off, bearing bagged."
    press(qtbot, window, "close_day")
    laid(qtbot, window)
    assert window.workspace.project.build.closes[-1].left == "Front hub off, bearing bagged."
    qtbot.waitUntil(lambda: "Front hub off, bearing bagged." in look.more.text(), timeout=60_000)
    window.sheet(PlanSheetView).look("plan")
    laid(qtbot, window)
    qtbot.waitUntil(lambda: "Front hub off" in window.sheet(PlanSheetView).plan.more.text(), timeout=60_000)


def test_from_the_day_to_the_task_and_to_the_part(qtbot: QtBot, window: MainWindow) -> None:
    look = day(qtbot, window)
    view = window.sheet(PlanSheetView)
    short = next(h for h in look.picture.hits if h.name.startswith("short "))
    click(qtbot, look.picture, short.name)
    assert (view.shown, view.parts.key) == ("parts_list", short.name.removeprefix("short "))
    look = day(qtbot, window)
    first = next(h for h in look.picture.hits if h.name.startswith("next "))
    click(qtbot, look.picture, first.name)
    assert (view.shown, view.plan.key) == ("plan", first.name.removeprefix("next "))


def test_a_trip_is_packed_and_comes_back(qtbot: QtBot, window: MainWindow) -> None:
    look = day(qtbot, window)
    press(qtbot, window, "add_trip")
    laid(qtbot, window)
    trip = window.workspace.project.build.trips[-1]
    typed(qtbot, window, f"build.trips.{trip.id}.where", "The press")
    typed(qtbot, window, f"build.trips.{trip.id}.tasks", "rear:gears")
    press(qtbot, window, "add_thing")
    laid(qtbot, window)
    thing = window.workspace.project.build.trips[-1].items[-1]
    typed(qtbot, window, f"build.trips.{trip.id}.items.{thing.id}.name", "Shim kit")
    laid(qtbot, window)
    for out, back in ((True, False), (True, True), (False, False)):
        look.tick(trip.id, thing.id)
        now = window.workspace.project.build.trips[-1].items[-1]
        assert (now.out, now.back) == (out, back), (now.out, now.back)
    laid(qtbot, window)
    assert "The press" in look.as_text()
    assert "Gears set up" in look.as_text()
    press(qtbot, window, "remove_trip")
    press(qtbot, window, "remove_trip")
    assert all(t.id != trip.id or not t.items for t in window.workspace.project.build.trips)


def test_without_a_plan_every_look_says_what_to_do(qtbot: QtBot, window: MainWindow) -> None:
    plan(qtbot, window, empty=True)
    view = window.sheet(PlanSheetView)
    view.look("day")
    assert "No plan yet." in view.day.now.text()
    assert "Begin today" in view.day.more.text()
    view.look("parts_list")
    qtbot.waitUntil(lambda: view.parts.found is not None, timeout=60_000)
    assert view.parts.now.text().startswith("39 lines, at least ")
    view.look("plan")
    press(qtbot, window, "begin_plan")
    laid(qtbot, window)
    assert view.plan.now.text() == end_words(view.plan.sheet, view.desk.chance)  # type: ignore[arg-type]
