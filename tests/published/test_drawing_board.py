"""Layouts worked out by hand with a straight edge, to 1e-6, through the command line's own results.

Constructions: Gillespie, Fundamentals of Vehicle Dynamics, ch. 7 (side-view centre, support slope, 100 % at e/d =
h/L); plan-view apexes joined for the roll axis (any text on link suspensions). Every number below is worked out in
the comment beside it.
"""

from __future__ import annotations

import math
from typing import Any

import pytest

from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.reports.results import results
from stoutlink.core.study.study import Study
from tests.layouts import JOINT, Triple, layout, mirrored, rig

Bars = list[tuple[Triple, Triple]]
L, H, RADIUS = 2.8, 0.84, 0.44


def analysed(
    bars: Bars, end: str = "rear", poses: tuple[tuple[float, float], ...] = (), **changes: Any
) -> dict[str, Any]:
    """What the program says of one axle; the front takes the same bars turned round."""
    if end == "front":
        bars = [((-f[0], f[1], f[2]), (-a[0], a[1], a[2])) for f, a in bars]
    one = layout(bars, end, shift=L if end == "front" else 0.0, **changes)
    project = with_parts(Project(name="p", rig=rig()), joints=(JOINT,), layouts=(one,), **{f"{end}_layout": "test"})
    found = Study(project)
    assert found.axles[end].problem is None, found.axles[end].problem
    data: dict[str, Any] = results(found, poses)["axles"][end]
    return data


# Uppers on z = 0.70 − 0.05·x, lowers on z = 0.40 + 0.10·x: they cross at x = 2.0, z = 0.60.
# In plan the uppers y = 0.05 + 0.50·x meet at x = −0.10, z = 0.705; the lowers y = 0.50 − 0.20·x at x = 2.50, z = 0.65.
HUNDRED = [*mirrored((0.80, 0.45, 0.66), (0.0, 0.05, 0.70)), *mirrored((1.0, 0.30, 0.50), (0.0, 0.50, 0.40))]
AXIS_SLOPE = (0.65 - 0.705) / (2.50 + 0.10)


def test_a_double_triangulated_layout_of_one_hundred_percent() -> None:
    """Support slope 0.60/2.0 = 0.3 = h/L: 100 % (Gillespie's condition)."""
    got = analysed(HUNDRED)
    assert (got["side_view_centre"]["x_m"], got["side_view_centre"]["z_m"]) == pytest.approx((2.0, 0.6), abs=1e-6)
    assert (got["side_view_centre_projected"]["x_m"], got["side_view_centre_projected"]["z_m"]) == pytest.approx(
        (2.0, 0.6), abs=1e-9
    )
    assert got["support_slope"] == pytest.approx(0.3, abs=1e-6)
    assert got["anti_squat_pct"]["full_thrust"]["whole_vehicle"] == pytest.approx(100.0, abs=1e-4)
    assert got["anti_squat_pct"]["shared_open"]["whole_vehicle"] == pytest.approx(50.0, abs=1e-4)
    assert got["anti_squat_pct"]["shared_locked"]["whole_vehicle"] == pytest.approx(
        50.0, abs=1e-4
    )  # half the weight is on each axle
    assert got["anti_lift_braking_pct"]["whole_vehicle"] == pytest.approx(30.0, abs=1e-4)
    sprung = (2000 * H - (240 + 230) * RADIUS) / (2000 - 470)
    assert got["anti_squat_pct"]["full_thrust"]["sprung_mass"] == pytest.approx(100 * H / sprung, abs=1e-4)


