"""The ladder: what every part from transfer case to tyre is asked for in this rig, against what it carries, weakest
first.
"""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from stoutlink.core.analysis.swap.capacities import PART_TITLES, RECORD_SIGMA, Capacity, capacities
from stoutlink.core.analysis.swap.fit_up import joint_angle
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.analysis.vehicle.axle_place import track_with
from stoutlink.core.analysis.vehicle.drive_torque import drive_torque
from stoutlink.core.analysis.vehicle.rig_readings import rig_cases
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.lockers import BY_ID as LOCKER_KINDS
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan, Choosing, planned_gears, planned_locker
from stoutlink.core.mechanics.axle_torque import (
    COAST_PART,
    LOCKED,
    OPEN,
    SLIP,
    SideTorques,
    drives_on_coast,
    ring_capacity,
    seat_moment,
    side_torques,
    twist_load,
)
from stoutlink.core.mechanics.shaft import cross_joint_capacity
from stoutlink.core.mechanics.slopes import grade_loads
from stoutlink.core.quantity.constants import GRAVITY

Array = NDArray[np.float64]
TIES = {"open": OPEN, "slip": SLIP, "locked": LOCKED}
CASES: dict[str, str] = {
    "level": "standing level, both tyres gripping", "twist": "level, with the driveshaft's twist on one tyre", "grade": "on the grade",
    "one_wheel": "one wheel carrying the axle", "reverse": "reverse, level", "bound": "a wheel wedged: no tyre to slip",
}  # fmt: skip
HEADLINE = ("level", "twist", "grade", "one_wheel", "reverse")
"""Cases that count for the headline; a wedged wheel has its own row."""
OUTBOARD = ("lockout", "flange_bolts")
INBOARD = ("carrier", "inner_spline", "neck", "spline_teeth", "semi_float_end", "outer_joint", "outer_spline", "stub")
BEFORE = ("output", "driveshaft_joint", "pinion")
BENT = ("tube", "knuckle")


class Asked(Struct, frozen=True):
    """What one case asks, with the shock factor in it, N·m: at one shaft, at the ring gear, and ``wheel_load`` N on
    the heaviest tyre.
    """

    shaft: Array
    ring: Array
    wheel_load: Array


def axle_load(rig: Rig, end: str, case: str, choosing: Choosing) -> float:
    """Load on this axle in a case, N."""
    weight = rig.mass_kg * GRAVITY
    if case != "grade":
        return weight * load_share(rig, end)
    behind_front = rig.wheelbase_m - rig.cg_ahead_of_rear_m
    front, rear = grade_loads(weight, behind_front, rig.wheelbase_m, rig.cg_height_m, choosing.grade_rad)
    all_of_it = weight * math.cos(choosing.grade_rad)  # what is left when the other axle has lifted
    return min(max(front if end == "front" else rear, 0.0), all_of_it)


def case_torques(
    rig: Rig,
    end: str,
    choosing: Choosing,
    ratio: Array,
    hub: Array,
    tie: Array,
    bias: Array,
    preload: Array,
    track: Array,
) -> dict[str, Asked]:
    """Demands of every case for axles of any array shape at one end. Without a ratio (NaN) only the tyres limit what
    the shafts see.
    """
    wheel = rig.end(end)
    reach = choosing.friction * wheel.loaded / hub
    out = {}
    for case in CASES:
        load = axle_load(rig, end, case, choosing)
        engine = np.where(np.isnan(ratio), np.inf, drive_torque(rig, reverse=case == "reverse") * ratio)
        half = np.full_like(reach, load / 2)
        if case in ("one_wheel",):
            low, high = np.zeros_like(half), np.full_like(half, load)
        elif case == "twist":
            pinion = np.minimum(engine, reach * load) / ratio
            moved = np.minimum(twist_load(pinion, track), load / 2)
            low, high = half - moved, half + moved
        else:
            low, high = half, half
        grip_low = reach * low
        grip_high = np.full_like(reach, np.inf) if case == "bound" else reach * high
        t: SideTorques = side_torques(tie, engine, grip_low, grip_high, bias, preload)
        k = choosing.shock
        out[case] = Asked(k * np.maximum(t.low, t.high), k * t.ring, k * high)
    return out


