"""Two wheels a side at the rear, and an independent front that stays."""

from __future__ import annotations

import math
from typing import Any

import msgspec
import numpy as np
import pytest

from stoutlink.core.advice.swap_rules.findings import OF_SOLID, swap_findings
from stoutlink.core.analysis.cycle.behaviour import behaviour
from stoutlink.core.analysis.cycle.bodies import tyres
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.swap.cost_to_ready import cost_to_ready
from stoutlink.core.analysis.swap.fit_up import fit_up
from stoutlink.core.analysis.vehicle.axle_place import axle_track
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Body, Rig
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.study.study import Study
from tests.swap.rigs import plain_axle, plain_front, plain_project, plain_rig


def dual(spacing: float | None = 0.32, **rear: Any) -> Rig:
    rig = plain_rig(body=Body(frame_rear_m=0.9, fender_rear_m=2.2))
    return msgspec.structs.replace(rig, rear=msgspec.structs.replace(rig.rear, dual_m=spacing, **rear))


def test_pairs_stand_in_the_wheel_face_and_reach_in_and_out() -> None:
    """1.6 m over the faces: pairs 0.8 m out, tyres 0.16 m either way, tread 0.32 m: 0.48 m to 1.12 m."""
    rig, axle = dual(wheel_offset_m=0.11), plain_axle()
    assert axle_track(rig.rear, axle, AxlePlan()) == pytest.approx(1.6)  # back to back: their offset does not count
    project = plain_project(rear=axle, rig=rig)
    fit = fit_up(project, rig, axle, AxlePlan())
    assert fit.tyre_inside == pytest.approx(0.8 - 0.16 - 0.16)
    assert fit.tyre_outside == pytest.approx(0.8 + 0.16 + 0.16)
    assert fit.room_straight == pytest.approx(0.48 - 0.45)
    assert fit.poke == pytest.approx(1.12 - 1.10)


def test_four_wheels_weigh_and_tip_over_the_outer_ones() -> None:
    weigh = {"unsprung_mass_kg": None, "wheel_mass_kg": 40.0}
    one, two = (effective_vehicle(plain_project(rig=dual(s, **weigh))).rig for s in (None, 0.32))
    assert two.rear.unsprung - one.rear.unsprung == pytest.approx(80.0)
    project = plain_project(rig=msgspec.structs.replace(dual(), front=dual().front))
    found = behaviour(project, project.rig, {"front": None, "rear": None})
    # half the weight on each axle: the tipping line passes midway between front track/2 and rear outer track/2
    assert found.tip[0] == pytest.approx(math.atan2(0.5 * (1.6 + 1.92) / 2, 0.8))


def test_hub_and_wheels_have_to_agree() -> None:
    def says(rig: Rig, **axle: Any) -> list[str]:
        project = plain_project(rear=plain_axle(**axle), rig=rig)
        return [f.severity for f in swap_findings(project, rig) if f.code == "K168"]

    assert says(dual(), dual_wheels=True) == []
    assert says(dual(None), dual_wheels=False) == []
    assert says(dual(), dual_wheels=None) == []
    assert says(dual(None), dual_wheels=True) == ["warn"]
    assert says(dual(), dual_wheels=False) == ["danger"]


def test_front_wheels_are_single() -> None:
    with pytest.raises(StoutError, match=r"D155 .*two wheels a side are taken at the rear only"):
        SetNumber("rig.front.dual_m", 0.3).apply(plain_project())


def test_each_tyre_is_a_body_of_its_own(basalt: Project) -> None:
    """The inner one stands half the spacing further in, the outer one further out; what is near one is said of it."""
    one, two = Study(basalt), Study(SetNumber("rig.rear.dual_m", 0.40).apply(basalt))
    plain, pairs = one.travel("rear"), two.travel("rear")
    assert plain is not None
    assert pairs is not None
    flat = lambda p: np.repeat(np.asarray(p, dtype=float)[:, None], 1, axis=1)  # noqa: E731
    stand = {
        m.name: float(m.body.centre[1, 0])  # type: ignore[attr-defined]
        for m in tyres(two.true.rig, pairs.grid, two.project.donor("rear"), None, np.array([0.0]), flat, flat)
    }
    half = 0.5 * two.true.rig.rear.track_m
    assert stand == pytest.approx(
        {
            "Left tyre": half - 0.2,
            "Left outer tyre": half + 0.2,
            "Right tyre": -half + 0.2,
            "Right outer tyre": -half - 0.2,
        }
    )

    def least(travel: AxleTravel, name: str) -> float:
        return min(c.least for c in travel.interference.contacts if name in (c.one, c.other))

    assert least(pairs, "Left tyre") < least(plain, "Left tyre")


def stays(project: Project) -> Project:
    return SetChoice("rig.drivetrain.front_axle", "independent", "front axle").apply(project)


def test_an_independent_front_is_not_laid_out(basalt: Project) -> None:
    after = stays(basalt)
    assert basalt.layout("front") is not None
    assert after.layout("front") is None
    assert after.compared("front") is None
    study = Study(after)
    assert study.travel("front") is None
    assert not any(c.layout.end == "front" for c in study.cuts)
    codes = {f.code for f in study.findings if f.subject.startswith(after.swap.front_donor or "?")}
    assert "K169" in codes
    assert not codes & OF_SOLID
    assert SetChoice("rig.drivetrain.front_axle", "solid", "front axle").apply(after).layout("front") == basalt.layout(
        "front"
    )


def test_it_is_regeared_and_locked_but_not_bought() -> None:
    front = plain_front(steering_arms="none", spring_pads="none", brake=None)
    plan = AxlePlan(locker="air", gears=front.offers[1])
    project = stays(plain_project(front=front, front_plan=plan))
    lines = {x.id: x for x in cost_to_ready(project, project.rig, front, None).lines}
    assert lines["axle"].amount == 0.0
    assert {"gear_set", "gear_setup", "locker_air", "air_supply", "fluids"} <= set(lines)
    assert not {"swap", "driveshaft", "steering_arms", "spring_pads", "brakes", "brake_lines"} & set(lines)
    taken = plain_project(front=front, front_plan=plan)
    solid = {x.id for x in cost_to_ready(taken, taken.rig, front, None).lines}
    assert {"swap", "driveshaft", "steering_arms", "spring_pads", "brakes"} <= solid
