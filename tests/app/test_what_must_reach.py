"""Lines, a shaft and links at hand, upgrades, the full-bump sheet and layouts beside each other, by mouse and keys."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors.seen_look import SeenLook
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.rig.case_board import CaseBoard
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.steps.travel.bump_look import BumpLook
from stoutlink.app.steps.travel.reach_look import ReachLook
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.analysis.cycle.full_bump import bump_sheet
from stoutlink.core.analysis.linkage.from_bump import from_bump
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.reports.laden_table import laden_rows
from stoutlink.core.reports.results import results
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.app.conftest import Answers
from tests.app.test_travel_sheet import WAIT_MS, cycle, press
from tests.cycle.test_air_bags import bags


def _type(qtbot: QtBot, over: QWidget, path: str, text: str) -> None:
    (field,) = [f for f in over.findChildren(QuantityField) if f.path == path]
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def test_a_hose_is_put_in_placed_and_found_too_short(qtbot: QtBot, window: MainWindow) -> None:
    sheet = cycle(qtbot, window, "front")
    sheet.look("lines")
    look = sheet.looks["lines"]
    assert isinstance(look, ReachLook)
    press(qtbot, window, "add_line")
    layout = window.workspace.project.layout("front")
    assert layout is not None
    name = layout.lines[-1].id
    qtbot.waitUntil(lambda: sheet.travel is not None and sheet.travel.layout is layout, timeout=WAIT_MS)
    assert len(sheet.travel.lines) == 2  # type: ignore[union-attr]
    assert any("until then nothing is said" in one.word for one in look.lines())  # its ends are nobody's yet
    at = f"layouts.{layout.id}.lines.{name}"
    for k, (frame, far) in enumerate((("102", "104"), ("10", "8"), ("29", "21"))):
        _type(qtbot, look, f"{at}.frame_m.{k}", frame)
        _type(qtbot, look, f"{at}.far_m.{k}", far)
    _type(qtbot, look, f"{at}.own_m", "9")
    qtbot.waitUntil(lambda: sheet.travel is not None and len(sheet.travel.lines) == 3, timeout=WAIT_MS)
    qtbot.waitUntil(lambda: any(f.code == "T340" for f in window.workspace.study.findings), timeout=WAIT_MS)
    apart = math.dist((102, 10, 29), (104, 8, 21))
    travel = sheet.travel
    assert travel is not None
    (found,) = [one for one in travel.lines if one.line.id == name]
    assert found.ride == pytest.approx(apart * 0.0254, abs=1e-4)
    (said,) = [f for f in window.workspace.study.findings if f.code == "T340"]
    assert name in said.subject
    press(qtbot, window, "take_line")
    after = window.workspace.project.layout("front")
    assert after is not None
    assert name not in [one.id for one in after.lines]
    window.workspace.undo()
    again = window.workspace.project.layout("front")
    assert again is not None
    assert name in [one.id for one in again.lines]


def test_the_bump_sheet_stands_in_the_window_and_goes_out_as_a_table(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    sheet = cycle(qtbot, window, "rear")
    sheet.look("bump_sheet")
    look = sheet.looks["bump_sheet"]
    assert isinstance(look, BumpLook)
    w = window.workspace
    assert sheet.travel is not None
    found = bump_sheet(w.project, Study(w.project).true.rig, sheet.travel)
    rows = {line.word: line.value for line in look.lines()[1:]}
    assert list(rows) == [one.words for one in found.rows]
    shock = next(one for one in found.rows if one.id == "left shock")
    assert rows[shock.words] == ", ".join(f"{v / 0.0254:.2f}″" for v in shock.values[:3] if v is not None)
    answers.path = tmp_path / "sheet.csv"
    press(qtbot, window, "write_bump_sheet")
    table = list(csv.reader(io.StringIO((tmp_path / "sheet.csv").read_text(encoding="utf-8-sig"))))
    assert {one.words for one in found.rows} <= {row[0] for row in table}
    assert "nobody under it" in look.caution


@pytest.mark.parametrize(("typed", "up"), [("2 1/2", 0.0635), ("-2", -0.0508)])
def test_pivots_measured_at_bump_are_taken_to_ride(
    qtbot: QtBot, window: MainWindow, answers: Answers, typed: str, up: float
) -> None:
    window.workspace.set_end("rear")
    window.show_step("layout")
    sheet = window.sheet(LayoutSheet)
    sheet.look("pivots")
    before = window.workspace.project.layout("rear")
    assert before is not None
    wanted = from_bump(window.workspace.study.true.rig, before, up)
    answers.text = typed
    button = sheet.findChild(QPushButton, "measured_at_bump")
    assert button is not None
    said: list[str] = []
    window.workspace.said.connect(lambda text, _bad: said.append(text))
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    after = window.workspace.project.layout("rear")
    assert after is not None
    assert after.links == wanted.layout.links
    assert after.pinion_up_rad == wanted.layout.pinion_up_rad
    assert any(("ahead of" if wanted.ahead_at_bump > 0 else "behind") in text for text in said)
    window.workspace.undo()
    assert window.workspace.project.layout("rear") == before
    answers.text = "40"  # a metre of bump: refused in words, nothing changed
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.workspace.project.layout("rear") == before
    assert "do not take the axle from there to ride height" in said[-1]


def test_a_shaft_at_hand_says_what_it_has(qtbot: QtBot, window: MainWindow) -> None:
    sheet = cycle(qtbot, window, "rear")
    sheet.look("driveline")
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    at = f"layouts.{layout.id}.driveshaft.in_hand"
    _type(qtbot, sheet, f"{at}.closed_m", "29 1/2")
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    shaft = sheet.travel.shaft  # type: ignore[union-attr]
    assert shaft is not None
    length = shaft.length[sheet.travel.grid.ride]  # type: ignore[union-attr]
    assert shaft.inward_at_ride == pytest.approx(length - 29.5 * 0.0254, abs=1e-9)
    assert shaft.engaged_at_ride == pytest.approx((29.5 + 5.5) * 0.0254 - length, abs=1e-6)
    press(qtbot, window, "shaft_in_hand")  # none at hand
    after = window.workspace.project.layout("rear")
    assert after is not None
    assert after.driveshaft is not None
    assert after.driveshaft.in_hand is None


def test_any_upgrade_is_planned_from_the_ladder(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.set_end("rear")
    window.show_step("donors")
    sheet = window.sheet(DonorSheet)
    sheet.look("ladder")
    button = sheet.findChild(QPushButton, "ladder_upgrades")
    assert button is not None
    menu = button.menu()
    assert menu is not None
    menu.aboutToShow.emit()
    names = {a.objectName(): a for a in menu.actions()}
    assert {"upgrade_truss", "upgrade_cover"} <= set(names)
    was = window.workspace.project.swap.rear_plan.upgrades
    new = next(n for n in ("truss", "cover", "flange_bolts") if n not in was)
    names[f"upgrade_{new}"].trigger()
    assert new in window.workspace.project.swap.rear_plan.upgrades
    project = window.workspace.project
    cost = window.workspace.study.cost(project.donor("front"), project.donor("rear"), None)
    assert any(line.end == "rear" and new in line.id for line in cost.lines), [x.id for x in cost.lines]
    window.workspace.undo()
    assert window.workspace.project.swap.rear_plan.upgrades == was


def test_a_link_at_hand_is_typed_on_its_card_and_leaves_the_list(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("cut")
    sheet = window.sheets["cut"]
    link = window.workspace.study.cuts[0]
    taped = link.cut.centre_to_centre - 0.003
    _type(qtbot, sheet, f"layouts.{link.layout.id}.links.{link.link.id}.in_hand_m", f"{taped / 0.0254:.3f}")
    (now,) = [c for c in window.workspace.study.cuts if c.link.id == link.link.id and c.layout.id == link.layout.id]
    assert now.at_hand
    assert now.turns.change == pytest.approx(0.003, abs=2e-5)


def test_layouts_stand_beside_each_other_and_one_is_rejected(qtbot: QtBot, window: MainWindow) -> None:
    w = window.workspace
    w.take(read_project(demo_file("tamarack.stoutlink")), None)
    w.set_end("rear")
    window.show_step("layout")
    sheet = window.sheet(LayoutSheet)
    sheet.look("options")
    look = sheet.looks["options"]
    qtbot.waitUntil(lambda: look.known and bool(look.found), timeout=WAIT_MS)  # type: ignore[attr-defined]
    assert [one.layout.id for one in look.found] == ["rear-a"]  # type: ignore[attr-defined]
    other = sheet.findChild(QPushButton, "other_end")
    assert other is not None
    qtbot.mouseClick(other, Qt.MouseButton.LeftButton)
    fronts = [x for x in w.project.linkage.layouts if x.end == "front"]
    assert len(fronts) == 2
    assert any(x.leaf is not None for x in fronts)
    w.set_end("front")
    qtbot.waitUntil(
        lambda: look.known and len(look.found) == 2,  # type: ignore[attr-defined]
        timeout=WAIT_MS,
    )
    kinds = {one.layout.leaf is not None for one in look.found}  # type: ignore[attr-defined]
    assert kinds == {True, False}  # leaves against links
    look.why.setFocus()  # type: ignore[attr-defined]
    qtbot.keyClicks(look.why, "too stiff to flex")  # type: ignore[attr-defined]
    qtbot.keyClick(look.why, Qt.Key.Key_Return)  # type: ignore[attr-defined]
    picked = next(x for x in w.project.linkage.layouts if x.id == look.picked)  # type: ignore[attr-defined]
    assert picked.rejected == "too stiff to flex"


def test_a_load_case_is_put_together_in_the_window(qtbot: QtBot, window: MainWindow) -> None:
    w = window.workspace
    qtbot.waitUntil(lambda: w.cycling.known, timeout=WAIT_MS)
    window.show_step("rig")
    sheet = window.sheet(RigSheet)
    sheet.look("cases")
    board = sheet.boards["cases"]
    assert isinstance(board, CaseBoard)
    assert [one.case.name for one in board.found] == ["As it stands", "Driver alone", "Three days out", "At its rating"]
    qtbot.mouseClick(board.add, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(board.add_item, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: w.cycling.known and len(board.found) == 5, timeout=WAIT_MS)
    case = w.project.linkage.load_cases[-1]
    assert board.found[-1].why == "Type the weight and place of Load."
    at = f"load_cases.{case.id}.items.{case.items[0].id}"
    _type(qtbot, board, f"{at}.mass_kg", "400")
    _type(qtbot, board, f"{at}.x_m", "-12")
    _type(qtbot, board, f"{at}.z_m", "40")
    qtbot.waitUntil(lambda: w.cycling.known and not board.found[-1].why, timeout=WAIT_MS)
    found = board.found[-1]
    plain = board.found[0]
    assert found.mass - plain.mass == pytest.approx(400 * 0.45359237)
    assert found.front is not None
    assert plain.front is not None
    base = w.rig.wheelbase_m  # levers: 12 in behind the rear axle lifts the front by 12 parts in the wheelbase
    lifted = (plain.front.load - found.front.load) / 9.80665
    assert lifted == pytest.approx(400 * 0.45359237 * 12 * 0.0254 / base, abs=12.0)  # and what leans back
    rows = {word: [cell for cell, _ in cells] for word, _, cells in laden_rows(w.project, board.found)}
    assert rows["Weight"][-1] == f"{found.mass / 0.45359237:.0f} lb"
    assert "Laden" in board.as_text()
    qtbot.mouseClick(board.take, Qt.MouseButton.LeftButton)
    assert len(w.project.linkage.load_cases) == 3
    w.undo()
    assert [one.id for one in w.project.linkage.load_cases][-1] == case.id


def test_a_width_is_added_in_the_window(qtbot: QtBot, window: MainWindow) -> None:
    w = window.workspace
    w.take(bags(w.project), None)
    sheet = cycle(qtbot, window, "rear")
    sheet.look("springs")
    press(qtbot, window, "add_bag_width")
    layout = w.project.layout("rear")
    assert layout is not None
    assert layout.air is not None
    (row,) = layout.air.outside
    assert (row.height_m, row.outside_m) == (None, None)
    at = f"layouts.{layout.id}.air.outside.{row.id}"
    _type(qtbot, sheet, f"{at}.height_m", "7 3/4")
    _type(qtbot, sheet, f"{at}.outside_m", "6 1/2")
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    lines = {line.word: line.value for line in sheet.looks["springs"].lines()}  # type: ignore[attr-defined]
    assert lines["Widest outside"] == "6.50″"
    w.session.mark_saved()


def test_what_was_seen_is_kept_with_the_choice(qtbot: QtBot, window: MainWindow) -> None:
    w = window.workspace
    before = len(w.project.swap.seen)
    window.show_step("donors")
    sheet = window.sheet(DonorSheet)
    sheet.look("seen")
    look = sheet.looks["seen"]
    assert isinstance(look, SeenLook)
    qtbot.mouseClick(look.add, Qt.MouseButton.LeftButton)
    assert len(w.project.swap.seen) == before + 1
    typed = {
        "name": "Rear from a work truck",
        "source": "yard by the river",
        "claim": "never towed",
        "reason": "right width, discs",
        "doubt": "one wet seal",
    }
    for key, words in typed.items():
        look.fields[key].setFocus()
        look.fields[key].selectAll()
        qtbot.keyClicks(look.fields[key], words)
        qtbot.keyClick(look.fields[key], Qt.Key.Key_Return)
    one = w.project.swap.seen[-1]
    _type(qtbot, look, f"seen.{one.id}.price", "640")
    w.do(SetChoice(f"seen.{one.id}.axle", w.project.swap.rear_donor, "axle record"))
    w.do(SetChoice(f"seen.{one.id}.outcome", "bought", "outcome"))
    one = w.project.swap.seen[-1]
    assert {key: getattr(one, key) for key in typed} == typed
    text = look.as_text()
    line = next(x for x in text.splitlines() if x.startswith("Rear from a work truck, yard by the river, "))
    assert line.endswith(", 640 cr, bought")
    assert "  seller says: never towed" in text  # a claim is called one
    assert "  against it: one wet seal" in text
    qtbot.mouseClick(look.to_record, Qt.MouseButton.LeftButton)
    donor = w.project.donor("rear")
    assert donor is not None
    assert donor.price == 640.0
    data = {row["id"]: row for row in results(w.study)["seen"]}[one.id]
    assert (data["seller_says"], data["outcome"], data["asked"]) == ("never towed", "bought", 640.0)
    qtbot.mouseClick(look.take, Qt.MouseButton.LeftButton)
    assert len(w.project.swap.seen) == before
    w.undo()
    assert w.project.swap.seen[-1] == one
