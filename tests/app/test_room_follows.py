"""Clearances that follow the hand in Layout, and pivots moved in Travel at the pose where they collide."""

from __future__ import annotations

import math

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.layout.pivot_look import PivotLook
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.cycle.travel_map import clear_part, travel_map
from stoutlink.core.drawing.shapes import flatten
from stoutlink.core.editing.edits import MovePivot
from stoutlink.core.study.study import Study
from tests.app.test_travel_sheet import WAIT_MS, cycle


def test_the_nearest_pair_follows_a_pivot(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("layout")
    sheet = window.sheet(LayoutSheet)
    sheet.look("pivots")
    look = sheet.looks["pivots"]
    assert isinstance(look, PivotLook)
    qtbot.waitUntil(lambda: not look.near.behind, timeout=WAIT_MS)
    before = look.room.text()
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    link = next(x for x in layout.links if x.role == "lower")
    x, y, z = link.frame_pivot_m
    window.workspace.dragging = True
    window.workspace.do(MovePivot(layout.id, link.id, "frame", (x, y, z - 0.05), "drag 1"))
    assert look.near.behind
    look._show_room()
    assert look.room.text().endswith("…")  # of a moment ago, and says so
    qtbot.waitUntil(lambda: not look.near.behind, timeout=WAIT_MS)
    window.workspace.dragging = False
    assert look.room.text() != before
    project = window.workspace.project
    again = axle_travel(project, Study(project).true.rig, "rear")  # the travel's own answer
    assert again is not None
    worst = again.interference.contacts[0]
    assert look.near.room is not None
    assert look.near.room.nearest is not None
    assert (look.near.room.nearest.one, look.near.room.nearest.other) == (worst.one, worst.other)
    assert look.near.room.nearest.least == pytest.approx(worst.least)
    assert look.near.room.free == pytest.approx(clear_part(travel_map(again)))
    assert f"{worst.one} – {worst.other}" in look.room.text()


@pytest.mark.parametrize("which", ["frame", "axle"])
def test_a_pivot_is_moved_at_the_pose_shown(qtbot: QtBot, window: MainWindow, which: str) -> None:
    """Dragged up by so many pixels at bump and roll, the pivot lies that much higher there; an axle pivot is taken
    back to ride with the axle's turn undone."""
    sheet = cycle(qtbot, window, "rear")
    row, column = sheet.travel.grid.ride  # type: ignore[union-attr]
    sheet.go_to(row + 5, column + 8)
    views = sheet.views
    layout = window.workspace.project.layout("rear")
    assert layout is not None
    link = next(x for x in layout.links if x.role == "upper")
    pivot = (link.id, which)
    place = views.handles()[pivot]  # type: ignore[index]
    start = np.array(place, dtype=float)
    frame = views.drawn.frame_of("side")
    at = frame.at(flatten(place, "side"))
    turn = np.array(views.pose().turn)  # type: ignore[union-attr]
    qtbot.mousePress(views, Qt.MouseButton.LeftButton, pos=at.toPoint())
    to = at.toPoint() + QPoint(0, -20)
    qtbot.mouseMove(views, to)
    qtbot.mouseRelease(views, Qt.MouseButton.LeftButton, pos=to)
    after = window.workspace.project.layout("rear")
    assert after is not None
    moved = after.link(link.id)
    assert moved is not None
    change = np.subtract(moved.pivot(which), link.pivot(which))  # type: ignore[arg-type]
    across, up = frame.back(to.toPointF())
    wanted = np.array([across, 0.0, up]) - start
    wanted[1] = 0.0
    if which == "axle":
        wanted = turn.T @ wanted
    assert change == pytest.approx(wanted, abs=2e-5)
    assert math.hypot(*change) > 0.005
    window.workspace.session.undo()
    assert window.workspace.project.layout("rear") == layout  # one step
