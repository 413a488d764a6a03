"""The full-bump sheet: what the travel says at ride, at both stops and crossed, with a column to write in what the tape
says. As a table, as text, as data."""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.analysis.cycle.full_bump import BumpSheet, Measured
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.shown import show
from stoutlink.core.tables import table_text

NOTE = "Worked out from the layout: whatever the tape says counts. Springs out, axle on stands and chained, nobody under it while it moves."


def bump_words(project: Project, one: Measured) -> list[str]:
    """The values of a row in the project's unit; "–" where not reached."""
    unit = project.settings.units
    out = []
    for v in one.values:
        if v is None:
            out.append("–")
        elif one.kind == "angle":
            out.append(f"{math.degrees(v):.1f}°".replace("-", "−"))
        else:
            out.append(show(v, "length", unit, decimals=2 if unit == "in" else 0))
    return out


def bump_rows(project: Project, travel: AxleTravel, sheet: BumpSheet) -> list[list[str]]:
    """Heading, where the axle stands, then a row each with an empty cell for what is measured behind every value."""
    unit = project.settings.units
    head, stands = ["measure", "from where to where"], ["axle's middle from ride, roll", ""]
    for word, heave, roll in sheet.poses:
        lean = "" if abs(roll) < 1e-9 else f", {math.degrees(roll):.1f}°"
        head += [word, "measured"]
        stands += [f"{show(heave, 'length', unit, decimals=2 if unit == 'in' else 0)}{lean}".replace("-", "−"), ""]
    rows = [head, stands]
    for one in sheet.rows:
        rows.append([one.words, one.how, *(cell for value in bump_words(project, one) for cell in (value, ""))])
    return rows


def bump_csv(project: Project, travel: AxleTravel, sheet: BumpSheet) -> str:
    """The sheet as a table."""
    title = [f"{project.name}: {travel.layout.end} axle, {travel.layout.name}", NOTE]
    return table_text([title, *bump_rows(project, travel, sheet)])


def bump_results(sheet: BumpSheet) -> dict[str, Any]:
    """JSON-ready, m and degrees."""
    return {
        "poses": [{"pose": w, "heave_m": h, "roll_deg": math.degrees(r)} for w, h, r in sheet.poses],
        "measure": [
            {
                "id": one.id,
                "what": one.words,
                "how": one.how,
                "unit": "deg" if one.kind == "angle" else "m",
                "values": [None if v is None else math.degrees(v) if one.kind == "angle" else v for v in one.values],
            }
            for one in sheet.rows
        ],
    }
