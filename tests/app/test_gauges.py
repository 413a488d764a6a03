"""A gauge paints what it is shown now, however much of it was painted before."""

from __future__ import annotations

import math
from typing import Any

import pytest
from msgspec.structs import replace
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.desk.theme import DARK, LIGHT, Theme
from stoutlink.app.panels.verdict_panel import GaugeBar
from stoutlink.core.advice.verdict import Gauge, Target

GAUGE = Gauge(
    id="anti_squat",
    title="Anti-squat",
    value=84.0,
    text="84 %",
    sure="± 6",
    sigma=3.0,
    low=0.0,
    high=200.0,
    target=Target(70.0, 90.0, "calm"),
    standing="in",
    word="calm",
    feels="",
    drives="",
    parts=(),
)

OTHERWISE: dict[str, dict[str, Any]] = {
    "title": {"title": "Anti-lift"},
    "value": {"value": 120.0},
    "text": {"text": "85 %"},
    "sure": {"sure": "± 7"},
    "sigma": {"sigma": 12.0},
    "low": {"low": -40.0},
    "high": {"high": 160.0},
    "no band": {"target": None},
    "another band": {"target": Target(110.0, 150.0, "steep")},
    "out of band": {"standing": "out"},
    "at the edge": {"standing": "edge"},
    "word": {"word": "lively"},
    "nobody entered": {"unentered": (("Wheelbase", "rig.wheelbase_m"),)},
    "tells nothing": {"tells": False},
}


@pytest.fixture
def room(qtbot: QtBot) -> QWidget:
    """Where gauges stand."""
    out = QWidget()
    qtbot.addWidget(out)
    return out


def _picture(bar: GaugeBar) -> QImage:
    return bar.grab().toImage()


def _fresh(room: QWidget, gauge: Gauge, theme: Theme, compared: float | None = None) -> QImage:
    """The same, of a gauge that has shown nothing before."""
    bar = GaugeBar(room)
    bar.resize(290, 54)
    bar.show_gauge(gauge, theme, compared)
    return _picture(bar)


@pytest.mark.parametrize("what", OTHERWISE)
def test_whatever_changes_is_painted(room: QWidget, what: str) -> None:
    bar = GaugeBar(room)
    bar.resize(290, 54)
    bar.show_gauge(GAUGE, DARK)
    before = _picture(bar)
    other = replace(GAUGE, **OTHERWISE[what])
    bar.show_gauge(other, DARK)
    assert _picture(bar) != before
    assert _picture(bar) == _fresh(room, other, DARK)


def test_theme_width_comparison_and_choice_are_painted(room: QWidget) -> None:
    bar = GaugeBar(room)
    bar.resize(290, 54)
    seen = []
    for theme, compared in ((DARK, None), (DARK, 40.0), (DARK, math.nan), (LIGHT, 40.0)):
        bar.show_gauge(GAUGE, theme, compared)
        seen.append(_picture(bar))
        assert seen[-1] == _fresh(room, GAUGE, theme, compared)
    assert seen[0] != seen[1] != seen[3]
    assert seen[2] == seen[0]  # what is not a number stands nowhere
    bar.setChecked(True)
    assert _picture(bar) != seen[3]
    bar.setChecked(False)
    assert _picture(bar) == seen[3]
    bar.resize(400, 54)
    wide = _picture(bar)
    band = [x for x in range(wide.width()) if wide.pixelColor(x, 44) != wide.pixelColor(5, 44)]
    assert max(band) > 380
