"""Shocks and springs over travel: lengths, motion ratio, wheel rate, roll stiffness, frequency.

Source: Shigley, helical springs and torsion; statics.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def lengths(frame: Array, axle: Array) -> Array:
    """Distance of a frame point ``(3,)`` from an axle point as it moves ``(..., 3)``, m.

    ``frame`` and ``axle`` in the same axes, m.

    >>> lengths(np.zeros(3), np.array([[0.0, 3.0, 4.0]])).tolist()
    [5.0]
    """
    return np.asarray(np.linalg.norm(axle - frame, axis=-1))


def motion_ratio(length: Array, travel: Array) -> Array:
    """d(spring length)/d(wheel height) along a path, positive when bump shortens it; ``nan`` at holes. Differences in
    the middle of neighbours.

    ``length`` and ``travel`` ``(n,)`` m.

    >>> motion_ratio(np.array([0.5, 0.45, 0.4]), np.array([0.0, 0.1, 0.2])).round(6).tolist()
    [0.5, 0.5, 0.5]
    """
    return np.asarray(-np.gradient(length, travel))


def dual_rate(main: float, tender: float | None, slider: float | None, shortening: Array) -> Array:
    """Rate of a main spring with a tender above it, N/m, at a shortening of both together from free (m): in series
    until the tender is shorter by ``slider``, then the main alone.

    >>> dual_rate(30000.0, 60000.0, 0.05, np.array([0.01, 0.3])).tolist()
    [20000.0, 30000.0]
    """
    if tender is None:
        return np.full(np.shape(shortening), main)
    both = main * tender / (main + tender)
    if slider is None:
        return np.full(np.shape(shortening), both)
    reached = slider * (main + tender) / main  # of both together, when the tender is shorter by ``slider``
    return np.asarray(np.where(shortening < reached, both, main))


def frequency(rate: float, mass: float) -> float:
    """Natural frequency, Hz, of a rate (N/m) under a mass (kg).

    >>> round(frequency(30000.0, 400.0), 3)
    1.378
    """
    return math.sqrt(rate / mass) / (2.0 * math.pi)


def roll_rate(rate: float, spacing: float) -> float:
    """Roll stiffness of a pair of springs ``spacing`` apart along the axle, N·m/rad: ½·k·b²; the track does not come
    into it.

    ``rate`` k of one N/m, ``spacing`` b m.

    >>> roll_rate(30000.0, 1.0)
    15000.0
    """
    return 0.5 * rate * spacing**2


G_SPRING, E_SPRING = 79.3e9, 207e9
"""Shear and elastic modulus of spring steel, Pa (from memory)."""
ATMOSPHERE = 101325.0


def air_force(diameter: float, growth: float, volume: float, pressure: float, bump: Array, exponent: float) -> Array:
    """Force of an air spring, N, at ``bump`` m of its own shortening from ride: (p − p_atm)·A with p = p₀·(V₀/V)ⁿ.

    ``diameter`` m of the effective circle at ride, growing by ``growth`` for a unit of bump; ``volume`` m³ and gauge
    ``pressure`` Pa at ride; exponent 1.0 slow (isothermal), 1.4 fast (adiabatic). V falls by the integral of A;
    ``nan`` where it is used up. Its slope is n·p_abs·A²/V + p_gauge·dA/dz.

    >>> air_force(0.15, 0.0, 0.005, 4e5, np.array([0.0]), 1.3).round().tolist()
    [7069.0]
    """
    across = np.maximum(0.0, diameter + growth * bump)
    area = 0.25 * np.pi * across**2
    swept = 0.25 * np.pi * (diameter**2 * bump + diameter * growth * bump**2 + growth**2 * bump**3 / 3.0)
    left = volume - swept
    with np.errstate(invalid="ignore", divide="ignore"):
        absolute = (pressure + ATMOSPHERE) * (volume / left) ** exponent
    return np.asarray(np.where(left > 0, (absolute - ATMOSPHERE) * area, np.nan))


def bar_roll_rate(
    outside: float,
    bore: float,
    length: float,
    arm: float,
    spread: float,
    arm_section: tuple[float, float] | None = None,
) -> tuple[float, float]:
    """Anti-roll bar: roll stiffness N·m/rad, and its rate per relative travel of its ends, N/m.

    The bar twists: k = G·J/(L·a²) for the travel of one end against the other, J = π(D⁴ − d⁴)/32; each arm bends as a
    cantilever of section (height, thickness), 3·E·I/a³, in series with it, both arms taking part: 1/k = L·a²/(G·J) +
    2·a³/(3·E·I). The axle rolled by φ moves the ends apart by ``spread``·φ, so K_φ = k·spread². Source: torsion of a
    round bar and a cantilever (Shigley); *derived*. ``outside`` diameter, ``bore`` and ``length`` of the twisted part
    m, ``arm_section`` of its arms m. Raises ``ValueError`` for a bore that does not fit.

    >>> [round(v) for v in bar_roll_rate(0.025, 0.0, 0.9, 0.3, 1.0)]
    [37545, 37545]
    """
    if min(outside, length, arm, spread) <= 0 or bore >= outside:
        raise ValueError("bar, length, arm and spread must be positive, the bore less than the outside")
    give = length * arm**2 / (G_SPRING * np.pi * (outside**4 - bore**4) / 32.0)
    if arm_section is not None:
        high, thick = arm_section
        give += 2.0 * arm**3 / (3.0 * E_SPRING * thick * high**3 / 12.0)
    rate = 1.0 / give
    return float(rate * spread**2), float(rate)
