"""Rails as rectangles, what hangs on the springs, and two things in one place; distances by scipy's minimiser."""

from __future__ import annotations

import math

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.optimize import minimize

from stoutlink.core.analysis.cycle import bodies
from stoutlink.core.analysis.cycle.interference import _to_bar
from stoutlink.core.analysis.cycle.solids_apart import overlaps
from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.survey.survey_points import place_survey, rail_run
from stoutlink.core.document.paths import with_value
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.document.springing import AntiRollBar
from stoutlink.core.document.survey import BoxSolid, TubeSolid
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.geometry.convex import Beam, Piece, apart
from stoutlink.core.geometry.many_distances import pieces_to_bar
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

Array = NDArray[np.float64]
place = st.floats(-1.5, 1.5)


@pytest.fixture(scope="module")
def basalt() -> Project:
    return read_project(demo_file("basalt.stoutlink"))


@given(st.tuples(*[place] * 6), st.tuples(*[st.floats(0.02, 0.6)] * 3))
@settings(max_examples=60)
def test_a_piece_and_a_bar_by_minimising(ends: tuple[float, ...], half: tuple[float, ...]) -> None:
    p, q, h = np.array(ends[:3]), np.array(ends[3:]), np.array(half)

    def gap(v: Array) -> float:
        point = p + v[0] * (q - p)
        return float(np.sum((point - v[1:]) ** 2))

    bounds = [(0.0, 1.0), *[(-x, x) for x in h]]
    start = [np.clip(np.array([t, *np.clip(p + t * (q - p), -h, h)]), None, None) for t in (0.0, 0.5, 1.0)]
    best = min(minimize(gap, s, bounds=bounds, method="L-BFGS-B", options={"ftol": 1e-16}).fun for s in start)
    found = float(pieces_to_bar(p[:, None], q[:, None], h)[0])
    assert found == pytest.approx(math.sqrt(max(0.0, best)), abs=2e-5)


@given(st.floats(-0.6, 0.6), st.floats(-0.5, 0.5), st.tuples(*[place] * 6))
@settings(max_examples=40)
def test_a_turned_bar_both_ways(yaw: float, pitch: float, ends: tuple[float, ...]) -> None:
    """The closed form against throwing points to and fro between the same two bodies."""
    cy, sy, cp, sp = math.cos(yaw), math.sin(yaw), math.cos(pitch), math.sin(pitch)
    along = np.array([cp * cy, cp * sy, sp])
    across = np.array([-sy, cy, 0.0])
    beam = Beam(
        np.array([[0.2], [0.1], [-0.1]]),
        np.stack([along, across, np.cross(along, across)]),
        np.array([0.5, 0.03, 0.06]),
    )
    piece = Piece(np.array(ends[:3])[:, None], np.array(ends[3:])[:, None], 0.02)
    found = float(_to_bar(piece, beam, 1)[0])
    other = float(apart(piece, beam, 1)[0])
    if found > -0.02:  # the cores do not run into each other
        assert found == pytest.approx(other, abs=4e-4)
    else:
        assert other < -0.02 + 1e-9


