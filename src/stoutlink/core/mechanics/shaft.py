"""Axle shafts in torsion, and the torque that reaches them.

Source: Shigley, torsion and distortion energy.
"""

from __future__ import annotations

import math

SHEAR = 0.577
"""Shear yield over tensile yield, distortion energy (Shigley)."""


def yield_torque(diameter: float, yield_strength: float, bore: float = 0.0) -> float:
    """Torque at which a round shaft starts to stay twisted, N·m: 0.577·S_y·π(d⁴ − d_i⁴)/(16·d).

    ``diameter`` at the spline root, neck or groove and ``bore`` in m, ``yield_strength`` Pa (core, not the hard skin).
    Fully plastic is 4/3 of it for a solid shaft. Raises ``ValueError`` unless 0 ≤ bore < diameter.
    Source: Shigley's Mechanical Engineering Design, torsion of round bars with the distortion-energy criterion.

    >>> round(yield_torque(0.0335, 900e6))
    3833
    """
    if not 0 <= bore < diameter:
        raise ValueError("bore must be smaller than the diameter")
    return SHEAR * yield_strength * math.pi * (diameter**4 - bore**4) / (16 * diameter)


def wheel_torque_bound(
    engine: float, friction: float, wheel_load: float, loaded_radius: float, hub: float = 1.0
) -> float:
    """Largest torque one shaft of a locked axle can see, N·m: min(E, μ·N·r_L/i_h).

    ``engine`` E is what the engine can send to the whole axle (after the ring gear), ``wheel_load`` N, radius m.
    Source: statics of a rolling wheel at its friction limit. ``loaded_radius`` r_L m, ``hub`` i_h.

    >>> wheel_torque_bound(9000.0, 1.0, 8000.0, 0.45)
    3600.0
    """
    return min(engine, friction * wheel_load * loaded_radius / hub)


def torque_beside_bending(diameter: float, yield_strength: float, moment: float, bore: float = 0.0) -> float:
    """Torque a shaft still takes beside a bending moment, N·m: from sqrt(σ² + 3τ²) = S_y at its skin; 0 when bending
    alone uses it up.

    Source: Shigley, distortion energy for bending with torsion (a semi-floating axle's outer end). ``diameter`` and
    ``bore`` m, ``yield_strength`` Pa, ``moment`` N·m. Raises ``ValueError`` for a bore that does not fit.

    >>> torque_beside_bending(0.03, 800e6, 0.0) / yield_torque(0.03, 800e6) < 1.001
    True
    """
    if not 0 <= bore < diameter:
        raise ValueError("bore must be smaller than the diameter")
    modulus = math.pi * (diameter**4 - bore**4) / (32 * diameter)
    left = yield_strength**2 - (moment / modulus) ** 2
    return 0.0 if left <= 0 else math.sqrt(left / 3.0) * 2.0 * modulus


def tube_section_modulus(outside: float, wall: float) -> float:
    """Section modulus of a round tube, m³: π(D⁴ − d⁴)/(32·D). Source: Shigley.

    ``outside`` diameter and ``wall`` m. Raises ``ValueError`` for a wall that does not fit.

    >>> round(tube_section_modulus(0.1, 0.05) * 1e6, 3)
    98.175
    """
    inside = outside - 2 * wall
    if not 0 <= inside < outside:
        raise ValueError("the wall must be positive and at most half the outside diameter")
    return math.pi * (outside**4 - inside**4) / (32 * outside)


def cross_joint_capacity(straight: float, angle: float) -> float:
    """What a cross joint carries at an angle, N·m: C_0·cos β (common practice; a maker's angle table wins).

    ``straight`` C_0 N·m, ``angle`` β rad.

    >>> round(cross_joint_capacity(4000.0, 0.5))
    3510
    """
    return straight * math.cos(angle)


PROOF, BOLT_YIELD = 600e6, 640e6
"""Proof and yield strength of a class 8.8 bolt, Pa (ISO 898-1)."""
DOWEL_YIELD = 650e6
"""Hardened pins, Pa (estimate)."""
BOLT_CLASSES: dict[str, tuple[float, float]] = {
    "8.8": (PROOF, BOLT_YIELD), "10.9": (830e6, 940e6), "12.9": (970e6, 1100e6),
}  # fmt: skip
"""Class → proof stress and yield strength, Pa (ISO 898-1)."""
TENSILE_PART = 0.74
"""Tensile stress area over the area of the thread diameter, coarse threads (ISO 724 by rule, rounded down)."""
PRELOAD = 0.75
"""Preload as a part of proof for joints that are opened again (Shigley)."""
FACE_FRICTION = 0.15
"""Between dry steel faces (from memory)."""


def dowels(count: int, diameter: float, circle: float) -> float:
    """What fitted dowels between faces carry in shear, N·m: n·A·0.577·S_y·R.

    ``count`` n of dowels of ``diameter`` on ``circle``, m; hardened pins of 650 MPa (estimate). Source: Shigley.

    >>> round(dowels(2, 0.01, 0.2))
    5891
    """
    return count * math.pi / 4 * diameter**2 * SHEAR * DOWEL_YIELD * circle / 2


def flange_bolts(count: int, diameter: float, circle: float, grade: str = "8.8") -> tuple[float, float]:
    """What a ring of bolts between faces carries, N·m: by friction n·F·μ·R, the working capacity, and by shear
    n·A·0.577·S_y·R, the reserve.

    ``diameter`` of the thread and ``circle`` through the bolts' centres in m; ``grade`` their class (ISO 898-1).
    Source: Shigley, bolted joints in shear. ``count`` n of bolts.

    >>> [round(v) for v in flange_bolts(10, 0.011, 0.24)]
    [5696, 31163]
    """
    area = math.pi / 4 * diameter**2
    proof, strength = BOLT_CLASSES[grade]
    clamp = PRELOAD * TENSILE_PART * area * proof
    return count * clamp * FACE_FRICTION * circle / 2, count * TENSILE_PART * area * SHEAR * strength * circle / 2
