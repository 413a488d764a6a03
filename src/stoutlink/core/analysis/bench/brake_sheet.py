"""The brakes as a whole: share front to rear against the ideal, which end locks first, pedal, slope, joints of the lines."""

from __future__ import annotations

import math

import msgspec
from msgspec import Struct

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.brakes import BrakeSystem, Fitting, WheelBrake
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.brake_balance import (
    G,
    Gain,
    Hold,
    Lock,
    disc_torque,
    drum_torque,
    first_lock,
    fluid,
    front_load_share,
    hold_on_slope,
    line_pressure,
)

STEPS = 41
MOST_G = 1.0


class Pedal(Struct, frozen=True):
    """Stroke of the master cylinder for each end, m, what its parts can do, and the pedal's way, m."""

    front: float
    rear: float
    way: float
    runs_out: tuple[str, ...]


class FittingFound(Struct, frozen=True):
    """A joint of the lines: what does not go together, what is not known."""

    fitting: Fitting
    wrong: tuple[str, ...]
    unknown: tuple[str, ...]

    @property
    def goes(self) -> bool:
        """Whether it goes together, by a bridge where it must."""
        return not self.unknown and (not self.wrong or bool(self.fitting.bridge))


class BrakeSheet(Struct, frozen=True):
    """Everything the brakes say. ``lacks``: what must be typed before there is a balance; ``front``/``rear``: the brakes
    counted with (a piston or radius nobody typed is the axle's own); ``lock``: which end locks first at the grip typed,
    ``locks``: its deceleration's 1 σ from the rig's ±; ``ideal`` and ``real`` shares over deceleration (g)."""

    system: BrakeSystem
    front: WheelBrake
    rear: WheelBrake
    lacks: tuple[str, ...]
    gain: Gain | None
    pressure: float | None
    at_foot: float | None
    """Deceleration, g, under the foot force typed, while nothing locks."""
    lock: Lock | None
    other: tuple[str, ...]
    """Ends that lock first within the rig's 2 σ: more than one where it cannot be told."""
    sure: float
    z: tuple[float, ...]
    ideal: tuple[float, ...]
    real: tuple[float, ...]
    share: float | None
    """Front share of the braking where the first end locks."""
    pedal: Pedal | None
    hold: Hold | None
    holds: bool | None
    fittings: tuple[FittingFound, ...]


def counted(brake: WheelBrake, axle: DonorAxle | None) -> WheelBrake:
    """The brake with the axle's own piston, count and radius where nobody typed one; only for the kind the axle has."""
    if axle is None or axle.brake != brake.kind:
        return brake
    changes: dict[str, object] = {}
    piston = brake.piston_m
    if brake.piston_m is None and axle.piston_m is not None:
        piston = axle.piston_m
        changes["piston_m"] = piston
        if axle.piston_count is not None:
            changes["pistons"] = axle.piston_count
    if brake.effective_m is None and axle.rotor_m is not None:
        if brake.kind == "drum":
            changes["effective_m"] = 0.5 * axle.rotor_m
        elif piston is not None and axle.rotor_m > piston:
            changes["effective_m"] = 0.5 * (axle.rotor_m - piston)
    return msgspec.structs.replace(brake, **changes) if changes else brake


def wheel_force(brake: WheelBrake, radius: float) -> float | None:
    """Force of both wheels of an axle at the ground over pressure, N/Pa; ``radius`` loaded, m."""
    if brake.piston_m is None or brake.effective_m is None:
        return None
    if brake.kind == "disc":
        torque = disc_torque(1.0, brake.piston_m, brake.pistons, brake.effective_m, brake.friction)
    else:
        torque = drum_torque(1.0, brake.piston_m, brake.factor, brake.effective_m)
    return 2.0 * torque / radius


