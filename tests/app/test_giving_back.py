"""Memory given back to the system beside the window, and what is not kept longer than it is of use."""

from __future__ import annotations

import gc
import threading
import weakref

import pytest
from PyQt6.QtCore import QObject
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import giving_back
from stoutlink.app.desk.background import Background
from stoutlink.app.desk.giving_back import GivingBack
from stoutlink.core.document.project import Project
from stoutlink.core.numerics.remembering import LastAnswers
from stoutlink.core.study.question import FEW
from stoutlink.core.study.study import Study


def test_it_is_given_back_beside_the_window(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    threads: list[int] = []

    def trim(pad: int) -> int:
        threads.append(threading.get_ident())
        return 1

    monkeypatch.setattr(giving_back, "_trimmer", lambda: trim)
    owner = QObject()
    one = GivingBack(owner)
    one.now()
    qtbot.waitUntil(lambda: len(threads) == 1, timeout=5000)
    assert threads[0] != threading.get_ident()
    qtbot.waitUntil(lambda: not one._work.busy, timeout=5000)
    one.now()
    qtbot.waitUntil(lambda: len(threads) == 2, timeout=5000)
    one.stop()
    assert not one._timer.isActive()


def test_without_the_library_nothing_is_tried(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(giving_back, "_trimmer", lambda: None)
    owner = QObject()
    one = GivingBack(owner)
    assert not one._timer.isActive()
    one.now()
    assert not one._work.busy


def test_work_that_is_done_holds_nothing(qtbot: QtBot) -> None:
    """What a piece of work was made from is free once its answer was taken."""

    class Large:
        pass

    large, got = Large(), []
    gone = weakref.ref(large)
    owner = QObject()
    work: Background[int] = Background(owner)

    def start(one: Large) -> None:
        work.start(lambda _: 1 if one else 0, lambda answer: got.append((answer, one is not None)), lambda _: None)

    start(large)
    qtbot.waitUntil(lambda: not work.busy, timeout=5000)
    assert got == [(1, True)]
    del large
    gc.collect()
    assert gone() is None


def test_only_a_few_travels_are_kept(basalt: Project) -> None:
    """Undo and redo find the last ones; a long day does not keep them all."""
    study = Study(basalt)
    travel = study.travel("rear")
    assert travel is not None
    kept = study.answers.of(("travel", "rear"), 99)
    assert isinstance(kept, LastAnswers)
    assert kept._most == FEW
    study.answers.forget()
    assert study.travel("rear") is not travel
