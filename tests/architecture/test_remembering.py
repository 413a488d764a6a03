"""Answers remembered by identity are the right ones, and only for the same values."""

from __future__ import annotations

from stoutlink.core.numerics.remembering import remember_by_identity


def test_equal_but_other_values_are_worked_out_again_and_numbers_go_by_value() -> None:
    calls = []

    @remember_by_identity(2)
    def total(values: tuple[float, ...], factor: float) -> float:
        calls.append(values)
        return factor * sum(values)

    a, b = (1.0, 2.0), tuple(float(v) for v in ("1", "2"))
    assert total(a, 2.0) == total(a, 1.0 + 1.0) == 6.0
    assert len(calls) == 1
    assert total(b, 2.0) == 6.0
    assert len(calls) == 2
    assert total(a, 3.0) == 9.0
    assert total(b, 2.0) == 6.0  # still kept: the last two
    assert len(calls) == 3
    assert total(a, 2.0) == 6.0  # pushed out by then
    assert len(calls) == 4
