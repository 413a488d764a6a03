"""The transfer case's output to the front has a place of its own, typed where the other stands."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.app.test_window import child


@pytest.fixture
def board(window: MainWindow) -> MainWindow:
    window.take(read_project(demo_file("tamarack.stoutlink")), None)
    window.show_step("rig")
    window.sheet(RigSheet).look("drivetrain")
    return window


def press(qtbot: QtBot, window: MainWindow, name: str) -> None:
    button = child(window, QPushButton, name)
    assert button.isVisible(), name
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def test_it_is_placed_typed_and_taken_away_again(qtbot: QtBot, board: MainWindow) -> None:
    rear = board.workspace.project.rig.drivetrain.output_m
    assert rear is not None
    front = board.workspace.project.donor("front")
    assert front is not None
    before = board.workspace.study.fit_up(front).shaft_length
    press(qtbot, board, "set_front_output")
    train = board.workspace.project.rig.drivetrain
    assert train.output("rear") == rear
    assert train.output("front") == (round(rear[0] + 0.3, 3), rear[1], rear[2])
    note = board.workspace.project.entry("rig.drivetrain.front_output_m.0")
    assert note is not None
    assert note.basis == "estimated"  # nobody has measured it yet, and it says so
    field = next(f for f in board.findChildren(QuantityField) if f.path == "rig.drivetrain.front_output_m.0")
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "90")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert board.workspace.project.rig.drivetrain.output("front")[0] == pytest.approx(90 * INCH)  # type: ignore[index]
    shorter = board.workspace.study.fit_up(front).shaft_length
    assert before is not None
    assert shorter is not None
    assert shorter < before - 0.2
    press(qtbot, board, "drop_front_output")
    assert board.workspace.project.rig.drivetrain.front_output_m is None
    assert board.workspace.project.entry("rig.drivetrain.front_output_m.0") is None
    assert board.workspace.study.fit_up(front).shaft_length == before
