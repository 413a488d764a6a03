"""What a donor axle does in this rig: shaft size, gears, torque against capacity, grip."""

from __future__ import annotations

from dataclasses import dataclass

from stoutlink.core.analysis.anti_numbers import load_share
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.gearing import crawl_ratio, engine_rpm, road_speed
from stoutlink.core.mechanics.shaft import wheel_torque_bound, yield_torque
from stoutlink.core.mechanics.spline import pitch_from_major, spline_size

GRAVITY = 9.80665
FRICTION = 0.9
"""Tyre on dry rock (estimate)."""
SHOCK = 1.5
"""Shock factor on driveline torque (estimate)."""


@dataclass(frozen=True)
class DonorInRig:
    """One candidate in this rig, SI. Torques in N·m at one inner shaft, with the shock factor in the demands."""

    donor: DonorAxle
    spline_pitch: float
    pitch_asked: bool
    major: float
    root: float
    weakest_diameter: float
    shaft_yield: float
    ratio: float
    rpm_at_road_speed: float
    crawl_ratio: float
    crawl_speed: float
    demand_level: float
    demand_one_wheel: float
    demand_engine: float
    ground_clearance: float

    @property
    def margin_one_wheel(self) -> float:
        """Shaft yield over demand with one wheel carrying the axle; below 1 the shaft stays twisted."""
        return self.shaft_yield / self.demand_one_wheel


def donor_in_rig(rig: Rig, donor: DonorAxle) -> DonorInRig:
    """Put a donor under the rig at its own end.

    Demand per shaft is min(E, μ·N·r_L) of a locked axle in two cases: standing level (half the axle's load on each
    wheel) and one wheel carrying the axle, both times the shock factor. E takes first gear, low range and the converter.
    """
    end = rig.end(donor.end)
    train = rig.drivetrain
    pitch, asked = donor.spline_pitch_per_in, False
    if donor.spline_major_diameter_m is not None:
        measured = pitch_from_major(donor.spline_teeth, donor.spline_major_diameter_m)
        asked = measured is None
        pitch = measured or pitch
    size = spline_size(donor.spline_teeth, pitch, donor.spline_root)
    weakest = min(size.minor, donor.neck_diameter_m or size.minor)
    total = donor.ratio * donor.hub_ratio
    high = train.top_ratio * train.transfer_high_ratio * total
    engine = train.peak_torque * train.stall * train.first_ratio * train.transfer_low_ratio * donor.ratio
    load = rig.mass_kg * GRAVITY * load_share(rig, donor.end)
    crawl = crawl_ratio(train.first_ratio, train.transfer_low_ratio, donor.ratio, donor.hub_ratio)
    return DonorInRig(
        donor=donor,
        spline_pitch=pitch,
        pitch_asked=asked,
        major=size.major,
        root=size.minor,
        weakest_diameter=weakest,
        shaft_yield=yield_torque(weakest, donor.shaft_yield_pa),
        ratio=donor.ratio,
        rpm_at_road_speed=engine_rpm(rig.road_speed_m_per_s, end.rolling, high),
        crawl_ratio=crawl,
        crawl_speed=road_speed(train.idle_rpm, end.rolling, crawl),
        demand_level=SHOCK * wheel_torque_bound(engine, FRICTION, load / 2, end.loaded, donor.hub_ratio),
        demand_one_wheel=SHOCK * wheel_torque_bound(engine, FRICTION, load, end.loaded, donor.hub_ratio),
        demand_engine=SHOCK * engine,
        ground_clearance=end.loaded - 0.5 * donor.ring_diameter_m - COVER,
    )


COVER = 0.032
"""Housing metal and cover below the ring gear, m (estimate)."""
