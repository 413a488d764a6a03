"""Two values that refuse each other are typed in either order: the first waits, marked, and is taken with the second."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.document.paths import get_value
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.quantity.constants import INCH


def line(qtbot: QtBot, workspace: Workspace, path: str) -> QuantityField:
    field = QuantityField(workspace, path)
    qtbot.addWidget(field)
    workspace.changed.connect(field.refresh)
    field.show()
    return field


def put(qtbot: QtBot, field: QuantityField, text: str) -> None:
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


@pytest.mark.parametrize(
    ("first", "second"),
    [
        (("solids.sump.low_m.2", "60"), ("solids.sump.high_m.2", "66")),  # a box moved up by more than its height
        (("rig.cg_ahead_of_rear_m", "130"), ("rig.wheelbase_m", "150")),
        (("rig.rear.loaded_radius_m", "26"), ("rig.rear.tyre_free_radius_m", "27")),
    ],
)
def test_the_first_of_a_pair_waits_for_the_second(
    qtbot: QtBot, window: MainWindow, first: tuple[str, str], second: tuple[str, str]
) -> None:
    w = window.workspace
    solid = next((s.id for s in w.project.tape.solids if s.id == "sump"), None)
    assert solid is not None or not first[0].startswith("solids")
    one, two = (line(qtbot, w, path) for path, _ in (first, second))
    before = w.project
    put(qtbot, one, first[1])
    assert w.project is before
    assert one.property("wrong") is True
    assert one.text() == first[1]
    w.do(SetChoice("rig.notes", "something else"))  # a change that does not help leaves it waiting
    assert one.property("wrong") is True
    put(qtbot, two, second[1])
    assert one.property("wrong") is not True
    assert w.not_taken.of(w.project) == ()
    assert get_value(w.project, first[0]) == pytest.approx(float(first[1]) * INCH)
    assert get_value(w.project, second[0]) == pytest.approx(float(second[1]) * INCH)
    assert "is taken" in window._said.text()
    w.undo()
    w.undo()
    assert get_value(w.project, first[0]) == get_value(before, first[0])
    assert get_value(w.project, second[0]) == get_value(before, second[0])


def test_what_is_no_value_never_comes_in_by_itself(qtbot: QtBot, window: MainWindow) -> None:
    field = line(qtbot, window.workspace, "rig.wheelbase_m")
    put(qtbot, field, "wide")
    before = window.workspace.project.rig.wheelbase_m
    window.workspace.do(SetChoice("rig.notes", "x"))
    assert window.workspace.project.rig.wheelbase_m == before
    assert field.text() == "wide"


def test_esc_takes_a_waiting_value_away(qtbot: QtBot, window: MainWindow) -> None:
    one = line(qtbot, window.workspace, "rig.cg_ahead_of_rear_m")
    two = line(qtbot, window.workspace, "rig.wheelbase_m")
    put(qtbot, one, "130")
    one.setFocus()
    qtbot.keyClick(one, Qt.Key.Key_Escape)
    old = window.workspace.project.rig.cg_ahead_of_rear_m
    put(qtbot, two, "150")
    assert window.workspace.project.rig.cg_ahead_of_rear_m == old
