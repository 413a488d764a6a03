"""Entry that cannot go wrong silently: the wheel, the first click, and a refusal that has been put right."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.quantity.constants import INCH


@pytest.fixture
def window(whole_window: MainWindow) -> MainWindow:
    """Nothing is known yet, and every sheet is there."""
    return whole_window


def wheel(over: QWidget) -> bool:
    """A notch of the wheel over a widget; whether it kept it."""
    at = QPointF(over.rect().center())
    event = QWheelEvent(
        at, QPointF(over.mapToGlobal(over.rect().center())), QPoint(0, 0), QPoint(0, -120),
        Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(over, event)
    return event.isAccepted()


def field(window: MainWindow, place: str) -> QuantityField:
    """The field in view for a number."""
    return next(f for f in window.findChildren(QuantityField) if f.place == place and f.isVisible())


def said(window: MainWindow) -> str:
    """The message."""
    return window._said.toolTip()


def test_the_wheel_changes_nothing_in_passing(window: MainWindow) -> None:
    """Every box and field of every look: the project stays the very same, and the wheel goes on to the sheet."""
    before, boxes = window.workspace.project, 0
    for step in registry.STEPS:
        for key in [look[0] for look in step.looks] or [""]:
            window.show_step(step.id)
            if key:
                window.sheets[step.id].look(key)
            for kind in (QComboBox, QuantityField):
                for one in window.findChildren(kind):
                    if not one.isVisible() or not one.isEnabled():
                        continue
                    assert not wheel(one), one.objectName()
                    assert window.workspace.project is before, one.objectName()
                    if isinstance(one, QComboBox):
                        assert not one.hasFocus()
                        boxes += 1
    assert boxes > 10


def test_a_box_that_was_clicked_takes_the_wheel(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(StillBox, "showPopup", lambda self: None)
    window.show_step("rig")
    window.sheets["rig"].look("weight")
    box = next(b for b in window.findChildren(QComboBox) if b.isVisible() and b.isEnabled() and b.count() > 1)
    box.setFocus()
    assert not wheel(box)  # the keys alone are not enough
    qtbot.mousePress(box, Qt.MouseButton.LeftButton)
    assert wheel(box)
    window.setFocus()
    box.setFocus()
    assert not wheel(box)  # it was left in between


def test_a_click_selects_the_number_and_the_next_sets_the_cursor(qtbot: QtBot, window: MainWindow) -> None:
    """120 typed into a clicked field is 120."""
    window.show_step("rig")
    one = field(window, "rig.wheelbase_m")
    qtbot.mouseClick(one, Qt.MouseButton.LeftButton, pos=QPoint(8, one.height() // 2))
    assert one.selectedText() == one.text() != ""
    qtbot.keyClicks(one, "120")
    assert one.text() == "120"
    qtbot.keyClick(one, Qt.Key.Key_Return)
    assert window.workspace.project.rig.wheelbase_m == pytest.approx(120 * INCH)
    window.setFocus()
    qtbot.mouseClick(one, Qt.MouseButton.LeftButton, pos=QPoint(8, one.height() // 2))
    qtbot.wait(QApplication.doubleClickInterval() + 50)
    qtbot.mouseClick(one, Qt.MouseButton.LeftButton, pos=QPoint(one.width() - 6, one.height() // 2))
    assert one.selectedText() == ""
    qtbot.keyClicks(one, " 1/2")
    qtbot.keyClick(one, Qt.Key.Key_Return)
    assert window.workspace.project.rig.wheelbase_m == pytest.approx(120.5 * INCH)


def test_an_estimate_is_typed_over_whole(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("rig")
    window.workspace.do(SetNumber("rig.wheelbase_m", 104.75 * INCH, "104 3/4", "estimated"))
    one = field(window, "rig.wheelbase_m")
    qtbot.mouseClick(one, Qt.MouseButton.LeftButton)
    assert one.text() == "~104 3/4"
    qtbot.keyClicks(one, "106")
    qtbot.keyClick(one, Qt.Key.Key_Return)
    entry = window.workspace.project.entry("rig.wheelbase_m")
    assert entry is not None
    assert (entry.text, entry.basis) == ("106", "measured")


def test_a_refusal_goes_when_things_go_well(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("rig")
    one = field(window, "rig.wheelbase_m")
    one.setFocus()
    one.selectAll()
    qtbot.keyClicks(one, "wide")
    qtbot.keyClick(one, Qt.Key.Key_Return)
    assert "not understood" in said(window)
    window.workspace.do(SetNumber("rig.cg_height_m", 0.81))
    assert said(window) == ""
    assert one.property("wrong") is True  # it still stands by its field
    qtbot.keyClick(one, Qt.Key.Key_Return)
    assert "not understood" in said(window)
    qtbot.keyClick(one, Qt.Key.Key_Escape)
    assert said(window) == ""
