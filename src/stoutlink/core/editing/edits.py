"""Every change the user can make, as a named edit: label, merge key, project in, project out.

An edit whose project would not pass its checks raises and nothing changes. Edits with the same merge key, one
after the other, are one step of undo (a drag, a spin of a field).
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import msgspec

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.checking import check_project
from stoutlink.core.document.layout import Layout, Link, PivotEnd
from stoutlink.core.document.paths import accept, field_info, get_value, with_value
from stoutlink.core.document.project import Accepted, Basis, Entry, Project
from stoutlink.core.document.quantities import Point
from stoutlink.core.errors import ValueOutOfRange


class Edit(ABC):
    """One change. ``label`` stands in the undo menu, ``merge_key`` joins a run of edits (``None``: never)."""

    @property
    @abstractmethod
    def label(self) -> str:
        """What it does, in the shop's words."""

    @property
    def merge_key(self) -> str | None:
        """Edits in a row with the same key undo together."""
        return None

    @abstractmethod
    def apply(self, project: Project) -> Project:
        """The next project; raises a :class:`~stoutlink.core.errors.StoutError` when it cannot be."""


@dataclass(frozen=True)
class SetNumber(Edit):
    """Put a number in a field by path, with the text as typed and where it is from; ``None`` empties an optional one."""

    path: str
    value: float | None
    text: str = ""
    basis: Basis = "typed"
    title: str = ""

    @property
    def label(self) -> str:
        return f"Set {self.title or self.path.rsplit('.', 1)[-1]}"

    def apply(self, project: Project) -> Project:
        if self.value is None:
            if not field_info(project, self.path).optional:
                raise ValueOutOfRange("D121", f"{field_info(project, self.path).title} cannot be empty.")
        else:
            accept(project, self.path, self.value)
        after = with_value(project, self.path, self.value)
        after = _noted(after, [self.path], None if self.value is None else Entry(field=self.path, text=self.text, basis=self.basis))
        check_project(after)
        return after


@dataclass(frozen=True)
class SetChoice(Edit):
    """Choose one of a field's words (units, school, use, kind of transfer case, name)."""

    path: str
    value: Any
    title: str = ""

    @property
    def label(self) -> str:
        return f"Change {self.title or self.path.rsplit('.', 1)[-1].replace('_', ' ')}"

    def apply(self, project: Project) -> Project:
        try:
            after = msgspec.convert(msgspec.to_builtins(with_value(project, self.path, self.value)), Project)
        except msgspec.ValidationError:
            raise ValueOutOfRange("D122", f"{self.title or self.path} cannot be “{str(self.value)[:60]}”.") from None
        check_project(after)
        return after


@dataclass(frozen=True)
class MovePivot(Edit):
    """Put a pivot somewhere; in a mirrored layout its partner follows on the other side."""

    layout: str
    link: str
    which: PivotEnd
    to: Point
    gesture: str = ""
    texts: tuple[str, str, str] = ("", "", "")

    @property
    def label(self) -> str:
        return f"Move {self.link.replace('_', ' ')} {self.which} pivot"

    @property
    def merge_key(self) -> str | None:
        return f"move {self.layout} {self.link} {self.which} {self.gesture}" if self.gesture else None

    def apply(self, project: Project) -> Project:
        layout = _layout(project, self.layout)
        link = _link(layout, self.link)
        moved = {link.id: self.to}
        partner = layout.partner(link) if layout.mirrored else None
        if partner is not None:
            moved[partner.id] = (self.to[0], -self.to[1], self.to[2])
        field = f"{self.which}_pivot_m"
        after = project
        paths = []
        for name, point in moved.items():
            here = f"layouts.{layout.id}.links.{name}.{field}"
            for i, value in enumerate(point):
                accept(project, f"{here}.{i}", value)
            after = with_value(after, here, point)
            paths += [f"{here}.{i}" for i in range(3) if get_value(project, here)[i] != point[i]]
        after = _noted(after, paths, None)
        for i, text in enumerate(self.texts):
            if text:
                path = f"layouts.{layout.id}.links.{link.id}.{field}.{i}"
                after = _noted(after, [path], Entry(field=path, text=text, basis="measured"))
        check_project(after)
        return after


