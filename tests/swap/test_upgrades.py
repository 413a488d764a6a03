"""Upgrades of one's own choosing: what each does to every part, whatever is weakest, and that it is billed."""

from __future__ import annotations

import pytest

from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.ladder import ladder
from stoutlink.core.analysis.swap.upgrade_effects import upgrade_effects
from stoutlink.core.analysis.swap.upgrade_path import upgrade_path
from stoutlink.core.document.project import with_parts
from stoutlink.core.document.swap import UPGRADES, AxlePlan
from tests.swap.rigs import plain_axle, plain_front, plain_project

RATED = {"ring_rating_nm": 900.0, "flange_bolt_count": 8, "flange_bolt_diameter_m": 0.011, "flange_bolt_circle_m": 0.09}


def test_all_can_be_planned_with_the_ring_gear_weakest() -> None:
    axle = plain_axle(**RATED)
    project = plain_project(plain_front(), axle)
    path = upgrade_path(project.rig, axle, AxlePlan(), project.swap.choosing)
    assert len(path.steps) == 1  # nothing to be had for a ring gear
    found = {u.id: u for u in upgrade_effects(project.rig, axle, AxlePlan(), project.swap.choosing)}
    assert set(found) == set(UPGRADES)
    for one in found.values():
        plan = AxlePlan(upgrades=(one.id,))
        now, then = (
            {r.part: r.margin for r in ladder(project.rig, axle, p, project.swap.choosing).rungs}
            for p in (AxlePlan(), plan)
        )
        changed = sorted(then[k] / now[k] for k in now if then[k] != now[k])
        assert sorted(x.with_it / x.without for x in one.parts) == pytest.approx(changed)
        assert bool(one.parts) != bool(one.words)
        titles = [x.title for x in one.parts]
        billed = with_parts(project, rear_plan=plan)
        before, after = (cost_to_ready(p, p.rig, None, axle).total for p in (project, billed))
        assert after - before == pytest.approx(one.price), (one.id, titles)
    studs = found["flange_bolts"].parts
    assert [x.with_it / x.without for x in studs] == pytest.approx([1.35])  # the estimate that ships, as declared
    assert found["cover"].words.startswith("keeps rock")
    weak = found["flange_bolts"].weakest
    assert weak is not None
    assert weak[0] == pytest.approx(weak[1])  # the ring gear stays the weakest


def test_one_planned_is_held_against_the_plan_without_it() -> None:
    axle = plain_axle(**RATED)
    project = plain_project(plain_front(), axle)
    plan = AxlePlan(upgrades=("flange_bolts", "shafts"))
    found = {u.id: u for u in upgrade_effects(project.rig, axle, plan, project.swap.choosing)}
    assert [u for u in found if found[u].planned] == ["shafts", "flange_bolts"]
    assert [x.with_it / x.without for x in found["flange_bolts"].parts] == pytest.approx([1.35])


def test_why_nothing_changes_is_said() -> None:
    bare = plain_axle(tube_od_m=None, tube_wall_m=None, lockout_rating_nm=None)
    project = plain_project(plain_front(), bare)
    found = {u.id: u for u in upgrade_effects(project.rig, bare, AxlePlan(), project.swap.choosing)}
    assert not found["truss"].parts
    assert "not known" in found["truss"].words
