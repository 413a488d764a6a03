"""A rig against a ledge: the least grip with which one axle's tyres climb a step, by statics of both contacts.

Source: statics.
"""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct

GRIP_LOOKED_AT = 3.0
"""Grip beyond which a ledge counts as not climbable."""
SINGULAR = 1e-9
"""Three lines of force that all but meet in a point hold nothing."""
Point = tuple[float, float]


class Contact(Struct, frozen=True):
    """Where a tyre touches, (x, z) m, and the direction from there to its hub, rad from upright, + leaning back: 0 on
    level ground, at a step ahead θ.
    """

    at: Point
    lean: float

    def wrench(self, along: float) -> tuple[float, float, float]:
        """Force (x, z) and moment about the origin of a unit normal load, or with ``along`` 1 of a unit thrust up the
        contact.
        """
        c, s = math.cos(self.lean), math.sin(self.lean)
        fx, fz = (c, s) if along else (-s, c)
        return fx, fz, self.at[0] * fz - self.at[1] * fx


def step_contact(hub_x: float, radius: float, height: float, ground: float = 0.0) -> Contact:
    """A tyre standing on the ground at ``ground`` against a step of ``height``, m: cos θ = 1 − s/r; from s = r the
    face alone, at the hub's height.

    ``hub_x`` of the wheel and loaded ``radius`` m.

    >>> round(step_contact(0.0, 0.5, 0.25).lean, 4)
    1.0472
    """
    lean = math.acos(1.0 - height / radius) if height < radius else 0.5 * math.pi
    return Contact((hub_x + radius * math.sin(lean), ground + radius * (1.0 - math.cos(lean))), lean)


def least_grip(weight: float, cg: Point, contacts: tuple[Contact, Contact], driven: tuple[bool, bool]) -> float | None:
    """Least grip that holds both contacts in balance, however the driven ones share; ``None`` where no grip up to 3
    does, or a contact would have to pull. An axle that is not driven rolls freely.

    Unknown are two normal loads and a thrust at each driven contact; three sums hold them. One driven axle: one
    answer, T/N. Two: a line of answers; a grip is enough when some piece of it has N ≥ 0 and |T| ≤ μ·N at both, and
    more grip never leaves less, so the least is found by halving. Source: statics. ``weight`` N at ``cg`` (x, z) m.

    >>> on_floor = step_contact(0.0, 0.5, 0.0), step_contact(2.6, 0.5, 0.0)
    >>> least_grip(20000.0, (1.3, 0.9), on_floor, (True, True))
    0.0
    """
    both = range(2)
    columns = [contacts[k].wrench(0.0) for k in both] + [contacts[k].wrench(1.0) for k in both if driven[k]]
    matrix, load = np.array(columns).T, np.array([0.0, weight, weight * cg[0]])
    left, sizes, right = np.linalg.svd(matrix)
    if len(columns) < 3 or sizes[-1] < SINGULAR * sizes[0]:
        return None
    one = right[: len(sizes)].T @ ((left.T @ load) / sizes)
    place = {k: 2 + sum(driven[:k]) for k in both if driven[k]}
    if len(columns) == 3:
        if min(one[:2]) < -1e-9 * weight:
            return None
        (k, at), *_ = place.items()
        grip = abs(one[at]) / one[k] if one[k] > 1e-12 * weight else math.inf
        return float(grip) if grip <= GRIP_LOOKED_AT else None
    free = right[3]

    def enough(grip: float) -> bool:
        """Whether some t has N + t·N' ≥ 0 and μ(N + t·N') ± (T + t·T') ≥ 0 at both."""
        low, high = -math.inf, math.inf
        for k, at in place.items():
            for sign in (1.0, -1.0):
                have, slope = grip * one[k] + sign * one[at], grip * free[k] + sign * free[at]
                if abs(slope) < 1e-15:
                    if have < -1e-9 * weight:
                        return False
                elif slope > 0:
                    low = max(low, -have / slope)
                else:
                    high = min(high, -have / slope)
        return low <= high + 1e-9 * weight

    if not enough(GRIP_LOOKED_AT):
        return None
    low, high = 0.0, GRIP_LOOKED_AT
    if enough(low):
        return low
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high


class Ledge(Struct, frozen=True):
    """Least grip to climb a ledge, with all wheels driven and with the rear ones alone: front tyres against it, then
    rear tyres with the front on top.
    """

    front_all: float | None
    front_rear_drive: float | None
    rear_all: float | None
    rear_rear_drive: float | None


def ledge(weight: float, a: float, wheelbase: float, height: float, radii: tuple[float, float], step: float) -> Ledge:
    """A ledge of ``step`` m for a rig with its CG ``a`` behind the front axle and ``height`` up; ``radii`` loaded,
    front and rear. Rigid on its springs.

    Front: standing on the level. Rear: the front stands on top, so the whole rig leans back about the rear hub.
    ``weight`` N, ``wheelbase`` m.

    >>> round(ledge(20000.0, 1.3, 2.6, 0.9, (0.5, 0.5), 0.2).front_all, 3)
    0.419
    """
    front, rear = radii
    level = step_contact(wheelbase, front, step), Contact((0.0, 0.0), 0.0)
    cg = (wheelbase - a, height)
    rise = math.asin(max(-1.0, min(1.0, (front + step - rear) / math.hypot(wheelbase, front - rear)))) - math.atan2(
        front - rear, wheelbase
    )
    c, s = math.cos(rise), math.sin(rise)
    x, z = cg[0], cg[1] - rear
    turned = (c * x - s * z, rear + s * x + c * z)
    up = c * wheelbase - s * (front - rear)
    behind = Contact((up, step), 0.0), step_contact(0.0, rear, step)
    return Ledge(
        least_grip(weight, cg, level, (True, True)),
        least_grip(weight, cg, level, (False, True)),
        least_grip(weight, turned, behind, (True, True)),
        least_grip(weight, turned, behind, (False, True)),
    )
