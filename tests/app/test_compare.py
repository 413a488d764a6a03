"""Layouts side by side in the real window."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLabel, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.panels.verdict_panel import GaugeBar
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.core.editing.edits import MovePivot
from tests.app.conftest import Answers


def press(qtbot: QtBot, window: MainWindow, name: str) -> None:
    button = window.findChild(QPushButton, name)
    assert button is not None
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def choose(window: MainWindow, name: str, wanted: object) -> None:
    box = window.findChild(QComboBox, name)
    assert box is not None
    row = box.findData(wanted)
    assert row >= 0
    box.setCurrentIndex(row)
    box.activated.emit(row)


def test_trying_something_on_a_copy(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    window.show_step("layout")
    first = window.workspace.project.linkage.rear_layout
    press(qtbot, window, "copy_layout")
    copy = window.workspace.project.linkage.rear_layout
    assert copy not in (None, first)
    assert window.workspace.project.linkage.rear_compare == first
    window.workspace.do(MovePivot(str(copy), "upper_left", "frame", (0.85, 0.45, 0.78)))
    words = window.findChild(QLabel, "differences")
    assert words is not None
    assert words.isVisible()
    assert "Squats" in words.text()
    bar = window.findChild(GaugeBar, "gauge_drive")
    assert bar is not None
    assert bar.compared is not None
    assert bar.gauge is not None
    assert bar.compared != bar.gauge.value
    answers.text = "Lower uppers"
    press(qtbot, window, "rename_layout")
    assert window.workspace.project.layout("rear").name == "Lower uppers"  # type: ignore[union-attr]
    window.sheet(LayoutSheet).travel.step(20)
    window.grab()
    choose(window, "layout_choice", first)
    assert (window.workspace.project.linkage.rear_layout, window.workspace.project.linkage.rear_compare) == (
        first,
        copy,
    )
    choose(window, "compare_choice", None)
    assert not words.isVisible()
    assert bar.compared is None
    choose(window, "layout_choice", copy)
    answers.say = "Remove"
    press(qtbot, window, "remove_layout")
    assert window.workspace.project.linkage.rear_layout == first
    assert [x.id for x in window.workspace.project.linkage.layouts if x.id == copy] == []
    window.undo()
    assert window.workspace.project.linkage.rear_layout == copy


def test_the_last_layout_can_go_and_come_back(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    window.show_step("layout")
    answers.say = "Remove"
    press(qtbot, window, "remove_layout")
    assert window.workspace.project.linkage.rear_layout is None
    window.grab()
    window.undo()
    assert window.workspace.project.linkage.rear_layout is not None


def test_a_band_of_ones_own_is_set_in_the_verdict(qtbot: QtBot, window: MainWindow) -> None:
    bar = window.findChild(GaugeBar, "gauge_hold")
    assert bar is not None
    bar.click()
    low, high, why = (window.findChild(QLineEdit, f"target_hold_{k}") for k in ("low", "high", "why"))
    assert low is not None
    assert high is not None
    assert why is not None
    assert (low.text(), high.text()) == ("0", "4")
    for line, text in ((why, "soft bushings"), (high, "1.2")):
        line.setFocus()
        line.selectAll()
        qtbot.keyClicks(line, text)
    qtbot.keyClick(high, Qt.Key.Key_Return)
    assert [(t.id, t.high, t.why) for t in window.workspace.project.linkage.targets] == [
        ("rear-hold", 1.2, "soft bushings")
    ]
    assert bar.gauge is not None
    assert bar.gauge.standing == "out"
    high.setFocus()
    high.selectAll()
    qtbot.keyClicks(high, "tight")
    qtbot.keyClick(high, Qt.Key.Key_Return)
    assert "tight" in window._said.text()
    window.grab()
    press(qtbot, window, "target_hold_back")
    assert window.workspace.project.linkage.targets == ()
    assert window.workspace.study.axles["rear"].gauges[4].standing == "in"
