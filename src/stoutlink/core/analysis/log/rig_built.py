"""The rig as it stands on its scales and its wheels, beside what was stated: weight, balance point, wheels' toe and camber."""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from stoutlink.core.analysis.linkage.station_sheet import StationSheet
from stoutlink.core.analysis.vehicle.effective_vehicle import scaled_mass, wheel_scales
from stoutlink.core.document.default_sigma import sigma_of
from stoutlink.core.document.project import Project

AGREES = 3.29
"""Two ways of weighing one axle differ by more than this many σ of their difference once in a thousand times."""


class RigRow(Struct, frozen=True):
    """One number of the rig: as stated and as read, SI, with 1 σ of both."""

    id: str
    title: str
    kind: str
    stated: float
    stated_sigma: float
    read: float
    sigma: float

    @property
    def apart(self) -> bool:
        """Whether they differ by more than both ± allow."""
        return abs(self.read - self.stated) > 2.0 * math.hypot(self.sigma, self.stated_sigma)


def rig_rows(project: Project) -> tuple[RigRow, ...]:
    """What the scales say beside what was stated; nothing until every scale they need was read."""
    return tuple(_rows(project))


def _rows(project: Project) -> Iterator[RigRow]:
    rig, entries = project.rig, project.entries
    mass = scaled_mass(rig)
    if mass is None or mass <= 0:
        return
    loads: dict[str, tuple[float, float]] = {}
    for end in ("front", "rear"):
        apart = wheel_scales(rig, end)
        paths = [f"{end}_left_kg", f"{end}_right_kg"] if apart is not None else [f"{end}_kg"]
        values = [float(getattr(rig.weight.scales, key)) for key in paths]
        sigmas = [sigma_of(f"rig.weight.scales.{key}", v, entries) for key, v in zip(paths, values, strict=True)]
        loads[end] = sum(values), math.hypot(*sigmas)
    (front, sf), (rear, sr) = loads["front"], loads["rear"]
    base = rig.wheelbase_m
    yield RigRow(
        "mass", "Weight", "mass", rig.mass_kg, sigma_of("rig.mass_kg", rig.mass_kg, entries), mass, math.hypot(sf, sr)
    )
    ahead = base * front / mass
    part = base / mass**2 * math.hypot(rear * sf, front * sr)
    base_sigma = sigma_of("rig.wheelbase_m", base, entries) * front / mass
    stated = rig.cg_ahead_of_rear_m
    yield RigRow("ahead", "Balance point ahead of the rear axle", "length", stated, sigma_of("rig.cg_ahead_of_rear_m", stated, entries), ahead, math.hypot(part, base_sigma))  # fmt: skip


class ScaleMiss(Struct, frozen=True):
    """Wheels weighed apart against their axle as a whole, kg: what is left over, and its 1 σ."""

    end: str
    off: float
    sigma: float

    @property
    def wrong(self) -> bool:
        """Whether one of the three cannot be right; which, nothing says."""
        return abs(self.off) > AGREES * self.sigma


def scale_misses(project: Project) -> tuple[ScaleMiss, ...]:
    """Axles weighed both ways."""
    out = []
    for end in ("front", "rear"):
        apart, whole = wheel_scales(project.rig, end), getattr(project.rig.weight.scales, f"{end}_kg")
        if apart is not None and whole is not None:
            named = ((f"{end}_left_kg", apart[0]), (f"{end}_right_kg", apart[1]), (f"{end}_kg", whole))
            sigma = math.hypot(*(sigma_of(f"rig.weight.scales.{key}", v, project.entries) for key, v in named))
            out.append(ScaleMiss(end, sum(apart) - whole, sigma))
    return tuple(out)


class WheelStands(Struct, frozen=True):
    """Toe (in +) and camber (out at the top +) of one wheel by the housing's straightness, rad, for a kink at the last puck; planned: 0."""

    end: str
    side: str
    stage: str
    toe: float
    camber: float


def wheels_stand(sheet: StationSheet | None) -> tuple[WheelStands, ...]:
    """Each wheel by the latest stage its end was read at with clock and distance."""
    found: dict[str, WheelStands] = {}
    for one in () if sheet is None else sheet.ends:
        if sheet is not None and one.toe is not None and one.camber is not None:
            found[one.side] = WheelStands(sheet.stations.id, one.side, one.stage, one.toe, one.camber)
    return tuple(found.values())
