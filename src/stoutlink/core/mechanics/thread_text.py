"""A thread as it is written on a record: metric or inch, with its pitch."""

from __future__ import annotations

import re
from fractions import Fraction

from stoutlink.core.mechanics.bolt_torque import INCH, Thread

_METRIC = re.compile(r"m\s*(\d{1,2}(?:\.\d+)?)\s*[x×*-]\s*(\d(?:\.\d{1,2})?)", re.IGNORECASE)
_INCH = re.compile(r"(\d{1,2}/\d{1,2}|\d?\.\d{1,4}|1)\s*(?:in|\")?\s*[x×-]\s*(\d{1,2})", re.IGNORECASE)


def thread_of(text: str) -> Thread | None:
    """The thread a ``text`` names, diameter and pitch in m; ``None`` for one that is not understood. Source: how unified
    and metric threads are designated (ASME B1.1, ISO 261).

    >>> thread_of("M14 x 1.5").pitch, round(thread_of("1/2-20").diameter * 1e3, 1), thread_of("wheel stud")
    (0.0015, 12.7, None)
    """
    words = text.strip()
    if found := _METRIC.fullmatch(words):
        d, p = float(found[1]), float(found[2])
        return Thread(f"M{d:g} × {p:g}", d * 1e-3, p * 1e-3, True) if 0.25 <= p < 0.5 * d else None
    if found := _INCH.fullmatch(words):
        size, threads = float(Fraction(found[1])) if "/" in found[1] else float(found[1]), int(found[2])
        if not 0.1 <= size <= 2.0 or threads < 4:
            return None
        return Thread(f"{found[1]}-{threads}", size * INCH, INCH / threads, False)
    return None
