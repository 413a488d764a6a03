"""What the bench must satisfy: nothing read is written over, no two parts carry one mark, windows that can be met."""

from __future__ import annotations

from stoutlink.core.document.bench import BenchCard, CaseFit, Mark, MarkedPart
from stoutlink.core.document.gear_setup import GearSetup
from stoutlink.core.document.lists import changed, unique
from stoutlink.core.document.project import Project
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import Kind, show


def check_bench(project: Project, before: Project | None) -> None:
    """Gears, cards, bolts, third members and brakes."""
    unit = project.settings.units
    for setup in changed(project.bench.gears, None if before is None else before.bench.gears):
        _gears(setup, None if before is None else next((g for g in before.bench.gears if g.id == setup.id), None), unit)
    for card in changed(project.bench.cards, None if before is None else before.bench.cards):
        _card(card, None if before is None else before.card(card.id), unit)
    _marks(project)
    _bolts(project, before, unit)
    for case in project.bench.cases:
        _case(case, unit)
    unique("brakes.fittings", (one.id for one in project.bench.brakes.fittings))
    for name, brake in (("front", project.bench.brakes.front), ("rear", project.bench.brakes.rear)):
        if brake.piston_m is None or brake.effective_m is None or brake.kind != "disc":
            continue
        least = 0.5 * brake.piston_m
        if brake.effective_m <= least:
            radius, most = show(brake.effective_m, "length", unit), show(least, "length", unit)
            raise ValueOutOfRange(
                "D176", f"brakes.{name}.effective_m: a radius of {radius} lies within the piston; more than {most}."
            )


def _gears(setup: GearSetup, was: GearSetup | None, unit: UnitSystem) -> None:
    unique(f"gears.{setup.id}.stacks", (s.id for s in setup.stacks))
    unique(f"gears.{setup.id}.attempts", (a.id for a in setup.attempts))
    if setup.low_m is not None and setup.high_m is not None and setup.low_m >= setup.high_m:
        low, high = (show(v, "fine_length", unit) for v in (setup.low_m, setup.high_m))
        raise ValueOutOfRange(
            "D170", f"gears.{setup.id}.high_m: backlash from {low} to {high} cannot be; the first must be less."
        )
    known = {} if was is None else {a.id: a for a in was.attempts}
    for number, one in enumerate(setup.attempts, 1):
        old = known.get(one.id)
        if old is None or not old.readings:
            continue
        if (old.pinion_m, old.toward_m, old.away_m) != (one.pinion_m, one.toward_m, one.away_m):
            raise ValueOutOfRange(
                "D174",
                f"Attempt {number} was read with the shims it has; they are not changed afterwards.",
                "Other shims are another attempt.",
            )


def _card(card: BenchCard, was: BenchCard | None, unit: UnitSystem) -> None:
    here = f"cards.{card.id}"
    unique(f"{here}.steps", (s.id for s in card.steps))
    unique(f"{here}.stops", (s.id for s in card.stops))
    unique(f"{here}.parts", (p.id for p in card.parts))
    for step in card.steps:
        if step.low is not None and step.high is not None and step.low > step.high:
            low, high = (show(v, _kind(step.kind), unit) for v in (step.low, step.high))
            raise ValueOutOfRange(
                "D172", f"{here}.steps.{step.id}.high: from {low} to {high} cannot be; the first must be less."
            )
        old = None if was is None else was.step(step.id)
        if old is not None and old.readings and step.readings[: len(old.readings)] != old.readings:
            raise ValueOutOfRange(
                "D173", f"{here}.steps.{step.id}.readings: what was read is not changed.", "Read it again."
            )


def _kind(kind: str) -> Kind:
    return kind  # type: ignore[return-value]


def _bolts(project: Project, before: Project | None, unit: UnitSystem) -> None:
    for bolt in changed(project.bench.fasteners, None if before is None else before.bench.fasteners):
        was = None if before is None else next((f for f in before.bench.fasteners if f.id == bolt.id), None)
        if was is not None and bolt.tight[: len(was.tight)] != was.tight:
            raise ValueOutOfRange(
                "D179", f"fasteners.{bolt.id}.tight: what was put down is not changed.", "Put a new line behind it."
            )
        if bolt.pitch_m is not None and bolt.diameter_m is not None and 2 * bolt.pitch_m >= bolt.diameter_m:
            pitch, most = (show(v, "fine_length", unit) for v in (bolt.pitch_m, 0.5 * bolt.diameter_m))
            raise ValueOutOfRange(
                "D175", f"fasteners.{bolt.id}.pitch_m: a pitch of {pitch} is none of this thread; less than {most}."
            )


def mark_words(mark: Mark) -> str:
    """A mark in words.

    >>> mark_words(Mark(count=2)), mark_words(Mark(kind="paint", count=1, colour="Yellow"))
    ('2 punch marks', '1 stroke of yellow')
    """
    many, colour = "s" if mark.count > 1 else "", mark.colour.strip().lower()
    if mark.kind == "tag":
        return f"tag {mark.count} {colour}".strip()
    if mark.kind == "paint":
        return f"{mark.count} stroke{many} of {colour or 'paint'}"
    return f"{mark.count} {'punch mark' if mark.kind == 'punch' else 'scribed line'}{many}"


def _marks(project: Project) -> None:
    """No mark twice in the shop, whichever axle its part is of; a pair that stays together may share one."""
    seen: dict[str, tuple[str, MarkedPart]] = {}
    for card in project.bench.cards:
        for part in card.parts:
            if part.mark is None:
                continue
            words = mark_words(part.mark)
            where, other = seen.get(words, ("", None))
            if other is not None and not (part.pair and part.pair == other.pair and where == card.id):
                raise ValueOutOfRange(
                    "D171",
                    f"cards.{card.id}.parts.{part.id}.mark: {words} stands on “{other.name}” already.",
                    "Another count, kind or colour tells them apart.",
                )
            seen[words] = (card.id, part)


def _case(case: CaseFit, unit: UnitSystem) -> None:
    unique(f"cases.{case.id}.holes", (h.id for h in case.holes))
    if case.reach_in_m is not None and case.reach_out_m is not None and case.reach_in_m > case.reach_out_m:
        one, two = (show(v, "length", unit) for v in (case.reach_in_m, case.reach_out_m))
        raise ValueOutOfRange(
            "D177",
            f"cases.{case.id}.reach_out_m: drawn in it reaches {one}, out {two}; the second must be the greater.",
        )
