"""Records of any completeness: nothing raises, nothing is NaN in words, and JSON stays JSON."""

from __future__ import annotations

import json
import random
from typing import Any, get_args, get_type_hints

import msgspec
import pytest
from msgspec import Meta

from stoutlink.core.advice.swap_rules.findings import donor_findings, swap_findings
from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.fit_up import fit_up
from stoutlink.core.analysis.swap.gear_choice import gear_choice
from stoutlink.core.analysis.swap.ladder import ladder
from stoutlink.core.analysis.swap.locker_advice import locker_advice
from stoutlink.core.analysis.swap.match_matrix import match_matrix
from stoutlink.core.analysis.swap.narrowed import narrowing
from stoutlink.core.analysis.swap.pick import rank_pairs
from stoutlink.core.analysis.swap.upgrade_path import stronger_axles, upgrade_path
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.catalogue.donor_check import donor_trouble
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.swap import UPGRADES, AxlePlan
from stoutlink.core.reports.ranking import ranking_results
from stoutlink.core.reports.results import results
from stoutlink.core.storage.donor_table import read_donors, write_donors
from stoutlink.core.study.study import Study

HINTS = get_type_hints(DonorAxle, include_extras=True)


def _value(name: str, rng: random.Random) -> Any:
    """Something the field accepts, at its ends more often than not."""
    hint = HINTS[name]
    metas = [m for one in (hint, *get_args(hint)) for m in getattr(one, "__metadata__", ()) if isinstance(m, Meta)]
    ranged = next((m for m in metas if m.ge is not None and m.le is not None), None)
    if ranged is not None:
        low, high = float(ranged.ge or 0), float(ranged.le or 0)
        number = rng.choice([low, high, rng.uniform(low, high), rng.uniform(low, low + 0.3 * (high - low))])
        whole = int in (hint, *get_args(hint)) or any(int in get_args(one) for one in get_args(hint))
        return int(number) if whole else number
    words = [w for one in (hint, *get_args(hint)) for w in get_args(one) if isinstance(w, str)]
    if words:
        return rng.choice(words)
    return rng.choice([True, False]) if bool in get_args(hint) else rng.choice(["", "M10x1.0", "C30"])


def random_axle(rng: random.Random, n: int, end: str) -> DonorAxle:
    fields: dict[str, Any] = {}
    known = rng.random()
    for name in HINTS:
        if name not in ("id", "name", "end", "ratios", "basis", "example", "hub_ratio") and rng.random() < known:
            fields[name] = _value(name, rng)
    if rng.random() < 0.6:
        fields["ratios"] = tuple(
            ToothPair(ring=rng.randint(30, 60), pinion=rng.randint(6, 16)) for _ in range(rng.randint(1, 4))
        )
    while True:
        axle = DonorAxle(
            id=f"{end}-{n}",
            name=f"Axle {n}",
            end=end,  # type: ignore[arg-type]
            hub_ratio=rng.choice([1.0, 1.0, 1.4, 4.0]),
            **fields,
        )
        trouble = donor_trouble(axle)
        if trouble is None:
            return msgspec.convert(msgspec.to_builtins(axle), DonorAxle)
        fields.pop(trouble[0], None)
        if trouble[0] in ("ring_teeth", "pinion_teeth"):
            fields.pop("ring_teeth", None)
            fields.pop("pinion_teeth", None)


@pytest.mark.parametrize("seed", range(40))
def test_any_record_can_be_judged(basalt: Project, seed: int) -> None:
    rng = random.Random(seed)
    fronts, rears = ([random_axle(rng, n, end) for n in range(4)] for end in ("front", "rear"))
    plans = [
        AxlePlan(
            locker=rng.choice([None, "air", "open", "drop_in", "limited_slip"]),
            width_m=rng.choice([None, 1.2, 1.6]),
            centre_pinion=rng.random() < 0.5,
            shaved=rng.random() < 0.5,
            gears=rng.choice([None, ToothPair(ring=41, pinion=10)]),
            upgrades=tuple(rng.sample(UPGRADES, rng.randint(0, 6))),
        )
        for _ in range(2)
    ]
    project = with_parts(
        basalt,
        donors=(*fronts, *rears),
        front_donor=fronts[0].id,
        rear_donor=rears[0].id,
        front_plan=plans[0],
        rear_plan=plans[1],
        entries=(),
        inspections=(),
    )
    rig = project.rig
    said = []
    for donor in (*fronts, *rears):
        plan = project.plan(donor.end)
        found = ladder(rig, donor, plan, project.swap.choosing, sure=project if donor.id.endswith("-0") else None)
        assert all(r.margin >= 0 for r in found.rungs)
        upgrade_path(rig, donor, plan, project.swap.choosing)
        stronger_axles(project, rig, found)
        gear_choice(project, rig, donor, project.donor("rear" if donor.end == "front" else "front"))
        locker_advice(project, rig, donor)
        fit_up(project, rig, donor, plan)
        narrowing(project, donor, 1.5, centre_pinion=True)
        said += [f.sentence + f.why for f in donor_findings(project, rig, donor)]
    match_matrix(project, rig, fronts[0], rears[0])
    said += [f.sentence + f.why for f in swap_findings(project, rig)]
    assert not [s for s in said if "nan" in s.replace(".", " ").split() or "None" in s or "inf" in s.split()]
    ranking = rank_pairs(project, rig, fronts, rears)
    json.dumps(ranking_results(project, ranking), allow_nan=False)
    for one in ranking.best[:4]:
        cost = cost_to_ready(project, rig, one.front, one.rear, {"front": one.gears[0], "rear": one.gears[1]})
        assert one.numbers["cost"] == pytest.approx(cost.total)
    json.dumps(results(Study(project)), allow_nan=False)
    assert read_donors(write_donors(project.swap.donors)).axles == project.swap.donors
