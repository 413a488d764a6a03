"""The papers ship with the program and are read from Help; About says what ships and under which licences."""

from __future__ import annotations

import re
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt, QUrl
from pytestqt.qtbot import QtBot

import stoutlink
from stoutlink import __version__
from stoutlink.app.shell.window import MainWindow
from stoutlink.core.codes import codes
from stoutlink.core.papers import PAPERS, font_licences, paper
from tests.app.conftest import Answers

SOURCE = Path(stoutlink.__file__).parent


@pytest.mark.parametrize("name", PAPERS)
def test_each_is_read_from_help_and_found_by_its_title(window: MainWindow, name: str) -> None:
    window.actions_by_id[f"read_{name}"].trigger()
    assert window.reading.isVisible()
    assert window.reading.windowTitle() == PAPERS[name]
    heading = paper(name).splitlines()[0].removeprefix("# ")
    assert window.reading.text.toPlainText().startswith(heading)
    assert any(c.name == f"Read: {PAPERS[name]}" and c.menu == "Help" for c in window.commands)
    window.reading.close()


def test_words_are_found_in_it_and_links_are_followed(qtbot: QtBot, window: MainWindow) -> None:
    window.read_paper("findings")
    reading = window.reading
    qtbot.keyClicks(reading.find_line, "R120")
    qtbot.keyClick(reading.find_line, Qt.Key.Key_Return)
    assert reading.isVisible()
    assert reading.text.textCursor().selectedText() == "R120"
    assert "R120" in codes()
    reading.find_line.setText("no such words")
    assert not reading.find_next()
    reading._follow(QUrl("project-file.md"))
    assert reading.name == "project-file"
    reading._follow(QUrl("https://example.org/elsewhere"))  # nothing is fetched
    assert reading.name == "project-file"


def test_no_sentence_names_a_file_that_does_not_ship() -> None:
    for path in SOURCE.rglob("*.py"):
        for name in re.findall(r"docs/([a-z-]+)\.md", path.read_text(encoding="utf-8")):
            assert name in PAPERS, (path, name)


def test_about_names_version_licence_and_fonts(window: MainWindow, answers: Answers) -> None:
    window.about()
    said = answers.asked[-1]
    assert __version__ in said
    assert "MIT" in said
    for font, licence in font_licences().items():
        assert f"{font}: {licence}" in said
    assert font_licences()["Inter"].startswith("OFL-1.1")  # the SIL Open Font License


def test_the_version_is_told_without_a_window() -> None:
    done = subprocess.run(
        [sys.executable, "-m", "stoutlink.app.main", "--version"], capture_output=True, text=True, check=True
    )
    assert done.stdout == f"stout-link-app {__version__}\n"
