"""The real window on the offscreen platform."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.main import make_app, make_window
from stoutlink.app.shell.window import MainWindow
from stoutlink.core.document.project import Project
from stoutlink.core.study.study import Study


class Answers:
    """Stands in for every modal question: what to answer, and what was asked."""

    def __init__(self) -> None:
        self.say = "Throw away"
        self.text: str | None = "because"
        self.path: object = None
        self.asked: list[str] = []


@pytest.fixture
def answers(monkeypatch: pytest.MonkeyPatch) -> Answers:
    """Replace the three dialog functions."""
    out = Answers()

    def ask(_: object, title: str, text: str, choices: tuple[str, ...]) -> str:
        out.asked.append(f"{title}: {text}")
        return out.say if out.say in choices else choices[-1]

    monkeypatch.setattr(dialogs, "ask", ask)
    monkeypatch.setattr(dialogs, "ask_text", lambda *_: out.text)
    monkeypatch.setattr(dialogs, "choose_file", lambda *_: out.path)
    monkeypatch.setattr(dialogs, "preview", lambda *_: None)
    return out


WORKED_OUT: dict[int, Study] = {}


def _worked_out(project: Project) -> Study:
    """All of a project worked out once for many tests, travel included."""
    if id(project) not in WORKED_OUT:
        WORKED_OUT[id(project)] = Study(project)
        assert WORKED_OUT[id(project)].findings
    return WORKED_OUT[id(project)]


def with_what_is_known(project: Project) -> Study:
    """A study that knows what is known of the project; what it learns on top stays with it."""
    study = Study(project)
    for name, kept in _worked_out(project).answers._kept.items():
        study.answers.of(name, kept._most)._kept = list(kept._kept)
    return study


def _shown(qtbot: QtBot, made: MainWindow, answers: Answers) -> Iterator[MainWindow]:
    made.resize(1280, 800)
    with qtbot.waitActive(made):
        made.show()
        made.activateWindow()
        made.raise_()
    made.refresh()
    yield made
    answers.say = "Throw away"
    made.close()
    made.deleteLater()
    QApplication.sendPostedEvents(made, QEvent.Type.DeferredDelete)


@pytest.fixture
def window(qtbot: QtBot, basalt: Project, answers: Answers) -> Iterator[MainWindow]:
    """A shown and active window on the demo, of which everything is known from the start; sheets come as they are wanted."""
    make_app("dark")
    workspace = Workspace(basalt)
    workspace._study = with_what_is_known(basalt)
    yield from _shown(qtbot, MainWindow(workspace, "dark"), answers)


@pytest.fixture
def whole_window(qtbot: QtBot, basalt: Project, answers: Answers) -> Iterator[MainWindow]:
    """The same with nothing known yet, and every sheet there: for tests of what waits, and of every widget there is."""
    make_app("dark")
    made = make_window(basalt, None, "dark")
    list(made.sheets.values())
    yield from _shown(qtbot, made, answers)
