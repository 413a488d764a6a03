"""What bears on what was felt: numbers of an axle, which way they should go, why, and how sure that is.

Common practice throughout, but where a line says it follows from statics.
"""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from stoutlink.core.document.log import FeltWord

Way = Literal["up", "down", "zero"]
Sure = Literal["follows", "usual", "argued"]
SURE_WORDS: dict[Sure, str] = {"follows": "follows from statics", "usual": "common practice", "argued": "argued about"}


class Bearing(Struct, frozen=True):
    """A headline number (``number`` at ``end``) that bears on what was felt: which way to move it, why, how sure. ``school`` names one of
    two ways where practitioners disagree."""

    end: str
    number: str
    way: Way
    why: str
    sure: Sure
    school: str = ""


BEARINGS: dict[FeltWord, tuple[Bearing, ...]] = {
    "hops": (
        Bearing("rear", "drive", "down", "Much anti-squat pushes the tyre down hard and lets it spring back: the axle hops.", "usual", "less support"),
        Bearing("rear", "pinion", "down", "A pinion that turns far over the travel winds up and lets go.", "usual"),
        Bearing("rear", "hold", "down", "Bars that are pulled hard sideways give in their bushings and swing.", "argued", "stiffer axle"),
    ),
    "unloads": (
        Bearing("front", "drive", "up", "Anti-lift of the front holds its springs together under power, so the tyres stay loaded.", "follows", "hold the front down"),
        Bearing("rear", "drive", "down", "Less anti-squat lets the rear sit down: the weight stays low.", "argued", "let the rear squat"),
        Bearing("rear", "drive", "up", "More anti-squat keeps the body level, so its weight stays forward.", "argued", "keep it level"),
    ),
    "dives": (
        Bearing("front", "brake", "up", "Anti-dive carries the weight that braking throws forward past the springs.", "follows"),
        Bearing("rear", "brake", "up", "Anti-lift in braking holds the rear down.", "follows"),
    ),
    "wanders": (
        Bearing("rear", "steer", "zero", "Roll steer of the rear axle turns the rig whenever a wheel goes up.", "follows"),
        Bearing("front", "steer", "zero", "Roll steer of the front turns it against the steering wheel.", "follows"),
    ),
    "leans": (
        Bearing("rear", "roll_centre", "up", "The body leans about the roll axis: the nearer its weight, the shorter the lever.", "follows"),
        Bearing("front", "roll_centre", "up", "The body leans about the roll axis: the nearer its weight, the shorter the lever.", "follows"),
    ),
    "steers_itself": (
        Bearing("rear", "steer", "zero", "A rear axle that yaws as it rolls steers from behind.", "follows"),
        Bearing("front", "steer", "zero", "A front axle that yaws as it rolls steers by itself.", "follows"),
    ),
    "vibrates": (
        Bearing("rear", "pinion", "down", "The joints run unevenly where the pinion has turned from where it was set.", "follows"),
        Bearing("front", "pinion", "down", "The joints run unevenly where the pinion has turned from where it was set.", "follows"),
    ),
    "rubs": (),
    "squats": (Bearing("rear", "drive", "up", "Anti-squat carries the weight that throttle throws back past the springs.", "follows"),),
    "lifts": (Bearing("rear", "drive", "down", "Beyond 100 % the links lift the rear under power.", "follows"),),
    "front_rises": (Bearing("front", "drive", "up", "Anti-lift of the front holds it down under power.", "follows"),),
}  # fmt: skip
"""By what was felt or seen."""
ELSEWHERE: dict[FeltWord, str] = {
    "hops": "Also: damping, tyre pressure, and leaves that wrap: none of them is a hole.",
    "vibrates": "Also: balance and run-out of the shaft, worn joints, wheels: look at those first (common practice).",
    "rubs": "No hole moves it: steering stops, wheel offset and bump stops do (Travel, Steering and Contact).",
    "wanders": "Also: toe, caster, worn ends, tyre pressure: look at those first (common practice).",
    "steers_itself": "Also: drag link and panhard that run unlike arcs (Layout, Steering).",
    "leans": "Also: spring rate and an anti-roll bar: they are no holes.",
}  # fmt: skip
"""What no hole changes and is to be looked at as well."""


def wanted_change(bearing: Bearing, now: float, after: float) -> float:
    """How far a number went the way wanted, in its own unit; below 0 the other way.

    >>> wanted_change(Bearing("rear", "steer", "zero", "", "follows"), -0.5, 0.25)
    0.25
    """
    if bearing.way == "up":
        return after - now
    if bearing.way == "down":
        return now - after
    return abs(now) - abs(after)
