"""Whoever shows the travel hears of it once it is known, by whatever way it came to be known."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from pytestqt.qtbot import QtBot

from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps.donors.pick_look import PickLook
from stoutlink.app.steps.travel.sheet import TravelSheet
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.study.question import GivenUp
from stoutlink.core.study.study import Study


@pytest.fixture
def window(whole_window: MainWindow) -> MainWindow:
    """Nothing is known yet, and every sheet is there."""
    return whole_window


def test_work_that_stood_back_is_done_all_the_same(
    qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What is wanted more makes it stand back; it starts anew and whoever waits is told."""
    cycle, times = Study.cycle, []

    def once_given_up(study: Study, going: Callable[[float], bool] = lambda part: True) -> None:
        times.append(1)
        job = window.workspace.cycling.work._job
        if len(times) == 1 and job is not None:  # as the queue asks for it
            job.wanted, job.again = False, True
            raise GivenUp
        cycle(study, going)

    monkeypatch.setattr(Study, "cycle", once_given_up)
    window.show_step("travel")
    sheet = window.sheet(TravelSheet)
    window.workspace.do(SetNumber("rig.wheelbase_m", 2.61, "104"))
    with qtbot.waitSignal(window.workspace.cycling.done, timeout=60_000):
        pass
    assert len(times) > 1
    assert sheet.looks["touching"].shown.travel is sheet.travel is not None


def test_what_became_known_by_another_way_is_told(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("travel")
    sheet, cycling = window.sheet(TravelSheet), window.workspace.cycling
    qtbot.waitUntil(lambda: sheet.travel is not None, timeout=60_000)
    window.workspace.do(SetNumber("rig.wheelbase_m", 2.61, "104"))
    cycling.work.stop()  # nobody works on it any more
    assert sheet.looks["touching"].shown.travel is None
    window.workspace.study.cycle()  # as a report or another look asks for it
    assert cycling.known
    cycling.now()
    assert sheet.looks["touching"].shown.travel is sheet.travel is not None


def test_a_pair_of_a_ranking_that_is_gone_is_not_shown(qtbot: QtBot, window: MainWindow) -> None:
    window.show_step("donors")
    window.sheets["donors"].look("pick")
    look = window.sheets["donors"].findChild(PickLook)
    assert look is not None
    qtbot.waitUntil(lambda: look.found is not None, timeout=60_000)
    found = look.found
    assert found is not None
    look.look_at(2)
    look.look_at(len(found.best))
    look.look_at(-1)
    assert look.shown == 2
