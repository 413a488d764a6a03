"""Headlines that used to be the nearest station of a grid: roll within the stops, lock, roll stiffness, leaf travel."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation

from stoutlink.core.analysis.cycle.roll_reach import roll_reach
from stoutlink.core.analysis.cycle.springs import spring_ends
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.linkage.axle_motion import pose_at
from stoutlink.core.analysis.linkage.leaf_axle import leaf_axle
from stoutlink.core.analysis.linkage.steering_geometry import knuckle_of, sector_of
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.position import sweep_grid
from stoutlink.core.mechanics.steering import by_sector
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


@pytest.fixture(scope="module")
def basalt() -> Project:
    return read_project(demo_file("basalt.stoutlink"))


def _travel(project: Project, end: str) -> AxleTravel:
    found = axle_travel(project, Study(project).true.rig, end, touch=False)
    assert found is not None
    return found


@pytest.mark.parametrize("end", ["front", "rear"])
def test_roll_stiffness_is_the_work_of_both_springs(basalt: Project, end: str) -> None:
    """Poses solved at tenths of a milliradian: energy ½Σk·δl² of the springs for a small roll, halved for roll²."""
    found = _travel(basalt, end)
    springs, motion = found.springs, found.motion
    assert motion is not None
    assert springs.roll_stiffness is not None
    assert springs.rate is not None
    ends = spring_ends(found.layout)
    assert ends is not None
    tiny = 2e-4
    poses = sweep_grid(motion.bars, np.array([-1e-3, 0.0, 1e-3]), np.array([-tiny, 0.0, tiny]))
    centre = np.array(found.grid.centre)
    rate = float(springs.rate[found.grid.ride[1]])
    whole = 0.0
    for mirror in (1.0, -1.0):
        frame, axle = (np.array(p) * [1.0, mirror, 1.0] for p in ends)
        lengths = [
            float(
                np.linalg.norm(
                    np.array([poses.x[k, 1], poses.y[k, 1], poses.z[k, 1]])
                    + rotation(poses.yaw[k, 1], poses.roll[k, 1], poses.pitch[k, 1]) @ (axle - centre)
                    - frame
                )
            )
            for k in (0, 2)
        ]
        whole += rate * ((lengths[1] - lengths[0]) / (2 * tiny)) ** 2
    assert springs.roll_stiffness == pytest.approx(whole, rel=1e-4)


def test_the_hand_form_of_roll_stiffness_where_it_holds(basalt: Project) -> None:
    """Springs upright: ½·k·b² with b between their lines of action; leaning ones by the lever at the roll centre's
    height (common practice), not by their seats.
    """
    found = _travel(basalt, "rear")
    shock = found.layout.shock
    assert shock is not None
    upright = with_value(basalt, "layouts.rear-a.shock.frame_m", (shock.axle_m[0], shock.axle_m[1], shock.frame_m[2]))
    straight = _travel(upright, "rear").springs
    assert straight.rate is not None
    rate = float(straight.rate[found.grid.ride[1]])
    hand = 0.5 * rate * (2 * shock.axle_m[1]) ** 2
    assert straight.roll_stiffness == pytest.approx(hand, rel=0.02)
    assert found.motion is not None
    leaning = found.springs
    high = found.motion.ride.roll_centre_height
    part = (high - shock.axle_m[2]) / (shock.frame_m[2] - shock.axle_m[2])
    across = shock.axle_m[1] + part * (shock.frame_m[1] - shock.axle_m[1])
    lean = math.dist(shock.frame_m, shock.axle_m)
    assert abs(shock.frame_m[1] - shock.axle_m[1]) + abs(shock.frame_m[0] - shock.axle_m[0]) > 0.05
    lever = across * (shock.frame_m[2] - shock.axle_m[2]) / lean
    assert leaning.roll_stiffness is not None
    assert leaning.roll_stiffness == pytest.approx(2 * rate * lever**2, rel=0.03)
    assert leaning.roll_stiffness < 0.9 * hand


def test_roll_within_the_stops_is_solved(basalt: Project) -> None:
    rig = Study(basalt).true.rig
    found = _travel(basalt, "rear")
    low, high = found.grid.limits
    roll, why = roll_reach(rig, found)
    assert found.layout.spring_spacing_m is not None
    assert 0.5 * found.layout.spring_spacing_m * math.sin(roll) == pytest.approx(min(-low, high))
    assert why == "stops"
    assert not (math.degrees(roll)).is_integer()
    # stops far away: then the links say where it ends, and no pose beyond is to be had
    far = replace_limits(found, 0.6)
    bound, word = roll_reach(rig, far)
    assert bound > roll
    assert word in ("links bind", "looked at no further than 45°")


def replace_limits(found: AxleTravel, most: float) -> AxleTravel:
    """The same travel with its stops moved out."""
    from msgspec.structs import replace  # noqa: PLC0415 - for this one

    return replace(found, grid=replace(found.grid, limits=(-most, most)))


def test_lock_to_lock_by_root_finding(basalt: Project) -> None:
    """The sector turn at which the first wheel meets the axle's lock, each way, by Brent's method."""
    found = _travel(basalt, "front")
    steer = found.steer
    assert steer is not None
    assert steer.lock is not None
    s, donor = steer.steering, basalt.donor("front")
    assert donor is not None
    limit = donor.steer_lock_rad
    assert limit is not None
    knuckle, sector = knuckle_of(found.layout, s, found.grid.centre), sector_of(s)

    def past(turn: float) -> float:
        one, two = by_sector(knuckle, sector, np.linspace(0.0, turn, 40) if turn else np.zeros(1))
        out = max(abs(float(one[-1])), abs(float(two[-1]))) - limit
        return out if math.isfinite(out) else 1.0  # out of reach is past it too

    ends = []
    for sign in (-1.0, 1.0):
        most = s.sector_turn_rad or 1.2
        ends.append(brentq(past, 0.0, sign * most, xtol=1e-12) if past(sign * most) > 0 else sign * most)
    assert steer.lock.ended_by == "the axle's stops one way, box or rods the other"
    assert steer.lock.turns == pytest.approx((ends[1] - ends[0]) * sector.ratio / (2 * math.pi), rel=1e-6)
    inner = []
    for end in ends:
        one, two = by_sector(knuckle, sector, np.linspace(0.0, end, 40))
        inner.append(max(abs(float(one[-1])), abs(float(two[-1]))))
    assert steer.lock.inner == pytest.approx(max(inner), abs=1e-6)
    h = 1e-5
    one, _ = by_sector(knuckle, sector, np.array([-h, 0.0, h]))
    assert steer.lock.ratio == pytest.approx(abs(sector.ratio * 2 * h / (float(one[2]) - float(one[0]))), rel=1e-5)


def test_leaf_travel_ends_where_the_shackle_does() -> None:
    project = read_project(demo_file("tamarack.stoutlink"))
    layout = project.layout("rear")
    assert layout is not None
    short = with_value(with_value(project, f"layouts.{layout.id}.bump_m", 0.3), f"layouts.{layout.id}.droop_m", 0.3)
    short = with_value(short, f"layouts.{layout.id}.leaf.shackle_m", 0.05)
    layout = short.layout("rear")
    assert layout is not None
    found = leaf_axle(short, Study(short).true.rig, layout)
    assert found is not None
    low, high = found.reached
    ends = [v for v in (low, high) if abs(v) < 0.3 - 1e-9]
    assert ends, "a shackle of 50 mm should end the travel"
    for end in ends:
        beyond = end + math.copysign(1e-6, end)
        assert math.isfinite(found.shape.at(end).shackle)
        assert not math.isfinite(found.shape.at(beyond).shackle)
        assert not any(abs(end - p.heave) < 1e-9 for p in found.poses)
    assert found.pinion_change == pytest.approx(abs(found.halves.nose_down_per_bump) * (high - low))


def test_caster_of_both_sides_with_the_kingpin_leaning_in(basalt: Project) -> None:
    """The real kingpin of each side turned by scipy's rotation: at 8° of roll they part by their inclination."""
    rig = Study(basalt).true.rig
    layout = basalt.layout("front")
    assert layout is not None
    assert layout.steering is not None
    assert layout.caster_rad is not None
    t = pose_at(rig, layout, basalt.linkage.joints, 0.02, math.radians(8))
    turn = Rotation.from_euler("ZXY", [t.poses.yaw[0], t.poses.roll[0], t.poses.pitch[0]])
    assert t.caster is not None
    for side, found in ((1.0, t.caster[0]), (-1.0, t.caster[1])):
        pin = turn.apply([-math.tan(layout.caster_rad), -side * math.tan(layout.steering.kingpin_in_rad), 1.0])
        assert float(found[0]) == pytest.approx(math.atan2(-pin[0], pin[2]), abs=1e-12)
    yaw = float(t.poses.yaw[0])
    # by hand, small angles: inclination times twice (caster·roll − yaw)
    apart = 2 * layout.steering.kingpin_in_rad * (layout.caster_rad * math.sin(math.radians(8)) - yaw)
    assert float(t.caster[0][0] - t.caster[1][0]) == pytest.approx(apart, rel=0.05)
    level = pose_at(rig, layout, basalt.linkage.joints, 0.0, 0.0)
    assert level.caster is not None
    assert [float(c[0]) for c in level.caster] == pytest.approx([layout.caster_rad] * 2)


@pytest.mark.parametrize(("heave", "roll"), [(0.0, 0.0), (0.05, 12.0), (-0.06, -15.0)])
def test_roll_steer_is_the_slope_of_the_yaw_beside_it(basalt: Project, heave: float, roll: float) -> None:
    """By moving the axle a hair in roll at its height, also far off ride."""
    rig = Study(basalt).true.rig
    for end in ("front", "rear"):
        layout = basalt.layout(end)
        assert layout is not None
        at, h = math.radians(roll), 1e-5
        low, high = (pose_at(rig, layout, basalt.linkage.joints, heave, at + d) for d in (-h, h))
        slope = float(high.poses.yaw[0] - low.poses.yaw[0]) / (2 * h)
        found = pose_at(rig, layout, basalt.linkage.joints, heave, at)
        assert float(found.roll.steer[0]) == pytest.approx(slope, abs=1e-6)
