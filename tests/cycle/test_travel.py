"""The travel of an axle: poses against the sweep, gaps against brute force, the map, curves, and what stops what."""

from __future__ import annotations

import csv
import io
import math

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.optimize import brentq

from stoutlink.core.analysis.cycle.behaviour import behaviour, roll_stiffness
from stoutlink.core.analysis.cycle.grid import axle_grid, stop_limits, stop_spacing
from stoutlink.core.analysis.cycle.shaft import shaft_travel
from stoutlink.core.analysis.cycle.steer import wheel_turns
from stoutlink.core.analysis.cycle.travel import AxleTravel, axle_travel
from stoutlink.core.analysis.cycle.travel_map import (
    BEYOND,
    FREE,
    NEAR,
    RUNS_OUT,
    TOUCHES,
    UNREACHED,
    said_at,
    travel_map,
)
from stoutlink.core.analysis.linkage.axle_motion import axle_motion, pose_at
from stoutlink.core.analysis.linkage.steering_geometry import bump_steer
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import BoxSolid
from stoutlink.core.editing.edits import MovePivot, PutInList, SetNumber
from stoutlink.core.geometry.convex import Box, Piece, apart
from stoutlink.core.geometry.many_distances import segments_apart, segments_to_box
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.geometry.tyre_body import Tyre
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.position import sweep, sweep_grid
from stoutlink.core.reports.travel_csv import travel_csv
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.layouts import CENTRE, DOUBLE, JOINT, bars, layout, rig

Array = NDArray[np.float64]
COORDINATE = st.floats(-1.0, 1.0)
POINT = st.tuples(COORDINATE, COORDINATE, COORDINATE).map(np.array)


@given(POINT, POINT, POINT, POINT)
@settings(max_examples=60)
def test_pieces_apart_by_brute_force(a: Array, b: Array, c: Array, d: Array) -> None:
    t = np.linspace(0, 1, 301)[:, None]
    p, q = a + t * (b - a), c + t * (d - c)
    brute = np.linalg.norm(p[:, None] - q[None], axis=-1).min()
    found = float(segments_apart(a, b, c, d))
    assert found <= brute + 1e-9
    assert found == pytest.approx(brute, abs=0.01)
    low, high = np.minimum(c, d), np.maximum(c, d) + 0.05
    off = np.maximum(low - p, p - high)
    signed = np.where(off.max(-1) <= 0, off.max(-1), np.linalg.norm(np.maximum(off, 0), axis=-1)).min()
    box = float(segments_to_box(a, b, low, high))
    assert box <= signed + 1e-9
    assert box == pytest.approx(signed, abs=0.012)


def _skin(tyre: Tyre, spin: Array, count: int) -> Array:
    """Points on the tyre's skin about its centre, evenly: tread, shoulders, side walls."""
    ref = np.array([0.0, 0, 1]) if abs(spin[2]) < 0.9 else np.array([1.0, 0, 0])
    e1 = np.cross(ref, spin)
    e1 /= np.linalg.norm(e1)
    e2 = np.cross(spin, e1)
    s, half, inner = tyre.shoulder, 0.5 * tyre.width - tyre.shoulder, tyre.radius - tyre.shoulder
    profile = [(tyre.radius, v) for v in np.linspace(-half, half, 25)]
    profile += [
        (inner + s * math.cos(u), k * (half + s * math.sin(u)))
        for u in np.linspace(0, math.pi / 2, 12)
        for k in (1, -1)
    ]
    profile += [(v, k * 0.5 * tyre.width) for v in np.linspace(0, inner, 25) for k in (1, -1)]
    turn = np.linspace(0, 2 * math.pi, count, endpoint=False)
    return np.array([r * (math.cos(u) * e1 + math.sin(u) * e2) + v * spin for r, v in profile for u in turn])


