"""The rig under another load: how far each axle sags on the springs it has, and what that does to the numbers."""

from __future__ import annotations

import math

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.cycle.axle_springs import Axles, axle_springs
from stoutlink.core.analysis.vehicle.anti_numbers import brake_percent, drive_percent
from stoutlink.core.document.placeholders import placeholder_paths
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.weight import LoadCase
from stoutlink.core.mechanics.attitude import AxleSprings, PlaneRig, Stand, stand_on_grade, support
from stoutlink.core.mechanics.springing import frequency
from stoutlink.core.mechanics.weighing import Lump, combined
from stoutlink.core.quantity.constants import GRAVITY
from stoutlink.core.quantity.shown import show_both

AS_IT_STANDS = LoadCase(id="as_it_stands", name="As it stands")
NEAR = 2e-4
"""Half the travel over which a wheel rate is taken, m."""


class LadenAxle(Struct, frozen=True):
    """One axle under a load: what it carries N, how far it went up into the rig from ride height m (+ bump), whether
    that is its stop; wheel rate of one side N/m and frequency Hz there (None at a stop); drive and braking
    anti-numbers in %, in the project's schools. ``pressure`` Pa gauge that brings an air spring back to ride height.
    """

    load: float
    sag: float
    stopped: bool
    rate: float | None
    frequency: float | None
    drive: float
    brake: float
    pressure: float | None = None


class Laden(Struct, frozen=True):
    """The rig under a case; ``why`` in place of the rest where nothing can be said. ``filled`` kg were put on to reach
    the rating; ``rating_left`` kg (None: no rating entered). ``nose_up`` rad against ride height. ``raise_rear``: by
    what the rear has to come up to stand as at ride, m; ``rear_rate``: what one side's wheel rate would have to be for
    that instead, unladen height kept, N/m (None: the front does not sag, or no rate does it).
    """

    case: LoadCase
    why: str = ""
    mass: float = math.nan
    filled: float = 0.0
    rating_left: float | None = None
    cg_ahead: float = math.nan
    cg_height: float = math.nan
    nose_up: float = 0.0
    front: LadenAxle | None = None
    rear: LadenAxle | None = None
    raise_rear: float = 0.0
    rear_rate: float | None = None

    def axle(self, end: str) -> LadenAxle | None:
        """The axle of an end."""
        return self.front if end == "front" else self.rear


def not_said(project: Project, case: LoadCase) -> str:
    """What nobody has entered of a case, in a sentence; empty when it is whole."""
    nobody = placeholder_paths(project.entries)
    for item in case.items:
        counts = ("mass_kg", "x_m", "z_m") if item.on == "frame" else ("mass_kg",)
        at = f"load_cases.{case.id}.items.{item.id}"
        if any(f"{at}.{name}" in nobody for name in counts):
            return f"Type the weight and place of {item.name}."
    if case.to_rating and (case.fill_x_m is None or case.fill_z_m is None):
        return "Say where what is left of the rating is loaded."
    return ""


