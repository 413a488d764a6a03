"""What the fillet welds at the foot of a bracket's tabs carry."""

from __future__ import annotations

import math

from stoutlink.core.mechanics.shaft import SHEAR

THROAT = 0.7071
"""Of an equal-legged fillet, over its leg."""


def foot_welds(leg: float, foot: float, reach: float, wire: float, plate: float, lines: int = 4) -> float:
    """Load at the hole, N, at which the welds of a tab's foot shear through, whichever way in the tab's plane it pulls.

    Weld ``leg``, ``foot`` (length of one weld) and ``reach`` of the hole off the welded face m; yield strength of the
    ``wire`` and of the ``plate`` Pa; ``lines`` of weld (two tabs, both sides: 4). Direct stress 1/(n·b·t) and bending
    6·h/(n·b²·t) on the throat t = 0.707·leg are added as vectors; the way that is worst is taken. What the wire
    carries on its throat and the plate on its leg count as they are less. A reach of 0 leaves the direct stress alone;
    a leg or foot of 0 carries nothing. Source: Shigley, welds in bending (welds as lines), yield in shear 0.577·S_y.

    >>> round(foot_welds(0.006, 0.1, 0.0, 393e6, 400e6) / 1e3)
    385
    """
    throat = THROAT * leg
    if throat <= 0 or foot <= 0:
        return 0.0
    direct = 1.0 / (lines * foot * throat)
    bent = 6.0 * reach / (lines * foot**2 * throat)
    trace = bent**2 + 2.0 * direct**2
    most = 0.5 * (trace + math.sqrt(trace**2 - 4.0 * direct**4))
    return SHEAR * min(wire, plate / THROAT) / math.sqrt(most)


DEPOSIT = 0.95
"""Of the wire that ends up in the seam (solid wire under gas; common practice 0.93 to 0.98)."""
STEEL = 7850.0
"""Density, kg/m³."""


def wire_mass(leg: float, length: float) -> float:
    """Mass of wire, kg, that a fillet of ``leg`` m takes over a ``length`` of m: its triangle of leg²/2 in steel of 7850 kg/m³,
    over the 95 % of the wire that stays in the seam. A leg or length of 0 takes none. Source: geometry; the share that stays is
    common practice for solid wire.

    >>> round(wire_mass(0.006, 1.0), 3)
    0.149
    """
    return 0.5 * leg**2 * length * STEEL / DEPOSIT
