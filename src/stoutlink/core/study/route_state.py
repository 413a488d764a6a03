"""How a step of the route stands, by what is known and what is open: one small function a step."""

from __future__ import annotations

from typing import Literal

from stoutlink.core.analysis.plan.plan_sheet import said, state_of, with_own
from stoutlink.core.document.build_plan import OVER
from stoutlink.core.study.study import Study

State = Literal["untouched", "work", "open", "settled"]
StepState = tuple[State, str]
"""The state and the word for it."""
SETTLED: StepState = ("settled", "settled")


def rig_state(study: Study) -> StepState:
    """Settled when everything is entered, nothing is open and nothing in it an estimate."""
    if study.needs:
        whole = sum(e.field.startswith("rig.") for e in study.project.entries) > len(study.needs)
        return ("work" if whole else "untouched"), f"{len(study.needs)} to enter"
    found = _open(study, "rig")
    if found is not None:
        return found
    guesses = sum(1 for e in study.project.entries if e.field.startswith("rig.") and e.basis == "estimated")
    return ("work", f"{guesses} estimate{'s' if guesses != 1 else ''}") if guesses else SETTLED


def donors_state(study: Study) -> StepState:
    """Untouched until an axle is chosen."""
    if study.project.donor("rear") is None and study.project.donor("front") is None:
        return "untouched", "none chosen"
    return _open(study, "donors") or SETTLED


def tape_state(study: Study) -> StepState:
    """Untouched until a station is measured."""
    if not any(s.points for s in study.project.tape.surveys):
        return "untouched", "not measured"
    return _open(study, "tape") or SETTLED


def layout_state(study: Study) -> StepState:
    """In work while a gauge is out of its band."""
    nothing = _no_layout(study)
    if nothing is not None:
        return nothing
    out = sum(g.standing == "out" for axle in study.axles.values() for g in axle.gauges)
    return _open(study, "layout") or (("work", f"{out} out of band") if out else SETTLED)


def travel_state(study: Study) -> StepState:
    """In work until both axles have been cycled; open while anything it shows is."""
    nothing = _no_layout(study)
    if nothing is not None:
        return nothing
    return _open(study, "travel") or (SETTLED if study.cycled else ("work", "cycling"))


def cut_state(study: Study) -> StepState:
    """Waits for a layout that works; settled once nothing it rests on is open, or where nothing is to be cut."""
    nothing = _no_layout(study)
    if nothing is not None:
        return nothing
    if not study.cuts:
        hung = any(axle.gauges for axle in study.axles.values())
        return ("settled", "nothing to cut") if hung else ("untouched", "waits for layout")
    found, waits = _open(study, "cut"), study.cut_waits
    return found or (("work", waits[0].partition(" in ")[0]) if waits else SETTLED)


def bench_state(study: Study) -> StepState:
    """Untouched until something is written down; open while a finding is; in work until it is released for driving."""
    p = study.project
    real = [g for g in p.bench.gears if g.trainer is None]
    if not (
        p.bench.cards or real or p.bench.fasteners or p.bench.cases or p.bench.loose_ends or p.bench.first_drive.gates
    ):
        return "untouched", "not begun"
    found = _open(study, "bench")
    if found is not None:
        return found
    if p.bench.first_drive.released and study.drive_sheet.may:
        return SETTLED
    cards = study.cards.values()
    left = sum(len(c.lines) - c.done for c in cards)
    return "work", f"{left} steps left" if left else "to be signed"


def plan_state(study: Study) -> StepState:
    """Untouched until a first day is said; in work while tasks are left."""
    plan = study.project.build
    if not plan.begin:
        return "untouched", "not begun"
    left = sum(state_of(t, said(plan, t)) not in OVER for t in with_own(study.tasks, plan))
    return ("work", f"{left} tasks left") if left else SETTLED


def log_state(study: Study) -> StepState:
    """Untouched until something is read or driven; open while a finding is; settled once it is handed over."""
    log = study.project.log
    if not (log.built.readings or log.runs or log.care or log.hand_over.when):
        return "untouched", "not begun"
    found = _open(study, "log")
    if found is not None:
        return found
    if log.hand_over.when:
        return SETTLED
    return "work", f"{len(log.runs)} run{'s' if len(log.runs) != 1 else ''}" if log.runs else "as built"


def _no_layout(study: Study) -> StepState | None:
    if study.project.layout("rear") is None and study.project.layout("front") is None:
        return "untouched", "no layout"
    return None


def _open(study: Study, step: str) -> StepState | None:
    count = sum(1 for f in study.open_so_far if f.step == step and f.severity != "note")
    return ("open", f"{count} open") if count else None
