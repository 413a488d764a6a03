"""What a bolt is tightened to where nobody says: an estimate by the handbook's formula, from its thread and grade."""

from __future__ import annotations

import math

from msgspec import Struct

INCH, KSI = 0.0254, 6.894757293168e6
COARSE_INCH = {0.25: 20, 0.3125: 18, 0.375: 16, 0.4375: 14, 0.5: 13, 0.5625: 12, 0.625: 11, 0.75: 10, 0.875: 9, 1.0: 8}
"""Threads an inch by diameter, in (unified coarse, ASME B1.1)."""
COARSE_METRIC = {6: 1.0, 8: 1.25, 10: 1.5, 12: 1.75, 14: 2.0, 16: 2.0, 18: 2.5, 20: 2.5, 22: 2.5, 24: 3.0}
"""Pitch by diameter, mm (ISO 261 coarse)."""
NEAR = 0.2e-3
"""A diameter this near to one of the tables, m, is that one."""
DRY, OILED = 0.20, 0.16
"""Nut factor by the state of the thread (common practice: 0.20 dry, 0.15 to 0.18 lubricated)."""
SHARE = 0.75
"""Preload over proof load of a bolt that is undone again (Shigley, ch. 8)."""


class Thread(Struct, frozen=True):
    """A coarse thread: its name, diameter and pitch m, and whether it is metric."""

    name: str
    diameter: float
    pitch: float
    metric: bool


def coarse_thread(diameter: float) -> Thread | None:
    """The coarse thread of a bolt of this ``diameter``, m; ``None`` for one that is in neither table. Source: the tables
    above.

    >>> coarse_thread(0.0159).name, coarse_thread(0.016).name, coarse_thread(0.0137)
    ('5/8-11', 'M16 × 2', None)
    """
    found = [(abs(d * INCH - diameter), Thread(_inch(d, n), d * INCH, INCH / n, False)) for d, n in COARSE_INCH.items()]
    found += [
        (abs(d * 1e-3 - diameter), Thread(f"M{d} × {p:g}", d * 1e-3, p * 1e-3, True)) for d, p in COARSE_METRIC.items()
    ]
    off, thread = min(found, key=lambda one: one[0])
    return thread if off <= NEAR else None


def _inch(diameter: float, threads: int) -> str:
    top, below = (diameter * 16).as_integer_ratio()[0], 16
    while top % 2 == 0 and below > 1:
        top, below = top // 2, below // 2
    return f"{top}-{threads}" if below == 1 else f"{top}/{below}-{threads}"


def tensile_area(diameter: float, pitch: float, metric: bool) -> float:
    """Tensile stress area, m², of a thread of ``diameter`` and ``pitch`` m: π/4·(d − 0.9743·p)², ``metric`` with 0.9382.
    Source: ASME B1.1, ISO 898-1.

    >>> round(tensile_area(0.625 * 0.0254, 0.0254 / 11, False) / 0.0254**2, 3), round(tensile_area(0.016, 0.002, True) * 1e6)
    (0.226, 157)
    """
    return math.pi / 4.0 * (diameter - (0.9382 if metric else 0.9743) * pitch) ** 2


def grade_of(yield_pa: float, metric: bool) -> str:
    """The grade a bolt of this yield strength ``yield_pa``, Pa, passes as; "" for one below those named. Source: SAE
    J429 (``metric``: ISO 898-1), least yield strengths, from memory.

    >>> grade_of(895e6, False), grade_of(895e6, True), grade_of(250e6, False)
    ('grade 8', '8.8', '')
    """
    table = (("12.9", 1100e6), ("10.9", 940e6), ("8.8", 640e6)) if metric else (("grade 8", 890e6), ("grade 5", 558e6))
    return next((name for name, least in table if yield_pa >= least), "")


def proof_strength(grade: str, diameter: float) -> float:
    """Proof strength, Pa, of a ``grade`` at a ``diameter``, m. Raises ``KeyError`` for a grade not named. Source: SAE
    J429 and ISO 898-1, from memory.

    >>> round(proof_strength("grade 5", 0.0127) / 6.894757e6), proof_strength("8.8", 0.020) / 1e6
    (85, 600.0)
    """
    if grade == "grade 5":
        return (85.0 if diameter <= INCH * (1 + 1e-9) else 74.0) * KSI
    if grade == "8.8":
        return 580e6 if diameter <= 0.016 + 1e-9 else 600e6
    return {"grade 8": 120.0 * KSI, "10.9": 830e6, "12.9": 970e6}[grade]


def torque(thread: Thread, grade: str, nut_factor: float = DRY) -> float:
    """Tightening torque, N·m, of a ``thread`` in a ``grade``: K·F·d with F = 0.75·S_p·A_t; ``nut_factor`` K by its state.
    Source: Shigley, ch. 8.

    >>> round(torque(coarse_thread(0.0127), "grade 8") / 1.3558179483)
    106
    """
    area = tensile_area(thread.diameter, thread.pitch, thread.metric)
    return nut_factor * SHARE * proof_strength(grade, thread.diameter) * area * thread.diameter
