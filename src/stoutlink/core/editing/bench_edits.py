"""Edits at the bench: take a reading, tick a step, tighten and loosen bolts, sign a gate, move a part to the other axle."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, TypeVar

import msgspec

from stoutlink.core.document.bench import (
    Assembly,
    BenchCard,
    BenchReading,
    DriveGate,
    Fastener,
    ReadingKind,
    StepState,
    StepWork,
    Tightened,
)
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Entry, Project, with_parts
from stoutlink.core.document.swap import Inspection
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.notes import noted
from stoutlink.core.errors import ValueOutOfRange

S = TypeVar("S", bound=msgspec.Struct)


def put(items: tuple[S, ...], one: Any) -> tuple[S, ...]:
    """A list with a value in the place of the one with its id, or behind all."""
    if any(x.id == one.id for x in items):  # type: ignore[attr-defined]
        return tuple(one if x.id == one.id else x for x in items)  # type: ignore[attr-defined]
    return (*items, one)


def card_of(project: Project, assembly: Assembly) -> BenchCard:
    """What is written down of an assembly, or an empty card."""
    return project.card(assembly) or BenchCard(id=assembly)


def _with_step(
    project: Project, assembly: Assembly, key: str, kind: ReadingKind, change: Callable[[StepWork], StepWork]
) -> Project:
    card = card_of(project, assembly)
    work = card.step(key) or StepWork(id=key, kind=kind)
    if not work.readings and work.kind != kind:
        work = msgspec.structs.replace(work, kind=kind)
    card = msgspec.structs.replace(card, steps=put(card.steps, change(work)))
    return with_parts(project, cards=put(project.bench.cards, card))


class TakeReading(Edit, frozen=True):
    """Write a reading down behind the earlier ones of a step. One that ``feeds`` the ratio counted or the axle's weight
    goes into the inspection or the record of the ``axle`` as well, as measured."""

    assembly: Assembly
    step: str
    kind: ReadingKind
    reading: BenchReading
    feeds: Literal["", "ratio", "weight"] = ""
    axle: str = ""

    @property
    def label(self) -> str:
        return "Take a reading"

    def change(self, project: Project) -> Project:
        after = _with_step(
            project,
            self.assembly,
            self.step,
            self.kind,
            lambda w: msgspec.structs.replace(w, readings=(*w.readings, self.reading)),
        )
        value = self.reading.values[0]
        if self.feeds == "ratio" and self.axle:
            old = next((i for i in after.swap.inspections if i.id == self.axle), Inspection(id=self.axle))
            new = msgspec.structs.replace(old, pinion_turns=value, wheel_turns=1.0)
            after = with_parts(after, inspections=put(after.swap.inspections, new))
            path = f"inspections.{self.axle}.pinion_turns"
            return noted(after, [path], Entry(field=path, basis="measured"))
        if self.feeds == "weight" and self.axle:
            path = f"donors.{self.axle}.weight_kg"
            after = with_value(after, path, value)
            return noted(after, [path], Entry(field=path, basis="measured", sigma=self.reading.sigma))
        return after


class MarkStep(Edit, frozen=True):
    """Say what became of a step; ``at`` is the gear attempt whose shims are in."""

    assembly: Assembly
    step: str
    kind: ReadingKind
    state: StepState
    when: str = ""
    by: str = ""
    at: str = ""

    @property
    def label(self) -> str:
        return {
            "open": "Open a step again",
            "done": "Tick a step",
            "by_feel": "Step by feel",
            "not_here": "Step not here",
        }[self.state]

    def change(self, project: Project) -> Project:
        return _with_step(
            project,
            self.assembly,
            self.step,
            self.kind,
            lambda w: msgspec.structs.replace(w, state=self.state, when=self.when, by=self.by, at=self.at),
        )


class AddLimits(Edit, frozen=True):
    """Have a place for the window of a step."""

    assembly: Assembly
    step: str
    kind: ReadingKind

    @property
    def label(self) -> str:
        return "Type limits"

    def change(self, project: Project) -> Project:
        return _with_step(project, self.assembly, self.step, self.kind, lambda w: w)


class AddPhoto(Edit, frozen=True):
    """Put a picture by its name to a step."""

    assembly: Assembly
    step: str
    kind: ReadingKind
    photo: str

    @property
    def label(self) -> str:
        return "Add a photo"

    def change(self, project: Project) -> Project:
        return _with_step(
            project,
            self.assembly,
            self.step,
            self.kind,
            lambda w: w if self.photo in w.photos else msgspec.structs.replace(w, photos=(*w.photos, self.photo)),
        )


class Tighten(Edit, frozen=True):
    """Put a tightening down behind the earlier ones; ``like`` is the line as it stands where nothing was written of it."""

    bolt: Fastener
    done: Tightened

    @property
    def label(self) -> str:
        return "Put a torque down"

    def change(self, project: Project) -> Project:
        one = next((f for f in project.bench.fasteners if f.id == self.bolt.id), self.bolt)
        new = msgspec.structs.replace(one, tight=(*one.tight, self.done), undone=False)
        return with_parts(project, fasteners=put(project.bench.fasteners, new))


class Loosen(Edit, frozen=True):
    """Bolts were loosened to get at something: what was put down of them stays, but no longer counts."""

    bolt: Fastener

    @property
    def label(self) -> str:
        return "Bolts loosened"

    def change(self, project: Project) -> Project:
        one = next((f for f in project.bench.fasteners if f.id == self.bolt.id), self.bolt)
        new = msgspec.structs.replace(one, undone=True, void=len(one.tight))
        return with_parts(project, fasteners=put(project.bench.fasteners, new))


class SignGate(Edit, frozen=True):
    """Sign a gate of the first-drive sheet, let it through with a reason, or take the signature back (no name)."""

    gate: DriveGate

    @property
    def label(self) -> str:
        return "Sign a gate" if self.gate.by else "Take a signature back"

    def change(self, project: Project) -> Project:
        first = project.bench.first_drive
        gates = put(first.gates, self.gate) if self.gate.by else tuple(g for g in first.gates if g.id != self.gate.id)
        return with_parts(project, first_drive=msgspec.structs.replace(first, gates=gates))


class ToOtherAxle(Edit, frozen=True):
    """A part goes to the card of the other axle and takes its history along; a pair goes together."""

    assembly: Literal["front", "rear"]
    part: str
    when: str = ""

    @property
    def label(self) -> str:
        return "Part to the other axle"

    def change(self, project: Project) -> Project:
        here = card_of(project, self.assembly)
        other = card_of(project, "rear" if self.assembly == "front" else "front")
        picked = next((p for p in here.parts if p.id == self.part), None)
        if picked is None:
            raise ValueOutOfRange("D180", "That part is not on this card.")
        going = [p for p in here.parts if p is picked or (picked.pair and p.pair == picked.pair)]
        taken = {p.id for p in other.parts}
        for part in going:
            if part.id in taken:
                name = next(p.name for p in other.parts if p.id == part.id)
                raise ValueOutOfRange(
                    "D178", f"The {other.id} axle has “{name}” already.", "Take that one out of its card first."
                )
        dated = f", {self.when}" if self.when else ""
        moved = tuple(
            msgspec.structs.replace(
                p, state="out", order=0, history=f"{p.history}{'; ' if p.history else ''}from the {self.assembly} axle{dated}"[:400]
            )
            for p in going
        )  # fmt: skip
        gone = {p.id for p in going}
        here = msgspec.structs.replace(here, parts=tuple(p for p in here.parts if p.id not in gone))
        other = msgspec.structs.replace(other, parts=(*other.parts, *moved))
        return with_parts(project, cards=put(put(project.bench.cards, here), other))
