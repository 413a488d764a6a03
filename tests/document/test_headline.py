"""One table of headline numbers: verdict, map, search, comparison and curves take theirs from it."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest

from stoutlink.core.advice.verdict import gauge_values
from stoutlink.core.document.headline import HEADLINES, LENGTH_WANTS, MAPPED, WANT_IDS, headline_words
from stoutlink.core.document.project import Project
from stoutlink.core.document.search import WantId
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def test_what_a_file_may_want_is_what_the_table_lets_be_searched() -> None:
    assert get_args(WantId) == WANT_IDS
    assert set(LENGTH_WANTS) == {"bind", "longest", "shortest", "clearance"}


@pytest.mark.parametrize("name", ["basalt", "tamarack"])
@pytest.mark.parametrize("end", ["rear", "front"])
def test_every_gauge_is_a_headline_with_its_title_and_scale(name: str, end: str) -> None:
    for gauge in Study(read_project(demo_file(f"{name}.stoutlink"))).axles[end].gauges:
        one = HEADLINES[gauge.id]
        assert gauge.title.split(" · ")[0] == one.title[0 if end == "rear" else 1]
        if one.scale is not None:
            assert (gauge.low, gauge.high) == one.scale


def test_map_gauge_and_curve_say_the_same_at_ride(basalt: Project) -> None:
    study = Study(basalt)
    motion, found = study.motion("rear"), study.hole_map("rear")
    assert motion is not None
    assert found is not None
    values = gauge_values(basalt.settings, motion)
    now = next(
        i
        for i, row in enumerate(found.holes)
        if all(h == b.hole for h, b in zip(row, found.layout.brackets, strict=True))
    )
    for name in MAPPED:
        assert found.values[name][now] == pytest.approx(values[name], rel=1e-6, abs=1e-9), name
    travel = study.travel("rear")
    assert travel is not None
    for one in HEADLINES.values():
        if one.curve is not None:
            curve = travel.curve(one.curve)
            assert curve is not None
            at = float(np.interp(0.0, travel.grid.heave, curve.heave))
            assert at == pytest.approx(values[one.id], rel=1e-3, abs=1e-3), one.id


@pytest.mark.parametrize(
    ("name", "value", "unit", "words"),
    [
        ("drive", 112.4, "in", "drive 112 %"),
        ("brake", -3.2, "in", "braking −3 %"),
        ("roll_centre", 0.7512, "in", "roll centre 0.75 of CG"),
        ("steer", -0.0421, "mm", "roll steer −0.042"),
        ("pinion", 3.96, "in", "pinion 4.0°"),
        ("travel", 0.98, "in", "travel 98%"),
        ("longest", 0.9144, "mm", "longest 914.4 mm"),
        ("clearance", 0.0127, "in", "room 0.50″"),
        ("clearance", 8.0, "mm", "room plenty"),
    ],
)
def test_words(name: str, value: float, unit: str, words: str) -> None:
    assert headline_words(name, value, unit) == words  # type: ignore[arg-type]


def test_which_way_is_better() -> None:
    assert {one.id for one in HEADLINES.values() if one.better == "low"} == {"hold", "pinion", "bind", "wrap"}
    assert {one.id for one in HEADLINES.values() if one.better == "high"} == {"roll_centre", "clearance", "travel"}
    assert all(one.usual > 0 for one in HEADLINES.values())
