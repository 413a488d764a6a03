"""A step is registered once: route, menus, keys, command box, looks, files dropped and where Go leads follow from it."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.theme import Theme
from stoutlink.app.main import make_app, make_window
from stoutlink.app.panels.knock_ons import KnockOns
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from stoutlink.app.steps.layout.sheet import LayoutSheet
from stoutlink.app.steps.step import Intake, Sheet, Shell, Step
from stoutlink.core.advice.finding import Finding
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.app.conftest import Answers

SEEN: list[str] = []


class WashSheet(Sheet):
    """A step of the test's own."""

    def refresh(self, theme: Theme) -> None:
        SEEN.append(f"shown {theme.name}")

    def look(self, key: str) -> None:
        SEEN.append(f"look {key}")

    def go(self, finding: Finding) -> None:
        SEEN.append(f"go {finding.subject}")

    def stop(self) -> None:
        SEEN.append("stop")

    def as_text(self) -> str:
        return "washed"


def _state(study: Study) -> tuple[str, str]:
    return ("open", "muddy") if study.project.rig.name == "Mud" else ("settled", "clean")


def _commands(shell: Shell) -> list[Command]:
    return [
        Command("copy_wash", "Copy the wash", "Edit", "", "As text.", lambda: shell.to_clipboard("washed", "The wash")),
        Command("rinse", "Rinse it", "View", "Ctrl+Alt+R", "With water.", lambda: shell.say("Rinsed")),
    ]


def _take(path: Path) -> None:
    SEEN.append(f"took {path.name}")


WASH = Step(
    "wash",
    "Wash",
    "Hose it down.",
    lambda shell: WashSheet(),
    WashSheet,
    _state,  # type: ignore[arg-type]
    (("hose", "Hose", "By hand."),),
    _commands,
    lambda shell: [Intake(".soap", lambda heading: True, _take)],
)


