"""What one answer of a search has free of its travel, and what it gives up against the others, in words."""

from __future__ import annotations

from collections.abc import Sequence

from stoutlink.core.analysis.search.find import Answer
from stoutlink.core.document.headline import HEADLINES, headline_words
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

BETTER_LOW = tuple(one.id for one in HEADLINES.values() if one.searched and one.better == "low")


def free_words(one: Answer, unit: UnitSystem) -> str:
    """How much of its travel is free, and what comes nearest; empty until it has been cycled."""
    if one.free is None:
        return ""
    words = f"{one.free:.0%} of the travel free"
    if one.nearest is None:
        return f"{words}."
    a, b, gap = one.nearest
    near = show(abs(gap), "length", unit, decimals=2 if unit == "in" else 0)
    return f"{words}: {a} {near} {'into' if gap < 0 else 'from'} {b}."


def gives_up(one: Answer, answers: Sequence[Answer], unit: UnitSystem) -> str:
    """Where another answer is better by half a usual difference or more, in one short sentence; "" where none is."""
    out = []
    for name in BETTER_LOW:
        if name not in one.values:
            continue
        best = min(a.values[name] for a in answers)
        if one.values[name] - best > 0.5 * HEADLINES[name].usual:
            out.append(
                f"{headline_words(name, one.values[name], unit)} where another has {headline_words(name, best, unit).split(' ', 1)[1]}"
            )
    if "roll_centre" in one.values:
        best = max(a.values["roll_centre"] for a in answers)
        if best - one.values["roll_centre"] > 0.5 * HEADLINES["roll_centre"].usual:
            out.append(f"roll centre {one.values['roll_centre']:.2f} where another has {best:.2f}")
    return f"Gives up: {'; '.join(out[:2])}." if out else ""
