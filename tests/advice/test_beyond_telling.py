"""A number that says nothing is not shown as a number: bars that barely hold, and what happens over a travel that there is not."""

from __future__ import annotations

import math
import re

import msgspec
import pytest

from stoutlink.core.advice.hanging_rules import BUMP_LARGEST
from stoutlink.core.document import headline
from stoutlink.core.document.headline import BEYOND, FAR_OFF, HEADLINES
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.quantity.shown import turned
from stoutlink.core.reports.analysis_text import analysis_text
from stoutlink.core.reports.results import results
from stoutlink.core.study.study import Study


def test_bars_that_barely_hold_have_no_numbers(tamarack: Project) -> None:
    """One frame pivot 12 m under ground: it is taken (a rule says that no rig has that), and no percent of it is a fact."""
    twisted = SetNumber("layouts.front-a.links.lower_right.frame_pivot_m.2", -12.0).apply(tamarack)
    study = Study(twisted)
    gauges = {g.id: g for g in study.axles["front"].gauges}
    for name in ("drive", "brake", "roll_centre", "steer", "hold"):
        assert gauges[name].text == BEYOND
        assert gauges[name].sure == ""
        assert not gauges[name].tells
        assert gauges[name].standing in ("out", "none")
    assert gauges["pinion"].text == "no travel to turn over"
    assert gauges["pinion"].standing == "none"
    assert gauges["travel"].standing == "out"
    assert any(f.code == "G201" for f in study.findings_so_far)
    text = analysis_text(study, results(study))
    assert text.count(BEYOND) >= 4
    assert not re.search(r"\d{5}\d* %", text)
    whole = {g.id: g for g in Study(tamarack).axles["front"].gauges}
    assert all(g.text != BEYOND for g in whole.values())


def test_where_telling_ends() -> None:
    drive = HEADLINES["drive"]
    assert drive.scale is not None
    low, high = drive.scale
    far = FAR_OFF * (high - low)
    assert drive.tells(high + far, 0.5 * far)
    assert not drive.tells(high + far + 1.0)
    assert not drive.tells(low - far - 1.0)
    assert not drive.tells(100.0, 0.5 * far + 1.0)
    assert drive.text(high + far + 1.0, "in") == BEYOND
    assert HEADLINES["longest"].tells(1e9)  # has no gauge


def test_bump_steer_without_an_inch_of_travel_has_no_rate(basalt: Project) -> None:
    twisted = SetNumber("layouts.front-a.links.panhard.frame_pivot_m.2", -10.638).apply(basalt)
    study = Study(twisted)
    steer = study.axles["front"].steer
    assert steer is not None
    assert not math.isfinite(steer.heading_per_step)
    assert abs(steer.largest) > BUMP_LARGEST
    (said,) = [f for f in study.findings_so_far if f.code == "G230"]
    assert "nan" not in said.sentence
    assert "per inch" not in said.sentence
    assert turned(steer.largest, 1) in said.sentence
    assert msgspec.json.encode(results(study)).find(b"NaN") == -1


def test_leaves_are_told_by_the_same_rule(tamarack: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    """With a rule that nothing passes, leaves have no numbers either."""
    whole = {g.id: g for g in Study(tamarack).axles["rear"].gauges}
    assert "wrap" in whole
    assert all(g.tells for g in whole.values())
    monkeypatch.setattr(headline, "FAR_OFF", -0.6)
    told = [g for g in Study(tamarack).axles["rear"].gauges if HEADLINES[g.id].scale is not None]
    assert len(told) > 4
    assert all(g.text == BEYOND and not g.tells for g in told)