@pytest.mark.parametrize("seed", range(6))
def test_tyres_by_brute_force(seed: int) -> None:
    """Against thousands of points on the skin: pieces and boxes that stay outside."""
    rng = np.random.default_rng(seed)
    tyre = Tyre(0.5, 0.33)
    spin = rng.normal(size=3) * [0.4, 1.0, 0.2]
    spin /= np.linalg.norm(spin)
    skin = _skin(tyre, spin, 240)
    for _ in range(6):
        p = rng.normal(size=3)
        p *= rng.uniform(0.65, 1.0) / np.linalg.norm(p)
        q = p + rng.normal(size=3) * 0.25
        drum = tyre.drum(np.zeros((3, 1)), spin[:, None])
        found = float(apart(Piece(p[:, None], q[:, None]), drum, 1)[0])
        line = p + np.linspace(0, 1, 26)[:, None] * (q - p)
        brute = np.linalg.norm(skin[:, None, :] - line[None], axis=-1).min()
        if found > 0.005:
            assert found == pytest.approx(brute, abs=0.008)
        low, high = np.minimum(p, q) - 0.02, np.maximum(p, q) + 0.02
        off = np.maximum(0, np.maximum(low - skin, skin - high))
        box = float(apart(drum, Box(low[:, None], high[:, None]), 1)[0])
        if box > 0.005:
            assert box == pytest.approx(np.linalg.norm(off, axis=1).min(), abs=0.006)


def test_grid_poses_are_the_poses() -> None:
    """Some of the grid against the pose followed on its own straight way from ride."""
    one = layout(DOUBLE)
    g = axle_grid(rig(), one, (JOINT,), 0.15, 0.15)
    for row, column in ((0, 60), (8, 20), (20, 110), (33, 75), (40, 95)):
        alone = pose_at(rig(), one, (JOINT,), float(g.heave[column]), float(g.roll[row])).poses
        assert g.reached[row, column] == alone.reached[0]
        if g.reached[row, column]:
            assert (g.x[row, column], g.y[row, column], g.yaw[row, column], g.pitch[row, column]) == pytest.approx(
                (alone.x[0], alone.y[0], alone.yaw[0], alone.pitch[0]), abs=1e-9
            )
    link = bars(DOUBLE)
    moved = g.carried(link.axle[0])
    length = np.linalg.norm(moved - link.frame[0], axis=-1)
    assert np.nanmax(np.abs(length - link.length[0])) < 1e-9
    assert g.heave[g.ride[1]] == 0.0
    assert g.roll[g.ride[0]] == pytest.approx(0.0, abs=1e-12)


@pytest.mark.parametrize("seed", [0, 1])
def test_all_rows_at_once_are_the_rows(seed: int) -> None:
    """Any four bars, most of which bind within the grid: reached and placed as each row followed on its own."""
    rng = np.random.default_rng(seed)
    heave, roll = np.linspace(-0.3, 0.3, 17), np.linspace(-0.35, 0.35, 5)
    heave[8] = roll[2] = 0.0
    ends = 0
    for _ in range(3):
        frame = (
            np.array([[1, 0.3, 0.5], [1, -0.3, 0.5], [0.9, 0.1, 0.9], [0.9, -0.1, 0.9]])
            + rng.normal(size=(4, 3)) * 0.12
        )
        axle = np.array([[0, 0.5, 0.4], [0, -0.5, 0.4], [0, 0.4, 0.7], [0, -0.4, 0.7]]) + rng.normal(size=(4, 3)) * 0.12
        four = Bars.of([0, 0, 0.45], frame, axle)
        grid = sweep_grid(four, heave, roll)
        for i, r in enumerate(roll):
            row = sweep(four, heave, np.full(17, r), (0.0, float(r)))
            assert (row.reached == grid.reached[i]).all()
            assert grid.yaw[i] == pytest.approx(row.yaw, abs=1e-8, nan_ok=True)
            ends += not row.reached.all()
    assert ends > 0


def test_stops_bound_each_side(basalt: Project) -> None:
    rear = basalt.layout("rear")
    assert rear is not None
    low, high = stop_limits(rear, 0.15, 0.15)
    assert (low, high) == pytest.approx((-5.5 * 0.0254, 5.0 * 0.0254))
    found = axle_travel(basalt, effective_vehicle(basalt).rig, "rear", touch=False)
    assert found is not None
    g = found.grid
    half = 0.5 * (rear.spring_spacing_m or 0.0)
    for row, column in zip(*np.nonzero(g.within), strict=True):
        for side in (1, -1):
            assert low - 1e-9 <= g.heave[column] + side * half * math.sin(g.roll[row]) <= high + 1e-9


