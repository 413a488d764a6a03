"""Cards, bolts, fits, brakes, the register and the first drive in words: the same for window, command line and paper."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from stoutlink.core.advice.gear_words import small
from stoutlink.core.analysis.bench.brake_sheet import BrakeSheet, FittingFound
from stoutlink.core.analysis.bench.card import Card, CardLine, Standing
from stoutlink.core.analysis.bench.card_step import CardStep
from stoutlink.core.analysis.bench.case_fit import CaseSheet
from stoutlink.core.analysis.bench.fasteners import BoltLine
from stoutlink.core.analysis.bench.first_drive import DriveSheet, Gate
from stoutlink.core.analysis.cycle.reach import LineReach
from stoutlink.core.document.bench import ASSEMBLY_WORDS, Stop
from stoutlink.core.document.brakes import FLARE_WORDS
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import Kind, show

CAUTION = "Lockers, brakes, steering and axles decide whether a rig stops and stays upright: the maker's paper comes before this card, local rules before both, and a licensed hand where they ask for one."
PRESS_CAUTION = "Presses, springs and spreaders store what they are given: eyes covered, hands out of the way, nobody in line with them."
STANDING_WORDS: dict[Standing, str] = {
    "shut": "waits", "open": "open", "unjudged": "no window typed", "out": "out of its window", "reopened": "to be done again",
    "feel": "by feel", "done": "done", "not_here": "not here",
}  # fmt: skip
FINE_BELOW = 0.003
"""Lengths below this, m, are shown to a tenth of a thou or a thousandth of a millimetre."""
Hoses = Mapping[str, LineReach]
BOLT_WORDS = {
    "open": "open", "part": "part done", "undone": "loosened", "out": "other torque put down", "again": "torque again", "done": "done",
}  # fmt: skip


def number(value: float, step: CardStep, unit: UnitSystem) -> str:
    """A value read at a step."""
    assert step.kind is not None
    kind: Kind = step.kind
    if kind == "fine_length" and abs(value) < FINE_BELOW:
        return small(value, unit)
    return f"{value:g} {step.unit}".strip() if kind == "number" else show(value, kind, unit)


def reading_words(values: Iterable[float], step: CardStep, unit: UnitSystem) -> str:
    """What was read, place by place."""
    return ", ".join(number(v, step, unit) for v in values)


def window_words(line: CardLine, unit: UnitSystem) -> str:
    """The window of a step in words, with whose it is."""
    low, high, spread = line.window
    step = line.step
    if low is None and high is None:
        return "no window typed"
    if low is not None and high is not None:
        words = f"{number(low, step, unit)} to {number(high, step, unit)}"
    elif high is not None:
        words = f"at most {number(high, step, unit)}"
    else:
        words = f"at least {number(low or 0.0, step, unit)}"
    if spread is not None and step.least > 1:
        words += f", spread up to {number(spread, step, unit)}"
    return words + (f" ({line.source})" if line.source else " (source not typed)")


def line_words(line: CardLine, unit: UnitSystem) -> str:
    """One step of a card in a line."""
    step = line.step
    words = f"{step.title}: {STANDING_WORDS[line.standing]}"
    note = "" if line.work is None or not line.work.note else f"; {line.work.note}"
    if line.standing == "shut":
        words = f"{step.title}: waits for {'; '.join(line.waits)}"
    if line.reading is not None:
        words += f", read {reading_words(line.reading.values, step, unit)}"
        if line.judged is not None and line.judged.says == "few":
            words += f", {step.least} places wanted"
    elif step.found is not None and step.where and line.standing in ("open", "shut"):
        words += f" (from {step.where})" if step.where != "limits" else ""
    return words + note


def stop_words(stop: Stop, card: Card) -> str:
    """Where work was left."""
    line = card.line(stop.step)
    parts = [f"Stopped{' on ' + stop.when if stop.when else ''}{' by ' + stop.by if stop.by else ''}"]
    parts += [f"at “{line.step.title}”"] if line is not None else []
    parts += [f"in hand: {stop.hand}"] if stop.hand else []
    parts += [f"open or exposed: {stop.exposed}"] if stop.exposed else []
    parts += [f"on order: {stop.ordered}"] if stop.ordered else []
    return "; ".join(parts) + "."


def card_words(card: Card, unit: UnitSystem) -> Iterator[str]:
    """A card line by line."""
    yield f"{ASSEMBLY_WORDS[card.id]}: {card.done} of {len(card.lines)} steps done."
    if card.stop is not None:
        yield stop_words(card.stop, card)
    yield from (f"{k}. {line_words(one, unit)}" for k, one in enumerate(card.lines, 1))
    if card.lacking:
        yield f"Tools that lack: {', '.join(card.lacking)}."


def bolt_words(b: BoltLine, unit: UnitSystem) -> str:
    """One line of the bolts."""
    words = f"{b.place.name}: {'how many is not known' if b.count is None else f'{b.count} off'}"
    thread = "thread not known" if b.thread is None else b.thread.name
    words += f", {thread}" + (f" {b.grade}" if b.grade else "")
    words += (
        f", {show(b.target, 'torque', unit)} ({b.source or 'source not typed'})"
        if b.target is not None
        else ", torque from the part's record"
    )
    words += f"; {BOLT_WORDS[b.standing]}"
    if b.standing == "part":
        words += f", {b.done} of {b.count}"
    if b.read is not None:
        words += f", last {show(b.read, 'torque', unit)}"
    return words


def case_words(case: CaseSheet | None, unit: UnitSystem) -> Iterator[str]:
    """The fit of a third member."""
    if case is None:
        yield "Nothing of this third member is measured yet."
        return
    for room in case.rooms:
        left, pm = show(room.room, "fine_length", unit), show(2 * room.sigma, "fine_length", unit)
        words = f"{room.where.capitalize()}: {left} ± {pm} of room, "
        yield words + (
            "it goes."
            if room.verdict == "goes"
            else f"{'it touches' if room.verdict == 'touches' else 'too tight to be sure'}: relieve {show(room.relieve, 'fine_length', unit)}."
        )
    if case.missing:
        yield f"Still to be measured: {', '.join(case.missing)}."
    for hole in case.holes:
        said = {
            "": "good", "edge": "too near the edge", "weld": "its thread runs in the weld",
            "unread": "measure it" if hole.edges is None else "measure from it to the weld",
        }[hole.wrong]  # fmt: skip
        edges = "" if hole.edges is None else f"{hole.edges:.1f} diameters to the edge, "
        yield f"Hole {hole.id}, {hole.kind}: {edges}{said}."
    yield from (f"Try {k}: touched {one}." for k, one in enumerate(case.fit.contacts, 1))


def brake_words(b: BrakeSheet, unit: UnitSystem, hoses: Hoses | None = None) -> Iterator[str]:
    """What the brakes say; ``hoses`` are reaches of the joints' hoses, by joint."""
    s = b.system
    if b.lacks:
        yield f"No balance yet; still to be typed: {', '.join(b.lacks)}."
    if b.pressure is not None:
        yield f"Line pressure under {show(s.foot_n, 'force', unit)} of foot: {show(b.pressure, 'pressure', unit)}" + (
            "." if b.at_foot is None else f", {b.at_foot:.2f} g while nothing locks."
        )
    elif b.gain is not None:
        yield "Pedal ratio, booster and master cylinder are not all typed: no pressure under the foot."
    if b.lock is not None:
        first = {"front": "The front wheels lock first", "rear": "The rear wheels lock first", "both": "Both ends lock together"}[b.lock.end]  # fmt: skip
        sure = f" ± {2 * b.sure:.2f}" if b.sure > 0 else ""
        yield f"{first} at a grip of {s.grip:g}: {b.lock.deceleration:.2f}{sure} g, at {show(b.lock.pressure, 'pressure', unit)}."
        if len(b.other) > 1:
            yield "Within the ± of the balance point it may be the other end."
    if b.share is not None:
        yield f"There the front does {b.share:.0%} of the braking."
    if b.pedal is not None:
        one, two = (show(v, "fine_length", unit) for v in (b.pedal.front, b.pedal.rear))
        way = show(b.pedal.way, "length", unit)
        yield f"Until the linings touch: {one} of stroke for the front, {two} for the rear, {way} of pedal; hoses and pads give on top of it."
        if b.pedal.runs_out:
            yield f"That is more than the master cylinder has for the {' and the '.join(b.pedal.runs_out)}."
    if b.hold is not None:
        up, down = ("the axle lifts" if v == float("inf") else f"a grip of {v:.2f}" for v in (b.hold.up, b.hold.down))
        where = "rear" if s.parking_end != "front" else "front"
        yield (
            f"Standing on {s.grade:.0%} by the {where} axle: {show(b.hold.torque, 'torque', unit)} at its wheels; {up} facing up, {down} facing down."
            + (
                ""
                if b.holds is None
                else (" The parking brake holds it." if b.holds else " The parking brake does not.")
            )
        )
    yield from (fitting_words(f, unit, (hoses or {}).get(f.fitting.id)) for f in b.fittings)


