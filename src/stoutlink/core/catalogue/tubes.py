"""Round tube as it is sold, and the strengths the tool assumes where a record says nothing; SI units.

Sizes are drawn-over-mandrel tube as commonly stocked (from memory; any size may be typed). Yield strengths:
cold-drawn 1020 tube to ASTM A513 type 5, normalised 4130, 7075-T6 bar (all from memory). Beside a weld the drawn
steels fall to about 310–345 MPa (from memory).
"""

from __future__ import annotations

import itertools

from stoutlink.core.quantity.constants import INCH

YIELD: dict[str, float] = {"steel": 480e6, "steel_4130": 515e6, "aluminium": 500e6}
WELDED: dict[str, float] = {"steel": 325e6, "steel_4130": 345e6, "aluminium": 500e6}
"""Beside the weld of an insert; aluminium is threaded, not welded."""
MODULUS: dict[str, float] = {"steel": 207e9, "steel_4130": 207e9, "aluminium": 71.7e9}
DENSITY: dict[str, float] = {"steel": 7850.0, "steel_4130": 7850.0, "aluminium": 2810.0}
BOLT_YIELD, TAB_YIELD = 895e6, 250e6
"""A hardened bolt (130 ksi) and plain plate, from memory."""
WIRE_YIELD = 393e6
"""Of the usual mild steel wire (57 ksi; Shigley, minimum weld-metal properties, from memory)."""
_OUTSIDES = (1.0, 1.25, 1.5, 1.75, 2.0, 2.25, 2.5)
_WALLS = (0.095, 0.120, 0.188, 0.250, 0.3125, 0.375)
STOCK: tuple[tuple[float, float], ...] = tuple(
    (od * INCH, wall * INCH) for od, wall in itertools.product(_OUTSIDES, _WALLS) if wall <= 0.3 * od
)
"""(outside, wall), m."""
