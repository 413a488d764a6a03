"""Properties that hold for any layout that holds: drawn at random around sensible places."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.link_cut import EndSet, cut_link
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.hold import side_force, smallest_singular
from stoutlink.core.mechanics.linkage.motion import motion
from stoutlink.core.mechanics.linkage.poses import ride_pose
from stoutlink.core.mechanics.linkage.position import pose, sweep
from stoutlink.core.mechanics.linkage.roll_motion import roll_motion
from stoutlink.core.mechanics.linkage.side_view import anti_percent, side_view
from tests.layouts import CENTRE, DOUBLE, THREE

Array = NDArray[np.float64]
seeds = st.integers(0, 10**6)
few = settings(max_examples=25)


def _random(
    seed: int, base: list[tuple[tuple[float, float, float], tuple[float, float, float]]], spread: float = 0.08
) -> Bars:
    rng = np.random.default_rng(seed)
    frame, axle = (np.array([b[i] for b in base]) + rng.uniform(-spread, spread, (len(base), 3)) for i in (0, 1))
    made = Bars.of(CENTRE, frame, axle)
    assume(float(smallest_singular(motion(made, ride_pose(made)).rows[0])) > 0.05)
    return made


@few
@given(seeds, st.floats(-0.12, 0.12), st.floats(-0.3, 0.3))
@example(0, 0.0, 1e-11)
@example(0, 1e-10, 0.0)
@example(0, 0.0, 0.0)
def test_bars_keep_their_length_wherever_they_are_reached(seed: int, heave: float, roll: float) -> None:
    one = _random(seed, THREE)
    p = pose(one, heave, roll)
    assume(bool(p.reached[0]))
    turn = rotation(p.yaw, p.roll, p.pitch)[0]
    place = np.array([p.x[0], p.y[0], p.z[0]])
    length = np.linalg.norm(place + one.local @ turn.T - one.frame, axis=1)
    assert length == pytest.approx(one.length, abs=1e-9)
    assert turn[2, 1] == pytest.approx(math.sin(roll), abs=1e-12)
    assert p.z[0] == pytest.approx(CENTRE[2] + heave, abs=1e-15)


@few
@given(seeds)
def test_every_bar_is_stiff_in_the_instantaneous_motion(seed: int) -> None:
    """No bar changes length in the twist: u·(v + ω × ρ) = 0 at its axle pivot."""
    one = _random(seed, DOUBLE)
    p = sweep(one, np.linspace(-0.1, 0.1, 9), np.zeros(9))
    twist = motion(one, p)
    for i in np.flatnonzero(p.reached):
        turn = rotation(p.yaw, p.roll, p.pitch)[i]
        arm = one.local @ turn.T
        along = np.array([p.x[i], p.y[i], p.z[i]]) + arm - one.frame
        for v, w in ((twist.heave_v[i], twist.heave_w[i]), (twist.roll_v[i], twist.roll_w[i])):
            assert np.einsum("ij,ij->i", along, v + np.cross(w, arm)) == pytest.approx(np.zeros(4), abs=1e-9)


@few
@given(seeds)
def test_the_side_view_centre_stands_still(seed: int) -> None:
    """In heave the point of the axle at the side-view centre has no velocity in the side view."""
    one = _random(seed, DOUBLE)
    at = ride_pose(one)
    twist = motion(one, at)
    side = side_view(at, twist, "rear", CENTRE[2], 1.6)
    assume(np.isfinite(side.centre_x[0]) and abs(side.centre_x[0]) < 50)
    v, w = twist.heave_v[0], twist.heave_w[0]
    arm = np.array([side.centre_x[0], 0.0, side.centre_z[0]]) - np.array(CENTRE)
    moved = v + np.cross([0.0, w[1], 0.0], arm)
    assert [moved[0], moved[2]] == pytest.approx([0.0, 0.0], abs=1e-8)
    assert side.slope_left[0] + side.slope_right[0] == pytest.approx(2 * side.slope[0], abs=1e-12)


@few
@given(seeds)
def test_points_of_the_roll_axis_move_along_it_alone(seed: int) -> None:
    one = _random(seed, THREE)
    at = ride_pose(one)
    twist = motion(one, at)
    roll = roll_motion(at, twist)
    arm = roll.axis_point[0] - np.array(CENTRE)
    speed = twist.roll_v[0] + np.cross(twist.roll_w[0], arm)
    assert np.cross(speed, roll.axis_direction[0]) == pytest.approx(np.zeros(3), abs=1e-9)
    assert roll.axis_point[0][0] == pytest.approx(CENTRE[0], abs=1e-12)
    assert math.tan(roll.inclination[0]) == pytest.approx(roll.steer[0], abs=1e-9)
    lateral = twist.roll_v[0] + np.cross(twist.roll_w[0], [0.0, 0.0, roll.centre_height[0] - CENTRE[2]])
    assert lateral[1] == pytest.approx(0.0, abs=1e-9)


@few
@given(seeds, st.floats(0.5, 3.0))
def test_a_scaled_rig_turns_the_same(seed: int, factor: float) -> None:
    """Similarity: angles stay, lengths scale; support slope, roll steer and hold are pure numbers."""
    one = _random(seed, DOUBLE, 0.05)
    big = Bars.of(one.centre * factor, one.frame * factor, one.axle * factor)
    a, b = ride_pose(one), ride_pose(big)
    ta, tb = motion(one, a), motion(big, b)
    small, large = (side_view(p, t, "rear", r, 1.6) for p, t, r in ((a, ta, CENTRE[2]), (b, tb, CENTRE[2] * factor)))
    assert large.slope[0] == pytest.approx(small.slope[0], abs=1e-9)
    assert roll_motion(b, tb).steer[0] == pytest.approx(roll_motion(a, ta).steer[0], abs=1e-9)
    assert np.abs(side_force(tb.rows[0], big.stiffness)[0]) == pytest.approx(
        np.abs(side_force(ta.rows[0], one.stiffness)[0]), abs=1e-9
    )


@few
@given(st.floats(0.3, 2.0), st.floats(0.01, 0.12), st.floats(0.01, 0.12), st.floats(0.0, 0.3))
def test_tube_and_take_ups_make_the_link(length: float, first: float, second: float, shank: float) -> None:
    ends = (
        EndSet(first, 0.02, 0.0015, "right", 0.02, shank, 0.01),
        EndSet(second, 0.02, 0.0015, "left", 0.02, shank, 0.01),
    )
    cut = cut_link(length, 0.05, 0.006, "steel", ends)
    assert cut.tube + first + second == pytest.approx(length)
    moves = [f.longer for f in cut.ends if f is not None]
    assert cut.longer == pytest.approx(2 * min(moves), abs=1e-12)
    assert cut.per_turn == pytest.approx(0.003)


@few
@given(st.floats(-0.6, 0.6), st.floats(0.05, 0.95), st.floats(2.0, 4.0), st.floats(0.4, 1.4))
def test_shares_of_one_thrust_add_up(slope: float, share: float, wheelbase: float, height: float) -> None:
    whole = anti_percent(np.array(slope), 1.0, wheelbase, height)
    parts = anti_percent(np.array(slope), share, wheelbase, height) + anti_percent(
        np.array(slope), 1 - share, wheelbase, height
    )
    assert parts == pytest.approx(whole)
