"""Projects for the bench's tests: the demo's rear axle with other records."""

from __future__ import annotations

from typing import Any

import msgspec

from stoutlink.core.document.bench import BenchReading, StepWork
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.bench_edits import MarkStep, TakeReading
from stoutlink.core.study.study import Study

IN = 0.0254


def bare(project: Project) -> Project:
    """Nothing written at the bench, no welds planned."""
    return with_parts(
        project, cards=(), fasteners=(), cases=(), loose_ends=(), gears=(), welding=(), first_drive=type(project.bench.first_drive)()
    )  # fmt: skip


def rear(project: Project, **changes: Any) -> Project:
    """The demo with another record of its rear axle; ``locker`` is planned as well."""
    donors = tuple(
        msgspec.structs.replace(d, **changes) if d.id == project.swap.rear_donor else d
        for d in bare(project).swap.donors
    )
    plan = msgspec.structs.replace(project.swap.rear_plan, locker=changes.get("locker"), gears=None, keep_gears=True)
    return with_parts(bare(project), donors=donors, rear_plan=plan)


def keys(project: Project, assembly: str = "rear") -> list[str]:
    """Keys of a card's steps."""
    card = Study(project).bench_card(assembly)
    assert card is not None
    return [line.step.key for line in card.lines]


def standing(project: Project, key: str, assembly: str = "rear") -> str:
    """How a step stands."""
    card = Study(project).bench_card(assembly)
    assert card is not None
    line = card.line(key)
    assert line is not None
    return line.standing


def done(project: Project, *steps: str, assembly: Any = "rear", at: str = "") -> Project:
    """Steps ticked."""
    for step in steps:
        project = MarkStep(assembly, step, "number", "done", at=at).apply(project)
    return project


def read(project: Project, step: str, kind: Any, *values: float, assembly: Any = "rear", at: str = "", sigma: float | None = None) -> Project:  # fmt: skip
    """A reading of a step."""
    reading = BenchReading(values=values, at=at, sigma=sigma)
    return TakeReading(assembly, step, kind, reading).apply(project)


def limits(project: Project, step: str, kind: Any, low: float | None, high: float | None, spread: float | None = None, assembly: Any = "rear") -> Project:  # fmt: skip
    """The window of a step typed."""
    card = project.card(assembly)
    assert card is not None
    old = card.step(step) or StepWork(id=step, kind=kind)
    new = msgspec.structs.replace(old, kind=kind, low=low, high=high, spread=spread, source="paper")
    steps = (*(s for s in card.steps if s.id != step), new)
    cards = tuple(msgspec.structs.replace(c, steps=steps) if c.id == assembly else c for c in project.bench.cards)
    return with_parts(project, cards=cards)
