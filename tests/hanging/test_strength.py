"""Columns, tubes, bolts, and the free body of the axle: handbook values, hand forms, equilibrium taken apart again."""

from __future__ import annotations

import json
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.optimize import brentq, minimize

from stoutlink.core.analysis.linkage.link_loads import heavier_axle, link_loads, tubes_for
from stoutlink.core.analysis.linkage.load_cases import CASES
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.errors import GeometryError
from stoutlink.core.mechanics.column import bolt_double_shear, column_load, round_section, strike_load, tab_load
from stoutlink.core.mechanics.fillet import foot_welds
from stoutlink.core.mechanics.linkage.free_body import Load, reactions
from stoutlink.core.mechanics.linkage.motion import motion
from stoutlink.core.mechanics.linkage.poses import ride_pose
from stoutlink.core.mechanics.linkage.side_view import side_view
from stoutlink.core.reports.results import results
from stoutlink.core.study.study import Study
from tests.layouts import CENTRE, HELD, PARALLEL, RADIUS, REDUNDANT, bars

Array = NDArray[np.float64]
INCH = 0.0254


@pytest.mark.parametrize(
    ("outside", "wall", "area", "inertia", "modulus", "gyration"),
    [
        (2.375, 0.154, 1.07, 0.666, 0.561, 0.787),
        (3.5, 0.216, 2.23, 3.02, 1.72, 1.16),
        (1.9, 0.145, 0.799, 0.310, 0.326, 0.623),
    ],
)
def test_sections_of_standard_pipe(
    outside: float, wall: float, area: float, inertia: float, modulus: float, gyration: float
) -> None:
    """AISC Manual of Steel Construction (9th ed.), dimensions and properties of standard pipe 2, 3 and 1 1/2 in; ASME
    B36.10 sizes.
    """
    s = round_section(outside * INCH, wall * INCH)
    assert s.area / INCH**2 == pytest.approx(area, rel=0.005)
    assert s.inertia / INCH**4 == pytest.approx(inertia, rel=0.005)
    assert s.elastic / INCH**3 == pytest.approx(modulus, rel=0.005)
    assert s.gyration / INCH == pytest.approx(gyration, rel=0.005)
    bore = outside - 2 * wall
    assert s.plastic / INCH**3 == pytest.approx((outside**3 - bore**3) / 6)


def test_johnson_meets_euler_at_the_turning_slenderness() -> None:
    """Shigley ch. 4: at λ_t = sqrt(2π²E/S_y) both give A·S_y/2."""
    s, strength, modulus = round_section(0.045, 0.006), 480e6, 207e9
    length = math.sqrt(2 * math.pi**2 * modulus / strength) * s.gyration
    for side in (0.999999, 1.000001):
        assert column_load(s, side * length, strength, modulus) == pytest.approx(s.area * strength / 2, rel=1e-5)
    assert column_load(s, 2 * length, strength, modulus) == pytest.approx(
        math.pi**2 * modulus * s.inertia / (2 * length) ** 2
    )
    assert column_load(s, 0.01 * length, strength, modulus) == pytest.approx(s.area * strength, rel=1e-3)


@given(st.floats(0.3, 2.5), st.floats(0.001, 0.05))
@settings(max_examples=40)
def test_secant_formula_solved_another_way(length: float, bend: float) -> None:
    """Shigley ch. 4, secant formula, solved for the load by Brent's method; never more than the straight column."""
    s, strength, modulus = round_section(0.045, 0.006), 480e6, 207e9

    def over(load: float) -> float:
        angle = length / (2 * s.gyration) * math.sqrt(load / (modulus * s.area))
        return load / s.area * (1 + bend * s.outer / s.gyration**2 / math.cos(angle)) - strength

    euler = math.pi**2 * modulus * s.inertia / length**2
    by_brent = brentq(over, 1.0, min(euler * (1 - 1e-12), s.area * strength * 0.9999999))
    straight = column_load(s, length, strength, modulus)
    assert column_load(s, length, strength, modulus, bend) == pytest.approx(min(straight, by_brent), rel=1e-6)
    assert column_load(s, length, strength, modulus, 1e-9) == pytest.approx(min(straight, euler), rel=1e-3)


