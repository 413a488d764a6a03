"""Plate bent in a brake: how much of the flat goes into a bend."""

from __future__ import annotations

import math

NEUTRAL = 0.38
"""Where the neutral line lies, from the inside over the thickness (Machinery's Handbook: 0.33 to 0.44, from memory)."""


def bend_allowance(angle: float, radius: float, thick: float, neutral: float = NEUTRAL) -> float:
    """Flat that a bend takes, m: angle·(r + K·t); ``angle`` bent rad, inner ``radius`` and ``thick`` m, ``neutral`` K.
    Source: Machinery's Handbook, from memory.

    >>> round(bend_allowance(math.pi / 2, 0.006, 0.006), 6)
    0.013006
    """
    return angle * (radius + neutral * thick)


def setback(angle: float, radius: float, thick: float) -> float:
    """From where both outsides would meet to where the bend begins, m: (r + t)·tan(angle/2); ``angle`` bent rad,
    inner ``radius`` and ``thick`` m. Source: a circle between two tangents.

    >>> round(setback(math.pi / 2, 0.006, 0.006), 6)
    0.012
    """
    return (radius + thick) * math.tan(0.5 * angle)


def flat_of(outside: float, flange: float, angle: float, radius: float, thick: float) -> float:
    """Flat length, m, of a part ``outside`` long between two bends with a ``flange`` beyond each (outside sizes, m):
    what is straight and two allowances. ``angle``, ``radius``, ``thick`` as above. Source: as above.

    >>> round(flat_of(0.1, 0.03, math.pi / 2, 0.006, 0.006), 6)
    0.138012
    """
    back = setback(angle, radius, thick)
    return outside + 2 * flange - 4 * back + 2 * bend_allowance(angle, radius, thick)


def box_modulus(wide: float, high: float, wall: float) -> float:
    """Section modulus, m³, of a rectangular tube upright: ``wide``, ``high`` outside, ``wall``, m. A wall of half of
    either is a bar. Source: (b·h³ − b₁·h₁³)/(6·h).

    >>> round(box_modulus(0.05, 0.1, 0.05) * 1e6, 3)
    83.333
    """
    inner = max(wide - 2 * wall, 0.0), max(high - 2 * wall, 0.0)
    return (wide * high**3 - inner[0] * inner[1] ** 3) / (6 * high)
