"""Days as people write them: ``2026-11-28``, ``28.11.2026``, ``28 Nov 2026``, ``Nov 28, 2026``; what could be two days is asked about.

Source: ISO 8601 for year, month, day; the others as they are written about.
"""

from __future__ import annotations

import datetime
import re

from stoutlink.core.errors import TextError

_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_ACCEPTED = "Accepted: 2026-11-28, 28.11.2026, 28 Nov 2026, Nov 28, 2026."


def parse_date(text: str) -> datetime.date:
    """Read a day. Raises :class:`~stoutlink.core.errors.TextError` for what is none, and for ``3/4/2026``, which is
    the third of April to some and the fourth of March to others.

    ``text`` is what was typed.

    >>> parse_date("28 Nov 2026") == parse_date("2026-11-28") == parse_date("28.11.2026") == parse_date("11/28/2026")
    True
    """
    plain = " ".join(text.replace(",", " ").split()).casefold()
    if match := re.fullmatch(r"(\d{4})-(\d{1,2})-(\d{1,2})", plain):
        return _day(text, match[1], match[2], match[3])
    if match := re.fullmatch(r"(\d{1,2})\. ?(\d{1,2})\. ?(\d{4})", plain):
        return _day(text, match[3], match[2], match[1])
    if match := re.fullmatch(r"(\d{1,2})\.? ([a-z]{3,9})\.? (\d{4})", plain):
        return _day(text, match[3], _month(text, match[2]), match[1])
    if match := re.fullmatch(r"([a-z]{3,9})\.? (\d{1,2}) (\d{4})", plain):
        return _day(text, match[3], _month(text, match[1]), match[2])
    if match := re.fullmatch(r"(\d{1,2})/(\d{1,2})/(\d{4})", plain):
        one, two = int(match[1]), int(match[2])
        if one <= 12 and two <= 12 and one != two:
            first, second = _day(text, match[3], one, two), _day(text, match[3], two, one)
            raise TextError(
                "Q112",
                f"“{text.strip()}” could be {show_date(first)} or {show_date(second)}.",
                "Write the month as a word, or the year first.",
            )
        month, day = (one, two) if one <= 12 else (two, one)
        return _day(text, match[3], month, day)
    raise TextError("Q111", f"“{text.strip()[:24]}” is not a day.", _ACCEPTED)


def show_date(day: datetime.date) -> str:
    """Write a ``day`` as text for reading, the month as a word.

    >>> show_date(datetime.date(2026, 11, 28))
    '28 Nov 2026'
    """
    return f"{day.day} {_MONTHS[day.month - 1].capitalize()} {day.year}"


def _month(text: str, word: str) -> int:
    if word[:3] not in _MONTHS:
        raise TextError("Q111", f"“{text.strip()[:24]}” is not a day: there is no month “{word}”.", _ACCEPTED)
    return _MONTHS.index(word[:3]) + 1


def _day(text: str, year: str | int, month: str | int, day: str | int) -> datetime.date:
    try:
        return datetime.date(int(year), int(month), int(day))
    except ValueError:
        raise TextError("Q111", f"“{text.strip()[:24]}” is not a day of the calendar.", _ACCEPTED) from None