def rig_capacities(rig: Rig, donor: DonorAxle, plan: AxlePlan, choosing: Choosing) -> dict[str, Capacity]:
    """What every part from the transfer case out carries in this rig: the driveshaft's joint at its first-estimate
    angle, both flanks.
    """
    load = choosing.shock * axle_load(rig, donor.end, "one_wheel", choosing)
    known = capacities(
        donor, plan, wheel_load=load, side_force=choosing.side_force_share * load, radius=rig.end(donor.end).loaded
    )
    output = rig.fittings.output_rating_nm
    joint, angle = known["driveshaft_joint"], joint_angle(rig, donor, plan)
    if joint.value is not None and angle is not None:
        at = f"{joint.why}; at {math.degrees(angle):.0f}° (first estimate)"
        known["driveshaft_joint"] = Capacity(
            joint.part, cross_joint_capacity(joint.value, angle), joint.basis, at, joint.sigma
        )
    known["ring_reverse"] = replace(known["ring_forward"], part="ring_reverse")
    return {
        "output": Capacity(
            "output",
            output,
            "record",
            "rated by its record" if output else "enter the transfer case output's rating",
            RECORD_SIGMA,
        ),
        **known,
    }


class Rung(Struct, frozen=True):
    """One part: what it carries and the most it is asked for over the cases that count, N·m; ``margin`` is their
    quotient.

    ``sigma`` is 1 σ of the margin. ``wedged`` is the margin with a wheel wedged. ``asked`` has every case.
    """

    part: str
    title: str
    capacity: Capacity
    carries: float
    demand: float
    case: str
    margin: float
    wedged: float
    asked: tuple[tuple[str, float], ...]
    sigma: float = 0.0


class Unknown(Struct, frozen=True):
    """A part the ladder cannot judge, and what would have to be known."""

    part: str
    title: str
    why: str


LOCKER_ASSUMED = "locker not known: judged as locked"


class Ladder(Struct, frozen=True):
    """Parts weakest first, and those not known. ``locker`` and ``gears`` are what it was worked out with; ``assumed``
    says what was assumed.
    """

    donor: DonorAxle
    end: str
    locker: str
    ratio: float | None
    rungs: tuple[Rung, ...]
    unknown: tuple[Unknown, ...]
    assumed: tuple[str, ...]
    output_torque: float
    tyre_torque: float

    @property
    def weakest(self) -> Rung | None:
        """The part that goes first, if any is known and loaded."""
        return self.rungs[0] if self.rungs else None

    @property
    def locker_known(self) -> bool:
        """Whether its locker is known, rather than assumed as the cautious side."""
        return LOCKER_ASSUMED not in self.assumed

    def rung(self, part: str) -> Rung | None:
        """One part's rung."""
        return next((r for r in self.rungs if r.part == part), None)


def flank_factors(donor: DonorAxle) -> tuple[float, float]:
    """What the ring gear's flank forward and in reverse carries, as a part of its drive flank."""
    coast = drives_on_coast(
        donor.end, donor.cut or ("reverse" if donor.end == "front" and donor.pinion_height == "high" else "standard")
    )
    return (COAST_PART, 1.0) if coast else (1.0, COAST_PART)


def part_carries(donor: DonorAxle, capacity: Capacity, part: str, ratio: float | Array) -> Array:
    """Capacity of a part at a ratio, N·m; NaN when unknown. Ring gears by flank."""
    base: Array
    if capacity.turned:
        base = ring_capacity(donor.ring_diameter_m or math.nan, ratio)
    else:
        base = np.full_like(np.asarray(ratio, dtype=float), math.nan if capacity.value is None else capacity.value)
    if part.startswith("ring"):
        base = base * flank_factors(donor)[0 if part == "ring_forward" else 1]
    return base


def part_asks(part: str, asked: Asked, case: str, ratio: Array, hub: Array, bending: Array) -> Array | None:
    """What a case asks of a part, N·m, or ``None`` when the case does not bear on it (a flank of the ring gear, a
    tube in bending).
    """
    if part == "ring_forward":
        return None if case == "reverse" else asked.ring
    if part == "ring_reverse":
        return asked.ring if case == "reverse" else None
    if part in BENT:
        return None if case == "bound" else bending
    if part in BEFORE:
        return asked.ring / ratio
    return asked.shaft * hub if part in OUTBOARD else asked.shaft


def ladder(rig: Rig, donor: DonorAxle, plan: AxlePlan, choosing: Choosing, *, sure: Project | None = None) -> Ladder:
    """Work out the ladder of one axle at its own end; ``sure`` is the project whose readings give each margin its ±."""
    rungs, unknown, assumed, locker, ratio = _rungs(rig, donor, plan, choosing)
    if sure is not None and rungs:
        rungs = _with_sigma(rungs, rig, donor, plan, choosing, sure)
    torque = drive_torque(rig)
    tyre = choosing.friction * axle_load(rig, donor.end, "level", choosing) * rig.end(donor.end).loaded
    ordered = tuple(sorted(rungs, key=lambda r: (r.margin, r.part)))
    return Ladder(donor, donor.end, locker, ratio, ordered, tuple(unknown), tuple(assumed), torque, tyre)


