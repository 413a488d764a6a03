"""Numbers typed with their doubt, and the kinds a field can have."""

from __future__ import annotations

import math
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.errors import TextError
from stoutlink.core.quantity.shown import Kind, edit_text, parse_quantity, parse_typed, show, unit_name

KINDS: tuple[Kind, ...] = get_args(Kind)


@given(
    st.sampled_from(KINDS),
    st.sampled_from(["in", "mm"]),
    st.floats(-50, 50),
    st.floats(0, 5),
    st.booleans(),
    st.sampled_from([" ± ", "±", " +/- ", "+-"]),
)
def test_value_and_doubt_survive_the_field(
    kind: Kind, unit: str, value: float, sigma: float, estimated: bool, sign: str
) -> None:
    """What a field offers reads back: the value to its last digit, the ± as twice σ, the mark of an estimate."""
    text = (
        f"{'~' if estimated else ''}{edit_text(value, kind, unit)}{sign}{edit_text(2 * sigma, kind, unit, apart=True)}"  # type: ignore[arg-type]
    )
    typed = parse_typed(text, kind, unit)  # type: ignore[arg-type]
    step = abs(parse_quantity("0.000001", kind, unit))  # type: ignore[arg-type]
    assert typed.value == pytest.approx(value, abs=2 * step)
    assert typed.sigma is not None
    assert typed.sigma == pytest.approx(sigma, abs=2 * step)
    assert typed.estimated is estimated


@pytest.mark.parametrize("text", ["34 ± ", "34 ± x", "± 1", "~", "34 ± −1", "34 ± 1 ± 2", "34 ± 1/0"])
def test_doubt_that_is_none_is_an_error_and_not_a_guess(text: str) -> None:
    with pytest.raises(TextError):
        parse_typed(text, "length", "in")


def test_a_plain_number_has_no_doubt_of_its_own() -> None:
    typed = parse_typed("41 1/2", "length", "in")
    assert typed.sigma is None
    assert not typed.estimated
    assert typed.text == "41 1/2"


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [("100 psi", "pressure", 689475.729), ("2 bar", "pressure", 2e5), ("180 kPa", "pressure", 1.8e5), ("30°", "angle", math.pi / 6), ("55 mph", "speed", 24.5872), ("100 lb", "mass", 45.359237)],
)  # fmt: skip
def test_units_by_their_definitions(text: str, kind: Kind, si: float) -> None:
    """1 psi = 6894.757293168 Pa, 1 mph = 0.44704 m/s, 1 lb = 0.45359237 kg (definitions, NIST SP 811 appendix B)."""
    assert parse_quantity(text, kind, "mm") == pytest.approx(si, rel=1e-9)


def test_temperatures_have_a_zero_of_their_own_and_differences_have_not() -> None:
    """°F = 9/5·°C + 32 (definition)."""
    for f, c in ((32.0, 0.0), (212.0, 100.0), (-40.0, -40.0)):
        assert parse_quantity(f"{f} °F", "temperature", "mm") == pytest.approx(c)
        assert parse_quantity(f"{f:g}", "temperature", "in") == pytest.approx(c)
        assert parse_quantity(f"{c:g} °C", "temperature", "in") == pytest.approx(c)
    assert show(100.0, "temperature", "in") == "212 °F"
    assert show(20.0, "temperature", "mm") == "20 °C"
    assert show(10.0, "temperature", "in", apart=True) == "18 °F"
    typed = parse_typed("176 ± 18", "temperature", "in")
    assert typed.value == pytest.approx(80.0)
    assert typed.sigma == pytest.approx(5.0)
    assert edit_text(5.0, "temperature", "in", apart=True) == "9"
    assert edit_text(80.0, "temperature", "in") == "176"


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_shows_in_both_systems(kind: Kind) -> None:
    for unit in ("in", "mm"):
        text = show(1.25, kind, unit)
        assert text[0].isdigit()
        below = -100.0 if kind == "temperature" else -1.25  # which has no zero of its own in °F
        assert show(below, kind, unit).startswith("−") or "0" in text
        assert show(None, kind, unit) == "–"
        assert show(math.nan, kind, unit) == "–"
        assert isinstance(unit_name(kind, unit), str)
