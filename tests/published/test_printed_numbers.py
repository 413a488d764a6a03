"""Numbers printed elsewhere, or common practice of the trade, at half their last digit."""

from __future__ import annotations

import math

import numpy as np
import pytest

from stoutlink.core.mechanics.gearing import crawl_ratio, engine_rpm, mismatch, road_speed, same_feel_ratio
from stoutlink.core.mechanics.link_cut import EndSet, cut_link
from stoutlink.core.mechanics.linkage.motion import motion
from stoutlink.core.mechanics.linkage.poses import ride_pose
from stoutlink.core.mechanics.linkage.side_view import anti_percent, side_view
from stoutlink.core.mechanics.shaft import wheel_torque_bound, yield_torque
from stoutlink.core.mechanics.spline import pitch_from_major, spline_size
from stoutlink.core.mechanics.weight import sprung_height, thrust_share
from tests.layouts import bars

INCH = 0.0254


@pytest.mark.parametrize(("teeth", "major"), [(35, 1.500), (40, 1.708)])
def test_axle_splines_24_pitch(teeth: int, major: float) -> None:
    """Common practice: 24 pitch 45° splines, 35 teeth measure 1.500 in and 40 teeth 1.708 in over the spline."""
    assert spline_size(teeth, 24).major / INCH == pytest.approx(major, abs=0.0005)


def test_spline_diameters_of_the_inch_standard() -> None:
    """ANSI B92.1 formulas (from memory): 16/32 pitch, 20 teeth, 30° fillet root: D = 1.2500, major 1.3125, minor
    1.1250 in.
    """
    size = spline_size(20, 16, "30_fillet")
    assert [v / INCH for v in (size.pitch_diameter, size.major, size.minor)] == pytest.approx(
        [1.25, 1.3125, 1.125], abs=1e-9
    )
    assert spline_size(20, 8, "30_flat").minor / INCH == pytest.approx((20 - 1.35) / 8)
    assert spline_size(20, 12, "30_fillet").minor / INCH == pytest.approx((20 - 1.8) / 12)


def test_pitch_from_a_measured_major() -> None:
    """P = (N + 1)/D, nearest standard pitch within 1 %, else ask."""
    assert pitch_from_major(35, 1.495 * INCH) == 24.0
    assert pitch_from_major(35, 1.44 * INCH) is None


def test_solid_shaft_in_torsion() -> None:
    """Shigley's Mechanical Engineering Design: τ = 16T/πd³. 1.5 in, T = 9000 lbf·in gives 13.58 ksi by hand; yield at
    0.577·S_y.
    """
    stress_psi = 16 * 9000 / (math.pi * 1.5**3)
    assert stress_psi == pytest.approx(13581, abs=1)
    yield_pa = stress_psi / 0.577 * 6894.757293168361
    assert yield_torque(1.5 * INCH, yield_pa) == pytest.approx(9000 * 0.1129848290276167, rel=1e-6)


def test_a_bore_takes_its_fourth_power() -> None:
    """A bore of half the diameter takes one sixteenth of the torque (polar moment, any text)."""
    assert yield_torque(0.04, 1e9, 0.02) / yield_torque(0.04, 1e9) == pytest.approx(15 / 16)
    with pytest.raises(ValueError, match="bore"):
        yield_torque(0.02, 1e9, 0.02)


def test_shaft_torque_is_bounded_by_engine_or_grip() -> None:
    assert wheel_torque_bound(3000.0, 0.9, 5000.0, 0.5) == pytest.approx(2250.0)
    assert wheel_torque_bound(1000.0, 0.9, 5000.0, 0.5) == 1000.0
    assert wheel_torque_bound(1e9, 0.9, 5000.0, 0.5, hub=1.5) == pytest.approx(1500.0)


def test_engine_speed_against_the_inch_formula() -> None:
    """Common practice: rpm = 336.135·mph·ratio/diameter(in); 336.135 = 63360/(60π)."""
    assert 63360 / (60 * math.pi) == pytest.approx(336.135, abs=0.0005)
    mph, ratio, diameter = 55.0, 4.1, 35.0
    ours = engine_rpm(mph * 1609.344 / 3600, diameter / 2 * INCH, ratio)
    assert ours == pytest.approx(336.135 * mph * ratio / diameter, rel=1e-5)
    assert road_speed(ours, diameter / 2 * INCH, ratio) == pytest.approx(mph * 1609.344 / 3600)


def test_gear_arithmetic_of_the_trade() -> None:
    """Common practice: 3.73 on 31.87 in feels like 4.33 on 37 in; 41/10 against 37/9 differ by 0.27 %; 4.10 to 3.73
    is 0.910.
    """
    assert same_feel_ratio(3.73, 31.87, 37.0) == pytest.approx(4.33, abs=0.005)
    assert mismatch(37 / 9, 1.0, 41 / 10, 1.0) == pytest.approx(0.0027, abs=0.00005)
    assert pytest.approx(0.910, abs=0.0005) == 3.73 / 4.10
    assert crawl_ratio(4.0, 2.72, 4.56, 1.5) == pytest.approx(4.0 * 2.72 * 4.56 * 1.5)


