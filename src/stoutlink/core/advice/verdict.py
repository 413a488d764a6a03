"""The verdict: a few headline numbers of one axle, each with its band, its ± and the word for it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Set
from typing import Literal

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.analysis.linkage.leaf_axle import LeafSure
from stoutlink.core.analysis.linkage.uncertainty import HowSure, Part, how_sure
from stoutlink.core.analysis.linkage.wanted_bands import ANTI_BANDS, HOLD_BAND, PINION_BAND, ROLL_BANDS, STEER_BAND
from stoutlink.core.document.headline import BEYOND, HEADLINES
from stoutlink.core.document.placeholders import entered_by_nobody
from stoutlink.core.document.project import Project, Settings
from stoutlink.core.document.rig import Rig
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

Standing = Literal["in", "edge", "out", "none"]
THRUST_WORDS = {
    "full_thrust": "this axle makes all thrust",
    "shared_locked": "thrust shared by load (locked case)",
    "shared_open": "thrust half each (open case)",
}
HEIGHT_WORDS = {"whole_vehicle": "whole rig's CG", "sprung_mass": "sprung mass's CG"}


class Target(Struct, frozen=True):
    """A wanted band, with the school it belongs to and how well founded it is."""

    low: float
    high: float
    reason: str


class Gauge(Struct, frozen=True):
    """One headline number. ``value``, ``sigma``, band and scale are in the gauge's own unit (``text`` shows it)."""

    id: str
    title: str
    value: float
    text: str
    sure: str
    sigma: float
    low: float
    high: float
    target: Target | None
    standing: Standing
    word: str
    feels: str
    drives: str
    parts: tuple[Part, ...]
    method: str = "first order"
    per_unit: float = 1.0
    """σ of the parts times this is in the unit shown."""
    own: bool = False
    """Whether the band is the user's own."""
    unentered: tuple[tuple[str, str], ...] = ()
    """What it rests on that nobody has entered (a default, an estimate of the program's own), as words and path."""
    tells: bool = True
    """Whether its number says anything."""


SHORT_THRUST = {"full_thrust": "full thrust", "shared_locked": "shared, locked", "shared_open": "half each"}
SHORT_HEIGHT = {"whole_vehicle": "rig CG", "sprung_mass": "sprung CG"}

LEAST_TRAVEL = 0.05
"""Part of the asked travel below which nothing is said of what happens over it (estimate)."""


def school_words(settings: Settings) -> str:
    """The schools in force, short enough to stand beside a number."""
    return f"{SHORT_THRUST[settings.thrust_school]}, {SHORT_HEIGHT[settings.height_school]}"


ANTI_TARGETS = {
    "first_trail": Target(*ANTI_BANDS["first_trail"], "70–90 %: calm on a first trail build (common practice)."),
    "steep_technical": Target(
        *ANTI_BANDS["steep_technical"],
        "110–150 %: plants the tyres on steep technical climbs, adjustable (common practice).",
    ),
    "neutral": Target(*ANTI_BANDS["neutral"], "Near 100 %: neither squats nor lifts (common practice)."),
}
ROLL_CENTRE_TARGETS = {
    "high": Target(
        *ROLL_BANDS["high"], "Three quarters of CG height and up: leans little on side slopes (common practice)."
    ),
    "low": Target(*ROLL_BANDS["low"], "Lower: less side jacking and jolt, more lean (the other school)."),
}
STEER_TARGET = Target(*STEER_BAND, "Within −0.10 to +0.05 ° per ° of roll: tracks straight on the road (estimate).")
HOLD_TARGET = Target(*HOLD_BAND, "Up to four times the side force in one link (estimate).")
PINION_TARGET = Target(*PINION_BAND, "Up to 4° over the travel keeps the joints happy (estimate).")


def gauge_values(settings: Settings, motion: AxleMotion) -> dict[str, float]:
    """The headline numbers by gauge, in each gauge's own unit."""
    ride = motion.ride
    angles = motion.heave.pinion[np.isfinite(motion.heave.pinion)]
    low, high = motion.reach
    return {
        "drive": ride.drive_percent[settings.thrust_school][settings.height_school],
        "brake": ride.brake_percent[settings.height_school],
        "roll_centre": ride.roll_centre_height / motion.rig.cg_height_m,
        "steer": ride.roll_steer,
        "hold": ride.lateral_hold,
        "pinion": math.degrees(float(angles.max() - angles.min())) if len(angles) else math.nan,
        "travel": (high - low) / (motion.asked[1] - motion.asked[0]),
    }


def title(name: str, end: str) -> str:
    """What a headline number is called at an end."""
    return HEADLINES[name].title[0 if end == "rear" else 1]


def scale(name: str) -> tuple[float, float]:
    """The ends of a headline number's gauge."""
    found = HEADLINES[name].scale
    assert found is not None
    return found


