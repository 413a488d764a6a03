"""Route, commands, dropping files, printing and recovery with the steps Rig and Tape."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QWheelEvent
from PyQt6.QtWidgets import QLabel, QMenu
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.document.survey import Reading, SurveyPoint
from stoutlink.core.editing.edits import PutInList, SetNumber, TakeFromList
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.storage.survey_table import write_survey
from tests.app.conftest import Answers


def drop(window: MainWindow, path: Path) -> None:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    window.dropEvent(
        QDropEvent(
            QPointF(10, 10), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
    )


def test_the_route_shows_how_tape_stands(window: MainWindow) -> None:
    station = window.route._stations["tape"]
    assert (station.state, station.word) == ("open", "1 open")
    window.workspace.do(TakeFromList("surveys.as-built.points", ("p8",), "Remove it"))
    assert station.state == "settled"
    for survey in window.workspace.project.tape.surveys:
        window.workspace.do(TakeFromList("surveys", (survey.id,), "Remove"))
    assert station.word == "not measured"
    window.workspace.undo()
    assert station.state == "settled"


@pytest.mark.parametrize("look", ["stance", "weight", "tyres", "drivetrain"])
def test_every_look_is_reached_by_its_name(window: MainWindow, look: str) -> None:
    window.show_step("cut")
    window.actions_by_id[f"rig_look_{look}"].trigger()
    assert window.step == "rig"
    assert window.sheet(RigSheet).shown == look


def test_steps_have_their_keys(qtbot: QtBot, window: MainWindow) -> None:
    for key, step in zip("123456", ("rig", "donors", "tape", "layout", "travel", "cut"), strict=True):
        qtbot.keyClick(window, Qt.Key(ord(key)), Qt.KeyboardModifier.ControlModifier)
        assert window.step == step


def test_a_survey_dropped_on_the_window_is_taken_in(window: MainWindow, tmp_path: Path) -> None:
    survey = window.workspace.project.tape.surveys[0]
    (tmp_path / "frame.csv").write_text(write_survey(survey, "in"))
    drop(window, tmp_path / "frame.csv")
    assert window.workspace.project.tape.surveys[-1].points == survey.points
    assert window.step == "tape"
    assert window.workspace.session.undo_label == "Import As it stands"


def test_things_of_the_step_in_hand_stand_first_and_all_can_be_reached(window: MainWindow) -> None:
    def first() -> str:
        item = window.knock_ons._list.itemAt(0)
        assert item is not None
        heading = item.widget()
        assert isinstance(heading, QLabel)
        return heading.text()

    window.show_step("tape")
    assert first() == window.workspace.project.tape.surveys[0].name
    window.show_step("donors")
    assert first() == "Front: 30-spline middle front"
    for i in range(40):
        point = SurveyPoint(
            id=f"far{i}", name=f"far {i}", kind="other", station=(Reading(value_m=20.0 + i),), across="middle"
        )
        window.workspace.do(PutInList("surveys.as-built.points", point, "Far out"))
    shown = {key[0] for key in window.knock_ons._cards}
    assert {f.key for card in shown for f in card.findings} == {f.key for f in window.workspace.study.open_so_far}
    assert sum(card.first.code == "S105" for card in shown) == 40


@pytest.mark.parametrize("step", ["rig", "tape"])
def test_sheets_print_in_vectors(window: MainWindow, answers: Answers, tmp_path: Path, step: str) -> None:
    """Opened again by another program: one page with the words on it."""
    window.show_step(step)
    answers.path = tmp_path / "sheet.pdf"
    window.files.print_sheet()
    text = subprocess.run(
        ["pdftotext", "-layout", str(tmp_path / "sheet.pdf"), "-"], capture_output=True, text=True, check=True
    ).stdout
    assert ("wheelbase" if step == "rig" else "frame dips") in text
    pages = subprocess.run(["pdfinfo", str(tmp_path / "sheet.pdf")], capture_output=True, text=True, check=True).stdout
    assert "Pages:           1" in pages


def test_a_survey_in_work_is_recovered(window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    point = SurveyPoint(id="late", name="late", station=(Reading(value_m=1.0, text="39 3/8"),))
    window.workspace.do(PutInList("surveys.as-built.points", point, "Set station"))
    window.workspace.do(SetNumber("rig.weight.scales.front_left_kg", 530.0, "", "measured", "", None, 16, 0.2))
    window.workspace.autosave()
    kept = window.workspace.recovery.slot
    found = read_project(kept)
    assert found == window.workspace.project
    write_project(found, tmp_path / "again.stoutlink")
    assert read_project(tmp_path / "again.stoutlink") == window.workspace.project


def test_zooming_the_tape_keeps_the_place_under_the_hand(window: MainWindow) -> None:
    window.show_step("tape")
    view = window.sheet(TapeSheet).view
    at = QPointF(300.0, 150.0)
    before = view.frames()["side"].back(at)
    wheel = QWheelEvent(
        at,
        view.mapToGlobal(at),
        QPoint(0, 0),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    view.wheelEvent(wheel)
    assert view.frames()["side"].back(at) == pytest.approx(before, abs=1e-9)
    assert view._zoom > 1.2


def test_the_fields_menu_says_where_a_number_is_from(window: MainWindow) -> None:
    field = next(
        f for f in window.sheet(RigSheet).boards["stance"].findChildren(QuantityField) if f.path == "rig.wheelbase_m"
    )
    menu = QMenu()
    field.source_menu(menu)
    assert [a.text() for a in menu.actions() if a.isChecked()] == ["Measured"]
    assert "± 0.39″" in field.toolTip()  # two σ of a plumb-bob station, 5 mm
    empty = next(
        f
        for f in window.sheet(RigSheet).boards["weight"].findChildren(QuantityField)
        if f.path == "rig.weight.tilt.front_kg"
    )
    assert "Space takes the instrument's reading" in empty.toolTip()
