"""The axle under this rig, from the front and above: widths, poke, clearance, wheels, driveshaft first estimate,
narrowing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from stoutlink.core.analysis.swap.capacities import LOCK, spline_of
from stoutlink.core.analysis.vehicle.stance import surveyed_ride
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.mechanics.narrowing import ShaftCut, narrow_sides, shorten
from stoutlink.core.mechanics.spline import spline_size
from stoutlink.core.mechanics.wheel_fit import at_lock, backspacing, driveshaft

BELOW = 0.032
"""Housing metal below the ring gear of an unmeasured housing, m (estimate)."""
RIGHT_WIDTH = 0.0127
"""An axle within this of a wanted width, m, needs no narrowing (half an inch, a spacer's worth)."""


@dataclass(frozen=True)
class FitUp:
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
    middle = None if half is None or offset is None else half - offset
    drawn = middle if middle is not None else None if half is None else half + wheel.tread / 2
    outside = None if middle is None else middle + wheel.tread / 2
    inside = None if middle is None else middle - wheel.tread / 2
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
        else width - (project.plan(other.end).width_m or other.width_m)
    )
    output = rig.drivetrain.output(end)
    shaft = first_driveshaft(rig, donor, plan)
    length, angle, in_plan = shaft if shaft is not None else (None, None, None)
    offset_y = _pinion_offset(donor, plan)
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


def axle_track(rig: Rig, donor: DonorAxle, plan: AxlePlan) -> float | None:
    """Track this axle gives with the wheels at hand, m: over the faces, adapters on, less twice the wheel offset;
    None unless both are known.
    """
    wheel = rig.end(donor.end)
    width = plan.width_m if plan.width_m is not None and donor.width_m is not None else donor.width_m
    if width is None or wheel.wheel_offset_m is None:
        return None
    return width + 2 * (wheel.adapter_m - wheel.wheel_offset_m)


def first_driveshaft(rig: Rig, donor: DonorAxle, plan: AxlePlan) -> tuple[float, float, float] | None:
    """First estimate of the driveshaft: length (m), angle at the output and sideways angle (rad); None until output,
    snout and offset are known.
    """
    output, offset = rig.drivetrain.output(donor.end), _pinion_offset(donor, plan)
    if output is None or donor.snout_length_m is None or offset is None:
        return None
    x = rig.wheelbase_m - donor.snout_length_m if donor.end == "front" else donor.snout_length_m
    joint = (x, offset, rig.end(donor.end).loaded + (donor.hub_drop_m or 0.0) + (donor.pinion_rise_m or 0.0))
    down = rig.drivetrain.output_angle_rad
    return driveshaft(output, joint, down if donor.end == "rear" else -down)


def joint_angle(rig: Rig, donor: DonorAxle, plan: AxlePlan) -> float | None:
    """Angle at the driveshaft's joint by the first estimate, rad."""
    shaft = first_driveshaft(rig, donor, plan)
    return None if shaft is None else shaft[1]


def _side(y: float | None) -> str:
    if y is None:
        return "not known"
    return "centre" if abs(y) < 0.03 else "left" if y > 0 else "right"


def _pinion_offset(donor: DonorAxle, plan: AxlePlan) -> float | None:
    if donor.pinion_offset_m is None or donor.width_m is None or plan.width_m is None:
        return donor.pinion_offset_m
    return narrow_sides(donor.width_m, plan.width_m, donor.pinion_offset_m, centre_pinion=plan.centre_pinion)[2]


@dataclass(frozen=True)
class Narrowing:
    """A wanted width: what comes off each side, how each shaft gets there, where the pinion ends up, whether the jig
    takes it, and axles of the catalogue that have the width already."""

    total: float
    left: float
    right: float
    left_shaft: ShaftCut
    right_shaft: ShaftCut
    pinion_offset: float
    jig: str
    tube: str
    alternatives: tuple[DonorAxle, ...]


def narrowing(project: Project, donor: DonorAxle, wanted: float, *, centre_pinion: bool) -> Narrowing | None:
    """How to bring an axle to a width; None when its own is not known."""
    if donor.width_m is None:
        return None
    left, right, offset = narrow_sides(donor.width_m, wanted, donor.pinion_offset_m or 0.0, centre_pinion=centre_pinion)
    unused = (
        None
        if donor.spline_length_m is None or donor.spline_engaged_m is None
        else donor.spline_length_m - donor.spline_engaged_m
    )
    spline = spline_of(donor)
    thick = None
    if spline is not None and donor.body_diameter_m is not None:
        thick = (
            donor.body_diameter_m
            >= (donor.spline_major_diameter_m or spline_size(spline.teeth, spline.pitch, spline.root).major) - 1e-4
        )
    shafts = [shorten(v, unused, donor.neck_length_m, thick) for v in (left, right)]
    jig = (
        "say how long a housing the jig takes"
        if donor.jig_length_m is None
        else "fits the jig"
        if donor.width_m <= donor.jig_length_m
        else "longer than the jig takes"
    )
    most = max(left, right)
    short = donor.seat_spacing_m is not None and wanted - donor.seat_spacing_m < 0.25
    tube = (
        "spring seats would sit against the wheels"
        if short
        else "new ends sleeved on, welded by a qualified welder, checked with the bar before and after"
    )
    if most <= 0:
        tube = "nothing to cut"
    same = tuple(
        d
        for d in project.donors
        if d.end == donor.end and d.id != donor.id and d.width_m is not None and abs(d.width_m - wanted) <= RIGHT_WIDTH
    )
    return Narrowing(
        left + right,
        left,
        right,
        shafts[0],
        shafts[1],
        offset,
        jig,
        tube,
        tuple(sorted(same, key=lambda d: (abs((d.width_m or 0) - wanted), d.id))[:4]),
    )


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
