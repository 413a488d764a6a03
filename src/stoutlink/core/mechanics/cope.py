"""Where a tube meets another tube or a plate: the line its end is cut along, unrolled.

Derived: a point of the branch at the angle φ about its axis, r from it, stands r·sin φ across the other tube's axis less
the offset e, and meets that tube (radius R) where its height is √(R² − (r·sin φ − e)²). Along the branch, from where the
axes cross in side view, z·sin θ − r·cos φ·cos θ is that height. Source: geometry of cylinders.
"""

from __future__ import annotations

import math

from msgspec import Struct

LEAST_ANGLE = math.radians(15.0)


class Cope(Struct, frozen=True):
    """The cut of a tube, m: ``outer`` is the line on its outside and ``inner`` on its bore, z along the tube over even
    steps of φ from the acute heel round; ``proud`` how far the bore's edge of a square cut stands past its line at
    most, and at which φ: that is to be bevelled off."""

    radius: float
    outer: tuple[float, ...]
    inner: tuple[float, ...]
    proud: float
    proud_at: float

    @property
    def depth(self) -> float:
        """From the highest point of the line to its lowest, m."""
        return max(self.outer) - min(self.outer)


def cope_line(r: float, big: float | None, theta: float, offset: float, phi: float) -> float:
    """z(φ) of a branch of radius ``r`` m on a tube of radius ``big`` m (``None``: a flat plate) at the angle ``theta``
    between them, the other's axis ``offset`` m to the side of φ = 90°, the right seen from
    the branch's free end with the heel below; ``phi`` rad from the acute heel. Raises
    ``ValueError`` where the branch misses the tube.

    >>> round(cope_line(0.02, 0.03, math.pi / 2, 0.0, 0.0), 9), round(cope_line(0.02, None, math.pi / 4, 0.0, 0.0), 9)
    (0.03, 0.02)
    """
    along = r * math.cos(phi) * math.cos(theta)
    if big is None:
        return along / math.sin(theta)
    across = r * math.sin(phi) - offset
    if abs(across) > big:
        raise ValueError("the branch stands past the other tube")
    return (math.sqrt(big * big - across * across) + along) / math.sin(theta)


def cope(r: float, wall: float, big: float | None, theta: float, offset: float, steps: int = 720) -> Cope:
    """The cut of a tube of outside radius ``r`` and ``wall`` m, on a tube of radius ``big`` m or a plate (``None``), at
    ``theta`` rad (15° to 90°), ``offset`` m; ``steps`` even ones round. Raises ``ValueError`` in words for what cannot
    be.

    >>> found = cope(0.0254, 0.003, 0.0254, math.pi / 2, 0.0)
    >>> round(found.depth, 6), round(found.proud, 6)
    (0.0254, 0.011975)
    """
    if not 0 < wall <= r:
        raise ValueError("its wall is more than half its outside")
    if not LEAST_ANGLE - 1e-12 <= theta <= math.pi / 2 + 1e-12:
        raise ValueError("the angle between the tubes has to be from 15° to 90°")
    if big is not None and r + abs(offset) > big + 1e-12:
        raise ValueError("it stands past the side of the other tube, so there is no line all round")
    turns = [2.0 * math.pi * k / steps for k in range(steps + 1)]
    outer = tuple(cope_line(r, big, theta, offset, v) for v in turns)
    inner = tuple(cope_line(r - wall, big, theta, offset, v) for v in turns)
    proud, at = max((b - a, v) for a, b, v in zip(outer, inner, turns, strict=True))
    return Cope(r, outer, inner, max(0.0, proud), at)
