"""Welds in the window: begun, played, ticked off with the clock running, seams of one's own, readings that calibrate."""

from __future__ import annotations

import datetime
import math

import msgspec
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSlider
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.app.steps.cut.weld_look import WeldLook
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.document.paths import get_value
from stoutlink.core.document.stations import StraightReading
from stoutlink.core.editing.edits import ReplaceList, SetNumber
from stoutlink.core.editing.link_edits import ReadStraight
from stoutlink.core.editing.weld_edits import TickBeads
from tests.app.conftest import Answers
from tests.app.test_parts_and_copes import press, up

START = datetime.datetime(2026, 5, 4, 9, 0)


def worked_out(qtbot: QtBot, look: WeldLook) -> None:
    """Wait until the order is known."""
    qtbot.waitUntil(lambda: look.sheet is not None and not look.work.busy, timeout=20_000)
    look.picture.grab()


def fresh(qtbot: QtBot, window: MainWindow) -> WeldLook:
    window.workspace.do(ReplaceList("welding", (), "none"))
    window.workspace.do(ReplaceList("made_parts", (), "none"))
    look = up(window, "welds").welds
    assert look.now.text() == "No weld plan of this housing yet."
    press(qtbot, window, "begin_welds")
    worked_out(qtbot, look)
    return look


