"""The log in the real window: readings typed, runs written and put back, advice taken, the hill driven, care done, archive written."""

from __future__ import annotations

import datetime
import json
import zipfile
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.log.sheet import LOOKS, LogSheet
from stoutlink.app.widgets.picture import Picture
from stoutlink.core.analysis.log.hill import HillFound
from stoutlink.core.document.log import Hill, Log, Trial
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

DAY = datetime.date(2026, 11, 14)
MOUSE = QtBot


@pytest.fixture
def log(window: MainWindow, qtbot: QtBot) -> LogSheet:
    """The demo with a four-link, its log put up."""
    return opened(window, qtbot, read_project(demo_file("basalt.stoutlink")))


def opened(window: MainWindow, qtbot: QtBot, project: Project, look: str = "as_built") -> LogSheet:
    window.workspace.today = lambda: DAY
    window.workspace.take(project, None)
    window.show()
    window.show_step("log")
    sheet = window.sheet(LogSheet)
    sheet.look(look)
    settled(qtbot, window, sheet)
    return sheet


def settled(qtbot: QtBot, window: MainWindow, sheet: LogSheet) -> None:
    qtbot.waitUntil(
        lambda: window.workspace.cycling.known and not sheet.desk.work.busy and not sheet.as_text().endswith("…"),
        timeout=60_000,
    )


def painted(picture: Picture) -> Picture:
    picture.grab()
    return picture


def click(picture: Picture, name: str) -> None:
    hit = painted(picture).named(name)
    assert hit is not None, [h.name for h in picture.hits]
    MOUSE.mouseClick(picture, Qt.MouseButton.LeftButton, pos=hit.box.center().toPoint())


def test_the_reading_that_cannot_be_right_is_named_and_set_aside(
    log: LogSheet, window: MainWindow, qtbot: QtBot
) -> None:
    look = log.built
    assert "1 cannot be right" in look.now.text()
    assert "Left lower, frame: height" in look.more.text()
    assert look.found is not None
    (wrong,) = look.found.wrong
    key = wrong.one.key.rpartition(".")[2]
    click(look.picture, f"built {key}")
    assert look.key == key
    assert window.workspace.do(SetChoice(f"log.built.readings.{key}.set_aside", "read at the wrong bolt", "x"))
    settled(qtbot, window, log)
    assert look.found is not None
    assert not look.found.wrong
    assert painted(look.picture).named(f"aside {key}") is not None
    window.workspace.undo()
    settled(qtbot, window, log)
    assert "1 cannot be right" in look.now.text()


def test_a_reading_is_typed_from_what_is_proposed(log: LogSheet, window: MainWindow, qtbot: QtBot) -> None:
    look = log.built
    first = look.following[0]
    click(look.picture, f"next {first.one.of} {first.one.a} {first.one.b}".strip())
    assert look.kind == first.one.of
    before = len(window.workspace.project.log.built.readings)
    qtbot.keyClicks(look.line, f"{first.one.value / 0.0254:.3f}")
    qtbot.keyClick(look.line, Qt.Key.Key_Return)
    taken = window.workspace.project.log.built.readings[-1]
    assert len(window.workspace.project.log.built.readings) == before + 1
    assert (taken.of, taken.a, taken.b, taken.when) == (first.one.of, first.one.a, first.one.b, "2026-11-14")
    assert taken.value == pytest.approx(first.one.value, abs=1e-4)
    settled(qtbot, window, log)
    assert look.found is not None
    assert taken.id in {j.one.key.rpartition(".")[2] for j in look.found.judged}
    qtbot.keyClicks(look.line, "a foot or so")
    qtbot.keyClick(look.line, Qt.Key.Key_Return)
    assert look.line.text() == "a foot or so"  # stays, marked
    assert len(window.workspace.project.log.built.readings) == before + 1


def test_the_axle_as_built_becomes_a_layout(log: LogSheet, window: MainWindow) -> None:
    log.built.take.click()
    project = window.workspace.project
    assert project.linkage.rear_compare == "rear-a-built"
    assert window.workspace.study.compared("rear") is not None


def test_from_nothing_every_look_says_what_to_do(window: MainWindow, qtbot: QtBot) -> None:
    project = msgspec.structs.replace(read_project(demo_file("basalt.stoutlink")), log=Log())
    sheet = opened(window, qtbot, project)
    said = {}
    for key, *_ in LOOKS:
        sheet.look(key)
        settled(qtbot, window, sheet)
        said[key] = sheet.as_text()
    assert "Nothing read" in said["as_built"]
    assert "No run yet" in said["runs"]
    assert "anti-squat" in said["tune"]
    assert "Test hill" in said["hill"]
    assert "Nothing" in said["care"]
    starter = opened(window, qtbot, read_project(demo_file("starter.stoutlink")))
    for key, *_ in LOOKS:
        starter.look(key)
        settled(qtbot, window, starter)
        assert starter.as_text()


