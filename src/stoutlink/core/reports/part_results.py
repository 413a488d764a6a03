"""Axles made of several, parts planned into one, and the cutting plan, as plain data."""

from __future__ import annotations

from typing import Any

from stoutlink.core.analysis.linkage.stock_plan import TubePlan
from stoutlink.core.analysis.swap.fitted import FittedSet
from stoutlink.core.study.study import Study


def made_results(study: Study, name: str) -> dict[str, Any]:
    """Where the parts of an axle made of several are from."""
    axle = next((d for d in study.project.donors if d.id == name), None)
    found = None if axle is None else study.made_of(axle)
    if found is None:
        return {"axle": name, "parts": {}, "meets": [], "new": [], "to_measure": []}
    return {
        "axle": name,
        "parts": {part: None if one is None else one.id for part, one in found.origins},
        "meets": [{"which": m.title, "fits": m.fits, "why": m.why} for m in found.mates],
        "new": [{"what": n.what, "why": n.why} for n in found.new],
        "to_measure": list(found.to_measure),
    }


def set_results(one: FittedSet) -> dict[str, Any]:
    """One end as planned."""
    return {
        "end": one.end,
        "goes_in": [part.id for part in one.parts],
        "meets": [{"which": m.title, "fits": m.fits, "why": m.why} for m in one.mates],
        "comes_out": [{"part": f.part.name, "serves": f.serves} for f in one.freed],
    }


def plan_results(one: TubePlan) -> dict[str, Any]:
    """One kind of tube cut up."""
    return {
        "od_m": one.od,
        "wall_m": one.wall,
        "material": one.material,
        "proved": one.plan.proved,
        "cost": one.cost,
        "bars": [
            {
                "bar": one.bar_of(used).id,
                "offcut": used.offcut,
                "length_m": one.bar_of(used).length_m,
                "pieces": [
                    {"layout": p.layout, "link": p.link, "length_m": p.length}
                    for p in (one.pieces[i] for i in used.pieces)
                ],
                "left_m": used.left,
            }
            for used in one.plan.bars
        ],
        "no_bar_for": [
            {"layout": p.layout, "link": p.link, "length_m": p.length}
            for p in (one.pieces[i] for i in one.plan.too_long)
        ],
    }
