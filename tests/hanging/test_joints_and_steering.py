"""Joint lean against brute force over the spin, bump steer against an independent solution in space."""

from __future__ import annotations

import math

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation

from stoutlink.core.analysis.linkage.axle_motion import axle_motion
from stoutlink.core.analysis.linkage.joint_misalignment import over_constraint
from stoutlink.core.analysis.linkage.steering_geometry import bump_steer, knuckle_of, panhard
from stoutlink.core.document.layout import Joint
from stoutlink.core.document.project import Project
from stoutlink.core.document.steering import Steering
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.mechanics.linkage.misalignment import best_clock, joint_misalignment
from stoutlink.core.mechanics.steering import arc_match, kingpin_axis, knuckle_turn, per_step
from stoutlink.core.study.study import Study
from tests.layouts import JOINT, REDUNDANT, THREE, layout, rig

Array = NDArray[np.float64]


def unit(v: object) -> Array:
    a = np.asarray(v, dtype=float)
    return np.asarray(a / np.linalg.norm(a))


def brute(u: Array, f: Array, a: Array, clock: float) -> tuple[float, float]:
    """The best spin by trying 20 000 of them."""
    up = np.array([0.0, 0, 1]) if abs(u[2]) < 0.9 else np.array([1.0, 0, 0])
    e1 = unit(np.cross(up, u))
    e2 = np.cross(u, e1)
    spin = np.linspace(0, math.pi, 20001)
    bore = np.outer(np.cos(spin), e1) + np.outer(np.sin(spin), e2)
    other = np.outer(np.cos(spin + clock), e1) + np.outer(np.sin(spin + clock), e2)
    one, two = np.arccos(np.clip(np.abs(bore @ f), 0, 1)), np.arccos(np.clip(np.abs(other @ a), 0, 1))
    i = int(np.maximum(one, two).argmin())
    return float(one[i]), float(two[i])


def test_lean_is_the_best_over_the_spin() -> None:
    rng = np.random.default_rng(2)
    for _ in range(60):
        u = unit(rng.normal(size=3))
        f, a = (
            unit(np.cross(u, rng.normal(size=3)) + 0.3 * rng.normal() * u),
            unit(np.cross(u, rng.normal(size=3)) + 0.3 * rng.normal() * u),
        )
        clock = rng.uniform(-2, 2)
        found = joint_misalignment(u[None], f[None], a[None], clock)
        assert max(found.frame[0], found.axle[0]) == pytest.approx(max(brute(u, f, a, clock)), abs=3e-4)


def test_lean_in_plain_cases() -> None:
    along, across = np.array([[1.0, 0, 0]]), np.array([[0.0, 1, 0]])
    swung = np.array([[math.cos(0.3), 0.0, math.sin(0.3)]])
    assert joint_misalignment(swung, across, across, 0.0).frame[0] == pytest.approx(
        0.0, abs=1e-9
    )  # a link that swings about its bolts does not lean
    rolled = np.array([[0.0, math.cos(0.4), math.sin(0.4)]])
    both = joint_misalignment(along, across, rolled, 0.0)
    assert (both.frame[0], both.axle[0]) == pytest.approx((0.2, 0.2))  # roll is shared by both ends
    held = joint_misalignment(along, across, rolled, 0.0, frame_bushing=True)
    assert (held.frame[0], held.axle[0]) == pytest.approx(
        (0.0, 0.4)
    )  # a bushing holds the spin, the other end takes it all
    two = joint_misalignment(along, across, rolled, 0.0, True, True)
    assert two.twist[0] == pytest.approx(0.4)
    assert best_clock(along[0], across[0], rolled[0]) == pytest.approx(0.4)
    assert joint_misalignment(along, across, rolled, 0.4).axle[0] == pytest.approx(0.0, abs=1e-9)


