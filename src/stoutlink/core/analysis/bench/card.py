"""A card as it stands: every step with its window, its last reading judged, its gate, and which comes next."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from msgspec import Struct

from stoutlink.core.analysis.bench.card_step import CardStep
from stoutlink.core.document.bench import Assembly, BenchCard, BenchReading, StepWork, Stop
from stoutlink.core.document.gear_setup import GearSetup

Standing = Literal["shut", "open", "unjudged", "out", "reopened", "feel", "done", "not_here"]
PASSED: tuple[Standing, ...] = ("done", "feel", "not_here")
"""Standings that let what follows begin."""
BY_HAND = ("open", "by_feel", "not_here")


class Judged(Struct, frozen=True):
    """A reading against its window: least, most and spread of its places; ``says`` is in, low, high, spread, few, or
    unjudged where no window is typed. ``near``: it is in or out by less than its own 2 σ."""

    low: float
    high: float
    spread: float
    says: Literal["in", "low", "high", "spread", "few", "unjudged"]
    near: bool


class CardLine(Struct, frozen=True):
    """One step of a card."""

    step: CardStep
    work: StepWork | None
    standing: Standing
    waits: tuple[str, ...]
    """Titles of the steps that must come before and are not done."""
    window: tuple[float | None, float | None, float | None]
    source: str
    judged: Judged | None

    @property
    def reading(self) -> BenchReading | None:
        """The last reading."""
        return self.work.readings[-1] if self.work is not None and self.work.readings else None

    @property
    def passed(self) -> bool:
        """Whether what follows may begin."""
        return self.standing in PASSED


class Card(Struct, frozen=True):
    """An assembly's card: its lines in order, the next that can be worked on, where it was left, tools that lack."""

    id: Assembly
    lines: tuple[CardLine, ...]
    stop: Stop | None
    lacking: tuple[str, ...]
    who: str

    @property
    def next(self) -> CardLine | None:
        """The first step that is neither done nor shut; ``None`` when nothing can be done."""
        return next((one for one in self.lines if not one.passed and one.standing != "shut"), None)

    def line(self, key: str) -> CardLine | None:
        """A line by its step's key."""
        return next((one for one in self.lines if one.step.key == key), None)

    @property
    def done(self) -> int:
        """How many steps are behind."""
        return sum(one.passed for one in self.lines)

    @property
    def tools(self) -> tuple[str, ...]:
        """Tools that open steps want, each once."""
        return tuple(dict.fromkeys(t for one in self.lines if not one.passed for t in one.step.tools))


def make_card(
    assembly: Assembly, steps: Iterable[CardStep], work: BenchCard | None, setup: GearSetup | None = None
) -> Card:
    """The card of an assembly from its ``steps`` and what was written down; ``setup`` says which shims are in now."""
    all_ = tuple(steps)
    lines: dict[str, CardLine] = {}
    for step in _limits_first(all_, work):
        lines[step.key] = _line(step, None if work is None else work.step(step.key), lines, all_, setup)
    return Card(
        assembly,
        tuple(lines.values()),
        None if work is None else work.stop,
        () if work is None else work.lacking,
        "" if work is None else work.who,
    )


def windows_of(steps: Iterable[CardStep], work: BenchCard | None, phase: str) -> tuple[bool, ...]:
    """Of each reading of a phase that wants a window: whether it has one."""
    return tuple(
        any(v is not None for v in _window(s, None if work is None else work.step(s.key))[:2])
        for s in steps
        if s.phase == phase and s.kind is not None and s.wants_window
    )


def _limits_first(steps: tuple[CardStep, ...], work: BenchCard | None) -> Iterable[CardStep]:
    """Limits are typed when every reading of their phase has a window."""
    for step in steps:
        if step.where == "limits":
            yield CardStep(
                step.key, step.phase, step.title, step.why, found=all(windows_of(steps, work, step.phase)), where="limits"
            )  # fmt: skip
        else:
            yield step


def _window(step: CardStep, work: StepWork | None) -> tuple[float | None, float | None, float | None]:
    if any(v is not None for v in step.window):
        return step.window
    return (None, None, None) if work is None else (work.low, work.high, work.spread)


def _line(
    step: CardStep,
    work: StepWork | None,
    before: dict[str, CardLine],
    steps: tuple[CardStep, ...],
    setup: GearSetup | None,
) -> CardLine:
    there = {s.key for s in steps}
    waits = tuple(before[n].step.title for n in step.needs if n in there and n in before and not before[n].passed)
    window = _window(step, work)
    source = step.source if any(v is not None for v in step.window) else ("" if work is None else work.source)
    last = work.readings[-1] if work is not None and work.readings else None
    judged = None if last is None else judge(last, window, step)
    return CardLine(step, work, _standing(step, work, judged, waits, setup), waits, window, source, judged)


def _standing(
    step: CardStep, work: StepWork | None, judged: Judged | None, waits: tuple[str, ...], setup: GearSetup | None
) -> Standing:
    state = "open" if work is None else work.state
    if state == "not_here" and step.may_lack:
        return "not_here"
    if step.found is not None:
        if step.found:
            return "shut" if waits else "done"
        return "shut" if waits else "open"
    at = "" if work is None else (work.readings[-1].at if judged is not None and work.readings else work.at)
    if (judged is not None or state in ("done", "by_feel")) and moved_since(step, at, setup):
        return "reopened"
    if state == "by_feel" and step.feel:
        return "shut" if waits else "feel"
    if step.kind is None:
        if state == "done":
            return "shut" if waits else "done"
        return "shut" if waits else "open"
    if judged is None:
        return "shut" if waits else "open"
    if judged.says == "unjudged":
        return "unjudged" if step.wants_window else ("shut" if waits else "done")
    if judged.says != "in":
        return "out"
    return "shut" if waits else "done"


def moved_since(step: CardStep, at: str, setup: GearSetup | None) -> bool:
    """Whether shims were changed after a step was done at the attempt ``at``: depth reopens all that follow it, the ring's
    place what hangs on that."""
    if not step.shims or setup is None or not setup.attempts or not at:
        return False
    then = next((a for a in setup.attempts if a.id == at), None)
    now = setup.attempts[-1]
    if then is None:
        return True
    if abs(then.pinion_m - now.pinion_m) > 1e-7:
        return True
    ring = abs(then.toward_m - now.toward_m) > 1e-7 or abs(then.away_m - now.away_m) > 1e-7
    return step.shims == "ring" and ring


def judge(reading: BenchReading, window: tuple[float | None, float | None, float | None], step: CardStep) -> Judged:
    """A reading against a window (least, most, spread); every place must be in."""
    low, high, spread = window
    least, most = min(reading.values), max(reading.values)
    wide = most - least
    slack = 2.0 * (reading.sigma or 0.0)
    hair = 1e-9
    near = any(
        abs(v - bound) <= slack for v in reading.values for bound in (low, high) if bound is not None and slack > 0.0
    )
    if len(reading.values) < step.least:
        return Judged(least, most, wide, "few", near)
    if low is None and high is None:
        return Judged(least, most, wide, "unjudged", near)
    if low is not None and least < low - hair:
        return Judged(least, most, wide, "low", near)
    if high is not None and most > high + hair:
        return Judged(least, most, wide, "high", near)
    if spread is not None and wide > spread + hair:
        return Judged(least, most, wide, "spread", near)
    return Judged(least, most, wide, "in", near)
