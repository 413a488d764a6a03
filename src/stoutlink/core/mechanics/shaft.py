"""Axle shafts in torsion, and the torque that reaches them."""

from __future__ import annotations

import math

SHEAR = 0.577
"""Shear yield over tensile yield, distortion energy (Shigley)."""


def yield_torque(diameter: float, yield_strength: float, bore: float = 0.0) -> float:
    """Torque at which a round shaft starts to stay twisted, N·m: 0.577·S_y·π(d⁴ − d_i⁴)/(16·d).

    ``diameter`` at the spline root, neck or groove and ``bore`` in m, ``yield_strength`` Pa (core, not the hard skin).
    Fully plastic is 4/3 of it for a solid shaft. Raises ``ValueError`` unless 0 ≤ bore < diameter.
    Source: Shigley's Mechanical Engineering Design, torsion of round bars with the distortion-energy criterion.
    """
    if not 0 <= bore < diameter:
        raise ValueError("bore must be smaller than the diameter")
    return SHEAR * yield_strength * math.pi * (diameter**4 - bore**4) / (16 * diameter)


def wheel_torque_bound(engine: float, friction: float, wheel_load: float, loaded_radius: float, hub: float = 1.0) -> float:
    """Largest torque one shaft of a locked axle can see, N·m: min(E, μ·N·r_L/i_h).

    ``engine`` E is what the engine can send to the whole axle (after the ring gear), ``wheel_load`` N, radius m.
    Source: statics of a rolling wheel at its friction limit.
    """
    return min(engine, friction * wheel_load * loaded_radius / hub)