def test_a_run_is_written_felt_called_and_put_back(log: LogSheet, window: MainWindow, qtbot: QtBot) -> None:
    log.look("runs")
    look = log.runs
    look.new.click()
    run = window.workspace.project.log.runs[-1]
    assert run.when == "2026-11-14"
    assert run.number("rear-drive") is not None
    for much in (1, 2, 3):
        click(look.picture, "felt hops")
        assert window.workspace.project.log.runs[-1].felt[0].much == much
    click(look.picture, "felt hops")
    assert window.workspace.project.log.runs[-1].felt == ()
    look.good.click()
    assert window.workspace.project.log.runs[-1].verdict == "good"
    click(look.picture, "run run-2")
    assert "shorter" in look.more.text() or "longer" in look.more.text()
    words = look.more.text()
    before = window.workspace.project.layout("rear")
    look.back.click()
    after = window.workspace.project.layout("rear")
    assert before is not None
    assert after is not None
    assert {b.id: b.hole for b in after.brackets}["lower-frame"] == 1
    assert "turns" in words
    assert look.more.text() == "It is set as in this run."
    window.workspace.undo()
    assert window.workspace.project.layout("rear") is before


def test_two_runs_stand_beside_each_other(log: LogSheet) -> None:
    log.look("runs")
    look = log.runs
    click(look.picture, "run run-1")
    look.beside.click()
    click(look.picture, "run run-3")
    assert look.second is not None
    assert look.second.id == "run-3"
    assert look.picked is not None
    assert look.picked.id == "run-1"


def test_a_band_of_ones_own_is_offered_and_taken(log: LogSheet, window: MainWindow) -> None:
    log.look("runs")
    click(log.runs.picture, "band rear-drive")
    target = next(t for t in window.workspace.project.linkage.targets if t.id == "rear-drive")
    assert target.low < target.high
    gauge = next(g for g in window.workspace.study.gauges("rear") if g.id == "drive")
    assert gauge.own


def test_advice_is_bolted_and_written_down_as_a_try(log: LogSheet, window: MainWindow, qtbot: QtBot) -> None:
    log.look("tune")
    look = log.tune
    look.show_group("hops")
    settled(qtbot, window, log)
    assert painted(look.picture).named("school stiffer axle") is not None  # both schools
    assert look.found is not None
    second = look.found.ways[1]
    click(look.picture, "way 2")
    assert look.picked is second
    promised = [after for _, _, after in second.moved]
    runs = len(window.workspace.project.log.runs)
    look.try_.click()
    run = window.workspace.project.log.runs[-1]
    assert len(window.workspace.project.log.runs) == runs + 1
    assert isinstance(run.trial, Trial)
    assert run.trial.felt == "hops"
    drive = run.number("rear-drive")
    assert drive is not None
    assert drive.value == pytest.approx(promised[0], abs=0.01)
    click_school = look.take_school
    click_school("stiffer axle")
    settled(qtbot, window, log)
    assert look.school == "stiffer axle"
    look.show_group("rubs")
    assert "No hole" in look.as_text()


def test_the_hill_is_driven_beside_a_run_and_scrubbed(log: LogSheet, window: MainWindow, qtbot: QtBot) -> None:
    log.look("hill")
    settled(qtbot, window, log)
    look = log.hill
    assert isinstance(look.mine, HillFound)
    assert isinstance(look.other, HillFound)
    assert f"{look.mine.needs:.2f}" in look.now.text()
    first = painted(look.picture).grab().toImage()
    look.slider.setValue(2000)
    assert painted(look.picture).grab().toImage() != first
    for kind in ("steps", "grade", "side", "ditch"):
        assert window.workspace.do(SetChoice("log.hill.kind", kind, "profile"))
        settled(qtbot, window, log)
        painted(look.picture)
        assert isinstance(look.mine, HillFound)
    assert window.workspace.do(SetChoice("log.hill.kind", "own", "profile"))
    settled(qtbot, window, log)
    assert "two points" in look.now.text()
    look.add.click()
    look.add.click()
    settled(qtbot, window, log)
    assert isinstance(look.mine, HillFound)
    look.gone.click()
    assert len(window.workspace.project.log.hill.points) == 1


def test_a_hill_without_springs_says_what_lacks(window: MainWindow, qtbot: QtBot) -> None:
    sheet = opened(window, qtbot, read_project(demo_file("tamarack.stoutlink")), "hill")
    assert "springs are not known" in sheet.hill.now.text()