def verdict(project: Project, motion: AxleMotion) -> tuple[Gauge, ...]:
    """Headline gauges of one analysed axle, in reading order."""
    s, rig, ride = project.settings, motion.rig, motion.ride
    sure = how_sure(project, motion)
    values = gauge_values(s, motion)
    unit = s.units
    rear = motion.end == "rear"
    drive, brake = values["drive"], values["brake"]
    short = school_words(s)
    school = f"{THRUST_WORDS[s.thrust_school]}, {HEIGHT_WORDS[s.height_school]}"
    brake_school = f"real brake split, {HEIGHT_WORDS[s.height_school]}"
    out = [
        _gauge(
            "drive",
            f"{title('drive', motion.end)} · {short}",
            drive,
            "%",
            0,
            sure["drive"],
            ANTI_TARGETS[s.anti_target] if rear else None,
            squat_word(drive, rear=rear),
            "How much the links, rather than the springs, carry the weight that throttle throws back."
            if rear
            else "How far the front stays down under throttle on a climb; some call this anti-dive.",
            f"The slope of the line from tyre print to side-view centre. School: {school}; axle inertia neglected.",
        ),
        _gauge(
            "brake",
            f"{title('brake', motion.end)} · {SHORT_HEIGHT[s.height_school]}",
            brake,
            "%",
            0,
            sure["brake"],
            None,
            brake_word(brake, rear=rear),
            "How far the rear stays down under braking." if rear else "How far the nose stays up under braking.",
            f"The same slope with the brakes' share. School: {brake_school}; axle inertia neglected.",
        ),
        _roll_centre(rig, ride.roll_centre_height, sure, ROLL_CENTRE_TARGETS[s.roll_centre_target], unit),
        _gauge(
            "steer",
            title("steer", motion.end),
            ride.roll_steer,
            "°/°",
            3,
            sure["steer"],
            STEER_TARGET,
            steer_word(ride.roll_steer, rear=rear),
            "How many degrees the axle steers for each degree the body rolls.",
            f"The roll axis, {_slope_word(ride.roll_axis_inclination)} {abs(math.degrees(ride.roll_axis_inclination)):.1f}°, sets it.",
        ),
        _gauge(
            "hold",
            title("hold", motion.end),
            ride.lateral_hold,
            "×",
            2,
            sure["hold"],
            HOLD_TARGET,
            _hold_word(ride.lateral_hold),
            f"1 kN sideways at the axle puts {ride.lateral_hold:.1f} kN into the hardest worked link: its {HEADLINES['hold'].term}.",
            "Plan-view spread of the pairs, or a long level panhard.",
        ),
        _pinion(motion, values["pinion"], sure["pinion"], unit),
        _travel(motion, values["travel"], unit),
    ]
    return judged(project, motion.end, out, sure, values["travel"])


def judged(
    project: Project, end: str, gauges: Iterable[Gauge], sure: Mapping[str, HowSure | LeafSure], travel: float
) -> tuple[Gauge, ...]:
    """Gauges of links or leaves with the user's own bands, what they rest on, and no number where none means anything;
    ``travel`` is the part reached of what was asked."""
    paths = {path for one in sure.values() for _, path in one.inputs if path}
    unentered = {path for path in paths if entered_by_nobody(project, path)}
    return tuple(telling(owned(project, end, resting(gauge, sure, unentered)), travel) for gauge in gauges)


def telling(gauge: Gauge, travel: float) -> Gauge:
    """The gauge without a number where none means anything: beyond all telling, or of a travel (part of what was asked)
    that there is not."""
    if not HEADLINES[gauge.id].tells(gauge.value, gauge.sigma):
        return replace(
            gauge, text=BEYOND, sure="", standing="out" if gauge.target else "none", word="barely held", tells=False
        )
    if gauge.id == "pinion" and not travel >= LEAST_TRAVEL:
        short = gauge.title.partition(" · ")[0]
        return replace(
            gauge, title=short, text="no travel to turn over", sure="", standing="none", word="", tells=False
        )
    return gauge


def resting(gauge: Gauge, sure: Mapping[str, HowSure | LeafSure], unentered: Set[str]) -> Gauge:
    """The gauge with what it rests on among the paths that nobody has entered."""
    inputs = sure[gauge.id].inputs if gauge.id in sure and unentered else ()
    found = tuple(one for one in inputs if one[1] in unentered)
    return replace(gauge, unentered=found) if found else gauge


def target_id(end: str, gauge: str) -> str:
    """The id of a user's own band for a gauge at an end."""
    return f"{end}-{gauge.replace('_', '-')}"


def owned(project: Project, end: str, gauge: Gauge) -> Gauge:
    """The gauge held against the user's own band, where there is one."""
    own = next((t for t in project.linkage.targets if t.id == target_id(end, gauge.id)), None)
    if own is None:
        return gauge
    target = Target(own.low, own.high, f"Your own, {own.low:g} to {own.high:g}: {own.why or 'no reason noted'}")
    return replace(gauge, target=target, standing=standing(gauge.value, gauge.sigma, target), own=True)


