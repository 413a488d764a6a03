"""How the rig behaves: a steady climb, braking, side slope, ramp. Each number says what it assumes."""

from __future__ import annotations

import math
from dataclasses import dataclass

from stoutlink.core.analysis.anti_numbers import load_share
from stoutlink.core.analysis.cycle.springs import GRAVITY
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.slopes import Dive, Grade, back_over, climb, dive, grade_loads, lean_on, nose_over, ramp_index, rigid_tip
from stoutlink.core.mechanics.weight import sprung_height, thrust_share

RAMP = math.radians(20.0)


@dataclass(frozen=True)
class Behaviour:
    """SI; ``None`` where an input is not known. ``climb`` and ``dive`` need both axles' wheel rates; ``lean`` their roll stiffness."""

    grade: float
    loads: tuple[float, float]
    needed: float
    climb: Grade | None
    dive: Dive | None
    back_over: float
    nose_over: float
    tip: tuple[float, float]
    """Rigid side slope at which it tips over the front and rear track alone, the lesser counts, rad."""
    lean: float | None
    lean_slope: float
    no_rest: bool
    ramp: float | None
    ramp_stopped_by: str


def behaviour(project: Project, rig: Rig, axles: dict[str, AxleTravel | None]) -> Behaviour:
    """Work out a rig's behaviour from its numbers and the travel of both axles (``front`` and ``rear``)."""
    weight, a = rig.mass_kg * GRAVITY, rig.wheelbase_m - rig.cg_ahead_of_rear_m
    angle = project.choosing.grade_rad
    front, rear = grade_loads(weight, a, rig.wheelbase_m, rig.cg_height_m, angle)
    rates = {end: _rate(one) for end, one in axles.items()}
    slopes = {end: _slope(one) for end, one in axles.items()}
    climbed = dived = None
    if all(v is not None for v in (*rates.values(), *slopes.values())):
        school = project.settings.thrust_school
        share = 1.0 if school == "full_thrust" else thrust_share(school, load_share(rig, "rear"))
        slope, rate = (slopes["front"] or 0.0, slopes["rear"] or 0.0), (rates["front"] or 1.0, rates["rear"] or 1.0)
        climbed = climb(weight, a, rig.wheelbase_m, rig.cg_height_m, angle, share, slope, rate)
        dived = dive(weight, a, rig.wheelbase_m, rig.cg_height_m, project.choosing.friction, rig.brake_front_share, slope, rate)
    lean, rest = _lean(project, rig, axles)
    ramp, by = _ramp(rig, axles)
    return Behaviour(
        angle, (front, rear), weight * math.sin(angle) / (front + rear) if front + rear > 0 else math.inf, climbed, dived, back_over(a, rig.wheelbase_m, rig.cg_height_m),
        nose_over(a, rig.cg_height_m), (rigid_tip(rig.front.track_m, rig.cg_height_m), rigid_tip(rig.rear.track_m, rig.cg_height_m)), lean,
        project.loads.side_slope_rad, rest, ramp, by,
    )  # fmt: skip


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


def _stiffness(one: AxleTravel | None) -> float | None:
    if one is None:
        return None
    return one.leaf.roll_stiffness if one.leaf is not None else one.springs.roll_stiffness


def _lean(project: Project, rig: Rig, axles: dict[str, AxleTravel | None]) -> tuple[float | None, bool]:
    """Lean of the body on the side slope, and whether there is no rest; anti-roll bars are not counted."""
    stiff = [_stiffness(one) for one in axles.values()]
    if any(v is None for v in stiff):
        return None, False
    sprung = rig.mass_kg - rig.front.unsprung - rig.rear.unsprung
    height = sprung_height(rig.mass_kg, rig.cg_height_m, ((rig.front.unsprung, rig.front.loaded), (rig.rear.unsprung, rig.rear.loaded)))
    centres = {end: _roll_centre(one) for end, one in axles.items()}
    if any(v is None for v in centres.values()):
        return None, False
    part = rig.cg_ahead_of_rear_m / rig.wheelbase_m
    axis = (centres["rear"] or 0.0) + part * ((centres["front"] or 0.0) - (centres["rear"] or 0.0))
    found = lean_on(sprung * GRAVITY, height - axis, sum(v or 0.0 for v in stiff), project.loads.side_slope_rad)
    return found, found is None


def _roll_centre(one: AxleTravel | None) -> float | None:
    if one is None:
        return None
    return one.motion.ride.roll_centre_height if one.motion is not None else None if one.leaf is None else one.leaf.roll_centre_line


def _ramp(rig: Rig, axles: dict[str, AxleTravel | None]) -> tuple[float | None, str]:
    """Front wheel up a 20° ramp while the other three stay down: both axles cross-axled to their stops or where the links bind.

    The front axle then stands at the sum of both articulations against the ground; springs are taken as soft enough to let it.
    """
    turns, why = [], []
    for end, one in axles.items():
        if one is None:
            return None, ""
        column = one.grid.within[:, one.grid.ride[1]]
        best = float(one.grid.roll[column].max()) if column.any() else 0.0
        reached = one.grid.reached[:, one.grid.ride[1]]
        most = float(one.grid.roll[reached].max()) if reached.any() else 0.0
        turns.append(best)
        why.append(
            f"{end}: {'links bind' if most <= best + 1e-9 and most < one.grid.roll.max() - 1e-9 else 'stops' if best < one.grid.roll.max() - 1e-9 else 'looked at no further than 20°'}"
        )
    height = rig.front.track_m * math.sin(min(sum(turns), math.pi / 2))
    return ramp_index(height / math.sin(RAMP), rig.wheelbase_m), ", ".join(why)
