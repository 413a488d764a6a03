"""Teeth of a gear set: one after the other, both at once, or by the ratio of a set that is sold."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.donors.teeth_field import TeethField
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair, pairs_near
from stoutlink.core.document.paths import with_value
from stoutlink.core.storage.decode import decode_project, encode_project
from tests.app.conftest import Answers


@pytest.fixture
def new(qtbot: QtBot, window: MainWindow) -> MainWindow:
    """A window on the record of an axle of which nothing is known yet."""
    window.show_step("donors")
    sheet = window.sheet(DonorSheet)
    sheet.new.click()
    window.sheets["donors"].look("axle")
    return window


def axle(window: MainWindow) -> DonorAxle:
    """The newest axle of the project."""
    return window.workspace.project.swap.donors[-1]


def teeth(qtbot: QtBot, window: MainWindow, name: str, text: str) -> TeethField:
    """Type into a field of the record."""
    place = f"donors.{axle(window).id}.{name}"
    one = next(f for f in window.findChildren(TeethField) if f.place == place)
    one.setFocus()
    one.selectAll()
    qtbot.keyClicks(one, text)
    qtbot.keyClick(one, Qt.Key.Key_Return)
    return one


@pytest.mark.parametrize("first", ["ring_teeth", "pinion_teeth"])
def test_one_after_the_other(qtbot: QtBot, new: MainWindow, first: str) -> None:
    """Each alone was refused for want of the other."""
    values = {"ring_teeth": 41, "pinion_teeth": 8}
    second = next(name for name in values if name != first)
    one = teeth(qtbot, new, first, str(values[first]))
    assert not one.property("wrong")
    assert getattr(axle(new), first) == values[first]
    assert axle(new).pair is None
    assert decode_project(encode_project(new.workspace.project)) == new.workspace.project
    said = [f.code for f in new.workspace.study.donor_findings(axle(new))]
    assert "K163" in said  # marked as half counted
    teeth(qtbot, new, second, str(values[second]))
    assert axle(new).pair == ToothPair(ring=41, pinion=8)
    assert "K163" not in [f.code for f in new.workspace.study.donor_findings(axle(new))]


@pytest.mark.parametrize("text", ["41/8", "41:8", "41-8", "41 / 8"])
@pytest.mark.parametrize("name", ["ring_teeth", "pinion_teeth"])
def test_both_at_once(qtbot: QtBot, new: MainWindow, name: str, text: str) -> None:
    teeth(qtbot, new, name, text)
    assert axle(new).pair == ToothPair(ring=41, pinion=8)
    new.undo()
    assert axle(new).pair is None


def test_a_ratio_finds_the_set_that_is_sold(qtbot: QtBot, new: MainWindow, answers: Answers) -> None:
    sold = (ToothPair(ring=41, pinion=8), ToothPair(ring=43, pinion=10), ToothPair(ring=86, pinion=20))
    project = with_value(new.workspace.project, f"donors.{axle(new).id}.ratios", sold)
    new.take(project, None)
    new.show_step("donors")
    window_sheet = new.sheet(DonorSheet)
    window_sheet.look_at(axle(new).id)
    teeth(qtbot, new, "ring_teeth", "5.13")
    assert axle(new).pair == sold[0]  # 41/8 is 5.125, printed 5.13
    answers.say = "86/20 (4.300)"
    teeth(qtbot, new, "ring_teeth", "4.30")
    assert axle(new).pair == sold[2]
    assert answers.asked[-1] == "Which gear set?: 4.30 may be:"
    one = teeth(qtbot, new, "ring_teeth", "3.73")
    assert one.property("wrong") is True
    assert "is no gear set of those made for it: 4.30 (43/10)" in one.toolTip()  # Q109
    assert axle(new).pair == sold[2]


def test_what_is_meant() -> None:
    sold = (ToothPair(ring=37, pinion=9), ToothPair(ring=41, pinion=10))
    assert pairs_near("4.11", sold) == (sold[0],)
    assert pairs_near("4,1", sold) == sold  # one place: both are 4.1
    assert pairs_near("41", sold) == ()
    assert pairs_near("fast", sold) == ()
