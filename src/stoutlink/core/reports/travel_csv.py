"""The travel of one axle as a CSV table: every curve over heave, then over roll; SI-friendly units in the headings."""

from __future__ import annotations

import math

import numpy as np

from stoutlink.core.analysis.cycle.curve_sure import Bands
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.tables import table_text

_UNITS = {
    "length": ("mm", 1000.0),
    "angle": ("deg", 180.0 / math.pi),
    "percent": ("pct", 1.0),
    "number": ("", 1.0),
    "spring_rate": ("N_per_mm", 1e-3),
}


def travel_csv(travel: AxleTravel, sure: Bands | None = None) -> str:
    """Write the table: one row a station, columns ``over`` (heave or roll), ``heave_mm``, ``roll_deg``, then each
    number with its unit, and with ``sure`` its ± (95 %, 2 σ) in columns ending in ``_pm``; what is not reached or not
    defined is left empty. Ends with one row a pair of parts: least distance and where, under headings of its own."""
    rows: list[list[str]] = []
    names = [f"{c.id}_{_UNITS[c.kind][0]}".rstrip("_") for c in travel.curves]
    sure = sure or {}
    banded = [c for c in travel.curves if c.id in sure]
    rows.append(
        [
            "over",
            "heave_mm",
            "roll_deg",
            *names,
            *(f"{name}_pm" for name, c in zip(names, travel.curves, strict=True) if c.id in sure),
        ]
    )
    g = travel.grid
    for over, count in (("heave", len(g.heave)), ("roll", len(g.roll))):
        for i in range(count):
            heave, roll = (g.heave[i], 0.0) if over == "heave" else (0.0, g.roll[i])
            values = [(c.heave if over == "heave" else c.roll)[i] * _UNITS[c.kind][1] for c in travel.curves]
            values += [2.0 * sure[c.id][0 if over == "heave" else 1][i] * _UNITS[c.kind][1] for c in banded]
            rows.append(
                [
                    over,
                    f"{heave * 1000:.2f}",
                    f"{math.degrees(roll):.3f}",
                    *(f"{v:.5g}" if np.isfinite(v) else "" for v in values),
                ]
            )
    rows.append([])
    rows.append(["one", "other", "least_mm", "wanted_mm", "heave_mm", "roll_deg", "steer_deg"])
    for c in travel.interference.contacts:
        steer = "" if c.steer is None else f"{math.degrees(c.steer):.1f}"
        where = ["", ""] if c.apart else [f"{c.heave * 1000:.1f}", f"{math.degrees(c.roll):.1f}"]
        rows.append([c.one, c.other, f"{c.least * 1000:.1f}", f"{c.wanted * 1000:.1f}", *where, steer])
    return table_text(rows)