@pytest.mark.parametrize(("take_up", "tube"), [(3.75, 34.0), (3.125, 35.25)])
def test_link_tube_lengths(take_up: float, tube: float) -> None:
    """Common practice: 41 1/2 − 2 × 3 3/4 = 34 in; 41 1/2 − 2 × 3 1/8 = 35 1/4 in."""
    end = EndSet(take_up=take_up * INCH)
    assert cut_link(41.5 * INCH, 1.5 * INCH, 0.25 * INCH, "steel", (end, end)).tube / INCH == pytest.approx(
        tube, abs=1e-9
    )


@pytest.mark.parametrize(("od", "wall", "bore"), [(1.5, 0.25, 1.0), (1.75, 0.095, 1.56)])
def test_tube_bores(od: float, wall: float, bore: float) -> None:
    """Common practice: bore = OD − 2 × wall."""
    end = EndSet(take_up=0.05)
    assert cut_link(1.0, od * INCH, wall * INCH, "steel", (end, end)).bore / INCH == pytest.approx(bore, abs=1e-9)


def _end(hand: str = "right", take_up: float = 2.5, shank: float = 4.5) -> EndSet:
    return EndSet(take_up * INCH, 1.0 * INCH, INCH / 14, hand, 1.0 * INCH, shank * INCH, 0.5 * INCH)  # type: ignore[arg-type]


def test_opposite_hands_turn_both_ends_until_the_first_runs_out() -> None:
    """By hand: 1-14 thread, 2 in engaged, 1.5 needed: 0.5 in out; 1.0 in in; the shorter shank stops first, both
    moving alike.
    """
    both = cut_link(1.0, 0.05, 0.006, "steel", (_end("right"), _end("left", shank=4.25)))
    assert both.how == "tube"
    assert both.per_turn / INCH == pytest.approx(2 / 14)
    assert both.longer / INCH == pytest.approx(2 * 0.25)
    assert both.shorter / INCH == pytest.approx(2 * 1.0)


def test_one_thread_goes_in_half_turns() -> None:
    one = cut_link(1.0, 0.05, 0.006, "steel", (_end(shank=4.53), EndSet(take_up=0.03)))
    assert one.how == "one_end"
    assert one.longer / INCH == pytest.approx(14 / 28)  # 0.53 in of room is 14 half turns of 1/28 in
    assert one.ends[1] is None


def test_two_right_hands_do_not_turn() -> None:
    assert cut_link(1.0, 0.05, 0.006, "steel", (_end(), _end())).how == "unbolt"


def test_aluminium_wants_two_diameters_and_a_shortage_is_negative() -> None:
    """Common practice: 1.5 d in steel, 2.0 d in aluminium."""
    end = _end(shank=4.0)
    assert cut_link(1.0, 0.05, 0.006, "steel", (end, end)).longer == pytest.approx(0.0, abs=1e-12)
    assert cut_link(1.0, 0.05, 0.006, "aluminium", (end, end)).longer < 0


def test_hundred_percent_anti_squat() -> None:
    """Gillespie, Fundamentals of Vehicle Dynamics, ch. 7: 100 % when e/d = h/L, links meeting d ahead of and e above
    the contact.
    """
    h, wheelbase, d = 0.8, 2.6, 1.9
    e = d * h / wheelbase
    slope = (e - 0.45) / d  # every link points at (d, e)
    points = [
        ((x, y, 0.45 + slope * x + dz * (1 - x / d)), (0.0, y2, 0.45 + dz))
        for x, y, y2, dz in (
            (0.9, 0.4, 0.1, 0.2),
            (0.9, -0.4, -0.1, 0.2),
            (1.0, 0.2, 0.5, -0.05),
            (1.0, -0.2, -0.5, -0.05),
        )
    ]
    one = bars(points, (0.0, 0.0, 0.45))
    at = ride_pose(one)
    side = side_view(at, motion(one, at), "rear", 0.45, 1.6)
    assert (side.centre_x[0], side.centre_z[0]) == pytest.approx((d, e), abs=1e-9)
    assert anti_percent(side.slope, 1.0, wheelbase, h)[0] == pytest.approx(100.0, abs=1e-9)


@pytest.mark.parametrize(("height", "percent"), [(32, 84.6), (36, 75.2)])
def test_anti_squat_goes_as_one_over_height(height: float, percent: float) -> None:
    """Common practice: 82 % at a CG of 33 in is 84.6 % at 32 and 75.2 % at 36."""
    slope = np.array(82.0 / 100 * 33 / 110)
    assert float(anti_percent(slope, 1.0, 110, height)) == pytest.approx(percent, abs=0.05)


def test_sprung_height_by_moments() -> None:
    """Statics: masses at their heights add up to the whole."""
    h = sprung_height(2000, 0.8, ((240, 0.44), (230, 0.44)))
    assert 1530 * h + 470 * 0.44 == pytest.approx(2000 * 0.8)
    with pytest.raises(ValueError, match="heavier"):
        sprung_height(400, 0.8, ((240, 0.44), (230, 0.44)))


def test_shares_of_thrust_add_up() -> None:
    for school in ("shared_locked", "shared_open"):
        assert thrust_share(school, 0.4) + thrust_share(school, 0.6) == pytest.approx(1.0)
    with pytest.raises(ValueError, match="other"):
        thrust_share("other", 0.5)
