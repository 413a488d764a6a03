"""Numbers that can be, but that hardly any rig has: one table of bands, one finding each.

A field takes whatever cannot be ruled out. What lies outside the band here is more likely a slip of the unit, of the
reading or of the field, and changes results without a word; it is said, and can be accepted. The bands are wide on
purpose (estimates, from the sizes of road-going trucks and crawlers; common practice).
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from stoutlink.core.advice.finding import Finding
from stoutlink.core.analysis.vehicle.effective_vehicle import EffectiveVehicle
from stoutlink.core.analysis.vehicle.lacking import lacking
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.paths import field_info, get_value
from stoutlink.core.document.placeholders import is_placeholder
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.shown import Kind, show

DEG = math.pi / 180.0


class Band(Struct, frozen=True):
    """A number by its path, what rigs have (SI), and what it is called where the field's title does not tell."""

    path: str
    low: float
    high: float
    called: str = ""


BANDS: tuple[Band, ...] = (
    Band("rig.wheelbase_m", 1.7, 5.0),
    Band("rig.mass_kg", 500.0, 6000.0),
    Band("rig.cg_height_m", 0.5, 1.5),
    Band("rig.brake_front_share", 0.3, 0.95, "Front share of the brakes"),
    Band("rig.road_speed_m_per_s", 10.0, 45.0),
    Band("rig.front.track_m", 1.1, 2.6, "Front track"),
    Band("rig.rear.track_m", 1.1, 2.6, "Rear track"),
    Band("rig.front.tyre_free_radius_m", 0.28, 0.75, "Front tyre's free radius"),
    Band("rig.rear.tyre_free_radius_m", 0.28, 0.75, "Rear tyre's free radius"),
    Band("rig.front.wheel_mass_kg", 12.0, 150.0, "One front wheel with tyre"),
    Band("rig.rear.wheel_mass_kg", 12.0, 150.0, "One rear wheel with tyre"),
    Band("rig.front.unsprung_mass_kg", 80.0, 900.0, "Front unsprung weight"),
    Band("rig.rear.unsprung_mass_kg", 80.0, 900.0, "Rear unsprung weight"),
    Band("rig.drivetrain.engine_torque_nm", 60.0, 1800.0),
    Band("rig.drivetrain.idle_rpm", 400.0, 1500.0, "Idle speed"),
    Band("rig.drivetrain.reverse_ratio", 1.5, 9.0, "Reverse"),
    Band("rig.drivetrain.transfer_high_ratio", 0.7, 1.6, "High range"),
    Band("rig.drivetrain.transfer_low_ratio", 1.2, 6.5, "Low range"),
    Band("rig.drivetrain.output_m.2", 0.25, 1.4, "Height of the transfer case output"),
    Band("rig.drivetrain.front_output_m.2", 0.25, 1.4, "Height of the front output"),
    Band("rig.drivetrain.output_angle_rad", -15 * DEG, 15 * DEG, "Tilt of the output shaft"),
    Band("rig.drivetrain.front_output_angle_rad", -15 * DEG, 15 * DEG, "Tilt of the front output shaft"),
    Band("rig.body.rail_width_m", 0.03, 0.15),
    Band("rig.body.rail_height_m", 0.04, 0.25),
    Band("rig.body.rail_wall_m", 0.0015, 0.012),
    Band("rig.fittings.old_ratio", 2.0, 8.5),
)
LOW_GEAR = (1.6, 8.5)
"""First gear; granny gears have the upper end."""
PINION = (-6 * DEG, 30 * DEG)
"""Pinion above level at ride."""
CASTER = (-2 * DEG, 15 * DEG)
LOWEST_PIVOT, HIGHEST_PIVOT = 0.08, 1.6
"""Heights of link pivots over the ground at ride, m."""
LONGEST_LINK, SHORTEST_LINK = 2.2, 0.15
"""Between a link's pivots, m."""
AHEAD = 0.25, 0.75
"""Where along the wheelbase the balance point lies, as a part of it ahead of the rear axle."""


def plausible_findings(project: Project, true: EffectiveVehicle) -> tuple[Finding, ...]:
    """One finding for each number that hardly any rig has; only layouts in use are looked at."""
    out = [*_by_table(project, true), *_gears(project), *_balance(project, true)]
    for end in ("rear", "front"):
        layout = project.layout(end)
        if layout is not None:
            out += _layout(project, layout)
    return tuple(out)


def _by_table(project: Project, true: EffectiveVehicle) -> Iterator[Finding]:
    found = {"rig.mass_kg": true.rig.mass_kg, "rig.cg_height_m": true.rig.cg_height_m}
    held = {n.path for n in lacking(project, true)}
    for band in BANDS:
        try:
            value = found.get(band.path, get_value(project, band.path))
        except (KeyError, AttributeError):
            continue  # an optional part of the rig that is not entered
        if value is not None and band.path not in held:
            info = field_info(project, band.path)
            yield from _outside(project, band.called or info.title, value, (band.low, band.high), info.kind, band.path)


def _gears(project: Project) -> Iterator[Finding]:
    at = "rig.drivetrain.gear_ratios"
    gears = [g for i, g in enumerate(project.rig.drivetrain.gear_ratios) if not is_placeholder(project, f"{at}.{i}")]
    if gears:
        yield from _outside(project, "First gear", max(gears), LOW_GEAR, "ratio", "rig.drivetrain.gear_ratios")


def _balance(project: Project, true: EffectiveVehicle) -> Iterator[Finding]:
    if {"rig.wheelbase_m", "rig.cg_ahead_of_rear_m"} & {n.path for n in lacking(project, true)}:
        return
    base = project.rig.wheelbase_m
    band = (AHEAD[0] * base, AHEAD[1] * base)
    title = "Centre of gravity ahead of the rear axle"
    yield from _outside(project, title, true.rig.cg_ahead_of_rear_m, band, "length", "rig.cg_ahead_of_rear_m")


def _layout(project: Project, layout: Layout) -> Iterator[Finding]:
    end = layout.end.capitalize()
    if layout.pinion_up_rad is not None:
        yield from _outside(
            project, f"{end} pinion above level", layout.pinion_up_rad, PINION, "angle", f"{layout.id}/pinion_up_rad"
        )
    if layout.end == "front" and layout.caster_rad is not None:
        yield from _outside(project, "Caster", layout.caster_rad, CASTER, "angle", f"{layout.id}/caster_rad")
    for link in layout.links:
        for side, point in (("frame", link.frame_pivot_m), ("axle", link.axle_pivot_m)):
            title = f"Height of {link.name}'s {side} pivot ({layout.end})"
            band = (LOWEST_PIVOT, HIGHEST_PIVOT)
            yield from _outside(project, title, point[2], band, "length", f"{layout.id}/{link.id}/{side}")
        length = math.dist(link.frame_pivot_m, link.axle_pivot_m)
        title = f"{link.name} between its pivots ({layout.end})"
        yield from _outside(project, title, length, (SHORTEST_LINK, LONGEST_LINK), "length", f"{layout.id}/{link.id}")


def _outside(
    project: Project, title: str, value: float, band: tuple[float, float], kind: Kind, subject: str
) -> Iterator[Finding]:
    if band[0] <= value <= band[1]:
        return
    unit = project.settings.units
    yield Finding(
        "R120",
        "warn",
        f"{title} is {show(value, kind, unit)}; rigs have {show(band[0], kind, unit)} to {show(band[1], kind, unit)}.",
        "Read or measure it again first: it may be in another unit or field. If it is so, accept it with the reason (the band is an estimate).",
        "rig" if subject.startswith("rig") else "layout",
        subject,
    )
