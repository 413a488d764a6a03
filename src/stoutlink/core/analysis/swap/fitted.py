"""Parts of the shelf planned into an axle: the axle with them in it, whether they go together, and what comes out."""

from __future__ import annotations

from typing import Any

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.swap.capacities import spline_of
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.fitted_axle import fitted_parts
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import ShelfPart
from stoutlink.core.mechanics.spline import RootForm, same_spline
from stoutlink.core.quantity.shown import show_both

Key = tuple[int, float, RootForm]
SAME_CIRCLE = 0.0005
OUT_KINDS: dict[str, tuple[str, str]] = {
    "inner_shaft": ("inner shafts", "spline"), "side_gears": ("side gears", "spline"), "locker": ("carrier", "spline"), "stub": ("stubs", "stub_spline"),
    "hub": ("hubs", "stub_spline"), "gear_set": ("gear set", ""), "brakes": ("brakes", ""),
}  # fmt: skip
"""What comes out when a part of a kind goes in, and the spline it has."""


class Mate(Struct, frozen=True):
    """Two parts of one axle as planned that meet: whether they go together (``None``: not known) and why."""

    title: str
    fits: bool | None
    why: str


class Freed(Struct, frozen=True):
    """What comes out of an axle: as it would stand on the shelf, and what of the other axle it would serve."""

    part: ShelfPart
    serves: str


class FittedSet(Struct, frozen=True):
    """One end as planned: parts of the shelf that go in, what they meet, what they free."""

    end: str
    parts: tuple[ShelfPart, ...]
    mates: tuple[Mate, ...]
    freed: tuple[Freed, ...]


def part_key(part: ShelfPart) -> Key | None:
    """Its spline: teeth, pitch (24 where not said), root (45° flat where not said)."""
    if part.spline_teeth is None:
        return None
    return part.spline_teeth, part.spline_pitch_per_in or 24.0, part.spline_root or "45_flat"


def axle_key(axle: DonorAxle, stem: str) -> Key | None:
    """A spline of an axle's record."""
    found = spline_of(axle, stem)
    return None if found is None else (found.teeth, found.pitch, found.root)


def meeting_key(project: Project, axle: DonorAxle, part_kind: str) -> Key | None:
    """The spline that a part of a kind meets in an axle as planned: side gears and lockers meet the shafts, shafts the
    side gears (of a locker that is fitted, its own), hubs the stubs, stubs the hubs."""
    parts = fitted_parts(project, axle.end) if project.donor(axle.end) is axle else {}
    if part_kind in ("side_gears", "locker"):
        return _own(parts.get("inner_shaft"), axle, "spline")
    if part_kind == "inner_shaft":
        return _own(parts.get("side_gears") or parts.get("locker"), axle, "spline")
    if part_kind == "hub":
        return _own(parts.get("stub"), axle, "stub_spline")
    return _own(parts.get("hub"), axle, "stub_spline")


def _own(part: ShelfPart | None, axle: DonorAxle, stem: str) -> Key | None:
    return axle_key(axle, stem) if part is None else part_key(part)


def fitted_set(project: Project, rig: Rig, axle: DonorAxle, other: DonorAxle | None) -> FittedSet:
    """The parts planned for an axle, held against one another and against what stays in it."""
    parts = fitted_parts(project, axle.end)
    gears = parts.get("side_gears") or parts.get("locker")
    mates: list[Mate] = []
    if "inner_shaft" in parts or gears is not None:
        in_gears = gears.name if gears is not None else "its own side gears"
        shafts = parts["inner_shaft"].name if "inner_shaft" in parts else "its own shafts"
        a, b = _own(parts.get("inner_shaft"), axle, "spline"), _own(gears, axle, "spline")
        mates.append(_splines(f"{shafts} in {in_gears}", a, b))
    if axle.end == "front" and ("stub" in parts or "hub" in parts):
        stubs = parts["stub"].name if "stub" in parts else "its own stubs"
        hubs = parts["hub"].name if "hub" in parts else "its own hubs"
        stub, hub = _own(parts.get("stub"), axle, "stub_spline"), _own(parts.get("hub"), axle, "stub_spline")
        mates.append(_splines(f"{stubs} in {hubs}", stub, hub))
    if "hub" in parts:
        mates.append(_wheels(parts["hub"], rig))
    if "locker" in parts or "gear_set" in parts:
        mates += _carrier(axle, parts)
    if "brakes" in parts:
        mates += _brakes(axle, rig, parts)
    freed = tuple(_freed(project, axle, kind, other) for kind in OUT_KINDS if kind in parts)
    return FittedSet(axle.end, tuple(parts.values()), tuple(mates), freed)


def _splines(title: str, one: Key | None, two: Key | None) -> Mate:
    if one is None or two is None:
        return Mate(title, None, "count both splines")
    why = same_spline(one, two)
    return Mate(title, why is None, why or f"{one[0]} teeth, {one[1]:g} pitch")


def _wheels(hub: ShelfPart, rig: Rig) -> Mate:
    title, fit = f"the wheels on {hub.name}", rig.fittings
    if None in (hub.bolt_count, hub.bolt_circle_m, fit.wheel_bolt_count, fit.wheel_bolt_circle_m):
        return Mate(title, None, "bolt circle not known")
    same = (
        hub.bolt_count == fit.wheel_bolt_count
        and abs((hub.bolt_circle_m or 0) - (fit.wheel_bolt_circle_m or 0)) <= SAME_CIRCLE
    )
    mine = f"{hub.bolt_count} on {show_both(hub.bolt_circle_m or 0, 'length')}"
    theirs = f"{fit.wheel_bolt_count} on {show_both(fit.wheel_bolt_circle_m or 0, 'length')}"
    return Mate(title, same, mine if same else f"{mine} against {theirs}")


