"""A gear set in words: what is wrong with the last attempt, and what to put in next."""

from __future__ import annotations

from stoutlink.core.analysis.bench.gear_sheet import GearSheet, Next, Shims, patch_words
from stoutlink.core.document.gear_setup import GearAttempt
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

CAUTION = (
    "The maker's chart decides what a good pattern is; these limits are common practice. Both flanks count, and every "
    "change of depth opens backlash, preload and pattern again. Keep hands off turning gears."
)
DOES = {
    "too deep": "too deep on both flanks: the pinion away from the ring",
    "too shallow": "too shallow on both flanks: the pinion towards the ring",
    "to the heel": "to the heel on both flanks: the ring towards the pinion",
    "to the toe": "to the toe on both flanks: the ring away from the pinion",
    "crossed": "crossed, drive and coast opposite: the pinion's depth",
    "off the edge": "a mark runs off the tooth: how far is not known, only that it is more",
    "tight": "too little backlash",
    "loose": "too much backlash",
}


def small(value: float, unit: UnitSystem) -> str:
    """A shim or a gap as fine as it is measured: tenths of a thousandth, or thousandths of a millimetre."""
    return show(value, "fine_length", unit, decimals=4 if unit == "in" else 3)


def shims_words(shims: Shims, unit: UnitSystem) -> str:
    """Three stacks."""
    return f"pinion {small(shims.pinion, unit)}, ring side {small(shims.toward, unit)}, other side {small(shims.away, unit)}"


def next_words(found: Next, unit: UnitSystem) -> str:
    """What to put in, what it will do, how sure that is."""
    will, sure = small(found.will[0], unit), small(2 * found.sure[0], unit)
    return f"Next: {shims_words(found.shims, unit)}. Backlash will be {will} ± {sure}; {found.chance:.0%} likely to be right in everything."


def verdict_words(sheet: GearSheet, unit: UnitSystem) -> str:
    """The line that is read from the bench."""
    number = len(sheet.setup.attempts)
    if sheet.missing:
        return f"Type {sheet.missing}: nothing is judged without."
    if sheet.uneven and sheet.spread is not None:
        return f"Attempt {number}: backlash spreads by {small(sheet.spread, unit)} round the ring, {small(sheet.setup.spread_m, unit)} is allowed. Clean the ring's seat and look for a burr before anything is shimmed."
    if sheet.verdict == "read":
        return f"Attempt {number}: read backlash in four places and paint both flanks."
    if sheet.verdict == "again":
        return f"Attempt {number}: read it once more; one reading alone is not trusted, and two that differ are not averaged."
    if sheet.verdict == "look":
        return f"Attempt {number}: {sheet.chance:.0%} likely right, too near the edge to close it. Read it once more."
    if sheet.verdict == "right":
        return f"Attempt {number} is right ({sheet.chance:.1%}). Preload, new sleeve, then the final reading."
    if sheet.next is None:
        return f"Attempt {number}: not right, and the shims owned make nothing that was not tried. Add shims."
    return next_words(sheet.next, unit)


def wrong_words(sheet: GearSheet) -> str:
    """What is wrong with the last attempt."""
    return "; ".join(DOES[w] for w in sheet.words)


def attempt_words(attempt: GearAttempt, unit: UnitSystem) -> str:
    """An attempt in one line: its shims, what was read last."""
    shims = shims_words(Shims(attempt.pinion_m, attempt.toward_m, attempt.away_m), unit)
    if not attempt.readings:
        return f"{shims}; not read"
    last = attempt.readings[-1]
    gap = "no backlash" if not last.backlash_m else small(sum(last.backlash_m) / len(last.backlash_m), unit)
    return f"{shims}; read {len(attempt.readings)} times, last: backlash {gap}, drive {patch_words(last.drive)}, coast {patch_words(last.coast)}"
