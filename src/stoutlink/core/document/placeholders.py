"""Numbers that nobody has entered: they stand so that the rig can be drawn, and give way to whatever is entered.

A placeholder is a number with a note of that basis. No result rests on one (:mod:`stoutlink.core.analysis.vehicle.lacking`),
and none refuses what is typed: :func:`refitted` makes room.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache

import msgspec

from stoutlink.core.document.paths import field_info, get_value, with_value
from stoutlink.core.document.project import Entry, Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.numerics.remembering import remember_by_identity

FREE, WHEELBASE, TRACK, MASS, HEIGHT = 0.42, 2.6, 1.55, 1900.0, 0.8
RPM_STEP = 800.0
"""What a rig is drawn with until it is measured: free radius, wheelbase, track and CG height m, mass kg."""


@remember_by_identity(8)
def placeholder_paths(entries: tuple[Entry, ...]) -> frozenset[str]:
    """The paths of all placeholders among the notes."""
    return frozenset(e.field for e in entries if e.basis == "placeholder")


def is_placeholder(project: Project, path: str) -> bool:
    """Whether the number at a path was entered by nobody.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("starter.stoutlink")); is_placeholder(p, "rig.wheelbase_m")
    True
    """
    return path in placeholder_paths(project.entries)


def with_placeholders(project: Project, paths: Iterable[str]) -> Project:
    """The project with the numbers at ``paths`` marked as placeholders."""
    marked = set(paths)
    kept = tuple(e for e in project.entries if e.field not in marked)
    new = tuple(Entry(field=path, basis="placeholder") for path in sorted(marked))
    return msgspec.structs.replace(project, entries=(*kept, *new))


def refitted(project: Project, before: Project) -> Project:
    """The project with its placeholders moved to where they go with what was entered, gone where something else now
    says the same, and with the source of a weight switched from a placeholder to what was found out since ``before``. The
    same project when there are none."""
    held = placeholder_paths(project.entries)
    if not any(path.startswith("rig.") for path in held):
        return project
    rig, gone = project.rig, set[str]()
    for end in ("front", "rear"):
        rig, over = _tyre(rig, end, held)
        gone |= over
    rig = _rising(_counted(rig, held, before.rig), held)
    for path, wanted in _room(rig, held - gone).items():
        key = path.removeprefix("rig.")
        info = field_info(project, path)
        value = min(info.high, max(info.low, wanted))
        if path in held - gone and get_value(rig, key) != value:
            rig = with_value(rig, key, value)
    if rig is project.rig and not gone:
        return project
    entries = tuple(e for e in project.entries if e.field not in gone) if gone else project.entries
    return msgspec.structs.replace(project, rig=rig, entries=entries)


def _tyre(rig: Rig, end: str, held: frozenset[str]) -> tuple[Rig, set[str]]:
    """A printed size that can be read stands in place of a placeholder radius."""
    path = f"rig.{end}.tyre_free_radius_m"
    wheels = rig.end(end)
    if path not in held or wheels.printed is None:
        return rig, set()
    return with_value(rig, f"{end}.tyre_free_radius_m", None), {path}


_STATED = {"mass_from": "rig.mass_kg", "along_from": "rig.cg_ahead_of_rear_m", "height_from": "rig.cg_height_m"}
"""Each choice of a source with the stated number it chooses by itself."""


def _counted(rig: Rig, held: frozenset[str], before: Rig) -> Rig:
    """What has just been found out of the weight counts, as long as what is stated was entered by nobody. A source that
    somebody chooses afterwards stays chosen.
    """
    book, now, then = rig.weight, _found_out(rig), _found_out(before)
    changes = {
        key: source
        for key, source in now.items()
        if _STATED[key] in held and getattr(book, key) == "stated" and then.get(key) != source
    }
    return msgspec.structs.replace(rig, weight=msgspec.structs.replace(book, **changes)) if changes else rig


def _found_out(rig: Rig) -> dict[str, str]:
    """For weight, balance point and its height the best source whose readings are all there."""
    book, tilt = rig.weight, rig.weight.tilt
    scaled = all(_weighed(rig, end) for end in ("front", "rear"))
    curb = book.curb_mass_kg is not None
    out: dict[str, str] = {}
    if scaled or curb:
        out["mass_from"] = "scales" if scaled else "items"
    if scaled or (curb and book.curb_cg_ahead_m is not None):
        out["along_from"] = "scales" if scaled else "items"
    if scaled and None not in (tilt.angle_rad, tilt.front_kg, tilt.rear_kg):
        out["height_from"] = "tilt"
    elif curb and book.curb_cg_height_m is not None:
        out["height_from"] = "items"
    elif book.bell_housing_m is not None:
        out["height_from"] = "bell_housing"
    return out


def _weighed(rig: Rig, end: str) -> bool:
    """Whether an axle was weighed: both wheels apart, or as a whole."""
    s = rig.weight.scales
    apart = getattr(s, f"{end}_left_kg") is not None and getattr(s, f"{end}_right_kg") is not None
    return apart or getattr(s, f"{end}_kg") is not None


def _rising(rig: Rig, held: frozenset[str]) -> Rig:
    """Speeds of the torque curve that nobody entered rise from point to point."""
    points, at = list(rig.drivetrain.torque_curve), "rig.drivetrain.torque_curve"
    for i, point in enumerate(points):
        if f"{at}.{i}.rpm" in held and i and point.rpm <= points[i - 1].rpm:
            points[i] = msgspec.structs.replace(point, rpm=points[i - 1].rpm + RPM_STEP)
    return (
        rig
        if tuple(points) == rig.drivetrain.torque_curve
        else with_value(rig, "drivetrain.torque_curve", tuple(points))
    )


def _room(rig: Rig, held: frozenset[str]) -> dict[str, float]:
    """Where placeholders lie beside what was entered."""
    out: dict[str, float] = {}
    free = {end: _free(rig, end, held) for end in ("front", "rear")}
    for end, radius in free.items():
        out[f"rig.{end}.tyre_free_radius_m"] = radius
        other = "rear" if end == "front" else "front"
        typed = f"rig.{other}.track_m" not in held
        out[f"rig.{end}.track_m"] = rig.end(other).track_m if typed else TRACK
    ahead = "rig.cg_ahead_of_rear_m"
    base = WHEELBASE if ahead in held else max(WHEELBASE, 2.0 * rig.cg_ahead_of_rear_m)
    out["rig.wheelbase_m"] = base
    out[ahead] = 0.5 * (base if "rig.wheelbase_m" in held else rig.wheelbase_m)
    stated = sum(rig.end(end).unsprung_mass_kg or 0.0 for end in ("front", "rear"))
    out["rig.mass_kg"] = max(MASS, 3.0 * stated)
    out["rig.cg_height_m"] = max(HEIGHT, 1.4 * max(free.values()))
    return out


def _free(rig: Rig, end: str, held: frozenset[str]) -> float:
    """A free radius that goes with the radii entered at this end, else that of the other end, else the usual one."""
    wheels = rig.end(end)
    if f"rig.{end}.tyre_free_radius_m" not in held:
        return wheels.free
    known = [
        r
        for r in (wheels.loaded_radius_m, wheels.loaded_radius_road_m, wheels.rolled, wheels.rolling_radius_m)
        if r is not None
    ]
    if known:
        return max(known) / 0.97
    other = "rear" if end == "front" else "front"
    return rig.end(other).free if f"rig.{other}.tyre_free_radius_m" not in held else FREE


@cache
def _fields(kind: type[msgspec.Struct]) -> dict[str, msgspec.structs.FieldInfo]:
    """Fields of a kind of value by name; to look them up anew each time takes longer than all the rest."""
    return {f.name: f for f in msgspec.structs.fields(kind)}


def entered_by_nobody(project: Project, path: str) -> bool:
    """Whether a number rests on no entry: a placeholder, an optional one left empty, or a declared default that was
    never touched. Numbers that have no default were entered with the file.
    """
    if is_placeholder(project, path):
        return True
    owner_path, _, key = path.rpartition(".")
    if re.fullmatch(r"\d+", key) or project.entry(path) is not None:
        return False
    owner = get_value(project, owner_path)
    field = _fields(owner.__class__).get(key)
    if field is None:
        return False
    value = getattr(owner, key)
    return value is None or (field.default is not msgspec.NODEFAULT and value == field.default)
