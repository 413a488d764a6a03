"""Axles made of several, parts planned into one, the cutting plan, and parts of plate, as plain data."""

from __future__ import annotations

import math
from typing import Any

from stoutlink.core.analysis.bench.gear_sheet import GearSheet
from stoutlink.core.analysis.linkage.part import Part, PartChanges
from stoutlink.core.analysis.linkage.plate_plan import PlatePlan
from stoutlink.core.analysis.linkage.station_sheet import StationSheet
from stoutlink.core.analysis.linkage.stock_plan import TubePlan
from stoutlink.core.analysis.linkage.weld_plan import WeldBase, WeldSheet
from stoutlink.core.analysis.swap.fitted import FittedSet
from stoutlink.core.document.link_work import TubeCope
from stoutlink.core.mechanics.cope import Cope
from stoutlink.core.study.study import Study


def made_results(study: Study, name: str) -> dict[str, Any]:
    """Where the parts of an axle made of several are from."""
    axle = next((d for d in study.project.swap.donors if d.id == name), None)
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


def part_results(one: Part, changes: PartChanges | None) -> dict[str, Any]:
    """One part of plate: its sizes, and where those are from that nobody typed; what has changed since it was cut."""
    return {
        "part": one.id,
        "name": one.name,
        "count": one.count,
        "plate_m": one.thickness,
        "mass_kg": one.mass,
        "cut": changes is not None,
        "changed_since": [] if changes is None else [title for title, _, _ in changes.sizes],
        "sizes": [{"size": s.key, "value_m": s.value, "proposed": s.why} for s in one.sizes],
        "checks": [{"check": c.key, "value_m": c.value, "wanted_m": c.wanted, "good": c.good} for c in one.checks],
        "holes": [{"x_m": h.x, "y_m": h.y, "diameter_m": h.diameter} for h in one.pattern.holes],
        "places": [{"at_m": list(p.origin), "across": list(p.across), "up": list(p.up)} for p in one.places],
    }


def cope_results(one: TubeCope, found: Cope | str) -> dict[str, Any]:
    """A cope: how deep its line is and what a square cut leaves proud, or why there is none."""
    if isinstance(found, str):
        return {"cope": one.id, "why": found}
    return {
        "cope": one.id,
        "depth_m": found.depth,
        "proud_m": found.proud,
        "proud_at_deg": math.degrees(found.proud_at),
    }


def plate_results(one: PlatePlan) -> dict[str, Any]:
    """Parts of one thickness on their plates."""
    return {
        "plate_m": one.thickness,
        "plates": one.nested.plates,
        "used": one.used,
        "laid": [
            {"part": one.pieces[x.which].id, "plate": x.plate + 1, "at_m": list(x.at), "turned": x.turned}
            for x in one.nested.laid
        ],
        "no_plate_for": sorted({one.pieces[i].id for i in one.nested.too_large}),
    }


def station_results(one: StationSheet) -> dict[str, Any]:
    """Stations of a housing: where pads go, what was read, whether it closes."""
    return {
        "end": one.stations.id,
        "spacing_wanted_m": one.wanted,
        "offset_m": one.offset,
        "mark_left_m": one.mark,
        "right_then_m": one.right_then,
        "read": [
            {"of": of, "stage": stage, "value_m": r.value, "sigma_m": r.sigma, "count": r.count}
            for (of, stage), r in one.read.items()
        ],
        "closures": [{"stage": c.stage, "off_m": c.off, "allowed_m": c.two_sigma, "bad": c.bad} for c in one.closures],
        "ends": [
            {
                "side": e.side,
                "stage": e.stage,
                "miss_m": e.miss,
                "out": e.out,
                "toe_in_deg": None if e.toe is None else math.degrees(e.toe),
                "camber_deg": None if e.camber is None else math.degrees(e.camber),
                "moved_m": e.moved,
            }
            for e in one.ends
        ],
        "pinion_up_deg": None if one.pinion is None else math.degrees(one.pinion),
    }


def weld_results(base: WeldBase, sheet: WeldSheet | None) -> dict[str, Any]:
    """The weld plan of a housing: seams, beads in the order chosen, what they do to tubes and ends."""
    out: dict[str, Any] = {
        "end": base.plan.id,
        "missing": base.missing,
        "heat_input_j_per_m": base.input,
        "carbon_equivalent": base.equivalent,
        "seams": [
            {
                "id": s.id,
                "kind": s.kind,
                "runs": s.runs,
                "at_m": s.at,
                "around_deg": math.degrees(s.around),
                "length_m": s.length,
                "leg_m": s.leg,
            }
            for s in base.seams
        ],
        "left_out": [s.id for s in base.left_out],
        "pull_m": dict(zip(("left_up", "left_ahead", "right_up", "right_ahead"), base.pull, strict=True)),
        "pull_uncertainty": base.pull_sure,
    }
    if sheet is not None:
        out["order"] = base.plan.order
        out["laid"] = sheet.laid
        out["beads"] = [
            {
                "bead": s.bead.id,
                "state": base.state(s.bead.id),
                "waited_s": s.waited,
                "begins_s": s.begins,
                "ends_s": s.ends_at,
                "turned": s.turned,
                "hottest_c": s.hottest,
                "miss_m": s.miss,
            }
            for s in sheet.run.steps
        ]
        for key, run in (("whole", sheet.run), ("other_order", sheet.other)):
            out[key] = {"seconds": run.seconds, "waited_s": run.waited, "hottest_c": run.hottest, "miss_m": run.peak}
    return out


def gear_results(one: GearSheet) -> dict[str, Any]:
    """Where a gear set stands."""
    names = ("backlash_m", "drive_place", "drive_height", "coast_place", "coast_height")
    found = one.next
    return {
        "end": one.setup.id,
        "missing": one.missing,
        "attempts": len(one.setup.attempts),
        "verdict": one.verdict,
        "chance": one.chance,
        "wrong": list(one.words),
        "read": None if one.means is None else dict(zip(names, one.means, strict=True)),
        "spread_m": one.spread,
        "next": None
        if found is None
        else {
            "pinion_m": found.shims.pinion,
            "toward_m": found.shims.toward,
            "away_m": found.shims.away,
            "chance": found.chance,
            "will": dict(zip(names, found.will, strict=True)),
            "sigma": dict(zip(names, found.sure, strict=True)),
        },
    }


def bench_results(study: Study) -> dict[str, Any]:
    """What is made: parts of plate, plates, stations, welding, copes, and bars cut up; nothing while the rig is not entered."""
    project = study.project
    return {
        "parts": []
        if study.needs
        else [part_results(one, study.part_changes(one)) for end in ("rear", "front") for one in study.parts(end)],
        "stations": [
            station_results(one) for end in ("rear", "front") if (one := study.station_sheet(end)) is not None
        ],
        "set_out": [
            {
                "end": end,
                "part": p.part,
                "at_m": p.at,
                "from_left_m": p.left,
                "from_right_m": p.right,
                "around_deg": math.degrees(p.around),
            }
            for end in ("rear", "front")
            for p in study.set_out(end)
        ],
        "welding": [
            weld_results(base, study.weld_sheet(end))
            for end in ("rear", "front")
            if (base := study.weld_base(end)) is not None
        ],
        "gears": [gear_results(set_) for end in ("rear", "front") if (set_ := study.gear_sheet(end)) is not None],
        "plates": [] if study.needs else [plate_results(one) for one in study.plate_plan()],
        "copes": [cope_results(one, study.cope(one)) for one in project.fabrication.copes],
        "cutting_plan": [] if study.needs else [plan_results(one) for one in study.stock_plan()],
    }
