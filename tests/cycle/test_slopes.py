"""Grade, ledge and side slope against free bodies, energy and limits."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq, fsolve, linprog

from stoutlink.core.mechanics.attitude import AxleSprings, back_over_sprung, moved_cg, stand_on_grade
from stoutlink.core.mechanics.ledge import ledge, step_contact
from stoutlink.core.mechanics.side_hill import Side, side_hill
from stoutlink.core.mechanics.slopes import back_over, dive, grade_loads, nose_over, ramp_index, rigid_tip

WEIGHT, A, BASE, HEIGHT, HUB = 20000.0, 1.3, 2.7, 0.85, 0.45


def linear(rate: float, slope: float, low: float = -0.2, high: float = 0.2) -> AxleSprings:
    return AxleSprings(lambda s: 2 * rate * s, low, high, slope)


def test_grades_by_moments() -> None:
    """Free body on the slope: forces and moments about any point vanish; limits at no slope and at the point of going
    over.
    """
    for angle in (0.0, 0.3, 0.6):
        front, rear = grade_loads(WEIGHT, A, BASE, HEIGHT, angle)
        assert front + rear == pytest.approx(WEIGHT * math.cos(angle))
        about_rear = front * BASE - WEIGHT * math.cos(angle) * (BASE - A) + WEIGHT * math.sin(angle) * HEIGHT
        assert about_rear == pytest.approx(0.0, abs=1e-6)
    assert grade_loads(WEIGHT, A, BASE, HEIGHT, back_over(A, BASE, HEIGHT))[0] == pytest.approx(0.0, abs=1e-6)
    assert grade_loads(WEIGHT, A, BASE, HEIGHT, -nose_over(A, HEIGHT))[1] == pytest.approx(0.0, abs=1e-6)
    assert rigid_tip(1.7, 0.85) == pytest.approx(math.pi / 4)
    assert rigid_tip(1.7, 0.85, 0.1) < math.pi / 4
    assert ramp_index(2.7, 2.7) == pytest.approx(1000.0)


def test_the_pitch_is_kept_where_gillespie_says() -> None:
    """Gillespie ch. 7: rear drive with σ_r = (h/L)(1 + K_r/K_f) keeps the pitch, here for the load moved by thrust
    alone (small grade).
    """
    kf, kr, angle = 30e3, 45e3, 1e-4
    springs = linear(kf, 0.0), linear(kr, HEIGHT / BASE * (1 + kr / kf))
    found = stand_on_grade(WEIGHT, A, BASE, HEIGHT, HUB, angle, springs, 1.0)
    plain = stand_on_grade(WEIGHT, A, BASE, HEIGHT, HUB, angle, (linear(kf, 0.0), linear(kr, 0.0)), 1.0)
    assert abs(found.nose_up) < 2e-3 * abs(plain.nose_up)


def test_a_stand_is_a_balance() -> None:
    """Every spring holds what its axle's free body asks for, with the CG where the body has carried it; stops clip; a
    locked transfer shares by load.
    """
    springs = linear(30e3, 0.2), linear(45e3, 0.25)
    for angle in (0.2, 0.5):
        s = stand_on_grade(WEIGHT, A, BASE, HEIGHT, HUB, angle, springs, None)
        assert s.share_rear == pytest.approx(s.rear / (s.front + s.rear))
        x, z, nose = moved_cg(A, BASE, HEIGHT, HUB, s.travel_front, s.travel_rear)
        assert (x, z, nose) == pytest.approx((*s.cg, s.nose_up), abs=1e-6)
        # moments about the rear contact with the CG so moved
        assert s.front * BASE == pytest.approx(
            WEIGHT * math.cos(angle) * (BASE - x) - WEIGHT * math.sin(angle) * z, abs=1e-2
        )
        thrust = WEIGHT * math.sin(angle)
        front0, rear0 = grade_loads(WEIGHT, A, BASE, HEIGHT, 0.0)
        assert springs[1].more(s.travel_rear) == pytest.approx(s.rear - rear0 - s.share_rear * thrust * 0.25, abs=1.0)
        assert springs[0].more(s.travel_front) == pytest.approx(
            s.front - front0 + (1 - s.share_rear) * thrust * 0.2, abs=1.0
        )
    stiff = stand_on_grade(WEIGHT, A, BASE, HEIGHT, HUB, 0.5, (linear(3e9, 0.2), linear(3e9, 0.2)), None)
    assert (stiff.front, stiff.rear) == pytest.approx(grade_loads(WEIGHT, A, BASE, HEIGHT, 0.5), rel=1e-4)
    clipped = stand_on_grade(
        WEIGHT, A, BASE, HEIGHT, HUB, 0.5, (linear(3e3, 0.0, -0.05, 0.05), linear(3e3, 0.0, -0.05, 0.05)), None
    )
    assert (clipped.travel_front, clipped.travel_rear) == pytest.approx((-0.05, 0.05), abs=1e-6)


def test_going_over_backward() -> None:
    """Rigid limit atan((L − a)/h); soft springs give it up earlier; more anti-squat costs angle; the front's load is
    gone there (scipy's root).
    """
    rigid = back_over(A, BASE, HEIGHT)
    stiff = (linear(3e9, 0.0, 0.0, 0.0), linear(3e9, 0.0, -1e-9, 1e-9))
    assert back_over_sprung(WEIGHT, A, BASE, HEIGHT, HUB, stiff) == pytest.approx(rigid, abs=1e-6)
    soft = back_over_sprung(WEIGHT, A, BASE, HEIGHT, HUB, (linear(30e3, 0.0), linear(45e3, 0.0)))
    lifted = back_over_sprung(WEIGHT, A, BASE, HEIGHT, HUB, (linear(30e3, 0.0), linear(45e3, 0.5)))

    def both(v: np.ndarray) -> list[float]:
        angle, rear = v
        x, z, _ = moved_cg(A, BASE, HEIGHT, HUB, -0.2, rear)
        load = WEIGHT * math.cos(angle) - WEIGHT * A / BASE - WEIGHT * math.sin(angle) * 0.5
        return [math.tan(angle) - (BASE - x) / z, 90e3 * rear - load]

    angle, rear = fsolve(both, [1.0, 0.0])
    assert -0.2 < rear < 0.2
    assert lifted == pytest.approx(angle, abs=1e-6)
    assert soft < rigid
    assert lifted != soft


@pytest.mark.parametrize("share", [0.45, 0.62, 0.8])
def test_braking_by_moments(share: float) -> None:
    """The axle said to lock is at its grip and the other below; full anti-dive leaves the front springs alone
    (Gillespie ch. 7).
    """
    grip = 0.8
    found = dive(WEIGHT, A, BASE, HEIGHT, grip, share, (HEIGHT / BASE / share, 0.1), (30e3, 40e3))
    force = found.deceleration * WEIGHT
    rear = (WEIGHT * A - force * HEIGHT) / BASE  # moments about the front contact
    used = {"front": share * force / (WEIGHT - rear), "rear": (1 - share) * force / rear}
    assert used[found.locks] == pytest.approx(grip)
    assert max(used.values()) == pytest.approx(grip)
    assert found.spring_front == pytest.approx(0.0, abs=1e-9)
    assert found.rise == pytest.approx((force * HEIGHT / BASE - (1 - share) * force * 0.1) / 80e3)
    assert dive(WEIGHT, A, BASE, HEIGHT, grip, share, (0.0, 0.0), (30e3, 40e3)).drop == pytest.approx(
        force * HEIGHT / BASE / 60e3
    )


def feasible(grip: float, contacts: list[tuple[tuple[float, float], float, bool]], cg: tuple[float, float]) -> bool:
    """Whether normal loads ≥ 0 and thrusts within ±grip hold the rig: a linear programme."""
    rows: list[list[float]] = [[], [], []]
    for (x, z), lean, _ in contacts:
        c, s = math.cos(lean), math.sin(lean)
        for px, pz in ((-s, c), (c, s)):
            rows[0].append(px)
            rows[1].append(pz)
            rows[2].append(x * pz - z * px)
    limit, side = [], []
    for i, (_, _, driven) in enumerate(contacts):
        for sign in (1, -1):
            row = [0.0] * (2 * len(contacts))
            row[2 * i], row[2 * i + 1] = (-grip if driven else 0.0), sign
            limit.append(row)
            side.append(0.0)
    got = linprog(
        [0.0] * (2 * len(contacts)),
        A_ub=limit,
        b_ub=side,
        A_eq=rows,
        b_eq=[0.0, WEIGHT, WEIGHT * cg[0]],
        bounds=[(0, None), (None, None)] * len(contacts),
    )
    return bool(got.status == 0)


@pytest.mark.parametrize("step", [0.1, 0.2, 0.35])
def test_least_grip_of_a_ledge(step: float) -> None:
    """Against a linear programme over all ways to share loads and thrusts: just more grip holds it, just less does
    not.
    """
    radius = 0.45
    found = ledge(WEIGHT, A, BASE, HEIGHT, (radius, radius), step)
    edge = step_contact(BASE, radius, step)
    assert edge.at == pytest.approx((BASE + radius * math.sin(edge.lean), min(step, radius)))
    for grip, front_driven in ((found.front_all, True), (found.front_rear_drive, False)):
        assert grip is not None
        contacts = [(edge.at, edge.lean, front_driven), ((0.0, 0.0), 0.0, True)]
        assert feasible(grip * 1.001, contacts, (BASE - A, HEIGHT))
        assert not feasible(grip * 0.999, contacts, (BASE - A, HEIGHT))
    assert found.front_all is not None
    assert found.front_rear_drive is not None
    assert found.front_all < found.front_rear_drive


def test_ledge_limits() -> None:
    flat = ledge(WEIGHT, A, BASE, HEIGHT, (0.45, 0.45), 1e-6)
    assert flat.front_all == pytest.approx(0.0, abs=5e-3)
    assert flat.rear_all == pytest.approx(0.0, abs=5e-3)
    assert step_contact(2.0, 0.4, 0.7).lean == pytest.approx(math.pi / 2)
    assert step_contact(2.0, 0.4, 0.7).at == pytest.approx((2.4, 0.4))
    # a tyre driven against a wall with all wheels: N1 = F2 and F1 = μN1 carry it, so it holds from μ with μ²N… by
    # hand for the CG on the ground's middle
    wall = ledge(WEIGHT, A, BASE, HEIGHT, (0.45, 0.45), 0.6)
    assert wall.front_all is not None
    mu = wall.front_all
    n2 = WEIGHT / (1 + mu * mu)
    n1 = mu * n2
    assert n1 * mu + n2 == pytest.approx(WEIGHT)
    assert (BASE + 0.45) * mu * n1 + 0.45 * n1 == pytest.approx(WEIGHT * (BASE - A))  # moments about the rear contact


def sides(kf: float, kr: float, tracks: tuple[float, float] = (1.6, 1.7)) -> tuple[Side, Side]:
    return (
        Side(WEIGHT * (BASE - A) / BASE, tracks[0], 0.55, kf, 2600.0, 0.45),
        Side(WEIGHT * A / BASE, tracks[1], 0.6, kr, 2900.0, 0.45),
    )


def share_of(s: tuple[Side, Side]) -> float:
    return (s[0].load - s[0].unsprung) / (WEIGHT - s[0].unsprung - s[1].unsprung)


@given(st.floats(0.05, 0.5), st.floats(2e4, 2e5), st.floats(2e4, 2e5))
@settings(max_examples=25)
def test_side_slope_balances(slope: float, kf: float, kr: float) -> None:
    """Body in roll (Brent's method, while all wheels are down) and the whole rig about the ground: the tyres' moments
    carry all of it.
    """
    two = sides(kf, kr)
    found = side_hill(WEIGHT, HEIGHT, share_of(two), two, slope)
    sprung = WEIGHT - 5500.0
    up = (WEIGHT * HEIGHT - 5500.0 * 0.45) / sprung
    part = share_of(two)
    axis = part * 0.55 + (1 - part) * 0.6
    pull = sprung * (up - axis)
    if kf + kr <= pull:
        assert found.no_rest
        return
    assert found.asked.lean is not None
    if min(found.asked.uphill) > 1e-6:
        assert found.asked.lean == pytest.approx(
            brentq(lambda f: pull * math.sin(slope + f) - (kf + kr) * f, 0.0, 2.0), abs=1e-6
        )
    moment = sum((d - u) * s.track / 2 for u, d, s in zip(found.asked.uphill, found.asked.downhill, two, strict=True))
    lean = found.asked.lean
    whole = sprung * (axis * math.sin(slope) + (up - axis) * math.sin(slope + lean)) + 5500.0 * 0.45 * math.sin(slope)
    assert moment == pytest.approx(whole, rel=1e-5)
    assert sum(found.asked.uphill) + sum(found.asked.downhill) == pytest.approx(WEIGHT * math.cos(slope))


def test_stiff_springs_tip_as_a_rigid_rig() -> None:
    """K → ∞: tan = half the track of the line through both downhill contacts at the CG's station, over the CG's
    height (Gillespie's static stability).
    """
    two = sides(1e10, 1e10)
    found = side_hill(WEIGHT, HEIGHT, share_of(two), two, 0.1)
    track = 1.7 + (BASE - A) / BASE * (1.6 - 1.7)
    assert found.tip == pytest.approx(rigid_tip(track, HEIGHT), abs=1e-4)
    soft = sides(6e4, 2e5)
    lean = side_hill(WEIGHT, HEIGHT, share_of(soft), soft, 0.1)
    assert lean.tip is not None
    assert lean.lift is not None
    assert lean.lifts == "rear"  # the stiffer end takes more of the moment
    assert lean.lift < lean.tip < rigid_tip(track, HEIGHT)
    weak = sides(1e3, 1e3)
    assert side_hill(WEIGHT, HEIGHT, share_of(weak), weak, 0.1).no_rest
    low = tuple(Side(s.load, s.track, 1.3, s.stiffness, s.unsprung, s.hub) for s in two)
    uphill = side_hill(WEIGHT, HEIGHT, share_of(two), (low[0], low[1]), 0.2)
    assert uphill.asked.lean is not None
    assert uphill.asked.lean < 0  # roll axis above the CG leans uphill
