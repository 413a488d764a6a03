"""Poses and motion against independent solutions: a rigid-body library, a general least-squares solver, and statics."""

from __future__ import annotations

import warnings
from typing import Any

import exudyn as exu
import numpy as np
import pytest
from exudyn import itemInterface as items  # noqa: N813 (a module of functions)
from numpy.typing import NDArray
from scipy.optimize import least_squares

from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.hold import side_force
from stoutlink.core.mechanics.linkage.motion import motion
from stoutlink.core.mechanics.linkage.poses import ride_pose
from stoutlink.core.mechanics.linkage.position import pose, sweep
from stoutlink.core.mechanics.linkage.roll_motion import roll_motion
from stoutlink.core.mechanics.linkage.side_view import side_view
from stoutlink.core.mechanics.linkage.stations import NEAR
from tests.layouts import CENTRE, HELD, RADIUS, REDUNDANT, bars

Array = NDArray[np.float64]
POSES = [(0.10, 0.15), (-0.12, 0.0), (0.0, -0.30), (0.13, -0.2), (-0.10, 0.25)]


def _multibody(one: Bars, heave: float, roll: float, *, bushings: bool = False) -> tuple[Array, Array]:
    """Position and rotation of the axle from exudyn: rigid body, distance constraints (or springs of the bars'
    stiffness for ``bushings``), heights of two points on the tube."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        system = exu.SystemContainer().AddSystem()
        ground = system.AddObject(items.ObjectGround())
        node = system.AddNode(items.NodeRigidBodyEP(referenceCoordinates=[*one.centre, 1, 0, 0, 0]))
        body = system.AddObject(
            items.ObjectRigidBody(physicsMass=100, physicsInertia=[10, 10, 10, 0, 0, 0], nodeNumber=node)
        )
        for frame, local, length, stiff in zip(one.frame, one.local, one.length, one.stiffness, strict=True):
            ends = [
                system.AddMarker(items.MarkerBodyPosition(bodyNumber=n, localPosition=[float(v) for v in p]))
                for n, p in ((ground, frame), (body, local))
            ]
            if bushings:
                system.AddObject(
                    items.ObjectConnectorSpringDamper(
                        markerNumbers=ends, referenceLength=float(length), stiffness=float(stiff)
                    )
                )
            else:
                system.AddObject(items.ObjectConnectorDistance(markerNumbers=ends, distance=float(length)))
        for side in (0.8, -0.8):
            ends = [
                system.AddMarker(items.MarkerBodyRigid(bodyNumber=n, localPosition=[float(v) for v in p]))
                for n, p in ((ground, one.centre), (body, (0.0, side, 0.0)))
            ]

            def offset(_: Any, part: float, __: int, ___: Any, side: float = side) -> list[float]:
                return [0.0, 0.0, heave * part + side * float(np.sin(roll * part)), 0.0, 0.0, 0.0]

            system.AddObject(
                items.ObjectJointGeneric(
                    markerNumbers=ends, constrainedAxes=[0, 0, 1, 0, 0, 0], offsetUserFunction=offset
                )
            )
        system.Assemble()
        settings = exu.SimulationSettings()
        settings.staticSolver.numberOfLoadSteps = 12
        newton = settings.staticSolver.newton
        newton.relativeTolerance = newton.absoluteTolerance = 1e-9 if bushings else 1e-12
        settings.solutionSettings.writeSolutionToFile = False
        system.SolveStatic(settings)
        place = system.GetNodeOutput(node, exu.OutputVariableType.Position)
        turn = system.GetNodeOutput(node, exu.OutputVariableType.RotationMatrix)
    return np.asarray(place), np.asarray(turn).reshape(3, 3)


@pytest.mark.parametrize("kind", HELD)
@pytest.mark.parametrize(("heave", "roll"), POSES)
def test_poses_agree_with_a_rigid_body_library(kind: str, heave: float, roll: float) -> None:
    one = bars(HELD[kind])
    p = pose(one, heave, roll)
    assert p.reached[0]
    assert p.residual[0] <= 1e-10
    place, turn = _multibody(one, heave, roll)
    assert [p.x[0], p.y[0], p.z[0]] == pytest.approx(place, abs=1e-9)
    assert rotation(p.yaw, p.roll, p.pitch)[0] == pytest.approx(turn, abs=1e-9)


@pytest.mark.parametrize("which", [REDUNDANT, RADIUS], ids=["parallel", "radius arms"])
@pytest.mark.parametrize(("heave", "roll"), [(0.08, 0.0), (-0.10, 0.0), (0.0, 0.10), (0.05, -0.08)])
def test_redundant_kinds_agree_with_a_rigid_body_library_on_bushings(which: Any, heave: float, roll: float) -> None:
    """The same axle in exudyn with a spring of the bar's stiffness in place of each bar, unequal ones, at rest."""
    k = np.array([1.0, 2.0, 1.0, 1.5, 3.0]) * 1e7
    one = Bars.of(CENTRE, [b[0] for b in which], [b[1] for b in which], k)
    p = pose(one, heave, roll)
    place, turn = _multibody(one, heave, roll, bushings=True)
    assert [p.x[0], p.y[0], p.z[0]] == pytest.approx(place, abs=1e-9)
    assert rotation(p.yaw, p.roll, p.pitch)[0] == pytest.approx(turn, abs=1e-9)


