"""Brakes as numbers: pressure, torque of a disc and of a drum, share front to rear, which end locks first, pedal, slope."""

from __future__ import annotations

import math

from msgspec import Struct

G = 9.80665


def line_pressure(foot: float, ratio: float, boost: float, bore: float) -> float:
    """Pressure, Pa, of a master cylinder of ``bore`` m under a ``foot`` force N by a pedal ``ratio`` and a ``boost``
    (force out over force in): F·i·boost/A. Source: statics.

    >>> round(line_pressure(300.0, 5.0, 1.0, 0.0254) / 1e5, 1)
    29.6
    """
    return foot * ratio * boost / (math.pi / 4.0 * bore**2)


def disc_torque(pressure: float, piston: float, pistons: int, radius: float, friction: float) -> float:
    """Torque of one wheel's disc, N·m: 2·µ·p·A·r with A of one side's ``pistons`` of diameter ``piston`` m, ``pressure``
    Pa, effective ``radius`` m, ``friction`` of the lining. The other side's pad presses as hard. Source: statics.

    >>> round(disc_torque(5e6, 0.050, 1, 0.12, 0.4))
    942
    """
    return 2.0 * friction * pressure * pistons * math.pi / 4.0 * piston**2 * radius


def drum_torque(pressure: float, cylinder: float, factor: float, radius: float) -> float:
    """Torque of one wheel's drum, N·m: brake ``factor`` (drag over shoe force) times the force of one piston of the
    ``cylinder`` (diameter m) under a ``pressure`` Pa, at the drum's ``radius`` m. Source: the definition of the factor.

    >>> round(drum_torque(5e6, 0.0222, 2.0, 0.125))
    484
    """
    return factor * pressure * math.pi / 4.0 * cylinder**2 * radius


def rear_pressure(front: float, knee: float | None, slope: float) -> float:
    """Pressure, Pa, behind a proportioning valve: the ``front`` pressure Pa up to the ``knee`` Pa, ``slope`` of what is
    gained past it; ``knee`` ``None``: no valve. Source: the valve's own line.

    >>> rear_pressure(4e6, 3e6, 0.4), rear_pressure(4e6, None, 0.4)
    (3400000.0, 4000000.0)
    """
    return front if knee is None or front <= knee else knee + slope * (front - knee)


def front_load_share(ahead: float, height: float, wheelbase: float, deceleration: float) -> float:
    """Share of the weight on the front axle, no unit: (c + z·h)/L with c the balance point ``ahead`` of the rear axle m, its
    ``height`` m, ``wheelbase`` m and the ``deceleration`` z in g; the ideal share of braking. Source: Gillespie, ch. 3.

    >>> round(front_load_share(1.4, 0.9, 2.8, 0.6), 3)
    0.693
    """
    return (ahead + deceleration * height) / wheelbase


class Gain(Struct, frozen=True):
    """Force at the ground per pressure, N/Pa, of both ends' wheels; the valve before the rear."""

    front: float
    rear: float
    knee: float | None = None
    slope: float = 1.0

    def forces(self, pressure: float) -> tuple[float, float]:
        """Force of front and rear, N, at a front pressure, Pa, while no wheel is locked."""
        return self.front * pressure, self.rear * rear_pressure(pressure, self.knee, self.slope)


class Lock(Struct, frozen=True):
    """What happens as the pedal is pressed harder: the end that locks first, at which pressure Pa and deceleration g."""

    end: str
    pressure: float
    deceleration: float


def first_lock(gain: Gain, mass: float, ahead: float, height: float, wheelbase: float, grip: float) -> Lock | None:
    """Which end locks first, for a ``gain``, a ``mass`` kg whose balance point is ``ahead`` of the rear axle m and at a
    ``height`` m, a ``wheelbase`` m, tyres of ``grip``. ``both`` when they lock together; ``None`` when nothing brakes.
    Solved exactly, piece by piece of the valve's line. Source: Gillespie, ch. 3 (equilibrium of both axles).

    >>> one = first_lock(Gain(2e-3, 1e-3), 2000.0, 1.4, 0.8, 2.8, 0.8)
    >>> one.end, round(one.deceleration, 3)
    ('rear', 0.712)
    """
    weight = mass * G
    # of each end: the least pressure at which its force is all its load will bear, on the two pieces of the line
    found: list[tuple[float, str]] = []
    pieces = [(0.0, math.inf, gain.rear, 0.0)]
    if gain.knee is not None:
        behind = gain.rear * (1.0 - gain.slope) * gain.knee
        pieces = [(0.0, gain.knee, gain.rear, 0.0), (gain.knee, math.inf, gain.rear * gain.slope, behind)]
    for low, high, rear, more in pieces:
        # F_f = front·p, F_r = rear·p + more, z = (F_f + F_r)/W
        all_ = gain.front + rear
        for end, own, fixed, arm, sign in (
            ("front", gain.front, 0.0, ahead, 1.0),
            ("rear", rear, more, wheelbase - ahead, -1.0),
        ):
            # own·p + fixed = grip·(W·arm + sign·h·(all·p + more))/L
            slope = own - grip * sign * height * all_ / wheelbase
            base = grip * (weight * arm + sign * height * more) / wheelbase - fixed
            if slope > 0.0:
                pressure = base / slope
                if low - 1e-9 <= pressure <= high and (own > 0.0 or fixed > 0.0):
                    found.append((max(pressure, 0.0), end))
    if not found:
        return None
    pressure, end = min(found)
    if any(e != end and abs(p - pressure) <= 1e-9 * max(pressure, 1.0) for p, e in found):
        end = "both"
    return Lock(end, pressure, sum(gain.forces(pressure)) / weight)


def fluid(piston: float, pistons: int, both_sides: bool, way: float) -> float:
    """Fluid, m³, that both wheels of an axle take: ``pistons`` on one side (twice as many where ``both_sides``) of diameter
    ``piston`` m, each moving ``way`` m. Source: geometry.

    >>> round(fluid(0.050, 1, False, 0.5e-3) * 1e6, 2)
    1.96
    """
    return 2.0 * pistons * (2.0 if both_sides else 1.0) * math.pi / 4.0 * piston**2 * way


class Hold(Struct, frozen=True):
    """Standing on a slope: torque needed at the wheels N·m, and the grip the braked axle needs facing up and down."""

    torque: float
    up: float
    down: float


def hold_on_slope(
    mass: float, ahead: float, height: float, wheelbase: float, radius: float, grade: float, front: bool
) -> Hold:
    """Holding a ``mass`` kg on a ``grade`` (rise over run) by one axle of loaded ``radius`` m, the ``front`` one or the rear;
    balance point ``ahead`` of the rear axle m and at a ``height`` m, ``wheelbase`` m. A grip of infinity: the axle is
    off the ground. Source: statics; α = atan(grade).

    >>> one = hold_on_slope(2000.0, 1.4, 0.8, 2.8, 0.45, 0.2, False)
    >>> round(one.torque), round(one.up, 3), round(one.down, 3)
    (1731, 0.359, 0.452)
    """
    slope = math.atan(grade)
    pull = mass * G * math.sin(slope)

    def grip(uphill: bool) -> float:
        """Facing uphill the load goes to the rear."""
        sign = 1.0 if uphill else -1.0
        on_front = (ahead * math.cos(slope) - sign * height * math.sin(slope)) / wheelbase
        load = mass * G * (on_front if front else math.cos(slope) - on_front)
        return pull / load if load > 0.0 else math.inf

    return Hold(pull * radius, grip(True), grip(False))
