"""A search whose answers are cycled too: how much of each one's travel is free, lock to lock."""

from __future__ import annotations

import math
from collections.abc import Callable

import msgspec
from msgspec.structs import replace

from stoutlink.core.analysis.search.find import Answer, Found
from stoutlink.core.document.search import Search
from stoutlink.core.study.question import GivenUp
from stoutlink.core.study.room import room_with
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import Going

SEARCHING = 0.7
"""Part of the progress that is the search; the rest is the cycling."""
STEP = 0.05
"""Free travel that differs by less than this part is as good; then what lies farther inside its bands comes first."""

Told = Callable[[float, tuple[Answer, ...]], bool]


def find_free(study: Study, end: str, search: Search, told: Told = lambda part, answers: True) -> Found:
    """Layouts that meet the bands, the freest of the travel first, in steps of a twentieth. Given up while they are
    cycled, those that are stand as they are.
    """
    found = study.find(end, search, lambda part, answers: told(SEARCHING * part, answers))
    answers = list(found.answers)
    try:
        for i, one in enumerate(answers):
            layout = msgspec.structs.replace(one.layout, id="found")
            room = room_with(study, layout, going=_going(told, _part(i, answers), tuple(answers)))
            if room.why or not math.isfinite(room.free):
                continue
            near = None if room.nearest is None else (room.nearest.one, room.nearest.other, room.nearest.least)
            answers[i] = replace(one, free=room.free, nearest=near)
    except GivenUp:
        pass
    answers.sort(key=lambda a: (-1 if a.free is None else -round(a.free / STEP) - 1, -a.ease))
    return replace(found, answers=tuple(answers))


def _going(told: Told, part: float, answers: tuple[Answer, ...]) -> Going:
    """Progress while one answer is cycled."""
    return lambda _: told(part, answers)


def _part(i: int, answers: list[Answer]) -> float:
    return SEARCHING + (1.0 - SEARCHING) * i / len(answers)
