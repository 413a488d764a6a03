"""Steering, springs, driveline and climb in the real window: parts are put in, lists read, holes fitted, sheets
written, findings come and go.
"""

from __future__ import annotations

from pathlib import Path

import msgspec
import numpy as np
import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.travel.climb_look import ClimbLook
from stoutlink.app.steps.travel.curve_look import CurveLook
from stoutlink.app.steps.travel.driveline_look import DrivelineLook
from stoutlink.app.steps.travel.line_look import LineLook
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.app.steps.travel.spring_look import SpringLook
from stoutlink.app.steps.travel.steer_look import SteerLook
from stoutlink.app.steps.travel.step import take_springs
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.analysis.linkage.steering_geometry import bump_steer
from stoutlink.core.document.layout import Layout
from stoutlink.core.editing.edits import MovePivot, SetChoice, SetNumber
from stoutlink.core.editing.layout_edits import CopyLayout
from stoutlink.demo import demo_file
from tests.app.conftest import Answers
from tests.app.test_travel_sheet import WAIT_MS, cycle, press


def again(qtbot: QtBot, sheet: TravelSheet) -> None:
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)


def words(look: LineLook) -> dict[str, str]:
    return {one.word: one.value for one in look.lines()}


def layout_of(window: MainWindow, end: str) -> Layout:
    found = window.workspace.project.layout(end)
    assert found is not None
    return found


def click(qtbot: QtBot, look: LineLook, name: str) -> None:
    look.list.grab()
    hit = look.list.named(name)
    assert hit is not None, name
    qtbot.mouseClick(look.list, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())


def test_steering_from_nothing(qtbot: QtBot, window: MainWindow) -> None:
    window.workspace.do(SetChoice("layouts.front-a.steering", None, "steering"))
    sheet = cycle(qtbot, window, "front")
    press(qtbot, window, "travel_steering")
    look = sheet.looks["steering"]
    assert isinstance(look, SteerLook)
    assert any("No steering yet" in one.word for one in look.lines())
    press(qtbot, window, "travel_add_steering")
    again(qtbot, sheet)
    assert words(look)["Steering"].startswith("crossover")
    press(qtbot, window, "add_tie_rod")
    again(qtbot, sheet)
    assert sheet.travel is not None
    assert {c.one for c in sheet.travel.interference.contacts} >= {"Drag link", "Tie rod"}
    assert any(word.startswith("Outer wheel to roll freely") for word in words(look))
    window.workspace.do(SetChoice("layouts.front-a.steering.drag_on", "tie_rod", "drag link"))
    again(qtbot, sheet)
    assert words(look)["Steering"].startswith("drag link to the tie rod")
    window.workspace.do(SetChoice("layouts.front-a.steering.kind", "hydraulic", "steering"))
    again(qtbot, sheet)
    assert any("not legal on public roads" in one.word for one in look.lines())
    assert sheet.travel is not None
    assert sheet.travel.steer is None
    window.workspace.set_end("rear")
    assert any("does not steer" in one.word for one in look.lines())


def test_the_best_holes_are_found_and_fitted(qtbot: QtBot, window: MainWindow) -> None:
    """A click on a combination bolts it; what it was said to give is what the layout then gives."""
    sheet = cycle(qtbot, window, "front")
    press(qtbot, window, "travel_steering")
    look = sheet.looks["steering"]
    assert isinstance(look, SteerLook)
    press(qtbot, window, "best_holes")
    qtbot.waitUntil(lambda: look.answer is not None, timeout=WAIT_MS)
    assert look.answer is not None
    ranked = look.answer[1]
    assert len(ranked) == 9
    assert sum(one.current for one in ranked) == 1
    pick = next(n for n, one in enumerate(ranked) if not one.current)
    click(qtbot, look, f"holes_{pick}")
    changed = layout_of(window, "front")
    assert changed.steering is not None
    assert changed.steering.knuckle_holes is not None
    assert changed.steering.knuckle_holes.hole == ranked[pick].knuckle
    motion = window.workspace.study.axles["front"].motion
    assert motion is not None
    fitted = bump_steer(motion)
    assert fitted is not None
    assert abs(fitted.largest) == pytest.approx(abs(ranked[pick].largest), rel=0.02)
    window.workspace.undo()
    again(qtbot, sheet)
    assert layout_of(window, "front").steering != changed.steering


