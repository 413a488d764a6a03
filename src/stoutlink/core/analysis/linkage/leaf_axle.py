"""An axle on leaf springs: rate, wrap, pinion, perches, shackle, path, anti-numbers in both schools, roll centre."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cached_property

import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.linkage.load_cases import throttle_thrust
from stoutlink.core.analysis.linkage.perch import Perch, perch_of
from stoutlink.core.analysis.vehicle.anti_numbers import (
    HEIGHT_SCHOOLS,
    THRUST_SCHOOLS,
    brake_percent,
    drive_percent,
    load_share,
)
from stoutlink.core.analysis.vehicle.rig_readings import rig_cases
from stoutlink.core.document.default_sigma import sigma_of
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.leaf import LeafSpring
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, Settings
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.leaf_spring import (
    Halves,
    SpringPose,
    SpringShape,
    end_rate,
    front_eye_slope,
    leaf_stress,
    section,
    support_slope,
    u_bolt,
    wrap,
)
from stoutlink.core.quantity.constants import GRAVITY

ROLL_CENTRE_SIGMA = 0.025
"""1 σ of a leaf axle's roll centre, m (±50 mm, from memory)."""
STATIONS = 61


class LeafAxle(Struct, frozen=True, dict=True):
    """The answer for one leaf axle; SI. ``slope_beam`` and ``slope_eye`` are the support slopes of the two schools,
    the latter an upper bound.
    """

    rig: Rig
    layout: Layout
    leaf: LeafSpring
    shape: SpringShape
    halves: Halves
    rate_measured: bool
    load: float
    """Static seat load of one spring, N."""
    stress: float
    """In the thickest leaf at ride, Pa."""
    stress_bump: float
    thrust: float
    wrap: float
    slope_beam: float
    slope_eye: float | None
    drive_percent: dict[str, dict[str, float]]
    brake_percent: dict[str, float]
    eye_percent: dict[str, dict[str, float]] | None
    roll_steer: float
    roll_centre_line: float
    roll_centre_leaf: float
    roll_stiffness: float
    panhard_pull: float | None
    """How far a panhard's arc pulls against the leaves over the travel, m."""
    u_bolt: tuple[float, float] | None
    """Over the tube, m: inside width and leg."""
    u_bolt_casting: tuple[float, float] | None
    """Of the side that goes over the casting, where its size is known."""
    perch: Perch
    perch_apart: float | None
    """Pads against springs, m: spacing of the pads less that of the springs."""
    seat_height: float
    eye_above: float

    @cached_property
    def poses(self) -> tuple[SpringPose, ...]:
        """The spring over the travel asked for."""
        heaves = np.linspace(-self.layout.droop_m, self.layout.bump_m, STATIONS)
        return tuple(self.shape.at(float(h)) for h in heaves)

    @property
    def reached(self) -> tuple[float, float]:
        """Travel the shackle allows, m: droop (negative) and bump."""
        goes = [math.isfinite(p.shackle) for p in self.poses]
        ride = min(range(len(goes)), key=lambda k: abs(self.poses[k].heave))
        if not goes[ride]:
            return 0.0, 0.0
        return self._last(ride, -1), self._last(ride, 1)

    def _last(self, ride: int, step: int) -> float:
        """The last heave from ride at which the shackle follows, halved between two stations."""
        k = ride
        while 0 <= k + step < len(self.poses) and math.isfinite(self.poses[k + step].shackle):
            k += step
        good = self.poses[k].heave
        if not 0 <= k + step < len(self.poses):
            return good
        bad = self.poses[k + step].heave
        for _ in range(40):
            middle = 0.5 * (good + bad)
            good, bad = (middle, bad) if math.isfinite(self.shape.at(middle).shackle) else (good, middle)
        return good

    @property
    def pinion_change(self) -> float:
        """Tilt of the housing from droop to bump by the springs alone, rad."""
        low, high = self.reached
        return abs(self.halves.nose_down_per_bump) * (high - low)

    @property
    def forward(self) -> float:
        """Axle travel fore and aft over the heave, m."""
        xs = [p.forward for p in self.poses if math.isfinite(p.forward)]
        return max(xs) - min(xs) if xs else math.nan

    def pose(self, heave: float) -> SpringPose:
        """The spring at one heave, m."""
        return self.shape.at(heave)


def halves_of(leaf: LeafSpring) -> Halves:
    """The spring's halves, from its leaves or brought to its measured rate; what is clamped does not bend."""
    pack = section(leaf.width_m, [(one.thickness_m, one.count) for one in leaf.leaves])
    bends = (v - 0.5 * leaf.clamp_m for v in (leaf.front_m, leaf.rear_m))
    rates = [end_rate(v, pack, leaf.shape_factor, leaf.modulus_pa) for v in bends]
    halves = Halves(leaf.front_m, leaf.rear_m, rates[0], rates[1])
    return halves if leaf.measured_rate_n_per_m is None else halves.scaled(leaf.measured_rate_n_per_m)