def test_care_is_done_and_a_broken_part_takes_its_rung(log: LogSheet, window: MainWindow) -> None:
    log.look("care")
    look = log.care
    assert look.now.text().startswith("1 due")
    click(look.picture, "care links")
    look.done.click()
    assert window.workspace.project.log.care[0].done[-1].when == "2026-11-14"
    assert look.now.text().startswith("Nothing due")
    look.show_group("broken")
    look.add.click()
    part, _, margin = window.workspace.study.rungs("rear")[0]
    click(look.picture, f"rung {part}")
    broken = window.workspace.project.log.broken[-1]
    assert (broken.part, broken.margin) == (part, margin)
    assert f"{margin:.2f}" in look.as_text()
    look.gone.click()
    assert broken.id not in {b.id for b in window.workspace.project.log.broken}


def test_the_usual_care_is_one_step(window: MainWindow, qtbot: QtBot) -> None:
    project = msgspec.structs.replace(read_project(demo_file("basalt.stoutlink")), log=Log())
    sheet = opened(window, qtbot, project, "care")
    sheet.care.usual.click()
    assert len(window.workspace.project.log.care) == 5
    window.workspace.undo()
    assert not window.workspace.project.log.care


def test_archive_and_exports_are_written(
    log: LogSheet, window: MainWindow, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    out: list[Path] = []

    def name(parent: object, title: str, start: str, pattern: str, saving: bool) -> Path:
        out.append(tmp_path / Path(start).name)
        return out[-1]

    monkeypatch.setattr(dialogs, "choose_file", name)
    log.look("hand_over")
    assert "not tested" in log.as_text().lower()
    log.hand.pack.click()
    qtbot.waitUntil(lambda: bool(out) and out[-1].exists(), timeout=60_000)
    assert zipfile.ZipFile(out[-1]).testzip() is None
    log.hand.print_.click()
    qtbot.waitUntil(lambda: len(out) > 1 and out[-1].exists(), timeout=60_000)
    assert out[-1].read_bytes().startswith(b"%PDF")
    for look, suffix in (("as_built", ".json"), ("runs", ".csv"), ("tune", ".json"), ("hill", ".json")):
        log.look(look)
        settled(qtbot, window, log)
        count = len(out)
        window.actions_by_id["export_log"].trigger()
        assert len(out) == count + 1
        assert out[-1].suffix == suffix
        if suffix == ".json":
            assert json.loads(out[-1].read_text())


def test_go_leads_to_the_reading_and_the_care(log: LogSheet, window: MainWindow) -> None:
    log.look("runs")
    finding = next(f for f in window.workspace.study.findings_so_far if f.code == "V101")
    window.go_to_finding(finding)
    assert log.shown == "as_built"
    assert log.built.key
    project = with_parts(
        window.workspace.project,
        first_drive=msgspec.structs.replace(window.workspace.project.bench.first_drive, driven_m=9e5),
    )
    window.workspace.take(project, None)
    due = next(f for f in window.workspace.study.findings_so_far if f.code == "V104")
    window.go_to_finding(due)
    assert log.shown == "care"


def test_a_hill_of_another_size_is_another_answer(log: LogSheet, window: MainWindow, qtbot: QtBot) -> None:
    log.look("hill")
    settled(qtbot, window, log)
    low = log.hill.mine
    project = window.workspace.project
    higher = msgspec.structs.replace(
        project, log=msgspec.structs.replace(project.log, hill=Hill(kind="ledge", high_m=0.38))
    )
    window.workspace.take(higher, None)
    settled(qtbot, window, log)
    assert isinstance(low, HillFound)
    assert isinstance(log.hill.mine, HillFound)
    assert log.hill.mine.needs > low.needs


def test_the_run_beside_is_driven_with_its_own_lockers(log: LogSheet, window: MainWindow, qtbot: QtBot) -> None:
    """One wheel of each axle comes to the ledge later: a locked front uses its grip otherwise than an open one."""
    project = window.workspace.project
    hill = Hill(kind="ditch", high_m=0.5, slope_rad=0.6, skew_m=0.8, against="run-1")
    needs = {}
    for locked in (False, True):
        runs = (msgspec.structs.replace(project.log.runs[0], front_locked=locked), *project.log.runs[1:])
        changed = msgspec.structs.replace(project, log=msgspec.structs.replace(project.log, hill=hill, runs=runs))
        sheet = opened(window, qtbot, changed, "hill")
        assert isinstance(sheet.hill.mine, HillFound)
        assert isinstance(sheet.hill.other, HillFound)
        needs[locked] = (sheet.hill.mine.needs, sheet.hill.other.run.rig.front.locked)
    assert needs[False] == (needs[True][0], False)
    assert needs[True][1]