def test_rails_have_width_and_height(basalt: Project) -> None:
    """Every corner of a rail's own section lies on its skin, every point beyond it outside; mitred at the bends."""
    basalt = with_value(basalt, "rig.body.rail_shape", "rectangle")
    rig = Study(basalt).true.rig
    body = rig.body
    assert body.rail_height_m is not None
    assert body.rail_width_m is not None
    left, _ = bodies.rails(basalt, rig, 0.0127)
    points = tuple(p for s in basalt.tape.surveys for p in place_survey(s, rig.wheelbase_m))
    run = [p for p in rail_run(points, 1.0) if p.z is not None]
    middle = run[len(run) // 2]
    at = np.array([middle.x, max(middle.sides), middle.z])

    def near(offset: tuple[float, float, float]) -> float:
        here = (at + offset)[:, None]
        dot = Piece(here, here, 0.0)
        return min(float(_to_bar(dot, part, 1)[0]) for part, _, _ in left.parts if isinstance(part, Beam))

    tall, wide = 0.5 * body.rail_height_m, 0.5 * body.rail_width_m
    assert near((0, 0, 0)) < 0
    assert near((0, 0, tall + 0.03)) == pytest.approx(0.03, abs=4e-3)
    assert near((0, 0, -tall - 0.03)) == pytest.approx(0.03, abs=4e-3)
    assert near((0, wide + 0.03, 0)) == pytest.approx(0.03, abs=2e-3)
    assert near((0, 0, 0.9 * tall)) < 0  # a round rail of its width would not reach here
    tube = with_value(basalt, "rig.body.rail_shape", "tube")
    assert all(isinstance(part, Piece) for part, _, _ in bodies.rails(tube, Study(tube).true.rig, 0.0127)[0].parts)


def test_a_bend_is_closed_on_its_outside() -> None:
    """Two bars that meet at a bend reach the corner of the mitre, drawn out in the plane."""
    bend, tall = math.radians(30), 0.12
    u, v = np.zeros(3), np.array([1.0, 0.0, 0.0])
    w = v + np.array([math.cos(bend), 0.0, math.sin(bend)])
    size = np.array([0.05, tall])
    one, two = bodies._bar(u, v, size, None, w), bodies._bar(v, w, size, u, None)
    corner = v + 0.5 * tall * np.array([math.tan(0.5 * bend), 0.0, -1.0])
    dot = Piece(corner[:, None], corner[:, None], 0.0)
    for part, _, _ in (one, two):
        assert isinstance(part, Beam)
        assert float(_to_bar(dot, part, 1)[0]) == pytest.approx(0.0, abs=1e-9)


def test_springs_are_held_against_rails_and_solids(basalt: Project) -> None:
    rig = Study(basalt).true.rig
    shock = basalt.layout("rear").shock  # type: ignore[union-attr]
    assert shock is not None
    low = [0.5 * (a + b) - 0.05 for a, b in zip(shock.frame_m, shock.axle_m, strict=True)]
    box = BoxSolid(
        id="in-the-way",
        name="In the way",
        kind="fuel_tank",
        low_m=(low[0], low[1], low[2]),
        high_m=(low[0] + 0.1, low[1] + 0.1, low[2] + 0.1),
    )
    found = axle_travel(PutInList("solids", box, "box").apply(basalt), rig, "rear")
    assert found is not None
    pairs = {(c.one, c.other): c for c in found.interference.contacts}
    assert pairs["Left coilover", "In the way"].least < 0
    assert pairs["Right coilover", "In the way"].least > 0.3
    assert ("Left coilover", "Left frame rail") in pairs
    assert ("Left coilover", "Right frame rail") not in pairs
    leaves = read_project(demo_file("tamarack.stoutlink"))
    on_leaves = axle_travel(leaves, Study(leaves).true.rig, "rear")
    assert on_leaves is not None
    assert {"Left front half of the leaf", "Right rear half of the leaf"} <= {
        c.one for c in on_leaves.interference.contacts if c.other.endswith("rail")
    }


def test_an_anti_roll_bar_with_a_place_is_in_the_way(basalt: Project) -> None:
    rig = Study(basalt).true.rig
    bar = AntiRollBar(od_m=0.03, length_m=0.9, arm_m=0.3, spread_m=1.0)
    hung = with_value(basalt, "layouts.rear-a.anti_roll_bar", bar)
    found = axle_travel(hung, rig, "rear")
    assert found is not None
    assert not [c for c in found.interference.contacts if c.other == "Anti-roll bar"]
    put = with_value(
        hung,
        "layouts.rear-a.anti_roll_bar",
        msgspec.structs.replace(bar, station_m=0.02, height_m=rig.rear.loaded + 0.05),
    )
    found = axle_travel(put, rig, "rear")
    assert found is not None
    tube = next(c for c in found.interference.contacts if (c.one, c.other) == ("Axle tube", "Anti-roll bar"))
    assert tube.least < 0


def test_two_things_in_one_place_are_named(basalt: Project) -> None:
    """A box 40 mm into another is out the shorter way; engine and exhaust belong together; room kept twice."""
    assert "S113" not in {f.code for f in Study(basalt).findings_so_far}

    def box(name: str, kind: str, low: tuple[float, float, float], size: float = 0.2) -> BoxSolid:
        high = (low[0] + size, low[1] + size, low[2] + size)
        return BoxSolid(id=name, name=name, kind=kind, low_m=low, high_m=high)  # type: ignore[arg-type]

    bare = with_parts(basalt, solids=())
    two = with_parts(bare, solids=(box("a", "room_kept", (0, 0, 1.0)), box("b", "room_kept", (0.16, 0.0, 1.0))))
    (found,) = overlaps(two)
    assert found.depth == pytest.approx(0.04, abs=1e-6)
    said = next(f for f in Study(two).findings_so_far if f.code == "S113")
    assert "1.6″ into each other (room kept twice)" in said.sentence
    near = with_parts(bare, solids=(box("a", "fuel_tank", (0, 0, 1.0)), box("b", "floor", (0.195, 0.0, 1.0))))
    assert overlaps(near) == ()
    joined = with_parts(bare, solids=(box("a", "engine_sump", (0, 0, 1.0)), box("b", "exhaust", (0.1, 0.0, 1.0))))
    assert overlaps(joined) == ()
    pipe = TubeSolid(id="p", name="p", kind="exhaust", path_m=((-1.0, 0.1, 1.1), (1.0, 0.1, 1.1)), diameter_m=0.06)
    through = with_parts(bare, solids=(box("a", "fuel_tank", (0, 0, 1.0)), pipe))
    assert overlaps(through)[0].depth == pytest.approx(0.13, abs=1e-3)
