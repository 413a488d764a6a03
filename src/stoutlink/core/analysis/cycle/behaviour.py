"""How the rig behaves: a steady climb, a ledge, braking, side slope, ramp. Each number says what it assumes."""

from __future__ import annotations

import math

import msgspec
import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.axle_springs import Axles, both_springs, heave_rate, slope_at_ride
from stoutlink.core.analysis.cycle.roll_reach import roll_reach
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.attitude import (
    PlaneRig,
    Stand,
    back_over_sprung,
    stand_on_grade,
    straight,
)
from stoutlink.core.mechanics.ledge import Ledge, ledge
from stoutlink.core.mechanics.side_hill import Side, SideHill, side_hill
from stoutlink.core.mechanics.slopes import (
    Dive,
    back_over,
    climbed,
    dive,
    grade_loads,
    nose_over,
    ramp_index,
    rigid_tip,
)
from stoutlink.core.quantity.constants import GRAVITY

Array = NDArray[np.float64]
RAMP = math.radians(20.0)


class Behaviour(Struct, frozen=True):
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
    angle = project.swap.choosing.grade_rad
    front, rear = grade_loads(weight, a, base, height, angle)
    thrust = weight * math.sin(angle)
    springs = both_springs(axles)
    stand = dived = sprung = flat = None
    if springs is not None:
        share = 0.5 if project.settings.thrust_school == "shared_open" else None
        own = rig.front.unsprung * GRAVITY, rig.rear.unsprung * GRAVITY
        plane = PlaneRig(weight, a, base, height, (rig.front.loaded, rig.rear.loaded), own)
        stand = stand_on_grade(plane, angle, springs, share)
        sprung = back_over_sprung(plane, springs)
        flat = back_over_sprung(plane, (replace(springs[0], path=straight), replace(springs[1], path=straight)))
        rates = heave_rate(axles["front"]) or 1.0, heave_rate(axles["rear"]) or 1.0
        dived = dive(
            weight,
            a,
            base,
            height,
            project.swap.choosing.friction,
            rig.brake_front_share,
            (slope_at_ride(axles["front"]) or 0.0, slope_at_ride(axles["rear"]) or 0.0),
            rates,
        )
    track = rig.rear.outer_track_m + (base - a) / base * (rig.front.outer_track_m - rig.rear.outer_track_m)
    aside = effective_vehicle(project).side_offset or 0.0
    step = project.linkage.loads.ledge_m
    ramp, by = _ramp(rig, axles)
    return Behaviour(
        angle,
        (front, rear),
        thrust / (front + rear) if front + rear > 0 else math.inf,
        thrust / rear if rear > 0 else math.inf,
        stand,
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
        project.swap.choosing, grade_rad=cases.swap.choosing.grade_rad, friction=cases.swap.choosing.friction
    )
    loads = msgspec.structs.replace(
        project.linkage.loads, ledge_m=cases.linkage.loads.ledge_m, side_slope_rad=cases.linkage.loads.side_slope_rad
    )
    return with_parts(project, choosing=choosing, loads=loads)


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
            Side(
                weight * load_share(rig, end),
                wheel.outer_track_m,
                centre,
                stiff,
                wheel.unsprung * GRAVITY,
                wheel.loaded,
            )
        )
    sprung = weight - sides[0].unsprung - sides[1].unsprung
    if sprung <= 0:
        return None
    part = (sides[0].load - sides[0].unsprung) / sprung
    return side_hill(weight, rig.cg_height_m, part, (sides[0], sides[1]), project.linkage.loads.side_slope_rad)


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
    moment = min(
        rig.mass_kg * GRAVITY * load_share(rig, end) * 0.5 * rig.end(end).outer_track_m for end in ("front", "rear")
    )
    for end in ("front", "rear"):
        one = axles.get(end)
        if one is None:
            return None, ""
        best, word = roll_reach(rig, one)
        stiff = roll_stiffness(one)
        if stiff is not None and stiff > 0 and moment / stiff < best:
            best, word = moment / stiff, "a tyre lifts against its springs"
        turns.append(best)
        why.append(f"{end}: {word}")
    rise = rig.front.track_m * math.sin(min(sum(turns), math.pi / 2))
    return ramp_index(climbed(rise, rig.front.loaded, RAMP), rig.wheelbase_m), ", ".join(why)
