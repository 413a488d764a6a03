"""What cycling an axle shows: parts that touch or come near, shocks and slip that run out, driveline and steering
past their limits.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from stoutlink.core.advice.finding import Finding
from stoutlink.core.advice.pose_words import pose_words
from stoutlink.core.analysis.cycle.solids_apart import Overlap
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.cycle.travel_map import TravelMap
from stoutlink.core.mechanics.driveline import LIMIT_DRIVE, LIMIT_INERTIA, WHIRL_PART
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

MOST = 6
"""Pairs of one axle named one by one; the rest is counted."""
PINION_OFF = math.radians(2.0)
"""A pinion further than this from what its joints want is worth a word (estimate)."""
WHEEL_STEER = math.radians(4.0)
"""Heading of a road wheel over the whole travel, steering wheel held, that is worth a word (estimate)."""


def overlap_findings(found: tuple[Overlap, ...], unit: UnitSystem) -> Iterator[Finding]:
    """Two things in one place."""
    for o in found:
        kept = [s.name for s in (o.one, o.other) if s.kind == "room_kept"]
        what = "room kept twice" if len(kept) == 2 else "room kept where something is" if kept else "two solids"
        yield Finding(
            "S113",
            "warn",
            f"{o.one.name} and {o.other.name} are in one place: {show(o.depth, 'length', unit, decimals=1)} into each other ({what}).",
            "One of them is measured or drawn wrong, or a part planned here has no room.",
            "tape",
            f"{o.one.id} {o.other.id} overlap",
        )


def travel_findings(travel: AxleTravel, found: TravelMap, unit: UnitSystem) -> Iterator[Finding]:
    """Everything the travel of one axle has to say."""
    layout, end = travel.layout, travel.layout.end
    decimals = 2 if unit == "in" else 0
    bad = [c for c in travel.interference.contacts if c.spare < 0]
    for c in bad[:MOST]:
        where, subject = pose_words(c.heave, c.roll, c.steer, unit), f"{layout.id} {c.one} {c.other}"
        if c.least < 0:
            yield Finding(
                "T301",
                "danger",
                f"{end.capitalize()} axle: {c.one} runs {show(-c.least, 'length', unit, decimals=decimals)} into {c.other} {where}.",
                "What touches in the drawing bends, wears through or jams on the rig. Move one of them, or end the travel before it with a stop.",
                "travel",
                subject,
            )
        else:
            yield Finding(
                "T302",
                "warn",
                f"{end.capitalize()} axle: {c.one} comes within {show(c.least, 'length', unit, decimals=decimals)} of {c.other} {where}; {show(c.wanted, 'length', unit, decimals=decimals)} is wanted.",
                "Bushings give, tubes flex and tape readings are off by a little.",
                "travel",
                subject,
            )
    if len(bad) > MOST:
        yield Finding(
            "T303",
            "warn",
            f"{len(bad) - MOST} more pairs touch or come near on the {end} axle.",
            "Travel, Touching lists them, the nearest first.",
            "travel",
            layout.id,
        )
    for words, places in found.runs_out:
        part = float(places.sum()) / max(1, int(travel.grid.within.sum()))
        yield Finding(
            "T304",
            "danger" if "pulled out" in words or "shut" in words else "warn",
            f"{end.capitalize()} axle: {words} over {part:.0%} of the travel within the stops.",
            "A shock is no stop, a joint past its angle breaks, a slip joint that bottoms pushes on the bearings. A strap, a stop or a longer part.",
            "travel",
            f"{layout.id} {words}",
        )
    yield from _driveline(travel, end)
    yield from _springs(travel, unit)
    yield from _air(travel)
    yield from _lines(travel, unit)
    steer = travel.steer
    if steer is not None and not steer.reaches:
        yield Finding(
            "T320",
            "danger",
            "The drag link does not reach the knuckle over the whole travel, roll included.",
            "It would pull the steering wheel out of your hands or break.",
            "travel",
            f"{layout.id} drag link",
        )


def _driveline(travel: AxleTravel, end: str) -> Iterator[Finding]:
    shaft, layout = travel.shaft, travel.layout
    if shaft is None:
        return
    off = shaft.pinion_now - shaft.pinion_wanted
    if abs(off) > PINION_OFF:
        yield Finding(
            "T310",
            "warn",
            f"The {end} pinion stands {abs(math.degrees(off)):.1f}° {'above' if off > 0 else 'below'} where its joints want it.".replace(
                "-", "−"
            ),
            "Travel, Shaft says what it shall point at and how the wave of the joints adds up.",
            "travel",
            f"{layout.id} pinion",
        )
    if (
        shaft.torsional is not None
        and shaft.inertia is not None
        and (shaft.torsional > LIMIT_DRIVE or max(shaft.inertia) > LIMIT_INERTIA)
    ):
        yield Finding(
            "T311",
            "warn",
            f"{end.capitalize()} driveshaft: {shaft.torsional:.0f} rad/s² torsional of {LIMIT_DRIVE:.0f}, {max(shaft.inertia):.0f} inertial of {LIMIT_INERTIA:.0f} at road speed.",
            "It shakes and wears its joints (limits from SAE AE-7, from memory). Less angle, or a double cardan.",
            "travel",
            f"{layout.id} wave",
        )
    if shaft.whirl_part is not None and shaft.whirl_part > WHIRL_PART:
        yield Finding(
            "T312",
            "danger",
            f"{end.capitalize()} driveshaft turns at {shaft.whirl_part:.0%} of its first bending speed on the road.",
            "Near it a shaft whips and lets go. A bigger tube, a shorter piece, or two pieces with a carrier bearing; loops as your local code asks.",
            "travel",
            f"{layout.id} whirl",
        )


def _springs(travel: AxleTravel, unit: UnitSystem) -> Iterator[Finding]:
    air, s = travel.layout.air, travel.springs
    if air is not None and air.most_pa is not None and s.pressures is not None and s.pressures[1] > air.most_pa:
        yield Finding(
            "T330",
            "danger",
            f"The {travel.layout.end} air springs reach {show(s.pressures[1], 'pressure', unit)}; their record allows {show(air.most_pa, 'pressure', unit)}.",
            "More effective area, more volume, or less travel.",
            "travel",
            f"{travel.layout.id} air",
        )


def _air(travel: AxleTravel) -> Iterator[Finding]:
    """Air springs need air."""
    have = travel.grid.rig.fittings.air_supply
    if travel.layout.air is None or have is True:
        return
    end = travel.layout.end
    yield Finding(
        "T331",
        "warn",
        f"The {end} air springs need air, and none is on board."
        if have is False
        else f"The {end} air springs need air: is there any on board?",
        "Compressor or filling valve, line, and a valve a side, or air goes from the low side to the high one in a turn. It is in the cost.",
        "travel",
        f"{travel.layout.id} air supply",
    )


def _lines(travel: AxleTravel, unit: UnitSystem) -> Iterator[Finding]:
    """Hoses and cables at hand that do not reach, or without the slack asked for."""
    for one in travel.lines:
        spare, line = one.spare, one.line
        if spare is None or spare >= line.slack_m:
            continue
        far = one.longest
        where = pose_words(far.heave, far.roll, far.steer, unit)
        of = f"{travel.layout.end.capitalize()} axle: {line.name}"
        would = f"{show(one.needed, 'length', unit)} would do."
        subject = f"{travel.layout.id} line {line.id}"
        if spare < 0:
            yield Finding(
                "T340",
                "danger",
                f"{of} is pulled {show(-spare, 'length', unit)} past its length {where}.",
                f"{would} A brake hose that is pulled tears off its fitting.",
                "travel",
                subject,
            )
        else:
            left, wanted = show(spare, "length", unit), show(line.slack_m, "length", unit)
            yield Finding(
                "T341",
                "warn",
                f"{of} has {left} of slack left of {wanted} wanted {where}.",
                f"{would} Slack is for ends that bend and a loop round a clip.",
                "travel",
                subject,
            )
