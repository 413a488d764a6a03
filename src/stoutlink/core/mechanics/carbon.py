"""Carbon equivalent of a steel, and what it asks of whoever welds it."""

from __future__ import annotations

from typing import Literal

Says = Literal["plain", "preheat", "outside"]
PREHEAT = 0.45
"""From this carbon equivalent on, preheat is asked about even in thin plate (common practice)."""
MOST_CARBON, MOST_EQUIVALENT = 0.25, 0.70
"""Range of the standard's method A: carbon and equivalent, % (EN 1011-2, from memory)."""


def carbon_equivalent(c: float, mn: float, cr: float, mo: float, v: float, ni: float, cu: float) -> float:
    """CE, % by mass, of the contents ``c``, ``mn``, ``cr``, ``mo``, ``v``, ``ni`` and ``cu`` in %: C + Mn/6 + (Cr + Mo + V)/5 + (Ni + Cu)/15. Source: EN 1011-2 (IIW formula).

    >>> round(carbon_equivalent(0.30, 0.50, 0.95, 0.20, 0.0, 0.0, 0.0), 3)
    0.613
    """
    return c + mn / 6.0 + (cr + mo + v) / 5.0 + (ni + cu) / 15.0


def says(c: float, equivalent: float) -> Says:
    """What a steel of carbon ``c`` and this ``equivalent``, %, asks for: nothing more, preheat, or that the standard's
    range does not cover it. Source: EN 1011-2, from memory.

    >>> says(0.18, 0.38), says(0.2, 0.47), says(0.3, 0.61)
    ('plain', 'preheat', 'outside')
    """
    if c > MOST_CARBON or equivalent > MOST_EQUIVALENT:
        return "outside"
    return "preheat" if equivalent >= PREHEAT else "plain"
