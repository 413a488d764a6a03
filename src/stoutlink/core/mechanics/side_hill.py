"""A rig across a slope: lean of its body, what each tyre carries, which wheel lifts first, where it tips.

Source: equilibrium of body and axles.
"""

from __future__ import annotations

import math
from collections.abc import Callable

from msgspec import Struct

STEEPEST = 1.45
"""Slopes are looked at to this, rad."""


class Side(Struct, frozen=True):
    """One axle: load N, track m, height of its roll centre m, roll stiffness N·m/rad, unsprung weight N and its
    height m.
    """

    load: float
    track: float
    roll_centre: float
    stiffness: float
    unsprung: float
    hub: float


class Across(Struct, frozen=True):
    """On one slope: lean of the body rad (None: no rest), and load of the uphill and downhill tyre N, front then
    rear.
    """

    slope: float
    lean: float | None
    uphill: tuple[float, float]
    downhill: tuple[float, float]


class SideHill(Struct, frozen=True):
    """The slope asked for, slope at which the first uphill wheel lifts and which, and at which both uphill wheels are
    off the ground (it tips), rad; ``no_rest`` where the springs are softer in roll than the weight pulls, on the
    level already."""

    asked: Across
    lift: float | None
    lifts: str
    tip: float | None
    no_rest: bool


def side_hill(weight: float, height: float, cg_share_front: float, sides: tuple[Side, Side], slope: float) -> SideHill:
    """Statics across the slope, no small angles. ``weight`` N and ``height`` m of the whole rig's CG,
    ``cg_share_front`` how far its sprung CG lies toward the front axle (1: over it).

    The body leans about the roll axis: W_s·d·sin(α + φ) = Σ K_φ·φ. Each axle passes to its tyres its springs' moment,
    its share of the body's side force at its roll centre, and its own weight's at its hub: M_i = K_i·φ + W_s,i·sin
    α·z_i + w_u·sin α·r_i, which moves M_i/t from the uphill tyre to the downhill one. A lifted axle keeps N·t/2 and
    its springs wind no further: only the other axle's stiffness counts. Source: equilibrium of body and axles.
    ``sides`` front and rear, ``slope`` rad.

    >>> axle = Side(load=10000.0, track=1.6, roll_centre=0.6, stiffness=40000.0, unsprung=3000.0, hub=0.45)
    >>> across = side_hill(20000.0, 0.85, 0.5, (axle, axle), 0.3).asked
    >>> round(sum(across.uphill + across.downhill)), round(20000.0 * math.cos(0.3))
    (19107, 19107)
    """
    sprung = weight - sum(s.unsprung for s in sides)
    own = sum(s.unsprung * s.hub for s in sides)
    arm_height = (weight * height - own) / sprung
    shares = cg_share_front, 1.0 - cg_share_front
    axis = sum(p * s.roll_centre for p, s in zip(shares, sides, strict=True))
    pull = sprung * (arm_height - axis)

    def moments(alpha: float, phi: float) -> tuple[float, float]:
        out = []
        for p, s in zip(shares, sides, strict=True):
            out.append(s.stiffness * phi + math.sin(alpha) * (p * sprung * s.roll_centre + s.unsprung * s.hub))
        return out[0], out[1]

    def holds(alpha: float) -> tuple[float, float]:
        return sides[0].load * math.cos(alpha) * sides[0].track / 2, sides[1].load * math.cos(alpha) * sides[
            1
        ].track / 2

    def rest(alpha: float) -> tuple[float | None, tuple[float, float], tuple[bool, bool]]:
        """Lean, moments carried by the axles and which has lifted."""
        most = holds(alpha)

        def missing(phi: float) -> float:
            m = moments(alpha, phi)
            carried = 0.0
            for i, s in enumerate(sides):
                beyond = max(0.0, m[i] - most[i])
                carried += s.stiffness * phi - beyond
            return pull * math.sin(alpha + phi) - carried

        low, high = -math.pi / 2, 0.0
        if pull > 0:
            # what is missing is concave between the leans at which an axle lifts: the first of them at which nothing
            # is missing ends the search
            lifts = [
                (most[i] - m) / s.stiffness
                for i, (s, m) in enumerate(zip(sides, moments(alpha, 0.0), strict=True))
                if s.stiffness > 0
            ]
            knots = [0.0, *sorted(min(v, math.pi / 2) for v in lifts if v > 0), math.pi / 2]
            held = next((k for k, v in enumerate(knots) if missing(v) <= 0), None)
            if held is None:
                return None, (math.nan, math.nan), (False, False)
            low, high = knots[max(0, held - 1)], knots[held]
        for _ in range(60):
            middle = 0.5 * (low + high)
            low, high = (middle, high) if missing(middle) > 0 else (low, middle)
        phi = 0.5 * (low + high)
        m = moments(alpha, phi)
        return phi, (min(m[0], most[0]), min(m[1], most[1])), (m[0] >= most[0], m[1] >= most[1])

    phi, carried, _ = rest(slope)
    loads = [s.load * math.cos(slope) / 2 for s in sides]
    moved = [c / s.track for c, s in zip(carried, sides, strict=True)]
    up = (loads[0] - moved[0], loads[1] - moved[1])
    down = (loads[0] + moved[0], loads[1] + moved[1])
    no_rest = pull > 0 and sum(s.stiffness for s in sides) <= pull
    asked = Across(slope, phi, up, down)
    if no_rest:
        return SideHill(asked, None, "", None, True)

    def lifted(alpha: float) -> int:
        lean, _, off = rest(alpha)
        return 2 if lean is None else sum(off)

    lift = _first(lambda v: lifted(v) >= 1)
    tip = _first(lambda v: lifted(v) >= 2)
    which = ""
    if lift is not None:
        lean, _, off = rest(min(lift + 1e-4, STEEPEST))
        which = "both" if lean is None or all(off) else "front" if off[0] else "rear"
    return SideHill(asked, lift, which, tip, False)


def _first(past: Callable[[float], bool]) -> float | None:
    """First slope at which something holds, found on a grid and halved."""
    step = STEEPEST / 58
    at = next((k for k in range(1, 59) if past(k * step)), None)
    if at is None:
        return None
    low, high = (at - 1) * step, at * step
    for _ in range(24):
        middle = 0.5 * (low + high)
        low, high = (low, middle) if past(middle) else (middle, high)
    return high
