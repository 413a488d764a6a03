"""Numbers as people write them: decimals, fractions, mixed numbers and the typographic fractions.

Source: arithmetic of fractions; the signs of Unicode, number forms.
"""

from __future__ import annotations

import re
import unicodedata
from fractions import Fraction

from stoutlink.core.errors import TextError

_DECIMAL = re.compile(r"\d+\.\d*|\.\d+|\d+")
_FRACTION = re.compile(r"(\d+)/(\d+)")
_MIXED = re.compile(r"(\d+)(?:\s+|-)(\d+)/(\d+)")
_COMMA = re.compile(r"(\d+),(\d+)")
_LONGEST = 60
DIVIDED = (2, 3, 4, 5, 6, 8, 10, 12, 16, 20, 32, 64, 100)
"""What tapes and scales are divided in; any other fraction beside a whole number is two numbers run together."""


def tidy(text: str) -> str:
    """Put typed text into plain characters: primes, minus signs, fraction slashes, ``¾`` to `` 3/4``.

    >>> tidy('22¾″')
    '22 3/4"'
    """
    out: list[str] = []
    for char in text.replace("''", '"'):
        if char in "′’‘ʹ":
            out.append("'")
        elif char in "″”“ʺ":
            out.append('"')
        elif char in "−–":
            out.append("-")
        elif char in "⁄∕":
            out.append("/")
        elif char in "\u00a0\u2009\u202f\t":
            out.append(" ")
        elif unicodedata.category(char) == "No" and unicodedata.decomposition(char).startswith("<fraction>"):
            part = Fraction(unicodedata.numeric(char)).limit_denominator(64)
            out.append(f" {part.numerator}/{part.denominator}")
        else:
            out.append(char)
    return "".join(out).strip()


def parse_unsigned(text: str, whole_text: str) -> Fraction:
    """Read one unsigned number exactly; ``whole_text`` is what the user typed, for the message.

    Accepts ``41``, ``41.5``, ``41,5``, ``.5``, ``1/2``, ``41 1/2`` and ``41-1/2``. Raises :class:`TextError` otherwise, also
    for a zero denominator and for a mixed number whose fraction is one or more. ``text`` is the number alone, no
    sign.

    >>> parse_unsigned("41-1/2", "41-1/2"), parse_unsigned("41,5", "41,5")
    (Fraction(83, 2), Fraction(83, 2))
    """
    text = text.strip()
    if len(whole_text) > _LONGEST:
        raise TextError("Q104", f"“{whole_text[:24]}…” is too long to be a number.", "Type a number such as 41 1/2.")
    if (match := _COMMA.fullmatch(text)) and text.isascii():
        text = _with_point(match[1], match[2], whole_text)
    if _DECIMAL.fullmatch(text) and text.isascii():
        return Fraction(text + "0" if text.endswith(".") else text)
    if (match := _FRACTION.fullmatch(text)) and text.isascii():
        return _divide(match[1], match[2], whole_text)
    if (match := _MIXED.fullmatch(text)) and text.isascii():
        if int(match[3]) not in DIVIDED and int(match[3]) != 0:
            raise TextError(
                "Q107",
                f"In “{whole_text}” the fraction is in {match[3]}ths, which nothing is divided in.",
                "Write halves to 64ths, thirds, fifths, tenths, twelfths, or a decimal.",
            )
        part = _divide(match[2], match[3], whole_text)
        if part >= 1:
            raise TextError(
                "Q102",
                f"In “{whole_text}” the fraction {match[2]}/{match[3]} is not less than one.",
                "Write the whole part and a proper fraction, such as 41 1/2.",
            )
        return Fraction(match[1]) + part
    raise not_understood(whole_text, text)


def _with_point(whole: str, part: str, whole_text: str) -> str:
    """A decimal comma as a point, where it can only be that; raises where it may stand between thousands."""
    if len(part) == 3 and len(whole) <= 3 and whole.strip("0"):
        raise TextError(
            "Q108",
            f"“{whole_text}” may be {whole}.{part} or {whole}{part}.",
            f"Type {whole}.{part}, or {whole}{part} without the comma.",
        )
    return f"{whole}.{part}"


def _divide(top: str, bottom: str, whole_text: str) -> Fraction:
    if int(bottom) == 0:
        raise TextError("Q103", f"“{whole_text}” divides by zero.", "Write a fraction such as 1/2.")
    return Fraction(int(top), int(bottom))


def not_understood(whole_text: str, part: str) -> TextError:
    """The error for text that is no number: names the part that was not understood.

    ``whole_text`` is what was typed.

    >>> not_understood("34 1/4 x", "x").code
    'Q101'
    """
    shown = part.strip() or whole_text.strip()
    if not shown:
        return TextError("Q100", "Nothing was typed.", "Type a number such as 41 1/2.")
    return TextError(
        "Q101",
        f"“{shown}” in “{whole_text.strip()}” is not understood."
        if shown != whole_text.strip()
        else f"“{shown}” is not understood.",
        "Accepted: 41 1/2, 41-1/2, 41.5, a fraction such as 5/8.",
    )


def split_sign(text: str) -> tuple[int, str]:
    """Split off one leading sign; a minus covers the whole mixed number.

    ``text`` is the number with or without a sign; returns ±1 and the rest.

    >>> split_sign("-3 1/2")
    (-1, '3 1/2')
    """
    if text[:1] in "+-" and text:
        return (-1 if text[0] == "-" else 1), text[1:].lstrip()
    return 1, text


def nearest_fraction(value: float, denominator: int) -> str:
    """Write ``value`` (any unit) rounded to 1/``denominator`` as the text of a mixed number, rounding halves up.

    >>> nearest_fraction(41.5, 16), nearest_fraction(-0.25, 16), nearest_fraction(0.999, 16)
    ('41 1/2', '-1/4', '1')
    """
    steps = int(abs(value) * denominator + 0.5)
    whole, rest = divmod(steps, denominator)
    sign = "-" if value < 0 and steps else ""
    part = Fraction(rest, denominator)
    if not rest:
        return f"{sign}{whole}"
    return f"{sign}{whole} {part}" if whole else f"{sign}{part}"
