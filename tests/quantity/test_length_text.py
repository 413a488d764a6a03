"""Length text: what is understood, what is refused, and that nothing is lost on the way back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.errors import TextError
from stoutlink.core.quantity.length_text import format_fraction, format_length, format_length_text, parse_length
from stoutlink.core.quantity.shown import edit_text, parse_quantity, show

INCH = 0.0254


@pytest.mark.parametrize(
    ("text", "inches"),
    [
        ("41 1/2", 41.5), ("41-1/2", 41.5), ("41.5", 41.5), ('41.5"', 41.5), ("3' 5 1/2\"", 41.5), ("3'-5 1/2\"", 41.5), ("22 ¾", 22.75), ("22¾", 22.75),
        ("5/8", 0.625), ("½", 0.5), (".5", 0.5), ("5.", 5.0), ("-3 1/2", -3.5), ("−3 1/2", -3.5), ("-3' 6\"", -42.0), ("3'", 36.0), ("3 ft 6 in", 42.0),
        ("41 1⁄2″", 41.5), ("3′ 5 1/2″", 41.5), ("+2", 2.0), ("  7 ", 7.0), ("3'5", 41.0), ("41 1/2 in", 41.5), ("2 feet", 24.0), ("3/2", 1.5),
    ],
)  # fmt: skip
def test_inch_text(text: str, inches: float) -> None:
    assert parse_length(text, "in") == pytest.approx(inches * INCH, abs=1e-12)


@pytest.mark.parametrize(
    ("text", "metres"), [("1054 mm", 1.054), ("105.4cm", 1.054), ("1.054 m", 1.054), ("-12 mm", -0.012)]
)
def test_metric_text_in_an_inch_project(text: str, metres: float) -> None:
    assert parse_length(text, "in") == pytest.approx(metres, abs=1e-15)


def test_a_bare_number_is_in_the_project_unit() -> None:
    assert parse_length("41.5", "mm") == pytest.approx(0.0415)
    assert parse_length('1"', "mm") == 0.0254


@pytest.mark.parametrize(
    "text",
    ["", " ", "41 1/", "1/0", "41 3/2", "41 -1/2", "abc", "41,5,6", "41,500", "66 1/26", "4 1", "1e3", "--3", "41.5 1/2", "1/2/3", "3' 5 mm", '"', "'", "nan", "inf", "41 1/2 x", "٣", "1" * 70, "3'' 4'", "²"],
)  # fmt: skip
def test_what_is_not_a_length_is_refused_in_words(text: str) -> None:
    with pytest.raises(TextError) as caught:
        parse_length(text, "in")
    assert caught.value.sentence.endswith(".")
    assert "Traceback" not in str(caught.value)


def test_the_message_names_what_was_not_understood() -> None:
    with pytest.raises(TextError, match="41 1/"):
        parse_length("41 1/", "in")


@given(st.integers(0, 400), st.integers(0, 63), st.booleans())
def test_fractions_round_trip_exactly(whole: int, part: int, negative: bool) -> None:
    metres = (whole + part / 64) * INCH * (-1 if negative else 1)
    assert parse_length(format_length(metres, "in"), "in") == pytest.approx(metres, abs=1e-12)


@given(st.floats(-12.0, 12.0), st.sampled_from(["in", "mm"]))
def test_edit_text_reads_back_to_a_nanometre(metres: float, unit: str) -> None:
    assert parse_length(format_length_text(metres, unit), unit) == pytest.approx(metres, abs=3e-9)  # type: ignore[arg-type]


@given(st.text(alphabet="0123456789 -+./'\"¾½mcinft", max_size=14))
def test_any_text_is_a_length_or_a_clear_error(text: str) -> None:
    try:
        value = parse_length(text, "in")
    except TextError:
        return
    assert abs(value) < 1e14


def test_a_shown_fraction_is_marked_when_it_is_not_the_value() -> None:
    assert format_fraction(34 * INCH) == "34″"
    assert format_fraction(34.01 * INCH) == "≈ 34″"
    assert format_length(34.0101 * INCH, "in") == "34.01″"


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("100 lb", "mass", 45.359237), ("100", "mass", 45.359237), ("5 kg", "mass", 5.0), ("100 lb-ft", "torque", 135.5817948), ("10 N·m", "torque", 10.0),
        ("60", "speed", 26.8224), ("36 km/h", "speed", 10.0), ("180°", "angle", 3.141592653589793), ("70 %", "share", 0.70), ("70", "share", 0.70), ("4.56:1", "ratio", 4.56),
    ],
)  # fmt: skip
def test_other_kinds(text: str, kind: str, si: float) -> None:
    """Exact by definition: lb 0.45359237 kg, lbf 4.4482216152605 N, mile 1609.344 m (NIST SP 811)."""
    assert parse_quantity(text, kind, "in") == pytest.approx(si, rel=1e-9)  # type: ignore[arg-type]


def test_a_unit_of_another_kind_is_refused() -> None:
    with pytest.raises(TextError, match="kg"):
        parse_quantity("5 kg", "torque", "in")


@given(
    st.floats(0.01, 5000),
    st.sampled_from(["mass", "torque", "speed", "angle", "ratio", "share", "rpm"]),
    st.sampled_from(["in", "mm"]),
)
def test_edit_text_of_every_kind_reads_back(value: float, kind: str, unit: str) -> None:
    assert parse_quantity(edit_text(value, kind, unit), kind, unit) == pytest.approx(value, rel=1e-4, abs=1e-6)  # type: ignore[arg-type]


def test_no_number_is_a_dash() -> None:
    assert show(None, "mass", "in") == "–"
    assert show(float("nan"), "length", "mm") == "–"
