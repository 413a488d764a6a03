"""The travel step in the real window: an axle is scrubbed, what touches is found, moved away, and seen to clear."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QComboBox, QPushButton, QSlider
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.travel.climb_look import ClimbLook
from stoutlink.app.steps.travel.curve_look import CurveLook
from stoutlink.app.steps.travel.driveline_look import DrivelineLook
from stoutlink.app.steps.travel.interference_look import InterferenceLook
from stoutlink.app.steps.travel.sheet import LOOKS, TravelSheet
from stoutlink.app.steps.travel.spring_look import SpringLook
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.analysis.cycle.travel_map import BEYOND, TOUCHES, UNREACHED
from stoutlink.core.document.project import with_parts
from stoutlink.core.document.springing import Driveshaft
from stoutlink.core.editing.edits import MovePivot, SetChoice, SetNumber
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.app.conftest import Answers

WAIT_MS = 20_000


def cycle(qtbot: QtBot, window: MainWindow, end: str = "rear") -> TravelSheet:
    """Put the travel step up and wait for its answer."""
    window.show_step("travel")
    window.workspace.set_end(end)
    qtbot.waitUntil(lambda: window.sheet(TravelSheet).travel is not None, timeout=WAIT_MS)
    QApplication.processEvents()
    return window.sheet(TravelSheet)


def press(qtbot: QtBot, window: MainWindow, name: str) -> None:
    button = window.sheet(TravelSheet).findChild(QPushButton, name)
    assert button is not None
    assert button.isVisible(), name
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def heave(sheet: TravelSheet) -> float:
    assert sheet.travel is not None
    return float(sheet.travel.grid.heave[sheet.column])


def roll(sheet: TravelSheet) -> float:
    assert sheet.travel is not None
    return float(sheet.travel.grid.roll[sheet.row])


def test_sliders_keys_and_the_ribbon_scrub(qtbot: QtBot, window: MainWindow) -> None:
    sheet = cycle(qtbot, window)
    assert heave(sheet) == 0.0
    assert "ride height" in sheet.state.text()
    slider = sheet.findChild(QSlider, "scrub_heave")
    assert slider is not None
    slider.setFocus()
    qtbot.keyClick(slider, Qt.Key.Key_Right)
    assert heave(sheet) > 0
    assert "of bump" in sheet.state.text()
    before = sheet.column
    sheet.views.setFocus()
    qtbot.keyClick(sheet.views, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert sheet.column == before - 5
    qtbot.keyClick(sheet.views, Qt.Key.Key_Right)
    assert roll(sheet) > 0
    box = sheet.travel_map.box()
    at = QPointF(box.left() + 0.3 * box.width(), box.top() + 0.4 * box.height())
    qtbot.mouseClick(sheet.travel_map, Qt.MouseButton.LeftButton, pos=at.toPoint())
    assert (sheet.row, sheet.column) == sheet.travel_map.pose_at(QPointF(at.toPoint()))
    assert slider.value() == sheet.column
    qtbot.keyClick(window, Qt.Key.Key_Home)
    assert heave(sheet) == 0.0
    assert abs(roll(sheet)) < 1e-9


def test_the_axle_itself_is_dragged(qtbot: QtBot, window: MainWindow) -> None:
    sheet = cycle(qtbot, window)
    views = sheet.views
    middle = views.spot("rear", 0.0)
    assert middle is not None
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=middle.toPoint())
    qtbot.mouseMove(views, (middle - QPointF(0, 0.05 * views.frame_of("rear").scale)).toPoint())
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton)
    assert heave(sheet) == pytest.approx(0.05, abs=1.5 / views.frame_of("rear").scale + 0.0015)
    window.sheet(TravelSheet).to_ride()
    half = 0.5 * window.workspace.rig.rear.track_m
    for side in (1.0, -1.0):
        tyre = views.spot("rear", side * half)
        assert tyre is not None
        qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=tyre.toPoint())
        qtbot.mouseMove(views, (tyre - QPointF(0, 0.1 * views.frame_of("rear").scale)).toPoint())
        qtbot.mouseRelease(views, Qt.MouseButton.LeftButton)
        assert roll(sheet) == pytest.approx(
            side * math.asin(0.1 / half), abs=0.025
        )  # that tyre goes up; rolls are a degree apart
        window.sheet(TravelSheet).to_ride()


def test_a_known_collision_is_flagged_and_clears_when_the_link_is_moved(qtbot: QtBot, window: MainWindow) -> None:
    """The demo's front right lower runs into the front driveshaft near full bump; its frame end outboard and down, it
    clears.
    """
    sheet = cycle(qtbot, window, "front")
    touch = sheet.looks["touching"]
    assert isinstance(touch, InterferenceLook)
    assert sheet.travel is not None
    hit = next(c for c in sheet.travel.interference.contacts if {c.one, c.other} == {"Right lower", "Driveshaft"})
    assert hit.least < 0
    touch.list.grab()
    line = touch.list.named(f"{hit.one}|{hit.other}")
    assert line is not None
    qtbot.mouseClick(touch.list, Qt.MouseButton.LeftButton, pos=line.box.center().toPoint())
    assert heave(sheet) == pytest.approx(hit.heave, abs=1e-6)
    assert roll(sheet) == pytest.approx(hit.roll, abs=1e-6)
    assert "touches Driveshaft" in sheet.state.text() or "touches Right lower" in sheet.state.text()
    found = sheet.shown().found
    assert found is not None
    assert found.states[sheet.row, sheet.column] == TOUCHES
    assert "Right lower" in sheet.views.marked
    layout = window.workspace.project.layout("front")
    assert layout is not None
    link = next(x for x in layout.links if x.id == "lower_right")
    x, y, z = link.frame_pivot_m
    assert window.workspace.do(MovePivot(layout.id, "lower_right", "frame", (x, y - 0.12, z - 0.08)))
    assert sheet.travel is None
    assert sheet.views.old  # faint until the new one is there
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    assert sheet.travel is not None
    again = [c for c in sheet.travel.interference.contacts if {c.one, c.other} == {"Right lower", "Driveshaft"}]
    assert all(c.least > 0 for c in again)
    assert not sheet.views.old
    now = sheet.shown().found
    assert now is not None
    assert "Driveshaft" not in sheet.views.marked
    window.workspace.undo()
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    assert "Right lower" in sheet.views.marked


def test_curves_and_their_table(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    sheet = cycle(qtbot, window)
    press(qtbot, window, "travel_curves")
    look = sheet.looks["curves"]
    assert isinstance(look, CurveLook)
    box, over = look.findChild(QComboBox, "curve_which"), look.findChild(QComboBox, "curve_over")
    assert box is not None
    assert over is not None
    for index in range(box.count()):
        box.setCurrentIndex(index)
        for way in (0, 1):
            over.setCurrentIndex(way)
            assert not look.picture.grab().isNull()
            assert look.as_text()
    over.setCurrentIndex(0)
    look.picture.grab()
    plot = look.picture._plot
    assert plot is not None
    spot = QPointF(plot.box.left() + 0.75 * plot.box.width(), plot.box.center().y())
    qtbot.mouseClick(look.picture, Qt.MouseButton.LeftButton, pos=spot.toPoint())
    assert sheet.column == pytest.approx(0.75 * 120, abs=1)  # the cursor and the views go together
    answers.path = tmp_path / "travel.csv"
    press(qtbot, window, "export_travel")
    rows = list(csv.reader(io.StringIO((tmp_path / "travel.csv").read_text())))
    assert "drive_pct" in rows[0]
    assert len([r for r in rows if r and r[0] == "heave"]) == 121
    window.actions_by_id["copy_travel_look"].trigger()
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    assert clipboard.text() == sheet.as_text()


def test_shocks_coilovers_and_a_driveshaft_are_put_in(qtbot: QtBot, window: MainWindow) -> None:
    """From nothing to numbers, in the axle without them."""
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    for key in ("spring", "shock", "driveshaft"):
        assert window.workspace.do(SetChoice(f"layouts.{layout.id}.{key}", None, key))
    sheet = cycle(qtbot, window)
    press(qtbot, window, "travel_springs")
    look = sheet.looks["springs"]
    assert isinstance(look, SpringLook)
    assert any("No shocks" in one.word for one in look.lines())
    press(qtbot, window, "add_shock")
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    assert not any("No shocks" in one.word for one in look.lines())
    press(qtbot, window, "add_spring")
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    said = {one.word: one.value for one in look.lines()}
    assert "Frequency" in said
    field = next(f for f in look.findChildren(QuantityField) if f.isVisible() and "strap" in f.accessibleName().lower())
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "2")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    changed = window.workspace.project.layout("rear")
    assert changed is not None
    assert changed.stops.strap_m == pytest.approx(0.0508)
    assert look.isVisible()  # what was typed in stays where it was while the travel is worked out
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    assert sheet.travel is not None
    assert sheet.travel.grid.limits[0] == pytest.approx(-0.0508)
    press(qtbot, window, "travel_driveline")
    drive = sheet.looks["driveline"]
    assert isinstance(drive, DrivelineLook)
    press(qtbot, window, "describe_shaft")
    after = window.workspace.project.layout("rear")
    assert after is not None
    assert after.driveshaft == Driveshaft()
    for _ in range(4):
        window.workspace.undo()
    bare = window.workspace.project.layout("rear")
    assert bare is not None
    assert bare.shock is None


def test_play_stays_within_the_stops(qtbot: QtBot, window: MainWindow) -> None:
    sheet = cycle(qtbot, window)
    assert sheet.travel is not None
    seen = set()
    press(qtbot, window, "play")
    assert sheet.play.text().endswith("Hold")
    for _ in range(200):
        sheet._step()
        seen.add((sheet.row, sheet.column))
        assert sheet.travel.grid.reached[sheet.row, sheet.column]
    press(qtbot, window, "play")
    assert len({c for _, c in seen}) > 40
    assert len({r for r, _ in seen}) > 5
    found = sheet.shown().found
    assert found is not None
    assert sum(found.states[r, c] in (BEYOND, UNREACHED) for r, c in seen) <= 0.05 * len(seen)
    window.show_step("layout")
    assert not sheet.play.isChecked()


def test_every_look_on_both_ends_and_projects(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    """Links and leaves, both axles, both units, both themes: all painted, all with words to copy."""
    for name in ("basalt", "tamarack"):
        window.workspace.take(read_project(demo_file(f"{name}.stoutlink")), None)
        for end in ("rear", "front"):
            sheet = cycle(qtbot, window, end)
            for units in ("mm", "in"):
                window.workspace.do(SetChoice("settings.units", units))
                qtbot.waitUntil(lambda: window.sheet(TravelSheet).travel is not None, timeout=WAIT_MS)
                for key, _, _ in LOOKS:
                    sheet.look(key)
                    assert not window.grab().isNull()
                    assert sheet.as_text()
    climb = window.sheet(TravelSheet).looks["climb"]
    assert isinstance(climb, ClimbLook)
    assert any("backward" in one.word for one in climb.lines())


def test_nothing_there_says_what_to_do(qtbot: QtBot, window: MainWindow) -> None:
    bare = with_parts(
        window.workspace.project, layouts=(), front_layout=None, rear_layout=None, front_compare=None, rear_compare=None
    )
    window.workspace.take(bare, None)
    window.show_step("travel")
    assert "start from a kind in Layout" in window.sheet(TravelSheet).state.text()
    assert window.sheet(TravelSheet).as_text() == window.sheet(TravelSheet).state.text() != ""
    assert not window.grab().isNull()


def test_a_travel_nobody_waits_for_is_dropped(qtbot: QtBot, window: MainWindow) -> None:
    """A change while it is worked out: the answer shown is for the project as it is."""
    window.show_step("travel")
    window.workspace.do(SetNumber("layouts.rear-a.bump_m", 0.09))
    window.workspace.do(SetNumber("layouts.rear-a.bump_m", 0.08))
    qtbot.waitUntil(lambda: window.sheet(TravelSheet).travel is not None, timeout=WAIT_MS)
    found = window.sheet(TravelSheet).travel
    assert found is not None
    assert found.grid.heave[-1] == pytest.approx(0.08)


@pytest.mark.parametrize("look", [key for key, *_ in LOOKS])
def test_what_was_known_of_another_project_is_not_read_out(qtbot: QtBot, window: MainWindow, look: str) -> None:
    """Neither while the travel is worked out anew nor once it is known that there is none is anything of the old one said, shown or copied."""
    sheet = cycle(qtbot, window)
    sheet.look(look)
    sheet.go_to(sheet.row + 3, sheet.column + 5)
    before, said = sheet.as_text(), sheet.state.text()
    assert said.startswith("Rear axle at")
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    x, y, z = layout.links[0].axle_pivot_m
    window.workspace.do(MovePivot(layout.id, layout.links[0].id, "axle", (x, y, z + 0.02)))
    assert sheet.working
    assert sheet.as_text() == sheet.state.text() == "Cycling both axles…"
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    window.workspace.do(SetChoice("rear_layout", None, "rear layout"))
    qtbot.waitUntil(lambda: not sheet.working, timeout=WAIT_MS)
    QApplication.processEvents()
    assert sheet.looks[look].shown.travel is None
    assert sheet.as_text() == sheet.state.text() == "Nothing hangs the rear axle yet: start from a kind in Layout."
    assert sheet.as_text() != before
