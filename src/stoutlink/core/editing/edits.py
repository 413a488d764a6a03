"""Every change the user can make, as a named edit: label, merge key, project in, project out.

An edit checks the value it brings; what the parts of a project must satisfy together is checked once, in
:meth:`Edit.apply`, on what changed. Everything an edit does not touch stays the very same
value: all remembering of answers rests on that. Edits with the same merge key, one after the other, are one step of undo
(a drag, a spin of a field).
"""

from __future__ import annotations

import math
from typing import Any

import msgspec
from msgspec import Struct

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.anchor import Across, Up
from stoutlink.core.document.checking import check_project
from stoutlink.core.document.layout import Layout, Link, PivotEnd
from stoutlink.core.document.paths import (
    Gone,
    accept,
    accept_sigma,
    as_declared,
    field_info,
    get_value,
    longest_list,
    same_or_converted,
    with_value,
)
from stoutlink.core.document.placeholders import refitted, with_placeholders
from stoutlink.core.document.project import Accepted, Basis, Entry, Project, with_parts
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.shape import accepted_at, in_shape, refusal
from stoutlink.core.document.spoken import spoken
from stoutlink.core.editing.anchoring import put_on
from stoutlink.core.editing.notes import noted, without_notes
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.text import one_line


class Edit(Struct, frozen=True):
    """One change. ``label`` stands in the undo menu, ``merge_key`` joins a run of edits (``None``: never)."""

    @property
    def label(self) -> str:
        """What it does, in the shop's words."""
        raise NotImplementedError

    @property
    def merge_key(self) -> str | None:
        """Edits in a row with the same key undo together."""
        return None

    def apply(self, project: Project) -> Project:
        """The next project, checked where it differs; raises a :class:`~stoutlink.core.errors.StoutError` when it
        cannot be, and then nothing has changed."""
        try:
            after = in_shape(refitted(self.change(project), project), project)
            check_project(after, project)
        except ValueOutOfRange as why:
            raise ValueOutOfRange(why.code, spoken(project, why.sentence), why.hint) from None
        except Gone:
            raise ValueOutOfRange("D187", f"{self.label}: what this is about is gone. Nothing has changed.") from None
        return after

    def change(self, project: Project) -> Project:
        """The change itself, for :meth:`apply`: the value it brings is checked, the whole is not."""
        raise NotImplementedError


class SetNumber(Edit, frozen=True):
    """Put a number in a field by path, with the text as typed, where it is from and its 1 σ; ``None`` empties an
    optional one.

    ``readings`` and ``spread`` come from an instrument that was averaged.
    """

    path: str
    value: float | None
    text: str = ""
    basis: Basis = "typed"
    title: str = ""
    sigma: float | None = None
    readings: int = 1
    spread: float | None = None

    @property
    def label(self) -> str:
        return f"Set {self.title or self.path.rsplit('.', 1)[-1]}"

    def change(self, project: Project) -> Project:
        if self.value is None and not field_info(project, self.path).optional:
            raise ValueOutOfRange("D121", f"{field_info(project, self.path).title} cannot be empty.")
        value = None if self.value is None else accept(project, self.path, self.value)
        after = with_value(project, self.path, value)
        note = Entry(
            field=self.path,
            text=self.text,
            basis=self.basis,
            sigma=accept_sigma(project, self.path, self.sigma),
            readings=self.readings,
            spread=self.spread,
        )
        return noted(after, [self.path], None if self.value is None else note)


class SetSource(Edit, frozen=True):
    """Say where a number comes from and how sure it is, leaving the number alone; ``sigma`` None is the instrument's
    default.
    """

    path: str
    basis: Basis
    sigma: float | None = None

    @property
    def label(self) -> str:
        return "Set how sure"

    def change(self, project: Project) -> Project:
        sigma = accept_sigma(project, self.path, self.sigma)
        known = project.entry(self.path)
        return noted(
            project,
            [self.path],
            msgspec.structs.replace(known or Entry(field=self.path), basis=self.basis, sigma=sigma),
        )


class _OfList:
    """What changes of a list by path have in common: words of their own, and notes that leave with what is gone."""

    path: str
    what: str

    @property
    def label(self) -> str:
        return self.what

    @staticmethod
    def _without_notes(project: Project, heads: tuple[str, ...]) -> Project:
        """The project without the notes on what is gone."""
        return without_notes(project, lambda path: path.startswith(heads))


class PutInList(_OfList, Edit, frozen=True):
    """Add a value with an ``id`` to a list by path (a survey, a point, a solid, an item), or replace the one with
    that id.

    ``after`` names the one it is put behind when it is new ("" for the front, ``None`` for the end).
    """

    path: str
    item: Any
    what: str
    after: str | None = None
    gesture: str = ""
    guessed: tuple[str, ...] = ()
    """Numbers of it, by name, that nobody has entered yet."""

    @property
    def merge_key(self) -> str | None:
        return f"put {self.path} {self.item.id} {self.gesture}" if self.gesture else None

    def change(self, project: Project) -> Project:
        item = _valid(self.item, project.settings.units)
        items = list(get_value(project, self.path))
        at = next((i for i, one in enumerate(items) if one.id == item.id), None)
        if at is not None:
            items[at] = item
        else:
            most = longest_list(project, self.path)
            if most is not None and len(items) >= most:
                raise ValueOutOfRange(
                    "D127", f"{self.path} holds {len(items)} already; {most} is the most a project takes."
                )
            place = (
                len(items)
                if self.after is None
                else next((i + 1 for i, one in enumerate(items) if one.id == self.after), 0)
            )
            items.insert(place, item)
        after = with_value(project, self.path, tuple(items))
        guessed = [f"{self.path}.{item.id}.{name}" for name in self.guessed]
        return with_placeholders(after, guessed) if guessed else after


