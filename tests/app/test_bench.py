"""The bench in the window: gears begun, typed, painted by mouse and keys, shims put in; a game played to its end."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.bench.backlash_line import read_backlash
from stoutlink.app.steps.bench.gear_look import GearLook
from stoutlink.app.steps.bench.sheet import BenchSheet
from stoutlink.app.steps.bench.tooth import Tooth
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.document.gear_setup import GearSetup
from stoutlink.core.editing.edits import ReplaceList
from stoutlink.core.errors import StoutError
from tests.app.conftest import Answers
from tests.app.test_parts_and_copes import press

TH = 0.0254e-3


def bench(window: MainWindow, *, empty: bool = True) -> GearLook:
    if empty:
        window.workspace.do(ReplaceList("gears", (), "none"))
    window.workspace.set_end("rear")
    window.show_step("bench")
    window.sheet(BenchSheet).look("gears")
    return window.sheet(BenchSheet).gears


def typed(qtbot: QtBot, window: MainWindow, path: str, words: str) -> None:
    assert window.sheet(BenchSheet).show_field(path)
    look = window.sheet(BenchSheet).gears
    line = next(x for x in look.drawer.findChildren(KeptLine) if x.place == path)
    line.selectAll()
    qtbot.keyClicks(line, words)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def setup_of(window: MainWindow) -> GearSetup:
    return window.workspace.project.bench.gears[0]


def painted(qtbot: QtBot, tooth: Tooth, place: float, height: float) -> None:
    """Drag the patch to a place."""
    start = tooth.point(0.5, 0.5) if tooth.patch is None else tooth.point(tooth.patch.place, tooth.patch.height)
    goal = tooth.point(place, height)
    qtbot.mousePress(tooth, Qt.MouseButton.LeftButton, pos=start.toPoint())
    qtbot.mouseMove(tooth, goal.toPoint() - QPoint(9, 0))
    qtbot.mouseMove(tooth, goal.toPoint())
    qtbot.mouseRelease(tooth, Qt.MouseButton.LeftButton, pos=goal.toPoint())


def test_a_set_is_begun_typed_painted_and_moved(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = bench(window)
    assert look.now.text() == "No gear set-up of this axle yet."
    press(qtbot, window, "begin_gears")
    assert "the backlash that is wanted" in look.now.text()
    typed(qtbot, window, "gears.rear.low_m", "0.006")
    typed(qtbot, window, "gears.rear.high_m", "0.010")
    assert "the shims that were in" in look.now.text()
    for key, words in (("pinion_m", "0.0300"), ("toward_m", "0.2400"), ("away_m", "0.2400")):
        typed(qtbot, window, f"gears.rear.attempts.attempt-1.{key}", words)
    for place, thick in (("pinion", "0.025"), ("pinion", "0.0025"), ("ring", "0.230"), ("ring", "0.005")):
        press(qtbot, window, "add_shim")
        stack = setup_of(window).stacks[-1]
        typed(qtbot, window, f"gears.rear.stacks.{stack.id}.thick_m", thick)
        typed(qtbot, window, f"gears.rear.stacks.{stack.id}.count", "4")
        if stack.place != place:
            box = next(b for b in look.drawer.children() if b.objectName().endswith(f"{stack.id}.place"))
            box.setCurrentIndex(1)  # type: ignore[attr-defined]
            box.activated.emit(1)  # type: ignore[attr-defined]
    assert [s.place for s in setup_of(window).stacks] == ["pinion", "pinion", "ring", "ring"]
    assert "read backlash in four places" in look.now.text()
    for _ in range(2):
        look.line.line.setFocus()
        look.line.line.clear()
        qtbot.keyClicks(look.line.line, "0.0130 0.0135 0.0128 0.0132")
        qtbot.keyClick(look.line.line, Qt.Key.Key_Return)
        painted(qtbot, look.drive, 0.6, 0.2)
        painted(qtbot, look.coast, 0.55, 0.22)
        if len(setup_of(window).attempts[0].readings) < 2:
            assert "read it once more" in look.now.text()
            press(qtbot, window, "read_again")
    reading = setup_of(window).attempts[0].readings[-1]
    assert len(setup_of(window).attempts[0].readings) == 2
    assert reading.backlash_m[0] == pytest.approx(13 * TH)
    assert reading.drive is not None
    assert reading.drive.place == pytest.approx(0.6, abs=0.02)
    assert reading.drive.height == pytest.approx(0.2, abs=0.03)
    assert look.more.text().startswith("too much backlash; ")
    assert look.now.text().startswith("Next: pinion ")
    press(qtbot, window, "shims_in")
    assert len(setup_of(window).attempts) == 2
    assert look.now.text().startswith("Attempt 2: read backlash")
    window.workspace.undo()
    assert len(setup_of(window).attempts) == 1
    press(qtbot, window, "other_shims")
    assert setup_of(window).attempts[1].pinion_m == setup_of(window).attempts[0].pinion_m
    press(qtbot, window, "end_gears")
    assert window.workspace.project.bench.gears == ()


def test_a_patch_is_moved_by_keys_sized_by_its_rim_and_one_drag_is_one_step_back(
    qtbot: QtBot, window: MainWindow, answers: Answers
) -> None:
    look = bench(window, empty=False)
    before = setup_of(window).attempts[-1].readings[-1].drive
    assert before is not None
    painted(qtbot, look.drive, 0.4, 0.6)
    moved = setup_of(window).attempts[-1].readings[-1].drive
    assert moved is not None
    assert moved.place == pytest.approx(0.4, abs=0.02)
    window.workspace.undo()
    assert setup_of(window).attempts[-1].readings[-1].drive == before
    qtbot.keyClick(look.drive, Qt.Key.Key_Right)
    qtbot.keyClick(look.drive, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    after = setup_of(window).attempts[-1].readings[-1].drive
    assert after is not None
    assert after.place == pytest.approx(before.place + 0.02)
    assert after.tall == pytest.approx(before.tall + 0.04)
    rim = look.drive.point(after.place + 0.5 * after.long, after.height).toPoint()
    qtbot.mousePress(look.drive, Qt.MouseButton.LeftButton, pos=rim)
    qtbot.mouseMove(look.drive, rim + QPoint(20, 0))
    qtbot.mouseRelease(look.drive, Qt.MouseButton.LeftButton, pos=rim + QPoint(20, 0))
    wider = setup_of(window).attempts[-1].readings[-1].drive
    assert wider is not None
    assert wider.long > after.long
    assert wider.place == after.place


def test_wrong_backlash_is_said_and_stays(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = bench(window, empty=False)
    line = look.line.line
    line.setFocus()
    line.clear()
    qtbot.keyClicks(line, "0.007 seven")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert "seven" in window._said.text()
    assert line.text() == "0.007 seven"
    qtbot.keyClick(line, Qt.Key.Key_Escape)
    qtbot.keyClicks(line, "9")
    qtbot.keyClick(line, Qt.Key.Key_Return)  # nine inches
    assert "accepted" in window._said.text()
    window.workspace.session.mark_saved()
    assert read_backlash("0.15, 0.16;0.14", "mm") == pytest.approx((0.15e-3, 0.16e-3, 0.14e-3))
    with pytest.raises(StoutError):
        read_backlash("x", "mm")


def test_a_game_is_played_to_its_end(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = bench(window)
    look.practise(11)
    assert not look.drive.isEnabled()
    assert not look.line.isVisible()
    for _ in range(60):
        if look.sheet is not None and look.sheet.verdict == "right":
            break
        if look.put_in.isEnabled():
            press(qtbot, window, "shims_in")
        else:
            press(qtbot, window, "measure")
    assert look.sheet is not None
    assert look.sheet.verdict == "right"
    assert "attempts, and it is." in look.now.text()
    assert not look.measure.isEnabled()
    assert look.as_text().count("backlash") >= 2
