"""From readings to places, and the readings that cannot be right."""

from __future__ import annotations

import math
from typing import Any

import msgspec
import numpy as np
import pytest
from scipy.stats import studentized_range

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.survey_rules import survey_findings
from stoutlink.core.analysis.survey.survey_points import place_point, place_survey, rail_run, read_point
from stoutlink.core.document.survey import Datum, Reading, Survey, SurveyPoint
from stoutlink.core.mechanics.smooth_run import spikes
from stoutlink.core.mechanics.tape import likely_range

WHEELBASE = 2.8
INCH = 0.0254


def point(
    name: str = "",
    station: float | tuple[float, ...] | None = 0.0,
    height: float | tuple[float, ...] | None = 0.6,
    side: float | tuple[float, ...] | None = 0.8,
    **more: Any,
) -> SurveyPoint:
    def reads(v: float | tuple[float, ...] | None) -> tuple[Reading, ...]:
        return () if v is None else tuple(Reading(value_m=x) for x in (v if isinstance(v, tuple) else (v,)))

    return SurveyPoint(
        id=more.pop("id", f"p{abs(hash((name, station, height, side, str(more)))) % 10**9}"),
        name=name,
        station=reads(station),
        height=reads(height),
        side=reads(side),
        **more,
    )


def frame(**changes: float) -> list[SurveyPoint]:
    """A frame of fourteen stations that bends and kicks up, without a slip."""
    heights = [0.60, 0.60, 0.60, 0.60, 0.61, 0.63, 0.66, 0.69, 0.72, 0.74, 0.75, 0.75, 0.75, 0.75]
    return [
        point(f"at {i}", 0.2 * i, h + changes.get(f"h{i}", 0.0), 0.84 + changes.get(f"w{i}", 0.0), id=f"f{i}")
        for i, h in enumerate(heights)
    ]


def found(
    *points: SurveyPoint, datum: Datum | None = None, unit: str = "mm", wheelbase: float = WHEELBASE
) -> list[Finding]:
    return [
        f
        for f in survey_findings((Survey(id="s", name="s", datum=datum or Datum(), points=points),), wheelbase, unit)  # type: ignore[arg-type]
        if f.severity != "note"
    ]


def test_station_height_and_spread_by_hand() -> None:
    """Zero 4 in behind the front axle, growing rearward: x = L − 4 in − station."""
    datum = Datum(zero_x_m=WHEELBASE - 4 * INCH, direction="rearward")
    at = place_point(point("x", 30 * INCH, 22 * INCH, 34 * INCH), datum, WHEELBASE)
    assert at is not None
    assert at.x == pytest.approx(WHEELBASE - 34 * INCH)
    assert at.z == pytest.approx(22 * INCH)
    assert at.sides == pytest.approx((17 * INCH, -17 * INCH))


@pytest.mark.parametrize(
    ("across", "sides"), [("full", (0.42, -0.42)), ("left", (0.84,)), ("right", (-0.84,)), ("middle", (0.0,))]
)
def test_full_and_half_width_are_never_confused(across: str, sides: tuple[float, ...]) -> None:
    at = place_point(point("x", 1.0, 0.6, 0.84, across=across), Datum(), WHEELBASE)
    assert at is not None
    assert at.sides == pytest.approx(sides)


def test_an_edge_and_half_a_diameter_give_the_hidden_centre() -> None:
    p = point("bolt", 1.0, 0.6, 0.9, diameter_m=0.04, station_edge="far", height_edge="top", side_edge="outside")
    at = place_point(p, Datum(), WHEELBASE)
    assert at is not None
    assert (at.x, at.z, at.sides[0]) == pytest.approx((0.98, 0.58, 0.43))
    assert "S109" in {f.code for f in found(msgspec.structs.replace(p, diameter_m=None))}


def test_repeats_are_kept_averaged_and_weighed() -> None:
    p = point("x", (1.0, 1.004, 1.002), 0.6, 0.8)
    read = read_point(p)
    assert read.station is not None
    assert read.station.centre == pytest.approx(1.002)
    assert read.station.sigma == pytest.approx(0.005 / math.sqrt(3))
    assert read.station.spread == pytest.approx(0.004)
    assert len(p.station) == 3