class TakeFromList(_OfList, Edit, frozen=True):
    """Remove the values with these ids from a list by path, and the notes on them."""

    path: str
    ids: tuple[str, ...]
    what: str

    def change(self, project: Project) -> Project:
        gone = set(self.ids)
        after = with_value(
            project, self.path, tuple(one for one in get_value(project, self.path) if one.id not in gone)
        )
        return self._without_notes(after, tuple(f"{self.path}.{one}." for one in self.ids))


class ReplaceList(_OfList, Edit, frozen=True):
    """Put a whole list of values in place of another (gears, torque curve, springs on offer), by path."""

    path: str
    items: tuple[Any, ...]
    what: str
    guessed: tuple[str, ...] = ()
    """Numbers of the list, by their way in it (``4`` or ``2.rpm``), that nobody has entered yet."""

    def change(self, project: Project) -> Project:
        owner_path, _, key = self.path.rpartition(".")
        unit = project.settings.units
        if owner_path:
            _valid(msgspec.structs.replace(get_value(project, owner_path), **{key: self.items}), unit)
            items = self.items
        else:
            most = longest_list(project, self.path)
            if most is not None and len(self.items) > most:
                raise ValueOutOfRange("D127", f"{self.path} would hold {len(self.items)}; {most} is the most it takes.")
            items = tuple(_valid(one, unit) for one in self.items)
        before = _by_name(get_value(project, self.path))
        kept = {name for name, one in _by_name(items).items() if before.get(name) == one}
        head = f"{self.path}."

        def gone(path: str) -> bool:
            """A note on what no longer stands at its place."""
            return path.startswith(head) and path.removeprefix(head).split(".", maxsplit=1)[0] not in kept

        after = without_notes(with_value(project, self.path, items), gone)
        guessed = [f"{self.path}.{name}" for name in self.guessed]
        return with_placeholders(after, guessed) if guessed else after


class SetChoice(Edit, frozen=True):
    """Choose one of a field's words (units, school, use, kind of transfer case, name)."""

    path: str
    value: Any
    title: str = ""
    estimates: tuple[str, ...] = ()
    """Numbers of it, by their way in it, that are the program's own estimate until somebody types them."""

    @property
    def label(self) -> str:
        return f"Change {self.title or self.path.rsplit('.', 1)[-1].replace('_', ' ')}"

    def change(self, project: Project) -> Project:
        try:
            value = as_declared(project, self.path, self.value)
        except msgspec.ValidationError as why:
            accepted = accepted_at(project, self.path, str(why))
            shown = one_line(str(self.value), 60)
            raise ValueOutOfRange("D122", f"{self.title or self.path} cannot be “{shown}”; {accepted}.") from None
        after = with_value(project, self.path, value)
        if value is None:
            after = without_notes(after, lambda path: path.startswith(f"{self.path}."))
        for name in self.estimates:
            path = f"{self.path}.{name}"
            after = noted(after, [path], Entry(field=path, basis="estimated"))
        return after


class MovePivot(Edit, frozen=True):
    """Put a pivot somewhere; in a mirrored layout its partner follows on the other side."""

    layout: str
    link: str
    which: PivotEnd
    to: Point
    gesture: str = ""
    texts: tuple[str, str, str] = ("", "", "")
    basis: Basis = "measured"
    sigma: float | None = None
    """Of the coordinate that was typed: where it is from, and its 1 σ in m."""
    across: Across | None = None
    up: Up | None = None
    """The face of a rail it was put on."""

    @property
    def label(self) -> str:
        return f"Move {self.link.replace('_', ' ')} {self.which} pivot"

    @property
    def merge_key(self) -> str | None:
        return f"move {self.layout} {self.link} {self.which} {self.gesture}" if self.gesture else None

    def change(self, project: Project) -> Project:
        layout = _layout(project, self.layout)
        link = _link(layout, self.link)
        to = (
            _at_length(link, self.which, self.to, any(self.texts), project.settings.units)
            if link.length_locked
            else self.to
        )
        moved = {name: (to[0], side * to[1], to[2]) for name, side in layout.moved_with(link, self.which)}
        field = f"{self.which}_pivot_m"
        after = project
        paths = []
        for name, point in moved.items():
            here = f"layouts.{layout.id}.links.{name}.{field}"
            for i, value in enumerate(point):
                accept(project, f"{here}.{i}", value)
            after = with_value(after, here, point)
            paths += [f"{here}.{i}" for i in range(3) if get_value(project, here)[i] != point[i]]
        if self.which == "frame" and (self.across or self.up or layout.anchors):
            after = with_value(after, f"layouts.{layout.id}.anchors", put_on(layout, moved, self.across, self.up))
        after = noted(after, paths, None)
        for i, text in enumerate(self.texts):
            if text:
                path = f"layouts.{layout.id}.links.{link.id}.{field}.{i}"
                after = noted(
                    after,
                    [path],
                    Entry(field=path, text=text, basis=self.basis, sigma=accept_sigma(project, path, self.sigma)),
                )
        return after


