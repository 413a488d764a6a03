"""What one answer of a search gives up against the others, in words."""

from __future__ import annotations

from collections.abc import Sequence

from stoutlink.core.analysis.search.find import Answer
from stoutlink.core.document.headline import HEADLINES, headline_words
from stoutlink.core.quantity.length_text import UnitSystem

BETTER_LOW = tuple(one.id for one in HEADLINES.values() if one.searched and one.better == "low")


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
