"""Grade, ledge and side slope against free bodies, energy and limits."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq, fsolve, linprog

from stoutlink.core.mechanics.attitude import AxleSprings, PlaneRig, Step, back_over_sprung, stand_on_grade
from stoutlink.core.mechanics.ledge import least_grip, ledge, step_contact
from stoutlink.core.mechanics.side_hill import Side, side_hill
from stoutlink.core.mechanics.slopes import back_over, dive, grade_loads, nose_over, ramp_index, rigid_tip

WEIGHT, A, BASE, HEIGHT, HUB = 20000.0, 1.3, 2.7, 0.85, 0.45


OWN = (2600.0, 2900.0)
RIG = PlaneRig(WEIGHT, A, BASE, HEIGHT, (HUB, HUB), OWN)


def linear(rate: float, slope: float, low: float = -0.2, high: float = 0.2, end: str = "rear") -> AxleSprings:
    """Springs of ``rate`` a side; the housing turns so that its contact has the support slope, hubs straight up."""
    turn = (slope if end == "rear" else -slope) / HUB
    return AxleSprings(lambda more: more / (2 * rate), low, high, lambda _: Step(0.0, 0.0, turn))


@dataclass(frozen=True)
class Arm:
    """An axle on a rigid arm about a fixed pivot of the body, for the independent balance below."""

    pivot: tuple[float, float]
    hub: tuple[float, float]
    rate: float

    def at(self, turn: float) -> tuple[float, float]:
        """Hub in body axes once turned nose down."""
        dx, dz = self.hub[0] - self.pivot[0], self.hub[1] - self.pivot[1]
        c, s = math.cos(turn), math.sin(turn)
        return self.pivot[0] + c * dx + s * dz, self.pivot[1] - s * dx + c * dz

    def turned(self, heave: float) -> float:
        """Turn at a heave of the hub."""
        return float(brentq(lambda t: self.at(t)[1] - self.hub[1] - heave, -0.5, 0.5, xtol=1e-14))

    def path(self, heave: float) -> Step:
        """By differences, not by formula."""
        near = [(self.at(t)[0], t) for t in (self.turned(heave - 1e-6), self.turned(heave + 1e-6))]
        here = self.at(self.turned(heave))[0] - self.hub[0]
        return Step(here, (near[1][0] - near[0][0]) / 2e-6, (near[1][1] - near[0][1]) / 2e-6)

    @property
    def springs(self) -> AxleSprings:
        """As the core takes them."""
        return AxleSprings(lambda more: more / self.rate, -0.4, 0.4, self.path)


def balance(angle: float, front: Arm, rear: Arm, share: float, *, rig: PlaneRig = RIG) -> tuple[float, ...]:
    """Turn of both arms, nose up, both loads: every body's own equilibrium in the world's axes, by scipy's root."""
    base, radii, own = rig.wheelbase, rig.radii, rig.unsprung
    sprung, sx, sz = rig.sprung
    rest = [n - u for n, u in zip(rig.level, own, strict=True)]

    def world(p: tuple[float, float], lean: float) -> np.ndarray:
        c, s = math.cos(lean), math.sin(lean)
        return np.array([c * p[0] - s * p[1], s * p[0] + c * p[1]])

    def cross(u: np.ndarray, v: np.ndarray) -> float:
        return float(u[0] * v[1] - u[1] * v[0])

    def missing(v: np.ndarray) -> list[float]:
        tf, tr, nose, nf, nr = v
        lean = angle + nose
        normal, along = np.array([-math.sin(angle), math.cos(angle)]), np.array([math.cos(angle), math.sin(angle)])
        up = world((0.0, 1.0), lean)
        hubs = [world(a.at(t), lean) for a, t in ((front, tf), (rear, tr))]
        touch = [h - r * normal for h, r in zip(hubs, radii, strict=True)]
        thrust = rig.weight * math.sin(angle)
        push = [nf * normal + (1 - share) * thrust * along, nr * normal + share * thrust * along]
        out = [float((touch[0] - touch[1]) @ normal)]
        down = np.array([0.0, -1.0])
        weights = [(sprung, world((sx, sz), lean)), (own[0], hubs[0]), (own[1], hubs[1])]
        out.append(float(sum(push[0][k] + push[1][k] for k in (1,)) - rig.weight))
        out.append(
            sum(cross(t, p) for t, p in zip(touch, push, strict=True)) + sum(cross(at, w * down) for w, at in weights)
        )
        for k, (arm, turn) in enumerate(((front, tf), (rear, tr))):
            pivot = world(arm.pivot, lean)
            heave = arm.at(turn)[1] - arm.hub[1]
            spring = -(rest[k] + arm.rate * heave) * up  # on the hub
            out.append(cross(touch[k] - pivot, push[k]) + cross(hubs[k] - pivot, own[k] * down + spring))
        return [out[0] * 1e4, *out[1:]]

    found, _, ok, why = fsolve(missing, [0.0, 0.0, 0.0, *rig.level], full_output=True, xtol=1e-13)
    assert ok == 1, why
    assert base > 0
    return tuple(float(x) for x in found)


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
    springs = linear(kf, 0.0, end="front"), linear(kr, HEIGHT / BASE * (1 + kr / kf))
    found = stand_on_grade(RIG, angle, springs, 1.0)
    plain = stand_on_grade(RIG, angle, (linear(kf, 0.0), linear(kr, 0.0)), 1.0)
    assert abs(found.nose_up) < 2e-3 * abs(plain.nose_up)


