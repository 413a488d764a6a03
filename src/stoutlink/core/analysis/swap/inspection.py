"""The donor on delivery: what to look at, and keep, repair with its cost, or walk away."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.swap import Inspection
from stoutlink.core.mechanics.gearing import counted_ratio

TAG_AGREES = 0.02
"""Counted and stamped ratio may differ by this part: counting a quarter turn in twelve."""


class Look(Struct, frozen=True):
    """One thing to look at: how, what a worn and a bad one means, and what mending costs by estimate (in the
    project's currency).

    ``fatal`` when bad: walk away. ``ends``: which axles have it.
    """

    id: str
    title: str
    how: str
    worn: float
    bad: float
    fatal: bool = False
    ends: tuple[str, ...] = ("front", "rear")


LOOKS: tuple[Look, ...] = (
    Look("oil", "Oil", "Drain it into a clean tray: clear is good, milky means water, grey means worn bearings.", 25, 120),
    Look("metal", "Metal in the oil", "Fine paste on the magnet is usual; flakes or needles are not.", 60, 320),
    Look("teeth", "Teeth", "Turn the ring gear under a lamp: chips, pits, a step across a flank, blue heat marks.", 80, 410),
    Look("backlash", "Backlash by feel", "Hold the ring gear, rock the pinion: the same small click all the way round.", 50, 180),
    Look("bearings", "Pinion and carrier bearings", "Pull and push the yoke, turn slowly: no play, no grit.", 90, 240),
    Look("seals", "Seals", "Wipe the pinion and both ends dry, roll it a mile or turn it, look again the next day. Order the set before the axle is opened.", 30, 60),
    Look("spindles", "Spindles and hubs", "Wipe the bearing seats: blue, grooved or turned races cost a spindle.", 70, 260),
    Look("tubes", "Tubes straight", "Bar through pucks of the bearing's size: 1/8 in at the end is out (common practice).", 150, 600, fatal=True),
    Look("casting", "Casting and tube joint", "Wire-brush it: cracks, a tube that has turned in the centre casting, old welds.", 140, 700, fatal=True),
    Look("knuckles", "Kingpins or ball joints, knuckles", "Lift the wheel end and rock it top to bottom; look for bent arms.", 90, 280, ends=("front",)),
    Look("brakes", "Brakes", "Discs or drums to the limit cast in them, cylinders dry behind their boots, slides free, cable runs and comes back.", 75, 230),
    Look("pads", "Spring pads", "Tape pad to pad and pad to face on both sides: one that was shifted leaves an old bead, and its tube may be bent there.", 45, 190),
    Look("duty", "What it did", "Ask and look apart from the mileage: plough frames, towing, water lines, a carrier that was welded.", 35, 150),
    Look("shafts", "Shafts and splines", "Pull them: twisted teeth, rust steps, bent flanges.", 80, 340),
    Look("complete", "Complete", "Everything that was promised: both shafts, hubs, brakes, arms, yoke, cover, tag.", 60, 250),
)  # fmt: skip
STATE_WORDS = {"good": "good", "worn": "worn", "bad": "bad", "unknown": "not looked at"}


class Judgement(Struct, frozen=True):
    """``verdict``: keep, repair, walk away, or unfinished; the cost of all repairs, one line each (look, words, cost), counted ratio and
    what disagrees.
    """

    verdict: str
    why: str
    repairs: tuple[tuple[str, str, float], ...]
    cost: float
    left: tuple[str, ...]
    counted: float | None
    ratio_trouble: str


def looks_for(end: str) -> tuple[Look, ...]:
    """The looks that apply to an end."""
    return tuple(one for one in LOOKS if end in one.ends)


def judge(donor: DonorAxle, found: Inspection | None) -> Judgement:
    """Judge what was found. Walk away for a bad housing, or when repairs come to more than the axle's price; never a
    certificate.
    """
    if found is None:
        return Judgement(
            "unfinished", "Not looked at yet.", (), 0.0, tuple(one.title for one in looks_for(donor.end)), None, ""
        )
    repairs, left, fatal = [], [], []
    for one in looks_for(donor.end):
        check = found.check(one.id)
        state = check.state if check is not None else "unknown"
        if state == "unknown":
            left.append(one.title)
        elif state in ("worn", "bad") and check is not None:
            if state == "bad" and one.fatal:
                fatal.append(one.title.lower())
            repairs.append(
                (
                    one.id,
                    f"{one.title}: {state}",
                    check.cost if check.cost is not None else one.worn if state == "worn" else one.bad,
                )
            )
    counted = None
    trouble = ""
    if found.pinion_turns is not None:
        counted = counted_ratio(found.pinion_turns, found.wheel_turns, donor.hub_ratio)
        for words, ratio in (("the tag", found.tag_ratio), ("the record", donor.ratio)):
            if ratio is not None and abs(counted / ratio - 1.0) > TAG_AGREES:
                trouble = (
                    f"Counted {counted:.2f}, {words} says {ratio:.2f}: somebody has had it open, or the count is off."
                )
                break
    cost = sum(c for _, _, c in repairs)
    if fatal:
        return Judgement(
            "walk away",
            f"Bad: {', '.join(fatal)}. A housing is the axle; what is bolted to it can be bought.",
            tuple(repairs),
            cost,
            tuple(left),
            counted,
            trouble,
        )
    if donor.price is not None and cost > donor.price > 0:
        return Judgement(
            "walk away", "The repairs cost more than the axle.", tuple(repairs), cost, tuple(left), counted, trouble
        )
    if left:
        return Judgement(
            "unfinished", f"{len(left)} looks are left.", tuple(repairs), cost, tuple(left), counted, trouble
        )
    if repairs or trouble:
        return Judgement(
            "repair", trouble or "Worth having once these are mended.", tuple(repairs), cost, (), counted, trouble
        )
    return Judgement(
        "keep", "Nothing found. Keep the sheet with the axle; it replaces no inspection.", (), 0.0, (), counted, trouble
    )
