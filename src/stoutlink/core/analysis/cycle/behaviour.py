"""How the rig behaves: a steady climb, a ledge, braking, side slope, ramp. Each number says what it assumes."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.attitude import AxleSprings, Stand, back_over_sprung, stand_on_grade
from stoutlink.core.mechanics.ledge import Ledge, ledge
from stoutlink.core.mechanics.side_hill import Side, SideHill, side_hill
from stoutlink.core.mechanics.slopes import Dive, back_over, dive, grade_loads, nose_over, ramp_index, rigid_tip
from stoutlink.core.quantity.constants import GRAVITY

RAMP = math.radians(20.0)
Axles = dict[str, AxleTravel | None]


@dataclass(frozen=True)
class Behaviour:
    """SI; ``None`` where an input is not known. ``climb``, ``dive`` and the back-over with springs need both axles'
    springs; ``across`` their roll stiffness.
    """

    grade: float
    loads: tuple[float, float]
    """Front and rear on the grade, rigid, N."""
    needed: float
    """Grip with both axles driven."""
    needed_rear: float
    climb: Stand | None
    dive: Dive | None
    back_over: float
    back_over_sprung: float | None
    back_over_flat: float | None
    """The same springs without this geometry: no support from the links at either axle."""
    nose_over: float
    tip: tuple[float, float]
    """Rigid side slope at which it tips to the left and to the right, over the line through both downhill contacts,
    rad; apart by the balance point's side.
    """
    across: SideHill | None
    ledge: Ledge
    ledge_height: float
    ramp: float | None
    ramp_stopped_by: str


def behaviour(project: Project, rig: Rig, axles: Axles) -> Behaviour:
    """Work out a rig's behaviour from its numbers and the travel of both axles (``front`` and ``rear``)."""
    weight, a = rig.mass_kg * GRAVITY, rig.wheelbase_m - rig.cg_ahead_of_rear_m
    base, height = rig.wheelbase_m, rig.cg_height_m
    angle = project.choosing.grade_rad
    front, rear = grade_loads(weight, a, base, height, angle)
    thrust = weight * math.sin(angle)
    hub = 0.5 * (rig.front.loaded + rig.rear.loaded)
    springs = _springs(axles)
    climbed = dived = sprung = flat = None
    if springs is not None:
        share = 0.5 if project.settings.thrust_school == "shared_open" else None
        climbed = stand_on_grade(weight, a, base, height, hub, angle, springs, share)
        sprung = back_over_sprung(weight, a, base, height, hub, springs)
        bare = (replace(springs[0], slope=0.0), replace(springs[1], slope=0.0))
        flat = back_over_sprung(weight, a, base, height, hub, bare)
        rates = _rate(axles["front"]) or 1.0, _rate(axles["rear"]) or 1.0
        dived = dive(
            weight,
            a,
            base,
            height,
            project.choosing.friction,
            rig.brake_front_share,
            (springs[0].slope, springs[1].slope),
            rates,
        )
    track = rig.rear.track_m + (base - a) / base * (rig.front.track_m - rig.rear.track_m)
    aside = effective_vehicle(project).side_offset or 0.0
    step = project.loads.ledge_m
    ramp, by = _ramp(rig, axles)
    return Behaviour(
        angle,
        (front, rear),
        thrust / (front + rear) if front + rear > 0 else math.inf,
        thrust / rear if rear > 0 else math.inf,
        climbed,
        dived,
        back_over(a, base, height),
        sprung,
        flat,
        nose_over(a, height),
        (rigid_tip(track, height, aside), rigid_tip(track, height, -aside)),
        _across(project, rig, axles),
        ledge(weight, a, base, height, (rig.front.loaded, rig.rear.loaded), step),
        step,
        ramp,
        by,
    )


def on_the_same(project: Project, cases: Project) -> Project:
    """A project on the grade, ledge, side slope and grip of another."""
    choosing = msgspec.structs.replace(
        project.choosing, grade_rad=cases.choosing.grade_rad, friction=cases.choosing.friction
    )
    loads = msgspec.structs.replace(
        project.loads, ledge_m=cases.loads.ledge_m, side_slope_rad=cases.loads.side_slope_rad
    )
    return msgspec.structs.replace(project, choosing=choosing, loads=loads)


def _springs(axles: Axles) -> tuple[AxleSprings, AxleSprings] | None:
    """Front and rear springs with their stops and support slopes at ride; ``None`` until both are known."""
    found = [_axle_springs(axles.get(end)) for end in ("front", "rear")]
    return None if found[0] is None or found[1] is None else (found[0], found[1])


