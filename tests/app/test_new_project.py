"""A new project is empty, says what it needs and leads there; what comes with the program stays marked."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.panels.needs import Needs
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.app.steps.donors.sheet import LOOKS, DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.storage.files import read_project
from tests.app.conftest import Answers
from tests.app.test_by_keyboard import focus

TYPED = {
    "Wheelbase": "104", "Front tyre": "37x12.50R17", "Rear tyre": "37x12.50R17", "Front track": "64", "Rear track": "64",
    "Weight": "4300", "Balance point along the rig": "54", "CG height": "~33", "Engine torque": "300", "First gear": "3.2", "Gear 2": "1",
    "Low range": "2.7",
}  # fmt: skip


@pytest.fixture
def new(window: MainWindow) -> MainWindow:
    window.files.new()
    return window


def needs(owner: QWidget) -> list[str]:
    """What a panel asks for, in the order it asks."""
    return [b.accessibleName() for b in owner.findChildren(QPushButton) if b.isVisibleTo(owner)]


def test_new_is_empty_and_every_need_leads_to_its_field(qtbot: QtBot, new: MainWindow) -> None:
    assert new.windowTitle() == "New project – Stout Link"
    panel = new.verdict.needs
    assert needs(panel) == [*list(TYPED)[:8], "A layout for the rear axle"]
    assert not any(bar.isVisible() for bar, _, _ in new.verdict._bars)
    while (asked := needs(panel)) and asked[0] in TYPED:
        new.show_step("cut")
        button = next(b for b in panel.findChildren(QPushButton) if b.accessibleName() == asked[0])
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
        field = focus(new)
        assert isinstance(field, KeptLine), asked[0]
        assert field.text() == ""
        qtbot.keyClicks(field, TYPED[asked[0]])
        qtbot.keyClick(field, Qt.Key.Key_Return)
        assert needs(panel)[0] != asked[0]
    assert needs(panel) == ["A layout for the rear axle"]
    button = panel.findChildren(QPushButton)[0]
    qtbot.mouseClick(
        next(b for b in panel.findChildren(QPushButton) if b.isVisibleTo(panel)), Qt.MouseButton.LeftButton
    )
    assert button is not None
    assert new.step == "layout"
    start = new.sheet(LayoutSheet).looks["start"]
    start.start("double_triangulated_four_link")  # type: ignore[attr-defined]
    qtbot.waitUntil(lambda: new.workspace.project.layout("rear") is not None, timeout=20000)
    assert all(bar.isVisible() for bar, _, _ in new.verdict._bars)
    assert not panel.isVisible()
    # it rests on what nobody entered, and says so: the unsprung weights, the brake split, radii made from a printed size
    drive = next(bar for bar, _, _ in new.verdict._bars if bar.gauge is not None and bar.gauge.id == "brake")
    assert drive.gauge is not None
    assert {words for words, _ in drive.gauge.unentered} >= {"brake split"}
    assert "nobody entered" in drive.toolTip()
    assert "rests on" in drive.accessibleName()
    qtbot.mouseClick(drive, Qt.MouseButton.LeftButton)
    note = next(n for bar, n, _ in new.verdict._bars if bar is drive)
    assert "<a href='rig.brake_front_share'>brake split</a>" in note.text()
    note.linkActivated.emit("rig.brake_front_share")
    field = focus(new)
    assert isinstance(field, KeptLine)
    assert (new.step, field.place) == ("rig", "rig.brake_front_share")
    qtbot.keyClicks(field, "65")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert drive.gauge is not None
    assert "brake split" not in {words for words, _ in drive.gauge.unentered}


def test_undo_brings_the_question_back(qtbot: QtBot, new: MainWindow) -> None:
    new.workspace.go_to.emit("rig.wheelbase_m")
    field = focus(new)
    qtbot.keyClicks(field, "104")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert "Wheelbase" not in needs(new.verdict.needs)
    new.workspace.undo()
    assert needs(new.verdict.needs)[0] == "Wheelbase"
    box = next(f for f in new.findChildren(KeptLine) if f.place == "rig.wheelbase_m")
    assert (box.text(), box.placeholderText(), box.property("basis")) == ("", "enter", "placeholder")


def test_nothing_of_a_new_project_shows_a_number_nobody_entered(new: MainWindow) -> None:
    """Board by board: the sizes it is drawn with stand nowhere as text."""
    stand_ins = {"102 3/8″", "16.54″", "15.71″", "16.04″", "61″", "31.5″", "51 3/16″", "4189 lb"}
    for look in ("stance", "weight", "tyres", "drivetrain"):
        new.sheets["rig"].look(look)
        shown = {f.text() for f in new.sheets["rig"].findChildren(KeptLine) if f.isVisible()}
        assert not shown & stand_ins, look


@pytest.mark.parametrize("look", [key for key, *_ in LOOKS])
def test_donors_are_offered_and_judged_once_the_rig_is_entered(qtbot: QtBot, new: MainWindow, look: str) -> None:
    sheet = new.sheet(DonorSheet)
    new.show_step("donors")
    sheet.look(look)
    if not sheet.looks[look].pair:
        assert sheet.start.isVisible()
    sheet.look("axle")
    qtbot.mouseClick(sheet.start.examples, Qt.MouseButton.LeftButton)
    assert len(new.workspace.project.swap.donors) == 26
    assert all(d.example for d in new.workspace.project.swap.donors)
    sheet.look(look)
    takes = sheet.looks[look].takes
    assert sheet.needs.isVisible() == bool(takes)
    if takes:
        assert needs(sheet.needs)[0] == "Wheelbase"
        qtbot.mouseClick(
            next(b for b in sheet.needs.findChildren(QPushButton) if b.isVisible()), Qt.MouseButton.LeftButton
        )
        field = focus(new)
        assert isinstance(field, KeptLine)
        assert field.place == "rig.wheelbase_m"


def test_examples_are_cleared_in_one_go_and_own_records_stay(qtbot: QtBot, new: MainWindow) -> None:
    sheet = new.sheet(DonorSheet)
    new.show_step("donors")
    qtbot.mouseClick(sheet.start.own, Qt.MouseButton.LeftButton)
    own = new.workspace.project.swap.donors[0]
    assert not own.example
    new.actions_by_id["bring_examples"].trigger()
    assert len(new.workspace.project.swap.donors) == 27
    kept = next(d for d in new.workspace.project.swap.donors if d.example and d.end == "rear")
    sheet.look_at(kept.id)
    assert sheet.example.isVisible()
    qtbot.mouseClick(sheet.example, Qt.MouseButton.LeftButton)
    assert not sheet.example.isVisible()
    chosen = next(d for d in new.workspace.project.swap.donors if d.example and d.end == "rear")
    sheet.look_at(chosen.id)
    sheet._choose()
    new.actions_by_id["drop_examples"].trigger()
    assert {d.id for d in new.workspace.project.swap.donors} == {own.id, kept.id, chosen.id}
    new.workspace.undo()
    assert len(new.workspace.project.swap.donors) == 27
    new.workspace.redo()
    new.actions_by_id["drop_examples"].trigger()
    assert "no examples" in new._said.text()


def test_a_name_is_asked_at_the_first_save_and_titles_window_and_file(
    new: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    answers.text, answers.path = None, tmp_path / "rig"
    assert not new.files.save()
    assert list(tmp_path.iterdir()) == []
    answers.text = "Blue truck"
    assert new.files.save()
    assert new.windowTitle() == "Blue truck – Stout Link"
    assert read_project(tmp_path / "rig.stoutlink").name == "Blue truck"
    answers.text = "Second thought"
    new.workspace.do(SetNumber("rig.wheelbase_m", 2.6, "2.6 m"))
    assert new.files.save()  # not asked again
    assert new.workspace.project.name == "Blue truck"
    new.actions_by_id["rename"].trigger()
    assert new.windowTitle() == "*Second thought – Stout Link"


def test_the_cut_list_says_that_it_is_not_settled(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("cut")
    qtbot.waitUntil(lambda: window.workspace.study.cycled, timeout=30000)
    window.refresh()
    title = window.sheet(CutSheet)._title.text()
    assert "not settled" in title
    assert "danger" in title
    assert window.sheet(CutSheet).as_text().startswith("Not settled: 3 open in Cut, 3 dangers open in Travel")


def test_needs_are_listed_by_what_they_are_for(qtbot: QtBot, new: MainWindow) -> None:
    panel = Needs(new.workspace, "try", new)
    qtbot.addWidget(panel)
    panel.show_needs("Wanted:", new.workspace.study.needs)
    words = [label.text() for label in panel.findChildren(QLabel)]
    assert words[0] == "Wanted:"
    assert [w for w in words if w.startswith("for ")][-1] == "for what the axle is asked to carry, gears and speeds:"
