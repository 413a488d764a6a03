"""Wheels and driveshaft first estimates: backspacing, the tyre turned to lock, shaft length and angles.

Source: plane geometry and common practice.
"""

from __future__ import annotations

import math

FLANGE = 0.0127
"""Each flange of a rim stands this much outside the bead seat, m (half an inch, common practice)."""


def backspacing(rim_width: float, offset: float) -> float:
    """From the mounting face to the inner edge of the rim, m: half the whole rim (bead width and two flanges) plus
    the offset.

    ``rim_width`` between the beads m.

    >>> round(backspacing(9 * 0.0254, 0.0) / 0.0254, 3)
    5.0
    """
    return (rim_width + 2 * FLANGE) / 2 + offset


def at_lock(axis: float, out: float, width: float, radius: float, lock: float, rise: float = 0.0) -> float:
    """Where the inside of a tyre comes to when turned about a steering axis, m from the centreline; smaller is nearer
    the frame.

    ``axis`` is the steering axis from the centreline and ``out`` the tyre's middle outside it, ``width`` and
    ``radius`` its own, ``lock`` in rad (either way: the nearer end counts), ``rise`` the height above the hub at
    which the frame stands: there the tyre is as long as its chord. The steering axis is taken upright; caster and
    inclination are left out of this first estimate.

    >>> round(at_lock(0.7, 0.1, 0.3, 0.45, 0.0), 6)
    0.65
    """
    chord = math.sqrt(max(0.0, radius**2 - rise**2))
    return axis + (out - width / 2) * math.cos(lock) - chord * math.sin(abs(lock))


def driveshaft(
    output: tuple[float, float, float], joint: tuple[float, float, float], output_down: float
) -> tuple[float, float, float]:
    """Length between joint centres (m), angle at the output joint in space, and sideways angle in plan (rad).

    ``output_down`` is how far the output's axis points down towards the axle, rad.

    >>> length, angle, sideways = driveshaft((1.0, 0.0, 0.6), (0.0, 0.0, 0.6), 0.0)
    >>> length, angle, sideways
    (1.0, 0.0, 0.0)
    """
    d = [b - a for a, b in zip(output, joint, strict=True)]
    length = math.hypot(*d)
    along = math.copysign(1.0, d[0]) if d[0] else 1.0
    axis = (along * math.cos(output_down), 0.0, -math.sin(output_down))
    cross = (d[1] * axis[2] - d[2] * axis[1], d[2] * axis[0] - d[0] * axis[2], d[0] * axis[1] - d[1] * axis[0])
    dot = sum(a * b for a, b in zip(d, axis, strict=True))
    return length, abs(math.atan2(math.hypot(*cross), dot)), abs(math.atan2(d[1], abs(d[0])))
