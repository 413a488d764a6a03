"""The test hill against closed forms: grade, ledge, side slope; force and energy balance."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from stoutlink.core.mechanics.hill_ground import hub_way
from stoutlink.core.mechanics.hill_statics import HillAxle, HillRig, HillRun, drive_over
from stoutlink.core.mechanics.ledge import ledge
from stoutlink.core.mechanics.side_hill import Side, side_hill
from stoutlink.core.mechanics.slopes import back_over, grade_loads

BASE, R, TRACK, OWN, CARRIED = 2.6, 0.5, 1.6, 2500.0, (8000.0, 7000.0)
SPRUNG = sum(CARRIED)
AHEAD = CARRIED[0] * BASE / SPRUNG
HIGH = 0.95
WEIGHT = SPRUNG + 2 * OWN
CG = (SPRUNG * HIGH + 2 * OWN * R) / WEIGHT
BEHIND_FRONT = BASE - (SPRUNG * AHEAD + OWN * BASE) / WEIGHT
Profile = list[tuple[float, float]]


def rig(
    rate: float = 6e4,
    roll: float = 5e4,
    centre: float = 0.6,
    fore: float = 0.0,
    turn: float = 0.0,
    droop: float = 0.12,
    locked: bool = True,
    left: float = 0.0,
) -> HillRig:
    front = HillAxle(BASE, R, TRACK, OWN, CARRIED[0], rate, roll, centre, 0.12, droop, 1.0, fore, turn, True, locked)
    rear = HillAxle(0.0, R, TRACK, OWN, CARRIED[1], rate, roll, centre, 0.12, droop, 1.0, -fore, -turn, True, locked)
    return HillRig(SPRUNG, AHEAD, left, HIGH, front, rear)


def over(
    one: HillRig,
    left: Profile,
    right: Profile | None = None,
    at: np.ndarray | None = None,
    rounds: int = 0,
    plane: bool = False,
) -> HillRun:
    ways = [hub_way(p, R) for p in (left, right or left)]
    places = np.linspace(-4.0, 2.0, 300) if at is None else at
    return drive_over(one, (ways[0], ways[1], ways[0], ways[1]), places, rounds, plane=plane)


@pytest.mark.parametrize("angle", [0.15, 0.4, 0.6])
def test_a_grade_by_stiff_springs(angle: float) -> None:
    """N_r = W(a·cos α + h·sin α)/L, tan α is used by all wheels (statics; Gillespie ch. 1)."""
    rise = math.tan(angle)
    run = over(rig(1e7, 1e7), [(-20.0, -20.0 * rise), (20.0, 20.0 * rise)], at=np.array([0.0, 1.0]))
    front, rear = grade_loads(WEIGHT, BEHIND_FRONT, BASE, CG, angle)
    assert run.normal[:, :2].sum(axis=1) == pytest.approx(front, rel=3e-4)
    assert run.normal[:, 2:].sum(axis=1) == pytest.approx(rear, rel=3e-4)
    assert run.used == pytest.approx(math.tan(angle), abs=1e-6)
    assert run.pitch == pytest.approx(angle, abs=5e-4)


def test_it_goes_over_backwards_where_the_closed_form_says() -> None:
    """atan((L − a)/h) with rigid springs."""
    angle = back_over(BEHIND_FRONT, BASE, CG)
    for part, rests in ((0.97, True), (1.03, False)):
        rise = math.tan(part * angle)
        run = over(rig(1e7, 1e7, droop=1e-4), [(-20.0, -20.0 * rise), (20.0, 20.0 * rise)], at=np.array([0.0]))
        assert bool(run.rests[0] and not run.tips[0]) is rests


@pytest.mark.parametrize("step", [0.1, 0.2, 0.3])
def test_the_grip_a_ledge_wants(step: float) -> None:
    """Least µ with all driven, both contacts at it together, cos θ = 1 − s/r (statics of two contacts)."""
    run = over(
        rig(1e7, 1e7), [(-20.0, 0.0), (0.0, 0.0), (0.0, step), (20.0, step)], at=np.linspace(-4.0, 1.0, 240), rounds=6
    )
    wanted = ledge(WEIGHT, BEHIND_FRONT, BASE, CG, (R, R), step)
    assert wanted.front_all is not None
    assert wanted.rear_all is not None
    used = np.where(run.rests, np.nan_to_num(run.used).max(axis=1), 0.0)
    early = run.at < -BASE / 2
    assert used[early].max() == pytest.approx(wanted.front_all, rel=0.015)
    assert used[~early].max() == pytest.approx(wanted.rear_all, rel=0.015)


@pytest.mark.parametrize(("slope", "centre"), [(0.2, 0.6), (0.5, 0.6), (0.55, 0.8)])
def test_a_side_slope(slope: float, centre: float) -> None:
    """W_s·d·sin(α + φ) = ΣK·φ and the tyres' loads, no small angles; springs stiff in heave, as the closed form takes them."""
    one = rig(1e8, 5e4, centre)
    rise = TRACK * math.sin(slope)
    run = over(one, [(-9.0, rise), (9.0, rise)], [(-9.0, 0.0), (9.0, 0.0)], at=np.array([0.0]), plane=True)
    sides = tuple(Side(c + OWN, TRACK, centre, 5e4, OWN, R) for c in CARRIED)
    said = side_hill(WEIGHT, CG, CARRIED[0] / SPRUNG, (sides[0], sides[1]), slope).asked
    assert float(run.roll[0] - run.axle_roll[0, 0]) == pytest.approx(said.lean, rel=2e-3)
    assert run.normal[0, [0, 2]] == pytest.approx(said.uphill, rel=4e-3)
    assert run.normal[0, [1, 3]] == pytest.approx(said.downhill, rel=2e-3)
    assert run.used[0] == pytest.approx(math.tan(slope), rel=2e-3)