@dataclass(frozen=True)
class SetMirrored(Edit):
    """Tie left and right pivots together, or let them differ. Tying takes the left side as it is."""

    layout: str
    mirrored: bool

    @property
    def label(self) -> str:
        return "Mirror left and right" if self.mirrored else "Let left and right differ"

    def apply(self, project: Project) -> Project:
        layout = _layout(project, self.layout)
        links = list(layout.links)
        if self.mirrored:
            for i, link in enumerate(links):
                partner = layout.partner(link)
                if link.side == "right" and partner is not None:
                    links[i] = msgspec.structs.replace(link, frame_pivot_m=_flip(partner.frame_pivot_m), axle_pivot_m=_flip(partner.axle_pivot_m))
        after = with_value(project, f"layouts.{layout.id}", msgspec.structs.replace(layout, mirrored=self.mirrored, links=tuple(links)))
        check_project(after)
        return after


@dataclass(frozen=True)
class ChooseDonor(Edit):
    """Choose the donor for one end; a record not yet in the project is taken in."""

    end: str
    donor: DonorAxle | None

    @property
    def label(self) -> str:
        return f"Choose {self.end} axle" if self.donor else f"Clear {self.end} axle"

    def apply(self, project: Project) -> Project:
        donors = project.donors
        if self.donor is not None and all(d.id != self.donor.id for d in donors):
            donors = (*donors, self.donor)
        after = msgspec.structs.replace(project, donors=donors, **{f"{self.end}_donor": self.donor.id if self.donor else None})
        check_project(after)
        return after


@dataclass(frozen=True)
class ImportDonors(Edit):
    """Add donor records; one with a known id replaces the old record."""

    donors: tuple[DonorAxle, ...]

    @property
    def label(self) -> str:
        return f"Import {len(self.donors)} donor axles"

    def apply(self, project: Project) -> Project:
        new = {d.id: d for d in self.donors}
        kept = tuple(new.pop(d.id, d) for d in project.donors)
        after = msgspec.structs.replace(project, donors=(*kept, *new.values()))
        check_project(after)
        return after


@dataclass(frozen=True)
class AcceptKnockOn(Edit):
    """Mark a knock-on as accepted, with when and why; ``why`` None opens it again."""

    code: str
    when: str
    why: str | None

    @property
    def label(self) -> str:
        return "Accept knock-on" if self.why is not None else "Reopen knock-on"

    def apply(self, project: Project) -> Project:
        rest = tuple(a for a in project.accepted if a.code != self.code)
        if self.why is not None:
            rest = (*rest, Accepted(code=self.code, when=self.when, why=self.why))
        return msgspec.structs.replace(project, accepted=rest)


def _flip(point: Point) -> Point:
    return point[0], -point[1], point[2]


def _layout(project: Project, layout_id: str) -> Layout:
    for one in project.layouts:
        if one.id == layout_id:
            return one
    raise ValueOutOfRange("D123", f"There is no layout “{layout_id}”.")


def _link(layout: Layout, link_id: str) -> Link:
    link = layout.link(link_id)
    if link is None:
        raise ValueOutOfRange("D124", f"There is no link “{link_id}” in {layout.name}.")
    return link


def _noted(project: Project, paths: Iterable[str], entry: Entry | None) -> Project:
    """Drop the notes at ``paths`` and add ``entry`` if there is one."""
    gone = set(paths)
    entries = tuple(e for e in project.entries if e.field not in gone)
    if len(entries) == len(project.entries):
        entries = project.entries
    if entry is not None and (entry.text or entry.basis != "typed"):
        entries = (*entries, entry)
    return msgspec.structs.replace(project, entries=entries)
