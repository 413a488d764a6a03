"""What must hold for every layout: symmetry, construction = motion, branches, honest ends of travel, names of what is
free.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from stoutlink.core.errors import GeometryError
from stoutlink.core.geometry.lines import crossing
from stoutlink.core.mechanics.linkage import construction as board
from stoutlink.core.mechanics.linkage.bars import Bars, bar_stiffness
from stoutlink.core.mechanics.linkage.hold import free_motion, require_held, side_force, smallest_singular
from stoutlink.core.mechanics.linkage.motion import motion
from stoutlink.core.mechanics.linkage.poses import ride_pose
from stoutlink.core.mechanics.linkage.position import pose, sweep
from stoutlink.core.mechanics.linkage.roll_motion import roll_motion
from stoutlink.core.mechanics.linkage.side_view import side_view
from tests.layouts import CENTRE, DOUBLE, HELD, PARALLEL, REDUNDANT, SINGLE, THREE, bars, mirrored


@pytest.mark.parametrize("which", [DOUBLE, SINGLE], ids=["double", "single"])
def test_drawn_centre_and_axis_are_the_true_ones_when_mirrored(which: Any) -> None:
    one = bars(which)
    at = ride_pose(one)
    twist = motion(one, at)
    side, roll = side_view(at, twist, "rear", CENTRE[2], 1.6), roll_motion(at, twist)
    upper, lower = (which[0], which[1]), (which[2], which[3])
    drawn = board.projected_centre(board.mean_bar(*upper), board.mean_bar(*lower))
    assert (side.centre_x[0], side.centre_z[0]) == pytest.approx(drawn, abs=1e-9)
    axis = board.roll_axis_of_pairs(upper, lower)
    assert axis is not None
    point, inclination = axis
    assert roll.inclination[0] == pytest.approx(inclination, abs=1e-9)
    assert roll.centre_height[0] == pytest.approx(point[2] + (CENTRE[0] - point[0]) * math.tan(inclination), abs=1e-9)
    assert roll.steer[0] == pytest.approx(math.tan(inclination), abs=1e-9)
    assert side.slope[0] == pytest.approx(side.centre_z[0] / side.centre_x[0], abs=1e-9)


def test_mirroring_the_layout_mirrors_the_motion() -> None:
    one = bars(THREE)
    flip = np.array([1.0, -1.0, 1.0])
    other = Bars.of(CENTRE, one.frame * flip, one.axle * flip)
    for heave, roll in ((0.1, 0.2), (-0.08, -0.1)):
        a, b = pose(one, heave, roll), pose(other, heave, -roll)
        assert (a.x[0], a.y[0], a.yaw[0], a.pitch[0]) == pytest.approx(
            (b.x[0], -b.y[0], -b.yaw[0], b.pitch[0]), abs=1e-11
        )


def test_mirrored_links_heave_straight() -> None:
    p = sweep(bars(DOUBLE), np.linspace(-0.15, 0.15, 31), np.zeros(31))
    assert np.abs(p.y).max() < 1e-12
    assert np.abs(p.yaw).max() < 1e-12


def test_moving_the_whole_rig_changes_nothing() -> None:
    one = bars(THREE)
    shift = np.array([2.3, 0.0, 0.0])
    other = Bars.of(one.centre + shift, one.frame + shift, one.axle + shift)
    a, b = pose(one, 0.08, 0.1), pose(other, 0.08, 0.1)
    assert b.x - a.x == pytest.approx([2.3])
    assert b.pitch == pytest.approx(a.pitch, abs=1e-12)


def test_parallel_side_view_is_infinite_and_slopes_go_on() -> None:
    level = [*mirrored((1.0, 0.4, 0.7), (0.0, 0.1, 0.65)), *mirrored((1.0, 0.2, 0.45), (0.0, 0.5, 0.40))]
    one = bars(level)
    at = ride_pose(one)
    side = side_view(at, motion(one, at), "rear", CENTRE[2], 1.6)
    assert np.isinf(side.centre_x[0])
    assert side.slope[0] == pytest.approx(0.05, abs=1e-9)


def test_lengths_stay_and_the_path_is_the_one_through_ride() -> None:
    one = bars(SINGLE)
    heave = np.linspace(-0.15, 0.15, 121)
    p = sweep(one, heave, np.zeros(121))
    assert p.reached.all()
    assert np.nanmax(p.residual) <= 1e-10
    assert np.abs(np.diff(p.pitch)).max() < 0.01
    rev = sweep(one, heave[::-1], np.zeros(121))
    assert rev.pitch[::-1] == pytest.approx(p.pitch, abs=1e-10)
    assert sweep(one, heave, np.zeros(121), start=(0.05, 0.0)).pitch == pytest.approx(p.pitch, abs=1e-10)


def test_short_links_bind_where_geometry_says() -> None:
    """Level mirrored links of length a in side view cannot lift their ends by more than a: plain trigonometry."""
    a = 0.12
    short = [*mirrored((a, 0.4, 0.60), (0.0, 0.4 - 0.05, 0.60)), *mirrored((a, 0.3, 0.40), (0.0, 0.35, 0.40))]
    one = bars(short)
    p = sweep(one, np.linspace(-0.15, 0.15, 61), np.zeros(61))
    reach = math.hypot(a, 0.05)
    assert a * 0.9 < p.limit_high < reach + 1e-6
    assert p.limit_low == pytest.approx(-float(p.limit_high), abs=1e-4)
    beyond = np.abs(np.linspace(-0.15, 0.15, 61)) > p.limit_high
    assert not p.reached[beyond].any()
    assert np.isnan(p.x[beyond]).all()
    assert p.reached[~beyond].all()
    assert not pose(one, 0.149, 0.0).reached[0]
    just_below = pose(one, float(p.limit_high) - 1e-4, 0.0)
    assert just_below.reached[0]


@pytest.mark.parametrize(
    ("which", "words"),
    [
        (PARALLEL, "sideways"),
        (DOUBLE[:3], "3 bars"),
        (
            [*mirrored((1.0, 0.5, 0.7), (0.0, 0.5, 0.7)), *mirrored((1.0, 0.4, 0.7), (0.0, 0.6, 0.7))],
            "free|turning|steering|sideways",
        ),
        (
            [*mirrored((0.9, 0.3, 0.8), (0.0, 0.5, 0.7)), *mirrored((0.9, 0.3, 0.5), (0.0, 0.5, 0.4))],
            "steering about a point",
        ),
    ],
)
def test_what_is_free_is_named(which: Any, words: str) -> None:
    one = bars(which)
    rows = motion(one, ride_pose(one)).rows[0] if len(which) >= 4 else np.eye(4)[:3]
    with pytest.raises(GeometryError, match=words):
        require_held(rows)


def test_held_layouts_are_held() -> None:
    for which in HELD.values():
        one = bars(which)
        rows = motion(one, ride_pose(one)).rows[0]
        assert free_motion(rows) is None
        assert smallest_singular(rows) > 0.05


def test_more_bars_hold_no_weaker() -> None:
    four, five = (
        bars(THREE),
        Bars.of(CENTRE, [*[b[0] for b in THREE], (1.0, 0.1, 0.6)], [*[b[1] for b in THREE], (0.0, 0.3, 0.5)]),
    )
    a, b = (motion(o, ride_pose(o)).rows[0] for o in (four, five))
    assert side_force(b, five.stiffness)[1] <= side_force(a, four.stiffness)[1] + 1e-15


def test_heave_without_misfit_only_in_vertical_planes() -> None:
    """A parallel four-link whose bars lie fore and aft heaves freely as a parallelogram; its panhard makes it give."""
    square = [*mirrored((1.0, 0.45, 0.7), (0.0, 0.45, 0.65)), *mirrored((1.0, 0.45, 0.45), (0.0, 0.45, 0.40))]
    one = bars([*square, REDUNDANT[4]])
    p = sweep(one, np.linspace(-0.1, 0.1, 21), np.zeros(21))
    give = np.abs(motion(one, p).bar_error).max(axis=1)
    assert p.reached.all()
    assert give.max() < 5e-3
    splayed = bars(REDUNDANT)
    rolled = sweep(splayed, np.zeros(21), np.linspace(-0.2, 0.2, 21))
    assert np.abs(motion(splayed, rolled).bar_error).max() > give.max()


def test_bad_pivots_are_refused() -> None:
    with pytest.raises(GeometryError, match="same place"):
        Bars.of(CENTRE, [(0, 0, 0.5)] * 4, [(0, 0, 0.5)] * 4)
    with pytest.raises(GeometryError, match="finite"):
        Bars.of(CENTRE, [(0, 0, math.nan)] * 4, [(1, 0, 0.5)] * 4)
    with pytest.raises(GeometryError, match="do not describe"):
        Bars.of(CENTRE, [(0, 0)] * 4, [(1, 0)] * 4)
    with pytest.raises(ValueError, match="positive"):
        bar_stiffness(-1, 1, 1, 1)


def test_two_lines() -> None:
    assert crossing((0, 0), (2, 0), (1, -1), (1, 1)) == pytest.approx((1, 0))
    assert crossing((0, 0), (1, 0), (0, 1), (1, 1)) is None
    with pytest.raises(ValueError, match="two different"):
        crossing((0, 0), (0, 0), (0, 1), (1, 1))


@pytest.mark.parametrize("which", [DOUBLE, THREE], ids=["double", "three"])
@pytest.mark.parametrize(("heave", "roll"), [(1.0, 0.0), (0.0, 1.0), (0.7, -0.4)])
def test_rate_and_bend_at_ride_are_the_derivatives_of_the_path(which: Any, heave: float, roll: float) -> None:
    """First and second derivative in closed form against central differences of solved poses."""
    held, step = bars(which), 1e-3
    ride = held.at_ride
    assert ride is not None
    s = np.array([-step, 0.0, step])
    p = sweep(held, s * heave, s * roll)
    path = np.array([p.x, p.y, p.yaw, p.pitch])
    assert (path[:, 2] - path[:, 0]) / (2 * step) == pytest.approx(
        (ride.by_heave * heave + ride.by_roll * roll)[:, 0, 0], abs=2e-6
    )
    assert (path[:, 2] - 2 * path[:, 1] + path[:, 0]) / step**2 == pytest.approx(
        ride.bend(heave, roll)[:, 0, 0], abs=2e-5
    )


@pytest.mark.parametrize("which", [DOUBLE, THREE, SINGLE, REDUNDANT], ids=["double", "three", "single", "redundant"])
def test_the_short_way_to_the_motion_at_ride_is_the_long_way(which: Any) -> None:
    """Closed form at ride against the general differentiation, four bars and more."""
    held = bars(which)
    general = motion(held, ride_pose(held))
    heave, roll = held.rates_at_ride
    assert heave == pytest.approx([*general.heave_v[0, :2], general.heave_w[0, 2], general.heave_w[0, 1]], abs=1e-12)
    assert roll == pytest.approx([*general.roll_v[0, :2], general.roll_w[0, 2], general.roll_w[0, 1]], abs=1e-12)
    assert held.rows_at_ride == pytest.approx(general.rows[0], abs=1e-14)
