"""The verdict on leaf springs: the same headline numbers where they exist, and those that are the leaves' own."""

from __future__ import annotations

import math

from stoutlink.core.advice.verdict import (
    ANTI_TARGETS,
    ROLL_CENTRE_TARGETS,
    SHORT_HEIGHT,
    STEER_TARGET,
    Gauge,
    Standing,
    Target,
    brake_word,
    judged,
    lean_word,
    scale,
    school_words,
    squat_word,
    standing,
    steer_word,
    title,
)
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle, LeafSure, leaf_sure
from stoutlink.core.analysis.linkage.uncertainty import Part, better_way
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.shown import show


def leaf_verdict(project: Project, found: LeafAxle) -> tuple[Gauge, ...]:
    """Headline gauges of a leaf axle, in reading order."""
    s, rig = project.settings, found.rig
    end, rear = found.layout.end, found.layout.end == "rear"
    sure = leaf_sure(project, found)
    drive, brake = found.drive_percent[s.thrust_school][s.height_school], found.brake_percent[s.height_school]
    line, leaf = found.roll_centre_line, found.roll_centre_leaf
    part = line / rig.cg_height_m
    allowance = math.degrees(found.leaf.pinion_allowance_rad)
    wrap = math.degrees(found.wrap)
    upper = ""
    if found.eye_percent is not None:
        upper = f" The front-eye school, a rigid trailing arm, would say at most {found.eye_percent[s.thrust_school][s.height_school]:.0f} %."
    reached = found.reached
    asked = found.layout.bump_m + found.layout.droop_m
    share = (reached[1] - reached[0]) / asked
    out = (
        _gauge(
            "drive",
            f"{title('drive', end)} · {school_words(s)}",
            drive,
            f"{drive:.0f} %",
            sure["drive"],
            "0f",
            None,
            ANTI_TARGETS[s.anti_target] if rear else None,
            squat_word(drive, rear=rear),
            "How much the springs' own geometry, rather than their rate, carries the weight that throttle throws back.",
            f"Beam school: the seat on an arc of three quarters of the half with the fixed eye, and the tilt of unequal halves.{upper}",
        ),
        _gauge(
            "brake",
            f"{title('brake', end)} · {SHORT_HEIGHT[s.height_school]}",
            brake,
            f"{brake:.0f} %",
            sure["brake"],
            "0f",
            None,
            None,
            brake_word(brake, rear=rear),
            "How far this end keeps its height under braking.",
            "The same slope with the brakes' real split.",
        ),
        _gauge(
            "roll_centre",
            title("roll_centre", end),
            part,
            f"{show(line, 'length', s.units, decimals=1)}, {part:.2f} of CG",
            sure["roll_centre"],
            "2f",
            None,
            ROLL_CENTRE_TARGETS[s.roll_centre_target],
            lean_word(part),
            "The nearer it is to the balance point, the less the body leans on a side slope.",
            f"The line from the fixed eye to the shackle's frame pivot, at the axle; by the main leaf at the seat it is {show(leaf, 'length', s.units, decimals=1)}. Either is good to ± {show(0.05, 'length', s.units, decimals=0 if s.units == 'mm' else 1)} (from memory).",
        ),
        _gauge(
            "steer",
            title("steer", end),
            found.roll_steer,
            f"{found.roll_steer:.3f}°/°",
            sure["steer"],
            "3f",
            None,
            STEER_TARGET,
            steer_word(found.roll_steer, rear=rear),
            "How many degrees the axle steers for each degree the body rolls.",
            f"The fixed eye stands {show(found.eye_above, 'length', s.units)} over the main leaf at the seat.",
        ),
        _gauge(
            "wrap",
            title("wrap", end),
            abs(wrap),
            f"{abs(wrap):.1f}° nose {'up' if (wrap > 0) == rear else 'down'}",
            sure["wrap"],
            "1f",
            None,
            Target(0.0, allowance, f"Up to the {allowance:.1f}° the pinion is set for."),
            "within the allowance" if abs(wrap) <= allowance else "wraps past it",
            "How far the housing turns against the leaves when everything the tyres hold is asked of it.",
            f"Thrust of {show(found.thrust, 'force', s.units)} against {show(found.halves.wind_up_rate * math.pi / 180, 'torque', s.units)} a degree of each spring.",
            per_unit=math.degrees(1.0),
        ),
        _gauge(
            "rate",
            f"{title('rate', end)} · {'measured' if found.rate_measured else 'from the leaves'}",
            found.halves.heave_rate,
            f"{show(found.halves.heave_rate, 'spring_rate', s.units)} a side",
            sure["rate"],
            "rate",
            (0.0, 2.0 * found.halves.heave_rate),
            None,
            "stiff"
            if found.load / found.halves.heave_rate < 0.07
            else "soft"
            if found.load / found.halves.heave_rate > 0.16
            else "middling",
            "Force for each inch or millimetre the axle goes up, housing free to tilt.",
            f"The load of {show(found.load, 'force', s.units)} a side pushes it {show(found.load / found.halves.heave_rate, 'length', s.units, decimals=1)} from free; in roll, housing held, it is {show(found.halves.roll_rate, 'spring_rate', s.units)}.",
            unit=s.units,
        ),
        Gauge(
            "travel",
            title("travel", end),
            share,
            f"{show(reached[1], 'length', s.units, decimals=1)} up, {show(-reached[0], 'length', s.units, decimals=1)} down",
            "",
            0.0,
            0.0,
            1.0,
            Target(0.999, 1.0, "All the travel asked for."),
            "in" if share >= 0.999 else "out",
            "reaches all of it" if share >= 0.999 else "shackle binds",
            "How far the shackle lets the axle go.",
            "Shackle length and where its frame pivot stands.",
            (),
        ),
    )
    return judged(project, found.layout.end, out, sure, share)


def _gauge(
    name: str,
    title: str,
    value: float,
    text: str,
    sure: LeafSure,
    form: str,
    ends: tuple[float, float] | None,
    target: Target | None,
    word: str,
    feels: str,
    drives: str,
    per_unit: float = 1.0,
    unit: str = "in",
) -> Gauge:
    sigma = sure.sigma * per_unit
    if form == "rate":
        plus = f"± {show(2 * sigma, 'spring_rate', 'in' if unit == 'in' else 'mm')}"
    else:
        plus = f"± {2 * sigma:.{form}}"
    parts = []
    for what, path, own in sure.parts:
        share = (own / sure.sigma) ** 2 if sure.sigma > 0 else 0.0
        left = math.sqrt(max(0.0, sure.sigma**2 - 0.75 * own**2))
        parts.append(Part(what, path, share, left, better_way(what)))
    where: Standing = standing(value, sigma, target)
    return Gauge(
        name,
        title,
        value,
        text.replace("-", "−"),
        plus,
        sigma,
        *(ends or scale(name)),
        target,
        where,
        word,
        feels,
        drives,
        tuple(parts),
        "first order",
        per_unit,
    )
