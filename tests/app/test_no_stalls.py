"""The window is never blocked: whatever is done, its thread works on it for a moment only.

What is measured is the thread's own time, so that a busy machine does not fail it; the limit is generous, and what goes
over it is held against how fast the machine is just then. Everything there is to do is tried: every look of every step,
every command, every kind of edit under every look, and back.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from functools import partial

import pytest
from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.core.document.project import with_parts
from stoutlink.core.document.survey import Reading, Survey, SurveyPoint
from stoutlink.core.editing.edits import MovePivot
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.app.conftest import Answers
from tests.app.test_window import drag
from tests.editing.test_every_edit import one_of_each


@pytest.fixture
def window(whole_window: MainWindow) -> MainWindow:
    """Nothing is known yet, and every sheet is there."""
    return whole_window


LIMIT_S = 0.6
"""Twice what is aimed at."""
LEAVES = ("quit",)
USUAL_S = 0.06
"""What :func:`pace` takes on the machine the limit was set on."""


def pace() -> float:
    """How many times slower this machine does a fixed piece of work at this moment; 1 for a quick one. Rented machines
    are slowed down to a fraction for minutes, in the thread's own time too.
    """
    began, total = time.thread_time(), 0
    for i in range(10**6):
        total += i
    return max(1.0, (time.thread_time() - began) / USUAL_S)


class Watch:
    """Measures what the window's thread does, until it has nothing left to do."""

    def __init__(self) -> None:
        self.worst: list[tuple[float, str]] = []

    def do(self, name: str, act: Callable[[], object]) -> None:
        began = time.thread_time()
        act()
        QApplication.processEvents()
        took = time.thread_time() - began
        self.worst.append((took if took <= LIMIT_S else took / pace(), name))

    @property
    def long(self) -> list[str]:
        """What took too long every time it was done."""
        least: dict[str, float] = {}
        for took, name in self.worst:
            least[name] = min(took, least.get(name, took))
        return [f"{took * 1000:.0f} ms: {name}" for name, took in least.items() if took > LIMIT_S]

    def check(self) -> None:
        assert not self.long, self.long


@pytest.fixture
def watch() -> Iterator[Watch]:
    out = Watch()
    yield out
    out.check()


@pytest.mark.parametrize("name", ["basalt", "tamarack"])
def test_looks_and_commands(qtbot: QtBot, window: MainWindow, watch: Watch, answers: Answers, name: str) -> None:
    answers.say, answers.text = "no such answer", None
    watch.do("take the project", lambda: window.take(read_project(demo_file(f"{name}.stoutlink")), None))
    for end in ("front", "rear"):
        watch.do(f"{end} axle", partial(window.workspace.set_end, end))
        for step in registry.STEPS:
            watch.do(step.id, partial(window.show_step, step.id))
            for key, *_ in step.looks:
                watch.do(f"{step.id} {key}", partial(window.sheets[step.id].look, key))
    for one in window.commands:
        if one.id not in LEAVES:
            for _ in range(2):  # again where it took long, as below
                watch.do(one.id, window.actions_by_id[one.id].trigger)
                if not watch.long:
                    break
    assert len(watch.worst) > 100


@pytest.mark.parametrize("step", [one.id for one in registry.STEPS])
def test_every_kind_of_edit_under_every_look(qtbot: QtBot, window: MainWindow, watch: Watch, step: str) -> None:
    edits = one_of_each(window.workspace.project)
    for n, (key, *_) in enumerate(registry.BY_ID[step].looks or (("",),)):
        window.show_step(step)
        if key:
            window.sheets[step].look(key)
        QApplication.processEvents()
        for edit in edits[n % 18 :: 18] if key else edits[::3]:
            for _ in range(2):  # again where it took long: a machine that is slowed down for a moment does so once
                watch.do(f"{key}: {type(edit).__name__}, {edit.label}", partial(window.workspace.do, edit))
                watch.do(f"{key}: undo {type(edit).__name__}", window.workspace.undo)
                if not watch.long:
                    break


def test_a_drag_and_a_scrub(qtbot: QtBot, window: MainWindow, watch: Watch) -> None:
    window.show_step("layout")
    for way in (QPointF(22, -9), QPointF(-160, 120), QPointF(300, -200)):
        watch.do(f"drag {way}", partial(drag, qtbot, window, ("upper_left", "frame"), "side", way))
    wild = MovePivot("rear-a", "lower_left", "axle", (0.9, 0.31, 0.64))  # a link of no length to speak of
    for _ in range(2):  # twice, as above
        watch.do("a layout that binds", lambda: window.workspace.do(wild))
        window.undo()
    qtbot.waitUntil(lambda: window.workspace.cycling.known, timeout=60000)
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    for value in range(0, sheet.heave.maximum() + 1, 3):
        watch.do("scrub", partial(sheet.heave.setValue, value))


def test_as_many_stations_as_a_survey_takes(qtbot: QtBot, window: MainWindow, watch: Watch) -> None:
    """Half a millimetre apart, as out of a scan; and each read twice, twenty apart."""
    for apart in (0.0, 0.02):

        def read(value: float, apart: float = apart) -> tuple[Reading, ...]:
            return tuple(Reading(value_m=round(v, 5)) for v in {value: None, value + apart: None})

        points = tuple(
            SurveyPoint(id=f"q{i}", station=read(0.0005 * i), height=read(0.6 + 1e-5 * i), side=read(0.84))
            for i in range(5000)
        )
        project = with_parts(window.workspace.project, surveys=(Survey(id="s", name="s", points=points),))
        window.take(project, None)
        qtbot.waitUntil(lambda: window.workspace.cycling.known, timeout=60000)
        window.show_step("rig")
        QApplication.processEvents()
        for _ in range(2):
            watch.do(f"to the tape, {apart} apart", partial(window.show_step, "tape"))
            watch.do(f"elsewhere, {apart} apart", partial(window.show_step, "donors"))
    assert len([f for f in window.workspace.study.open if f.code == "S101"]) == 15000
    assert max(card.causes for key in window.knock_ons._cards for card in key[:1]) > 4000
