"""Universal joints: angles in space, the wave they make in speed, what is left of it after two, and how fast a shaft
may turn.

Source: SAE AE-7, Universal Joint and Driveshaft Design Manual.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
LIMIT_DRIVE, LIMIT_INERTIA = 400.0, 1000.0
"""Torsional and inertial excitation, rad/s² (SAE AE-7, from memory)."""
WHIRL_PART = 0.75
"""Part of the first bending speed a shaft is kept below."""


def joint_angle(u: Array, v: Array) -> Array:
    """Angle between two axes pointing the same way along the line, rad ``(...)``, arguments ``(..., 3)``: atan2(|u ×
    v|, u·v).

    ``u`` and ``v`` need not be unit vectors.

    >>> float(joint_angle(np.array([1.0, 0.0, 0.0]), np.array([1.0, 1.0, 0.0])).round(4))
    0.7854
    """
    return np.asarray(np.arctan2(np.linalg.norm(np.cross(u, v), axis=-1), (u * v).sum(-1)))


def plane_angle(output: Array, shaft: Array, pinion: Array) -> Array:
    """Angle about the shaft between the plane of (output, shaft) and the plane of (shaft, pinion), rad ``(...)``; 0
    where a joint is straight.

    ``output``, ``shaft`` and ``pinion`` are axes ``(..., 3)``.

    >>> float(plane_angle(np.array([1.0, 0.0, 0.2]), np.array([1.0, 0.0, 0.0]), np.array([1.0, 0.2, 0.0])).round(4))
    1.5708
    """
    n1, n2 = np.cross(output, shaft), np.cross(shaft, pinion)
    return np.asarray(
        np.arctan2(
            (np.cross(n1, n2) * shaft).sum(-1) / np.maximum(np.linalg.norm(shaft, axis=-1), 1e-12), (n1 * n2).sum(-1)
        )
    )


def equivalent_angle(first: Array, second: Array, planes: Array, yokes: float) -> Array:
    """One joint's angle that makes the same wave as two, rad: (β₁⁴ + β₂⁴ − 2·β₁²·β₂²·cos 2(φ − γ))^¼ with the second
    joint's yoke square to the first's in the usual build, so that in one plane and in phase it is sqrt(|β₁² − β₂²|).
    Source: SAE AE-7 (*derived* for small angles).

    ``first`` and ``second`` joint angles and ``planes`` between them ``(...)`` rad, ``yokes`` rad from the usual
    build.

    >>> float(equivalent_angle(np.array(0.2), np.array(0.2), np.array(0.0), 0.0).round(6))
    0.0
    """
    a, b = first**2, second**2
    return np.asarray(np.maximum(0.0, a * a + b * b - 2.0 * a * b * np.cos(2.0 * (planes - yokes))) ** 0.25)


def equivalent_of_three(first: Array, second: Array, third: Array, planes: tuple[Array, Array], yokes: float) -> Array:
    """One joint's angle that makes the same wave as three, rad: two pieces with a carrier bearing between them.

    (|β₁² − β₂²·e^{2i·a} + β₃²·e^{2i·(a + b)}|)^½, a and b the angles between the planes about the front and the rear
    piece, ``yokes`` how far the rear piece's yokes are out of phase. *Derived* for small angles: each joint adds a
    wave of twice a turn, β²/2 high, and a piece with its yokes in phase turns the next one's by 90°. With a straight
    first joint it is the two-joint formula. Source of that: SAE AE-7. ``first``, ``second`` and ``third`` joint
    angles ``(...)`` rad.

    >>> float(equivalent_of_three(np.array(0.1), np.array(0.0), np.array(0.0), (np.array(0.0), np.array(0.0)), 0.0).round(6))
    0.1
    """
    a, b = planes
    wave = first**2 - second**2 * np.exp(2j * a) + third**2 * np.exp(2j * (a + b - yokes))
    return np.asarray(np.sqrt(np.abs(wave)))


def excitation(angle: Array, speed: float) -> Array:
    """Torsional acceleration of a joint's wave, rad/s²: ω²·β² (β rad, ω of the shaft rad/s).

    ``angle`` of the (equivalent) joint rad, ``speed`` of the shaft rad/s.

    >>> float(excitation(np.array(0.05), 200.0).round(6))
    100.0
    """
    return np.asarray(speed**2 * angle**2)


def whirl_speed(length: float, outside: float, wall: float, modulus: float = 207e9, density: float = 7850.0) -> float:
    """First bending speed of a tube on two joints, rad/s: (π/L)²·sqrt(E·I/(ρ·A)) (Euler–Bernoulli beam on simple
    supports).

    Lengths m, steel by default (from memory). For a thin tube I/A = (D² + d²)/16. Raises ``ValueError`` unless all
    are positive. ``length`` between joints, ``outside`` diameter and ``wall`` m; ``modulus`` Pa, ``density`` kg/m³.

    >>> round(whirl_speed(1.2, 0.0762, 0.0021) * 60 / (2 * math.pi), -2)
    8800.0
    """
    inside = outside - 2 * wall
    if min(length, outside, wall) <= 0 or inside < 0:
        raise ValueError("length, outside and wall must be positive and fit each other")
    return (math.pi / length) ** 2 * math.sqrt(modulus / density * (outside**2 + inside**2) / 16.0)
