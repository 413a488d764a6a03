"""A rig on its springs up a grade: where both axles come to stand with all that it moves, and how steep it goes before
it goes over backward. Plane statics, no small angles.

Facing up the grade. a is the CG behind the front axle, h above the ground, L the wheelbase; travel + is bump. Body
axes: x forward, z up, square to the body, origin on the ground under the rear axle at ride height.

Source: statics of body and axles, virtual work (Goldstein, Classical Mechanics, ch. 1).
"""

from __future__ import annotations

import math
from collections.abc import Callable

from msgspec import Struct

STEEPEST = 1.45
ROUNDS, STILL = 400, 1e-10


class Step(Struct, frozen=True):
    """How an axle stands at a travel, against the body: hub forward of its place at ride m, and how hub and housing
    move on per metre of bump: forward (–) and nose down (rad/m).
    """

    forward: float
    slope: float
    turn: float


class AxleSprings(Struct, frozen=True):
    """The springs and links of one axle: travel m (+ bump) at which the springs carry so many N more than at ride
    (rising), droop (−) and bump limits m, and the path of the axle.
    """

    sags: Callable[[float], float]
    low: float
    high: float
    path: Callable[[float], Step]

    def travel(self, load: float) -> float:
        """Travel at which they carry ``load`` N more, m, clipped at the limits."""
        return min(self.high, max(self.low, self.sags(load)))


def straight(heave: float) -> Step:
    """The path of an axle whose links neither lift nor squat: straight up by ``heave`` m, no turn.

    >>> straight(0.1)
    Step(forward=0.0, slope=0.0, turn=0.0)
    """
    del heave  # the same everywhere
    return Step(0.0, 0.0, 0.0)


class PlaneRig(Struct, frozen=True):
    """What stands there: weight N; CG behind the front axle, wheelbase and CG height m; loaded radii m and unsprung
    weights N of front and rear, which lie at their hubs.
    """

    weight: float
    a: float
    wheelbase: float
    height: float
    radii: tuple[float, float]
    unsprung: tuple[float, float]

    @property
    def sprung(self) -> tuple[float, float, float]:
        """Weight N of the body and where it lies in body axes, (x, z) m."""
        weight = self.weight - sum(self.unsprung)
        x = (self.weight * (self.wheelbase - self.a) - self.unsprung[0] * self.wheelbase) / weight
        z = (self.weight * self.height - sum(u * r for u, r in zip(self.unsprung, self.radii, strict=True))) / weight
        return weight, x, z

    @property
    def level(self) -> tuple[float, float]:
        """Front and rear axle load on the level, N."""
        rear = self.weight * self.a / self.wheelbase
        return self.weight - rear, rear


class Stand(Struct, frozen=True):
    """On the grade: axle loads N, share of the thrust at the rear, travel of both axles m (+ bump), nose-up of the
    body against the ground rad, the whole CG as moved: behind the front contact and over the ground, m.
    """

    front: float
    rear: float
    share_rear: float
    travel_front: float
    travel_rear: float
    nose_up: float
    cg: tuple[float, float]


def stand_on_grade(
    rig: PlaneRig,
    angle: float,
    springs: tuple[AxleSprings, AxleSprings],
    share: float | None,
    at_ride: tuple[float, float] | None = None,
) -> Stand:
    """Steady climb of ``angle`` rad. ``springs`` front and rear; ``share``: part of the thrust the rear makes;
    ``None``: by axle load, as a locked transfer does. ``at_ride``: what the springs of each axle carry at ride height,
    N, where that is not what this rig puts on them standing level (the same springs under another load).

    Ground and body: both tyres touch one line, so the nose is up by ν with the hubs where their travels put them; all
    weights where they then are give the loads by moments about the contacts, straight under the hubs. Springs of an
    axle: with the wheels held to the housing (drive torque stays inside) a hair of bump does no work, so what the
    springs carry is N and thrust, turned into body axes, along the way of the contact, less the axle's own weight
    along the way of its hub. Gone round until nothing moves.

    >>> stiff = AxleSprings(lambda load: load * 1e-9, -0.1, 0.1, straight)
    >>> rig = PlaneRig(20000.0, 1.3, 2.6, 0.9, (0.45, 0.45), (2500.0, 3000.0))
    >>> on = stand_on_grade(rig, 0.5, (stiff, stiff), None)
    >>> round(on.front + on.rear, 1), round(20000.0 * math.cos(0.5), 1)
    (17551.7, 17551.7)
    """
    f = r = 0.0
    pace, before = 1.0, math.inf
    on = _standing(rig, angle, springs, share, f, r)
    level = rig.level
    rest = at_ride or tuple(load - own for load, own in zip(level, rig.unsprung, strict=True))
    for _ in range(ROUNDS):
        on = _standing(rig, angle, springs, share, f, r)
        thrust = rig.weight * math.sin(angle)
        forces = (on.front, (1.0 - on.share_rear) * thrust), (on.rear, on.share_rear * thrust)
        wanted = [
            springs[k].travel(_carried(rig, angle, springs[k].path((f, r)[k]), k, on.nose_up, *forces[k]) - rest[k])
            for k in (0, 1)
        ]
        gone = max(abs(wanted[0] - f), abs(wanted[1] - r))
        if gone > 0.9 * before:
            pace = max(0.1, 0.5 * pace)
        f, r, before = f + pace * (wanted[0] - f), r + pace * (wanted[1] - r), gone
        if gone < STILL:
            break
    return on