def laden(project: Project, rig: Rig, axles: Axles, case: LoadCase) -> Laden:
    """A case on the springs both axles have. Springs stay what they are: they carry the rig as it stands at ride
    height, and a load more sags them along their own curve. Both tyres keep their radius; what an axle carries is put
    at its hubs. Air is taken as slow, at one temperature, nothing filled in.
    """
    missing = not_said(project, case)
    if missing:
        return Laden(case, missing)
    springs = axle_springs(axles.get("front"), slow=True), axle_springs(axles.get("rear"), slow=True)
    for end, one in zip(("front", "rear"), springs, strict=True):
        if one is None:
            return Laden(case, f"The {end} axle's springs are not known yet: Travel, Springs, or leaves in Layout.")
    front, rear = springs
    assert front is not None
    assert rear is not None
    base = rig.wheelbase_m
    hubs = {"front_axle": (base, rig.front.loaded), "rear_axle": (0.0, rig.rear.loaded)}
    own = [rig.front.unsprung, rig.rear.unsprung]
    lumps = [Lump(rig.mass_kg, rig.cg_ahead_of_rear_m, 0.0, rig.cg_height_m)]
    for item in case.items:
        x, z = hubs.get(item.on, (item.x_m, item.z_m))
        lumps.append(Lump(item.mass_kg, x, 0.0, z))
        if item.on != "frame":
            own[0 if item.on == "front_axle" else 1] += item.mass_kg
    rating, filled = rig.weight.gvwr_kg, 0.0
    if case.to_rating:
        if rating is None:
            return Laden(case, "No weight rating is entered: Rig, Weight.")
        filled = rating - sum(one.mass for one in lumps)
        if filled < 0:
            return Laden(
                case, f"It is past its weight rating before anything is loaded, by {show_both(-filled, 'mass')}."
            )
        lumps.append(Lump(filled, case.fill_x_m or 0.0, 0.0, case.fill_z_m or 0.0))
    try:
        whole = combined(lumps)
    except ValueError as bad:
        return Laden(case, f"This does not weigh anything: {bad}.")
    weight = whole.mass * GRAVITY
    radii = rig.front.loaded, rig.rear.loaded
    plane = PlaneRig(weight, base - whole.x, base, whole.z, radii, (own[0] * GRAVITY, own[1] * GRAVITY))
    if min(own) < 0 or min(a - b for a, b in zip(plane.level, plane.unsprung, strict=True)) <= 0:
        return Laden(case, "This takes more off an axle than it carries.")
    before = PlaneRig(
        rig.mass_kg * GRAVITY,
        base - rig.cg_ahead_of_rear_m,
        base,
        rig.cg_height_m,
        radii,
        (rig.front.unsprung * GRAVITY, rig.rear.unsprung * GRAVITY),
    )
    at_ride = before.level[0] - before.unsprung[0], before.level[1] - before.unsprung[1]
    on = stand_on_grade(plane, 0.0, (front, rear), 1.0, at_ride)
    then = _rig_then(rig, whole.mass, on, own)
    ends = [
        _axle(project, then, axles, k, on, (front, rear)[k], at_ride[k], plane.unsprung[k], radii[k]) for k in (0, 1)
    ]
    raise_rear, rate = levelled(plane, (front, rear), at_ride)
    return Laden(
        case,
        "",
        whole.mass,
        filled,
        None if rating is None else rating - whole.mass,
        then.cg_ahead_of_rear_m,
        then.cg_height_m,
        on.nose_up,
        ends[0],
        ends[1],
        raise_rear,
        rate,
    )


def levelled(
    plane: PlaneRig, springs: tuple[AxleSprings, AxleSprings], at_ride: tuple[float, float]
) -> tuple[float, float | None]:
    """By what the rear has to come up, m, and what one side's wheel rate would have to be instead, N/m, for the body to
    lie level: both axles then carry what they carry on the level, and the front sags as its springs do."""
    more = [load - own - had for load, own, had in zip(plane.level, plane.unsprung, at_ride, strict=True)]
    sag = [one.travel(force) for one, force in zip(springs, more, strict=True)]
    rate = 0.5 * more[1] / sag[0] if abs(sag[0]) > 1e-3 and more[1] * sag[0] > 0 else None
    return sag[1] - sag[0], rate


def _rig_then(rig: Rig, mass: float, on: Stand, unsprung: list[float]) -> Rig:
    """The rig with its weight and balance point as it stands under the load."""
    ends = {
        end: msgspec.structs.replace(rig.end(end), unsprung_mass_kg=own)
        for end, own in zip(("front", "rear"), unsprung, strict=True)
    }
    return msgspec.structs.replace(
        rig, mass_kg=mass, cg_ahead_of_rear_m=rig.wheelbase_m - on.cg[0], cg_height_m=on.cg[1], **ends
    )


def _axle(
    project: Project,
    then: Rig,
    axles: Axles,
    k: int,
    on: Stand,
    springs: AxleSprings,
    at_ride: float,
    unsprung: float,
    radius: float,
) -> LadenAxle:
    end = ("front", "rear")[k]
    load, sag = ((on.front, on.travel_front), (on.rear, on.travel_rear))[k]
    carried = load - unsprung
    stopped = sag >= springs.high - 1e-6 or sag <= springs.low + 1e-6
    rate = None
    if not stopped:
        near = max(1.0, 1e-3 * carried)
        gone = springs.sags(carried - at_ride + near) - springs.sags(carried - at_ride - near)
        rate = near / gone if gone > 1e-9 else None
    slope = support(springs.path(sag), radius, on.nose_up, rear=end == "rear")
    s = project.settings
    travel, pressure = axles.get(end), None
    if travel is not None and travel.springs.pressure is not None:
        pressure = travel.springs.pressure * carried / at_ride
    return LadenAxle(
        load,
        sag,
        stopped,
        rate,
        None if rate is None else frequency(rate, 0.5 * carried / GRAVITY),
        float(drive_percent(then, end, slope, s.thrust_school, s.height_school)),  # type: ignore[arg-type]
        float(brake_percent(then, end, slope, s.height_school)),  # type: ignore[arg-type]
        pressure,
    )
