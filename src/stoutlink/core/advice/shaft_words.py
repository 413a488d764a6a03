"""What comes off a shaft, in a sentence."""

from __future__ import annotations

from stoutlink.core.mechanics.narrowing import ShaftRegions
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


def regions_words(at: ShaftRegions, unit: UnitSystem) -> str:
    """How much comes off a shaft, said outright: what cutting takes, and from where it can be splined again."""

    def say(v: float) -> str:
        return show(v, "length", unit, decimals=2 if unit == "in" else 1)

    cut = "spline and engagement not measured" if at.unused is None else f"up to {say(at.unused)} a side by cutting"
    if at.body_from is None:
        return f"{cut}; how far the neck runs is not measured"
    then = f"then nothing until {say(at.body_from)}" if at.unused is not None else f"full body from {say(at.body_from)}"
    if at.takes_spline is None:
        return f"{cut}, {then}; from there if the body is as thick as the teeth are tall"
    if not at.takes_spline:
        return f"{cut}, then nothing: the body is thinner than the teeth are tall"
    return f"{cut}, {then}, in the full body"
