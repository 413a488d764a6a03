"""The numbers of a search in words, and what one answer gives up against the others."""

from __future__ import annotations

from collections.abc import Sequence

from stoutlink.core.analysis.search.find import Answer
from stoutlink.core.analysis.search.question import USUAL
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

WANT_WORDS: dict[str, str] = {
    "drive": "anti-squat, %", "brake": "braking, %", "roll_centre": "roll centre, part of CG", "inclination": "roll axis, °", "steer": "roll steer, °/°",
    "hold": "sideways hold, ×", "pinion": "pinion change, °", "bind": "bushings give", "longest": "longest link", "shortest": "shortest link",
    "clearance": "room to spare", "travel": "travel reached",
}  # fmt: skip
"""The front axle's drive number is its anti-lift; the field is the same."""
_SHORT: dict[str, tuple[str, str]] = {
    "drive": ("drive", "{:.0f} %"), "brake": ("braking", "{:.0f} %"), "roll_centre": ("roll centre", "{:.2f} of CG"), "inclination": ("roll axis", "{:.1f}°"),
    "steer": ("roll steer", "{:.3f}"), "hold": ("hold", "{:.2f}×"), "pinion": ("pinion", "{:.1f}°"), "travel": ("travel", "{:.0%}"),
}  # fmt: skip
_LENGTHS = {"bind": "bushings give", "longest": "longest", "shortest": "shortest", "clearance": "room"}
_BETTER_LOW = ("hold", "pinion", "bind")


def number_words(name: str, value: float, unit: UnitSystem) -> str:
    """One number with its word.

    >>> number_words("hold", 2.5, "in"), number_words("drive", 112.4, "mm")
    ('hold 2.50×', 'drive 112 %')
    """
    if name in _LENGTHS:
        return f"{_LENGTHS[name]} {'plenty' if value > 5 else show(value, 'length', unit, decimals=2 if unit == 'in' else 1)}"
    word, form = _SHORT[name]
    return f"{word} {form.format(value)}".replace("-", "−")


def gives_up(one: Answer, answers: Sequence[Answer], unit: UnitSystem) -> str:
    """Where another answer is better by half a usual difference or more, in one short sentence; "" where none is."""
    out = []
    for name in _BETTER_LOW:
        if name not in one.values:
            continue
        best = min(a.values[name] for a in answers)
        if one.values[name] - best > 0.5 * USUAL[name]:
            out.append(
                f"{number_words(name, one.values[name], unit)} where another has {number_words(name, best, unit).split(' ', 1)[1]}"
            )
    if "roll_centre" in one.values:
        best = max(a.values["roll_centre"] for a in answers)
        if best - one.values["roll_centre"] > 0.5 * USUAL["roll_centre"]:
            out.append(f"roll centre {one.values['roll_centre']:.2f} where another has {best:.2f}")
    return f"Gives up: {'; '.join(out[:2])}." if out else ""