def test_a_step_of_ones_own_is_one_line(
    qtbot: QtBot, basalt: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    SEEN.clear()
    monkeypatch.setattr(registry, "STEPS", (*registry.STEPS, WASH))
    make_app("dark")
    window = make_window(basalt, None, "dark")
    qtbot.addWidget(window)
    window.show()
    window.refresh()
    station = window.route.findChild(type(window.route._stations["rig"]), "route_wash")
    assert station is not None
    assert station.word == "clean"
    assert station.toolTip() == "Hose it down."
    qtbot.mouseClick(station, Qt.MouseButton.LeftButton)
    assert window.step == "wash"
    assert SEEN[-1] == "shown dark"
    window.show_step("rig")
    window.actions_by_id["wash"].trigger()
    assert window.step == "wash"
    assert (
        window.actions_by_id["wash"].shortcut().toString() == ""
    )  # nine keys, nine steps: a tenth is found by its name
    assert window.actions_by_id["log"].shortcut().toString() == "Ctrl+9"
    window.actions_by_id["wash_look_hose"].trigger()
    assert "look hose" in SEEN
    window.actions_by_id["rinse"].trigger()
    assert "Rinsed" in window._said.text()
    assert window.actions_by_id["rinse"].shortcut().toString() == "Ctrl+Alt+R"
    window.box.popup()
    window.box.line.setText("rinse")
    assert any("Rinse it" in window.box.list.item(i).text() for i in range(window.box.list.count()))  # type: ignore[union-attr]
    window.knock_ons.go.emit(Finding("K101", "note", "Muddy.", "", "wash", "gs-30f/hub"))  # type: ignore[arg-type]
    assert SEEN[-1] == "go gs-30f/hub"
    assert window.workspace.end == "front"
    soap = tmp_path / "a.soap"
    soap.write_text("x")
    window.files.take(soap)
    assert SEEN[-1] == "took a.soap"
    window.workspace.do(SetChoice("rig.name", "Mud"))
    assert station.word == "muddy"
    window.workspace.session.mark_saved()
    window.close()
    assert SEEN[-1] == "stop"


def test_a_sheet_is_made_when_it_is_wanted(qtbot: QtBot, basalt: Project) -> None:
    """A start makes the sheet in view alone; the others come when a hand asks or leaves a moment, and know what is in force."""
    make_app("dark")
    window = make_window(basalt, None, "dark")
    qtbot.addWidget(window)
    assert [one.objectName() for one in window.sheets.made()] == ["sheet_rig"]
    window.workspace.set_end("front")
    window.show()
    layout = window.sheet(LayoutSheet)
    assert [one.objectName() for one in window.sheets.made()] == ["sheet_rig", "sheet_layout"]
    assert window.sheets["layout"] is layout
    window.show_step("layout")
    assert layout.views.layout_shown is basalt.layout("front")
    window.sheets.make_ahead()
    qtbot.waitUntil(lambda: len(window.sheets.made()) == len(registry.STEPS))
    assert window.stack.count() == len(registry.STEPS)
    assert window.stack.currentWidget() is layout
    for step in registry.STEPS:
        assert type(window.sheets[step.id]) is step.kind


def _said(qtbot: QtBot, basalt: Project, *, early: bool) -> dict[str, object]:
    """What every step says of the front of a project that came in after the window."""
    window = make_window(read_project(demo_file("starter.stoutlink")), None, "dark")
    qtbot.addWidget(window)
    window.show()
    if early:
        list(window.sheets.values())
    window.take(basalt, None)
    window.workspace.set_end("front")
    window.workspace.cycling.now()
    qtbot.waitUntil(lambda: window.workspace.cycling.known, timeout=60_000)
    said: dict[str, object] = {}
    for step in registry.STEPS:
        sheet = window.sheets[step.id]
        window.show_step(step.id)
        if step.id == "log":
            sheet.look("tune")
        qtbot.waitUntil(sheet.ready, timeout=60_000)
        labels = sorted((one.objectName(), one.text()) for one in sheet.findChildren(QLabel) if one.isVisible())
        said[step.id] = sheet.as_text(), labels
    window.workspace.session.mark_saved()
    window.close()
    return said


def test_a_sheet_made_late_says_what_one_made_early_says(qtbot: QtBot, basalt: Project) -> None:
    """Nothing hangs on a sheet having been there when the project came in, the axle was changed or the travel got known."""
    make_app("dark")
    early, late = (_said(qtbot, basalt, early=one) for one in (True, False))
    for step, words in early.items():
        assert late[step] == words, step


def test_what_stands_beside_comes_after_the_first_painting(qtbot: QtBot, basalt: Project) -> None:
    """Knock-ons and route are worked out once the window is up, without anybody asking."""
    make_app("dark")
    window = make_window(basalt, None, "dark")
    qtbot.addWidget(window)
    assert not window.knock_ons._shown
    window.show()
    qtbot.waitUntil(lambda: bool(window.knock_ons._shown))
    assert window.knock_ons._shown[1] == window.workspace.study.findings_so_far


def test_every_step_has_its_station_its_sheet_and_its_word(qtbot: QtBot, basalt: Project) -> None:
    make_app("dark")
    window = make_window(basalt, None, "dark")
    qtbot.addWidget(window)
    study = Study(basalt)
    assert [one.id for one in registry.STEPS] == list(window.sheets)
    for one in registry.STEPS:
        state, word = one.state(study)
        assert state in ("untouched", "work", "open", "settled")
        assert word
        assert window.sheets[one.id].objectName() == f"sheet_{one.id}"
    knock_ons = window.findChild(KnockOns)
    assert knock_ons is not None
    assert {b.text() for b in knock_ons.findChildren(QPushButton, "go")} <= {f"Go to {s.title}" for s in registry.STEPS}


def test_a_drawing_of_the_layout_leaves_the_window(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    for name, begins in (("a.pdf", b"%PDF"), ("b.dxf", b"  0\nSECTION"), ("c", b"%PDF")):
        answers.path = tmp_path / name
        answers.say = "Plan"
        window.actions_by_id["export_drawing"].trigger()
        written = tmp_path / (name if "." in name else f"{name}.pdf")
        assert written.read_bytes().startswith(begins), name
        assert "Written" in window._said.text()
