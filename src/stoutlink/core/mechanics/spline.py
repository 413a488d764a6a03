"""Involute spline sizes in the inch (diametral pitch) system. Source: ANSI B92.1, quoted from memory."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from stoutlink.core.quantity.constants import INCH

RootForm = Literal["45_flat", "30_flat", "30_fillet", "37_fillet"]
STANDARD_PITCHES = (2.5, 3, 4, 5, 6, 8, 10, 12, 16, 20, 24, 32, 40, 48, 64, 80, 128)


class SplineSize(Struct, frozen=True):
    """Diameters of an external spline, m."""

    pitch_diameter: float
    major: float
    minor: float


def spline_size(teeth: int, pitch: float, root: RootForm = "45_flat") -> SplineSize:
    """Pitch diameter N/P, external major (N + 1)/P, external minor by root form, in m.

    Minor: 45° flat root (N − 1)/P; 30° flat root (N − 1.35)/P; 37.5° fillet root (N − 1.3)/P; 30° fillet root
    (N − 1.8)/P to pitch 12/24 and (N − 2)/P from 16/32. ``pitch`` is teeth per inch. Raises ``ValueError`` for fewer
    than 6 teeth.

    >>> s = spline_size(35, 24)
    >>> round(s.major / INCH, 4), round(s.minor / INCH, 4)
    (1.5, 1.4167)
    """
    if teeth < 6 or pitch <= 0:
        raise ValueError("a spline has at least 6 teeth and a positive pitch")
    less = {"45_flat": 1.0, "30_flat": 1.35, "37_fillet": 1.3, "30_fillet": 1.8 if pitch <= 12 else 2.0}[root]
    return SplineSize(teeth / pitch * INCH, (teeth + 1) / pitch * INCH, (teeth - less) / pitch * INCH)


def pitch_from_major(teeth: int, major: float) -> float | None:
    """The standard pitch within 1 % of (N + 1)/D for a measured major diameter (m); ``None``: ask.

    ``teeth`` N as counted.

    >>> pitch_from_major(30, 0.0328)
    24.0
    """
    found = (teeth + 1) / (major / INCH)
    nearest = min(STANDARD_PITCHES, key=lambda p: abs(p - found))
    return float(nearest) if abs(nearest - found) <= 0.01 * nearest else None


SHARING = 0.5
"""Part of the teeth that really carry (from memory)."""
_HEIGHT: dict[str, float] = {"45_flat": 0.8, "30_flat": 1.0, "30_fillet": 1.0, "37_fillet": 0.9}
"""Height of contact between shaft and hub teeth times the pitch (from memory: external major less internal minor,
halved).
"""


def tooth_torque(
    teeth: int, pitch: float, engaged: float, yield_strength: float, root: RootForm = "45_flat"
) -> tuple[float, float]:
    """Torque at which the teeth begin to shear and to be crushed, N·m: τ·(D/2)·s·N·t·L_e and S_y·(D/2)·s·N·h·L_e.

    ``engaged`` is the length L_e in m at its worst position, D the pitch diameter, t = π/(2P) the tooth at it, h the
    contact height, s = 0.5 the sharing, τ = 0.577·S_y. Raises ``ValueError`` for a length that is not positive.
    Source: shear and bearing of straight teeth (Shigley's treatment of keys carried over to splines); sharing from
    memory. ``yield_strength`` S_y Pa, ``root`` the form of the root.

    >>> shear, crush = tooth_torque(30, 24, 0.04, 900e6)
    >>> shear > crush / 2
    True
    """
    if engaged <= 0:
        raise ValueError("the engaged length must be positive")
    arm, inch_pitch = teeth / pitch * INCH / 2, INCH / pitch
    common = arm * SHARING * teeth * engaged * yield_strength
    return 0.577 * common * 1.5707963267948966 * inch_pitch, common * _HEIGHT[root] * inch_pitch


def same_spline(a: tuple[int, float, RootForm], b: tuple[int, float, RootForm]) -> str | None:
    """Why two splines (teeth, pitch, root form) do not go together, or ``None`` when all agree.

    ``a`` and ``b`` each as that triple, pitch in teeth to the inch; returns a sentence's part.

    >>> same_spline((30, 24, "45_flat"), (33, 24, "45_flat"))
    '30 teeth against 33'
    """
    if a[0] != b[0]:
        return f"{a[0]} teeth against {b[0]}"
    if abs(a[1] - b[1]) > 1e-9:
        return f"{a[1]:g} pitch against {b[1]:g}"
    if a[2][:2] != b[2][:2]:
        return f"{a[2][:2]}° teeth against {b[2][:2]}°"
    return None if a[2] == b[2] else "flat root against fillet root"