@pytest.mark.parametrize("angle", [-0.3, 0.1, 0.35, math.radians(35)])
@pytest.mark.parametrize("radii", [(HUB, HUB), (0.44, 0.49)])
def test_a_stand_is_the_balance_of_every_body(angle: float, radii: tuple[float, float]) -> None:
    """Both axles on rigid arms, steep ones and flat ones: body, axles and ground each in equilibrium (scipy's root
    over all of them) against the virtual work of the core.
    """
    rig = PlaneRig(WEIGHT, A, BASE, HEIGHT, radii, OWN)
    front, rear = Arm((BASE - 1.1, 0.52), (BASE, radii[0]), 55e3), Arm((1.3, 0.68), (0.0, radii[1]), 82e3)
    tf, tr, nose, nf, nr = balance(angle, front, rear, 0.6, rig=rig)
    found = stand_on_grade(rig, angle, (front.springs, rear.springs), 0.6)
    assert (found.front, found.rear) == pytest.approx((nf, nr), abs=0.05)
    assert found.travel_front == pytest.approx(front.at(tf)[1] - front.hub[1], abs=2e-6)
    assert found.travel_rear == pytest.approx(rear.at(tr)[1] - rear.hub[1], abs=2e-6)
    assert found.nose_up == pytest.approx(nose, abs=2e-6)
    locked = stand_on_grade(rig, angle, (front.springs, rear.springs), None)
    assert locked.share_rear == pytest.approx(locked.rear / (locked.front + locked.rear))


def test_an_axle_s_own_weight_is_no_spring_load() -> None:
    """Springs without a way for thrust to reach them: on a slope they feel the sprung weight alone."""
    heavy = PlaneRig(WEIGHT, A, BASE, HEIGHT, (HUB, HUB), (6000.0, 6000.0))
    up = linear(30e3, 0.0, end="front"), linear(30e3, 0.0)
    found = stand_on_grade(heavy, 0.4, up, 0.5)
    steep = 0.4 + found.nose_up
    thrust = 0.5 * WEIGHT * math.sin(0.4)
    for load, own, level, travel in (
        (found.front, 6000.0, heavy.level[0], found.travel_front),
        (found.rear, 6000.0, heavy.level[1], found.travel_rear),
    ):
        felt = load * math.cos(found.nose_up) - thrust * math.sin(found.nose_up) - own * math.cos(steep)
        assert 60e3 * travel == pytest.approx(felt - (level - own), abs=1e-3)