def _rungs(
    rig: Rig, donor: DonorAxle, plan: AxlePlan, choosing: Choosing
) -> tuple[list[Rung], list[Unknown], list[str], str, float | None]:
    locker, guessed = planned_locker(donor, plan)
    pair = planned_gears(donor, plan)
    assumed = []
    if guessed:
        assumed.append(LOCKER_ASSUMED)
    if donor.cut is None:
        assumed.append("cut of the gears not known: taken from pinion height")
    if donor.ratings_are is None and any(
        getattr(donor, f) is not None for f in donor.__struct_fields__ if f.endswith("rating_nm")
    ):
        assumed.append("ratings taken as yield figures")
    side = choosing.side_force_share
    wheel = rig.end(donor.end)
    track = track_with(wheel, donor, plan)
    known = rig_capacities(rig, donor, plan, choosing)
    unknown: list[Unknown] = []
    if pair is None:
        unknown.append(
            Unknown(
                "gears",
                "Gears",
                "count ring gear and pinion: without the ratio nothing before the shafts can be judged, and only the tyres limit the rest",
            )
        )
    ratio = np.array(pair.ratio if pair is not None else math.nan)
    hub = np.array(donor.hub_ratio)
    kind = LOCKER_KINDS[locker]
    with np.errstate(invalid="ignore"):
        cases = case_torques(
            rig,
            donor.end,
            choosing,
            ratio,
            hub,
            np.array(TIES[kind.tie]),
            np.array(kind.bias),
            np.array(kind.preload_nm),
            np.array(track),
        )
    rungs = []
    for part, capacity in known.items():
        carries = float(part_carries(donor, capacity, part, ratio))
        if not math.isfinite(carries):
            why = capacity.why if pair is not None or not capacity.turned else "needs the ratio"
            if part != "ring_reverse":
                unknown.append(Unknown(part, PART_TITLES[part], why))
            continue
        asked = []
        for case, one in cases.items():
            bending = np.array(bending_moment(part, donor, track, float(one.wheel_load), side, wheel.loaded))
            value = part_asks(part, one, case, ratio, hub, bending)
            if value is not None and math.isfinite(float(value)):
                asked.append((case, float(value)))
        count = [(v, c) for c, v in asked if c in HEADLINE]
        if not count:
            unknown.append(Unknown(part, PART_TITLES[part], "needs the ratio"))
            continue
        demand, case = max(count, key=lambda vc: vc[0])
        wedged = next((v for c, v in asked if c == "bound"), math.nan)
        rungs.append(
            Rung(
                part,
                PART_TITLES[part],
                capacity,
                carries,
                demand,
                case,
                carries / demand if demand > 0 else math.inf,
                carries / wedged if wedged > 0 else math.inf if wedged == 0 else math.nan,
                tuple(asked),
            )
        )
    return rungs, unknown, assumed, locker, pair.ratio if pair else None


def bending_moment(
    part: str, donor: DonorAxle, track: float, wheel_load: float, side_share: float, radius: float
) -> float:
    """Bending moment at seat or knuckle under a wheel load (shock factor in it), N·m; NaN where a dimension is
    missing.
    """
    if part == "tube":
        return float(seat_moment(wheel_load, track, donor.seat_spacing_m or math.nan, side_share * wheel_load, radius))
    if part == "knuckle":
        inset = donor.kingpin_inset_m
        return math.nan if inset is None else wheel_load * inset + side_share * wheel_load * radius
    return math.nan


def _with_sigma(
    rungs: list[Rung], rig: Rig, donor: DonorAxle, plan: AxlePlan, choosing: Choosing, project: Project
) -> list[Rung]:
    """Each margin's 1 σ: the rig's readings by first order, the capacity's own beside them. Grip, shock and grade are
    choices and not in it.
    """
    squares = {r.part: (r.capacity.sigma) ** 2 for r in rungs}
    for case in rig_cases(project):
        up, down = ({r.part: r.demand for r in _rungs(one, donor, plan, choosing)[0]} for one in (case.up, case.down))
        for r in rungs:
            if r.demand > 0 and r.part in up and r.part in down:
                squares[r.part] += ((up[r.part] - down[r.part]) / (2 * r.demand)) ** 2
    return [
        Rung(
            r.part,
            r.title,
            r.capacity,
            r.carries,
            r.demand,
            r.case,
            r.margin,
            r.wedged,
            r.asked,
            r.margin * math.sqrt(squares[r.part]) if math.isfinite(r.margin) else 0.0,
        )
        for r in rungs
    ]