def _carried(rig: PlaneRig, angle: float, at: Step, axle: int, nose: float, normal: float, thrust: float) -> float:
    """What both springs of an axle carry along its bump, N."""
    c, s, radius = math.cos(nose), math.sin(nose), rig.radii[axle]
    along, up = thrust * c + normal * s, normal * c - thrust * s
    contact = at.slope - at.turn * radius * c, 1.0 + at.turn * radius * s
    steep = angle + nose
    own = rig.unsprung[axle] * (math.cos(steep) + math.sin(steep) * at.slope)
    return along * contact[0] + up * contact[1] - own


def _standing(
    rig: PlaneRig,
    angle: float,
    springs: tuple[AxleSprings, AxleSprings],
    share: float | None,
    front: float,
    rear: float,
) -> Stand:
    """Loads with the axles at their travels."""
    hubs = (
        (rig.wheelbase + springs[0].path(front).forward, rig.radii[0] + front),
        (springs[1].path(rear).forward, rig.radii[1] + rear),
    )
    dx, dz, lift = hubs[0][0] - hubs[1][0], hubs[0][1] - hubs[1][1], rig.radii[0] - rig.radii[1]
    # the line under both tyres: sin ν·dx + cos ν·dz = lift
    nose = math.asin(max(-1.0, min(1.0, lift / math.hypot(dx, dz)))) - math.atan2(dz, dx)
    c, s = math.cos(nose), math.sin(nose)
    weight, x, z = rig.sprung
    bodies = ((weight, x, z), (rig.unsprung[0], *hubs[0]), (rig.unsprung[1], *hubs[1]))
    base = c * dx - s * dz

    def over(px: float, pz: float) -> tuple[float, float]:
        """Ahead of the rear contact along the ground, and over it."""
        px, pz = px - hubs[1][0], pz - hubs[1][1]
        return c * px - s * pz, s * px + c * pz + rig.radii[1]

    places = [(w, *over(px, pz)) for w, px, pz in bodies]
    ahead = sum(w * u for w, u, _ in places) / rig.weight
    height = sum(w * v for w, _, v in places) / rig.weight
    load_f = rig.weight * (ahead * math.cos(angle) - height * math.sin(angle)) / base
    load_r = rig.weight * math.cos(angle) - load_f
    part = share if share is not None else min(1.0, max(0.0, load_r / (load_f + load_r)))
    return Stand(load_f, load_r, part, front, rear, nose, (base - ahead, height))


def support(at: Step, radius: float, nose: float, *, rear: bool) -> float:
    """Support slope of an axle where it stands: what a unit thrust at its contact (``radius`` m under the hub, straight
    down) takes off its springs, with the body's nose up by ``nose`` rad. The way of the contact per bump, turned onto
    the ground; the side-view centre lies square to it.

    >>> support(Step(0.0, -0.1, 0.2), 0.5, 0.0, rear=True)
    0.2
    """
    c, s = math.cos(nose), math.sin(nose)
    x, z = at.slope - at.turn * radius * c, 1.0 + at.turn * radius * s
    ahead, up = c * x - s * z, s * x + c * z
    return -ahead / up if rear else ahead / up


def back_over_sprung(rig: PlaneRig, springs: tuple[AxleSprings, AxleSprings]) -> float:
    """Grade at which the front axle's load is gone, rad, with the springs and all thrust at the rear: its front axle
    then hangs by its own weight. By false position between 0 and 83°; the steepest looked at where it never comes to
    that.

    >>> stiff = AxleSprings(lambda load: load * 1e-9, -1e-6, 1e-6, straight)
    >>> rig = PlaneRig(20000.0, 1.3, 2.6, 0.9, (0.45, 0.45), (2500.0, 3000.0))
    >>> round(back_over_sprung(rig, (stiff, stiff)), 3), round(math.atan(1.3 / 0.9), 3)
    (0.965, 0.965)
    """

    def left(angle: float) -> float:
        return stand_on_grade(rig, angle, springs, 1.0).front

    low, high = 0.0, STEEPEST
    at_low, at_high = left(low), left(high)
    if at_low <= 0:
        return low
    if at_high >= 0:
        return high
    for _ in range(80):
        middle = (low * at_high - high * at_low) / (at_high - at_low)
        at = left(middle)
        if abs(at) < 1e-7 * rig.weight or high - low < 1e-10:
            return middle
        if at > 0:
            low, at_low, at_high = middle, at, 0.5 * at_high
        else:
            high, at_high, at_low = middle, at, 0.5 * at_low
    return 0.5 * (low + high)
