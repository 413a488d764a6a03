"""An axle as planned: its record with the parts of the shelf in it that are planned into it."""

from __future__ import annotations

from typing import Any

import msgspec

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import ShelfPart
from stoutlink.core.numerics.remembering import remember_by_identity


def fitted_parts(project: Project, end: str) -> dict[str, ShelfPart]:
    """Parts of the shelf planned for an end by kind; of two of one kind the first named."""
    out: dict[str, ShelfPart] = {}
    for name in project.plan(end).fitted:
        part = next((one for one in project.swap.shelf if one.id == name), None)
        if part is not None:
            out.setdefault(part.kind, part)
    return out


def as_fitted(project: Project, axle: DonorAxle) -> DonorAxle:
    """The axle chosen for an end with the shelf's shafts, stubs and hubs in it; any other axle as it is. Of a shaft that
    comes in only the spline is known: neck, body and material of the old one go with it."""
    if project.donor(axle.end) is not axle or not project.plan(axle.end).fitted:
        return axle
    return _with_parts(axle, project.plan(axle.end).fitted, project.swap.shelf)


@remember_by_identity(16)
def _with_parts(axle: DonorAxle, names: tuple[str, ...], shelf: tuple[ShelfPart, ...]) -> DonorAxle:
    parts: dict[str, ShelfPart] = {}
    for name in names:
        part = next((one for one in shelf if one.id == name), None)
        if part is not None:
            parts.setdefault(part.kind, part)
    changes: dict[str, Any] = {}
    for kind, stem in (("inner_shaft", "spline"), ("stub", "stub_spline")):
        part = parts.get(kind)
        if part is None or part.spline_teeth is None:
            continue
        changes |= {
            f"{stem}_teeth": part.spline_teeth,
            f"{stem}_pitch_per_in": part.spline_pitch_per_in,
            f"{stem}_root": part.spline_root,
            f"{stem}_major_diameter_m": None,
        }
        if kind == "stub":
            changes |= {"stub_neck_diameter_m": None, "stub_yield_pa": None}
        else:
            gone = ("neck_diameter_m", "shaft_yield_pa", "shaft_bore_m", "spline_form", "spline_length_m", "spline_engaged_m", "neck_length_m", "body_diameter_m")  # fmt: skip
            changes |= dict.fromkeys(gone) | {"shaft_material": ""}
    brakes = parts.get("brakes")
    if brakes is not None:
        changes |= {
            "brake": brakes.brake,
            "rotor_m": brakes.rotor_m,
            "piston_m": brakes.piston_m,
            "piston_count": brakes.piston_count,
            "parking_brake": brakes.parking_brake,
            "parking_cable_end": brakes.parking_cable_end,
            "brake_thread": brakes.thread,
            "brakes_kg": brakes.weight_kg,
        }
        if axle.weight_kg is not None and axle.brakes_kg is not None and brakes.weight_kg is not None:
            changes["weight_kg"] = axle.weight_kg - axle.brakes_kg + brakes.weight_kg
    hub = parts.get("hub")
    if hub is not None and hub.bolt_count is not None:
        changes |= {"bolt_count": hub.bolt_count, "bolt_circle_m": hub.bolt_circle_m}
    return msgspec.structs.replace(axle, **changes) if changes else axle
