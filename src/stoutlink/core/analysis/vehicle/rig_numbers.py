"""The rig's own numbers with how sure each is: weight, balance point, loads, clearance and ground angles."""

from __future__ import annotations

import math
from collections.abc import Callable

from msgspec import Struct

from stoutlink.core.analysis.vehicle.anti_numbers import load_share, school_height
from stoutlink.core.analysis.vehicle.effective_vehicle import chosen_axles, effective_vehicle, resolve
from stoutlink.core.analysis.vehicle.lacking import lacking
from stoutlink.core.analysis.vehicle.rig_readings import RigCase, rig_cases, rig_entries, rig_project
from stoutlink.core.analysis.vehicle.stance import low_points
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.default_sigma import radius_sigma, sigma_of
from stoutlink.core.document.paths import get_value, with_value
from stoutlink.core.document.project import Entry, Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.weighing import sprung_place
from stoutlink.core.numerics.remembering import remember_by_identity
from stoutlink.core.quantity.shown import Kind

Value = Callable[[Rig], float | None]


class SureNumber(Struct, frozen=True):
    """A number of the rig in SI with its 1 σ and the readings that make it up (words, share of the variance), largest
    first.

    ``value`` is None when an input is missing, or entered by nobody (then ``lacks`` names it in words); ``source`` says where it comes from; ``bent`` that first order is not
    enough here.
    """

    id: str
    title: str
    kind: Kind
    value: float | None
    sigma: float
    parts: tuple[tuple[str, float], ...]
    source: str = ""
    bent: bool = False
    lacks: tuple[str, ...] = ()


SOURCE_WORDS = {
    "stated": "as stated", "scales": "from the scales", "items": "from curb weight and items", "tilt": "by tilting", "bell_housing": "bell-housing estimate",
}  # fmt: skip


def _gvwr_left(rig: Rig) -> float | None:
    return None if rig.weight.gvwr_kg is None else rig.weight.gvwr_kg - rig.mass_kg


NUMBERS: tuple[tuple[str, str, Kind, Value], ...] = (
    ("mass", "Weight, all up", "mass", lambda r: r.mass_kg),
    ("front_load", "On the front axle", "mass", lambda r: r.mass_kg * load_share(r, "front")),
    ("rear_load", "On the rear axle", "mass", lambda r: r.mass_kg * load_share(r, "rear")),
    ("cg_ahead", "CG ahead of rear axle", "length", lambda r: r.cg_ahead_of_rear_m),
    ("cg_height", "CG height", "length", lambda r: r.cg_height_m),
    ("sprung_cg_height", "Sprung CG height", "length", lambda r: school_height(r, "sprung_mass")),
    (
        "sprung_cg_ahead",
        "Sprung CG ahead of rear axle",
        "length",
        lambda r: sprung_place(
            r.mass_kg, r.cg_ahead_of_rear_m, ((r.front.unsprung, r.wheelbase_m), (r.rear.unsprung, 0.0))
        ),
    ),
    ("sprung_mass", "Sprung weight", "mass", lambda r: r.mass_kg - r.front.unsprung - r.rear.unsprung),
    ("front_unsprung", "Front unsprung weight", "mass", lambda r: r.front.unsprung),
    ("rear_unsprung", "Rear unsprung weight", "mass", lambda r: r.rear.unsprung),
    ("gvwr_left", "Left under the weight rating", "mass", _gvwr_left),
    ("belly", "Belly clearance", "length", lambda r: low_points(r).belly_clearance),
    ("approach", "Approach angle", "angle", lambda r: low_points(r).approach),
    ("breakover", "Breakover angle", "angle", lambda r: low_points(r).breakover),
    ("departure", "Departure angle", "angle", lambda r: low_points(r).departure),
)
BENT = 0.10
STANCE_READINGS = (
    *((f"{key}_{axis}_m", f"{words} {what}") for key, words in (("front_low", "front low point"), ("belly", "belly"), ("rear_low", "rear low point"))
      for axis, what in (("x", "station"), ("z", "height"))),
    ("measured_on_front_m", "front loaded radius then"), ("measured_on_rear_m", "rear loaded radius then"),
)  # fmt: skip


def rig_numbers(project: Project) -> dict[str, SureNumber]:
    """Every number of the rig in force, first order over its readings (see :class:`SureNumber`)."""
    return _numbers(project.rig, project.donor("front"), project.donor("rear"), rig_entries(project.entries))


@remember_by_identity(4)
def _numbers(
    rig: Rig, front: DonorAxle | None, rear: DonorAxle | None, entries: tuple[Entry, ...]
) -> dict[str, SureNumber]:
    project = rig_project(rig, front, rear, entries)
    true = effective_vehicle(project)
    cases = (*rig_cases(project), *_stance_cases(project))
    sources = {"mass": true.mass_from, "cg_ahead": true.along_from, "cg_height": true.height_from}
    out = {}
    held = {_case_path(rig, need.path): need.words for need in lacking(project, true)}
    for name, title, kind, value in NUMBERS:
        here = value(true.rig)
        parts: list[tuple[str, float]] = []
        bends, lacks = 0.0, []
        if here is not None:
            for case in cases:
                up, down = value(case.up), value(case.down)
                if up is None or down is None:
                    continue
                if case.path in held and up != down:
                    lacks.append(held[case.path])
                parts.append((case.what, (up - down) / 2.0))
                bends += ((up + down) / 2.0 - here) ** 2
        if lacks:
            out[name] = SureNumber(name, title, kind, None, 0.0, (), lacks=tuple(lacks))
            continue
        total = math.sqrt(sum(p * p for _, p in parts))
        ranked = sorted(((w, p * p / total**2) for w, p in parts if p), key=lambda v: -v[1])[:5] if total > 0 else []
        out[name] = SureNumber(
            name,
            title,
            kind,
            here,
            total,
            tuple(ranked),
            SOURCE_WORDS.get(sources.get(name, ""), ""),
            math.sqrt(2 * bends) > BENT * total > 0,
        )
    return out


def _case_path(rig: Rig, path: str) -> str:
    """The path of the reading that a number nobody entered feeds: a free radius stands behind the loaded one."""
    where, _, key = path.rpartition(".")
    if key == "tyre_free_radius_m" and get_value(rig, f"{where}.loaded_radius_m".removeprefix("rig.")) is None:
        return f"{where}.loaded_radius_m"
    return path


def _stance_cases(project: Project) -> list[RigCase]:
    """Low points measured with the tape, and radii they were measured on."""
    out = []
    front, rear = chosen_axles(project)
    plans = project.plan("front"), project.plan("rear")
    for key, words in STANCE_READINGS:
        path = f"rig.stance.{key}"
        value = get_value(project, path)
        if value is None:
            continue
        sigma = sigma_of(path, value, project.entries)
        up, down = (
            resolve(with_value(project.rig, f"stance.{key}", value + s * sigma), front, rear, *plans).rig
            for s in (1.0, -1.0)
        )
        out.append(RigCase(path, words, sigma, up, down))
    return out


def tyre_numbers(project: Project, end: str) -> dict[str, tuple[float, str, float]]:
    """The three radii of one end: value m, where it comes from, 1 σ m."""
    wheels = project.rig.end(end)
    values = {"free": wheels.free, "loaded": wheels.loaded, "rolling": wheels.rolling}
    return {name: (value, *radius_sigma(project, end, name)) for name, value in values.items()}