def test_springs_of_every_kind_and_a_list(qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    sheet = cycle(qtbot, window)
    press(qtbot, window, "travel_springs")
    look = sheet.looks["springs"]
    assert isinstance(look, SpringLook)
    click(qtbot, look, "offer_0")
    again(qtbot, sheet)
    fitted = layout_of(window, "rear").spring
    assert fitted is not None
    assert fitted.second_n_per_m is None
    assert any(one.strong for one in look.lines() if one.name.startswith("offer"))
    press(qtbot, window, "take_spring")
    again(qtbot, sheet)
    press(qtbot, window, "add_coil")
    again(qtbot, sheet)
    assert "Frequency" in words(look)
    assert any(
        "Seat height" in f.accessibleName() or "seat height" in f.accessibleName().lower()
        for f in look.findChildren(QuantityField)
    )
    press(qtbot, window, "take_spring")
    again(qtbot, sheet)
    press(qtbot, window, "add_air")
    again(qtbot, sheet)
    assert "Pressure at ride" in words(look)
    assert (
        "Left air spring" in {c.one for c in sheet.travel.interference.contacts} if sheet.travel is not None else False
    )
    stiff = words(look)["Both together"]
    press(qtbot, window, "take_bar")
    again(qtbot, sheet)
    assert "Both together" not in words(look)
    press(qtbot, window, "add_bar")
    again(qtbot, sheet)
    assert words(look)["Both together"] != stiff
    press(qtbot, window, "take_spring")
    again(qtbot, sheet)
    press(qtbot, window, "add_spring")
    again(qtbot, sheet)
    table = tmp_path / "springs.csv"
    table.write_text("name,rate_lb_per_in,free_in\nOne,150,14\nTwo,nothing,14\n")
    answers.path = table
    press(qtbot, window, "import_springs")
    assert [s.name for s in window.workspace.project.linkage.springs] == ["One"]
    assert any("Line 3" in one for one in answers.asked)
    again(qtbot, sheet)
    window.files.take(demo_file("springs.csv"))  # as when it is dropped on the window
    assert len(window.workspace.project.linkage.springs) == 11
    table.write_text("rate,free\n1,2\n")
    take_springs(window, table)
    assert "one column" in window._said.toolTip()
    assert len(window.workspace.project.linkage.springs) == 11


def test_a_shaft_in_two_pieces_and_its_sheet(
    qtbot: QtBot, window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    sheet = cycle(qtbot, window)
    press(qtbot, window, "travel_driveline")
    look = sheet.looks["driveline"]
    assert isinstance(look, DrivelineLook)
    window.workspace.do(SetChoice("layouts.rear-a.driveshaft.kind", "two_piece", "joints"))
    again(qtbot, sheet)
    assert any("taken half way" in one.word for one in look.lines())
    press(qtbot, window, "place_carrier")
    again(qtbot, sheet)
    shaft = layout_of(window, "rear").driveshaft
    assert shaft is not None
    assert shaft.carrier_m is not None
    assert "Front piece, joint to joint" in words(look)
    answers.path = tmp_path / "shaft.txt"
    press(qtbot, window, "shaft_sheet")
    text = (tmp_path / "shaft.txt").read_text()
    assert "two pieces with a carrier bearing" in text
    assert "Measured at ride height" in text
    assert sheet.travel is not None
    assert sheet.travel.shaft is not None
    length = sheet.travel.shaft.at_ride[3] / 0.0254
    line = next(one for one in text.splitlines() if one.startswith("Length at ride"))
    assert float(line.split("  ")[-1].strip(" ″")) == pytest.approx(length, abs=6e-4)


def test_two_layouts_and_two_rigs_climb_side_by_side(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    assert window.workspace.do(CopyLayout("rear-a", "rear-b", "Steeper lowers"))  # in use now, held against the first
    lower = next(x for x in layout_of(window, "rear").links if x.role == "lower")
    x, y, z = lower.frame_pivot_m
    assert window.workspace.do(MovePivot("rear-b", lower.id, "frame", (x, y, z + 0.06)))
    sheet = cycle(qtbot, window)
    press(qtbot, window, "travel_climb")
    look = sheet.looks["climb"]
    assert isinstance(look, ClimbLook)
    beside = [one for one in look.lines() if one.other.strip()]
    assert beside
    springs = next(one for one in look.lines() if one.word == "Backward on its springs")
    assert springs.other != springs.value  # other support at the rear, another back-over angle
    assert "\t" in sheet.as_text()
    assert not window.grab().isNull()
    answers.path = demo_file("tamarack.stoutlink")
    press(qtbot, window, "other_rig")
    qtbot.waitUntil(lambda: look.rival is not None, timeout=WAIT_MS)
    assert look.rival is not None
    assert look.rival.project.name == "Tamarack front swap"
    back = next(one for one in look.lines() if one.word == "Over backward, rigid")
    assert back.other not in ("", "–", back.value)
    window.workspace.do(SetNumber("choosing.grade_rad", 0.3))
    again(qtbot, sheet)
    grade = next(one for one in look.lines() if "grade, front and rear" in one.word)
    assert grade.other not in ("", "–")  # the other rig on this one's grade, also when it changes
    press(qtbot, window, "other_rig_away")
    assert look.rival is None
    window.workspace.do(SetChoice("rear_compare", None))
    again(qtbot, sheet)
    assert not any(one.other for one in look.lines())


def test_where_a_number_is_not_defined_the_copied_curve_has_a_dash(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet = cycle(qtbot, window)
    press(qtbot, window, "travel_curves")
    look = sheet.looks["curves"]
    assert isinstance(look, CurveLook)
    whole = look.curve()
    assert whole is not None
    broken = whole.heave.copy()
    broken[:2] = np.nan, np.inf
    monkeypatch.setattr(look, "curve", lambda: msgspec.structs.replace(whole, heave=broken))
    _, first, second, third, *_ = sheet.as_text().splitlines()
    assert [row.partition("\t")[2] for row in (first, second)] == ["–", "–"]
    assert float(third.partition("\t")[2])


def test_curves_carry_their_band(qtbot: QtBot, window: MainWindow) -> None:
    sheet = cycle(qtbot, window)
    press(qtbot, window, "travel_curves")
    look = sheet.looks["curves"]
    assert isinstance(look, CurveLook)
    qtbot.waitUntil(lambda: look.bands is not None, timeout=WAIT_MS)
    assert sheet.travel is not None
    curve = sheet.travel.curve("drive")
    assert curve is not None
    sigma = look.sigma_of(curve)
    assert sigma is not None
    gauge = next(g for g in window.workspace.study.axles["rear"].gauges if g.id == "drive")
    assert sigma[sheet.travel.grid.ride[1]] == pytest.approx(gauge.sigma, rel=0.08)
    assert np.all(sigma[np.isfinite(curve.heave)] > 0)
    assert not look.picture.grab().isNull()
    window.show_step("layout")
    window.workspace.do(SetChoice("settings.units", "mm"))


def test_what_the_travel_shows_is_a_knock_on(qtbot: QtBot, window: MainWindow) -> None:
    """It comes with the answer, goes when the link is moved, and is never shown for another project."""
    sheet = cycle(qtbot, window, "front")
    hit = next(f for f in window.workspace.study.open_so_far if f.code == "T301" and "Driveshaft" in f.sentence)
    assert "Right lower runs" in hit.sentence
    link = next(x for x in layout_of(window, "front").links if x.id == "lower_right")
    x, y, z = link.frame_pivot_m
    window.workspace.do(MovePivot("front-a", "lower_right", "frame", (x, y - 0.12, z - 0.08)))
    of_front = [f for f in window.workspace.study.findings_so_far if f.subject.startswith("front-a")]
    assert not any(f.code.startswith("T3") for f in of_front)  # not known for these values yet
    again(qtbot, sheet)
    assert not any(f.key == hit.key for f in window.workspace.study.findings_so_far)
    window.workspace.undo()
    again(qtbot, sheet)
    assert any(f.key == hit.key for f in window.workspace.study.findings_so_far)
    window.workspace.take(msgspec.structs.replace(window.workspace.project, name="Another"), None)
    again(qtbot, sheet)
    assert any(
        f.key == hit.key for f in window.workspace.study.findings_so_far
    )  # the very same values still rest under it
