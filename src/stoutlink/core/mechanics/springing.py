"""Shocks and springs over travel: lengths, motion ratio, wheel rate, roll stiffness, frequency."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def lengths(frame: Array, axle: Array) -> Array:
    """Distance of a frame point ``(3,)`` from an axle point as it moves ``(..., 3)``, m."""
    return np.asarray(np.linalg.norm(axle - frame, axis=-1))


def motion_ratio(length: Array, travel: Array) -> Array:
    """d(spring length)/d(wheel height) along a path, positive when bump shortens it; ``nan`` at holes. Differences in the middle of neighbours."""
    return np.asarray(-np.gradient(length, travel))


def dual_rate(main: float, tender: float | None, slider: float | None, shortening: Array) -> Array:
    """Rate of a main spring with a tender above it, N/m, at a shortening of both together from free (m): in series until the tender is
    shorter by ``slider``, then the main alone."""
    if tender is None:
        return np.full(np.shape(shortening), main)
    both = main * tender / (main + tender)
    if slider is None:
        return np.full(np.shape(shortening), both)
    reached = slider * (main + tender) / main  # of both together, when the tender is shorter by ``slider``
    return np.asarray(np.where(shortening < reached, both, main))


def frequency(rate: float, mass: float) -> float:
    """Natural frequency, Hz, of a rate (N/m) under a mass (kg)."""
    return math.sqrt(rate / mass) / (2.0 * math.pi)


def roll_rate(rate: float, spacing: float) -> float:
    """Roll stiffness of a pair of springs ``spacing`` apart along the axle, N·m/rad: ½·k·b²; the track does not come into it."""
    return 0.5 * rate * spacing**2


def coil_rate(wire: float, mean: float, active: float, shear: float = 79.3e9) -> float:
    """Rate of a coil, N/m: G·d⁴/(8·D³·N). Wire d and mean diameter D in m. Source: Shigley, helical springs (G of spring steel from memory)."""
    if min(wire, mean, active) <= 0:
        raise ValueError("wire, diameter and coils must be positive")
    return shear * wire**4 / (8.0 * mean**3 * active)
