"""Work beside the window: the window never waits for it, only the last answer is shown, the collector is held while
any of it runs.
"""

from __future__ import annotations

import gc
import threading

from PyQt6.QtCore import QObject
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.background import AHEAD, ASKED, WORKERS, Background, Progress
from stoutlink.app.main import make_app


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
