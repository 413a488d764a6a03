"""Text that may be two numbers: run together, or with a comma that may be two things."""

from __future__ import annotations

import pytest

from stoutlink.core.errors import TextError
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import parse_length
from stoutlink.core.quantity.shown import Kind, parse_quantity, parse_typed


@pytest.mark.parametrize("text", ["66 1/26", "41-1/7", "3' 5 1/13\"", "12 3/256"])
def test_no_tape_is_divided_so(text: str) -> None:
    """Q107: a 6 typed into 6 1/2 at the wrong place."""
    with pytest.raises(TextError, match="nothing is divided in") as told:
        parse_length(text, "in")
    assert told.value.code == "Q107"


@pytest.mark.parametrize(
    ("text", "value"), [("66 1/2", 66.5), ("5 7/64", 5.109375), ("4 1/3", 4 + 1 / 3), ("7/26", 7 / 26), ("4 3/10", 4.3)]
)
def test_what_is_divided_so_is_read(text: str, value: float) -> None:
    """A fraction alone may be anything: it can only be itself."""
    assert parse_length(text, "in") == pytest.approx(value * INCH)


@pytest.mark.parametrize(
    ("text", "kind", "unit", "value"),
    [
        ("1,5", "number", "in", 1.5),
        ("1054,1", "length", "mm", 1.0541),
        ("0,125", "number", "in", 0.125),
        ("12,25 kg", "mass", "in", 12.25),
        ("-2,5", "number", "in", -2.5),
        ("1234,567", "number", "in", 1234.567),
    ],
)
def test_a_decimal_comma(text: str, kind: Kind, unit: str, value: float) -> None:
    assert parse_quantity(text, kind, unit) == pytest.approx(value)  # type: ignore[arg-type]


@pytest.mark.parametrize("text", ["1,500", "41,500", "2,250 lb"])
def test_a_comma_that_may_be_two_things_is_asked_about(text: str) -> None:
    """Q108 names both."""
    number = text.removesuffix(" lb")
    with pytest.raises(TextError) as told:
        parse_quantity(text, "mass", "in")
    assert told.value.code == "Q108"
    assert f"{number.replace(',', '.')} or {number.replace(',', '')}." in told.value.sentence


@pytest.mark.parametrize("text", ["34,5,6", "1,2.5", ",5", "5,"])
def test_other_commas_are_no_number(text: str) -> None:
    with pytest.raises(TextError):
        parse_typed(text, "number", "in")
