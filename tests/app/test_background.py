"""Work beside the window: the window never waits for it, only the last answer is shown, the collector is held while
any of it runs.
"""

from __future__ import annotations

import gc
import threading
import time
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.background import AHEAD, ASKED, WORKERS, Background, Progress
from stoutlink.app.main import _explain, make_app
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.bench.sheet import BenchSheet
from stoutlink.app.widgets import photos
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.errors import FileError
from stoutlink.core.storage.photos import add_photo


@pytest.fixture
def window(whole_window: MainWindow) -> MainWindow:
    """Nothing is known yet, and every sheet is there."""
    return whole_window


def test_a_new_piece_does_not_wait_for_the_one_before(qtbot: QtBot) -> None:
    make_app("dark")
    parent = QObject()
    work: Background[str] = Background(parent)
    gate = threading.Event()
    noticed: list[bool] = []
    got: list[str] = []

    begun = threading.Event()

    def slow(tell: Progress) -> str:
        begun.set()
        gate.wait(20.0)
        noticed.append(tell(0.5))
        return "first"

    work.start(slow, got.append, lambda part: None)
    assert begun.wait(20.0)
    work.start(lambda tell: "second", got.append, lambda part: None)  # returns although the first one is stuck
    work.start(lambda tell: "third", got.append, lambda part: None)
    assert got == []
    assert not gate.is_set()
    gate.set()
    qtbot.waitUntil(lambda: bool(got), timeout=10_000)
    assert got == ["third"]
    assert noticed == [False]
    assert gc.isenabled()


def test_the_collector_is_held_until_the_last_is_done(qtbot: QtBot) -> None:
    make_app("dark")
    parent = QObject()
    one: Background[int] = Background(parent)
    two: Background[int] = Background(parent)
    gate = threading.Event()
    got: list[int] = []

    def slow(tell: Progress) -> int:
        gate.wait(20.0)
        return 2

    two.start(slow, got.append, lambda part: None)
    one.start(lambda tell: 1, got.append, lambda part: None)
    qtbot.waitUntil(lambda: got == [1], timeout=10_000)
    assert not gc.isenabled()
    gate.set()
    qtbot.waitUntil(lambda: got == [1, 2], timeout=10_000)
    assert gc.isenabled()
    one.stop()
    two.stop()
    assert gc.isenabled()


def test_what_is_wanted_more_makes_what_is_wanted_less_stand_back(qtbot: QtBot) -> None:
    make_app("dark")
    parent = QObject()
    ahead = [Background[str | None](parent, AHEAD) for _ in range(WORKERS)]
    asked: Background[str] = Background(parent, ASKED)
    gate = threading.Event()
    said: list[str] = []
    got: list[str | None] = []

    def idle(tell: Progress) -> str | None:
        said.append("begun")
        while tell(0.1):
            if gate.wait(0.002):
                return "ahead"
        said.append("stood back")
        return None

    for one in ahead:
        one.start(idle, got.append, lambda part: None)
    qtbot.waitUntil(lambda: said == ["begun"] * WORKERS, timeout=10_000)
    asked.start(lambda tell: "asked", got.append, lambda part: None)
    qtbot.waitUntil(lambda: got == ["asked"], timeout=10_000)
    qtbot.waitUntil(lambda: said == [*["begun"] * WORKERS, "stood back", "begun"], timeout=10_000)
    gate.set()
    qtbot.waitUntil(lambda: got == ["asked", *["ahead"] * WORKERS], timeout=10_000)
    assert gc.isenabled()


def test_what_has_not_begun_is_given_up_at_once(qtbot: QtBot) -> None:
    make_app("dark")
    parent = QObject()
    busy = [Background[int](parent) for _ in range(WORKERS)]
    late: Background[int] = Background(parent)
    gate = threading.Event()
    ran: list[int] = []
    for one in busy:
        one.start(lambda tell: int(gate.wait(20.0)), ran.append, lambda part: None)
    late.start(lambda tell: 7, ran.append, lambda part: None)
    late.stop()
    assert not late.busy
    gate.set()
    qtbot.waitUntil(lambda: ran == [1] * WORKERS, timeout=10_000)
    assert gc.isenabled()


