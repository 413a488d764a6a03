"""Edits of whole layouts: copy one to try something, take one away, use another."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from stoutlink.core.document.checking import check_project
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import Edit
from stoutlink.core.errors import ValueOutOfRange

MOST = 60
"""Layouts a project holds."""


def _found(project: Project, layout: str) -> Layout:
    for one in project.layouts:
        if one.id == layout:
            return one
    raise ValueOutOfRange("D123", f"There is no layout “{layout}”.")


@dataclass(frozen=True)
class CopyLayout(Edit):
    """Copy a layout under a new id and name, notes on its numbers included; work goes on in the copy, held against the original."""

    layout: str
    new: str
    name: str

    @property
    def label(self) -> str:
        return "Copy the layout"

    def apply(self, project: Project) -> Project:
        old = _found(project, self.layout)
        if len(project.layouts) >= MOST:
            raise ValueOutOfRange("D127", f"The project holds {len(project.layouts)} layouts already; {MOST} is the most it takes.")
        if any(one.id == self.new for one in project.layouts):
            raise ValueOutOfRange("D112", f"layouts holds “{self.new}” twice.")
        copy = msgspec.structs.replace(old, id=self.new, name=self.name[:120])
        here, there = f"layouts.{old.id}.", f"layouts.{self.new}."
        notes = tuple(msgspec.structs.replace(e, field=there + e.field.removeprefix(here)) for e in project.entries if e.field.startswith(here))
        after = msgspec.structs.replace(
            project,
            layouts=(*project.layouts, copy),
            entries=(*project.entries, *notes),
            **{f"{old.end}_layout": self.new, f"{old.end}_compare": old.id},
        )
        check_project(after)
        return after


@dataclass(frozen=True)
class TakeLayout(Edit):
    """Take a layout away with its notes; another of the same end comes into use if it was the one in use."""

    layout: str

    @property
    def label(self) -> str:
        return "Remove the layout"

    def apply(self, project: Project) -> Project:
        old = _found(project, self.layout)
        rest = tuple(one for one in project.layouts if one.id != old.id)
        same = [one.id for one in rest if one.end == old.end]
        used, held = f"{old.end}_layout", f"{old.end}_compare"
        now, against = getattr(project, used), getattr(project, held)
        if now == old.id:
            now = against if against in same else same[0] if same else None
        if against in (old.id, now):
            against = None
        entries = tuple(e for e in project.entries if not e.field.startswith(f"layouts.{old.id}."))
        after = msgspec.structs.replace(project, layouts=rest, entries=entries, **{used: now, held: against})
        check_project(after)
        return after


@dataclass(frozen=True)
class UseLayout(Edit):
    """Put a layout to use at its end, held against ``against`` (an id, or ``None``)."""

    layout: str
    against: str | None

    @property
    def label(self) -> str:
        return "Use another layout"

    def apply(self, project: Project) -> Project:
        one = _found(project, self.layout)
        against = None if self.against == self.layout else self.against
        after = msgspec.structs.replace(project, **{f"{one.end}_layout": one.id, f"{one.end}_compare": against})
        check_project(after)
        return after