@pytest.mark.parametrize("which", [REDUNDANT, RADIUS], ids=["parallel", "radius arms"])
@pytest.mark.parametrize(("heave", "roll"), POSES[:3])
def test_redundant_bars_settle_at_least_work(which: Any, heave: float, roll: float) -> None:
    """Against scipy's least squares on ½·Σ k·(|d| − L)², written independently, with unequal stiffness."""
    k = np.array([1.0, 2.0, 1.0, 1.5, 3.0]) * 1e7
    one = Bars.of(CENTRE, [b[0] for b in which], [b[1] for b in which], k)

    def error(q: Array) -> Array:
        turn = rotation(np.array(q[2]), np.array(roll), np.array(q[3]))
        d = one.centre + np.array([q[0], q[1], heave]) + one.local @ turn.T - one.frame
        return np.asarray(np.sqrt(k / 1e7) * (np.linalg.norm(d, axis=1) - one.length))

    found = least_squares(error, np.zeros(4), xtol=1e-15, ftol=1e-15, gtol=1e-15).x
    p = pose(one, heave, roll)
    assert p.reached[0]
    ours = np.array([p.x[0] - one.centre[0], p.y[0], p.yaw[0], p.pitch[0]])
    assert ours == pytest.approx(found, abs=2e-7)
    give = motion(one, p).bar_error[0]
    assert give == pytest.approx(error(found) / np.sqrt(k / 1e7), abs=2e-7)


@pytest.mark.parametrize("which", [*HELD.values(), REDUNDANT, RADIUS], ids=[*HELD, "parallel", "radius"])
@pytest.mark.parametrize(("heave", "roll"), [(0.0, 0.0), (0.09, -0.12)])
def test_motion_is_the_derivative_of_the_poses(which: Any, heave: float, roll: float) -> None:
    one = bars(which)
    step = 1e-5

    def at(h: float, r: float) -> tuple[Array, Array]:
        p = pose(one, h, r)
        return np.array([p.x[0], p.y[0], p.z[0]]), rotation(p.yaw, p.roll, p.pitch)[0]

    twist = motion(one, pose(one, heave, roll))
    turn = at(heave, roll)[1]
    for (dh, dr), v, w in (((step, 0), twist.heave_v, twist.heave_w), ((0, step), twist.roll_v, twist.roll_w)):
        after, before = at(heave + dh, roll + dr), at(heave - dh, roll - dr)
        spin = (after[1] - before[1]) / (2 * step) @ turn.T
        assert v[0] == pytest.approx((after[0] - before[0]) / (2 * step), abs=2e-6)
        assert w[0] == pytest.approx([spin[2, 1], spin[0, 2], spin[1, 0]], abs=2e-6)