def test_its_roll_axis_joins_the_apexes() -> None:
    got = analysed(HUNDRED)
    assert got["roll_centre_height_m"] == pytest.approx(0.705 + 0.10 * AXIS_SLOPE, abs=1e-6)
    assert math.tan(math.radians(got["roll_axis"]["inclination_deg"])) == pytest.approx(AXIS_SLOPE, abs=1e-6)
    assert got["roll_steer_deg_per_deg"] == pytest.approx(AXIS_SLOPE, abs=1e-6)
    assert got["roll_axis"]["direction"] == pytest.approx(
        [1 / math.hypot(1, AXIS_SLOPE), 0.0, AXIS_SLOPE / math.hypot(1, AXIS_SLOPE)], abs=1e-6
    )
    assert got["roll_axis_drawn"]["inclination_deg"] == pytest.approx(got["roll_axis"]["inclination_deg"], abs=1e-6)


def test_its_plan_angles_are_said_by_name() -> None:
    """Uppers atan 0.50 a side, lowers atan 0.20: included twice each, the sum of all four."""
    got = analysed(HUNDRED)
    upper, lower = math.degrees(math.atan(0.5)), math.degrees(math.atan(0.2))
    assert sorted(got["plan_angles_deg"].values()) == pytest.approx([lower, lower, upper, upper], abs=1e-9)
    assert got["included_angles_deg"] == {"upper": pytest.approx(2 * upper), "lower": pytest.approx(2 * lower)}
    assert got["included_angles_sum_deg"] == pytest.approx(2 * upper + 2 * lower)


def test_its_pinion_turns_with_the_distance_of_the_centre() -> None:
    """About a centre 2.0 m ahead of the axle a metre of bump turns the housing by 0.5 rad: the nose goes down."""
    assert analysed(HUNDRED)["pinion_change_deg_per_m"] == pytest.approx(-math.degrees(0.5), abs=1e-4)


def test_the_same_under_the_front_axle() -> None:
    """Turned round: the same slope, now anti-lift under drive; 0.7 of it is anti-dive; steer changes its sign."""
    got = analysed(HUNDRED, "front")
    assert got["side_view_centre"]["x_m"] == pytest.approx(L - 2.0, abs=1e-6)
    assert got["anti_lift_drive_pct"]["full_thrust"]["whole_vehicle"] == pytest.approx(100.0, abs=1e-4)
    assert got["anti_dive_pct"]["whole_vehicle"] == pytest.approx(70.0, abs=1e-4)
    assert got["roll_steer_deg_per_deg"] == pytest.approx(-AXIS_SLOPE, abs=1e-6)
    assert got["pinion_change_deg_per_m"] == pytest.approx(-math.degrees(0.5), abs=1e-4)


def test_links_parallel_in_side_view() -> None:
    """All on a slope of 0.10: no centre, but the print moves along that slope: 100·0.10·L/h."""
    bars = [*mirrored((0.9, 0.45, 0.79), (0.0, 0.05, 0.70)), *mirrored((1.0, 0.30, 0.50), (0.0, 0.50, 0.40))]
    got = analysed(bars)
    assert got["side_view_centre"]["parallel"]
    assert got["support_slope"] == pytest.approx(0.10, abs=1e-6)
    assert got["anti_squat_pct"]["full_thrust"]["whole_vehicle"] == pytest.approx(100 * 0.10 * L / H, abs=1e-4)
    assert got["pinion_change_deg_per_m"] == pytest.approx(0.0, abs=1e-6)


def test_single_triangulated_lowers_parallel_in_plan() -> None:
    """The axis passes the uppers' apex (−0.10, 0.705) along the lowers' slope of 0.12."""
    bars = [*mirrored((0.80, 0.45, 0.66), (0.0, 0.05, 0.70)), *mirrored((1.0, 0.46, 0.50), (0.0, 0.46, 0.38))]
    got = analysed(bars)
    assert math.tan(math.radians(got["roll_axis"]["inclination_deg"])) == pytest.approx(0.12, abs=1e-6)
    assert got["roll_centre_height_m"] == pytest.approx(0.705 + 0.10 * 0.12, abs=1e-6)
    assert got["roll_steer_deg_per_deg"] == pytest.approx(0.12, abs=1e-6)


