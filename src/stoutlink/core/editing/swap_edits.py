"""Edits of the donor records: taking a catalogue in, taking a record out."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

import msgspec

from stoutlink.core.catalogue.donor import Basis, DonorAxle, ToothPair
from stoutlink.core.catalogue.donor_merge import merge_donor
from stoutlink.core.catalogue.parts_of_axle import ACROSS, AXLE_PARTS, PART_FIELDS, PART_WORDS, PINION, AxlePart
from stoutlink.core.document.donor_marks import donor_marks, marked_entries
from stoutlink.core.document.layout import End
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.swap import MadeAxle
from stoutlink.core.editing.edits import Edit
from stoutlink.core.editing.notes import without_notes
from stoutlink.core.errors import ValueOutOfRange

MOST = 2000
Known = Literal["merge", "replace", "mine"]


class ImportDonors(Edit, frozen=True):
    """Add donor records with where their fields are from. ``known`` says what happens to a record that is there
    already: merged field by field (the more trusted wins, an empty cell wipes nothing), replaced, or kept as it
    is."""

    donors: tuple[DonorAxle, ...]
    marks: tuple[tuple[str, str, Basis], ...] = ()
    known: Known = "merge"

    @property
    def label(self) -> str:
        return f"Import {len(self.donors)} donor axles"

    def change(self, project: Project) -> Project:
        old_marks = donor_marks(project)
        new_marks: dict[tuple[str, str], Basis] = {(one, name): basis for one, name, basis in self.marks}
        have = {d.id: d for d in project.swap.donors}
        touched: dict[tuple[str, str], Basis] = {}
        ids = set()
        for donor in self.donors:
            old = have.get(donor.id)
            if old is not None and self.known == "mine":
                continue
            ids.add(donor.id)
            if old is None or self.known == "replace" or old.end != donor.end:
                have[donor.id] = donor
                touched.update({key: basis for key, basis in new_marks.items() if key[0] == donor.id})
            else:
                merged = merge_donor(old, donor, old_marks, new_marks)
                have[donor.id] = merged.axle
                touched.update(merged.marks)
        if len(have) > MOST:
            raise ValueOutOfRange("D127", f"donors would hold {len(have)} axles; {MOST} is the most a project takes.")
        before = {d.id: d for d in project.swap.donors}

        def kept(one: str, name: str) -> bool:
            return getattr(before.get(one), name, None) == getattr(have[one], name, None) is not None

        entries = marked_entries(project.entries, touched, frozenset(ids), kept)
        if entries == project.entries:
            entries = project.entries
        return with_parts(project, donors=tuple(have.values()), entries=entries)


class TakeDonor(Edit, frozen=True):
    """Take a record out of the project, its notes and inspection with it; an end that had it chosen is left without."""

    donor: str

    @property
    def label(self) -> str:
        return "Take an axle out of the catalogue"

    def change(self, project: Project) -> Project:
        keep = tuple(d for d in project.swap.donors if d.id != self.donor)
        looked_over = tuple(i for i in project.swap.inspections if i.id != self.donor)
        after = with_parts(
            project,
            donors=keep,
            front_donor=None if project.swap.front_donor == self.donor else project.swap.front_donor,
            rear_donor=None if project.swap.rear_donor == self.donor else project.swap.rear_donor,
            inspections=looked_over if len(looked_over) < len(project.swap.inspections) else project.swap.inspections,
            made=project.swap.made
            if all(m.id != self.donor for m in project.swap.made)
            else tuple(m for m in project.swap.made if m.id != self.donor),
        )
        return without_notes(
            after, lambda path: path.startswith((f"donors.{self.donor}.", f"inspections.{self.donor}."))
        )


class TakeExamples(Edit, frozen=True):
    """Take every example out of the catalogue that is not under the rig."""

    @property
    def label(self) -> str:
        return "Take the examples out"

    def change(self, project: Project) -> Project:
        used = (project.swap.front_donor, project.swap.rear_donor)
        for donor in project.swap.donors:
            if donor.example and donor.id not in used:
                project = TakeDonor(donor.id).change(project)
        return project


class StartMade(Edit, frozen=True):
    """Begin an axle made of several: a record of its own whose parts are all from one axle yet."""

    new: str
    source: str

    @property
    def label(self) -> str:
        return "Begin an axle made of several"

    def change(self, project: Project) -> Project:
        source = _record(project, self.source)
        axle = msgspec.structs.replace(
            source, id=self.new, name=f"Made of {source.name}"[:120], maker="", notes="", example=False
        )
        row = MadeAxle(id=self.new, **dict.fromkeys(AXLE_PARTS, source.id))
        after = with_parts(project, donors=(*project.swap.donors, axle), made=(*project.swap.made, row))
        marks = {(self.new, name): basis for (one, name), basis in donor_marks(project).items() if one == source.id}
        entries = marked_entries(after.entries, marks, frozenset({self.new}), lambda one, name: False)
        return after if entries == after.entries else msgspec.structs.replace(after, entries=entries)


class MakeOf(Edit, frozen=True):
    """Take a part of an axle made of several from another record: its numbers come along. The price follows as long as
    it is what the records cost together."""

    axle: str
    part: AxlePart
    source: str

    @property
    def label(self) -> str:
        return f"Take the {PART_WORDS[self.part].partition(':')[0]} from another axle"

    def change(self, project: Project) -> Project:
        row = next((m for m in project.swap.made if m.id == self.axle), None)
        if row is None:
            raise ValueOutOfRange("D158", f"“{self.axle}” is not an axle made of several.")
        axle = _record(project, self.axle)
        known = {d.id: d for d in project.swap.donors}
        after_row = msgspec.structs.replace(row, **{self.part: self.source})
        source = _record(project, self.source)
        before = {part: known.get(getattr(row, part)) for part in AXLE_PARTS}
        after = {**before, self.part: source}
        changed: dict[str, Any] = {name: getattr(source, name) for name in PART_FIELDS[self.part]}
        carrier = after["gears"] if after["gears"] is not None and after["gears"].third_member else after["housing"]
        if self.part in ("gears", "housing") and carrier is not None:
            changed |= {name: getattr(carrier, name) for name in PINION}
        for name, parts in ACROSS.items():
            if self.part in parts:
                whole = {getattr(after_row, part) for part in parts}
                one = after[parts[0]]
                changed[name] = getattr(one, name) if len(whole) == 1 and one is not None else None
        if axle.price == _together(before):
            changed["price"] = _together(after)
        changed = {name: value for name, value in changed.items() if value != getattr(axle, name)}
        new = msgspec.structs.replace(axle, **changed)
        fields = {name for name in changed if getattr(new, name) != getattr(axle, name)}
        project = without_notes(project, lambda path: path in {f"donors.{self.axle}.{name}" for name in fields})
        marks = {
            (self.axle, name): basis
            for (one, name), basis in donor_marks(project).items()
            if one == self.source and name in fields
        }
        entries = marked_entries(project.entries, marks, frozenset({self.axle}), lambda one, name: name not in fields)
        return with_parts(
            project,
            donors=tuple(new if d.id == new.id and changed else d for d in project.swap.donors),
            made=tuple(after_row if m.id == row.id else m for m in project.swap.made),
            entries=project.entries if entries == project.entries else entries,
        )


def _record(project: Project, name: str) -> DonorAxle:
    """A record of the catalogue; raises :class:`ValueOutOfRange` for none."""
    found = next((d for d in project.swap.donors if d.id == name), None)
    if found is None:
        raise ValueOutOfRange("D156", f"There is no axle “{name}” in the catalogue.", "Pick one that is there.")
    return found


def _together(sources: Mapping[AxlePart, DonorAxle | None]) -> float | None:
    """What the records cost together, each once; ``None`` while one has no price."""
    prices = {d.id: d.price for d in sources.values() if d is not None}
    return None if None in prices.values() else sum(p for p in prices.values() if p is not None)


class FitPart(Edit, frozen=True):
    """Plan a part of the shelf into the axle of an end, or back onto the shelf (``None``). Of one kind one goes in: the
    one before stays on the shelf."""

    part: str
    end: End | None

    @property
    def label(self) -> str:
        return "Leave a part on the shelf" if self.end is None else f"Plan a part into the {self.end} axle"

    def change(self, project: Project) -> Project:
        kinds = {one.id: one.kind for one in project.swap.shelf}
        after = project
        for end in ("front", "rear"):
            plan = after.plan(end)
            kept = tuple(x for x in plan.fitted if x != self.part)
            if end == self.end:
                kept = (*(x for x in kept if kinds.get(x) != kinds.get(self.part)), self.part)
            if kept != plan.fitted:
                after = with_parts(after, **{f"{end}_plan": msgspec.structs.replace(plan, fitted=kept)})
        return after


class ChoosePair(Edit, frozen=True):
    """Choose both axles at once, with the gear sets that go together planned where they are not fitted. ``None``
    leaves an end as it is.
    """

    front: DonorAxle | None
    rear: DonorAxle | None
    front_gears: ToothPair | None = None
    rear_gears: ToothPair | None = None

    @property
    def label(self) -> str:
        return "Choose a pair of axles"

    def change(self, project: Project) -> Project:
        after = project
        for end, donor, gears in (("front", self.front, self.front_gears), ("rear", self.rear, self.rear_gears)):
            if donor is None:
                continue
            donors = (
                after.swap.donors if any(d.id == donor.id for d in after.swap.donors) else (*after.swap.donors, donor)
            )
            wanted, plan = None if gears == donor.pair else gears, after.plan(end)
            if plan.gears != wanted:
                plan = msgspec.structs.replace(plan, gears=wanted)
            after = with_parts(after, donors=donors, **{f"{end}_donor": donor.id, f"{end}_plan": plan})
        return after