@pytest.mark.parametrize("which", HELD.values(), ids=HELD)
def test_support_slope_and_roll_centre_by_statics(which: Any) -> None:
    """Virtual work: with four bars, a force on the axle splits between bars, a vertical force and a roll moment at C.

    Thrust X at the contact (wheels locked to the housing) needs a vertical force σ·X; a side force Y at the height of
    the roll centre needs no roll moment. Solved as the 6×6 equilibrium of the free body, without any motion.
    """
    one = bars(which)
    r = CENTRE[2]
    unit = (one.frame - one.axle) / one.length[:, None]
    columns = [np.concatenate([u, np.cross(a, u)]) for u, a in zip(unit, one.local, strict=True)]
    columns += [np.array([0, 0, 1.0, 0, 0, 0]), np.array([0, 0, 0, 1.0, 0, 0])]
    matrix = np.array(columns).T
    thrust = np.concatenate([[1.0, 0, 0], np.cross([0, 0, -r], [1.0, 0, 0])])
    vertical = np.linalg.solve(matrix, -thrust)[4]
    at = ride_pose(one)
    twist = motion(one, at)
    assert side_view(at, twist, "rear", r, 1.6).slope[0] == pytest.approx(vertical, abs=1e-9)
    assert side_view(at, twist, "front", r, 1.6).slope[0] == pytest.approx(-vertical, abs=1e-9)
    height = roll_motion(at, twist).centre_height[0]
    side = np.concatenate([[0, 1.0, 0], np.cross([0, 0, height - r], [0, 1.0, 0])])
    assert np.linalg.solve(matrix, -side)[5] == pytest.approx(0.0, abs=1e-9)
    forces, _ = side_force(twist.rows[0], one.stiffness)
    centred = np.linalg.solve(matrix, -np.array([0, 1.0, 0, 0, 0, 0]))[:4]
    assert np.abs(forces) == pytest.approx(np.abs(centred), abs=1e-9)


def test_side_movement_is_castiglianos() -> None:
    """The side give is the derivative of the bars' strain energy: checked by pulling the redundant set numerically."""
    k = np.array([2.0, 2.0, 1.0, 1.0, 3.0]) * 1e7
    one = Bars.of(CENTRE, [b[0] for b in REDUNDANT], [b[1] for b in REDUNDANT], k)
    rows = motion(one, ride_pose(one)).rows[0]
    stiff = rows.T @ np.diag(k) @ rows
    force, give = side_force(rows, k)
    assert give == pytest.approx(np.linalg.inv(stiff)[1, 1])
    assert rows.T @ force == pytest.approx([0, 1, 0, 0], abs=1e-9)


LINES = {
    "heave": (np.linspace(-0.15, 0.15, 21), np.zeros(21), (0.0, 0.0)),
    "roll at a heave, its start not among them": (np.full(18, 0.03), np.linspace(-0.33, 0.35, 18), (0.03, 0.0)),
    "one way": (np.linspace(0.0, 0.22, 12), np.zeros(12), (0.0, 0.0)),
    "bunched": (np.array([-0.1, -0.099, -0.098, -0.097, 0.0, 0.01, 0.02, 0.03, 0.2]), np.zeros(9), (0.0, 0.0)),
}


@pytest.mark.parametrize(("line", "wide"), [*((name, 0.05) for name in LINES), ("bunched", 0.2), (list(LINES)[1], 0.2)])
def test_a_batch_is_its_layouts_one_by_one(line: str, wide: float) -> None:
    """More poses than are worked on at a time; with wild pivots, many of which bind on the way."""
    rng = np.random.default_rng(3)
    base = bars(HELD["double"])
    frame, axle = (v + rng.uniform(-wide, wide, (900, 4, 3)) for v in (base.frame, base.axle))
    heave, roll, start = LINES[line]
    many = sweep(Bars.of(CENTRE, frame, axle), heave, roll, start)
    rough = sweep(Bars.of(CENTRE, frame, axle), heave, roll, start, patient=False)
    assert many.reached.size > NEAR
    assert many.reached.mean() > (0.99 if wide < 0.1 else 0.6)
    assert not (rough.reached & ~many.reached).any()  # it may miss what is there, and says nothing that is not
    assert rough.reached.sum() > 0.5 * many.reached.sum()
    for i in (*range(0, 900, 60), *np.flatnonzero(~many.reached.all(axis=1))[:15]):
        alone = sweep(Bars.of(CENTRE, frame[i], axle[i]), heave, roll, start)
        assert many.reached[i].tolist() == alone.reached.tolist()
        for name in ("x", "y", "yaw", "pitch"):
            assert getattr(many, name)[i] == pytest.approx(getattr(alone, name), abs=1e-9, nan_ok=True)
        for name in ("limit_low", "limit_high"):
            assert float(getattr(many, name)[i]) == pytest.approx(float(getattr(alone, name)), abs=1e-5, nan_ok=True)
