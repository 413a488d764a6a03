"""How far a weld bends a tube.

A bead shrinks as it cools and pulls on its own side of the neutral axis. Along the tube it bends the length it covers by
κ = factor·A_w·d/I (section of the weld A_w, distance d from the neutral axis, second moment I): with the factor 0.04 a weld
along the whole of a member on two supports gives the handbook's 0.005·A_w·d·L²/I in its middle. A bead across the tube
bends it by the same turn a bead of its volume does along, at its place; its arm is the mean over the arc it covers
(derived: the shrinkage goes with the volume of weld). Source: Blodgett, distortion of members by longitudinal welds, from
memory, ± 50 %.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
FACTOR, FACTOR_SURE = 0.04, 0.5
"""Shrinkage of a weld over its section, and how sure that is (a part of it, ± 2 σ)."""


def tube_section(od: float, wall: float) -> tuple[float, float]:
    """Area, m², and second moment, m⁴, of a tube of outside ``od`` and ``wall``, m. Source: two circles.

    >>> area, second = tube_section(0.0762, 0.00635)
    >>> round(area * 1e6), round(second * 1e8, 1)
    (1393, 85.7)
    """
    inside = od - 2.0 * wall
    return math.pi / 4.0 * (od**2 - inside**2), math.pi / 64.0 * (od**4 - inside**4)


def fillet_section(leg: float) -> float:
    """Section of a fillet of equal legs, m²; ``leg`` m. Source: half of a square.

    >>> round(fillet_section(0.006) * 1e6, 6)
    18.0
    """
    return 0.5 * leg**2


def bend(section: float, arm: float, second: float, factor: float = FACTOR) -> float:
    """Curvature of the length a bead covers, 1/m, towards the bead: ``section`` of the weld m², ``arm`` from the
    neutral axis m, ``second`` moment m⁴, ``factor`` the weld's shrinkage over its section. Source: as above.

    >>> round(bend(20e-6, 0.0381, 85.7e-8) * 1.0**2 / 8.0 * 1e3, 3)
    4.446
    """
    return factor * section * arm / second


def arc_arm(radius: float, length: float) -> float:
    """Mean distance from the axis, towards its middle, of a bead that goes ``length`` round a tube of ``radius``, m: the
    centre of an arc (geometry). All round it is nothing; ``radius`` and ``length`` m.

    >>> arc_arm(0.04, 0.0), round(arc_arm(0.04, math.pi * 0.04) / 0.04, 4)
    (0.04, 0.6366)
    """
    half = min(0.5 * length / radius, math.pi)
    return radius if half < 1e-9 else radius * math.sin(half) / half


def miss_at(far: Array | float, turns: Array, begins: Array, ends: Array) -> Array:
    """How far places ``far`` from the casting have moved across, m, where each bead turns the tube by ``turns`` rad
    evenly between ``begins`` and ``ends`` (from the casting, m; the same for a kink): shape (places, beads). What lies
    further in has not moved. Source: curvature integrated twice.

    >>> [round(float(v), 4) for v in miss_at(np.array([0.1, 0.2, 1.0]), np.array([0.02]), np.array([0.1]), np.array([0.3])).ravel()]
    [0.0, 0.0005, 0.016]
    """
    x = np.asarray(far, dtype=np.float64).reshape(-1, 1)
    wide = np.maximum(ends - begins, 1e-12)
    inside = np.clip(x - begins, 0.0, wide)
    return turns * (inside**2 / (2.0 * wide) + np.maximum(x - ends, 0.0))
