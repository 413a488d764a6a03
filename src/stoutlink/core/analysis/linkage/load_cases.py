"""What acts on an axle when the links are worked hard: contact forces, its own weight, the driveshaft's twist, case
by case.
"""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.analysis.vehicle.anti_numbers import load_share
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.analysis.vehicle.drive_torque import drive_torque
from stoutlink.core.document.groups import LoadCases
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.linkage.free_body import Load
from stoutlink.core.quantity.constants import GRAVITY

CASES: dict[str, tuple[str, str]] = {
    "throttle": ("full throttle", "Level, every tyre at the limit of its grip or the engine at its own, weight thrown back, the driveshaft's twist on one side."),
    "braking": ("panic braking", "Level, the whole rig braked at the limit of grip, the axle's part by load or by the brake split, whichever is less."),
    "ledge": ("one wheel on a ledge", "One wheel carries the axle's load against a step, its force at the actual contact, at the limit of grip."),
    "side_hill": ("side-hill", "Standing across the slope, the weight thrown to the lower tyre."),
    "slide": ("lateral slide", "Sliding sideways at the limit of grip, the weight thrown to the outer tyre."),
}  # fmt: skip


class AxleCase(Struct, frozen=True):
    """One load case of one axle: what acts on it besides bars and springs, its load N, thrust or braking force N
    (forward +), what is assumed.
    """

    id: str
    loads: tuple[Load, ...]
    carried: float
    along: float
    twist: float
    note: str = ""


def axle_cases(project: Project, rig: Rig, layout: Layout) -> tuple[AxleCase, ...]:
    """Every case, both ways round where left and right differ: ``ledge`` left and right, ``side_hill`` and ``slide``
    either way.
    """
    friction, ask = project.swap.choosing.friction, project.linkage.loads
    ratio, hub = axle_ratio(project, layout.end)
    out = [_throttle(rig, layout, friction, ratio, hub), _braking(rig, layout, friction)]
    for side in (1.0, -1.0):
        out += [
            _ledge(rig, layout, friction, ratio, hub, ask, side),
            _across(rig, layout, "side_hill", ask.side_slope_rad, friction, side),
            _across(rig, layout, "slide", None, friction, side),
        ]
    return tuple(out)


def axle_ratio(project: Project, end: str) -> tuple[float | None, float]:
    """Gear and hub ratio of the axle chosen at an end; the gears planned for it first. ``None`` while no ratio is
    known.
    """
    donor, plan = project.donor(end), project.plan(end)
    if donor is None:
        return None, 1.0
    pair = plan.gears_for(donor) or donor.pair
    return (None if pair is None else pair.ratio), donor.hub_ratio


def engine_force(rig: Rig, end: str, ratio: float | None, hub: float) -> float:
    """Thrust the engine can make at one axle in first and low, N; infinite while its ratio is not known."""
    return math.inf if ratio is None else drive_torque(rig) * ratio * hub / rig.end(end).loaded


def throttle_thrust(project: Project, rig: Rig, end: str) -> float:
    """Thrust of one axle at full throttle on the level, N: the lesser of its tyres' grip with the weight thrown back,
    and the engine's.
    """
    ratio, hub = axle_ratio(project, end)
    return _thrust(rig, end, project.swap.choosing.friction, engine_force(rig, end, ratio, hub))[1]


def _thrust(rig: Rig, end: str, friction: float, engine: float) -> tuple[float, float]:
    weight = rig.mass_kg * GRAVITY
    whole = min(friction * weight, engine)
    moved = whole * rig.cg_height_m / rig.wheelbase_m * (1.0 if end == "rear" else -1.0)
    carried = min(weight, max(0.0, weight * load_share(rig, end) + moved))
    return carried, min(friction * carried, engine)


def _contact(rig: Rig, end: str, side: float) -> tuple[float, float, float]:
    x, _, _ = axle_centre(rig, end)
    return x, side * 0.5 * rig.end(end).track_m, 0.0


def _own_weight(rig: Rig, end: str, slope: float = 0.0) -> Load:
    """The axle's own weight at its centre; ``slope`` tips it to the right (rad)."""
    w = rig.end(end).unsprung * GRAVITY
    return Load((0.0, -w * math.sin(slope), -w * math.cos(slope)), axle_centre(rig, end))