def fitting_words(f: FittingFound, unit: UnitSystem, hose: LineReach | None = None) -> str:
    """One joint of the lines, with what its hose must reach."""
    one = f.fitting
    tube = "" if one.tube_m is None else f", tube {show(one.tube_m, 'fine_length', unit)}"
    threads = f"{one.thread or '?'} to {one.other_thread or '?'}"
    flares = f"{FLARE_WORDS[one.flare]} to {FLARE_WORDS[one.other_flare]}"
    words = f"{one.name} ({one.place}{tube}): {threads}, {flares}"
    if f.unknown:
        words += f"; not known: {', '.join(f.unknown)}"
    if f.wrong:
        words += f"; does not go together: {'; '.join(f.wrong)}"
        words += f", bridged by {one.bridge}" if one.bridge else ""
    elif not f.unknown:
        words += "; goes together"
    if hose is not None:
        needed, least = (show(v, "length", unit) for v in (hose.needed, hose.shortest.length))
        words += f"; hose {needed} at least, its ends {least} apart at the nearest"
        if hose.spare is not None:
            own = show(hose.line.own_m or 0.0, "length", unit)
            words += f", the one at hand {own}" + ("" if hose.spare >= hose.line.slack_m else ": too short")
    return words


def gate_words(g: Gate) -> str:
    """One line of the first-drive sheet."""
    return f"{g.title}: {gate_stands(g)}"


def gate_stands(g: Gate) -> str:
    """How a gate stands."""
    one = g.signed
    if g.standing == "shut":
        return f"not yet ({g.why})"
    if g.standing == "to sign":
        return "holds, to be signed"
    assert one is not None
    who = f"{one.by}{', ' + one.when if one.when else ''}"
    if g.standing == "signed":
        return f"signed by {who}" + (f", {one.read}" if one.read else "")
    if g.standing == "let through":
        return f"let through by {who} although not so ({g.why}): {one.reason}"
    return f"signed by {who}, but it no longer holds ({g.why})"


def drive_words(d: DriveSheet, unit: UnitSystem) -> Iterator[str]:
    """The first-drive sheet."""
    left = sum(g.open for g in d.gates)
    yield (
        "Every gate is signed: it may be driven."
        if d.may
        else f"Not to be driven: {left} of {len(d.gates)} gates are open."
    )
    yield from (gate_words(g) for g in d.gates)
    if d.first.again_m is not None:
        yield f"Every bolt again after {show(d.first.again_m, 'distance', unit)}; driven so far {show(d.first.driven_m, 'distance', unit)}."
    if d.again:
        yield f"Due for torquing again: {', '.join(d.again)}."
