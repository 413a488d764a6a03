"""The axle under this rig, from the front and above: widths, poke, clearance, wheels, driveshaft first estimate."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.swap.capacities import LOCK
from stoutlink.core.analysis.vehicle.axle_place import BELOW
from stoutlink.core.analysis.vehicle.pinion_place import pinion_offset, pinion_place
from stoutlink.core.analysis.vehicle.stance import surveyed_ride
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.mechanics.wheel_fit import at_lock, backspacing, driveshaft


class FitUp(Struct, frozen=True):
    """Everything in m and rad; None where an input is missing. Positive poke stands out beyond the fender a side."""

    donor: DonorAxle
    width: float | None
    tyre_middle: float | None
    tyre_outside: float | None
    tyre_inside: float | None
    drawn_middle: float | None
    """Where the tyres are drawn: from the wheel faces out while the wheel offset is not known, and nothing is said of
    them then.
    """
    about: bool
    """Whether the tyre's width is a stand-in, its printed size not known."""
    backspacing: float | None
    poke: float | None
    room_straight: float | None
    room_at_lock: float | None
    lock: float | None
    lock_assumed: bool
    under_housing: float | None
    below_assumed: bool
    spacer_to_match: float | None
    wider_than_other: float | None
    shaft_length: float | None
    shaft_angle: float | None
    shaft_plan_angle: float | None
    pinion_side: str
    output_side: str


def fit_up(project: Project, rig: Rig, donor: DonorAxle, plan: AxlePlan) -> FitUp:
    """Work out how an axle sits under the rig at its own end, after planned narrowing."""
    wheel, end = rig.end(donor.end), donor.end
    width = plan.width_m if plan.width_m is not None and donor.width_m is not None else donor.width_m
    offset = wheel.wheel_offset_m
    half = None if width is None else width / 2 + wheel.adapter_m
    if wheel.dual_m is not None:
        middle = half
    else:
        middle = None if half is None or offset is None else half - offset
    drawn = middle if middle is not None else None if half is None else half + wheel.tread / 2
    outside = None if middle is None else middle + wheel.across / 2
    inside = None if middle is None else middle - wheel.across / 2
    fender, frame = rig.body.fender(end), rig.body.frame(end)
    poke = None if outside is None or fender is None else outside - fender / 2
    room = None if inside is None or frame is None else inside - frame / 2
    lock = room_lock = None
    assumed = False
    if end == "front" and donor.knuckle != "none":
        assumed = donor.steer_lock_rad is None
        lock = donor.steer_lock_rad if donor.steer_lock_rad is not None else LOCK
        if middle is not None and width is not None and frame is not None and donor.kingpin_inset_m is not None:
            axis = width / 2 - donor.kingpin_inset_m
            rise = rig.stance.ride_front_m if rig.stance.ride_front_m is not None else surveyed_ride(project, "front")
            room_lock = at_lock(axis, middle - axis, wheel.tread, wheel.free, lock, rise or 0.0) - frame / 2
    under = housing_clearance(rig, donor, plan)
    other = project.donor("rear" if end == "front" else "front")
    wider = (
        None
        if width is None or other is None or other.width_m is None
        else width
        + 2 * wheel.adapter_m
        - (project.plan(other.end).width_m or other.width_m)
        - 2 * rig.end(other.end).adapter_m
    )
    output = rig.drivetrain.output(end)
    layout = project.layout(end)
    shaft = first_driveshaft(rig, donor, plan, 0.0 if layout is None else layout.pinion_up)
    length, angle, in_plan = shaft if shaft is not None else (None, None, None)
    offset_y = pinion_offset(donor, plan)
    return FitUp(
        donor,
        width,
        middle,
        outside,
        inside,
        drawn,
        wheel.printed is None,
        backspacing(wheel.rim_width_m, offset) if wheel.rim_width_m is not None and offset is not None else None,
        poke,
        room,
        room_lock,
        lock,
        assumed,
        under,
        donor.housing_below_m is None,
        None if wider is None or wider >= 0 else -wider / 2,
        wider,
        length,
        angle,
        in_plan,
        _side(offset_y),
        _side(output[1] if output is not None else None) if output is not None else rig.drivetrain.output_side,
    )


def housing_clearance(rig: Rig, donor: DonorAxle, plan: AxlePlan) -> float | None:
    """Ground to the lowest metal of the housing, m: loaded radius and portal drop less half the ring gear and the
    metal below it, shaved if planned.
    """
    if donor.ring_diameter_m is None:
        return None
    below = donor.housing_below_m if donor.housing_below_m is not None else BELOW
    shaved = donor.shave_m if plan.shaved and donor.shave_m is not None else 0.0
    return rig.end(donor.end).loaded + (donor.hub_drop_m or 0.0) - 0.5 * donor.ring_diameter_m - below + shaved


def first_driveshaft(
    rig: Rig, donor: DonorAxle, plan: AxlePlan, pinion_up: float = 0.0
) -> tuple[float, float, float] | None:
    """First estimate of the driveshaft at ride: length (m), angle at the output and sideways angle (rad); None until
    output, snout and offset are known. ``pinion_up`` is the pinion over level, rad: level until an axle is laid out.
    """
    output = rig.drivetrain.output(donor.end)
    place = None if donor.snout_length_m is None else pinion_place(rig, donor, plan, pinion_up)
    if output is None or place is None:
        return None
    return driveshaft(output, place.joint, rig.drivetrain.output_down(donor.end))


def joint_angle(rig: Rig, donor: DonorAxle, plan: AxlePlan) -> float | None:
    """Angle at the driveshaft's joint by the first estimate, rad."""
    shaft = first_driveshaft(rig, donor, plan)
    return None if shaft is None else shaft[1]


def _side(y: float | None) -> str:
    if y is None:
        return "not known"
    return "centre" if abs(y) < 0.03 else "left" if y > 0 else "right"


def plan_angle_words(angle: float) -> str:
    """How much a driveshaft's sideways angle matters."""
    degrees = abs(math.degrees(angle))
    return (
        "straight"
        if degrees < 1
        else "a little sideways"
        if degrees < 4
        else "far sideways: judge the joints by the combined angle"
    )
