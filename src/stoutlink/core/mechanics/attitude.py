"""A rig on its springs up a grade: where both axles come to stand, with the CG moved by it, and how steep it goes
before it goes over backward.

Facing up the grade. a is the CG behind the front axle, h above the ground, L the wheelbase; travel + is bump.

Source: statics of the whole vehicle.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from stoutlink.core.mechanics.slopes import grade_loads

STEEPEST = 1.45


@dataclass(frozen=True)
class AxleSprings:
    """What one axle's springs carry more than at ride, N for both, at a travel m (rising); droop (−) and bump limits
    m; support slope σ.
    """

    more: Callable[[float], float]
    low: float
    high: float
    slope: float

    def travel(self, load: float) -> float:
        """Travel at which they carry ``load`` N more, m, clipped at the limits."""
        low, high = self.low, self.high
        if self.more(high) <= load:
            return high
        if self.more(low) >= load:
            return low
        for _ in range(50):
            middle = 0.5 * (low + high)
            low, high = (middle, high) if self.more(middle) < load else (low, middle)
        return 0.5 * (low + high)


@dataclass(frozen=True)
class Stand:
    """On the grade: axle loads N, share of the thrust at the rear, travel of both axles m (+ bump), nose-up of the
    body rad, the CG as moved (a, h) m.
    """

    front: float
    rear: float
    share_rear: float
    travel_front: float
    travel_rear: float
    nose_up: float
    cg: tuple[float, float]


def moved_cg(
    a: float, wheelbase: float, height: float, hub: float, front: float, rear: float
) -> tuple[float, float, float]:
    """CG behind the front axle and above the ground, m, and nose-up rad, once the body has gone down by the axles'
    travels ``front`` and ``rear``: it turns about the line through the hubs' height.

    ``a`` CG behind the front axle, ``wheelbase``, ``height`` of the CG and ``hub`` of the wheel centres, all m.

    >>> [round(v, 3) for v in moved_cg(1.3, 2.6, 0.9, 0.45, 0.0, 0.0)]
    [1.3, 0.9, 0.0]
    """
    nose = math.atan2(rear - front, wheelbase)
    drop = front * (wheelbase - a) / wheelbase + rear * a / wheelbase
    return a + math.sin(nose) * (height - hub), hub + math.cos(nose) * (height - hub) - drop, nose


def stand_on_grade(
    weight: float,
    a: float,
    wheelbase: float,
    height: float,
    hub: float,
    angle: float,
    springs: tuple[AxleSprings, AxleSprings],
    share: float | None,
) -> Stand:
    """Steady climb, front and rear springs with stops. ``share``: part of the thrust the rear makes; ``None``: by
    axle load, as a locked transfer does.

    dS_r = N_r − N_r0 − p_r·W·sin α·σ_r, dS_f = N_f − N_f0 + p_f·W·sin α·σ_f; the loads with the CG where it then is,
    gone round until it stands still. Source: free body of each axle. ``weight`` N; ``a`` CG behind the front axle,
    ``wheelbase``, CG ``height`` and wheel centre ``hub`` m; ``angle`` rad.

    >>> stiff = AxleSprings(lambda s: 1e9 * s, -0.1, 0.1, 0.0)
    >>> on = stand_on_grade(20000.0, 1.3, 2.6, 0.9, 0.45, 0.5, (stiff, stiff), None)
    >>> round(on.front + on.rear, 1), round(20000.0 * math.cos(0.5), 1)
    (17551.7, 17551.7)
    """
    front0, rear0 = grade_loads(weight, a, wheelbase, height, 0.0)
    thrust = weight * math.sin(angle)
    f = r = nose = 0.0
    part = 1.0 if share is None else share
    front, rear, cg = front0, rear0, (a, height)
    for _ in range(200):
        x, z, nose = moved_cg(a, wheelbase, height, hub, f, r)
        cg = (x, z)
        front, rear = grade_loads(weight, x, wheelbase, z, angle)
        part = share if share is not None else min(1.0, max(0.0, rear / (front + rear)))
        wanted = (
            springs[0].travel(front - front0 + (1.0 - part) * thrust * springs[0].slope),
            springs[1].travel(rear - rear0 - part * thrust * springs[1].slope),
        )
        gone = max(abs(wanted[0] - f), abs(wanted[1] - r))
        f, r = 0.5 * (f + wanted[0]), 0.5 * (r + wanted[1])
        if gone < 1e-7:
            break
    return Stand(front, rear, part, f, r, nose, cg)


def back_over_sprung(
    weight: float, a: float, wheelbase: float, height: float, hub: float, springs: tuple[AxleSprings, AxleSprings]
) -> float:
    """Grade at which the front axle's load is gone, rad, with the springs: front hanging at its droop limit, all
    thrust at the rear.

    tan α = (L − a')/h' with the CG as moved; the rear springs carry W·cos α less what the thrust lifts. Halved
    between 0 and 83°. ``weight`` N; ``a`` CG behind the front axle, ``wheelbase``, CG ``height`` and wheel centre
    ``hub`` m.

    >>> stiff = AxleSprings(lambda s: 1e9 * s, -1e-6, 1e-6, 0.0)
    >>> round(back_over_sprung(20000.0, 1.3, 2.6, 0.9, 0.45, (stiff, stiff)), 3), round(math.atan(1.3 / 0.9), 3)
    (0.965, 0.965)
    """
    _, rear0 = grade_loads(weight, a, wheelbase, height, 0.0)

    def left(angle: float) -> float:
        rear = springs[1].travel(weight * math.cos(angle) - rear0 - weight * math.sin(angle) * springs[1].slope)
        x, z, _ = moved_cg(a, wheelbase, height, hub, springs[0].low, rear)
        return (wheelbase - x) * math.cos(angle) - z * math.sin(angle)

    low, high = 0.0, STEEPEST
    for _ in range(60):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if left(middle) > 0 else (low, middle)
    return 0.5 * (low + high)