@pytest.fixture(scope="module")
def front() -> tuple[Project, AxleTravel]:
    """The demo's front axle, cycled."""
    project = read_project(demo_file("basalt.stoutlink"))
    found = axle_travel(project, effective_vehicle(project).rig, "front")
    assert found is not None
    return project, found


def test_least_distances_by_brute_force(front: tuple[Project, AxleTravel]) -> None:
    """A few pairs again, pose by pose, by points along the pieces."""
    _, found = front
    g = found.grid
    lay = found.layout
    link = next(x for x in lay.links if x.id == "lower_right")
    pair = next(c for c in found.interference.contacts if {c.one, c.other} == {"Right lower", "Driveshaft"})
    assert found.shaft is not None
    t = np.linspace(0, 1, 401)[:, None]
    worst = math.inf
    out = np.array(found.shaft.output)
    for row, column in [
        (int(np.argmin(np.abs(g.roll - pair.roll))), int(np.argmin(np.abs(g.heave - pair.heave)))),
        g.ride,
    ]:
        joint = found.shaft.joint[row, column]
        a = np.array(link.frame_pivot_m) + t * (g.carried(link.axle_pivot_m)[row, column] - link.frame_pivot_m)
        b = out + (0.12 + 0.88 * t) * (joint - out)
        brute = (
            np.linalg.norm(a[:, None] - b[None], axis=-1).min()
            - 0.5 * link.tube_od_m
            - 0.5 * found.shaft.shaft.tube_od_m
        )
        assert pair.room[row, column] + pair.wanted == pytest.approx(brute, abs=1e-3)
        worst = min(worst, brute)
    assert pair.least == pytest.approx(worst, abs=1e-3)
    assert np.nanmin(pair.room) == pytest.approx(pair.least - pair.wanted)
    ranked = [c.spare for c in found.interference.contacts]
    assert ranked == sorted(ranked)
    inside = g.within
    least = np.stack([np.broadcast_to(c.room, g.reached.shape)[inside] for c in found.interference.contacts]).min(
        axis=0
    )
    assert found.interference.room[inside] == pytest.approx(least)
    assert np.isnan(found.interference.room[~inside]).all()


def test_a_tyre_at_lock_is_the_one_that_counts(front: tuple[Project, AxleTravel]) -> None:
    """Left tyre against its rail: nearest with the front of the tyre turned in, as a turned cylinder says."""
    project, found = front
    c = next(x for x in found.interference.contacts if (x.one, x.other) == ("Left tyre", "Left frame rail"))
    donor = project.donor("front")
    assert donor is not None
    assert c.steer is not None
    assert found.steer is not None
    assert abs(wheel_turns(found.steer, c.steer)[0]) == pytest.approx(donor.steer_lock_rad)


def test_the_map_flags_a_box_and_clears_when_it_goes(front: tuple[Project, AxleTravel]) -> None:
    project, found = front
    here = travel_map(found)
    g = found.grid
    assert {int(v) for v in np.unique(here.states)} <= {UNREACHED, BEYOND, TOUCHES, RUNS_OUT, NEAR, FREE}
    assert (here.states[~g.within] <= BEYOND).all()
    upper = next(x for x in found.layout.links if x.id == "upper")
    column = int(np.flatnonzero(g.within[g.ride[0]])[-1])
    top = g.carried(upper.axle_pivot_m)[g.ride[0], column]
    x, y, z = (float(v) for v in 0.5 * (np.array(upper.frame_pivot_m) + top))
    low, high = (x - 0.05, y - 0.05, z + 0.01), (x + 0.05, y + 0.05, z + 0.2)
    block = BoxSolid(id="block", name="Block", kind="other", low_m=low, high_m=high, clearance_m=0.01)
    blocked = PutInList("solids", block, "x").apply(project)
    again = axle_travel(blocked, effective_vehicle(blocked).rig, "front")
    assert again is not None
    flagged = travel_map(again)
    assert flagged.states[g.ride[0], column] == TOUCHES
    assert any("Upper touches Block" in w for w in said_at(again, flagged, g.ride[0], column))
    moved = MovePivot(
        "front-a", "upper", "frame", (upper.frame_pivot_m[0], upper.frame_pivot_m[1], upper.frame_pivot_m[2] - 0.25)
    ).apply(blocked)
    cleared = axle_travel(moved, effective_vehicle(moved).rig, "front")
    assert cleared is not None
    assert not any("Block" in (c.one, c.other) and c.least < 0 for c in cleared.interference.contacts)