def brake_sheet(
    system: BrakeSystem, rig: Rig | None, axles: dict[str, DonorAxle | None], sigma: tuple[float, float] = (0.0, 0.0)
) -> BrakeSheet:
    """Work everything out that can be; ``rig`` is ``None`` while its weight and balance point are not entered; ``sigma``: 1 σ of the balance point ahead of the rear axle and of its height, m."""
    front, rear = counted(system.front, axles.get("front")), counted(system.rear, axles.get("rear"))
    lacks = [
        f"{end} {what}"
        for end, one in (("front", front), ("rear", rear))
        for what, v in (("piston or cylinder", one.piston_m), ("effective radius", one.effective_m))
        if v is None
    ]
    lacks += ["the rig's weight and balance point"] if rig is None else []
    pressure = None
    if system.pedal_ratio is not None and system.boost is not None and system.master_m is not None:
        pressure = line_pressure(system.foot_n, system.pedal_ratio, system.boost, system.master_m)
    found = tuple(fitting_found(one) for one in system.fittings)
    pedal = _pedal(system, front, rear)
    if rig is None:
        return BrakeSheet(
            system, front, rear, tuple(lacks), None, pressure, None, None, (), 0.0, (), (), (), None, pedal, None, None, found
        )  # fmt: skip
    f, r = wheel_force(front, rig.front.loaded), wheel_force(rear, rig.rear.loaded)
    gain = None if f is None or r is None else Gain(f, r, system.knee_pa, system.slope)
    z = tuple(MOST_G * k / (STEPS - 1) for k in range(STEPS))
    c, h, length = rig.cg_ahead_of_rear_m, rig.cg_height_m, rig.wheelbase_m
    ideal = tuple(front_load_share(c, h, length, one) for one in z)
    real: tuple[float, ...] = ()
    lock, sure, share, at_foot = None, 0.0, None, None
    other: tuple[str, ...] = ()
    if gain is not None:
        real = tuple(_share_at(gain, one * rig.mass_kg * G) for one in z)
        lock = first_lock(gain, rig.mass_kg, c, h, length, system.grip)
        sure, other = _how_sure(gain, rig, system.grip, sigma, lock)
        if lock is not None:
            one, two = gain.forces(lock.pressure)
            share = one / (one + two) if one + two > 0 else None
        if pressure is not None:
            at_foot = sum(gain.forces(pressure)) / (rig.mass_kg * G)
    hold = holds = None
    if system.parking_end in ("front", "rear", "shaft"):
        on_front = system.parking_end == "front"
        radius = rig.front.loaded if on_front else rig.rear.loaded
        hold = hold_on_slope(rig.mass_kg, c, h, length, radius, system.grade, on_front)
        if system.parking_nm is not None:
            holds = system.parking_nm >= hold.torque and max(hold.up, hold.down) <= system.grip
    return BrakeSheet(
        system, front, rear, tuple(lacks), gain, pressure, at_foot, lock, other, sure, z, ideal, real, share,
        pedal, hold, holds, found,
    )  # fmt: skip


def _share_at(gain: Gain, force: float) -> float:
    """Front share where both ends together give a force: on the valve's line, before or past its knee."""
    all_ = gain.front + gain.rear
    pressure = force / all_ if all_ > 0 else 0.0
    if gain.knee is not None and pressure > gain.knee:
        behind = gain.rear * (1.0 - gain.slope) * gain.knee
        pressure = (force - behind) / (gain.front + gain.rear * gain.slope)
    one, two = gain.forces(max(pressure, 1e-9))
    return one / (one + two)


def _how_sure(
    gain: Gain, rig: Rig, grip: float, sigma: tuple[float, float], lock: Lock | None
) -> tuple[float, tuple[str, ...]]:
    """1 σ of the deceleration at which the first end locks, and the ends that may be it within 2 σ of the balance point."""
    if lock is None:
        return 0.0, ()
    total, ends = 0.0, {lock.end}
    for k in (0, 1):
        if sigma[k] <= 0.0:
            continue
        found = []
        for by in (-2.0, 2.0):
            c = rig.cg_ahead_of_rear_m + (by * sigma[0] if k == 0 else 0.0)
            h = rig.cg_height_m + (by * sigma[1] if k == 1 else 0.0)
            c = min(max(c, 1e-3), rig.wheelbase_m - 1e-3)
            one = first_lock(gain, rig.mass_kg, c, max(h, 1e-3), rig.wheelbase_m, grip)
            if one is not None:
                found.append(one.deceleration)
                ends.add(one.end)
        if len(found) == 2:
            total += ((found[1] - found[0]) / 4.0) ** 2
    return math.sqrt(total), tuple(sorted(ends))


def _pedal(system: BrakeSystem, front: WheelBrake, rear: WheelBrake) -> Pedal | None:
    if system.master_m is None or system.pedal_ratio is None or front.piston_m is None or rear.piston_m is None:
        return None
    area = math.pi / 4.0 * system.master_m**2
    strokes = []
    for one in (front, rear):
        pistons, both = (one.pistons, one.both_sides) if one.kind == "disc" else (2, False)
        assert one.piston_m is not None
        strokes.append(fluid(one.piston_m, pistons, both, one.gap_m) / area)
    limits = (system.stroke_front_m, system.stroke_rear_m)
    out = tuple(
        end for end, s, most in zip(("front", "rear"), strokes, limits, strict=True) if most is not None and s > most
    )
    return Pedal(strokes[0], strokes[1], sum(strokes) * system.pedal_ratio, out)


def fitting_found(one: Fitting) -> FittingFound:
    """What does not go together at a joint, and what nobody has said of it."""
    wrong, unknown = [], []
    if not one.thread or not one.other_thread:
        unknown.append("thread")
    elif _same(one.thread) != _same(one.other_thread):
        wrong.append(f"{one.thread} against {one.other_thread}")
    if "unknown" in (one.flare, one.other_flare):
        unknown.append("flare")
    elif one.flare != one.other_flare:
        wrong.append("flares differ")
    if one.gender is None:
        unknown.append("male or female")
    if one.condition == "unknown":
        unknown.append("condition")
    return FittingFound(one, tuple(wrong), tuple(unknown))


def _same(thread: str) -> str:
    return "".join(thread.lower().replace("×", "x").split())