def test_rock_strike_bolt_and_tab_by_hand() -> None:
    s = round_section(0.05, 0.0075)
    assert strike_load(s, 1.0, 480e6) == pytest.approx(
        4 * 480e6 * s.elastic
    )  # M = P·L/4 = S_y·Z (Shigley, simply supported beam)
    assert strike_load(s, 1.0, 480e6, plastic=True) / strike_load(s, 1.0, 480e6) == pytest.approx(s.plastic / s.elastic)
    assert bolt_double_shear(0.016, 640e6) == pytest.approx(2 * math.pi / 4 * 0.016**2 * 0.577 * 640e6)
    assert tab_load(0.006, 0.016, None, 250e6) == pytest.approx(2 * 0.006 * 0.016 * 250e6)
    assert tab_load(0.006, 0.016, 0.010, 250e6) == pytest.approx(4 * 0.006 * 0.002 * 0.577 * 250e6)
    assert tab_load(0.006, 0.016, 0.008, 250e6) == 0.0
    for bad in ((0.05, 0.03), (0.05, -0.001)):
        with pytest.raises(ValueError, match="wall"):
            round_section(*bad)


@pytest.mark.parametrize("which", [*HELD.values(), REDUNDANT, RADIUS], ids=[*HELD, "parallel", "radius"])
def test_springs_feel_the_support_slope_of_the_thrust(which: Any) -> None:
    """Statics against kinematics (Gillespie ch. 7): thrust F at the contacts changes the sum of the springs by −σ·F."""
    one = bars(which)
    springs = np.array([[0.0, 0.5, 0.44], [0.0, -0.5, 0.44]])
    loads = tuple(Load((2000.0, 0.0, 3000.0), (0.0, y, 0.0)) for y in (0.8, -0.8))
    found = reactions(one.frame, one.axle, one.stiffness, springs, [loads], one.centre)[0]
    at = ride_pose(one)
    slope = side_view(at, motion(one, at), "rear", CENTRE[2], 1.6).slope[0]
    assert found.springs.sum() == pytest.approx(6000.0 - slope * 4000.0, abs=1e-6)


def test_redundant_bars_share_by_least_work() -> None:
    """Against scipy's constrained minimisation of Σ n²/k (Castigliano)."""
    k = np.array([1.0, 2.0, 1.0, 1.5, 3.0]) * 1e7
    one = bars(REDUNDANT)
    springs = np.array([[0.0, 0.5, 0.44], [0.0, -0.5, 0.44]])
    loads = (Load((1500.0, 700.0, 4000.0), (0.1, 0.8, 0.0), (30.0, -200.0, 50.0)), Load((0.0, 0.0, -1800.0), CENTRE))
    found = reactions(one.frame, one.axle, k, springs, [loads], one.centre)[0]
    unit = (one.frame - one.axle) / one.length[:, None]
    force = np.concatenate([unit, np.tile([0.0, 0.0, -1.0], (2, 1))])
    points = np.concatenate([one.axle, springs])
    a = np.concatenate([force, np.cross(points, force)], axis=1).T
    outside = np.zeros(6)
    for load in loads:
        outside += np.concatenate([load.force, np.cross(load.at, load.force) + load.moment])
    scale = 1e3
    best = (
        minimize(
            lambda x: float((x[:5] ** 2 / (k / 1e7)).sum()),
            np.zeros(7),
            jac=lambda x: np.concatenate([2 * x[:5] / (k / 1e7), [0, 0]]),
            constraints={"type": "eq", "fun": lambda x: a @ x + outside / scale, "jac": lambda x: a},
            method="SLSQP",
            options={"ftol": 1e-14, "maxiter": 500},
        ).x
        * scale
    )
    assert found.bars == pytest.approx(best[:5], abs=0.05)
    assert found.springs == pytest.approx(best[5:], abs=0.05)
    assert np.abs(found.rest).max() < 1e-8


def test_what_nothing_holds_is_said() -> None:
    one = bars(PARALLEL)
    springs = np.array([[0.0, 0.5, 0.44], [0.0, -0.5, 0.44]])
    with pytest.raises(GeometryError, match="cannot hold"):
        reactions(one.frame, one.axle, one.stiffness, springs, [(Load((0.0, 1000.0, 0.0), CENTRE),)], one.centre)