def typed(qtbot: QtBot, look: WeldLook, path: str, words: str) -> None:
    line = next(x for x in look.drawer.findChildren(KeptLine) if x.place == path)
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, words)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def test_it_is_begun_and_says_what_is_next(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = fresh(qtbot, window)
    assert look.sheet is not None
    n = len(look.sheet.run.steps)
    assert look.now.text().startswith(f"Next, 1 of {n}: ")
    assert look.sheet.run.steps[0].bead.seam.name in look.now.text()
    assert look.picture.named("bead 1") is not None
    assert look.picture.named(f"other {n}") is not None
    words = look.as_text()
    for wanted in ("Least bow", "Diagonal", "whatever the order", "qualified welder", "± 50%"):
        assert wanted in words
    assert words.count(" of 24: ") == 24


def test_beads_are_ticked_off_while_the_tube_cools(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = fresh(qtbot, window)
    window.workspace.do(SetNumber("welding.rear.most_c", 22.0))  # so that the next one has to wait
    worked_out(qtbot, look)
    now = START
    look.clock = lambda: now
    laid = 0
    while look.sheet is not None and (laid < 2 or (look.sheet.next is not None and look.sheet.next.waited < 10)):
        press(qtbot, window, "bead_welded")
        worked_out(qtbot, look)
        laid += 1
        now += datetime.timedelta(seconds=60)
    last = START + datetime.timedelta(seconds=60 * (laid - 1))
    plan = window.workspace.project.fabrication.welding[0]
    assert [t.state for t in plan.ticks] == ["welded"] * laid
    assert plan.ticks[1].when == "2026-05-04T09:01:00"
    assert look.sheet is not None
    assert look.sheet.laid == look.shown == laid
    step = look.sheet.next
    assert step is not None
    wait = step.begins - look.sheet.run.steps[laid - 1].ends_at
    now = last + datetime.timedelta(seconds=wait / 2)
    assert look.cooling() == pytest.approx(wait / 2)
    look._tell_now()
    assert " – cooling, " in look.now.text()
    assert look.second.isActive()
    now = last + datetime.timedelta(seconds=wait + 1)
    look._tell_now()
    assert look.now.text().count(" – cool enough") == 1
    assert not look.second.isActive()
    press(qtbot, window, "tick_back")
    worked_out(qtbot, look)
    assert look.sheet.laid == laid - 1
    window.workspace.undo()
    worked_out(qtbot, look)
    assert look.sheet.laid == laid
    look.tick_all("inspected")
    assert {t.state for t in window.workspace.project.fabrication.welding[0].ticks[laid:]} == {"inspected"}


def test_the_order_is_played_by_hand_and_by_itself(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = fresh(qtbot, window)
    slider = look.findChild(QSlider, "weld_slider")
    assert slider is not None
    slider.setValue(5)
    assert look.shown == 5
    tip = " ".join(h.tip for h in look.picture.hits)
    look.picture.grab()
    after = " ".join(h.tip for h in look.picture.hits)
    assert "as bead 5 ends" in after
    assert after != tip
    look.player.setInterval(1)
    press(qtbot, window, "weld_play")
    assert look.play.text() == "Pause"
    qtbot.waitUntil(lambda: not look.player.isActive(), timeout=10_000)
    assert look.shown == slider.maximum() == len(look.sheet.run.steps)  # type: ignore[union-attr]
    assert look.play.text() == "Play"


def test_seams_of_ones_own_are_added_typed_and_removed(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    look = fresh(qtbot, window)
    before = len(look.base.beads)  # type: ignore[union-attr]
    menu = look.add.menu()
    assert menu is not None
    next(a for a in menu.actions() if a.text() == "Truss").trigger()
    worked_out(qtbot, look)
    seam = window.workspace.project.fabrication.welding[0].seams[0]
    assert seam.kind == "truss"
    path = f"welding.rear.seams.{seam.id}"
    typed(qtbot, look, f"{path}.length_m", "24")
    worked_out(qtbot, look)
    assert look.base is not None
    assert len(look.base.beads) == before + 9  # 24 in by beads of 2 3/4 at most
    assert any("cover" in line for line in look.as_text().splitlines())
    typed(qtbot, look, f"{path}.around_rad", "180")
    worked_out(qtbot, look)
    assert window.workspace.project.fabrication.welding[0].seams[0].around_rad == pytest.approx(math.pi)
    assert window.sheet(CutSheet).show_field(f"{path}.leg_m")
    press(qtbot, window, "leave_seam")
    worked_out(qtbot, look)
    assert window.workspace.project.fabrication.welding[0].seams == ()
    hit = look.picture.named("bead 1")
    assert hit is not None
    qtbot.mouseClick(look.picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())
    assert look.leave.text() == "Leave seam out"
    press(qtbot, window, "leave_seam")
    worked_out(qtbot, look)
    assert len(window.workspace.project.fabrication.welding[0].left_out) == 1
    assert "Not welded here" in look.as_text()
    press(qtbot, window, "seams_again")
    assert not get_value(window.workspace.project, "welding.rear.left_out")


@pytest.mark.parametrize(
    ("path", "words", "value"),
    [
        ("welding.rear.amps", "140", 140.0),
        ("welding.rear.most_c", "167", 75.0),
        ("welding.rear.travel_m_s", "15", 15 * 0.0254 / 60),
        ("welding.rear.casting_m", "9", 0.2286),
        ("welding.rear.steel.carbon", "0.2", 0.2),
    ],
)
def test_every_group_has_its_fields(
    qtbot: QtBot, window: MainWindow, answers: Answers, path: str, words: str, value: float
) -> None:
    look = fresh(qtbot, window)
    assert window.sheet(CutSheet).show_field(path)
    typed(qtbot, look, path, words)
    assert get_value(window.workspace.project, path) == pytest.approx(value)


def test_what_is_missing_is_said_and_readings_become_the_factor(
    qtbot: QtBot, window: MainWindow, answers: Answers
) -> None:
    look = fresh(qtbot, window)
    assert not look.take.isEnabled()
    menu = look.every.menu()
    assert menu is not None
    menu.actions()[0].trigger()
    worked_out(qtbot, look)
    assert {t.state for t in window.workspace.project.fabrication.welding[0].ticks} == {"fitted"}
    menu.actions()[1].trigger()
    worked_out(qtbot, look)
    stations = [msgspec.structs.replace(s, straight=()) for s in window.workspace.project.fabrication.stations]
    window.workspace.do(ReplaceList("stations", tuple(stations), "Not read"))
    finding = next(f for f in window.workspace.study.open_so_far if f.code == "C233")
    up(window, "stock")
    window.sheet(CutSheet).go(finding)
    assert look.isVisible()
    worked_out(qtbot, look)
    assert look.sheet is not None
    every = tuple(step.bead.id for step in look.sheet.run.steps)
    window.workspace.do(TickBeads("rear", every, "welded", START.isoformat()))
    worked_out(qtbot, look)
    assert look.now.text() == "All 24 beads are laid."
    assert "Paint waits: 24 of 24 beads" in look.as_text()
    menu.actions()[2].trigger()
    worked_out(qtbot, look)
    assert "Paint: every bead is inspected" in look.as_text()
    base = look.base
    assert base is not None
    for k, side in enumerate(("left", "right")):
        up_, ahead = base.pull[2 * k : 2 * k + 2]
        across = -ahead if side == "left" else ahead
        clock = (math.degrees(math.atan2(across, up_)) / 30) % 12
        for stage, miss, at in (("tacked", 0.0, 0.0), ("welded", 2 * math.hypot(up_, ahead), clock)):
            one = StraightReading(side=side, stage=stage, miss_m=miss, clock=at)  # type: ignore[arg-type]
            window.workspace.do(ReadStraight("rear", one))
    worked_out(qtbot, look)
    press(qtbot, window, "take_factor")
    assert window.workspace.project.fabrication.welding[0].factor == pytest.approx(0.08)
    entry = window.workspace.project.entry("welding.rear.factor")
    assert entry is not None
    assert entry.basis == "measured"
    assert entry.sigma is not None
