"""Older project files, moved forward step by step as plain data before any value is made."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from stoutlink.core.document.project import VERSION

Step = Callable[[dict[str, Any]], dict[str, Any]]


def _one_to_two(raw: dict[str, Any]) -> dict[str, Any]:
    """One use becomes shares of use, first and top gear the list of gears, a converter that multiplies by 1 a clutch."""
    out = {**raw, "version": 2}
    if not isinstance(rig := raw.get("rig"), dict):
        return out
    rig = dict(rig)
    use = rig.pop("use", "rock")
    rig["uses"] = {use: 1.0} if isinstance(use, str) else use
    if isinstance(train := rig.get("drivetrain"), dict):
        train = dict(train)
        if "first_ratio" in train and "top_ratio" in train:
            gears = [train.pop("first_ratio"), train.pop("top_ratio")]
            train["gear_ratios"] = gears[:1] if gears[1:] == gears[:1] else gears
        if train.get("converter_stall_ratio", 1.0) == 1.0:
            train["coupling"] = "clutch"
        rig["drivetrain"] = train
    out["rig"] = rig
    return out


_OLD_DONOR = {
    "weight_class": "middle", "spline_pitch_per_in": 24.0, "spline_root": "45_flat", "shaft_yield_pa": 900e6, "pinion_height": "low", "cut": "standard",
    "pinion_offset_m": 0.0, "floating": "full", "c_clips": False, "locker": "open",
}  # fmt: skip
"""What a version 2 record meant where a key was left out."""


def _two_to_three(raw: dict[str, Any]) -> dict[str, Any]:
    """Everything about a donor may be unknown now, so what used to be understood is written out; a price is a number."""
    out = {**raw, "version": 3}
    donors = raw.get("donors")
    if isinstance(donors, list):
        out["donors"] = [_donor(one) if isinstance(one, dict) else one for one in donors]
    return out


def _donor(old: dict[str, Any]) -> dict[str, Any]:
    new = {**_OLD_DONOR, **old}
    price = new.get("price")
    if isinstance(price, str):
        try:
            new["price"] = float(price) if price.strip() else None
        except ValueError:
            new["price"] = None
        amount = new["price"]
        if price.strip() and (amount is None or not 0.0 <= amount <= 1e7):
            new["price"] = None
            notes = f"{new.get('notes', '')} Price: {price}".strip()
            new["notes"] = notes if len(notes) <= 400 else new.get("notes", "")
    return new


def _three_to_four(raw: dict[str, Any]) -> dict[str, Any]:
    """Brackets, leaf springs, steering, joint sizes, load cases and searches came in, all of them optional; nothing
    changed its meaning.
    """
    return {**raw, "version": 4}


def _four_to_five(raw: dict[str, Any]) -> dict[str, Any]:
    """Pivots may say which rail they were put on; a shock is collapsed and extended, a coil solid, as the trade's
    tables call it.
    """
    out = {**_renamed(raw), "version": 5}
    if isinstance(entries := out.get("entries"), list):
        out["entries"] = [
            {**one, "field": _path(one["field"])}
            if isinstance(one, dict) and isinstance(one.get("field"), str)
            else one
            for one in entries
        ]
    return out


def _five_to_six(raw: dict[str, Any]) -> dict[str, Any]:
    """Numbers may be placeholders, and records may be shipped examples; nothing changed its meaning."""
    return {**raw, "version": 6}


def _six_to_seven(raw: dict[str, Any]) -> dict[str, Any]:
    """Travel belongs to each axle: what was asked of both ends is asked of every layout."""
    settings = dict(raw["settings"]) if isinstance(raw.get("settings"), dict) else {}
    asked = {name: settings.pop(name) for name in ("bump_m", "droop_m") if name in settings}
    out = {**raw, "settings": settings, "version": 7}
    layouts = raw.get("layouts") if isinstance(raw.get("layouts"), list) else []
    known = [one for one in layouts or [] if isinstance(one, dict)]
    if known:
        out["layouts"] = [{**asked, **one} if isinstance(one, dict) else one for one in layouts or []]
    if isinstance(entries := raw.get("entries"), list):
        out["entries"] = [moved for one in entries for moved in _travel_notes(one, known)]
    return out


def _travel_notes(note: Any, layouts: list[Any]) -> list[Any]:
    """A note on the travel of both ends, for every layout; any other as it is."""
    field = note.get("field") if isinstance(note, dict) else None
    if field not in ("settings.bump_m", "settings.droop_m"):
        return [note]
    name = field.rpartition(".")[2]
    return [{**note, "field": f"layouts.{one.get('id')}.{name}"} for one in layouts]


_FIVE = {"shut_m": "collapsed_m", "open_m": "extended_m"}


def _renamed(part: Any) -> Any:
    """The same data with the lengths of shocks and coils under their new names, wherever they stand."""
    if isinstance(part, list):
        return [_renamed(one) for one in part]
    if not isinstance(part, dict):
        return part
    names = {**_FIVE, "block_m": "solid_m"} if "rate_n_per_m" in part else _FIVE
    return {names.get(key, key): _renamed(value) for key, value in part.items()}


def _path(field: str) -> str:
    """The new path of a number whose typed text and doubt are kept beside it; a leaf's block stays a block."""
    where, _, name = field.rpartition(".")
    if where.endswith(".shock"):
        return f"{where}.{_FIVE.get(name, name)}"
    coil = where.endswith(".spring") or where.startswith("springs.")
    return f"{where}.solid_m" if coil and name == "block_m" else field


STEPS: dict[int, Step] = {
    1: _one_to_two,
    2: _two_to_three,
    3: _three_to_four,
    4: _four_to_five,
    5: _five_to_six,
    6: _six_to_seven,
}
"""From version n to n + 1."""


def migrate(
    raw: dict[str, Any], version: int, steps: dict[int, Step] | None = None, newest: int = VERSION
) -> dict[str, Any]:
    """Bring plain data of ``version`` to ``newest``; every step returns new data and sets ``version`` itself.

    >>> migrate({"version": 1}, 1, {1: lambda raw: raw | {"version": 2, "colour": "none"}}, 2)
    {'version': 2, 'colour': 'none'}
    """
    steps = STEPS if steps is None else steps
    for one in range(version, newest):
        raw = steps[one](raw)
    return raw
