"""Work beside the window: the window never waits for it, only the last answer is shown, the collector is held while
any of it runs.
"""

from __future__ import annotations

import gc
import threading

from PyQt6.QtCore import QObject
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.main import make_app


def test_a_new_piece_does_not_wait_for_the_one_before(qtbot: QtBot) -> None:
    make_app("dark")
    parent = QObject()
    work: Background[str] = Background(parent)
    gate = threading.Event()
    noticed: list[bool] = []
    got: list[str] = []

    def slow(tell: Progress) -> str:
        gate.wait(20.0)
        noticed.append(tell(0.5))
        return "first"

    work.start(slow, got.append, lambda part: None)
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