def _axle_springs(one: AxleTravel | None) -> AxleSprings | None:
    slope = _slope(one)
    if one is None or slope is None or _rate(one) is None:
        return None
    low, high = one.grid.limits
    if one.leaf is not None:
        rate = 2.0 * one.leaf.halves.heave_rate
        return AxleSprings(lambda s: rate * s, low, high, slope)
    assert one.springs.force is not None
    assert one.springs.ratio is not None
    load = 2.0 * one.springs.force * one.springs.ratio
    good = np.isfinite(load)
    heave, load = one.grid.heave[good], np.maximum.accumulate(load[good])
    ride = float(np.interp(0.0, heave, load))
    return AxleSprings(
        lambda s: float(np.interp(s, heave, load)) - ride, max(low, float(heave[0])), min(high, float(heave[-1])), slope
    )


def _rate(one: AxleTravel | None) -> float | None:
    """Heave rate of one side at the wheel, N/m: leaves, or the spring's wheel rate at ride."""
    if one is None:
        return None
    if one.leaf is not None:
        return one.leaf.halves.heave_rate
    rate = one.springs.wheel_rate
    return None if rate is None or not math.isfinite(float(rate[one.grid.ride[1]])) else float(rate[one.grid.ride[1]])


def _slope(one: AxleTravel | None) -> float | None:
    if one is None:
        return None
    if one.motion is not None:
        return one.motion.ride.slope
    return None if one.leaf is None else one.leaf.slope_beam


def roll_stiffness(one: AxleTravel | None) -> float | None:
    """Springs and anti-roll bar of one axle, N·m/rad; ``None`` without springs."""
    if one is None:
        return None
    springs = one.leaf.roll_stiffness if one.leaf is not None else one.springs.roll_stiffness
    return (
        None
        if springs is None or not math.isfinite(springs)
        else springs + (one.springs.bar[0] if one.springs.bar is not None else 0.0)
    )


def _across(project: Project, rig: Rig, axles: Axles) -> SideHill | None:
    """The side slope of the load cases; stops are not counted."""
    weight = rig.mass_kg * GRAVITY
    sides = []
    for end in ("front", "rear"):
        one, wheel = axles.get(end), rig.end(end)
        stiff, centre = roll_stiffness(one), _roll_centre(one)
        if stiff is None or centre is None or not math.isfinite(centre):
            return None
        sides.append(
            Side(weight * load_share(rig, end), wheel.track_m, centre, stiff, wheel.unsprung * GRAVITY, wheel.loaded)
        )
    sprung = weight - sides[0].unsprung - sides[1].unsprung
    if sprung <= 0:
        return None
    part = (sides[0].load - sides[0].unsprung) / sprung
    return side_hill(weight, rig.cg_height_m, part, (sides[0], sides[1]), project.loads.side_slope_rad)


def _roll_centre(one: AxleTravel | None) -> float | None:
    if one is None:
        return None
    return (
        one.motion.ride.roll_centre_height
        if one.motion is not None
        else None
        if one.leaf is None
        else one.leaf.roll_centre_line
    )


def _ramp(rig: Rig, axles: Axles) -> tuple[float | None, str]:
    """Front wheel up a 20° ramp while the others stay down, until another tyre lifts: each axle rolls against the
    body by its share of the moment between them, M/K, no farther than its stops or where its links bind; at M = N·t/2
    of the lighter axle its tyre lifts (loads as on the level).

    While the roll stiffness of an axle is not known its springs are taken as soft enough to let it.
    """
    turns, why = [], []
    moment = min(rig.mass_kg * GRAVITY * load_share(rig, end) * 0.5 * rig.end(end).track_m for end in ("front", "rear"))
    for end in ("front", "rear"):
        one = axles.get(end)
        if one is None:
            return None, ""
        column = one.grid.within[:, one.grid.ride[1]]
        best = float(one.grid.roll[column].max()) if column.any() else 0.0
        reached = one.grid.reached[:, one.grid.ride[1]]
        most = float(one.grid.roll[reached].max()) if reached.any() else 0.0
        stiff = roll_stiffness(one)
        edge = one.grid.roll.max() - 1e-9
        word = (
            "links bind"
            if most <= best + 1e-9 and most < edge
            else "stops"
            if best < edge
            else "looked at no further than 20°"
        )
        if stiff is not None and stiff > 0 and moment / stiff < best:
            best, word = moment / stiff, "a tyre lifts against its springs"
        turns.append(best)
        why.append(f"{end}: {word}")
    height = rig.front.track_m * math.sin(min(sum(turns), math.pi / 2))
    return ramp_index(height / math.sin(RAMP), rig.wheelbase_m), ", ".join(why)
