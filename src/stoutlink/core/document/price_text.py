"""What a person types for the price of a line, read."""

from __future__ import annotations

import re

from msgspec import Struct

from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import parse_quantity

_HOURS = re.compile(r"(.*?)(?:^|[\s,;/])\s*([0-9][0-9.,]*)\s*(?:h|hr|hrs|hours?)$", re.IGNORECASE)


_PAID = re.compile(r"[\s,;/]*\bpaid\b\s*([0-9][0-9.,]*)?\s*$", re.IGNORECASE)


class PriceText(Struct, frozen=True):
    """Money and hours (None: as the estimate), what is paid of it (None: nothing said), and whether it was meant for
    both ends."""

    amount: float | None
    hours: float | None
    both: bool
    paid: float | None = None


def read_price(text: str, unit: UnitSystem) -> PriceText:
    """Read ``240``, ``240, 6 h``, ``6 h``, each with ``paid 80`` or ``both`` behind it; ``paid`` alone is all of it;
    nothing goes back to the estimate. Raises
    :class:`~stoutlink.core.errors.StoutError` for what is neither.

    >>> read_price("240.50, 6 h both", "in")
    PriceText(amount=240.5, hours=6.0, both=True, paid=None)
    >>> read_price("240, 6 h, paid 80", "in").paid, read_price("240 paid", "in").paid
    (80.0, 240.0)
    >>> read_price("1.5 h", "in"), read_price("", "in")
    (PriceText(amount=None, hours=1.5, both=False, paid=None), PriceText(amount=None, hours=None, both=False, paid=None))
    """
    rest = text.strip()
    both = rest.casefold().endswith("both")
    rest = rest[: -len("both")].strip(" ,;") if both else rest
    said = _PAID.search(rest)
    rest = rest if said is None else (rest[: said.start()] + rest[said.end() :]).strip(" ,;")
    hours = None
    if match := _HOURS.fullmatch(rest):
        rest, hours = match[1].strip(" ,;/"), parse_quantity(match[2], "hours", unit)
    amount = parse_quantity(rest, "money", unit) if rest else None
    paid = None if said is None else parse_quantity(said[1], "money", unit) if said[1] else amount
    return PriceText(amount, hours, both, paid)


def money_words(amount: float) -> str:
    """Money as typed: to the cent where there are cents.

    >>> money_words(1510.64), money_words(240.0), money_words(-12.5)
    ('1510.64', '240', '−12.50')
    """
    whole = abs(amount - round(amount)) < 0.005
    return f"{amount:.0f}".replace("-", "−") if whole else f"{amount:.2f}".replace("-", "−")