class SetMirrored(Edit, frozen=True):
    """Tie left and right pivots together, or let them differ. Tying takes the left side as it is."""

    layout: str
    mirrored: bool

    @property
    def label(self) -> str:
        return "Mirror left and right" if self.mirrored else "Let left and right differ"

    def change(self, project: Project) -> Project:
        layout = _layout(project, self.layout)
        links = list(layout.links)
        if self.mirrored:
            for i, link in enumerate(links):
                partner = layout.partner(link)
                if link.side == "right" and partner is not None:
                    links[i] = msgspec.structs.replace(
                        link, frame_pivot_m=_flip(partner.frame_pivot_m), axle_pivot_m=_flip(partner.axle_pivot_m)
                    )
        return with_value(
            project,
            f"layouts.{layout.id}",
            msgspec.structs.replace(
                layout, mirrored=self.mirrored, links=layout.links if tuple(links) == layout.links else tuple(links)
            ),
        )


class ChooseDonor(Edit, frozen=True):
    """Choose the donor for one end; a record not yet in the project is taken in."""

    end: str
    donor: DonorAxle | None

    @property
    def label(self) -> str:
        return f"Choose {self.end} axle" if self.donor else f"Clear {self.end} axle"

    def change(self, project: Project) -> Project:
        donors = project.swap.donors
        if self.donor is not None and all(d.id != self.donor.id for d in donors):
            donors = (*donors, self.donor)
        return with_parts(project, donors=donors, **{f"{self.end}_donor": self.donor.id if self.donor else None})


class AcceptKnockOn(Edit, frozen=True):
    """Mark what a card says as accepted, by the keys of its findings, with when and why; ``why`` None opens it again."""

    codes: tuple[str, ...]
    when: str
    why: str | None

    @property
    def label(self) -> str:
        return "Accept knock-on" if self.why is not None else "Reopen knock-on"

    def change(self, project: Project) -> Project:
        rest = tuple(a for a in project.accepted if a.code not in self.codes)
        if self.why is not None:
            rest = (*rest, *(Accepted(code=code, when=self.when, why=self.why) for code in self.codes))
        return msgspec.structs.replace(project, accepted=rest)


def _by_name(items: tuple[Any, ...]) -> dict[str, Any]:
    """The values of a list by what stands for them in a path: their id, else their number."""
    return {str(getattr(one, "id", i)): one for i, one in enumerate(items)}


def _valid(item: Any, unit: UnitSystem) -> Any:
    """The very same value once its ranges are checked; raises :class:`ValueOutOfRange` in one sentence."""
    try:
        return same_or_converted(item, type(item))
    except msgspec.ValidationError as why:
        raise refusal(item, item, "", unit, str(why)) from None


def _at_length(link: Link, which: PivotEnd, to: Point, typed: bool, unit: UnitSystem) -> Point:
    """Where a pivot of a link of fixed length comes to rest: a single coordinate stays where it is put and the others
    give way, as far as the link reaches; else straight along the new direction. Raises :class:`ValueOutOfRange` when
    what was typed is out of reach."""
    here, other = link.pivot(which), link.pivot("axle" if which == "frame" else "frame")
    length = math.dist(here, other) if link.settled_m is None else link.settled_m
    changed = [i for i in range(3) if to[i] != here[i]]
    if not changed:
        return here
    for held in (changed[0], None) if len(changed) == 1 else (None,):
        free = [i for i in range(3) if i != held]
        room = length**2 - (0.0 if held is None else (to[held] - other[held]) ** 2)
        size = math.hypot(*(to[i] - other[i] for i in free))
        if room > 1e-12 and size > 1e-9:
            part = math.sqrt(room) / size
            moved = [other[i] + (to[i] - other[i]) * part if i in free else to[i] for i in range(3)]
            return moved[0], moved[1], moved[2]
        if typed:
            break
    raise ValueOutOfRange(
        "D138",
        f"{link.name} is kept {show(length, 'length', unit)} long and does not reach there.",
        "Let its length change, or move the other pivot first.",
    )


def _flip(point: Point) -> Point:
    return point[0], -point[1], point[2]


def _layout(project: Project, layout_id: str) -> Layout:
    for one in project.linkage.layouts:
        if one.id == layout_id:
            return one
    raise ValueOutOfRange("D123", f"There is no layout “{layout_id}”.")


def _link(layout: Layout, link_id: str) -> Link:
    link = layout.link(link_id)
    if link is None:
        raise ValueOutOfRange("D124", f"There is no link “{link_id}” in {layout.name}.")
    return link
