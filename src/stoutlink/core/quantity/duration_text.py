"""How long something takes, as people write it: ``1 h 30 min``, ``90 min``, ``1:30``, ``2 d``.

Source: ISO 80000-3, hour and day in seconds.
"""

from __future__ import annotations

import re

from stoutlink.core.errors import TextError
from stoutlink.core.quantity.number_text import parse_unsigned, tidy

_UNITS = {
    "s": 1.0, "sec": 1.0, "min": 60.0, "m": 60.0, "h": 3600.0, "hr": 3600.0, "hour": 3600.0, "hours": 3600.0,
    "d": 86400.0, "day": 86400.0, "days": 86400.0, "week": 604800.0, "weeks": 604800.0,
}  # fmt: skip
_CLOCK = re.compile(r"(\d{1,4}):([0-5]\d)")
_PART = re.compile(r"([\d./ ]*[\d.])\s*([a-z]+)\s*")


def parse_duration(text: str) -> float:
    """Read a duration and return seconds; a bare number is hours, days are of 24 hours.

    Raises :class:`~stoutlink.core.errors.TextError` for anything else. ``text`` is what was typed.

    >>> parse_duration("1:30"), parse_duration("1 1/2 h"), parse_duration("2 d 4 h"), parse_duration("0.5")
    (5400.0, 5400.0, 187200.0, 1800.0)
    """
    plain = tidy(text).casefold()
    if match := _CLOCK.fullmatch(plain):
        return 3600.0 * int(match[1]) + 60.0 * int(match[2])
    parts = _PART.findall(plain)
    if parts and _PART.sub("", plain) == "" and all(unit in _UNITS for _, unit in parts):
        return sum(float(parse_unsigned(number, text)) * _UNITS[unit] for number, unit in parts)
    if re.search("[a-z:]", plain):
        raise TextError("Q110", f"“{text.strip()[:24]}” is not a duration.", "Accepted: 1 h 30 min, 90 min, 1:30, 2 d.")
    return 3600.0 * float(parse_unsigned(plain, text))


def format_duration(seconds: float) -> str:
    """Write seconds for reading: days of 24 hours, hours and minutes, seconds only under a minute.

    >>> format_duration(5400), format_duration(187200), format_duration(45), format_duration(0)
    ('1 h 30 min', '2 d 4 h', '45 s', '0 min')
    """
    sign, whole = ("−" if seconds < 0 else ""), abs(seconds)
    if 0 < whole < 59.5:
        return f"{sign}{whole:.0f} s"
    minutes = round(whole / 60.0)
    days, hours, left = minutes // 1440, minutes % 1440 // 60, minutes % 60
    parts = [f"{n} {unit}" for n, unit in ((days, "d"), (hours, "h"), (left, "min")) if n]
    return sign + (" ".join(parts) or "0 min")
