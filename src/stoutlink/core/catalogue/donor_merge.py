"""Two records of one axle become one: what is known is never wiped by an empty cell, nor a measurement by a claim."""

from __future__ import annotations

from typing import Any

import msgspec
from msgspec import Struct

from stoutlink.core.catalogue.donor import FIELDS, Basis, DonorAxle, Marks
from stoutlink.core.catalogue.donor_check import donor_trouble

TRUST: dict[str, int] = {"measured": 3, "sheet": 2, "claim": 1, "estimated": 0}


class Merged(Struct, frozen=True):
    """The record that results, the basis of its fields, and the fields in which the two differed: name, kept value,
    other value.
    """

    axle: DonorAxle
    marks: dict[tuple[str, str], Basis]
    differed: tuple[tuple[str, Any, Any], ...]


def merge_donor(old: DonorAxle, new: DonorAxle, old_marks: Marks, new_marks: Marks) -> Merged:
    """Merge field by field: unknown yields to known, less trusted to more (measured, sheet, claim, estimated);
    between equals the new wins.

    >>> a = DonorAxle(id="x", name="x", end="rear", width_m=1.5, basis="measured")
    >>> b = DonorAxle(id="x", name="x", end="rear", width_m=1.6, price=100.0, basis="claim")
    >>> m = merge_donor(a, b, {}, {})
    >>> m.axle.width_m, m.axle.price, [d[0] for d in m.differed]
    (1.5, 100.0, ['width_m'])
    """
    values: dict[str, Any] = {}
    marks: dict[tuple[str, str], Basis] = {}
    differed = []
    basis = old.basis if TRUST[old.basis] >= TRUST[new.basis] else new.basis
    gears_from = _winner(old, new, old_marks, new_marks, "ring_teeth")
    for name in FIELDS:
        a, b = getattr(old, name), getattr(new, name)
        from_old, from_new = old_marks.get((old.id, name), old.basis), new_marks.get((new.id, name), new.basis)
        take_new = b not in (None, "", ()) and (a in (None, "", ()) or TRUST[from_new] >= TRUST[from_old])
        if name in ("ring_teeth", "pinion_teeth"):
            take_new = gears_from == "new"
        values[name] = b if take_new else a
        if name == "basis":
            values[name] = basis
            continue
        source = from_new if take_new else from_old
        if a == b:
            source = from_old if TRUST[from_old] >= TRUST[from_new] else from_new
        if values[name] not in (None, "", ()) and source != basis and name not in ("id", "end"):
            marks[old.id, name] = source
        if a not in (None, "", ()) and b not in (None, "", ()) and a != b and name not in ("name", "notes"):
            differed.append((name, values[name], a if take_new else b))
    axle = DonorAxle(**values)
    if donor_trouble(axle) is not None:  # two good records that do not go together: the new one stands alone
        return Merged(new, {k: v for k, v in new_marks.items() if k[0] == new.id}, tuple(differed))
    return Merged(msgspec.convert(msgspec.to_builtins(axle), DonorAxle), marks, tuple(differed))


def _winner(old: DonorAxle, new: DonorAxle, old_marks: Marks, new_marks: Marks, name: str) -> str:
    """A tooth pair goes together: which record gives it."""
    if new.pair is None:
        return "old"
    if old.pair is None:
        return "new"
    a, b = old_marks.get((old.id, name), old.basis), new_marks.get((new.id, name), new.basis)
    return "new" if TRUST[b] >= TRUST[a] else "old"