def _brakes(axle: DonorAxle, rig: Rig, parts: dict[str, ShelfPart]) -> list[Mate]:
    """Brakes on hub, in the wheel, on the line and on the cable."""
    new, out = parts["brakes"], []
    hub = parts.get("hub")
    count, circle = (
        (axle.bolt_count, axle.bolt_circle_m)
        if hub is None or hub.bolt_count is None
        else (hub.bolt_count, hub.bolt_circle_m)
    )
    title = f"{new.name} over the studs"
    if None in (new.bolt_count, new.bolt_circle_m, count, circle):
        out.append(Mate(title, None, "bolt circle not known"))
    else:
        same = new.bolt_count == count and abs((new.bolt_circle_m or 0) - (circle or 0)) <= SAME_CIRCLE
        mine = f"{new.bolt_count} on {show_both(new.bolt_circle_m or 0, 'length')}"
        out.append(Mate(title, same, mine if same else f"{mine} against {count} on {show_both(circle or 0, 'length')}"))
    printed = rig.end(axle.end).printed
    if new.least_wheel_m is not None and printed is not None:
        clears = printed.rim >= new.least_wheel_m - 1e-6
        sizes = f"takes {show_both(new.least_wheel_m, 'length')} or more, the tyres sit on {show_both(printed.rim, 'length')}"
        out.append(Mate(f"the wheel over {new.name}", clears, sizes))
    fit = rig.fittings
    if new.thread and fit.brake_thread:
        same = new.thread.casefold() == fit.brake_thread.casefold()
        out.append(
            Mate(f"the line into {new.name}", same, new.thread if same else f"{new.thread} against {fit.brake_thread}")
        )
    return out


def _carrier(axle: DonorAxle, parts: dict[str, ShelfPart]) -> list[Mate]:
    locker, gears = parts.get("locker"), parts.get("gear_set")
    ratio = gears.gears.ratio if gears is not None and gears.gears is not None else axle.ratio
    out = []
    who = gears.name if gears is not None else "its own gears"
    if gears is not None and gears.gears is not None and axle.ratios:
        made = any((p.ring, p.pinion) == (gears.gears.ring, gears.gears.pinion) for p in axle.offers)
        out.append(Mate(f"{who} on this ring gear", made, f"{gears.gears} {'is' if made else 'is not'} made for it"))
    if locker is not None:
        title = f"{who} on {locker.name}"
        if ratio is None or (locker.lowest_ratio is None and locker.highest_ratio is None):
            out.append(Mate(title, None, "which ratios the carrier takes is not known"))
        else:
            low, high = locker.lowest_ratio or 0.0, locker.highest_ratio or 99.0
            fits = low <= ratio <= high
            out.append(Mate(title, fits, f"{ratio:.2f}, made for {low:.2f} to {high:.2f}"))
    elif axle.carrier_break_ratio is not None and axle.ratio is not None and ratio is not None:
        at = axle.carrier_break_ratio
        same = (ratio > at) == (axle.ratio > at)
        out.append(Mate(f"{who} on its own carrier", same, f"{ratio:.2f}, carrier break at {at:.2f}"))
    return out


def _freed(project: Project, axle: DonorAxle, kind: str, other: DonorAxle | None) -> Freed:
    """What a part that goes in sets free."""
    words, stem = OUT_KINDS[kind]
    key = axle_key(axle, stem) if stem else None
    part = ShelfPart(
        id=f"out-{axle.id}-{kind}".replace("_", "-")[:48],
        name=f"{axle.name[:90]}: {words}",
        kind=kind,  # type: ignore[arg-type]
        spline_teeth=None if key is None else key[0],
        spline_pitch_per_in=None if key is None else key[1],
        spline_root=None if key is None else key[2],
        bolt_count=axle.bolt_count if kind == "hub" else None,
        bolt_circle_m=axle.bolt_circle_m if kind == "hub" else None,
        gears=axle.pair if kind == "gear_set" else None,
    )
    if kind == "brakes":
        part = msgspec.structs.replace(part, **_old_brakes(axle))
    if other is None or key is None:
        return Freed(part, "")
    meets = meeting_key(project, other, kind)
    fits = (
        meets is not None and same_spline(key, meets) is None and not (kind in ("stub", "hub") and other.end != "front")
    )
    return Freed(part, f"would go into the {other.end} axle" if fits else "")


def _old_brakes(axle: DonorAxle) -> dict[str, Any]:
    """The brakes that come off, as far as the axle's record knows them."""
    return {
        "brake": axle.brake if axle.brake in ("drum", "disc") else None,
        "rotor_m": axle.rotor_m,
        "piston_m": axle.piston_m,
        "piston_count": axle.piston_count,
        "parking_brake": axle.parking_brake,
        "parking_cable_end": axle.parking_cable_end,
        "thread": axle.brake_thread,
        "weight_kg": axle.brakes_kg,
        "bolt_count": axle.bolt_count,
        "bolt_circle_m": axle.bolt_circle_m,
    }
