"""Two rigs beside each other: before the swap and with it by hand, another file, the window and the command line."""

from __future__ import annotations

import json
import math
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.rig.beside_board import BEFORE, BesideBoard
from stoutlink.app.steps.rig.sheet import RigSheet
from stoutlink.cli.main import main
from stoutlink.core.document.project import Project
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.study.beside import Held, before_swap, beside, headlines
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.app.conftest import Answers


def _by_id(project: Project) -> dict[str, Held]:
    return {h.id: h for h in headlines(Study(project))}


def test_before_the_swap_by_hand(basalt: Project) -> None:
    old, new = _by_id(before_swap(basalt)), _by_id(basalt)
    rig, fit = basalt.rig, basalt.rig.fittings
    train = rig.drivetrain
    assert fit.old_ratio is not None
    assert fit.old_rolling_radius_m is not None
    assert old["rear_ratio"].value == fit.old_ratio
    turns = rig.road_speed_m_per_s / (2 * math.pi * fit.old_rolling_radius_m) * 60
    assert old["rear_rpm"].value == pytest.approx(turns * train.top_ratio * train.transfer_high_ratio * fit.old_ratio)
    first = train.first_ratio * train.transfer_low_ratio
    assert old["rear_crawl"].value == pytest.approx(first * fit.old_ratio)
    assert old["speedometer"].value == 1.0
    donor = basalt.donor("rear")
    assert donor is not None
    assert donor.pair is not None
    pair = basalt.swap.rear_plan.gears_for(donor) or donor.pair
    assert new["rear_ratio"].value == pytest.approx(pair.ratio * donor.hub_ratio)
    # the old axles go, the chosen ones come: weight changes by just what is known of both
    gained = Study(basalt).true.swapped
    assert new["mass"].value == pytest.approx(
        (old["mass"].value or 0.0) + (gained if rig.weight.mass_from != "stated" else 0.0)
    )
    assert "rear_drive" not in old  # nothing was laid out before
    assert new["rear_drive"].form == next(g.text for g in Study(basalt).axles["rear"].gauges if g.id == "drive")
    assert old["rear_under"].value is None  # of the old housing nothing is known, and nothing is guessed


def test_rows_tell_the_difference_and_leave_out_what_neither_knows() -> None:
    one = (
        Held("a", "A", "length", 1.0),
        Held("b", "B", "mass", None),
        Held("c", "C", "angle", 0.1),
        Held("d", "D", "ratio", 4.0),
    )
    two = (
        Held("a", "A", "length", 0.9),
        Held("b", "B", "mass", None),
        Held("c", "C", "angle", 0.1),
        Held("e", "E", "ratio", 5.0),
    )
    rows = {row[0]: row[1:] for row in beside(one, two, "mm")}
    assert rows["A"] == ("1000 mm", "900 mm", "−100 mm")
    assert "B" not in rows
    assert rows["C"][2] == "same"
    near = beside((Held("a", "A", "length", 1.0),), (Held("a", "A", "length", 0.9997),), "in")
    assert near[0][3] == "≈ 0"  # less than is shown: neither more nor less
    assert rows["D"][1:] == ("–", "")
    assert rows["E"][0] == "–"


def test_an_empty_rig_says_what_is_known_of_it() -> None:
    project = read_project(demo_file("starter.stoutlink"))
    found = _by_id(project)
    assert found["wheelbase"].value is None
    assert "tip_left" not in found
    guessed = {"front_unsprung", "rear_unsprung"}  # usual axles, shown as estimates
    assert {h.id for h in found.values() if h.value is not None} <= guessed


def test_the_command_line(basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    mine, other = tmp_path / "mine.stoutlink", tmp_path / "other.stoutlink"
    write_project(basalt, mine)
    write_project(read_project(demo_file("tamarack.stoutlink")), other)
    assert main(["compare", str(mine)]) == 0
    rows = [line.split("\t") for line in capsys.readouterr().out.splitlines()]
    assert rows[0] == ["", "before the swap", "with it", "difference"]
    ratio = next(row for row in rows if row[0] == "Rear axle ratio")
    assert ratio[1].startswith(f"{basalt.rig.fittings.old_ratio:.2f}")
    assert ratio[3].startswith("+")
    assert main(["compare", str(mine), str(other), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert data["names"] == ["Basalt rear swap", "Tamarack front swap"]
    assert data["first"]["wheelbase"] == basalt.rig.wheelbase_m
    assert data["second"]["wheelbase"] == read_project(other).rig.wheelbase_m


def test_in_the_window(qtbot: QtBot, window: MainWindow, answers: Answers) -> None:
    window.show_step("rig")
    sheet = window.sheet(RigSheet)
    sheet.look("beside")
    board = sheet.boards["beside"]
    assert isinstance(board, BesideBoard)
    qtbot.waitUntil(lambda: bool(board.rows()), timeout=20_000)
    assert board.heads == (BEFORE, "With it")
    project = window.workspace.project
    assert board.rows() == beside(headlines(Study(before_swap(project))), headlines(Study(project)), "in")
    answers.path = demo_file("tamarack.stoutlink")
    qtbot.mouseClick(board.open, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(board.rows()), timeout=20_000)
    assert board.heads == ("Basalt rear swap", "Tamarack front swap")
    assert "Wheelbase\t" in sheet.as_text()
