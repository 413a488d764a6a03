"""One pose: its bodies are those of the whole travel, and the nearest points lie on both surfaces as far apart as the
travel says."""

from __future__ import annotations

import numpy as np
import pytest

from stoutlink.core.analysis.cycle.posed import in_travel, near_pairs, nearest, standing
from stoutlink.core.document.project import with_parts
from stoutlink.core.geometry.convex import Box, Drum, Piece, apart, nearest_points
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def at(*v: float) -> np.ndarray:
    return np.array(v, dtype=float).reshape(3, 1)


@pytest.fixture(scope="module", params=["basalt", "tamarack"])
def study(request: pytest.FixtureRequest) -> Study:
    return Study(read_project(demo_file(f"{request.param}.stoutlink")))


@pytest.mark.parametrize("end", ["rear", "front"])
def test_a_pose_has_the_distances_of_the_travel(study: Study, end: str) -> None:
    """Steering straight, what does not steer is as near as the travel found it at that pose."""
    travel = study.travel(end)
    assert travel is not None
    row, column = (int(v) for v in np.unravel_index(np.nanargmin(travel.interference.room), travel.grid.reached.shape))
    posed = in_travel(study.project, travel, row, column, 0.0)
    assert posed is not None
    still = ("tyre", "Drag link", "Tie rod")
    held = 0
    for c in travel.interference.contacts:
        room = c.room_at(row, column)
        if c.apart or not np.isfinite(room) or room + c.wanted > c.near or any(w in c.one + c.other for w in still):
            continue
        (found,) = nearest(posed, [(c.one, c.other)])
        assert found.gap == pytest.approx(room + c.wanted, abs=6e-4), (c.one, c.other)
        if found.gap > 0:
            assert np.linalg.norm(np.subtract(found.a, found.b)) == pytest.approx(found.gap, abs=1e-6)
        held += 1
    assert held > 1
    assert nearest(posed, [("Nothing", "of the kind")]) == ()
    names = near_pairs(travel, row, column)
    worst = travel.interference.contacts[travel.interference.which[row, column]]
    assert names[0] == (worst.one, worst.other)
    assert len(nearest(posed, names)) == len(names) <= 3
    assert near_pairs(travel, 0, 0) == ()  # past the stops


def test_standing_is_the_travel_at_ride(study: Study) -> None:
    for end in ("rear", "front"):
        travel = study.travel(end)
        assert travel is not None
        there = in_travel(study.project, travel, *travel.grid.ride, 0.0)
        here = standing(study.project, study.true.rig, end, study.axles[end].leaf)
        assert there is not None
        assert here is not None
        assert [m.name for m in here.movers.all] == [m.name for m in there.movers.all]
        for a, b in zip(here.movers.all, there.movers.all, strict=True):
            assert np.asarray(a.low).ravel() == pytest.approx(np.asarray(b.low).ravel(), abs=1e-6), a.name


def test_a_point_goes_there_and_back(study: Study) -> None:
    motion = study.axles["rear"].motion
    if motion is None:
        pytest.skip("on leaves")
    posed = standing(study.project, study.true.rig, "rear", None, motion.heave.poses, 3)
    assert posed is not None
    point = study.project.linkage.layouts[0].links[0].axle_pivot_m
    assert posed.back(posed.carry(point)) == pytest.approx(point, abs=1e-12)
    assert np.linalg.norm(posed.carry(point) - point) > 0.02


def test_an_end_without_a_layout_has_tyres_and_housing() -> None:
    project = read_project(demo_file("basalt.stoutlink"))
    bare = with_parts(project, layouts=(), rear_layout=None, front_layout=None)
    posed = standing(bare, Study(bare).true.rig, "rear", None)
    assert posed is not None
    assert {m.kind for m in posed.movers.all} == {"axle", "tyre"}


def test_nearest_points_against_the_distance() -> None:
    rng = np.random.default_rng(7)

    def some() -> object:
        kind = rng.integers(3)
        p, q = rng.uniform(-1, 1, (3, 1)), rng.uniform(-1, 1, (3, 1))
        if kind == 0:
            return Box(np.minimum(p, q), np.maximum(p, q))
        if kind == 1:
            return Piece(p, q, 0.05)
        way = q - p
        return Drum(p, way / np.linalg.norm(way), 0.3, 0.1, 0.03)

    for _ in range(120):
        a, b = some(), some()
        gap, p, q = nearest_points(a, b)  # type: ignore[arg-type]
        assert gap == pytest.approx(float(apart(a, b, 1)[0]), abs=4e-4)  # type: ignore[arg-type]
        if gap > 0:
            assert np.linalg.norm(p - q) == pytest.approx(gap, abs=1e-9)
            for body, x in ((a, p), (b, q)):
                off = float(np.linalg.norm(body.nearest(x.reshape(3, 1))[:, 0] - x))  # type: ignore[attr-defined]
                assert off == pytest.approx(body.round, abs=1e-4)  # type: ignore[attr-defined]


def test_parallel_and_crossing_rods_by_hand() -> None:
    one = Piece(at(0, 0, 0), at(1, 0, 0), 0.02)
    gap, p, q = nearest_points(one, Piece(at(0.5, -1, 0.3), at(0.5, 1, 0.3), 0.03))
    assert gap == pytest.approx(0.25, abs=1e-6)
    assert p == pytest.approx((0.5, 0.0, 0.02), abs=1e-3)
    assert q == pytest.approx((0.5, 0.0, 0.27), abs=1e-3)
    gap, p, q = nearest_points(one, Piece(at(0.5, 0, -1), at(0.5, 0, 1), 0.03))
    assert gap < 0
    assert p == pytest.approx(q)