def test_bind_of_a_layout_pose_by_pose(basalt: Project) -> None:
    """The demo's left upper at the ends of its roll, worked out again with scipy's rotations and the brute spin."""
    found = Study(basalt).axles["rear"]
    assert found.over_constraint is not None
    assert found.motion is not None
    m, link = found.motion, basalt.layout("rear").links[0]  # type: ignore[union-attr]
    p = m.roll.poses
    worst = 0.0
    ride = np.subtract(link.axle_pivot_m, link.frame_pivot_m)
    bolt = unit([-ride[1], ride[0], 0.0])
    clock = 0.0
    for i in np.flatnonzero(p.reached):
        turn = Rotation.from_euler("ZXY", [p.yaw[i], p.roll[i], p.pitch[i]])
        at = np.array([p.x[i], p.y[i], p.z[i]]) + turn.apply(np.subtract(link.axle_pivot_m, m.centre))
        worst = max(worst, *brute(unit(at - link.frame_pivot_m), bolt, turn.apply(bolt), clock))
    ends = [e for e in found.over_constraint.ends if e.link.id == link.id]
    assert max(e.roll for e in ends) == pytest.approx(worst, abs=4e-4)


def test_joints_past_their_limit_are_named() -> None:
    tight = Joint(id="j", name="Tight", misalignment_rad=math.radians(5))
    m = axle_motion(rig(), layout(THREE), (tight,))
    over = [e for e in over_constraint(m, (tight,)).ends if e.over]
    assert over
    assert all(e.worst > math.radians(5) for e in over)
    redundant = axle_motion(rig(), layout(REDUNDANT), (JOINT,))
    give = over_constraint(redundant, (JOINT,))
    assert give.stiffness_assumed
    assert len(give.bars) == 5
    frame, axle = give.bars[0].roll
    assert frame + axle == pytest.approx(float(np.nanmax(np.abs(redundant.roll.bar_error[:, 0]))))


STEERING = Steering(
    pitman_m=(0.15, 0.42, 0.69), knuckle_m=(0.14, -0.55, 0.62), kingpin_m=(0.0, -0.66, 0.44), kingpin_in_rad=0.14
)


def _moved(s: Steering, by: float) -> Steering:
    def go(p: tuple[float, float, float]) -> tuple[float, float, float]:
        return (p[0] + by, p[1], p[2])

    return Steering(
        pitman_m=go(s.pitman_m), knuckle_m=go(s.knuckle_m), kingpin_m=go(s.kingpin_m), kingpin_in_rad=s.kingpin_in_rad
    )


def test_bump_steer_against_a_solution_in_space() -> None:
    """Brent's method on the drag link's length, the knuckle turned with scipy's rotation about the kingpin, at every
    fifth height.
    """
    m = axle_motion(
        rig(), layout(THREE, end="front", shift=2.8, caster_rad=0.1, steering=_moved(STEERING, 2.8)), (JOINT,)
    )
    found = bump_steer(m)
    assert found is not None
    s = m.layout.steering
    assert s is not None
    axis = unit([-math.tan(0.1), math.tan(0.14), 1.0])  # right-hand knuckle: leans in to the left, back with caster
    length = math.dist(s.pitman_m, s.knuckle_m)
    p = m.heave.poses
    for i in range(0, 121, 5):
        body = Rotation.from_euler("ZXY", [p.yaw[i], p.roll[i], p.pitch[i]])
        at = np.array([p.x[i], p.y[i], p.z[i]])

        def gap(delta: float, body: Rotation = body, at: Array = at) -> float:
            turned = Rotation.from_rotvec(delta * axis).apply(np.subtract(s.knuckle_m, s.kingpin_m)) + s.kingpin_m
            return math.dist(at + body.apply(turned - np.array(m.centre)), s.pitman_m) - length

        delta = brentq(gap, -0.35, 0.35, xtol=1e-13)
        assert found.turn.delta[i] == pytest.approx(delta, abs=1e-9)
        spin = body.apply(Rotation.from_rotvec(delta * axis).apply([0.0, 1.0, 0.0]))
        assert found.turn.heading[i] == pytest.approx(math.atan2(-spin[0], spin[1]), abs=1e-9)
    assert found.delta_per_step == pytest.approx(per_step(found.heave, found.turn.delta))
    up, down = (np.interp(h, found.heave, found.turn.heading) for h in (0.025, -0.025))
    assert found.heading_per_step == pytest.approx((up - down) / 2)


