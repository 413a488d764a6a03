"""A pose of an axle in words."""

from __future__ import annotations

import math

from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


def heave_words(heave: float, unit: UnitSystem) -> str:
    """A heave, m, in words."""
    return (
        "ride height"
        if abs(heave) < 1e-3
        else f"{show(abs(heave), 'length', unit, decimals=1)} of {'bump' if heave > 0 else 'droop'}"
    )


def roll_words(roll: float) -> str:
    """A roll, rad, in words; empty for none."""
    return "" if abs(roll) < 1e-3 else f"{abs(math.degrees(roll)):.0f}° {'left' if roll > 0 else 'right'} side up"


def pose_words(heave: float, roll: float, steer: float | None, unit: UnitSystem) -> str:
    """Where something happens: heave, roll, steer."""
    lean = roll_words(roll)
    turned = (
        ""
        if steer is None or abs(steer) < 1e-3
        else f", steered {abs(math.degrees(steer)):.0f}° {'left' if steer > 0 else 'right'}"
    )
    return f"at {heave_words(heave, unit)}{', ' + lean if lean else ''}{turned}"