def test_it_tips_sideways_where_the_closed_form_says() -> None:
    """tan = (t/2)/h with stiff springs."""
    angle = math.atan(0.5 * TRACK / CG)
    for part, tips in ((0.97, False), (1.03, True)):
        rise = TRACK * math.sin(part * angle)
        run = over(
            rig(1e8, 1e8), [(-9.0, rise), (9.0, rise)], [(-9.0, 0.0), (9.0, 0.0)], at=np.array([0.0]), plane=True
        )
        assert bool(run.tips[0] or not run.rests[0]) is tips


@given(st.floats(0.05, 0.25), st.floats(-1.5, 1.5), st.floats(-0.25, 0.25), st.floats(-0.5, 0.5), st.booleans())
def test_forces_and_moments_balance(step: float, skew: float, fore: float, turn: float, locked: bool) -> None:
    """An independent sum over everything outside: weight up, nothing left along, no moment about the rear axle left over."""
    one = rig(fore=fore, turn=turn, locked=locked)
    left = [(-9.0, 0.0), (0.0, 0.0), (0.0, step), (9.0, step)]
    run = over(one, left, [(x + skew, z) for x, z in left], at=np.linspace(-4.0, 2.0, 40))
    good = run.rests
    assert good.mean() > 0.9
    root = np.hypot(1.0, run.slope)
    up = (run.normal + run.drive * run.slope) / root
    along = (run.drive - run.normal * run.slope) / root
    assert up.sum(axis=1)[good] == pytest.approx(WEIGHT, rel=2e-4)
    assert np.abs(along.sum(axis=1)[good]).max() < 2e-4 * WEIGHT


def test_pitch_moment_balances_without_links() -> None:
    """Σ of moments about the origin, with where every force acts: hubs, contacts and balance points."""
    one = rig(fore=0.0, turn=0.0)
    run = over(one, [(-9.0, 0.0), (0.0, 0.0), (0.0, 0.15), (9.0, 0.15)], at=np.linspace(-3.2, 0.5, 60))
    good = run.rests
    root = np.hypot(1.0, run.slope)
    x = run.hub_along + R * run.slope / root
    z = run.hub_high - R / root
    fz, fx = (run.normal + run.drive * run.slope) / root, (run.drive - run.normal * run.slope) / root
    ground = (x * fz - z * fx).sum(axis=1)
    body, _ = run.body_point(AHEAD, 0.0, HIGH)
    weight = SPRUNG * body + OWN * run.hub_along[:, [0, 2]].sum(axis=1)
    # the body turns about its own axle places, which move with the springs: a few newton metres in tens of thousands
    assert np.abs((ground - weight)[good]).max() < 0.004 * WEIGHT * BASE


@pytest.mark.parametrize(
    "profile",
    [
        [(-9.0, 0.0), (0.0, 0.0), (4.0, 1.2), (20.0, 1.2)],
        [(-9.0, 0.0), (0.0, 0.0), (1.0, -0.4), (2.0, 0.0), (20.0, 0.0)],
    ],
)
def test_what_the_drive_does_is_where_the_rig_has_risen(profile: Profile) -> None:
    """Energy: work of the drive over the way against weight lifted and springs bent, with links that lift under power."""
    run = over(rig(fore=0.12, turn=0.3), profile, at=np.linspace(-4.5, 6.0, 900))
    assert run.rests.all()
    most = max(float(np.abs(run.energy).max()), WEIGHT * 0.05)
    assert np.abs(run.work - run.energy).max() < 0.02 * most


def test_a_wheel_that_hangs_is_in_the_air_and_open_axles_feel_it() -> None:
    """A ditch under one wheel deeper than the axle reaches: no load there; an open axle then drives with nothing."""
    hole = [(-9.0, 0.0), (-0.7, 0.0), (-0.7, -1.0), (0.9, -1.0), (0.9, 0.0), (9.0, 0.0)]
    level = [(-9.0, 0.0), (9.0, 0.0)]
    for locked in (True, False):
        run = over(rig(locked=locked, droop=0.05, left=-0.2), hole, level, at=np.linspace(-0.6, 0.05, 40))
        assert run.rests[-1]
        assert run.normal[-1, 2] < 1.0
        assert run.normal[-1].sum() == pytest.approx(WEIGHT, rel=1e-3)


def test_a_hub_goes_as_a_circle_rolls() -> None:
    """Over a step: r at the flat, s + √(r² − d²) before the edge, slope d/√(r² − d²); a dip narrower than the wheel is bridged."""
    way = hub_way([(-3.0, 0.0), (0.0, 0.0), (0.0, 0.2), (3.0, 0.2)], R)
    d = math.sqrt(R**2 - (R - 0.2) ** 2)
    high, slope = way.at(np.array([-1.0, -d - 0.02, -0.2, 1.0]))
    assert high == pytest.approx([R, R, 0.2 + math.sqrt(R**2 - 0.04), 0.2 + R], abs=2e-3)
    assert slope[2] == pytest.approx(0.2 / math.sqrt(R**2 - 0.04), rel=0.02)
    bridged, _ = hub_way([(-3.0, 0.0), (-0.2, 0.0), (-0.2, -0.5), (0.2, -0.5), (0.2, 0.0), (3.0, 0.0)], R).at(
        np.array([0.0])
    )
    assert bridged[0] == pytest.approx(math.sqrt(R**2 - 0.04), abs=2e-3)
    assert math.isfinite(hub_way([(-3.0, 0.0), (0.0, 0.0), (0.0, 0.9), (3.0, 0.9)], R).wall)
    with pytest.raises(ValueError, match="forward"):
        hub_way([(1.0, 0.0), (0.0, 0.0)], R)
