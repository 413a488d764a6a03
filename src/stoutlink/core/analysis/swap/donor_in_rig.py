"""What a donor axle does in this rig: shaft size, gears, torque against capacity, grip. The ladder goes further, part
by part.
"""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.swap.capacities import AS_IT_COMES, SHAFT_YIELD, spline_of, torsion
from stoutlink.core.analysis.swap.fit_up import housing_clearance
from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.analysis.vehicle.drive_torque import drive_torque
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan, Choosing, planned_gears
from stoutlink.core.mechanics.gearing import crawl_ratio, engine_rpm, road_speed
from stoutlink.core.mechanics.shaft import wheel_torque_bound
from stoutlink.core.mechanics.spline import spline_size
from stoutlink.core.quantity.constants import GRAVITY

DEFAULT = Choosing()
FRICTION = DEFAULT.friction
"""Tyre on dry rock (estimate)."""
SHOCK = DEFAULT.shock
"""Shock factor on driveline torque (estimate)."""


class DonorInRig(Struct, frozen=True):
    """One candidate in this rig, SI; None where the record does not say enough. Torques in N·m at one inner shaft,
    with the shock factor in the demands.
    """

    donor: DonorAxle
    spline_pitch: float | None
    pitch_asked: bool
    major: float | None
    root: float | None
    weakest_diameter: float | None
    shaft_yield: float | None
    ratio: float | None
    rpm_at_road_speed: float | None
    crawl_ratio: float | None
    crawl_speed: float | None
    demand_level: float
    demand_one_wheel: float
    demand_engine: float | None
    ground_clearance: float | None


def donor_in_rig(rig: Rig, donor: DonorAxle, plan: AxlePlan = AS_IT_COMES, choosing: Choosing = DEFAULT) -> DonorInRig:
    """Put a donor under the rig at its own end, with the gears it is judged by.

    Demand per shaft is min(E, μ·N·r_L) of a locked axle in two cases: standing level (half the axle's load on each
    wheel) and one wheel carrying the axle, both times the shock factor. E takes first gear, low range and the
    converter, half of it with an open centre; without a ratio only the tyre limits it.
    """
    end, train = rig.end(donor.end), rig.drivetrain
    spline = spline_of(donor)
    size = None if spline is None else spline_size(spline.teeth, spline.pitch, spline.root)
    places = [d for d in (size.minor if size else None, donor.neck_diameter_m) if d is not None]
    weakest = min(places, default=None)
    pair = planned_gears(donor, plan)
    ratio = pair.ratio if pair is not None else None
    load = rig.mass_kg * GRAVITY * load_share(rig, donor.end)
    engine = rpm = crawl = speed = None
    if ratio is not None:
        engine = drive_torque(rig) * ratio
        rpm = engine_rpm(
            rig.road_speed_m_per_s, end.rolling, train.top_ratio * train.transfer_high_ratio * ratio * donor.hub_ratio
        )
        crawl = crawl_ratio(train.first_ratio, train.transfer_low_ratio, ratio, donor.hub_ratio)
        speed = road_speed(train.idle_rpm, end.rolling, crawl)

    def asked(wheel_load: float) -> float:
        limit = float("inf") if engine is None else engine
        return choosing.shock * wheel_torque_bound(limit, choosing.friction, wheel_load, end.loaded, donor.hub_ratio)

    return DonorInRig(
        donor=donor,
        spline_pitch=spline.pitch if spline else None,
        pitch_asked=spline.asked if spline else False,
        major=size.major if size else None,
        root=size.minor if size else None,
        weakest_diameter=weakest,
        shaft_yield=None
        if weakest is None
        else torsion(weakest, donor.shaft_yield_pa or SHAFT_YIELD, donor.shaft_bore_m or 0.0),
        ratio=ratio,
        rpm_at_road_speed=rpm,
        crawl_ratio=crawl,
        crawl_speed=speed,
        demand_level=asked(load / 2),
        demand_one_wheel=asked(load),
        demand_engine=None if engine is None else choosing.shock * engine,
        ground_clearance=housing_clearance(rig, donor, plan),
    )