def test_a_drag_link_beside_the_panhard_does_not_steer() -> None:
    """Axle moved along the panhard's arc without turning: a drag link of the same length, slope and hand is carried
    parallel to itself.
    """
    heave = np.linspace(-0.1, 0.1, 21)
    frame, axle = np.array([2.9, 0.45, 0.70]), np.array([2.9, -0.45, 0.62])
    across = axle[1] - frame[1]
    length = math.dist(frame, axle)
    y = -np.sqrt(length**2 - (axle[2] + heave - frame[2]) ** 2) - across
    zero = np.zeros_like(heave)
    shift = np.array([0.05, -0.1, 0.02])
    pin = np.array([2.75, -0.66, 0.44])
    beside = knuckle_of(
        layout(THREE, end="front", caster_rad=0.1),
        Steering(pitman_m=tuple(frame + shift), knuckle_m=tuple(axle + shift), kingpin_m=tuple(pin)),
        (2.8, 0.0, 0.44),
    )
    turn = knuckle_turn(beside, np.full(21, 2.8), y, 0.44 + heave, zero, zero, zero, 10)
    assert np.abs(turn.delta).max() < 1e-12
    other = knuckle_of(
        layout(THREE, end="front", caster_rad=0.1),
        Steering(pitman_m=(2.95, -1.40, 0.72), knuckle_m=tuple(axle + shift), kingpin_m=tuple(pin)),
        (2.8, 0.0, 0.44),
    )
    wrong = knuckle_turn(other, np.full(21, 2.8), y, 0.44 + heave, zero, zero, zero, 10)
    assert np.nanmax(np.abs(wrong.delta)) > math.radians(2)  # the opposite hand
    match = arc_match((frame, axle), (frame + shift, axle + shift))
    assert (match.length_apart, match.slope_apart, match.same_hand) == pytest.approx((0.0, 0.0, True))
    assert not arc_match((axle, frame), (frame, axle)).same_hand


def test_a_drag_link_too_short_says_nothing_beyond() -> None:
    axis = kingpin_axis(1.0, 0.0, 0.0)
    assert axis == pytest.approx([0.0, 0.0, 1.0])
    short = knuckle_of(
        layout(THREE, end="front"),
        Steering(pitman_m=(2.9, 0.55, 0.5), knuckle_m=(2.9, 0.65, 0.5), kingpin_m=(2.8, 0.7, 0.44)),
        (2.8, 0.0, 0.44),
    )
    heave = np.linspace(0.0, 0.4, 9)
    zero = np.zeros(9)
    turn = knuckle_turn(short, np.full(9, 2.8), zero, 0.44 + heave, zero, zero, zero, 0)
    reached = np.isfinite(turn.delta)
    assert reached[0]
    assert not reached[-1]
    assert not reached[int(reached.argmin()) :].any()


def test_findings_of_steering(basalt: Project) -> None:
    assert not {f.code for f in Study(basalt).findings} & {"G230", "G231", "G232"}
    bar = panhard(Study(basalt).axles["front"].motion)  # type: ignore[arg-type]
    assert bar is not None
    assert bar.centre_height == pytest.approx(np.interp(0.0, [-0.3429, 0.4572], [0.62865, 0.69215]))
    low = SetNumber("layouts.front-a.steering.pitman_m.2", 0.5).apply(basalt)
    assert "G230" in {f.code for f in Study(low).findings}
    hydraulic = SetChoice("layouts.front-a.steering.kind", "hydraulic").apply(basalt)
    said = [f for f in Study(hydraulic).findings if f.code == "G232"]
    assert said
    assert "local code" in said[0].why
    assert Study(hydraulic).axles["front"].steer is None