def test_the_driveshaft_over_travel(front: tuple[Project, AxleTravel]) -> None:
    """Angles and length at some poses, worked out again from plain vectors."""
    project, found = front
    shaft, g, donor = found.shaft, found.grid, project.donor("front")
    assert shaft is not None
    assert donor is not None
    rig_ = effective_vehicle(project).rig
    out = np.array(rig_.drivetrain.front_output_m)
    down, up = -rig_.drivetrain.output_angle_rad, found.layout.pinion_up_rad
    snout, rise = donor.snout_length_m or 0.0, donor.pinion_rise_m or 0.0
    for row, column in (g.ride, (12, 80), (25, 40)):
        turn = rotation(g.yaw[row, column], g.roll[row], g.pitch[row, column])
        local = np.array(
            [
                -snout * math.cos(up) + rise * math.sin(up),
                donor.pinion_offset_m,
                (donor.hub_drop_m or 0.0) + rise * math.cos(up) + snout * math.sin(up),
            ]
        )
        joint = g.at[row, column] + turn @ local
        along = joint - out
        assert shaft.length[row, column] == pytest.approx(np.linalg.norm(along))
        a, b = np.array([math.cos(down), 0, -math.sin(down)]), turn @ np.array([math.cos(up), 0, -math.sin(up)])
        u = along / np.linalg.norm(along)
        assert shaft.first[row, column] == pytest.approx(math.acos(a @ u), abs=1e-9)
        assert shaft.second[row, column] == pytest.approx(math.acos(b @ u), abs=1e-9)
    assert shaft.pinion_wanted == pytest.approx(
        down + shaft.shaft.wrap_rad
    )  # front: thrust turns the pinion down, so it is set up by the allowance
    bare = msgspec.structs.replace(
        rig_, drivetrain=msgspec.structs.replace(rig_.drivetrain, output_m=None, front_output_m=None)
    )
    assert shaft_travel(bare, g, donor, project.plan("front")) is None


def test_curves_agree_with_the_layouts_own_numbers(front: tuple[Project, AxleTravel]) -> None:
    project, found = front
    s = project.settings
    m = axle_motion(
        effective_vehicle(project).rig, found.layout, project.linkage.joints, found.layout.droop_m, found.layout.bump_m
    )
    i, j = found.grid.ride
    drive, pinion, bump = (found.curve(n) for n in ("drive", "pinion_up", "right_wheel"))
    assert drive is not None
    assert pinion is not None
    assert bump is not None
    assert drive.heave[j] == pytest.approx(m.ride.drive_percent[s.thrust_school][s.height_school])
    assert drive.roll[i] == pytest.approx(drive.heave[j])
    assert np.ptp(pinion.heave) == pytest.approx(np.ptp(m.heave.pinion), abs=1e-4)
    steer = bump_steer(m)
    assert steer is not None
    assert bump.heave == pytest.approx(
        steer.turn.heading, abs=1e-9, nan_ok=True
    )  # the drag link serves the right knuckle
    rows = list(csv.reader(io.StringIO(travel_csv(found))))
    assert rows[0][:3] == ["over", "heave_mm", "roll_deg"]
    assert sum(r[:1] == ["heave"] for r in rows) == len(found.grid.heave)
    assert sum(r[:1] == ["roll"] for r in rows) == len(found.grid.roll)
    at = rows[0].index("drive_pct")
    assert float(rows[1 + j][at]) == pytest.approx(drive.heave[j], rel=1e-4)


def test_wheel_rate_is_the_work_of_the_spring(front: tuple[Project, AxleTravel]) -> None:
    """Energy: the spring's force times its shortening is the wheel load times its travel; the load at ride is the
    sprung weight of one side.
    """
    _, found = front
    s = found.springs
    assert s.spring is not None
    assert s.free is not None
    assert s.ratio is not None
    assert s.wheel_rate is not None
    i, j = found.grid.ride
    spring = found.layout.spring
    assert spring is not None
    # a dual rate by hand: in series until the slider meets its stop, then the main spring alone
    main, tender, slider = spring.rate_n_per_m, spring.second_n_per_m, spring.slider_m
    assert tender is not None
    assert slider is not None
    short = s.free - s.spring[0, i]
    met = (
        slider * tender / main + slider
    )  # the tender short by the slider's travel carries slider·tender, which the main spring feels too
    force = np.where(short < met, main * tender / (main + tender) * short, slider * tender + main * (short - met))
    assert force[j] * s.ratio[j] == pytest.approx(s.seat_load, rel=1e-6)
    near = slice(j - 8, j + 9)
    work = np.trapezoid(force[near], -s.spring[0, i][near])
    wheel = np.trapezoid((force * s.ratio)[near], found.grid.heave[near])
    assert work == pytest.approx(wheel, rel=1e-3)