def test_stands_and_full_bump_are_taken_to_ride_height_axles_apart() -> None:
    stands = Datum(stood="stands", front_rise_m=-0.2, rear_rise_m=-0.1)
    rail, axle = (
        point("r", WHEELBASE, 0.9, 0.8),
        point("front axle", WHEELBASE, 0.45, None, kind="axle", across="middle"),
    )
    placed = place_survey(Survey(id="s", name="s", datum=stands, points=(rail, axle)), WHEELBASE)
    lean = math.asin(-0.1 / WHEELBASE)
    assert placed[0].z == pytest.approx(WHEELBASE * math.sin(lean) + 0.9 * math.cos(lean) - 0.1)
    assert placed[0].x == pytest.approx(WHEELBASE * math.cos(lean) - 0.9 * math.sin(lean))
    assert (placed[1].x, placed[1].z) == (WHEELBASE, 0.45)
    bump = place_point(point("r", 1.0, 0.5, 0.8), Datum(stood="bump", front_rise_m=0.15, rear_rise_m=0.15), WHEELBASE)
    assert bump is not None
    assert bump.z == pytest.approx(0.65)


def test_a_clean_frame_raises_no_suspicion() -> None:
    assert found(*frame()) == []
    rng = np.random.default_rng(4)
    alarms = 0
    for _ in range(100):
        noisy = frame(
            **{f"h{i}": rng.normal(0, 0.003) for i in range(14)}, **{f"w{i}": rng.normal(0, 0.003) for i in range(14)}
        )
        alarms += len(found(*noisy))
    assert alarms <= 5


@pytest.mark.parametrize("i", [2, 5, 7, 10])
@pytest.mark.parametrize("off", [0.0508, -0.04])
def test_a_reading_off_the_run_is_named_with_its_amount(i: int, off: float) -> None:
    one = found(*frame(**{f"h{i}": off}))
    assert [f.code for f in one] == ["S103"]
    assert f"at {i}" in one[0].sentence
    amount = float(one[0].sentence.split("is about ")[1].split(" mm")[0])
    assert amount == pytest.approx(abs(off) * 1000, abs=4.0)  # the neighbours lie on a bend
    assert ("above" in one[0].sentence) == (off > 0)
    assert "height again first" in one[0].why


def test_kinks_and_steps_are_a_frame_and_not_a_slip() -> None:
    along = np.arange(20, dtype=float) * 0.15
    for shape in (np.interp(along, [0.0, 1.4, 3.0], [0.6, 0.6, 1.4]), 0.6 + 0.12 * (along >= 1.4).astype(float)):
        assert spikes(along, shape, 0.003) == ()
    for drop in ((29, 29, 24, 24, 24, 24), (29, 24, 24, 24, 24), (24, 24, 24, 24, 29, 29), (29, 24, 24)):
        for step in (6, 12, 30):  # an ordinary drop of the frame, anywhere along it, in inches
            assert (
                spikes(np.arange(len(drop), dtype=float) * step * 0.0254, np.array(drop, float) * 0.0254, 0.003) == ()
            )
    slip = 0.0254 * np.array([24, 26, 24, 24, 24, 24], float)  # and a bad second reading is still one
    assert [s.index for s in spikes(np.arange(6, dtype=float) * 0.3, slip, 0.003)] == [1]
    with pytest.raises(ValueError, match="rise"):
        spikes(np.array([0.0, 1.0, 1.0, 2.0, 3.0]), np.zeros(5), 0.003)


@pytest.mark.parametrize(
    ("factor", "words"), [(25.4, "millimetres read as inches"), (1 / 25.4, "inches read as millimetres")]
)
@pytest.mark.parametrize("i", [0, 4, 13])
def test_a_slip_of_units_is_recognised(factor: float, words: str, i: int) -> None:
    points = frame()
    wrong = Reading(value_m=points[i].height[0].value_m * factor)
    points[i] = msgspec.structs.replace(points[i], height=(wrong,))
    one = found(*points)
    assert [f.code for f in one] == ["S106"]
    assert words in one[0].sentence


def test_a_station_in_another_unit_lies_out_of_order() -> None:
    points = frame()
    points[6] = msgspec.structs.replace(points[6], station=(Reading(value_m=1.2 / 25.4),))
    one = found(*points)
    assert one[0].code == "S106"
    assert "inches read as millimetres" in one[0].sentence


def test_half_entered_as_full_is_recognised() -> None:
    points = frame()
    points[5] = msgspec.structs.replace(points[5], side=(Reading(value_m=0.42),))
    assert [f.code for f in found(*points)] == ["S107"]


