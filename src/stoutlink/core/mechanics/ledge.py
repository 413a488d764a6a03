"""A rig against a ledge: the least grip with which one axle's tyres climb a step, by statics of both contacts.

Source: statics.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

GRIP_LOOKED_AT = 3.0
"""Grip beyond which a ledge counts as not climbable."""
Point = tuple[float, float]


@dataclass(frozen=True)
class Contact:
    """Where a tyre touches, (x, z) m, and the direction from there to its hub, rad from upright, + leaning back: 0 on
    level ground, at a step ahead θ.
    """

    at: Point
    lean: float

    def push(self, grip: float) -> Point:
        """Force for a unit of normal load with ``grip`` of it as thrust up the contact, (x, z)."""
        c, s = math.cos(self.lean), math.sin(self.lean)
        return grip * c - s, c + grip * s


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
    """Least grip that holds both contacts in balance, every driven one at its limit; ``None`` where no grip up to 3
    does, or a contact would have to pull.

    Two sums of forces give both normal loads for a grip, the moments what is missing: the smallest root, by halving
    after a scan. An axle that is not driven rolls freely. Source: statics. ``weight`` N at ``cg`` (x, z) m.

    >>> on_floor = step_contact(0.0, 0.5, 0.0), step_contact(2.6, 0.5, 0.0)
    >>> least_grip(20000.0, (1.3, 0.9), on_floor, (True, True))
    """

    def at(grip: float) -> tuple[float, float, float]:
        (ax, az), (bx, bz) = (c.push(grip if d else 0.0) for c, d in zip(contacts, driven, strict=True))
        det = ax * bz - az * bx
        if abs(det) < 1e-12:
            return math.nan, math.nan, math.nan
        # ax·N1 + bx·N2 = 0 and az·N1 + bz·N2 = W
        n1, n2 = -bx * weight / det, ax * weight / det
        moment = -weight * cg[0]
        for n, (px, pz), c in ((n1, (ax, az), contacts[0]), (n2, (bx, bz), contacts[1])):
            moment += n * (c.at[0] * pz - c.at[1] * px)
        return moment, n1, n2

    steps = [GRIP_LOOKED_AT * k / 600 for k in range(601)]
    before: tuple[float, float] | None = None
    for grip in steps:
        value, n1, n2 = at(grip)
        if math.isnan(value):
            before = None
            continue
        if value == 0.0 and min(n1, n2) >= -1e-9 * weight:
            return grip
        if before is not None and before[1] * value < 0:
            root = _halved(lambda g: at(g)[0], before[0], grip)
            _, n1, n2 = at(root)
            if min(n1, n2) >= -1e-9 * weight:
                return root
        before = (grip, value)
    return None


def _halved(f: Callable[[float], float], low: float, high: float) -> float:
    start = f(low)
    for _ in range(70):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if f(middle) * start > 0 else (low, middle)
    return 0.5 * (low + high)


@dataclass(frozen=True)
class Ledge:
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