@pytest.mark.parametrize("end", ["rear", "front"])
def test_every_case_of_the_demo_is_in_equilibrium(basalt: Project, end: str) -> None:
    """From the JSON alone: what acts, the bars along their lines and the springs pressing down sum to nothing, force
    and moment.
    """
    data = json.loads(json.dumps(results(Study(basalt))))["axles"][end]
    layout = basalt.layout(end)
    assert layout is not None
    rig = effective_vehicle(basalt).rig
    spacing = layout.spring_spacing_m or 0.75 * rig.end(end).track_m
    centre = np.array(data["axle_centre_m"])
    cases = data["loads"]["cases"]
    assert {c["case"] for c in cases} == set(CASES)
    for case in cases:
        force, moment = np.zeros(3), np.zeros(3)
        for one in case["acting"]:
            force += one["force_n"]
            moment += np.cross(np.array(one["at_m"]), one["force_n"]) + one["moment_nm"]
        for link in layout.links:
            pull = case["link_force_n"][link.id] * np.subtract(link.frame_pivot_m, link.axle_pivot_m)
            pull /= math.dist(link.frame_pivot_m, link.axle_pivot_m)
            force += pull
            moment += np.cross(link.axle_pivot_m, pull)
        for side, press in zip((0.5, -0.5), case["spring_force_n"], strict=True):
            force += [0, 0, -press]
            moment += np.cross(centre + np.array([0, side * spacing, 0]), [0, 0, -press])
        assert np.abs(force).max() < 1e-6, case["case"]
        assert np.abs(moment).max() < 1e-6, case["case"]


def test_cases_by_hand(basalt: Project) -> None:
    """Axle loads and thrust of the rear axle by hand: level transfer, brake split, side slope."""
    rig = effective_vehicle(basalt).rig
    layout = basalt.layout("rear")
    assert layout is not None
    found = link_loads(basalt, rig, layout)
    assert found is not None
    case = {c.case.id: c.case for c in found.cases}
    weight, mu = rig.mass_kg * 9.80665, basalt.swap.choosing.friction
    share = 1 - rig.cg_ahead_of_rear_m / rig.wheelbase_m
    moved = mu * weight * rig.cg_height_m / rig.wheelbase_m
    assert case["throttle"].carried == pytest.approx(weight * share + moved)
    assert case["throttle"].along == pytest.approx(mu * (weight * share + moved))
    assert case["braking"].along == pytest.approx(
        -min(mu * (weight * share - moved), (1 - rig.brake_front_share) * mu * weight)
    )
    slope = basalt.linkage.loads.side_slope_rad
    grounded = sum(x.force[1] for x in case["side_hill"].loads if x.at[2] == 0.0)
    assert abs(grounded) == pytest.approx(share * weight * math.sin(slope))
    donor = basalt.donor("rear")
    assert donor is not None
    ratio = donor.ratio
    assert ratio is not None
    assert case["throttle"].twist == pytest.approx(case["throttle"].along * rig.rear.loaded / ratio)


def test_the_ledge_pushes_through_the_wheels_centre(basalt: Project) -> None:
    """At a step as high as the tyre the normal force is level; its line and the tangent give back the load carried."""
    project = SetNumber("loads.ledge_m", 1.2).apply(basalt)
    rig, layout = effective_vehicle(project).rig, project.layout("rear")
    assert layout is not None
    found = link_loads(project, rig, layout)
    assert found is not None
    case = next(c.case for c in found.cases if c.case.id == "ledge")
    load = next(x for x in case.loads if x.at[0] > 0.1)
    assert load.at[2] == pytest.approx(rig.rear.loaded)
    assert load.force[2] == pytest.approx(case.carried)
    assert load.force[0] == pytest.approx(-case.carried / project.swap.choosing.friction)


def test_a_bigger_tube_is_offered_and_mends_the_finding(basalt: Project) -> None:
    project = SetNumber("loads.strike_factor", 3.5).apply(basalt)
    rig, layout = effective_vehicle(project).rig, project.layout("rear")
    assert layout is not None
    found = link_loads(project, rig, layout)
    assert found is not None
    lower = next(x for x in found.links if x.link.id == "lower_left")
    assert lower.weakest is not None
    assert lower.weakest.what == "rock strike"
    assert lower.weakest.margin is not None
    assert lower.weakest.margin < project.linkage.loads.wanted_margin
    assert any(f.code == "G210" for f in Study(project).findings)
    offers = tubes_for(
        found, lower, project.linkage.loads.wanted_margin, project.linkage.loads.strike_factor, heavier_axle(rig)
    )
    assert offers
    assert [o.mass for o in offers] == sorted(o.mass for o in offers)
    for link in ("lower_left", "lower_right"):
        for key, value in (("tube_od_m", offers[0].outside), ("tube_wall_m", offers[0].wall)):
            project = SetNumber(f"layouts.rear-a.links.{link}.{key}", value).apply(project)
    assert not any(f.code == "G210" and f.subject.startswith("rear-a.lower") for f in Study(project).findings)


