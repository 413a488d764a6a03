"""Money to the cent: each amount rounded half up by itself, sums of whole cents.

Source: rounding half up as a till does (ROUND_HALF_UP of the standard library's decimal arithmetic).
"""

from __future__ import annotations

import math
from collections.abc import Iterable

HAIR = 1e-6
"""Of a cent: what binary numbers leave of an amount that was typed in decimals."""


def cents(amount: float) -> int:
    """An amount in whole cents, half a cent up (of a credit: away from zero, as a till does).

    >>> cents(1.005), cents(0.004999), cents(-2.675), cents(19.99)
    (101, 0, -268, 1999)
    """
    whole = math.floor(abs(amount) * 100.0 + 0.5 + HAIR)
    return whole if amount >= 0 else -whole


def to_cents(amount: float) -> float:
    """An amount in the same currency, rounded to the cent.

    >>> to_cents(3 * 33.335), to_cents(0.1 + 0.2)
    (100.01, 0.3)
    """
    return cents(amount) / 100.0


def total(amounts: Iterable[float]) -> float:
    """The sum of amounts in one currency, each rounded to the cent first: no cent is lost however many there are.

    >>> total([0.1] * 1000), total([]), total([0.005, 0.005])
    (100.0, 0.0, 0.02)
    """
    return sum(cents(a) for a in amounts) / 100.0
