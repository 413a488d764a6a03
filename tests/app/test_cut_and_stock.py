"""Links on the bench and bars on the saw, with mouse and keyboard in the window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.editing.edits import MovePivot
from tests.app.conftest import Answers
from tests.app.test_by_keyboard import focus

INCH = 0.0254


def press(qtbot: QtBot, window: MainWindow, name: str) -> None:
    button = window.findChild(QPushButton, name)
    assert button is not None, name
    assert button.isVisible(), name
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def sheet(window: MainWindow, look: str) -> CutSheet:
    window.show_step("cut")
    found = window.sheet(CutSheet)
    found.look(look)
    return found


def stage(window: MainWindow, to: str) -> None:
    box = window.findChild(QComboBox, "link_stage")
    assert box is not None
    box.setCurrentIndex(box.findData(to))
    box.activated.emit(box.currentIndex())


def test_a_link_is_read_cut_and_turned(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    window.workspace.set_end("rear")
    cut = sheet(window, "links")
    card = next(c for c in cut.links.cards if c.cut.link.id == "upper_left")
    qtbot.mouseClick(card, Qt.MouseButton.LeftButton)
    assert cut.links.title.text() == card.cut.link.name
    asked = card.cut.cut.centre_to_centre
    for typed in (f"{asked / INCH + 0.02:.3f}", f"{asked / INCH + 0.06:.3f} ± 0.01"):
        answers.text = typed
        press(qtbot, window, "read_link")
    one = cut.links.cut
    assert one is not None
    assert one.link.stage == "measured"
    assert one.cut.centre_to_centre == pytest.approx(asked + 0.04 * INCH, abs=2e-5)
    assert "Read " in cut.links.said.text()
    assert "measured for" in cut.links.said.text()
    answers.text = "thirty"
    press(qtbot, window, "read_link")
    assert "thirty" in window._said.text()
    stage(window, "cut")
    one = cut.links.cut
    assert one is not None
    assert one.made
    made, pivot = one.link.made_m, one.link.frame_pivot_m
    window.workspace.do(MovePivot("rear-a", "upper_left", "frame", (pivot[0] + 0.004, pivot[1], pivot[2])))
    one = cut.links.cut
    assert one is not None
    assert one.link.made_m == made
    assert "turns" in cut.as_text()
    assert not cut.grab().isNull()
    press(qtbot, window, "read_link_back")
    assert len(one.link.readings) == 2
    for _ in range(5):
        window.undo()
    assert next(c for c in window.workspace.study.cuts if c.link.id == "upper_left").link.stage == "planned"
    window.workspace.session.mark_saved()


def test_what_it_may_not_come_to_is_said_and_the_box_goes_back(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.set_end("rear")
    cut = sheet(window, "links")
    cut.links.pick("lower_left")
    stage(window, "measured")
    assert "read it pin to pin first" in window._said.text()
    box = window.findChild(QComboBox, "link_stage")
    assert box is not None
    assert box.currentData() == "planned"


def test_bars_are_named_and_cut_up(qtbot: QtBot, window: MainWindow) -> None:
    cut = sheet(window, "stock")
    look = cut.stock
    bare = [p for p in look.plans if not p.bars and not p.offcuts]
    count = len(window.workspace.project.fabrication.stock)
    for _ in bare:
        press(qtbot, window, "add_bar")
    assert len(window.workspace.project.fabrication.stock) == count + len(bare)
    assert all(p.plan.too_long == () for p in look.plans)
    picture = look.picture
    picture.grab()
    last = next(b for b in window.workspace.project.fabrication.stock if not b.offcut)
    window.workspace.go_to.emit(f"stock.{last.id}.length_m")
    line = focus(window)
    assert isinstance(line, KeptLine)
    line.selectAll()
    qtbot.keyClicks(line, "12")  # inches: too short for any link
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert any(p.plan.too_long for p in look.plans)
    assert "No bar is long enough for" in cut.as_text()
    window.undo()
    window.workspace.go_to.emit("sawing.kerf_m")
    assert focus(window).place == "sawing.kerf_m"  # type: ignore[attr-defined]
    press(qtbot, window, "add_offcut")
    assert window.workspace.project.fabrication.stock[-1].offcut
    many = len(window.workspace.project.fabrication.stock)
    press(qtbot, window, "remove_bar")
    assert len(window.workspace.project.fabrication.stock) == many - 1
    assert "left" in cut.as_text()
    window.workspace.session.mark_saved()


def test_both_looks_in_both_units_and_for_an_axle_without_links(window: MainWindow) -> None:
    for end in ("rear", "front"):
        window.workspace.set_end(end)
        for look in ("links", "stock"):
            shown = sheet(window, look)
            assert shown.as_text()
            assert not shown.grab().isNull()
            window.switch_units()
            assert shown.as_text()
            assert not shown.grab().isNull()
            window.switch_units()
