"""A swap begun from *New* by keyboard alone: nothing is clicked, every widget is reached by Tab or by its key."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QListWidget, QMenu, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.storage.files import read_project
from tests.app.conftest import Answers

CONTROL = Qt.KeyboardModifier.ControlModifier


def focus(window: MainWindow) -> QWidget:
    """Where the keys go."""
    return window.focusWidget() or window


def tab_to(qtbot: QtBot, window: MainWindow, wanted: Callable[[QWidget], bool]) -> QWidget:
    """Tab on until the wanted widget has the keys."""
    for _ in range(200):
        here = focus(window)
        if wanted(here):
            return here
        qtbot.keyClick(here, Qt.Key.Key_Tab)
    raise AssertionError("it is not reached by Tab")


def named(name: str) -> Callable[[QWidget], bool]:
    return lambda one: one.objectName() == name


def test_from_new_to_a_saved_swap(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    qtbot.keyClick(window, Qt.Key.Key_N, CONTROL)
    assert window.workspace.file is None
    begun = window.workspace.project
    # Rig: two numbers, a wrong one put right with Esc, a name
    qtbot.keyClick(window, Qt.Key.Key_1, CONTROL)
    name = tab_to(qtbot, window, named("rig_name"))
    assert isinstance(name, QLineEdit)
    name.selectAll()
    qtbot.keyClicks(name, "By keys alone")
    qtbot.keyClick(name, Qt.Key.Key_Return)
    base = tab_to(qtbot, window, lambda one: getattr(one, "place", "") == "rig.wheelbase_m")
    qtbot.keyClicks(base, "103 1/2 ± 1/4")
    qtbot.keyClick(base, Qt.Key.Key_Return)
    assert window.workspace.project.rig.name == "By keys alone"
    assert window.workspace.project.rig.wheelbase_m == pytest.approx(103.5 * INCH)
    base = tab_to(qtbot, window, lambda one: getattr(one, "place", "") == "rig.wheelbase_m")
    assert isinstance(base, QuantityField)
    qtbot.keyClicks(base, "wide")
    qtbot.keyClick(base, Qt.Key.Key_Return)
    assert base.property("wrong") is True
    qtbot.keyClick(base, Qt.Key.Key_Escape)
    assert base.text() == "103 1/2″"
    # Donors: the examples are brought in, and the second rear axle of the list goes under it
    qtbot.keyClick(window, Qt.Key.Key_2, CONTROL)
    qtbot.keyClick(tab_to(qtbot, window, named("start_examples")), Qt.Key.Key_Space)
    listed = tab_to(qtbot, window, lambda one: isinstance(one, QListWidget) and one.objectName() == "donor_list")
    assert isinstance(listed, QListWidget)
    assert listed.count() > 5
    qtbot.keyClick(listed, Qt.Key.Key_Down)
    choose = tab_to(qtbot, window, named("choose_donor"))
    qtbot.keyClick(choose, Qt.Key.Key_Space)
    assert window.workspace.project.donor("rear") is not None
    # Tape: a survey of three stations
    qtbot.keyClick(window, Qt.Key.Key_3, CONTROL)
    press = tab_to(qtbot, window, named("new_survey"))
    qtbot.keyClick(press, Qt.Key.Key_Space)
    for n, text in enumerate(("12", "22", "34", "40", "22 1/4", "34", "70", "23", "34")):
        editor = window.sheet(TapeSheet).strip.editor
        assert editor.hasFocus(), n
        qtbot.keyClicks(editor, text)
        qtbot.keyClick(editor, Qt.Key.Key_Enter)
    stations = [p.station[0].value_m for p in window.workspace.project.tape.surveys[-1].points]
    assert stations == pytest.approx([12 * INCH, 40 * INCH, 70 * INCH])
    # saved, opened again, and all of it taken back
    answers.path, answers.text = tmp_path / "keys", "By keys"
    qtbot.keyClick(window, Qt.Key.Key_S, CONTROL)
    done = window.workspace.project
    assert read_project(tmp_path / "keys.stoutlink") == done
    qtbot.keyClick(window, Qt.Key.Key_1, CONTROL)
    tab_to(qtbot, window, lambda one: isinstance(one, QPushButton))
    for _ in range(60):
        qtbot.keyClick(window, Qt.Key.Key_Z, CONTROL)
    assert window.workspace.project == begun
    for _ in range(60):
        qtbot.keyClick(window, Qt.Key.Key_Z, CONTROL | Qt.KeyboardModifier.ShiftModifier)
    assert window.workspace.project == done
    assert answers.asked == []


@pytest.mark.parametrize("step", range(1, 7))
def test_tab_comes_round_on_every_step(qtbot: QtBot, window: MainWindow, step: int) -> None:
    """No step holds the keys: Tab comes back to where it began, past more than a few widgets, and never to a hidden
    one."""
    qtbot.keyClick(window, Qt.Key(ord(str(step))), CONTROL)
    qtbot.keyClick(focus(window), Qt.Key.Key_Tab)
    start, seen = focus(window), []
    for _ in range(400):
        here = focus(window)
        assert here.isVisible(), here.objectName()
        seen.append(here)
        qtbot.keyClick(here, Qt.Key.Key_Tab)
        if focus(window) is start:
            break
    assert focus(window) is start
    assert len(set(map(id, seen))) > 5
    unnamed = {type(one).__name__ for one in seen if not (one.accessibleName() or getattr(one, "text", str)())}
    assert unnamed <= {"QScrollArea", "QComboBox", "QListWidget", "QTableWidget"}, unnamed


def test_the_context_menu_of_a_number_says_where_it_is_from(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    """By the menu key, chosen with arrows and Enter as a menu is."""
    window.show_step("rig")
    one = next(f for f in window.findChildren(QuantityField) if f.place == "rig.wheelbase_m" and f.isVisible())
    shown: list[list[str]] = []

    def run(menu: QMenu, *_: object) -> None:
        shown.append([a.text() for a in menu.actions()])
        next(a for a in menu.actions() if a.objectName() == "basis_memory").trigger()

    monkeypatch.setattr(QMenu, "exec", run)
    one.setFocus()
    event = QContextMenuEvent(QContextMenuEvent.Reason.Keyboard, one.rect().center())
    QApplication.sendEvent(one, event)
    assert {"Measured", "An estimate", "From memory", "Just typed in"} <= set(shown[0])
    entry = window.workspace.project.entry("rig.wheelbase_m")
    assert entry is not None
    assert entry.basis == "memory"
    window.undo()
    again = window.workspace.project.entry("rig.wheelbase_m")
    assert again is None or again.basis != "memory"
