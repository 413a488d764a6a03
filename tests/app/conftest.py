"""The real window on the offscreen platform."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.main import make_app, make_window
from stoutlink.app.shell.window import MainWindow
from stoutlink.core.document.project import Project


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


@pytest.fixture
def window(qtbot: QtBot, basalt: Project, answers: Answers) -> Iterator[MainWindow]:
    """A shown and active window on the demo."""
    make_app("dark")
    made = make_window(basalt, None, "dark")
    made.resize(1280, 800)
    with qtbot.waitActive(made):
        made.show()
        made.activateWindow()
        made.raise_()
    list(made.sheets.values())  # every widget there is, for tests that look at all of them
    made.refresh()
    yield made
    answers.say = "Throw away"
    made.close()
    made.deleteLater()
    QApplication.sendPostedEvents(made, QEvent.Type.DeferredDelete)