WIRE, PLATE = 393e6, 345e6


def test_two_welds_in_bending_as_the_handbook_has_them() -> None:
    """Shigley, welds in bending, two lines of length d: A = 1.414·h·d, I_u = d³/6, I = 0.707·h·I_u, τ = M·c/I."""
    leg, d, reach = 0.006, 0.08, 10.0  # so far off that only bending counts
    inertia = 0.7071 * leg * d**3 / 6
    by_hand = 0.577 * WIRE * inertia / (reach * d / 2)
    assert foot_welds(leg, d, reach, WIRE, 1e12, lines=2) == pytest.approx(by_hand, rel=1e-4)
    assert foot_welds(leg, d, 0.0, WIRE, 1e12, lines=2) == pytest.approx(0.577 * WIRE * 1.4142 * leg * d, rel=1e-4)
    assert foot_welds(0.0, d, 0.04, WIRE, PLATE) == foot_welds(leg, 0.0, 0.04, WIRE, PLATE) == 0.0


@pytest.mark.parametrize("reach", [0.0, 0.02, 0.05, 0.12])
def test_the_worst_way_to_pull_a_tab_is_found(reach: float) -> None:
    """Against every tenth of a degree, the weld cut into slices: force and moment shared by slice, worst slice."""
    leg, foot = 0.0055, 0.09
    slices = (np.arange(20_000) + 0.5) / 20_000 * foot - 0.5 * foot
    area = 4 * 0.7071 * leg * foot / len(slices)
    spread = area * np.sum(slices**2)
    worst = 0.0
    for way in np.radians(np.arange(0.0, 90.1, 0.1)):
        along, off = math.cos(way), math.sin(way)
        normal = off / (area * len(slices)) + along * reach * slices[-1] / spread
        worst = max(worst, math.hypot(normal, along / (area * len(slices))))
    on_the_leg = min(WIRE, PLATE / 0.7071)
    assert foot_welds(leg, foot, reach, WIRE, PLATE) == pytest.approx(0.577 * on_the_leg / worst, rel=2e-4)


def test_a_bracket_s_weld_is_checked_once_its_leg_is_known(basalt: Project) -> None:
    """Half the leg, half the load; the bracket's own reach and foot; unknown without a leg, with what to do."""
    layout = basalt.layout("rear")
    assert layout is not None
    bracket = next(b for b in layout.brackets if b.end == "frame" and b.reach_m is not None)
    at = f"layouts.{layout.id}.brackets.{bracket.id}"

    def check(project: Project) -> Any:
        found = link_loads(project, effective_vehicle(project).rig, project.layout("rear"))  # type: ignore[arg-type]
        assert found is not None
        load = next(one for one in found.links if one.link.id == bracket.link)
        return next(c for c in load.checks if c.what == "frame weld")

    bare = with_value(basalt, f"{at}.weld_m", None)
    assert check(bare).margin is None
    assert "leg" in check(bare).why
    welded = with_value(with_value(bare, f"{at}.weld_m", 0.006), f"{at}.foot_m", 0.1)
    yields = bracket.tab_yield_pa or 250e6
    assert bracket.reach_m is not None
    by_hand = foot_welds(0.006, 0.1, bracket.reach_m, 393e6, yields)
    assert check(welded).carries == pytest.approx(by_hand)
    assert check(with_value(welded, f"{at}.weld_m", 0.003)).carries == pytest.approx(by_hand / 2)
    assert check(welded).asked == next(c.asked for c in link_of(welded, bracket.link) if c.what == "frame bolt")
    bolted = with_value(
        welded, f"{at}.nut_plate_m", 0.05
    )  # through a plate inside the rail: there is no weld to ask for
    assert all(c.what != "frame weld" for c in link_of(bolted, bracket.link))


def link_of(project: Project, name: str) -> Any:
    """Checks of a link of the rear layout."""
    layout = project.layout("rear")
    assert layout is not None
    found = link_loads(project, effective_vehicle(project).rig, layout)
    assert found is not None
    return next(one.checks for one in found.links if one.link.id == name)