def test_stops_and_stiff_springs() -> None:
    stiff = stand_on_grade(RIG, 0.5, (linear(3e9, 0.2, end="front"), linear(3e9, 0.2)), None)
    assert (stiff.front, stiff.rear) == pytest.approx(grade_loads(WEIGHT, A, BASE, HEIGHT, 0.5), rel=1e-4)
    clipped = stand_on_grade(RIG, 0.5, (linear(3e3, 0.0, -0.05, 0.05), linear(3e3, 0.0, -0.05, 0.05)), None)
    assert (clipped.travel_front, clipped.travel_rear) == pytest.approx((-0.05, 0.05), abs=1e-6)
    level = stand_on_grade(RIG, 0.0, (linear(30e3, 0.2, end="front"), linear(30e3, 0.2)), None)
    assert (level.travel_front, level.travel_rear, level.nose_up) == pytest.approx((0.0, 0.0, 0.0), abs=1e-9)
    assert level.cg == pytest.approx((A, HEIGHT))


def test_going_over_backward() -> None:
    """Rigid limit atan((L − a)/h); soft springs give it up earlier; more anti-squat costs angle; the front's load is
    gone there, by the independent balance as well.
    """
    rigid = back_over(A, BASE, HEIGHT)
    stiff = (linear(3e9, 0.0, 0.0, 0.0), linear(3e9, 0.0, -1e-9, 1e-9))
    assert back_over_sprung(RIG, stiff) == pytest.approx(rigid, abs=1e-6)
    soft = back_over_sprung(RIG, (linear(30e3, 0.0), linear(45e3, 0.0)))
    lifted = back_over_sprung(RIG, (linear(30e3, 0.0), linear(45e3, 0.3)))
    assert lifted < soft < rigid
    # with a front axle free to hang as far as its springs let it, so that the balance has no stop in it
    front, rear = Arm((BASE - 1.1, 0.52), (BASE, HUB), 55e3), Arm((1.3, 0.68), (0.0, HUB), 82e3)
    angle = back_over_sprung(RIG, (front.springs, rear.springs))
    *_, nf, nr = balance(angle, front, rear, 1.0)
    assert nf == pytest.approx(0.0, abs=0.5)
    assert nr == pytest.approx(WEIGHT * math.cos(angle), rel=1e-4)


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


@pytest.mark.parametrize("step", [0.1, 0.15, 0.3])
def test_the_rear_alone_at_a_ledge(step: float) -> None:
    """The front stands on top and rolls freely, so only the rear tyre's own force may lie along the ground: upright,
    which takes tan θ of grip whatever the weights (0.15 m, r 0.46: 1.0963). The linear programme says the same, both
    for it and with all wheels driven.
    """
    radius = 0.46
    found = ledge(WEIGHT, A, BASE, HEIGHT, (radius, radius), step)
    edge = step_contact(0.0, radius, step)
    assert found.rear_rear_drive == pytest.approx(math.tan(edge.lean), rel=1e-9)
    if step == 0.15:
        assert found.rear_rear_drive == pytest.approx(1.0963, abs=5e-5)
    rise = math.asin(step / BASE)
    x, z = BASE - A, HEIGHT - radius
    cg = (math.cos(rise) * x - math.sin(rise) * z, radius + math.sin(rise) * x + math.cos(rise) * z)
    top = (math.cos(rise) * BASE, step)
    for grip, front in ((found.rear_rear_drive, False), (found.rear_all, True)):
        assert grip is not None
        contacts = [(top, 0.0, front), (edge.at, edge.lean, True)]
        assert feasible(grip * 1.001, contacts, cg)
        assert not feasible(grip * 0.999, contacts, cg)


def test_nobody_driven_climbs_nothing() -> None:
    contacts = step_contact(BASE, 0.46, 0.1), step_contact(0.0, 0.46, 0.0)
    assert least_grip(WEIGHT, (BASE - A, HEIGHT), contacts, (False, False)) is None


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
