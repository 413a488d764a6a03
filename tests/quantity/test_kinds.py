"""Kinds of the bench and the calendar: thousandths, small torques, durations, days; the kind stands on the field."""

from __future__ import annotations

import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.document.paths import FieldInfo, field_info
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.search import Search, Want
from stoutlink.core.errors import TextError
from stoutlink.core.quantity.date_text import parse_date, show_date
from stoutlink.core.quantity.duration_text import format_duration, parse_duration
from stoutlink.core.quantity.shown import edit_text, parse_quantity, show


def test_a_thousandth_is_not_rounded_away() -> None:
    assert show(0.008 * 0.0254, "length", "in") == "0.01″"
    assert show(0.008 * 0.0254, "fine_length", "in") == "0.008″"
    assert show(0.00005, "fine_length", "mm") == "0.05 mm"
    assert show(0.25 * 0.0254, "fine_length", "in") == "1/4″"


@pytest.mark.parametrize("text", ["8 thou", "0.008", '0.008"', "0.2032 mm"])
def test_a_gap_is_read_however_it_is_written(text: str) -> None:
    """1 in = 25.4 mm exactly (international inch, 1959)."""
    assert parse_quantity(text, "fine_length", "in") == pytest.approx(0.2032e-3, abs=1e-12)


def test_small_torques_in_the_units_of_their_wrench() -> None:
    """1 lbf·in = 0.112984829 N·m (NIST SP 811, appendix B.8)."""
    for text in ("15", "15 in-lb", "15 lb·in", "1.25 ft-lb", "1.25 lb·ft"):
        assert parse_quantity(text, "small_torque", "in") == pytest.approx(15 * 0.1129848290, rel=1e-9)
    assert show(parse_quantity("15", "small_torque", "in"), "small_torque", "mm") == "1.7 N·m"
    assert show(parse_quantity("80 ft-lb", "torque", "mm"), "torque", "in") == "80 lb·ft"
    with pytest.raises(TextError):
        parse_quantity("15 psi", "small_torque", "in")


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        *(("1:30", 5400), ("1 h 30 min", 5400), ("90 min", 5400), ("1.5", 5400)),
        *(("1 1/2 h", 5400), ("2 d", 172800), ("45 s", 45)),
    ],
)
def test_durations(text: str, seconds: float) -> None:
    assert parse_duration(text) == seconds


@given(st.integers(0, 60 * 24 * 30))
def test_a_shown_duration_reads_back(minutes: int) -> None:
    assert parse_duration(format_duration(60.0 * minutes)) == 60.0 * minutes
    text = edit_text(60.0 * minutes, "duration", "in")
    assert parse_quantity(text, "duration", "in") == pytest.approx(60.0 * minutes)


@pytest.mark.parametrize("text", ["soon", "1:75", "3 fortnights", "1 h x", ""])
def test_what_is_no_duration_is_said(text: str) -> None:
    with pytest.raises(TextError):
        parse_duration(text)


@given(st.dates(datetime.date(1900, 1, 1), datetime.date(2100, 12, 31)))
def test_days_read_back_in_every_form(day: datetime.date) -> None:
    dotted, american = f"{day.day}.{day.month}.{day.year}", f"{day:%b} {day.day}, {day.year}"
    for text in (day.isoformat(), show_date(day), dotted, american):
        assert parse_date(text) == day


def test_a_day_that_could_be_two_is_asked_about() -> None:
    with pytest.raises(TextError, match="4 Mar 2026 or 3 Apr 2026"):
        parse_date("3/4/2026")
    assert parse_date("13/4/2026") == parse_date("4/13/2026") == datetime.date(2026, 4, 13)
    assert parse_date("5/5/2026") == datetime.date(2026, 5, 5)
    for text in ("30.2.2026", "2026-13-01", "28 Nix 2026", "tomorrow", "13/13/2026"):
        with pytest.raises(TextError):
            parse_date(text)


def test_the_kind_stands_on_the_field(basalt: Project) -> None:
    def kind(path: str) -> FieldInfo:
        return field_info(basalt, path)

    assert kind("layouts.rear-a.links.upper_left.tube_wall_m").kind == "fine_length"
    assert kind("layouts.rear-a.links.upper_left.tube_od_m").kind == "length"
    point = kind("layouts.rear-a.links.upper_left.frame_pivot_m.1")
    assert (point.title, point.kind, point.low, point.high) == ("Side", "length", -12.0, 12.0)
    gear = kind("rig.drivetrain.gear_ratios.1")
    assert (gear.title, gear.kind, gear.high) == ("Gear ratio", "ratio", 12.0)
    solid = next(s for s in basalt.tape.solids if hasattr(s, "path_m"))
    on_path = kind(f"solids.{solid.id}.path_m.0.2")
    assert (on_path.title, on_path.kind) == ("Height", "length")
    wants = (Want(id="longest", low=0.6, high=0.9), Want(id="drive", low=80.0, high=120.0))
    asked = with_parts(basalt, searches=(Search(id="rear", wants=wants),))
    assert field_info(asked, "searches.rear.wants.longest.low").kind == "length"
    assert field_info(asked, "searches.rear.wants.longest.weight").kind == "number"
    assert field_info(asked, "searches.rear.wants.drive.low").kind == "number"
    with pytest.raises(KeyError):
        kind("rig.name")