def test_closing_ends_everything_beside_the_window(window: MainWindow) -> None:
    """Every place in the window that works beside it, found by looking, is given up; no answer comes any more."""
    places = [*window.findChildren(Background), *window.workspace.findChildren(Background)]
    assert len(places) > 15
    begun: set[int] = set()
    ended: set[int] = set()
    got: list[int] = []

    def work(n: int, tell: Progress) -> int | None:
        begun.add(n)
        while tell(0.1):
            time.sleep(0.002)
        ended.add(n)
        return n

    for n, one in enumerate(places):
        one.start(partial(work, n), got.append, lambda _: None)
    window.workspace.session.mark_saved()
    window.close()
    assert not window.isVisible()
    assert not any(one.busy for one in places), [one.parent() for one in places if one.busy]
    QApplication.processEvents()
    assert begun == ended  # what had begun has noticed; the rest never began
    assert got == []


def test_a_failure_beside_the_window_is_one_sentence(window: MainWindow, qtbot: QtBot) -> None:
    place: Background[int] = Background(window)

    def refused(_: Progress) -> int:
        raise FileError("F121", "rig.csv cannot be opened: it is gone.", "Look for it.")

    def broken(_: Progress) -> int:
        raise ZeroDivisionError("inner detail")

    for work, words in ((refused, "rig.csv cannot be opened: it is gone. Look for it."), (broken, "your work is kept")):
        with qtbot.captureExceptions() as raised:
            place.start(work, lambda _: None, lambda _: None)
            qtbot.waitUntil(lambda: bool(raised), timeout=20_000)
        _explain(*raised[0])
        assert words in window._said.toolTip()
        assert "inner detail" not in window._said.toolTip()
        assert not place.busy


def test_a_photo_goes_to_what_it_was_taken_for_or_nowhere(
    window: MainWindow, qtbot: QtBot, basalt: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """While it is copied the hand goes on to another step, or to another project."""
    gate = threading.Event()

    def slow(file: Path, photo: Path) -> str:
        gate.wait(20.0)
        return add_photo(file, photo)

    monkeypatch.setattr(photos, "add_photo", slow)
    photo = tmp_path / "a.png"
    photo.write_bytes(b"\x89PNG\r\n\x1a\n" + b"y" * 50)
    window.workspace.save(tmp_path / "rig.stoutlink")
    window.show_step("bench")
    sheet = window.sheet(BenchSheet)
    sheet.look("card")
    first, second = sheet.card.card.lines[:2]  # type: ignore[union-attr]
    sheet.card.pick(first.step.key)
    sheet.card.photos.add(photo)
    sheet.card.pick(second.step.key)
    gate.set()
    qtbot.waitUntil(lambda: "lies beside the project" in window._said.toolTip(), timeout=10_000)
    works = {
        s.id: s.photos for c in window.workspace.project.bench.cards if c.id == sheet.card.assembly for s in c.steps
    }
    assert [key for key, names in works.items() if names] == [first.step.key]
    gate.clear()
    sheet.card.photos.add(photo)
    window.workspace.session.mark_saved()
    window.take(basalt, tmp_path / "rig.stoutlink")
    gate.set()
    qtbot.waitUntil(lambda: not sheet.card.photos._copying.busy, timeout=10_000)
    assert window.workspace.project is basalt


def test_what_waits_for_the_travel_is_done_when_an_undo_brings_it_back(window: MainWindow, qtbot: QtBot) -> None:
    """It was to be copied while it was cycled; then the change is undone: at once, and not at some later cycle."""
    w = window.workspace
    qtbot.waitUntil(lambda: w.cycling.known, timeout=60_000)
    w.do(SetNumber("layouts.rear-a.bump_m", 0.11))
    done: list[int] = []
    w.cycling.then(lambda: done.append(1))
    assert done == []
    w.undo()
    assert done == [1]
    w.do(SetNumber("layouts.rear-a.bump_m", 0.12))
    w.cycling.now()
    qtbot.waitUntil(lambda: w.cycling.known, timeout=60_000)
    assert done == [1]