def test_one_thing_measured_two_ways() -> None:
    """Trade arithmetic (common practice): 43 against 43 3/8 in must raise an alarm."""
    twice = found(point("pads", 1.0, 0.6, (43 * INCH, 43.375 * INCH), kind="other", id="a"))
    assert [f.code for f in twice] == ["S101"]
    assert found(point("pads", 1.0, 0.6, (43 * INCH, 43.125 * INCH), kind="other")) == []
    spreads = (
        point("pads", 1.05, 0.61, 43 * INCH, id="a"),
        point("pads", 1.05, 0.61, 21.75 * INCH, across="left", id="b"),
        point("pads", 1.05, 0.61, 21.75 * INCH, across="right", id="c"),
    )
    one = [f for f in found(*spreads) if f.code == "S102"]
    assert len(one) == 1
    assert "disagree by 13 mm" in one[0].sentence
    same = found(point("dip", 1.0, 0.6, 0.8, id="a"), point("dip", 1.04, 0.6, 0.8, id="b"))
    assert any(f.code == "S102" and "40 mm" in f.sentence for f in same)


def test_left_and_right_that_differ() -> None:
    one = found(
        point("dip", 1.0, 0.60, 0.42, across="left", id="a"), point("dip", 1.0, 0.625, 0.42, across="right", id="b")
    )
    assert [f.code for f in one] == ["S110"]
    assert "25 mm lower" in one[0].sentence
    out = found(
        point("dip", 1.0, 0.60, 0.45, across="left", id="a"), point("dip", 1.0, 0.60, 0.42, across="right", id="b")
    )
    assert "30 mm further out" in out[0].sentence


def test_stations_that_stand_close_all_along_are_not_the_same_station() -> None:
    close = [point(f"at {i}", 0.001 * i, 0.6, 0.84, id=f"c{i}") for i in range(40)]
    assert "S104" not in {f.code for f in found(*close)}
    again = found(*close, point("again", 0.0101, 0.63, 0.84, id="x"))
    assert [f.subject for f in again if f.code == "S104"] == ["s/c10+x/station"]


def test_a_station_twice_on_one_side_is_seen_past_the_other_side() -> None:
    sides = [
        point(f"{side} {i}", 0.2 * i, 0.6, 0.42, across=side, id=f"{side[0]}{i}")
        for i in range(6)
        for side in ("left", "right")
    ]
    assert "S104" not in {f.code for f in found(*sides)}
    twice = found(*sides, point("again", 0.601, 0.6, 0.42, across="left", id="x"))
    assert [f.subject for f in twice if f.code == "S104"] == ["s/l3+x/station"]
    whole = found(*sides, point("again", 0.601, 0.6, 0.84, id="y"))  # one told once, though it is of either side
    assert len([f for f in whole if f.code == "S104"]) == 2


def test_duplicates_strays_and_axles() -> None:
    assert "S104" in {f.code for f in found(*frame(), point("again", 0.8, 0.64, 0.84, id="x"))}
    far = found(point("stray", 5.0, 0.6, 0.8), *frame())
    assert any(f.code == "S105" and "2200 mm ahead of the front axle" in f.sentence for f in far)
    off = found(point("front axle", WHEELBASE + 0.05, 0.45, None, kind="axle", across="middle"))
    assert [f.code for f in off] == ["S112"]
    assert "50 mm from the wheelbase" in off[0].sentence


def test_the_angle_finder_checks_the_heights() -> None:
    points = frame()
    points[7] = msgspec.structs.replace(points[7], angle_rad=math.atan2(0.03, 0.2))
    assert found(*points) == []
    points[7] = msgspec.structs.replace(points[7], angle_rad=math.radians(1.0))
    assert [f.code for f in found(*points)] == ["S111"]


def test_nothing_is_dropped_and_the_worst_comes_first() -> None:
    points = frame(h3=0.05, h9=0.2)
    one = found(*points)
    assert [f.sentence.split("“")[1].split("”")[0] for f in one] == ["at 9", "at 3"]
    placed = place_survey(Survey(id="s", name="s", points=tuple(points)), WHEELBASE)
    assert len(rail_run(placed, 1.0)) == len(points)


def test_the_range_of_good_repeats_raises_no_alarm() -> None:
    """Against scipy's studentized range (σ known): the tabled 5 % points, so that repeating more often is not
    punished.
    """
    for count in range(2, 13):
        assert likely_range(count) == pytest.approx(studentized_range.ppf(0.95, count, np.inf), abs=6e-4)
    assert likely_range(24) == likely_range(12)
    with pytest.raises(ValueError, match="range"):
        likely_range(1)