def leaf_axle(project: Project, rig: Rig, layout: Layout) -> LeafAxle | None:
    """Work out a leaf axle on the rig in force; ``None`` when the layout has no leaves."""
    leaf = layout.leaf
    if leaf is None:
        return None
    end = layout.end
    halves = halves_of(leaf)
    shape = SpringShape(
        halves,
        leaf.front_eye_z_m,
        leaf.rear_eye_z_m,
        leaf.seat_z_m,
        leaf.shackle_m,
        leaf.shackle_rad,
        leaf.reversed_shackle,
        leaf.flipped_shackle,
        leaf.clamp_m,
    )
    motion = shape.motion()
    slope = support_slope(motion, leaf.seat_z_m, end)
    sprung = rig.mass_kg * GRAVITY * load_share(rig, end) - rig.end(end).unsprung * GRAVITY
    load = 0.5 * max(0.0, sprung)
    pack = section(leaf.width_m, [(one.thickness_m, one.count) for one in leaf.leaves])
    thick = max(one.thickness_m for one in leaf.leaves)
    thrust = throttle_thrust(project, rig, end)
    eye = _eye_slope(leaf, shape, end)
    line, at_leaf = _roll_centres(shape, leaf.pin_offset_m)
    tube = _tube_od(project, layout)
    pack_high = sum(one.thickness_m * one.count for one in leaf.leaves)
    stack = leaf.pad_m + leaf.block_m + pack_high + leaf.plate_m
    bolt = leaf.u_bolt_m, leaf.u_bolt_pitch_m, leaf.washer_m
    casting = leaf.casting_width_m, leaf.casting_height_m
    return LeafAxle(
        rig=rig,
        layout=layout,
        leaf=leaf,
        shape=shape,
        halves=halves,
        rate_measured=leaf.measured_rate_n_per_m is not None,
        load=load,
        stress=leaf_stress(load, halves.a, halves.b, thick, pack),
        stress_bump=leaf_stress(load + halves.heave_rate * layout.bump_m, halves.a, halves.b, thick, pack),
        thrust=thrust,
        wrap=wrap(thrust, leaf.seat_z_m, shape.eye_above, halves.wind_up_rate),
        slope_beam=slope,
        slope_eye=eye,
        drive_percent=_drive(rig, end, slope),
        brake_percent=_brake(rig, end, slope),
        eye_percent=None if eye is None else _drive(rig, end, eye),
        roll_steer=(-1.0 if leaf.reversed_shackle else 1.0) * 4.0 * shape.eye_above / (3.0 * shape.fixed),
        roll_centre_line=line,
        roll_centre_leaf=at_leaf,
        roll_stiffness=0.5 * halves.roll_rate * leaf.spacing_m**2,
        panhard_pull=_panhard_pull(layout),
        u_bolt=None if tube is None else u_bolt(tube, tube, stack, *bolt),
        u_bolt_casting=None
        if casting[0] is None or casting[1] is None
        else u_bolt(casting[0], casting[1], stack, *bolt),
        perch=perch_of(project, rig, layout, shape),
        perch_apart=None if leaf.pad_spacing_m is None else leaf.pad_spacing_m - leaf.spacing_m,
        seat_height=leaf.seat_z_m,
        eye_above=shape.eye_above,
    )


def _drive(rig: Rig, end: str, slope: float) -> dict[str, dict[str, float]]:
    at = np.array(slope)
    return {t: {h: float(drive_percent(rig, end, at, t, h)) for h in HEIGHT_SCHOOLS} for t in THRUST_SCHOOLS}


def _brake(rig: Rig, end: str, slope: float) -> dict[str, float]:
    return {h: float(brake_percent(rig, end, np.array(slope), h)) for h in HEIGHT_SCHOOLS}


def _eye_slope(leaf: LeafSpring, shape: SpringShape, end: str) -> float | None:
    """The front-eye school: only where the fixed eye lies toward the middle of the vehicle."""
    inboard = leaf.reversed_shackle if end == "front" else not leaf.reversed_shackle
    height = leaf.rear_eye_z_m if leaf.reversed_shackle else leaf.front_eye_z_m
    return front_eye_slope(height, abs(shape.fixed_eye[0] - leaf.pin_offset_m)) if inboard else None


def _roll_centres(shape: SpringShape, hub: float) -> tuple[float, float]:
    """Height at the axle of the line from the fixed eye to the shackle's frame pivot, and of the main leaf at the
    seat, m.
    """
    (px, pz), (fx, fz) = shape.frame_pivot, shape.fixed_eye
    return fz + (pz - fz) * (hub - fx) / (px - fx), shape.seat


def _tube_od(project: Project, layout: Layout) -> float | None:
    donor = project.donor(layout.end)
    return donor.tube_od_m if donor is not None else None


