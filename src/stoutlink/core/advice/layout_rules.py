"""What a layout forces: travel that ends, weak sideways hold, joints that run out of thread."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.linkage.axle_motion import AxleMotion
from stoutlink.core.analysis.linkage.bar_set import link_length
from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.analysis.survey.rail_anchors import APART, Anchored
from stoutlink.core.document.anchor import Anchor
from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.link_defaults import default_parts
from stoutlink.core.document.project import Project
from stoutlink.core.mechanics.linkage.hold import WEAK
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

PARTED = 0.05
"""Hand construction and true instant centre further apart than this part of its distance are worth a word."""
GIVE = 0.002
"""Bushing give worth naming, m (estimate)."""
MEASURED_AGREES, PAIR_AGREES = 0.0032, 0.0016
"""Pin to pin as measured and planned agree within 1/8 in, a pair as made within 1/16 in (common practice)."""
ADJUSTER = 0.0127
"""Adjustment wanted either way, m (common practice, 1/2 in)."""
TAPPED = 0.88
"""Smallest bore as a part of the thread diameter: a tap drill for the usual pitches (from memory)."""
TRIANGULATION = math.radians(40.0)
"""Sum of included plan angles below which a panhard is advised (common practice)."""


def motion_findings(motion: AxleMotion, unit: UnitSystem) -> tuple[Finding, ...]:
    """Findings about how one axle moves."""
    out: list[Finding] = []
    layout, ride = motion.layout, motion.ride
    if ride.singular < WEAK:
        out.append(
            Finding(
                "G201",
                "danger",
                f"The {layout.end} bars barely hold the axle: the weakest motion has {ride.singular:.3f} of full hold.",
                "Small errors in the pivots then move the axle a lot. Spread the pairs in plan, or add a panhard.",
                "layout",
                layout.id,
            )
        )
    (low, high), (droop, bump) = motion.reach, motion.asked
    for reached, asked, word in ((high, bump, "bump"), (-low, -droop, "droop")):
        if reached < asked - 1e-4:
            out.append(
                Finding(
                    "G202",
                    "danger",
                    f"The {layout.end} links bind {show(reached, 'length', unit, decimals=1)} into {word}; {show(asked, 'length', unit, decimals=1)} was asked.",
                    "Past that point the bars cannot close. Nothing is computed for travel beyond it.",
                    "layout",
                    f"{layout.id} {word}",
                )
            )
    if motion.layout.kind.endswith("triangulated_four_link") and motion.drawn.triangulation < TRIANGULATION:
        out.append(
            Finding(
                "K201",
                "warn",
                f"The included plan angles add up to {math.degrees(motion.drawn.triangulation):.0f}°; about 40° is common practice.",
                f"A 1 kN side push puts {ride.lateral_hold:.1f} kN into a link. Spread the pairs in plan or locate the axle with a panhard.",
                "layout",
                layout.id,
            )
        )
    hand, true = motion.drawn.projected_centre, ride.side_view_centre
    if hand and true:
        gap = math.dist(hand, true)
        if gap > PARTED * math.dist(true, (motion.centre[0], motion.centre[2])):
            out.append(
                Finding(
                    "G203",
                    "note",
                    f"The drawn crossing of the {layout.end} links lies {show(gap, 'length', unit, decimals=1)} from the true side-view centre.",
                    "The links are not mirrored, or a panhard slopes: the true one counts and is what the numbers use.",
                    "layout",
                    layout.id,
                )
            )
    redundant = len(motion.layout.links) > 4  # four bars close exactly
    for name, travel in (("heave", motion.heave), ("roll", motion.roll)) if redundant else ():
        give = float(np.nanmax(np.abs(travel.bar_error), initial=0.0))
        if give > GIVE:
            out.append(
                Finding(
                    "G204",
                    "warn",
                    f"Over {name} the {layout.end} bushings must give up to {show(give, 'length', unit, decimals=2)} along a link.",
                    "More than four bars cannot all keep their length. Soft bushings take it up; spherical joints bind or break tabs.",
                    "layout",
                    f"{layout.id} {name}",
                )
            )
    return tuple(out)


def anchor_findings(layout: Layout, left: tuple[Anchored, ...], unit: UnitSystem) -> tuple[Finding, ...]:
    """Pivots whose rail has moved since they were put on it."""
    out = []
    for one in left:
        what = f"{one.link.name}'s frame pivot was put on {_face(one.anchor)} of the {one.anchor.rail} rail"
        if one.wanted is None:
            said = f"{what}, which is not surveyed there any more."
        else:
            _, y, z = one.off
            side = 1.0 if one.anchor.rail == "left" else -1.0
            ways = [
                f"{show(abs(v), 'length', unit, decimals=2)} {word}"
                for v, word in (
                    (y, "farther out" if y * side > 0 else "farther in"),
                    (z, "higher" if z > 0 else "lower"),
                )
                if abs(v) > APART
            ]
            said = f"{what}, which now lies {' and '.join(ways)}."
        out.append(
            Finding(
                "G207",
                "warn",
                said,
                "A reading it rests on has changed. Layout, Pivots, Follow the rails takes it along; moving it by hand lets go of the rail.",
                "layout",
                f"{layout.id}.{one.link.id}",
            )
        )
    return tuple(out)


def _face(anchor: Anchor) -> str:
    words = [w for w in (anchor.across, anchor.up) if w is not None and w != "middle"]
    return f"the {' and '.join(words)}" if words else "the middle"


def _as_made(one: LinkCut, subject: str, unit: UnitSystem) -> Iterator[Finding]:
    """What was measured against what is planned, and against the link on the other side."""
    link, read = one.link, one.link.read
    planned = link_length(link)
    if link.stage == "measured" and read is not None and abs(read[0] - planned) > max(MEASURED_AGREES, 2 * read[1]):
        yield Finding(
            "C207",
            "warn",
            f"{link.name} measures {show(read[0], 'length', unit, decimals=2)} pin to pin, the layout says {show(planned, 'length', unit, decimals=2)}.",
            "The tube is cut to what was measured. Is the axle where the layout has it, are the brackets? Read it again, or move the pivots to where they are.",
            "cut",
            subject,
        )
    partner = one.layout.partner(link) if one.layout.mirrored and link.side == "left" else None
    if partner is None:
        return
    apart = [word for word, differs in _pair_differs(link, partner) if differs]
    if apart:
        yield Finding(
            "C208",
            "warn",
            f"{link.name} and {partner.name} are a pair and differ in {', '.join(apart)}.",
            "Then they take other turns and bind otherwise. Make them alike, or say the axle is not mirrored.",
            "cut",
            subject,
        )


def _pair_differs(a: Link, b: Link) -> Iterator[tuple[str, bool]]:
    ends = (a.frame_end, b.frame_end), (a.axle_end, b.axle_end)
    yield "tube", (a.tube_od_m, a.tube_wall_m, a.material) != (b.tube_od_m, b.tube_wall_m, b.material)
    yield "joint", any(x.joint != y.joint for x, y in ends)
    yield "take-up", any(abs(x.take_up_m - y.take_up_m) > 1e-6 for x, y in ends)
    made = a.as_made, b.as_made
    yield "length as made", made[0] is not None and made[1] is not None and abs(made[0] - made[1]) > PAIR_AGREES


def cut_findings(cuts: tuple[LinkCut, ...], unit: UnitSystem) -> tuple[Finding, ...]:
    """Findings about cutting and threads."""
    out: list[Finding] = []
    for one in cuts:
        name, subject = one.link.name, f"{one.layout.id}.{one.link.id}"
        if one.there and not one.turns.reaches:
            change = one.turns.change
            out.append(
                Finding(
                    "C206",
                    "danger",
                    f"{name} {'at hand' if one.at_hand else 'as cut'} is {show(abs(change), 'length', unit, decimals=2)} too {'short' if change > 0 else 'long'} for this layout, more than its threads give.",
                    "Move a pivot to where it reaches, bolt another hole, or cut a new one.",
                    "cut",
                    subject,
                )
            )
        out += _as_made(one, subject, unit)
        if one.cut.tube <= 0:
            out.append(
                Finding(
                    "C201",
                    "danger",
                    f"{name}: the joints' take-up is longer than the link, {show(one.cut.centre_to_centre, 'length', unit, decimals=2)} between centres.",
                    "There is no tube to cut. Move a pivot or take shorter joints.",
                    "cut",
                    subject,
                )
            )
            continue
        for fit, word, joint in zip(one.cut.ends, ("frame", "axle"), (one.frame_joint, one.axle_joint), strict=True):
            if fit is None or joint is None:
                continue
            if fit.longer < -1e-9:
                out.append(
                    Finding(
                        "C202",
                        "danger",
                        f"{name}: the {word} joint has {show(fit.engaged, 'length', unit, decimals=2)} of thread engaged; {show(fit.needed, 'length', unit, decimals=2)} is wanted.",
                        "1.5 thread diameters in steel, 2 in aluminium (common practice). A longer tube with less take-up, or a longer shank.",
                        "cut",
                        f"{subject} {word}",
                    )
                )
            if fit.shorter < -1e-9:
                out.append(
                    Finding(
                        "C203",
                        "danger",
                        f"{name}: the {word} joint's neck and jam nut do not fit its take-up by {show(-fit.shorter, 'length', unit, decimals=2)}.",
                        "The jam nut would foul before the joint is home. More take-up, or another joint.",
                        "cut",
                        f"{subject} {word}",
                    )
                )
        if one.cut.how == "unbolt":
            out.append(
                Finding(
                    "K301",
                    "note",
                    f"{name}: both joints have the same hand, so turning the tube does not change its length.",
                    "One right- and one left-hand end lets you set the pinion with the link bolted in.",
                    "cut",
                    subject,
                )
            )
        if one.cut.how != "none" and one.link.role == "upper" and 0 <= min(one.cut.longer, one.cut.shorter) < ADJUSTER:
            out.append(
                Finding(
                    "K302",
                    "warn",
                    f"{name}: only {show(min(one.cut.longer, one.cut.shorter), 'length', unit, decimals=2)} of adjustment is left one way.",
                    "Plan 1/2–3/4 in of adjuster for a bracket that moves in welding (common practice).",
                    "cut",
                    subject,
                )
            )
        bore, tapped = one.cut.bore, one.cut.bore < 1e-4
        for joint in {j.id: j for j in (one.frame_joint, one.axle_joint) if j and j.thread_diameter_m}.values():
            if not tapped and bore < TAPPED * (joint.thread_diameter_m or 0.0):
                out.append(
                    Finding(
                        "C204",
                        "danger",
                        f"{name}: the bore of {show(bore, 'length', unit, decimals=2)} is smaller than the {show(joint.thread_diameter_m, 'length', unit)} thread of {joint.name}.",
                        "An insert or tapped end cannot take that thread. A bigger tube or a smaller joint.",
                        "cut",
                        subject,
                    )
                )
    return tuple(out)


def default_findings(project: Project, layout: Layout) -> tuple[Finding, ...]:
    """What is to be cut to sizes that were only proposed: one finding a layout."""
    found = {link.name: parts for link in layout.links if (parts := default_parts(project, layout, link))}
    if not found:
        return ()
    kinds = [word for word in ("tube", "take-up", "joint") if any(word in parts for parts in found.values())]
    what = kinds[0] if len(kinds) == 1 else f"{', '.join(kinds[:-1])} and {kinds[-1]}"
    who = next(iter(found)) if len(found) == 1 else f"{len(found)} of {len(layout.links)} links"
    sentence = f"{layout.name}: {what} of {who} are as proposed; nobody has entered them."
    if len(kinds) == 1 and len(found) == 1:
        sentence = sentence.replace(
            " are as proposed; nobody has entered them.", " is as proposed; nobody has entered it."
        )
    return (
        Finding(
            "C205",
            "warn",
            sentence,
            "A tube is cut to what will be bolted on: measure it on the parts in hand and type it, or accept this once they are as proposed.",
            "cut",
            layout.id,
        ),
    )
