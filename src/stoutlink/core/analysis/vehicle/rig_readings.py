"""The readings behind the rig's numbers, and the rig each would give if it were off by one σ."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache

from msgspec import Struct

from stoutlink.core.analysis.vehicle.effective_vehicle import chosen_axles, effective_vehicle, resolve, wheel_scales
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.default_sigma import radius_sigma, sigma_of
from stoutlink.core.document.groups import Swap
from stoutlink.core.document.paths import get_value, with_value
from stoutlink.core.document.project import Entry, Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan

WORDS = {
    "rig.wheelbase_m": "wheelbase", "rig.brake_front_share": "brake split", "rig.mass_kg": "weight", "rig.cg_height_m": "centre of gravity height",
    "rig.cg_ahead_of_rear_m": "balance point along the rig", "rig.weight.bell_housing_m": "bell-housing estimate of CG height",
    "rig.weight.curb_mass_kg": "curb weight", "rig.weight.curb_cg_ahead_m": "curb balance point", "rig.weight.curb_cg_height_m": "curb CG height",
    "rig.weight.tilt.angle_rad": "tilt angle", "rig.weight.tilt.front_kg": "front scales, tilted", "rig.weight.tilt.rear_kg": "rear scales, tilted",
}  # fmt: skip
BETTER = {
    "centre of gravity height": "weigh it again tilted, with both axles on scales",
    "bell-housing estimate of CG height": "weigh it tilted",
    "brake split": "ask for the brake proportions, or measure both axles' brake torque",
    "balance point along the rig": "put both axles on scales",
    "weight": "put it on scales",
    "curb weight": "put it on scales",
    "tilt angle": "read the angle finder several times, and tilt further",
}
"""What would measure an input better, by its words."""


class RigCase(Struct, frozen=True):
    """One reading of the rig: its path, words and 1 σ, and the rig in force with the reading one σ up and one σ down."""

    path: str
    what: str
    sigma: float
    up: Rig
    down: Rig


def rig_cases(project: Project) -> tuple[RigCase, ...]:
    """Every reading that feeds the rig in force, with its two off-by-one-σ rigs."""
    plans = project.plan("front"), project.plan("rear")
    return _cases(project.rig, *chosen_axles(project), plans, rig_entries(project.entries))


SIZES, MOST_OFF = ("_radius_m", "roll_out_m", "wheelbase_m", "_kg"), 0.9
"""Readings that are sizes stay sizes however unsure they are: moved by this part of themselves at the most."""


@lru_cache(maxsize=8)
def rig_entries(entries: tuple[Entry, ...]) -> tuple[Entry, ...]:
    """The notes on the rig's and donors' numbers: the same tuple for the same notes."""
    return tuple(e for e in entries if e.field.startswith(("rig.", "donors.")))


def rig_project(rig: Rig, front: DonorAxle | None, rear: DonorAxle | None, entries: tuple[Entry, ...]) -> Project:
    """A project of nothing but a rig, its chosen axles and the notes on them."""
    donors = tuple(d for d in (front, rear) if d is not None)
    return Project(
        name="-",
        rig=rig,
        entries=entries,
        swap=Swap(donors=donors, front_donor=front.id if front else None, rear_donor=rear.id if rear else None),
    )


@lru_cache(maxsize=16)
def _cases(
    rig: Rig,
    front: DonorAxle | None,
    rear: DonorAxle | None,
    plans: tuple[AxlePlan, AxlePlan],
    entries: tuple[Entry, ...],
) -> tuple[RigCase, ...]:
    root = rig_project(rig, front, rear, entries)
    out = []
    for path, value, sigma in _active(root):
        if sigma <= 0:
            continue
        pair = []
        step = min(sigma, MOST_OFF * abs(value)) if path.endswith(SIZES) else sigma
        for sign in (1.0, -1.0):
            moved = with_value(root, path, value + sign * step)
            pair.append(resolve(moved.rig, moved.donor("front"), moved.donor("rear"), *plans).rig)
        out.append(RigCase(path, words_for(root, path), sigma, pair[0], pair[1]))
    return tuple(out)


def words_for(project: Project, path: str) -> str:
    """A reading's path in words."""
    if path in WORDS:
        return WORDS[path]
    if match := re.fullmatch(r"rig\.(front|rear)\.(.*)", path):
        key = {
            "loaded_radius_m": "loaded radius",
            "tyre_free_radius_m": "free radius",
            "rolling_radius_m": "rolling radius",
            "unsprung_mass_kg": "unsprung weight",
            "wheel_mass_kg": "wheel weight",
            "old_axle_mass_kg": "weight of the old axle",
            "roll_out_m": "roll-out",
            "track_m": "track",
        }[match[2]]
        return f"{match[1]} {key}"
    if match := re.fullmatch(r"rig\.weight\.scales\.(.*)_kg", path):
        return f"{match[1].replace('_', ' ')} {'scale' if '_' in match[1] else 'axle scales'}"
    if match := re.fullmatch(r"rig\.weight\.items\.(.*)\.(.*)", path):
        item = next(i for i in project.rig.weight.items if i.id == match[1])
        return f"{item.name}, { {'mass_kg': 'weight', 'x_m': 'station', 'y_m': 'side', 'z_m': 'height'}[match[2]] }"
    if match := re.fullmatch(r"donors\.(.*)\.weight_kg", path):
        return f"weight of {next(d.name for d in project.swap.donors if d.id == match[1])}"
    return path


