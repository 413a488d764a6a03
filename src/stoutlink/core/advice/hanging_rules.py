"""What a layout forces beyond its motion: joints that lean too far, links too weak, parts that do not fit, steering
in bump, leaves that wrap.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.analysis.linkage.joint_misalignment import OverConstraint
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.linkage.link_loads import LinkLoads, case_words
from stoutlink.core.analysis.linkage.steering_geometry import BumpSteer, panhard
from stoutlink.core.analysis.linkage.will_it_fit import Fit
from stoutlink.core.document.layout import Layout
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show, turned

NEAR_LIMIT = math.radians(2.0)
"""A joint this near to its limit is worth a word: tape and tabs are not that exact (estimate)."""
BUMP_STEER = math.radians(0.25)
"""Heading change over 25 mm of bump that is felt on a road (estimate)."""
BUMP_LARGEST = math.radians(1.5)
"""Largest heading change over the travel before the wheel fights the hands (estimate)."""
ARC_LENGTH, ARC_SLOPE = 0.03, math.radians(2.0)
"""Drag link and panhard further apart than this in length (m) and slope do not run the same arc (estimate)."""
SHACKLE_FLAT, SHACKLE_STEEP = math.radians(75.0), math.radians(3.0)
"""A shackle that lies flatter than this can turn over, one steeper pushes the leaf before it swings (estimates)."""
LEAF_STRESS = 1.1e9
"""Bending stress at full bump that spring steel stands (from memory)."""


def over_constraint_findings(layout: Layout, found: OverConstraint) -> Iterator[Finding]:
    """Joints against their limits."""
    for one in found.ends:
        if one.allowed is None:
            continue
        where = "roll" if one.roll >= one.heave else "travel"
        word = f"{one.link.name}: the {one.end} joint leans {math.degrees(one.worst):.0f}° over {where}; it allows {math.degrees(one.allowed):.0f}°."
        subject = f"{layout.id}.{one.link.id} {one.end}"
        if one.over:
            yield Finding(
                "G205",
                "danger",
                word,
                "Past that the joint levers on its bracket and bends the bolt or tears the tab. Misalignment spacers, another joint, or the bolt laid so that it leans half each way.",
                "layout",
                subject,
            )
        elif one.worst > one.allowed - NEAR_LIMIT:
            yield Finding(
                "G206",
                "note",
                word,
                "Less than 2° is left, about what brackets welded by hand are off.",
                "layout",
                subject,
            )


def load_findings(layout: Layout, loads: LinkLoads, wanted: float, unit: UnitSystem) -> Iterator[Finding]:
    """Links against their loads."""
    for one in loads.links:
        weakest = one.weakest
        if weakest is None or weakest.margin is None or weakest.margin >= wanted:
            continue
        bad = weakest.margin < 1.0
        yield Finding(
            "G210",
            "danger" if bad else "warn",
            f"{one.link.name}: {weakest.what} carries {show(weakest.carries, 'force', unit)} against {show(weakest.asked, 'force', unit)} ({case_words(weakest.case)}), margin {weakest.margin:.2f}; {wanted:g} is wanted.",
            f"{weakest.why[0].upper()}{weakest.why[1:]}. Forces are static, without shock.",
            "layout",
            f"{layout.id}.{one.link.id}",
        )


def fit_findings(layout: Layout, fits: tuple[Fit, ...]) -> Iterator[Finding]:
    """What does not go together."""
    for one in fits:
        if one.how not in ("misfit", "tight") or one.what == "bracket":
            continue
        yield Finding(
            "G220",
            "danger" if one.how == "misfit" else "warn",
            f"{one.link.name}, {one.end}, {one.what}: {one.sentence}",
            "Found before it is bought or welded; steering and suspension welds are work for a qualified welder, and looked at by another.",
            "layout",
            f"{layout.id}.{one.link.id} {one.end} {one.what}",
        )


def steering_findings(motion: AxleMotion, found: BumpSteer | None, unit: UnitSystem) -> Iterator[Finding]:
    """Bump steer, and full hydraulic steering."""
    layout = motion.layout
    if layout.steering is not None and layout.steering.kind == "hydraulic":
        yield Finding(
            "G232",
            "warn",
            "Full hydraulic steering: no drag link, so no bump steer, and no shaft from the wheel to the tyres.",
            "It is generally not legal on public roads; ask your local code. A burst hose leaves no steering.",
            "layout",
            layout.id,
        )
    if found is None:
        return
    if not found.reaches:
        yield Finding(
            "G231",
            "danger",
            "The drag link cannot reach the knuckle over the whole travel.",
            "It would pull the steering wheel out of your hands or break. Lengthen it or move an end.",
            "layout",
            f"{layout.id} drag link",
        )
    bad = abs(found.heading_per_step) > BUMP_STEER or abs(found.largest) > BUMP_LARGEST
    match = found.match
    arcs = match is not None and (
        abs(match.length_apart) > ARC_LENGTH or abs(match.slope_apart) > ARC_SLOPE or not match.same_hand
    )
    per = "inch" if unit == "in" else "25 mm"
    per_step = f"{turned(found.heading_per_step)} per {per} of bump, " if math.isfinite(found.heading_per_step) else ""
    if bad:
        yield Finding(
            "G230",
            "warn",
            f"Bump steer: {per_step}{turned(found.largest, 1)} at {show(found.largest_at, 'length', unit, decimals=1)} of travel.",
            "Drag link and panhard of one length between pivots, one slope and the same hand run the same arc (common practice).",
            "layout",
            f"{layout.id} bump",
        )
    elif arcs:
        assert match is not None
        hand = "" if match.same_hand else ", and their frame ends are on opposite sides"
        yield Finding(
            "G233",
            "note",
            f"The drag link is {show(abs(match.length_apart), 'length', unit)} {'longer' if match.length_apart > 0 else 'shorter'} than the panhard and {abs(math.degrees(match.slope_apart)):.1f}° off its slope{hand}.",
            "They do not run the same arc; what is small near ride height can be large at bump.",
            "layout",
            f"{layout.id} arcs",
        )


def panhard_findings(motion: AxleMotion, unit: UnitSystem) -> Iterator[Finding]:
    """A panhard that pushes the axle about."""
    bar = panhard(motion)
    if bar is not None and bar.side_shift > 0.015:
        yield Finding(
            "K203",
            "note",
            f"The panhard moves the {motion.end} axle {show(bar.side_shift, 'length', unit, decimals=1)} sideways over the travel.",
            "Longer and nearer level at ride it does less.",
            "layout",
            f"{motion.layout.id} panhard",
        )


def shock_findings(layout: Layout, unit: UnitSystem) -> Iterator[Finding]:
    """A shock that cannot be as it is entered: its rod goes into its body, so it strokes less than it is long when
    shut.
    """
    shock = layout.shock
    if shock is None:
        return
    stroke = shock.extended_m - shock.collapsed_m
    if stroke > shock.collapsed_m:
        yield Finding(
            "G248",
            "warn",
            f"The {layout.end} shocks stroke {show(stroke, 'length', unit, decimals=1)} and are {show(shock.collapsed_m, 'length', unit, decimals=1)} long when shut.",
            "The rod has to go into the body, so a shock is longer shut than its stroke: look at both lengths again, between the eyes.",
            "travel",
            f"{layout.id} stroke",
        )


PADS_AGREE, PADS_OFF = 0.0015, 0.005
"""Pads and springs this near to each other, m, are at one spacing; from the second on the leaves are pulled (estimates)."""
STACK_AGREES = 0.012
"""Within this of the height entered the stack agrees, m: what tape and pack thickness leave open (estimate)."""
HANGER_AGREES = 0.006
"""Within this of its place an axle on an existing hanger is where it should be, m (estimate)."""


def leaf_findings(found: LeafAxle, bump: float, droop: float, unit: UnitSystem) -> Iterator[Finding]:
    """Leaves that wrap, pads that do not sit, shackles that turn over."""
    layout, leaf = found.layout, found.leaf
    wrap = math.degrees(abs(found.wrap))
    if abs(found.wrap) > leaf.pinion_allowance_rad:
        yield Finding(
            "G240",
            "warn",
            f"The {layout.end} springs wrap {wrap:.1f}° under full throttle; the pinion is set for {math.degrees(leaf.pinion_allowance_rad):.1f}°.",
            "A traction bar from the housing to the frame takes the torque off the leaves; springs under the tube and a thicker main leaf wrap less.",
            "layout",
            f"{layout.id} wrap",
        )
    if found.perch_apart is not None and abs(found.perch_apart) > PADS_AGREE:
        yield Finding(
            "G241",
            "danger" if abs(found.perch_apart) > PADS_OFF else "note",
            f"The pads stand {show(abs(found.perch_apart), 'length', unit, decimals=3 if unit == 'in' else 1)} {'wider' if found.perch_apart > 0 else 'narrower'} than the springs.",
            "Each side is off by half of it; the leaves would be pulled sideways. Measure both spacings again before a pad is welded."
            if abs(found.perch_apart) > PADS_OFF
            else "Half of it a side, which the centre pin's hole and the bushings take up (estimate); even it out while the pads are tacked.",
            "layout",
            f"{layout.id} pads",
        )
    perch = found.perch
    if perch.lift is not None and abs(perch.lift) > STACK_AGREES:
        assert perch.seat is not None
        yield Finding(
            "G246",
            "warn",
            f"Tube, pad, block and pack put the main leaf {show(perch.seat, 'length', unit, decimals=1)} up; {show(leaf.seat_z_m, 'length', unit, decimals=1)} was entered.",
            f"With this stack the frame comes {show(abs(perch.lift), 'length', unit, decimals=1)} {'higher' if perch.lift > 0 else 'lower'} at this axle: enter the eyes and the leaf as they then stand, or measure the stack again.",
            "layout",
            f"{layout.id} stack",
        )
    if perch.axle_off is not None and abs(perch.axle_off) > HANGER_AGREES:
        yield Finding(
            "G247",
            "warn",
            f"On the hanger that exists the {layout.end} axle stands {show(abs(perch.axle_off), 'length', unit, decimals=2)} {'forward of' if perch.axle_off > 0 else 'behind'} its place.",
            "The wheelbase changes by as much, and with it driveshaft and tyre room: another centre-pin offset, or the hanger moved.",
            "layout",
            f"{layout.id} hanger",
        )
    low, high = found.reached
    for reached, asked, word in ((high, bump, "bump"), (-low, droop, "droop")):
        if reached < asked - 1e-4:
            yield Finding(
                "G242",
                "danger",
                f"The shackle follows only {show(reached, 'length', unit, decimals=1)} into {word}; {show(asked, 'length', unit, decimals=1)} was asked.",
                "Past it the leaf or the shackle is pulled straight. A longer shackle, or its frame pivot moved.",
                "layout",
                f"{layout.id} {word}",
            )
    leans = [p.shackle for p in found.poses if math.isfinite(p.shackle)]
    if leans and max(abs(v) for v in leans) > SHACKLE_FLAT:
        yield Finding(
            "G243",
            "danger",
            f"The shackle lies {math.degrees(max(leans, key=abs)):.0f}° from upright in its travel.".replace("-", "−"),
            "It can turn over and stay there. Move its frame pivot or take another length.",
            "layout",
            f"{layout.id} shackle",
        )
    elif leans and min(abs(v) for v in leans) < SHACKLE_STEEP and min(leans) * max(leans) < 0:
        yield Finding(
            "K204",
            "note",
            "The shackle passes through upright in its travel.",
            "There it gives the leaf nowhere to grow and the ride is harsh.",
            "layout",
            f"{layout.id} shackle",
        )
    if found.stress_bump > LEAF_STRESS:
        yield Finding(
            "G244",
            "warn",
            f"At full bump the thickest leaf stands at {show(found.stress_bump, 'stress', unit)}; spring steel takes about {show(LEAF_STRESS, 'stress', unit)} (from memory).",
            "Thinner leaves, more of them, or a bump stop sooner.",
            "layout",
            f"{layout.id} stress",
        )
    if found.panhard_pull is not None and found.panhard_pull > 0.006:
        yield Finding(
            "G245",
            "warn",
            f"The panhard's arc pulls {show(found.panhard_pull, 'length', unit, decimals=2)} sideways against leaves that hold the axle already.",
            "The eyes' bushings and the leaves must give it, or the panhard goes.",
            "layout",
            f"{layout.id} panhard",
        )
