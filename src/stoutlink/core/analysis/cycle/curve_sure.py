"""How sure the curves of a travel are: every reading behind them put one σ up, and every curve worked out again."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import msgspec
import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.travel import AxleTravel, curves_of
from stoutlink.core.analysis.linkage.leaf_axle import FACTOR_SIGMA, RATE_SIGMA, READINGS
from stoutlink.core.analysis.linkage.uncertainty import HEIGHT, STATION, layout_entries, pivot_readings, zero_sigma
from stoutlink.core.analysis.vehicle.rig_readings import rig_cases
from stoutlink.core.document.default_sigma import sigma_of
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.paths import get_value, with_value
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.errors import StoutError

Array = NDArray[np.float64]
Bands = dict[str, tuple[Array, Array]]
HEAVES, ROLLS = 25, 9
"""Stations at which the parts are worked out; σ changes slowly along a curve."""
POINTS = (
    "steering.pitman_m", "steering.knuckle_m", "steering.kingpin_m", "steering.sector_m", "steering.tie_rod.end_m", "shock.frame_m", "shock.axle_m", "spring.frame_m",
    "spring.axle_m", "air.frame_m", "air.axle_m", "driveshaft.carrier_m",
)  # fmt: skip
NUMBERS = ("pinion_up_rad", "caster_rad", "steering.kingpin_in_rad", "air.diameter_m", "driveshaft.yoke_rad")
RATES = ("spring.rate_n_per_m", "spring.second_n_per_m")


def curve_sure(
    project: Project, rig: Rig, travel: AxleTravel, going: Callable[[float], bool] = lambda part: True
) -> Bands:
    """1 σ of every curve over heave and over roll, at the stations of ``travel`` and in the curve's own unit; empty
    when given up.

    First order, one side: each tape reading (a spread moves both pivots of a pair, the tape's zero every frame
    station), each reading of the rig, and the points, angles and rates of steering, shocks, springs and shaft are
    moved by their σ and the squares of what changes added. Where a moved reading does not reach, its part is left
    out. ``nan`` where the curve itself is not defined.
    """
    layout = travel.layout
    grid, base = curves_of(project, rig, layout, HEAVES, ROLLS)
    total = {c.id: (np.zeros(len(grid.heave)), np.zeros(len(grid.roll))) for c in base}
    cases = list(_cases(project, rig, layout))
    for n, (one_rig, one, one_project) in enumerate(cases):
        if not going(n / len(cases)):
            return {}
        try:
            _, moved = curves_of(one_project, one_rig, one, HEAVES, ROLLS)
        except StoutError:
            continue
        found = {c.id: c for c in moved}
        for c in base:
            if c.id in found:
                for k, (was, now) in enumerate(((c.heave, found[c.id].heave), (c.roll, found[c.id].roll))):
                    total[c.id][k][:] += np.nan_to_num(now - was) ** 2
    out: Bands = {}
    for c in travel.curves:
        if c.id in total:
            heave, roll = (np.sqrt(v) for v in total[c.id])
            out[c.id] = (
                np.where(np.isfinite(c.heave), np.interp(travel.grid.heave, grid.heave, heave), np.nan),
                np.where(np.isfinite(c.roll), np.interp(travel.grid.roll, grid.roll, roll), np.nan),
            )
    return out


def _cases(project: Project, rig: Rig, layout: Layout) -> Iterator[tuple[Rig, Layout, Project]]:
    """Rig and layout with one reading moved by its σ, and the project they belong to."""

    def changed(one: Layout) -> tuple[Rig, Layout, Project]:
        return rig, one, project

    noted = {e.field: e.sigma for e in layout_entries(project.entries, layout.id) if e.sigma is not None}
    for reading in pivot_readings(layout, noted, zero_sigma(project)) if layout.links else ():
        links = list(layout.links)
        for which, bar, axis, factor in reading.moves:
            at = list(links[bar].frame_pivot_m if which == "frame" else links[bar].axle_pivot_m)
            at[axis] += factor * reading.sigma
            links[bar] = msgspec.structs.replace(links[bar], **{f"{which}_pivot_m": (at[0], at[1], at[2])})
        yield changed(msgspec.structs.replace(layout, links=tuple(links)))
    for path, sigma in _own(project, layout):
        yield changed(with_value(layout, path, get_value(layout, path) + sigma))
    for case in rig_cases(project):
        yield case.up, layout, project
    name = "front_output_m" if layout.end == "front" and rig.drivetrain.front_output_m is not None else "output_m"
    if rig.drivetrain.output(layout.end) is not None:
        for axis in range(3):
            path = f"drivetrain.{name}.{axis}"
            value = get_value(rig, path)
            yield with_value(rig, path, value + _point_sigma(project, f"rig.{path}", axis)), layout, project


def _own(project: Project, layout: Layout) -> Iterator[tuple[str, float]]:
    """Paths in a layout that are readings of their own, with their σ."""
    here = f"layouts.{layout.id}"
    for point in POINTS:
        for axis in range(3):
            if _known(layout, f"{point}.{axis}") is not None:
                yield f"{point}.{axis}", _point_sigma(project, f"{here}.{point}.{axis}", axis)
    for path in (*NUMBERS, *RATES):
        value = _known(layout, path)
        if value is not None:
            entry = project.entry(f"{here}.{path}")
            known = entry is not None and entry.sigma is not None
            yield (
                path,
                RATE_SIGMA * value
                if path in RATES and not known
                else sigma_of(f"{here}.{path}", value, project.entries),
            )
    for key, _ in READINGS if layout.leaf is not None else ():
        value = _known(layout, f"leaf.{key}")
        if value is not None:
            part = (
                FACTOR_SIGMA if key == "shape_factor" else RATE_SIGMA * value if key == "measured_rate_n_per_m" else 0.0
            )
            yield f"leaf.{key}", part or sigma_of(f"{here}.leaf.{key}", value, project.entries)


def _point_sigma(project: Project, path: str, axis: int) -> float:
    """1 σ of one coordinate of a point, m: as noted, else the plumb bob's along the floor and the tape's across and
    up.
    """
    entry = project.entry(path)
    return entry.sigma if entry is not None and entry.sigma is not None else STATION if axis == 0 else HEIGHT


def _known(layout: Layout, path: str) -> float | None:
    """A number of the layout, where it is there."""
    here: object = layout
    for part in path.split("."):
        here = here[int(part)] if isinstance(here, tuple) else getattr(here, part, None)
        if here is None:
            return None
    return float(here) if isinstance(here, int | float) and math.isfinite(here) else None
