"""Length text: ``3' 5 1/2"`` to metres and back, exactly.

1 in = 25.4 mm exactly (international inch, 1959). Nothing is guessed: what is not understood is an error
that says so, and the caller keeps the old value.

Source: agreement of 1959 (NIST SP 811, appendix B).
"""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Literal

from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.number_text import (
    nearest_fraction,
    not_understood,
    parse_unsigned,
    split_sign,
    tidy,
)

UnitSystem = Literal["in", "mm"]

METRES = {
    "mm": Fraction(1, 1000),
    "cm": Fraction(1, 100),
    "m": Fraction(1),
    "in": Fraction(254, 10000),
    "ft": Fraction(3048, 10000),
    "thou": Fraction(254, 10_000_000),
}
_SUFFIX = re.compile(
    r'(.*?)\s*(thou|"|inches|inch|in\.?|feet|foot|ft\.?|\'|millimetres|mm|centimetres|cm|metres|m)$', re.IGNORECASE
)
_FEET = re.compile(r"(.+?)\s*(?:'|feet|foot|ft\.?)(\s*-(?=\S)|\s*)(.*)", re.IGNORECASE)
_NAMES = {
    '"': "in", "inches": "in", "inch": "in", "in": "in", "in.": "in",
    "'": "ft", "feet": "ft", "foot": "ft", "ft": "ft", "ft.": "ft",
    "thou": "thou", "mm": "mm", "millimetres": "mm", "cm": "cm", "centimetres": "cm", "m": "m", "metres": "m",
}  # fmt: skip
EXACT = 1e-9


def parse_length(text: str, unit: UnitSystem = "in") -> float:
    """Read a length and return metres; a bare number in ``text`` is in ``unit``.

    Raises :class:`~stoutlink.core.errors.TextError` for anything that is not a length.

    >>> parse_length('41 1/2')
    1.0541
    >>> parse_length("3' 5 1/2\\"") == parse_length("41-1/2") == parse_length("105.41cm")
    True
    >>> parse_length("-1 1/2")
    -0.0381
    """
    plain = tidy(text)
    sign, body = split_sign(plain)
    if (match := _FEET.fullmatch(body)) and match[3]:
        feet = parse_unsigned(match[1], text)
        rest = match[3]
        if (inch := _SUFFIX.fullmatch(rest)) is not None:
            if _NAMES[inch[2].lower()] != "in":
                raise not_understood(text, rest)
            rest = inch[1]
        metres = feet * METRES["ft"] + parse_unsigned(rest, text) * METRES["in"]
    elif (match := _SUFFIX.fullmatch(body)) is not None:
        metres = parse_unsigned(match[1], text) * METRES[_NAMES[match[2].lower()]]
    else:
        metres = parse_unsigned(body, text) * METRES[unit]
    return sign * float(metres)


def format_length(metres: float, unit: UnitSystem, *, decimals: int | None = None, places: int | None = None) -> str:
    """Write a length for reading.

    Inches: a fraction when it *is* that 1/64 to 1e-9 m, otherwise a decimal (2 places by default). Millimetres: one
    place, dropped when zero. ``places`` is what stands in for 2 and 1 (a thousandth shows as one). ``metres`` is the
    value, ``unit`` the system, ``decimals`` how many places of a decimal, ``None`` for the usual.

    >>> format_length(1.0541, "in"), format_length(1.0542, "in"), format_length(1.0541, "mm")
    ('41 1/2″', '41.50″', '1054.1 mm')
    """
    if unit == "mm":
        if decimals is None and places is not None:
            return f"{_fixed(metres * 1000, places)} mm"
        return f"{_plain(metres * 1000, 1 if decimals is None else decimals)} mm"
    inches = metres / INCH
    if decimals is None and abs(round(inches * 64) / 64 * INCH - metres) <= EXACT:
        return nearest_fraction(inches, 64).replace("-", "−") + "″"
    shown = (2 if places is None else places) if decimals is None else decimals
    return f"{_fixed(inches, shown)}″"


def _fixed(value: float, decimals: int) -> str:
    """So many decimals; what is nothing when rounded has no minus."""
    text = f"{value:.{decimals}f}"
    return (text.lstrip("-") if float(text) == 0 else text).replace("-", "−")


def format_length_text(metres: float, unit: UnitSystem) -> str:
    """Write a length so that :func:`parse_length` gives back the same metres to 1e-9 (for edit fields).

    ``unit`` is the system to write in.

    >>> format_length_text(1.0541, "in"), format_length_text(0.1234567, "mm")
    ('41 1/2', '123.4567')
    """
    if unit == "in" and abs(round(metres / INCH * 64) / 64 * INCH - metres) <= EXACT:
        return nearest_fraction(metres / INCH, 64)
    value = metres / float(METRES[unit])
    text = f"{value:.7f}".rstrip("0").rstrip(".")
    return text if text not in ("-0", "") else "0"


def format_fraction(metres: float, denominator: int = 16) -> str:
    """Inches rounded to 1/``denominator`` for marking out, with ``≈`` unless the fraction is exact.

    ``metres`` is the value.

    >>> format_fraction(0.8636), format_fraction(0.8640)
    ('34″', '≈ 34″')
    """
    inches = metres / INCH
    exact = abs(round(inches * denominator) / denominator * INCH - metres) <= EXACT
    return ("" if exact else "≈ ") + nearest_fraction(inches, denominator).replace("-", "−") + "″"


def _plain(value: float, decimals: int) -> str:
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text.replace("-", "−")