def test_behaviour_of_both(front: tuple[Project, AxleTravel]) -> None:
    project, one = front
    rig_ = effective_vehicle(project).rig
    rear = axle_travel(project, rig_, "rear", touch=False)
    found = behaviour(project, rig_, {"front": one, "rear": rear})
    assert found.climb is not None
    assert found.across is not None
    assert found.back_over_sprung is not None
    assert found.back_over_flat is not None
    assert found.back_over_sprung < found.back_over
    assert sum(found.loads) == pytest.approx(rig_.mass_kg * 9.80665 * math.cos(project.swap.choosing.grade_rad))
    assert found.ramp is not None
    assert rear is not None
    moment = min(
        rig_.mass_kg * 9.80665 * part * track / 2
        for part, track in (
            (rig_.cg_ahead_of_rear_m / rig_.wheelbase_m, rig_.front.track_m),
            (1 - rig_.cg_ahead_of_rear_m / rig_.wheelbase_m, rig_.rear.track_m),
        )
    )
    turns = 0.0
    for x in (one, rear):  # an axle rolls by M/K until its stops; M where the lighter axle's tyre has nothing left
        stiff = roll_stiffness(x)
        assert stiff is not None
        low, high = x.grid.limits
        stop = math.asin(min(-low, high) / (0.5 * stop_spacing(rig_, x.layout)))
        assert float(x.grid.roll[x.grid.within[:, x.grid.ride[1]]].max()) <= stop  # the grid stands at whole degrees
        turns += min(moment / stiff, stop)
    assert found.ramp_stopped_by.count("a tyre lifts") + found.ramp_stopped_by.count("stops") == 2
    # hub of the wheel on the ramp: r over the ramp square to it, and as much higher than the other as the roll makes
    slope, r = math.radians(20), rig_.front.loaded
    up = rig_.front.track_m * math.sin(turns)
    along = brentq(lambda d: d * math.sin(slope) + r * math.cos(slope) - r - up, 0.0, 10.0)
    assert found.ramp == pytest.approx(1000 * along / rig_.wheelbase_m)
    bare = behaviour(project, rig_, {"front": None, "rear": None})
    assert (bare.climb, bare.across, bare.ramp) == (None, None, None)


def test_leaves_are_cycled_too() -> None:
    project = read_project(demo_file("tamarack.stoutlink"))
    found = axle_travel(project, effective_vehicle(project).rig, "rear")
    assert found is not None
    assert found.leaf is not None
    g = found.grid
    i, j = g.ride
    assert g.x[i, j] == pytest.approx(0.0, abs=1e-6)
    steer = found.curve("yaw")
    assert steer is not None
    drive = found.curve("drive")
    assert drive is not None
    s = project.settings
    assert drive.heave[j] == pytest.approx(found.leaf.drive_percent[s.thrust_school][s.height_school], rel=0.01)
    slope = np.gradient(steer.roll, g.roll)[i]
    assert slope == pytest.approx(found.leaf.roll_steer, rel=0.02)  # the path of both sides against the formula 4c/(3a)
    assert {c.one for c in found.interference.contacts} >= {"Left tyre", "Axle tube"}


def test_shock_and_slip_limits_show(basalt: Project) -> None:
    short = SetNumber("layouts.rear-a.shock.extended_m", 0.70).apply(
        SetNumber("layouts.rear-a.driveshaft.in_hand.spline_m", 0.09).apply(basalt)
    )
    found = axle_travel(short, effective_vehicle(short).rig, "rear", touch=False)
    assert found is not None
    words = [w for w, _ in travel_map(found).runs_out]
    assert "a shock is pulled out" in words
    assert any("slip spline" in w for w in words)
    assert CENTRE[2] > 0
