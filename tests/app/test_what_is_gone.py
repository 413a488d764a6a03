"""What the hand was on is undone, taken out or of another layout: nothing falls over, nothing is written to the wrong place, nothing
of before is shown or done later.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
import pytest
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.app.steps.donors.match_look import MatchLook
from stoutlink.app.steps.donors.sheet import DonorSheet
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.app.widgets.picture import Picture
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.core.advice.finding import Finding
from stoutlink.core.document.paths import parts_of
from stoutlink.core.document.project import PARTS, Project, part_of, with_parts
from stoutlink.core.document.springing import CarrySpring
from stoutlink.core.editing.edits import PutInList, SetChoice
from stoutlink.core.editing.layout_edits import CopyLayout, UseLayout
from stoutlink.core.errors import ValueOutOfRange
from tests.app.conftest import Answers

WAIT_MS = 60_000


def rear(window: MainWindow) -> LayoutSheet:
    """The layout step at the rear axle."""
    window.workspace.set_end("rear")
    window.show_step("layout")
    return window.sheet(LayoutSheet)


def test_a_change_of_what_is_gone_is_one_sentence(window: MainWindow) -> None:
    before = window.workspace.project
    assert not window.workspace.do(SetChoice("layouts.gone.name", "x"))
    assert window.workspace.project is before
    assert "what this is about is gone. Nothing has changed." in window._said.toolTip()
    with pytest.raises(ValueOutOfRange) as why:
        SetChoice("layouts.gone.name", "x").apply(before)
    assert why.value.code == "D187"


def test_a_pivot_that_is_undone_away_is_not_picked_any_more(window: MainWindow) -> None:
    sheet, w = rear(window), window.workspace
    layout = w.project.layout("rear")
    assert layout is not None
    link = msgspec.structs.replace(layout.links[0], id="extra", name="Extra", frame_pivot_m=(0.9, 0.3, 0.7))
    w.do(PutInList(f"layouts.{layout.id}.links", link, "Add a bar"))
    sheet.look("fit")
    sheet.views.select(("extra", "frame"))
    assert sheet.views.selected == ("extra", "frame")
    w.undo()
    assert sheet.views.selected is None
    for key in sheet.looks:
        sheet.look(key)
        window.grab()
    sheet.views.select(("extra", "frame"))
    assert sheet.views.selected is None


def test_the_same_pivot_of_another_layout_has_fields_of_its_own(window: MainWindow, qtbot: QtBot) -> None:
    sheet, w = rear(window), window.workspace
    layout = w.project.layout("rear")
    assert layout is not None
    w.do(CopyLayout(layout.id, "rear-z", "Rear, other"))
    w.do(UseLayout("rear-z", None))
    sheet.views.select(("upper_left", "frame"))
    w.do(UseLayout(layout.id, None))
    places = [f.path for f in sheet.views.findChildren(QuantityField) if f.isVisible()]
    assert len(places) == 3
    assert all(p.startswith(f"layouts.{layout.id}.links.upper_left.frame_pivot_m.") for p in places)


def test_a_spring_that_stands_nowhere_yet_can_be_picked(window: MainWindow) -> None:
    sheet, w = rear(window), window.workspace
    layout = w.project.layout("rear")
    assert layout is not None
    bare = msgspec.structs.replace(layout, spring=CarrySpring(kind="coil", rate_n_per_m=30_000.0))
    w.take(with_parts(w.project, layouts=tuple(bare if x.id == bare.id else x for x in w.project.linkage.layouts)), None)  # fmt: skip
    window.project_taken()
    for pivot in (("@spring", "frame"), ("@spring", "axle"), ("upper_left", "frame")):
        sheet.views.select(pivot)
        window.grab()


def test_the_cut_list_says_when_the_travel_is_known(window: MainWindow, qtbot: QtBot) -> None:
    w = window.workspace
    qtbot.waitUntil(lambda: w.cycling.known, timeout=WAIT_MS)
    window.show_step("cut")
    sheet = window.sheet(CutSheet)
    assert "not cycled yet" not in sheet._title.text()
    layout = w.project.layout("rear")
    assert layout is not None
    w.do(SetChoice(f"layouts.{layout.id}.bump_m", 0.11))
    assert "not cycled yet" in sheet._title.text()
    w.cycling.now()
    qtbot.waitUntil(lambda: w.cycling.known, timeout=WAIT_MS)
    assert "not cycled yet" not in sheet._title.text()


def test_a_pose_that_was_asked_for_is_not_taken_up_later(window: MainWindow, qtbot: QtBot) -> None:
    """*Go* to a pair that does not touch any more, with the travel known: the pose stays, now and after the next cycle."""
    w = window.workspace
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=WAIT_MS)
    sheet.go(Finding("T301", "danger", "x", "y", "travel", "nobody|nothing"))
    assert sheet._wanted == ""
    w.do(SetChoice("layouts.rear-a.bump_m", 0.11))
    assert sheet.travel is None
    sheet.go(Finding("T301", "danger", "x", "y", "travel", "nobody|nothing"))
    assert sheet._wanted == "nobody|nothing"
    window.show_step("rig")
    assert sheet._wanted == ""


def test_a_cell_of_an_axle_that_is_gone_paints(window: MainWindow) -> None:
    window.show_step("donors")
    sheet = window.sheet(DonorSheet)
    sheet.look("match")
    look = sheet.looks["match"]
    assert isinstance(look, MatchLook)
    assert look.found is not None
    cell = next(c for c in look.found.cells if c.part == "rear axle")
    window.workspace.do(SetChoice("rear_donor", None))
    look._look(cell)
    window.grab()
    assert window.workspace.project.swap.rear_donor is None


def test_one_fault_in_painting_does_not_stop_the_next(window: MainWindow, qtbot: QtBot, qtlog: Any) -> None:
    """A painter left open keeps the whole window from being painted again, for as long as anybody holds the fault."""
    picture = Picture("odd", "Odd", window)
    picture.setGeometry(0, 0, 50, 50)
    painted: list[int] = []

    def broken(*_: object) -> None:
        raise RuntimeError("inner detail")

    with qtbot.captureExceptions() as raised:
        picture.show_with(window.theme, broken)
        picture.show()
        picture.repaint()
    assert raised  # held here, with all that was alive in it
    picture.show_with(window.theme, lambda p, t, me: painted.append(me.width()))
    picture.repaint()
    assert painted[-1] == 50
    assert [r.message for r in qtlog.records if "painter" in r.message.lower()] == []
    picture.deleteLater()


def test_a_file_gone_from_disk_is_told_and_both_ways_are_offered(
    window: MainWindow, answers: Answers, qtbot: QtBot, tmp_path: Path
) -> None:
    path = tmp_path / "rig.stoutlink"
    window.workspace.save(path)
    window.switch_units()
    path.unlink()
    answers.say = "Cancel"
    assert not window.files.save()
    assert "Gone from disk" in answers.asked[-1]
    assert "What is in this window is whole" in answers.asked[-1]
    assert not path.exists()
    answers.say, answers.path = "Save mine under another name", path.with_name("other.stoutlink")
    assert window.files.save()
    assert path.with_name("other.stoutlink").exists()
    path.with_name("other.stoutlink").unlink()
    answers.say = "Save it there again"
    assert window.files.save()
    assert path.with_name("other.stoutlink").exists()


def places_of(value: Any, path: str) -> Iterator[str]:
    """Every place below a part of a project by its path: lists, what is in them and what is gone from them, and fields; one of a kind."""
    yield path
    if isinstance(value, msgspec.Struct):
        for name, inner in parts_of(value):
            yield from places_of(inner, f"{path}.{name}")
    elif isinstance(value, tuple) and value and isinstance(value[0], msgspec.Struct):
        yield f"{path}.gone"
        for one in value[:2]:
            yield from places_of(one, f"{path}.{getattr(one, 'id', 0)}")


def test_undoing_leads_to_every_place_there_is(window: MainWindow, basalt: Project) -> None:
    """What an undo changed may be a list, a thing in one or one that is gone: the way there never ends in a fault."""
    steps = {head: step.id for step in registry.STEPS for head in step.owns}
    shapes: set[str] = set()
    tried = 0
    for head in (one for one in PARTS if one in steps):
        window.show_step(steps[head])
        for path in places_of(part_of(basalt, head), head):
            shape = re.sub(r"\d+", "#", path)
            if shape not in shapes:
                shapes.add(shape)
                window._show_change(path)
                tried += 1
    assert tried > 400
