"""Where single fields of donor records are from: the project's entries, as the catalogue table reads and writes them."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast, get_args

from stoutlink.core.catalogue.donor import Basis
from stoutlink.core.document.project import Entry, Project


def donor_marks(project: Project) -> dict[tuple[str, str], Basis]:
    """(axle id, field) → basis, for every donor field that has a note of its own."""
    out: dict[tuple[str, str], Basis] = {}
    for entry in project.entries:
        parts = entry.field.split(".")
        if len(parts) == 3 and parts[0] == "donors" and entry.basis in get_args(Basis):
            out[parts[1], parts[2]] = cast(Basis, entry.basis)
    return out


def marked_entries(
    entries: tuple[Entry, ...],
    marks: dict[tuple[str, str], Basis],
    ids: frozenset[str],
    kept: Callable[[str, str], bool],
) -> tuple[Entry, ...]:
    """Notes with those on the fields of axles ``ids`` replaced by ``marks``.

    A note on a number that was ``kept`` (axle id, field) stays whole, typed text and ± with it, unless a mark says
    otherwise.
    """
    out = []
    left = dict(marks)
    for entry in entries:
        parts = entry.field.split(".")
        if len(parts) == 3 and parts[0] == "donors" and parts[1] in ids:
            said = left.pop((parts[1], parts[2]), None)
            if said is not None and said != entry.basis:
                out.append(Entry(field=entry.field, basis=said))
                continue
            if said is None and not kept(parts[1], parts[2]):
                continue
        out.append(entry)
    return (*out, *(Entry(field=f"donors.{one}.{name}", basis=basis) for (one, name), basis in left.items()))
