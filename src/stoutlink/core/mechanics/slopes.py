"""A rig on a grade, on a side slope and against a ledge: axle loads, squat, tip angles, ramp; statics of the whole
vehicle.

Facing up the grade. a is the CG behind the *front* axle, b ahead of the rear one, h above the ground, L the wheelbase.

Source: statics; Gillespie, Fundamentals of Vehicle Dynamics, ch. 1.
"""

from __future__ import annotations

import math

from msgspec import Struct


def grade_loads(weight: float, a: float, wheelbase: float, height: float, angle: float) -> tuple[float, float]:
    """Front and rear axle load, N, on a grade of ``angle`` rad, nose up; negative: that axle would lift.

    N_r = W(a·cos α + h·sin α)/L, N_f = W((L − a)·cos α − h·sin α)/L, whatever the split of thrust. Source: moments
    about the contacts; Gillespie ch. 1. ``weight`` W N, ``wheelbase`` L and CG ``height`` h m.

    >>> grade_loads(20000.0, 1.3, 2.6, 0.9, 0.0)
    (10000.0, 10000.0)
    """
    c, s = weight * math.cos(angle), weight * math.sin(angle)
    return ((wheelbase - a) * c - height * s) / wheelbase, (a * c + height * s) / wheelbase


class Dive(Struct, frozen=True):
    """Braking on the level: deceleration g, which axle locks first, spring changes N an axle (+ more load), drop of
    the front, rise of the rear m, nose-down rad.
    """

    deceleration: float
    locks: str
    spring_front: float
    spring_rear: float
    drop: float
    rise: float
    nose_down: float


def dive(
    weight: float,
    a: float,
    wheelbase: float,
    height: float,
    grip: float,
    front_share: float,
    slopes: tuple[float, float],
    rates: tuple[float, float],
) -> Dive:
    """Braking with a fixed split, as hard as it goes until the first axle locks at tyre ``grip``; ``slopes`` support
    slopes σ_f, σ_r, ``rates`` heave rates of one spring front and rear, N/m (two an axle).

    B·s_f = μ(W(L − a)/L + B·h/L) or B·s_r = μ(W·a/L − B·h/L), the lesser B, at most μ·W. dS_f = B·h/L − B·s_f·σ_f,
    dS_r = −B·h/L + B·s_r·σ_r: the brakes' torque stays in the housing, as the pinion's does. First order. Source:
    free body of each axle; anti-dive is 100 % where dS_f = 0. ``weight`` N, ``a``, ``wheelbase`` and CG ``height`` m,
    ``front_share`` of the braking.

    >>> round(dive(20000.0, 1.3, 2.6, 0.9, 0.8, 0.7, (0.0, 0.0), (30000.0, 30000.0)).spring_front)
    4800
    """
    lever, part = height / wheelbase, a / wheelbase
    front_left = front_share - grip * lever
    first = grip * (1.0 - part) / front_left if front_left > 0 else math.inf
    second = grip * part / (1.0 - front_share + grip * lever)
    g = min(first, second, grip)
    force = g * weight
    d_f = force * lever - force * front_share * slopes[0]
    d_r = -force * lever + force * (1.0 - front_share) * slopes[1]
    drop, rise = d_f / (2.0 * rates[0]), -d_r / (2.0 * rates[1])
    return Dive(g, "front" if first <= second else "rear", d_f, d_r, drop, rise, math.atan2(drop + rise, wheelbase))


def back_over(a: float, wheelbase: float, height: float) -> float:
    """Grade at which a rigid rig goes over backward, rad: its CG stands over the rear contact, atan((L − a)/h).

    ``wheelbase`` L and CG ``height`` h m.

    >>> round(math.degrees(back_over(1.3, 2.6, 0.9)), 1)
    55.3
    """
    return math.atan2(wheelbase - a, height)


def nose_over(a: float, height: float) -> float:
    """Downgrade at which a rigid rig goes over its front axle, rad: atan(a/h).

    CG ``height`` h m.

    >>> round(math.degrees(nose_over(1.3, 1.3)), 1)
    45.0
    """
    return math.atan2(a, height)


def rigid_tip(track: float, height: float, offset: float = 0.0) -> float:
    """Side slope at which a rigid rig tips, rad: atan((t/2 − y)/h), ``offset`` y of the CG toward the downhill side,
    m; with unequal tracks t is that of the line through both downhill contacts at the CG's station.

    ``track`` t and CG ``height`` h m.

    >>> round(math.degrees(rigid_tip(1.7, 0.85)), 1)
    45.0
    """
    return math.atan2(0.5 * track - offset, height)


def climbed(rise: float, radius: float, ramp: float) -> float:
    """Along a ramp to where the tyre touches it, m, once the hub has risen by ``rise`` m: (H + r(1 − cos β))/sin β.

    The hub stands square over the contact, so it lies r·cos β above it and r above the floor at the start. ``radius``
    r loaded m, ``ramp`` β rad.

    >>> round(climbed(0.6 - 0.45 * (1 - math.cos(math.radians(20))), 0.45, math.radians(20)), 4)
    1.7543
    """
    return (rise + radius * (1.0 - math.cos(ramp))) / math.sin(ramp)


def ramp_index(climbed: float, wheelbase: float) -> float:
    """Ramp index: 1000 × distance along the ramp to the tyre's contact over the wheelbase; over 1000 is allowed.

    ``climbed`` along the ramp and ``wheelbase``, m.

    >>> ramp_index(1.95, 2.6)
    750.0
    """
    return 1000.0 * climbed / wheelbase