def _panhard_pull(layout: Layout) -> float | None:
    """Sideways pull of a panhard's arc against leaves that hold the axle in its place, m over the travel."""
    bar = next((one for one in layout.links if one.role == "panhard"), None)
    if bar is None:
        return None
    length = math.dist(bar.frame_pivot_m, bar.axle_pivot_m)
    dx, dy, dz = (b - a for a, b in zip(bar.frame_pivot_m, bar.axle_pivot_m, strict=True))
    ys = []
    for h in np.linspace(-layout.droop_m, layout.bump_m, 31):
        room = length**2 - dx**2 - (dz + h) ** 2
        if room > 0:
            ys.append(math.copysign(math.sqrt(room), dy) - dy)
    return max(ys) - min(ys) if ys else None


class LeafSure(Struct, frozen=True):
    """1 σ of one number of a leaf axle and its largest contributions (words, path, σ part); ``inputs`` is every
    reading that moves it at all, as words and path."""

    sigma: float
    parts: tuple[tuple[str, str, float], ...]
    inputs: tuple[tuple[str, str], ...] = ()


NUMBERS: dict[str, Callable[[LeafAxle, Settings], float]] = {
    "drive": lambda a, s: a.drive_percent[s.thrust_school][s.height_school],
    "brake": lambda a, s: a.brake_percent[s.height_school],
    "roll_centre": lambda a, s: a.roll_centre_line / a.rig.cg_height_m,
    "steer": lambda a, s: a.roll_steer,
    "wrap": lambda a, s: a.wrap,
    "rate": lambda a, s: a.halves.heave_rate,
}
READINGS: tuple[tuple[str, str], ...] = (
    ("front_m", "front half"), ("rear_m", "rear half"), ("width_m", "leaf width"), ("front_eye_z_m", "front eye height"), ("rear_eye_z_m", "rear eye height"),
    ("seat_z_m", "main leaf height"), ("shackle_m", "shackle length"), ("shackle_rad", "shackle lean"), ("shape_factor", "stiffening factor"),
    ("measured_rate_n_per_m", "measured rate"),
)  # fmt: skip
FACTOR_SIGMA, RATE_SIGMA, THICKNESS_SIGMA = 0.08, 0.03, 0.0001
"""1 σ of the stiffening factor (estimate), of a measured rate as a part of it, of a leaf's thickness with the
caliper, m.
"""


def leaf_sure(project: Project, found: LeafAxle) -> dict[str, LeafSure]:
    """How sure the numbers of a leaf axle are, first order over its readings and the rig's; the roll centre with its
    own ±50 mm besides.
    """
    layout, s = found.layout, project.settings
    parts: dict[str, list[tuple[str, str, float]]] = {name: [] for name in NUMBERS}

    def put(what: str, path: str, up: LeafAxle | None, down: LeafAxle | None) -> None:
        if up is None or down is None:
            return
        for name, f in NUMBERS.items():
            part = 0.5 * (f(up, s) - f(down, s))
            if part:
                parts[name].append((what, path, part))

    for key, what in READINGS:
        path = f"layouts.{layout.id}.leaf.{key}"
        value = getattr(found.leaf, key)
        if value is None:
            continue
        sigma = (
            FACTOR_SIGMA
            if key == "shape_factor"
            else RATE_SIGMA * value
            if key == "measured_rate_n_per_m"
            else sigma_of(path, value, project.entries)
        )
        put(what, path, *(_varied(project, found, f"leaf.{key}", value + d * sigma) for d in (1.0, -1.0)))
    for i, one in enumerate(found.leaf.leaves):
        path = f"leaf.leaves.{i}.thickness_m"
        noted = project.entry(f"layouts.{layout.id}.{path}")
        sigma = THICKNESS_SIGMA if noted is None or noted.sigma is None else noted.sigma
        put(
            "leaf thickness",
            f"layouts.{layout.id}.{path}",
            *(_varied(project, found, path, one.thickness_m + d * sigma) for d in (1.0, -1.0)),
        )
    for case in rig_cases(project):
        put(case.what, case.path, leaf_axle(project, case.up, layout), leaf_axle(project, case.down, layout))
    out = {}
    for name in NUMBERS:
        own = (ROLL_CENTRE_SIGMA / found.rig.cg_height_m) ** 2 if name == "roll_centre" else 0.0
        total = math.sqrt(sum(p * p for _, _, p in parts[name]) + own)
        out[name] = LeafSure(
            total, tuple(sorted(parts[name], key=lambda p: -abs(p[2]))[:4]), tuple(p[:2] for p in parts[name])
        )
    return out


def _varied(project: Project, found: LeafAxle, path: str, value: float) -> LeafAxle | None:
    try:
        return leaf_axle(project, found.rig, with_value(found.layout, path, value))
    except (ValueError, ZeroDivisionError):
        return None
