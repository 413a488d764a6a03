"""A weld plan in words: where a bead lies, how an order goes, what it does to the ends."""

from __future__ import annotations

from stoutlink.core.analysis.linkage.weld_plan import Ends, FromReadings, WeldBase, WeldSheet
from stoutlink.core.analysis.linkage.weld_run import Run, Step
from stoutlink.core.analysis.linkage.weld_seams import Bead, Housing, where
from stoutlink.core.document.welding import ORDER_WORDS
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


def bead_words(bead: Bead, housing: Housing, unit: UnitSystem) -> str:
    """A bead by its place, its seam, its number along it and its length."""
    of = f", {bead.number} of {bead.of}" if bead.of > 1 else ""
    place = where(bead, housing) if bead.seam.id.startswith("own-") else where(bead, housing).split(",")[0]
    return f"{place}: {bead.seam.name}{of}, {show(bead.length, 'length', unit, decimals=2 if unit == 'in' else 0)} long"


def clock_words(seconds: float) -> str:
    """Minutes and seconds, hours from an hour on.

    >>> clock_words(75.2), clock_words(4000.0)
    ('1:15', '1 h 06 min')
    """
    whole = round(seconds)
    return f"{whole // 3600} h {whole % 3600 // 60:02d} min" if whole >= 3600 else f"{whole // 60}:{whole % 60:02d}"


def ends_words(ends: Ends, unit: UnitSystem, sure: float) -> str:
    """How far both ends have moved."""

    def one(side: str, up: float, ahead: float) -> str:
        told = [
            f"{show(abs(v), 'fine_length', unit)} {a if v > 0 else b}"
            for v, a, b in ((up, "up", "down"), (ahead, "ahead", "back"))
            if abs(v) >= 5e-6
        ]
        return f"{side} end {' and '.join(told) or 'where it was'}"

    return f"{one('left', *ends[:2])}; {one('right', *ends[2:])} (± {sure:.0%})"


def run_words(school: str, run: Run, unit: UnitSystem) -> str:
    """An order in one line."""
    wait = f", {clock_words(run.waited)} of it waiting" if run.waited >= 1 else ""
    turns = sum(s.turned for s in run.steps)
    turned = "not turned" if not turns else "turned once" if turns == 1 else f"turned {turns} times"
    return (
        f"{ORDER_WORDS[school].capitalize()}: {clock_words(run.seconds)}{wait}, {turned}, "  # type: ignore[index]
        f"hottest {show(run.hottest, 'temperature', unit)}, an end off by {show(run.peak, 'fine_length', unit)} on the way"
    )


def step_words(step: Step, number: int, of: int, housing: Housing, unit: UnitSystem) -> str:
    """One step of an order."""
    before = [f"wait {clock_words(step.waited)}"] if step.waited >= 1 else []
    before += ["turn the housing"] if step.turned else []
    before += ["beside the last one, there was no other"] if step.adjoins else []
    return f"{number} of {of}: {bead_words(step.bead, housing, unit)}{' (' + ', '.join(before) + ')' if before else ''}"


def readings_words(found: FromReadings) -> str:
    """What readings make of the shrinkage."""
    return f"Readings tacked and welded ask for a shrinkage of {found.factor:.3f} ± {found.two_sigma:.3f}."


def plan_lines(sheet: WeldSheet, unit: UnitSystem) -> list[str]:
    """The whole plan as lines of text: both orders in one line each, then every bead."""
    base = sheet.base
    assert base.housing is not None
    other = "diagonal" if base.plan.order == "small_bow" else "small_bow"
    out = [run_words(base.plan.order, sheet.run, unit), run_words(other, sheet.other, unit)]
    out.append(f"All together, whatever the order: {ends_words(base.pull, unit, base.pull_sure)}.")
    n = len(sheet.run.steps)
    for k, step in enumerate(sheet.run.steps, 1):
        state = base.state(step.bead.id)
        out.append(f"{step_words(step, k, n, base.housing, unit)}{'' if state is None else ' – ' + state}")
    return out


def base_words(base: WeldBase, unit: UnitSystem) -> list[str]:
    """What the plan takes for granted, each with its own word for being a guess."""
    heat = show(base.input, "heat_input", unit)
    out = [f"Heat input {heat}"]
    h = base.housing
    if h is not None:
        size = f"{show(h.od, 'length', unit)} × {show(h.wall, 'fine_length', unit)}"
        out[0] += f"; tube {size}, {show(h.left - h.right, 'length', unit)} end to end"
        if h.proposed:
            out.append(f"Proposed, not measured: {', '.join(h.proposed)}. Type it under Housing.")
    if base.equivalent is not None:
        out.append(f"Carbon equivalent {base.equivalent:.2f}.")
    return out