def _active(root: Project) -> Iterator[tuple[str, float, float]]:
    """Path, value and 1 σ of the inputs in force, given which sources count."""
    true, book = effective_vehicle(root), root.rig.weight

    def plain(path: str) -> Iterator[tuple[str, float, float]]:
        value = get_value(root, path)
        if value is not None:
            yield path, float(value), sigma_of(path, float(value), root.entries)

    yield from plain("rig.wheelbase_m")
    yield from plain("rig.brake_front_share")
    sources = {true.mass_from, true.along_from, true.height_from}
    for source, key in (
        (true.mass_from, "mass_kg"),
        (true.along_from, "cg_ahead_of_rear_m"),
        (true.height_from, "cg_height_m"),
    ):
        if source == "stated":
            yield from plain(f"rig.{key}")
    if "bell_housing" in sources:
        yield from plain("rig.weight.bell_housing_m")
    if sources & {"scales", "tilt"}:
        for end in ("front", "rear"):
            apart = wheel_scales(root.rig, end) is not None
            for name in (f"{end}_left", f"{end}_right") if apart else (end,):
                yield from plain(f"rig.weight.scales.{name}_kg")
    if "tilt" in sources:
        for key in ("angle_rad", "front_kg", "rear_kg"):
            yield from plain(f"rig.weight.tilt.{key}")
    if "items" in sources:
        for key in ("curb_mass_kg", "curb_cg_ahead_m", "curb_cg_height_m"):
            yield from plain(f"rig.weight.{key}")
    if sources & {"items", "scales", "tilt"}:
        for item in book.items:
            if "items" in sources or not item.weighed:
                for key in ("mass_kg", "x_m", "z_m"):
                    yield from plain(f"rig.weight.items.{item.id}.{key}")
    for end in ("front", "rear"):
        wheels = root.rig.end(end)
        yield f"rig.{end}.loaded_radius_m", wheels.loaded, radius_sigma(root, end, "loaded")[1]
        if wheels.rolled is not None:
            yield from plain(f"rig.{end}.roll_out_m")
        else:
            yield f"rig.{end}.rolling_radius_m", wheels.rolling, radius_sigma(root, end, "rolling")[1]
        if wheels.unsprung_mass_kg is not None:
            yield from plain(f"rig.{end}.unsprung_mass_kg")
            continue
        yield from plain(f"rig.{end}.wheel_mass_kg")
        yield from plain(f"rig.{end}.old_axle_mass_kg")
        donor = root.donor(end)
        if donor is not None:
            yield from plain(f"donors.{donor.id}.weight_kg")