def _twist_axis(layout: Layout) -> tuple[float, float, float]:
    """The pinion's line, pointing forward."""
    up = layout.pinion_up if layout.end == "rear" else -layout.pinion_up
    return math.cos(up), 0.0, math.sin(up)


def _throttle(rig: Rig, layout: Layout, friction: float, ratio: float | None, hub: float) -> AxleCase:
    end, wheel = layout.end, rig.end(layout.end)
    carried, thrust = _thrust(rig, end, friction, engine_force(rig, end, ratio, hub))
    twist = 0.0 if ratio is None else thrust * wheel.loaded / (ratio * hub)
    moved = min(twist / wheel.track_m, carried / 2)
    loads = [_own_weight(rig, end)]
    for side in (1.0, -1.0):
        load = carried / 2 + side * moved
        part = load / carried if carried > 0 else 0.5
        loads.append(Load((thrust * part, 0.0, load), _contact(rig, end, side)))
    axis = _twist_axis(layout)
    loads.append(Load((0.0, 0.0, 0.0), axle_centre(rig, end), (-twist * axis[0], 0.0, -twist * axis[2])))
    note = "no axle ratio known: the engine's limit and the driveshaft's twist are left out" if ratio is None else ""
    return AxleCase("throttle", tuple(loads), carried, thrust, twist, note)


def _braking(rig: Rig, layout: Layout, friction: float) -> AxleCase:
    end, weight = layout.end, rig.mass_kg * GRAVITY
    moved = friction * weight * rig.cg_height_m / rig.wheelbase_m * (-1.0 if end == "rear" else 1.0)
    carried = min(weight, max(0.0, weight * load_share(rig, end) + moved))
    split = rig.brake_front_share if end == "front" else 1.0 - rig.brake_front_share
    force = min(friction * carried, max(split * friction * weight, 0.0))
    loads = [Load((-force / 2, 0.0, carried / 2), _contact(rig, end, side)) for side in (1.0, -1.0)]
    return AxleCase("braking", (_own_weight(rig, end), *loads), carried, -force, 0.0)


def _ledge(
    rig: Rig, layout: Layout, friction: float, ratio: float | None, hub: float, ask: LoadCases, side: float
) -> AxleCase:
    end = layout.end
    wheel, (x, _, z) = rig.end(end), axle_centre(rig, end)
    carried = rig.mass_kg * GRAVITY * load_share(rig, end)
    r = wheel.loaded
    angle = math.acos(max(0.0, 1.0 - ask.ledge_m / r))
    normal = carried / (math.cos(angle) + friction * math.sin(angle))
    grip = min(friction * normal, engine_force(rig, end, ratio, hub))
    force = (-normal * math.sin(angle) + grip * math.cos(angle), 0.0, normal * math.cos(angle) + grip * math.sin(angle))
    at = (x + r * math.sin(angle), side * 0.5 * wheel.track_m, z - r * math.cos(angle))
    twist = 0.0 if ratio is None else grip * r / (ratio * hub)
    axis = _twist_axis(layout)
    loads = (
        _own_weight(rig, end),
        Load(force, at),
        Load((0.0, 0.0, 0.0), (x, 0.0, z), (-twist * axis[0], 0.0, -twist * axis[2])),
    )
    return AxleCase("ledge", loads, carried, force[0], twist, "left wheel" if side > 0 else "right wheel")


def _across(rig: Rig, layout: Layout, case: str, slope: float | None, friction: float, side: float) -> AxleCase:
    """Side-hill (``slope`` rad) or sliding (None); ``side`` +1: pushed to the right by its weight, so the ground
    pushes left.
    """
    end, wheel = layout.end, rig.end(layout.end)
    share = rig.mass_kg * GRAVITY * load_share(rig, end)
    lean = 0.0 if slope is None else slope
    carried = share * math.cos(lean)
    push = share * math.sin(lean) if slope is not None else friction * carried
    moved = min(push * rig.cg_height_m / wheel.track_m, carried / 2)
    loads = [_own_weight(rig, end, side * lean)]
    for at in (1.0, -1.0):
        load = carried / 2 - side * at * moved
        part = load / carried if carried > 0 else 0.5
        loads.append(Load((0.0, side * push * part, load), _contact(rig, end, at)))
    return AxleCase(case, tuple(loads), carried, 0.0, 0.0, "to the right" if side > 0 else "to the left")