def _gauge(
    gauge_id: str,
    title: str,
    value: float,
    unit: str,
    decimals: int,
    sure: HowSure,
    target: Target | None,
    word: str,
    feels: str,
    drives: str,
) -> Gauge:
    gap = "" if unit in ("°/°", "×", "°") else " "
    text = f"{value:.{decimals}f}{gap}{unit}".replace("-", "−")
    plus = f"± {2 * sure.sigma:.{decimals}f}"
    return Gauge(
        gauge_id,
        title,
        value,
        text,
        plus,
        sure.sigma,
        *scale(gauge_id),
        target,
        standing(value, sure.sigma, target),
        word,
        feels,
        drives,
        sure.parts,
        sure.method,
    )


def standing(value: float, sigma: float, target: Target | None) -> Standing:
    """In the band, out of it, or so near an edge that ±2 σ straddles it."""
    if target is None:
        return "none"
    inside = target.low <= value <= target.high
    near = min(abs(value - target.low), abs(value - target.high)) < 2 * sigma
    if near:
        return "edge"
    return "in" if inside else "out"


def _roll_centre(rig: Rig, height: float, sure: dict[str, HowSure], target: Target, unit: UnitSystem) -> Gauge:
    part = height / rig.cg_height_m
    one = sure["roll_centre"]
    return Gauge(
        "roll_centre",
        title("roll_centre", "rear"),
        part,
        f"{show(height, 'length', unit, decimals=1)}, {part:.2f} of CG",
        f"± {2 * one.sigma:.2f}",
        one.sigma,
        *scale("roll_centre"),
        target,
        standing(part, one.sigma, target),
        lean_word(part),
        "The nearer it is to the balance point, the less the body leans on a side slope.",
        "The heights at which the pairs meet in plan, or the panhard's height.",
        one.parts,
        one.method,
    )


def _pinion(motion: AxleMotion, spread: float, sure: HowSure, unit: UnitSystem) -> Gauge:
    nose = math.degrees(motion.ride.pinion_per_metre) * (INCH if unit == "in" else 0.025)
    sigma = math.degrees(sure.sigma)
    word = "holds its angle" if spread <= 1.5 else "turns with travel" if spread <= 4 else "turns a lot"
    return Gauge(
        "pinion",
        f"{title('pinion', motion.end)} · {nose:+.2f}°/{'in' if unit == 'in' else '25 mm'}".replace("-", "−"),
        spread,
        f"{spread:.1f}° over travel",
        f"± {2 * sigma:.1f}",
        sigma,
        *scale("pinion"),
        PINION_TARGET,
        standing(spread, sigma, PINION_TARGET),
        word,
        "How far the pinion nose tips from full droop to full bump.",
        "Length and slope difference of uppers and lowers.",
        sure.parts,
        sure.method,
        math.degrees(1.0),
    )


def _travel(motion: AxleMotion, part: float, unit: UnitSystem) -> Gauge:
    low, high = motion.reach
    target = Target(1.0 - 1e-3, 1.0, "All the travel asked for.")
    word = "reaches all of it" if part >= target.low else "links bind"
    text = f"{show(high, 'length', unit, decimals=1)} up, {show(-low, 'length', unit, decimals=1)} down"
    return Gauge(
        "travel",
        title("travel", motion.end),
        part,
        text,
        "",
        0.0,
        *scale("travel"),
        target,
        "in" if part >= target.low else "out",
        word,
        "How far the links let the axle go before they bind; shocks and stops are not counted yet.",
        "Link lengths and angles; how far the joints lean stands in Layout, Bind.",
        (),
    )


def squat_word(v: float, *, rear: bool) -> str:
    """What an anti-squat or drive anti-lift in % does."""
    what = ("squats", "lifts") if rear else ("rises", "pulls down")
    if v < 0:
        return f"{what[0]} hard"
    if v < 60:
        return what[0]
    if v < 95:
        return f"{what[0]} a little"
    if v <= 105:
        return "stays level"
    return f"{what[1]} a little" if v <= 150 else f"{what[1]} hard"


def brake_word(v: float, *, rear: bool) -> str:
    """What a braking anti-lift or anti-dive in % does."""
    if v < 0:
        return "rises under braking" if rear else "dives hard"
    if v < 40:
        return "rises some" if rear else "dives some"
    return "stays down" if rear else "holds its nose up"


def steer_word(v: float, *, rear: bool) -> str:
    """Which way an axle steers in roll."""
    if abs(v) < 0.01:
        return "neutral"
    over = (v > 0) == rear
    return "roll oversteer" if over else "roll understeer"


def lean_word(part: float) -> str:
    """How a roll centre at a part of the CG height leans."""
    return "leans little" if part >= 0.75 else "leans some" if part >= 0.5 else "leans a lot"


def _slope_word(v: float) -> str:
    return "rising to the front" if v > 0 else "falling to the front"


def _hold_word(v: float) -> str:
    return "held firmly" if v <= 2 else "held" if v <= 4 else "held weakly"
