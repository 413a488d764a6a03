"""Involute spline sizes in the inch (diametral pitch) system. Source: ANSI B92.1, quoted from memory."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

INCH = 0.0254
RootForm = Literal["45_flat", "30_flat", "30_fillet"]
STANDARD_PITCHES = (2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20, 24, 32, 40, 48, 64, 80, 128)


@dataclass(frozen=True)
class SplineSize:
    """Diameters of an external spline, m."""

    pitch_diameter: float
    major: float
    minor: float


def spline_size(teeth: int, pitch: float, root: RootForm = "45_flat") -> SplineSize:
    """Pitch diameter N/P, external major (N + 1)/P, external minor by root form, in m.

    Minor: 45° flat root (N − 1)/P; 30° flat root (N − 1.35)/P; 30° fillet root (N − 1.8)/P to pitch 12/24 and
    (N − 2)/P from 16/32. ``pitch`` is teeth per inch. Raises ``ValueError`` for fewer than 6 teeth.

    >>> s = spline_size(35, 24)
    >>> round(s.major / INCH, 4), round(s.minor / INCH, 4)
    (1.5, 1.4167)
    """
    if teeth < 6 or pitch <= 0:
        raise ValueError("a spline has at least 6 teeth and a positive pitch")
    less = {"45_flat": 1.0, "30_flat": 1.35, "30_fillet": 1.8 if pitch <= 12 else 2.0}[root]
    return SplineSize(teeth / pitch * INCH, (teeth + 1) / pitch * INCH, (teeth - less) / pitch * INCH)


def pitch_from_major(teeth: int, major: float) -> float | None:
    """The standard pitch within 1 % of (N + 1)/D for a measured major diameter (m); ``None``: ask.

    >>> pitch_from_major(30, 0.0328)
    24.0
    """
    found = (teeth + 1) / (major / INCH)
    nearest = min(STANDARD_PITCHES, key=lambda p: abs(p - found))
    return float(nearest) if abs(nearest - found) <= 0.01 * nearest else None
