"""Two layouts of one axle held against each other: what the one in use does better or otherwise, in words."""

from __future__ import annotations

import math
from collections.abc import Iterator

from stoutlink.core.advice.verdict import gauge_values
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.project import Settings
from stoutlink.core.quantity.shown import show

ANGLE_WORTH, LENGTH_WORTH = math.radians(1.0), 0.006


def differences(settings: Settings, shown: AxleMotion, other: AxleMotion) -> tuple[str, ...]:
    """What the layout in use does otherwise than ``other``, one sentence each, the headline numbers first.

    Each names both numbers, the one in use first. Nothing worth a word gives one sentence that says so.
    """
    out = tuple(_numbers(settings, shown, other)) + tuple(_shape(settings, shown, other))
    return out or ("Nothing between them that is worth a word.",)


def _numbers(settings: Settings, shown: AxleMotion, other: AxleMotion) -> Iterator[str]:
    a, b = gauge_values(settings, shown), gauge_values(settings, other)
    rear = shown.end == "rear"
    unit = settings.units

    def apart(name: str) -> bool:
        return (
            math.isfinite(a[name])
            and math.isfinite(b[name])
            and abs(a[name] - b[name]) > (HEADLINES[name].worth or 0.0)
        )

    if apart("drive"):
        more = a["drive"] > b["drive"]
        what = (
            ("Squats less" if more else "Squats more")
            if rear
            else ("Rises less under throttle" if more else "Rises more under throttle")
        )
        yield f"{what}: {a['drive']:.0f} % against {b['drive']:.0f} %."
    if apart("brake"):
        more = a["brake"] > b["brake"]
        what = (
            ("Rises less under braking" if more else "Rises more under braking")
            if rear
            else ("Dives less" if more else "Dives more")
        )
        yield f"{what}: {a['brake']:.0f} % against {b['brake']:.0f} %."
    if apart("roll_centre"):
        what = "Leans less" if a["roll_centre"] > b["roll_centre"] else "Leans more"
        heights = [show(m.ride.roll_centre_height, "length", unit, decimals=1) for m in (shown, other)]
        yield f"{what}: roll centre {heights[0]} against {heights[1]}."
    if apart("steer"):
        what = "Steers more with roll" if abs(a["steer"]) > abs(b["steer"]) else "Steers less with roll"
        yield f"{what}: {a['steer']:.3f} against {b['steer']:.3f} ° per °."
    if apart("hold"):
        what = "Holds the axle sideways better" if a["hold"] < b["hold"] else "Holds the axle sideways less well"
        yield f"{what}: {a['hold']:.2f} against {b['hold']:.2f} times the side force in the hardest worked link."
    if apart("pinion"):
        what = (
            "Turns the pinion less over the travel"
            if a["pinion"] < b["pinion"]
            else "Turns the pinion more over the travel"
        )
        yield f"{what}: {a['pinion']:.1f}° against {b['pinion']:.1f}°."
    if apart("travel"):
        what = "Reaches more of the travel" if a["travel"] > b["travel"] else "Reaches less of the travel"
        yield f"{what}: {a['travel']:.0%} against {b['travel']:.0%}."


def _shape(settings: Settings, shown: AxleMotion, other: AxleMotion) -> Iterator[str]:
    one, two = shown.drawn.triangulation, other.drawn.triangulation
    if shown.drawn.pairs and other.drawn.pairs and abs(one - two) > ANGLE_WORTH:
        more = "more" if one > two else "less"
        yield (
            f"The pairs spread {math.degrees(abs(one - two)):.0f}° {more} in plan: included angles add up to "
            f"{math.degrees(one):.0f}° against {math.degrees(two):.0f}°."
        )
    for link in shown.layout.links:
        partner = other.layout.link(link.id)
        if partner is None:
            yield f"{link.name} is not in the other."
            continue
        here, there = (math.dist(one.frame_pivot_m, one.axle_pivot_m) for one in (link, partner))
        if abs(here - there) > LENGTH_WORTH and link.side != "right":
            what = "longer" if here > there else "shorter"
            yield f"{link.name} is {show(abs(here - there), 'length', settings.units)} {what}."
    for link in other.layout.links:
        if shown.layout.link(link.id) is None:
            yield f"{link.name} of the other is not in this one."