@pytest.mark.parametrize("slope", [-0.08, 0.0, 0.15])
def test_three_link_with_a_level_panhard_over_the_axle(slope: float) -> None:
    """Lowers parallel in plan, the upper on the middle: the axis runs along the lowers' slope through the panhard's
    middle.
    """
    bars = [
        *mirrored((1.0, 0.42, 0.45 + slope), (0.0, 0.42, 0.45)),
        ((0.8, 0.0, 0.78), (0.0, 0.0, 0.72)),
        ((0.0, 0.45, 0.60), (0.0, -0.45, 0.60)),
    ]
    roles = analysed_three(bars)
    assert roles["roll_centre_height_m"] == pytest.approx(0.60, abs=1e-6)
    assert roles["roll_steer_deg_per_deg"] == pytest.approx(slope, abs=1e-6)
    assert roles["lateral_hold"] >= 1.0 - 1e-9


def analysed_three(bars: Bars) -> dict[str, Any]:
    """A three-link: the program is told of bars only, whatever they are called."""
    return analysed(bars, kind="free_bars", mirrored=False)


def test_a_level_panhard_takes_the_whole_side_force() -> None:
    """Bars in vertical fore-aft planes give nothing sideways: the panhard carries 1 N per N."""
    bars = [
        *mirrored((1.0, 0.42, 0.45), (0.0, 0.42, 0.45)),
        ((0.8, 0.0, 0.78), (0.0, 0.0, 0.72)),
        ((0.0, 0.45, 0.44), (0.0, -0.45, 0.44)),
    ]
    got = analysed_three(bars)
    forces = sorted(abs(f) for f in got["link_force_per_side_force"].values())
    assert forces == pytest.approx([0.0, 0.0, 0.0, 1.0], abs=1e-9)
    assert got["lateral_give_m_per_n"] == pytest.approx(1 / 20e6, rel=1e-6)  # one bar of the default stiffness


def test_level_parallel_links_swing_on_circles() -> None:
    """Two level pairs of 1 m, equal and parallel, and a long panhard on the middle of roll: a bump of z shortens the
    wheelbase by 1 − √(1 − z²).
    """
    bars = [*mirrored((1.0, 0.45, 0.70), (0.0, 0.05, 0.70)), *mirrored((1.0, 0.05, 0.40), (0.0, 0.45, 0.40))]
    length = math.hypot(1.0, 0.40)
    z = 0.1
    got = analysed(bars, poses=((z, 0.0), (-z, 0.0)))
    for pose in got["poses"]:
        # every bar keeps its length while its plan-view offset stays 0.40: x² = L² − 0.40² − z²
        x = 1.0 - math.sqrt(length**2 - 0.40**2 - z**2)
        assert pose["axle_centre_m"][0] == pytest.approx(x, abs=1e-9)
        assert pose["wheelbase_change_m"] == pytest.approx(-x, abs=1e-9)
        assert (pose["yaw_deg"], pose["pitch_deg"], pose["lateral_shift_m"]) == pytest.approx((0.0, 0.0, 0.0), abs=1e-9)


def test_a_panhard_shifts_the_axle_by_its_arc() -> None:
    """Level panhard of length p fixed at the frame on the left: a bump of z moves the axle toward it by p − √(p² −
    z²).
    """
    length, z = 0.9, 0.08
    bars = [
        *mirrored((30.0, 0.42, 0.45), (0.0, 0.42, 0.45)),
        ((30.0, 0.0, 0.72), (0.0, 0.0, 0.72)),
        ((0.0, 0.45, 0.60), (0.0, -0.45, 0.60)),
    ]
    far = [((min(11.0, f[0]), f[1], f[2]), a) for f, a in bars]  # links as long as the file allows: nearly straight up
    got = analysed(far, kind="free_bars", mirrored=False, poses=((z, 0.0),))
    assert got["poses"][0]["lateral_shift_m"] == pytest.approx(length - math.sqrt(length**2 - z**2), abs=2e-5)
