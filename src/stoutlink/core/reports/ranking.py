"""A ranking of pairs as plain data and as text."""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.analysis.swap.pick import CRITERIA, Ranking
from stoutlink.core.document.price_text import money_words
from stoutlink.core.document.project import Project
from stoutlink.core.quantity.shown import show

KEYS = {
    "strength": "strength_margin",
    "weight": "weight_kg",
    "clearance": "clearance_m",
    "cost": "cost_to_ready",
    "hours": "work_hours",
    "manners": "road_manners",
}
"""Criterion → key with its unit."""


def ranking_results(project: Project, found: Ranking) -> dict[str, Any]:
    """A ranking for JSON; what is not known, or not asked for, is ``null``."""
    return {
        "ranking_version": 1,
        "project": project.name,
        "currency": project.swap.choosing.currency,
        "weights": found.weights,
        "least_margin": project.swap.choosing.least_margin,
        "considered": found.considered,
        "ruled_out": found.ruled_out,
        "same_feel_ratio": found.wanted_ratio,
        "pairs": [
            {
                "front": None if one.front is None else one.front.id,
                "rear": None if one.rear is None else one.rear.id,
                "front_gears": None if one.gears[0] is None else str(one.gears[0]),
                "rear_gears": None if one.gears[1] is None else str(one.gears[1]),
                "score": one.score,
                **{KEYS[name]: value if math.isfinite(value) else None for name, value in one.numbers.items()},
                "scaled": one.scaled,
                "crawl_ratio": one.crawl if math.isfinite(one.crawl) else None,
                "unbeaten": one.on_front,
                "not_known": list(one.unknown),
            }
            for one in found.best
        ],
    }


def ranking_text(project: Project, data: dict[str, Any]) -> str:
    """The same for reading, in the project's unit and with the axles' names: one pair a line."""
    names = {d.id: d.name for d in project.swap.donors}
    lines = [f"{data['considered']} pairs, {data['ruled_out']} ruled out by their gears"]
    for place, one in enumerate(data["pairs"], 1):
        numbers = ", ".join(
            f"{CRITERIA[name][0].lower()} {'–' if one[key] is None else criterion_words(project, name, one[key])}"
            for name, key in KEYS.items()
        )
        gears = f"{one['front_gears'] or '–'} / {one['rear_gears'] or '–'}"
        lines.append(
            f"{place:3d}  {one['score']:.3f}  {names.get(one['front'], '–')} + {names.get(one['rear'], '–')}  gears {gears}  {numbers}"
        )
    return "\n".join(lines)


def criterion_words(project: Project, name: str, value: float) -> str:
    """A criterion's number as a person reads it."""
    unit = project.settings.units
    if name == "weight":
        return show(value, "mass", unit)
    if name == "clearance":
        return show(value, "length", unit, decimals=1 if unit == "in" else 0)
    if name == "cost":
        return f"{money_words(value)} {project.swap.choosing.currency}".strip()
    if name == "hours":
        return f"{value:g} h"
    return f"{value:.0%}" if name == "manners" else f"{value:.2f}"
