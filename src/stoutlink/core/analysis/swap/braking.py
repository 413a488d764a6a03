"""How two axles' disc brakes share the braking, and what a rig on the road must keep."""

from __future__ import annotations

import math
from typing import Literal

from msgspec import Struct

from stoutlink.core.analysis.swap.cost_to_ready import cable_fits
from stoutlink.core.analysis.swap.fit_up import fit_up
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.fitted_axle import as_fitted
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import planned_gears
from stoutlink.core.mechanics.gearing import speedometer

READS_RIGHT = 0.02
"""A speedometer within this part of the true speed reads right."""


def disc_pull(axle: DonorAxle, radius: float) -> float | None:
    """Brake force of an axle's two discs at the ground over line pressure and pad friction, m²: each disc is gripped
    from both sides by the pistons of one side, at the radius under their middle (disc's half less half a piston);
    ``None`` unless it has discs whose size and pistons are known. ``radius`` loaded, m.
    """
    if axle.brake != "disc" or axle.rotor_m is None or axle.piston_m is None or axle.piston_count is None:
        return None
    area = axle.piston_count * math.pi / 4.0 * axle.piston_m**2
    at = 0.5 * (axle.rotor_m - axle.piston_m)
    return None if at <= 0 else 2.0 * 2.0 * area * at / radius


def brake_share(rig: Rig, front: DonorAxle, rear: DonorAxle) -> float | None:
    """Part of the braking that the front does at one line pressure with the same pads, no valve between."""
    one, two = disc_pull(front, rig.front.loaded), disc_pull(rear, rig.rear.loaded)
    return None if one is None or two is None else one / (one + two)


class Keeps(Struct, frozen=True):
    """One thing a rig on the road must keep, how it stands, and why."""

    what: str
    state: Literal["kept", "look", "lost"]
    why: str


def road_keeps(project: Project, rig: Rig) -> tuple[Keeps, ...]:
    """What has to work on the road after the swap, as far as the axles chosen decide it; nothing for a rig that need
    not be road legal or has no axle chosen."""
    axles = [as_fitted(project, a) for end in ("front", "rear") if (a := project.donor(end)) is not None]
    if not rig.road_legal or not axles:
        return ()
    out = [_service(a) for a in axles]
    out.append(_parking(rig, axles))
    if rig.fittings.anti_lock == "fitted":
        out += [_anti_lock(a) for a in axles]
    speed = _speed(project, rig, axles)
    if speed is not None:
        out.append(speed)
    for axle in axles:
        poke = fit_up(project, rig, axle, project.plan(axle.end)).poke
        what = f"{axle.end} tread covered"
        if poke is None:
            out.append(Keeps(what, "look", "fender width, wheel offset and axle width together are not known"))
        else:
            out.append(Keeps(what, "lost" if poke > 0.003 else "kept", "by the widths entered"))
    out.append(Keeps("weight rating", "kept", "the vehicle's plate stays, whatever the axle could carry"))
    return tuple(out)


def _service(axle: DonorAxle) -> Keeps:
    what = f"{axle.end} service brakes"
    if axle.brake is None:
        return Keeps(what, "look", "its brakes are not known")
    if axle.brake == "none":
        return Keeps(what, "lost", "it comes without brakes, and none are planned")
    return Keeps(what, "kept", "discs" if axle.brake == "disc" else "drums")


def _parking(rig: Rig, axles: list[DonorAxle]) -> Keeps:
    what = "parking brake"
    have = [a for a in axles if a.parking_brake not in (None, "none")]
    if not have:
        unknown = any(a.parking_brake is None for a in axles) or len(axles) < 2
        return Keeps(what, "look" if unknown else "lost", "not known of an axle" if unknown else "neither axle has one")
    fits = [cable_fits(rig, a) for a in have]
    if True in fits:
        return Keeps(what, "kept", f"on the {have[fits.index(True)].end} axle, its cable hooks on: try it on a slope")
    return Keeps(
        what, "look", "the cable at hand does not hook on" if False in fits else "cable and lever: compare them"
    )


def _anti_lock(axle: DonorAxle) -> Keeps:
    what = f"anti-lock, {axle.end}"
    if axle.abs_sensor is None:
        return Keeps(what, "look", "whether it has sensors is not known")
    if axle.abs_sensor == "wheel":
        return Keeps(what, "kept", "sensors at the wheels; count the teeth of the tone rings")
    return Keeps(what, "lost", "no sensors at its wheels")


def _speed(project: Project, rig: Rig, axles: list[DonorAxle]) -> Keeps | None:
    """Whether the speedometer reads right with the gears as planned."""
    fit = rig.fittings
    rear = next((a for a in axles if a.end == "rear"), None)
    pair = None if rear is None else planned_gears(rear, project.plan("rear"))
    if rear is None or fit.speed_pickup is None:
        return None
    if pair is None or fit.old_ratio is None or fit.old_rolling_radius_m is None:
        return Keeps("speedometer", "look", "old ratio, old tyres or the new gears are not known")
    shown = speedometer(
        fit.old_ratio, pair.ratio * rear.hub_ratio, fit.old_rolling_radius_m, rig.rear.rolling, fit.speed_pickup
    )
    off = shown - 1.0
    if abs(off) <= READS_RIGHT:
        return Keeps("speedometer", "kept", f"reads {off:+.0%}".replace("-", "−"))
    return Keeps("speedometer", "look", f"reads {off:+.0%} until it is corrected".replace("-", "−"))
