"""Both knuckles by drag link and tie rod against solutions in space by scipy; lock, Ackermann, the steering wheel."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.optimize import brentq, fsolve
from scipy.spatial.transform import Rotation

from stoutlink.core.analysis.cycle.steer import SteerTravel, rods_at, steer_range, steer_travel, wheel_turns
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.linkage.steering_geometry import knuckle_of, sector_of
from stoutlink.core.analysis.linkage.wheels import wheel_at
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project
from stoutlink.core.document.steering import Steering, TieRod
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.mechanics.steering import Knuckle, by_sector, held_turn, kingpin_axis
from tests.layouts import THREE, layout

Array = NDArray[np.float64]
MIRROR = np.array([1.0, -1.0, 1.0])


def made(on_tie: bool) -> Knuckle:
    axis = kingpin_axis(-1.0, 0.13, 0.09)
    return Knuckle(
        np.array([2.95, 0.40, 0.70]),
        np.array([2.93, -0.52, 0.60]),
        np.array([2.8, -0.66, 0.45]),
        axis,
        np.array([2.8, 0.0, 0.45]),
        np.array([2.62, -0.60, 0.40]),
        on_tie,
    )


def turned(point: Array, pin: Array, axis: Array, angle: float) -> Array:
    return np.asarray(Rotation.from_rotvec(angle * axis).apply(point - pin) + pin)


def other_by_brent(k: Knuckle, delta: float) -> float:
    assert k.tie is not None
    one = turned(k.tie, k.kingpin, k.axis, delta)

    def gap(v: float) -> float:
        assert k.tie is not None
        return float(np.linalg.norm(turned(k.tie * MIRROR, k.kingpin * MIRROR, k.axis * MIRROR, v) - one)) - 1.2

    return float(brentq(gap, delta - 0.3, delta + 0.3, xtol=1e-13))


def test_the_other_wheel_by_the_tie_rod() -> None:
    k = made(False)
    assert k.tie_length == pytest.approx(1.2)
    for delta in (-0.5, -0.2, 0.0, 0.3, 0.55):
        assert float(k.other_turn(np.array(delta))) == pytest.approx(other_by_brent(k, delta), abs=1e-9)


def test_a_drag_link_on_the_tie_rod() -> None:
    """Its end carried at its part of the rod, its offset as at ride: δ by Brent's method, the far knuckle by Brent's
    method inside.
    """
    k = made(True)
    assert k.tie is not None
    part = (k.tie[1] - k.arm[1]) / (2 * k.tie[1])
    offset = k.arm - (k.tie + part * (k.tie * MIRROR - k.tie))

    def end(delta: float) -> Array:
        assert k.tie is not None
        one = turned(k.tie, k.kingpin, k.axis, delta)
        two = turned(k.tie * MIRROR, k.kingpin * MIRROR, k.axis * MIRROR, other_by_brent(k, delta))
        return np.asarray(one + part * (two - one) + offset)

    at, go = k.end(np.array(0.2))
    assert at == pytest.approx(end(0.2), abs=1e-9)
    assert go == pytest.approx((end(0.2 + 1e-5) - end(0.2 - 1e-5)) / 2e-5, abs=1e-6)
    for shift in ([0.0, 0.03, 0.0], [0.01, -0.05, 0.04], [0.0, 0.05, -0.02]):
        pitman = k.pitman + np.array(shift)
        delta = brentq(lambda v, p=pitman: float(np.linalg.norm(end(v) - p)) - k.length, -0.45, 0.45, xtol=1e-13)
        assert float(held_turn(k, pitman[None])[0]) == pytest.approx(delta, abs=1e-8)
    assert np.isnan(held_turn(k, (k.pitman + np.array([0.0, 1.5, 0.0]))[None])[0])


def test_lock_to_lock_of_a_crossover() -> None:
    """The whole chain sector – drag link – knuckle – tie rod – knuckle solved at once by scipy for three turns of the
    sector.
    """
    s = Steering(
        pitman_m=(2.95, 0.40, 0.70),
        knuckle_m=(2.93, -0.52, 0.60),
        kingpin_m=(2.8, -0.66, 0.45),
        kingpin_in_rad=0.13,
        tie_rod=TieRod(end_m=(2.62, -0.60, 0.40)),
    )
    k, sector = knuckle_of(layout(THREE, end="front", caster_rad=0.09), s, (2.8, 0.0, 0.45)), sector_of(s)
    turns = np.linspace(-0.4, 0.4, 9)
    near, far = by_sector(k, sector, turns)
    for i in (0, 3, 7):

        def wrong(v: Array, i: int = i) -> list[float]:
            assert k.tie is not None
            pitman = turned(k.pitman, sector.middle, sector.axis, turns[i])
            arm = turned(k.arm, k.kingpin, k.axis, v[0])
            one, two = (
                turned(k.tie, k.kingpin, k.axis, v[0]),
                turned(k.tie * MIRROR, k.kingpin * MIRROR, k.axis * MIRROR, v[1]),
            )
            return [float(np.linalg.norm(arm - pitman)) - k.length, float(np.linalg.norm(one - two)) - 1.2]

        assert (near[i], far[i]) == pytest.approx(fsolve(wrong, [turns[i], turns[i]], xtol=1e-11), abs=1e-8)


@pytest.fixture
def steered(basalt: Project) -> tuple[Project, AxleTravel, SteerTravel]:
    """The demo's front axle with its tie rod."""
    front = basalt.layout("front")
    assert front is not None
    assert front.steering is not None
    x, y, z = front.steering.kingpin_m
    rod = TieRod(end_m=(x - 0.16, y + 0.06, z - 0.02))
    with_rod = SetChoice(
        "layouts.front-a.steering", msgspec.structs.replace(front.steering, tie_rod=rod), "tie rod"
    ).apply(basalt)
    found = axle_travel(with_rod, effective_vehicle(with_rod).rig, "front", touch=False)
    assert found is not None
    assert found.steer is not None
    return with_rod, found, found.steer


