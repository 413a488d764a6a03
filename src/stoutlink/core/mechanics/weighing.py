"""Centre of gravity from scales and from tilting, and the sum of masses with positions.

Source: moments of weights; Gillespie ch. 1.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Literal

from msgspec import Struct

LEAST_TILT = math.radians(10.0)
"""Below this the height comes out too uncertain to use (ISO 10392 asks for more than a small angle; common practice
10°).
"""


class Lump(Struct, frozen=True):
    """A mass (kg) at a place (m, vehicle axes); a negative mass is something taken off."""

    mass: float
    x: float
    y: float
    z: float


def level_scales(
    loads: tuple[float, float, float, float], wheelbase: float, tracks: tuple[float, float]
) -> tuple[float, float, float]:
    """Mass and plan position of the centre of gravity from four wheel loads, standing level.

    ``loads`` kg: front left, front right, rear left, rear right; ``wheelbase`` m; ``tracks`` m: front, rear. Returns
    mass (kg), x ahead of the rear axle and y left of the centreline (m). Raises ``ValueError`` when nothing is
    weighed. Source: statics.

    >>> level_scales((520, 500, 490, 490), 2.5, (1.6, 1.6))
    (2000, 1.275, 0.008)
    """
    fl, fr, rl, rr = loads
    total = fl + fr + rl + rr
    if total <= 0:
        raise ValueError("the scales show no weight")
    return total, wheelbase * (fl + fr) / total, ((fl - fr) * tracks[0] + (rl - rr) * tracks[1]) / (2.0 * total)


class TiltResult(Struct, frozen=True):
    """Height by tilting, m. ``above_axle_line`` square to the line through both axle centres, ``height`` above the
    ground and ``along`` ahead of the rear axle, both standing level."""

    height: float
    along: float
    above_axle_line: float


def height_by_tilting(
    level: tuple[float, float],
    tilted: tuple[float, float],
    angle: float,
    wheelbase: float,
    radii: tuple[float, float],
    raised: Literal["front", "rear"] = "front",
) -> TiltResult:
    """Height of the centre of gravity from weighing level and tilted by ``angle`` rad (its size; ``raised`` says
    which end is up).

    ``level`` and ``tilted`` are (front, rear) axle loads in kg, ``radii`` the (front, rear) loaded radii in m,
    ``wheelbase`` m. Wheels free to roll, suspension locked, each axle on a level pad, so that each load is vertical
    through its axle centre. With φ the elevation of the axle line to the front, p the distance of the centre of
    gravity along that line from the rear axle and h' its height square to it, moments about the rear axle give F/W =
    (p − h'·tan φ)/L_c, L_c = hypot(L, r_f − r_r). Level φ₀ = ε = atan((r_f − r_r)/L); raised in front φ₁ = ε + θ, at
    the rear φ₁ = ε − θ:

        h' = L_c·(F₀/W₀ − F₁/W₁)/(tan φ₁ − tan φ₀),   h = r_r + p·sin ε + h'·cos ε.

    Equal radii: h = r + ΔW·L/(W·tan θ) with ΔW what the lower axle gains (ISO 10392). Raises ``ValueError`` for an
    angle of 0 or 90° and more, and for loads that are not positive. Source: ISO 10392 for the procedure; statics for
    unequal radii.

    >>> r = height_by_tilting((1000, 1000), (900, 1100), math.atan(0.25), 2.5, (0.4, 0.4))
    >>> round(r.height, 9)
    0.9
    """
    if not 0 < abs(angle) < math.pi / 2 - 1e-6:
        raise ValueError("the vehicle must be tilted, by less than a right angle")
    total, again = sum(level), sum(tilted)
    if min(*level, *tilted) <= 0:
        raise ValueError("every axle load must be positive")
    lean = math.atan((radii[0] - radii[1]) / wheelbase)
    line = math.hypot(wheelbase, radii[0] - radii[1])
    after = lean + abs(angle) * (1.0 if raised == "front" else -1.0)
    high = line * (level[0] / total - tilted[0] / again) / (math.tan(after) - math.tan(lean))
    along = line * level[0] / total + high * math.tan(lean)
    return TiltResult(
        height=radii[1] + along * math.sin(lean) + high * math.cos(lean),
        along=along * math.cos(lean) - high * math.sin(lean),
        above_axle_line=high,
    )


def combined(lumps: Iterable[Lump]) -> Lump:
    """Sum of masses with their common centre of gravity; raises ``ValueError`` when nothing is left. Source: statics.

    ``lumps`` masses kg with their places m.

    >>> combined([Lump(3, 0, 0, 1), Lump(1, 4, 0, 1)])
    Lump(mass=4, x=1.0, y=0.0, z=1.0)
    """
    every = list(lumps)
    total = sum(one.mass for one in every)
    if total <= 0:
        raise ValueError("the masses add up to nothing")
    x, y, z = (sum(one.mass * getattr(one, axis) for one in every) / total for axis in "xyz")
    return Lump(total, x, y, z)


def sprung_place(mass: float, x: float, unsprung: tuple[tuple[float, float], ...]) -> float:
    """How far ahead of the rear axle the sprung mass's centre of gravity lies, m.

    ``mass`` kg and ``x`` m of the whole; ``unsprung`` pairs of mass (kg) and station (m). Raises ``ValueError`` when
    nothing is sprung.

    >>> sprung_place(2000.0, 1.2, ((300.0, 0.0), (200.0, 2.6)))
    1.2533333333333334
    """
    rest = mass - sum(m for m, _ in unsprung)
    if rest <= 0:
        raise ValueError("the unsprung masses are heavier than the rig")
    return (mass * x - sum(m * s for m, s in unsprung)) / rest
