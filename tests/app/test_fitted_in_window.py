"""A spline swap between two axles, done in Match by mouse."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors.ladder_look import LadderLook
from stoutlink.app.steps.donors.match_look import MatchLook
from stoutlink.app.steps.donors.sheet import DonorSheet
from tests.swap.test_fitted_sets import GEARS, SHAFTS, with_shelf


def test_a_swap_between_two_axles_in_the_window(qtbot: QtBot, window: MainWindow) -> None:
    """Shafts and side gears go into the rear; its own shafts go onto the shelf, get their value, and go to the front."""
    w = window.workspace
    w.take(with_shelf((SHAFTS, GEARS)), None)
    window.show_step("donors")
    sheet = window.sheet(DonorSheet)
    sheet.look("match")
    look = sheet.looks["match"]
    assert isinstance(look, MatchLook)
    for part in ("shafts", "gears"):
        look.pick(part)
        assert look.goes.isVisible()
        look.goes.setCurrentIndex(look.goes.findData("rear"))
        look.goes.activated.emit(look.goes.currentIndex())
    assert set(w.project.swap.rear_plan.fitted) == {"shafts", "gears"}
    assert "✓ 35-tooth shafts in 35-tooth side gears" in look.as_text()
    look.pick("shafts")
    assert look.freed.isVisible()
    qtbot.mouseClick(look.freed, Qt.MouseButton.LeftButton)
    out = w.project.swap.shelf[-1]
    assert (out.kind, out.spline_teeth) == ("inner_shaft", 30)
    assert look.part == out.id
    look.goes.setCurrentIndex(look.goes.findData("front"))
    look.goes.activated.emit(look.goes.currentIndex())
    assert w.project.swap.front_plan.fitted == (out.id,)
    assert f"✓ {out.name} in its own side gears" in look.as_text()
    w.undo()
    assert not w.project.swap.front_plan.fitted
    w.session.mark_saved()


def test_two_ladders_in_one_picture(window: MainWindow) -> None:
    """Another axle's margins stand as open diamonds on the rungs both have, at its own numbers, until taken away."""
    w = window.workspace
    w.set_end("rear")
    window.show_step("donors")
    sheet = window.sheet(DonorSheet)
    sheet.look("ladder")
    look = sheet.looks["ladder"]
    assert isinstance(look, LadderLook)
    assert look.donor is not None
    held = next(d for d in w.project.swap.donors if d.end == "rear" and d.id != look.donor.id)
    look.hold(held.id)
    look.picture.grab()  # painted
    ladder = w.study.ladder(held)
    assert look.found is not None
    shared = {r.part for r in look.found.rungs} & {r.part for r in ladder.rungs if math.isfinite(r.margin)}
    hits = {h.name.removeprefix("second_"): h.tip for h in look.picture.hits if h.name.startswith("second_")}
    assert shared <= set(hits)
    for part in shared:
        rung = ladder.rung(part)
        assert rung is not None
        assert hits[part].endswith(f" {rung.margin:.2f}.")
    weak = ladder.weakest
    assert weak is not None
    assert f"{held.name}\t{weak.title}\t{weak.margin:.2f}" in look.as_text()
    away = next(h for h in look.picture.hits if h.name == "second_ladder")
    assert away.act is not None
    away.act()
    look.picture.grab()
    assert not [h for h in look.picture.hits if h.name.startswith("second_")]
