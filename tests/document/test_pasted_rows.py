"""Rows of a spreadsheet laid over the stations of a survey."""

from __future__ import annotations

import pytest

from stoutlink.core.document.reading_text import pasted
from stoutlink.core.document.survey import Reading, SurveyPoint
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.constants import INCH


def reading(value: float) -> tuple[Reading, ...]:
    return (Reading(value_m=value),)


def test_rows_become_stations_with_all_their_readings() -> None:
    points = pasted("12\t22 1/2\t34\trear\n40\t\t34+33 7/8\t\n", (), 0, 0, "in")
    assert [p.id for p in points] == ["p1", "p2"]
    first, second = points
    assert (first.station[0].value_m, first.height[0].value_m) == pytest.approx((12 * INCH, 22.5 * INCH))
    assert first.name == "rear"
    assert second.height == ()
    assert [r.value_m for r in second.side] == pytest.approx([34 * INCH, 33.875 * INCH])


def test_a_heading_is_passed_over_and_other_units_are_read() -> None:
    points = pasted("station\theight\n300 mm\t1 ft 10 in\n", (), 0, 0, "in")
    assert len(points) == 1
    assert points[0].station[0].value_m == pytest.approx(0.3)
    assert points[0].height[0].value_m == pytest.approx(22 * INCH)
    assert pasted("300\t560", (), 0, 0, "mm")[0].station[0].value_m == pytest.approx(0.3)


def test_a_column_of_heights_goes_over_the_stations_from_the_cell_in_hand() -> None:
    had = tuple(SurveyPoint(id=f"p{i}", name=f"n{i}", station=reading(0.1 * i), across="left") for i in (1, 2, 3))
    points = pasted("20\n21\n22\n", had, 1, 1, "in")
    assert [p.id for p in points] == ["p1", "p2", "p3", "p4"]
    assert points[0] is had[0]
    assert [p.height[0].value_m for p in points[1:]] == pytest.approx([20 * INCH, 21 * INCH, 22 * INCH])
    assert (points[1].name, points[1].station) == ("n2", had[1].station)
    assert points[3].across == "left"


def test_what_goes_past_the_name_is_left_out() -> None:
    assert pasted("12\t22\t34\trear\tmore\tand more", (), 0, 0, "in")[0].name == "rear"
    assert pasted("12\t22", (), 0, 3, "in")[0].name == "12"


def test_nothing_is_taken_when_a_cell_is_no_length() -> None:
    with pytest.raises(StoutError) as why:
        pasted("12\t22\t34\n40\tabout 23\t34", (), 0, 0, "in")
    assert why.value.code == "Q113"
    assert why.value.sentence == "Row 2, height: “about 23” is no length."
