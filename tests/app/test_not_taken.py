"""What was typed and is no value stays where it was typed, marked, until the user takes it away; save and close say so."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QFocusEvent
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QMenu, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from stoutlink.app.steps.tape.sheet import TapeSheet
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.document.paths import get_value
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.storage.files import read_project
from tests.app.conftest import Answers


@pytest.fixture
def window(whole_window: MainWindow) -> MainWindow:
    """Nothing is known yet, and every sheet is there."""
    return whole_window


def looks(window: MainWindow) -> Iterator[tuple[str, str]]:
    """Every look of every step, put up one after the other."""
    for step in registry.STEPS:
        for key in [look[0] for look in step.looks] or [""]:
            window.show_step(step.id)
            if key:
                window.sheets[step.id].look(key)
            yield step.id, key


def in_view(window: MainWindow, kind: type[KeptLine]) -> list[KeptLine]:
    """The lines of a kind that can be typed in now."""
    return [line for line in window.findChildren(kind) if line.isVisible() and line.isEnabled()]


def typed(qtbot: QtBot, line: QLineEdit, text: str) -> None:
    """Type in place of what is there."""
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, text)


def state(window: MainWindow) -> str:
    """The words at the right of the status line."""
    label = window.findChild(QLabel, "file_state")
    assert isinstance(label, QLabel)
    return label.text()


def said(window: MainWindow) -> str:
    """The message."""
    return window._said.toolTip()


def test_a_field_left_over_a_menu_or_by_escape_reads_as_all_others(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("rig")
    field = next(f for f in window.findChildren(QuantityField) if f.isVisible() and f.path == "rig.wheelbase_m")
    read = field.text()
    qtbot.keyClick(field, Qt.Key.Key_Escape)  # also without having the keys
    assert field.text() == read
    field.setFocus()
    assert field.text() != read  # as it would be typed
    menu = QMenu(window)
    menu.addAction("something")
    menu.popup(window.mapToGlobal(QPoint(40, 40)))
    field.focusOutEvent(QFocusEvent(QEvent.Type.FocusOut, Qt.FocusReason.PopupFocusReason))
    qtbot.wait(150)
    assert field.text() != read  # the menu is still there: what it does is about what is marked
    field.blockSignals(True)
    window.setFocus()
    field.setText("as typed")
    field.setModified(False)
    menu.close()
    qtbot.waitUntil(lambda: field.text() == read, timeout=2000)
    field.blockSignals(False)


def test_wrong_text_stays_in_every_field_through_changes_elsewhere(qtbot: QtBot, window: MainWindow) -> None:
    """Each field of each look in turn: typed, left, something else changed, undone, redone, another look and back."""
    n = 0
    for _ in looks(window):
        for one in in_view(window, QuantityField)[::5]:
            if one.isReadOnly() or window.workspace.not_taken.at(one.place) is not None:
                continue
            assert isinstance(one, QuantityField)
            before = get_value(window.workspace.project, one.path)
            typed(qtbot, one, "34,5,6")
            window.setFocus()
            window.workspace.do(SetNumber("rig.cg_height_m", 0.8 + 0.001 * (n % 50)))
            window.undo()
            window.redo()
            assert one.text() == "34,5,6", one.path
            assert one.property("wrong") is True, one.path
            assert "34,5,6" in one.toolTip(), one.path
            assert get_value(window.workspace.project, one.path) == before or one.path == "rig.cg_height_m"
            n += 1
            qtbot.keyClick(one, Qt.Key.Key_Escape)
            assert one.text() != "34,5,6"
            assert one.property("wrong") is False
    assert n > 25
    assert window.workspace.not_taken.of(window.workspace.project) == ()


def test_words_too(qtbot: QtBot, window: MainWindow) -> None:
    n = 0
    for _ in looks(window):
        for one in in_view(window, WordField):
            assert isinstance(one, WordField)
            if one.path is None or one._words() is None:
                continue
            one.setFocus()
            one.selectAll()
            one.insert("x" * 5001)
            one.setModified(True)
            window.setFocus()
            window.workspace.do(SetNumber("rig.cg_height_m", 0.8 + 0.001 * n))
            assert one.text() == "x" * 5001, one.path
            assert one.property("wrong") is True, one.path
            assert "accepted is" in one.toolTip(), one.path
            qtbot.keyClick(one, Qt.Key.Key_Escape)
            assert one.text() == (one._words() or "")
            n += 1
    assert n >= 5


def test_it_is_found_again_where_it_was_typed_and_save_and_close_say_so(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    window.show_step("rig")
    window.sheets["rig"].look("weight")
    items = window.workspace.project.rig.weight.items
    board = window.findChild(QLineEdit, "item_name")
    assert board is not None
    first = next(line for line in in_view(window, QuantityField) if line.place.startswith("rig.weight"))
    typed(qtbot, first, "12..5")
    window.show_step("layout")
    assert "1 not taken" in state(window)
    answers.path = tmp_path / "kept"
    assert window.files.save()
    assert said(window).endswith(f"Not taken: {first.title} “12..5”.")
    assert first.text() == "12..5"
    assert read_project(tmp_path / "kept.stoutlink") == window.workspace.project
    assert not window.files.may_drop()
    assert answers.asked == [f"Typed, but not taken: Not taken: {first.title} “12..5”."]
    window.switch_units()
    assert not window.files.may_drop() or answers.say == "Throw away"
    assert answers.asked[-1].endswith(f"has unsaved changes. Not taken: {first.title} “12..5”.")
    window.show_step("rig")
    qtbot.keyClick(first, Qt.Key.Key_Escape)
    assert "not taken" not in state(window)
    assert len(items) == len(window.workspace.project.rig.weight.items)


def test_a_form_for_many_things_shows_each_its_own_text(qtbot: QtBot, window: MainWindow) -> None:
    """One form serves all the items: the text stays with the item it was typed for."""
    window.show_step("rig")
    window.sheets["rig"].look("weight")
    board = window.sheets["rig"].boards["weight"]  # type: ignore[attr-defined]
    one, two = (item.id for item in window.workspace.project.rig.weight.items[:2])
    board.select(one)
    mass = window.findChild(QuantityField, "item_mass_kg")
    assert mass is not None
    typed(qtbot, mass, "heavy")
    board.select(two)
    window.refresh()
    assert mass.text() != "heavy"
    assert not mass.property("wrong")
    board.select(one)
    window.refresh()
    assert mass.text() == "heavy"
    assert mass.property("wrong") is True
    typed(qtbot, mass, "44")
    qtbot.keyClick(mass, Qt.Key.Key_Return)
    assert window.workspace.not_taken.of(window.workspace.project) == ()
    assert not mass.property("wrong")


def test_what_stood_on_something_that_is_gone_goes_and_comes_with_it(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("rig")
    window.sheets["rig"].look("weight")
    board = window.sheets["rig"].boards["weight"]  # type: ignore[attr-defined]
    board.select(window.workspace.project.rig.weight.items[0].id)
    window.refresh()
    mass = window.findChild(QuantityField, "item_mass_kg")
    assert mass is not None
    mass.setText("heavy")
    mass.setModified(True)
    assert not mass.take()
    remove = window.findChild(QPushButton, "remove_item")
    assert remove is not None
    remove.click()
    assert window.workspace.not_taken.of(window.workspace.project) == ()
    window.undo()
    assert [t.text for t in window.workspace.not_taken.of(window.workspace.project)] == ["heavy"]


def test_the_tape_keeps_it_too(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("tape")
    strip = window.sheet(TapeSheet).strip
    strip.go(1, 1)
    before = window.workspace.project.tape.surveys
    strip.editor.selectAll()
    qtbot.keyClicks(strip.editor, "34,5,6")
    window.setFocus()
    window.workspace.do(SetChoice("notes", "changed elsewhere"))
    window.undo()
    assert strip.editor.text() == "34,5,6"
    assert strip.editor.property("wrong") is True
    assert "1 not taken" in state(window)
    window.show_step("rig")
    window.show_step("tape")
    assert strip.editor.text() == "34,5,6"
    assert window.workspace.project.tape.surveys == before
    window.sheet(TapeSheet).show_survey(window.workspace.project.tape.surveys[1].id)
    assert strip.editor.text() != "34,5,6"
    window.sheet(TapeSheet).show_survey(window.workspace.project.tape.surveys[0].id)
    strip.go(1, 1)
    assert strip.editor.text() == "34,5,6"
    qtbot.keyClick(strip.editor, Qt.Key.Key_Escape)
    assert strip.editor.property("wrong") is False
    assert "not taken" not in state(window)


def test_another_project_brings_no_old_texts(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    window.show_step("rig")
    one = in_view(window, QuantityField)[0]
    typed(qtbot, one, "no")
    window.setFocus()
    answers.say = "Go on without it"
    window.files.new()
    assert window.workspace.not_taken.of(window.workspace.project) == ()
    assert "not taken" not in state(window)
    assert one.text() != "no"


@pytest.mark.parametrize(("say", "taken"), [("Take it", True), ("Go back", False)])
def test_a_doubt_larger_than_the_number_is_asked_about(
    qtbot: QtBot, window: MainWindow, answers: Answers, say: str, taken: bool
) -> None:
    window.show_step("rig")
    one = next(line for line in in_view(window, QuantityField) if line.place == "rig.wheelbase_m")
    answers.say = say
    typed(qtbot, one, "100 ± 101")
    qtbot.keyClick(one, Qt.Key.Key_Return)
    assert answers.asked == [f"A large ±: {one.title}: the ± in “100 ± 101” is larger than the number itself."]
    entry = window.workspace.project.entry("rig.wheelbase_m")
    assert (entry is not None and entry.sigma == pytest.approx(50.5 * 0.0254)) is taken
    assert bool(one.property("wrong")) is not taken
    QApplication.processEvents()


def test_a_pasted_line_end_is_one_line_in_the_message(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("rig")
    one = in_view(window, QuantityField)[0]
    one.setFocus()
    one.selectAll()
    one.insert("34\nand more")
    one.setModified(True)
    window.setFocus()
    assert "\n" not in said(window)
    assert "not understood" in said(window)


def test_words_being_typed_outlast_another_window(qtbot: QtBot, window: MainWindow) -> None:
    """The keys are with another window while what is worked out beside comes in: what was typed is taken, and goes on from there."""
    window.show_step("rig")
    field = next(
        f
        for f in in_view(window, WordField)
        if f.place and isinstance(get_value(window.workspace.project, f.place), str)
    )
    window.activateWindow()
    typed(qtbot, field, "half a se")
    other = QLineEdit()
    other.show()
    other.activateWindow()
    qtbot.waitUntil(lambda: not field.hasFocus(), timeout=2000)
    window.workspace.changed.emit()
    assert field.text() == "half a se"
    assert get_value(window.workspace.project, field.place) == "half a se"
    assert window.workspace.not_taken.at(field.place) is None
    other.close()
    window.activateWindow()
    field.setFocus()
    qtbot.keyClicks(field, "ntence")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert get_value(window.workspace.project, field.place) == "half a sentence"


@pytest.mark.parametrize("kind", [QuantityField, WordField])
def test_what_was_left_without_being_entered_is_not_written_over(
    qtbot: QtBot, window: MainWindow, kind: type[KeptLine]
) -> None:
    """Whatever way the keys went: a text that is neither taken nor being typed any more stays, marked, and is listed."""
    window.show_step("rig")
    first = next(f for f in in_view(window, kind) if f.place)
    next(f for f in in_view(window, KeptLine) if f is not first).setFocus()
    before = first.text()
    first.setText("12 and some")
    first.setModified(True)
    window.workspace.changed.emit()
    assert first.text() == "12 and some"
    assert first.property("wrong")
    kept = window.workspace.not_taken.at(first.place)
    assert kept is not None
    assert kept.why == "It was typed, but not entered."
    assert "1 not taken" in state(window)
    first.setFocus()
    qtbot.keyClick(first, Qt.Key.Key_Escape)
    assert first.text() == before
    assert window.workspace.not_taken.at(first.place) is None