def test_a_tie_rod_keeps_the_toe_in_the_travel(steered: tuple[Project, AxleTravel, SteerTravel]) -> None:
    """On a rigid axle the rod's ends ride with it: both wheels turn by what the tie rod gives for one δ, and the
    difference of headings is small.
    """
    _, found, s = steered
    inside = found.grid.within & np.isfinite(s.delta)
    toe = (s.left - s.right)[inside]
    assert np.abs(toe).max() < 0.25 * np.abs(s.delta[inside]).max() + 1e-9
    i, j = found.grid.ride
    assert (s.left[i, j], s.right[i, j]) == pytest.approx((0.0, 0.0), abs=1e-9)
    # with the steering wheel turned by what the hands have to give, the knuckle stays straight: the drag link's
    # length says so
    row, column = i, int(np.flatnonzero(found.grid.within[i])[-3])
    k = s.knuckle
    pitman = turned(k.pitman, s.sector.middle, s.sector.axis, float(s.hands[row, column]) / s.sector.ratio)
    arm = found.grid.carried(k.arm)[row, column]
    assert np.linalg.norm(arm - pitman) == pytest.approx(k.length, abs=1e-9)
    assert s.reaches


def test_ackermann_and_the_steering_wheel(steered: tuple[Project, AxleTravel, SteerTravel]) -> None:
    project, _, s = steered
    lock, rig = s.lock, effective_vehicle(project).rig
    assert lock is not None
    # common practice: arms behind the axle pointing inward turn the inner wheel more
    assert lock.inner > lock.outer
    apart = 2 * abs(s.steering.kingpin_m[1])
    assert 1 / math.tan(lock.ideal_outer) - 1 / math.tan(lock.inner) == pytest.approx(
        apart / rig.wheelbase_m
    )  # Gillespie ch. 8: cot δo − cot δi = t/L
    donor = project.donor("front")
    assert donor is not None
    assert donor.steer_lock_rad is not None
    for served in steer_range(s, donor):  # one wheel at the axle's lock, the other within it
        assert max(abs(v) for v in wheel_turns(s, served)) == pytest.approx(donor.steer_lock_rad)
    assert steer_range(None, None)[1] == -steer_range(None, None)[0]
    assert lock.inner <= donor.steer_lock_rad + 1e-9
    # the ratio by a small turn of the sector
    one, _ = by_sector(s.knuckle, s.sector, np.array([-1e-4, 0.0, 1e-4]))
    assert lock.ratio == pytest.approx(abs(2e-4 / (one[2] - one[0])) * s.steering.box_ratio, rel=1e-3)
    assert 1.0 < lock.turns < 8.0


def test_rods_and_wheels_at_a_steer(steered: tuple[Project, AxleTravel, SteerTravel]) -> None:
    project, found, s = steered
    rods = rods_at(s, 0.3)
    for name, length in (("Drag link", s.knuckle.length), ("Tie rod", s.knuckle.tie_length)):
        p, q = rods[name]
        assert np.linalg.norm(p - q) == pytest.approx(length, abs=1e-9)
    left, right = wheel_turns(s, 0.3)
    assert right == pytest.approx(0.3)  # the drag link serves the right knuckle
    assert left != right
    rig = effective_vehicle(project).rig
    straight, _ = wheel_at(rig, found.layout, None, 1.0, 0.0)
    middle, spin = wheel_at(rig, found.layout, None, 1.0, 0.4)
    pin = np.array(s.steering.kingpin_m) * MIRROR
    axis = kingpin_axis(1.0, s.steering.kingpin_in_rad, found.layout.caster_rad or 0.0)
    assert middle == pytest.approx(turned(straight, pin, axis, 0.4))
    assert spin == pytest.approx(turned(np.array([0.0, 1.0, 0.0]), np.zeros(3), axis, 0.4))


def test_a_push_pull_and_hydraulic(basalt: Project) -> None:
    front = basalt.layout("front")
    assert front is not None
    assert front.steering is not None
    old = front.steering
    hanging = msgspec.structs.replace(
        old, sector="across", sector_m=None, pitman_m=(old.knuckle_m[0] + 0.8, old.knuckle_m[1], old.knuckle_m[2] + 0.1)
    )
    p = SetChoice("layouts.front-a.steering", hanging, "x").apply(basalt)
    found = axle_travel(p, effective_vehicle(p).rig, "front", touch=False)
    assert found is not None
    assert found.steer is not None
    assert found.steer.words == "push-pull"
    assert sector_of(hanging).middle == pytest.approx([*hanging.pitman_m[:2], hanging.pitman_m[2] + old.pitman_arm_m])
    full = SetChoice("layouts.front-a.steering", msgspec.structs.replace(old, kind="hydraulic"), "x").apply(basalt)
    no = axle_travel(full, effective_vehicle(full).rig, "front", touch=False)
    assert no is not None
    assert no.steer is None
    assert steer_travel(effective_vehicle(full).rig, no.grid, None) is None
