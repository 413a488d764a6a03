"""Layouts of one end beside each other: as rows of words, and as plain data."""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.shown import show
from stoutlink.core.study.options import Option

NONE = "–"


def option_rows(project: Project, found: tuple[Option, ...]) -> list[tuple[str, list[tuple[str, bool]]]]:
    """Word, and for every layout its cell with whether it is out of its band or in danger; empty without layouts."""
    if not found:
        return []
    unit, currency = project.settings.units, project.swap.choosing.currency
    end = 0 if found[0].layout.end == "rear" else 1
    rows: list[tuple[str, list[tuple[str, bool]]]] = []
    for name, line in HEADLINES.items():
        gauges = [one.gauges.get(name) for one in found]
        if any(g is not None for g in gauges):
            cells = [(NONE, False) if g is None else (g.text, g.standing == "out") for g in gauges]
            rows.append((line.title[end], cells))

    def row(word: str, cells: list[tuple[str, bool]]) -> None:
        rows.append((word, cells))

    row(
        "Free of the travel",
        [(NONE if one.free is None or not math.isfinite(one.free) else f"{one.free:.0%}", False) for one in found],
    )
    nearest = []
    for one in found:
        c = one.nearest
        gap = NONE if c is None else show(c.least, "length", unit, decimals=2 if unit == "in" else 0)
        nearest.append((gap, c is not None and c.least < 0))
    row("Nearest pair", nearest)
    row("Dangers, to look at", [(f"{one.dangers}, {one.warnings}", one.dangers > 0) for one in found])
    row("Links to cut", [(str(one.links), False) for one in found])
    row("Cost to ready", [(NONE if one.cost is None else f"{one.cost:.0f} {currency}".strip(), False) for one in found])
    row("Hours", [(NONE if one.hours is None else f"{one.hours:.1f}", False) for one in found])
    row("Rejected because", [(one.layout.rejected or NONE, False) for one in found])
    return rows


def option_results(found: tuple[Option, ...]) -> list[dict[str, Any]]:
    """JSON-ready: a layout each, numbers in the gauges' own units."""
    return [
        {
            "layout": one.layout.id,
            "name": one.layout.name,
            "kind": one.layout.kind,
            "in_use": one.used,
            "numbers": {name: _finite(g.value) for name, g in one.gauges.items()},
            "out_of_band": [name for name, g in one.gauges.items() if g.standing == "out"],
            "free_part": None if one.free is None else _finite(one.free),
            "nearest_m": None if one.nearest is None else one.nearest.least,
            "nearest_pair": None if one.nearest is None else [one.nearest.one, one.nearest.other],
            "dangers": one.dangers,
            "to_look_at": one.warnings,
            "links_to_cut": one.links,
            "cost_to_ready": one.cost,
            "hours": one.hours,
            "rejected_because": one.layout.rejected or None,
            "why_not_worked_out": one.why or None,
        }
        for one in found
    ]


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None
