"""Pointing at a thing in the round, and what counts before it is placed."""

from __future__ import annotations

import numpy as np
import pytest
from msgspec.structs import replace

from stoutlink.core.analysis.cycle.bodies import fixed_bodies
from stoutlink.core.analysis.survey.clearances import too_near
from stoutlink.core.analysis.survey.mesh_place import AS_IN_FILE, FIXED, next_anchor, sharp_points, standing
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Entry, Project, with_parts
from stoutlink.core.document.survey import MeshSolid, OwnAnchor, SolidPiece
from stoutlink.core.drawing.round_view import Eye, Scene
from stoutlink.core.drawing.solids import Thing, rig_things
from stoutlink.core.geometry.mesh import bar
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

LOW, HIGH = np.array([0.2, -0.3, 0.1]), np.array([0.9, 0.4, 0.6])


def entered(eye: Eye, wide: int, high: int, x: float, y: float) -> np.ndarray | None:
    """Where a line of sight first meets an upright box, by its slabs (a textbook way that knows no pixels and no triangles)."""
    right, up, toward = eye.ways
    start = np.array(eye.middle) + right * (x - wide / 2) / eye.scale - up * (y - high / 2) / eye.scale
    with np.errstate(divide="ignore"):
        a, b = (LOW - start) / toward, (HIGH - start) / toward
    near, far = np.maximum(a, b).min(), np.minimum(a, b).max()
    return start + near * toward if near >= far else None


@pytest.mark.parametrize("seed", range(6))
def test_the_place_under_a_pixel_is_where_the_line_of_sight_meets_the_face(seed: int) -> None:
    rng = np.random.default_rng(seed)
    eye = Eye(float(rng.uniform(-3, 3)), float(rng.uniform(-1.3, 1.3)), (0.5, 0.0, 0.3), float(rng.uniform(150, 400)))
    wide, high = 400, 300
    look = Scene((Thing("box", "solid", "", bar((LOW + HIGH) / 2, np.eye(3), (HIGH - LOW) / 2)),)).look(eye, wide, high)
    hits = 0
    for _ in range(300):
        x, y = float(rng.uniform(0, wide)), float(rng.uniform(0, high))
        found, wanted = look.place_at(x, y), entered(eye, wide, high, x, y)
        if found is None or wanted is None:  # at the rim a pixel is half covered
            around = [entered(eye, wide, high, x + i, y + j) is None for i in (-1, 0, 1) for j in (-1, 0, 1)]
            assert (found is None and wanted is None) or any(around)
            continue
        hits += 1
        if np.abs(np.array(found) - wanted).max() > 1e-9:  # beside an edge the pixel's face is the other one
            assert min(np.abs(wanted - LOW).min(), np.abs(wanted - HIGH).min()) < 1e-9
            assert np.linalg.norm(np.array(found) - wanted) < 6.0 / eye.scale
    assert hits > 20


def cage(anchors: tuple[OwnAnchor, ...] = FIXED) -> MeshSolid:
    """A bar across the rig, right through the lower links, and a drum."""
    bar = SolidPiece(centre_m=(0.5, 0.0, 0.5), first=(0.0, 1.0, 0.0), second=(1.0, 0.0, 0.0), half_m=(0.8, 0.1, 0.3))
    drum = SolidPiece(
        kind="drum", centre_m=(2.0, 0.0, 1.5), first=(0.0, 0.0, 1.0), second=(1.0, 0.0, 0.0), half_m=(0.4, 0.05, 0.05)
    )
    return MeshSolid(id="hoop", name="Hoop", kind="other", pieces=(bar, drum), anchors=anchors)


def with_cage(solid: MeshSolid, open_: tuple[str, ...]) -> Project:
    p = read_project(demo_file("basalt.stoutlink"))
    notes = tuple(
        Entry(field=f"solids.hoop.anchors.{key}.at_m.{i}", basis="placeholder") for key in open_ for i in range(3)
    )
    return replace(with_parts(p, solids=(*p.tape.solids, solid)), entries=(*p.entries, *notes))


def test_a_tape_finds_corners_and_ends() -> None:
    found = {tuple(np.round(one, 6) + 0.0) for one in sharp_points(cage())}
    corners = {(x, y, z) for x in (0.4, 0.6) for y in (-0.8, 0.8) for z in (0.2, 0.8)}
    assert found == corners | {(0.5, -0.8, 0.5), (0.5, 0.8, 0.5), (2.0, 0.0, 1.1), (2.0, 0.0, 1.9)}


def test_nothing_is_held_against_what_nobody_has_placed() -> None:
    unplaced, placed = with_cage(cage(), ("p1", "p2", "p3")), with_cage(cage(AS_IN_FILE), ())
    for project, there in ((unplaced, False), (placed, True)):
        study = Study(project)
        assert ("Hoop" in [one.name for one in fixed_bodies(project)]) is there
        assert ("Hoop" in [one.name for one in rig_things(project, study.true.rig)]) is there
        assert ("hoop" in [gap.solid.id for gap in too_near(project)]) is there
        assert any("Hoop" in f.sentence for f in study.findings_so_far if f.code != "S115") is there
        assert len(study.solid_boxes()) == len(project.tape.solids) - (not there)
        assert ("S115" in [f.code for f in study.findings_so_far]) is not there
    assert placed_solids(placed) is placed.tape.solids


def test_a_point_left_open_does_not_move_what_three_others_place() -> None:
    moved = tuple(replace(a, at_m=(a.at_m[0] + 0.4, a.at_m[1], a.at_m[2] + 0.1)) for a in FIXED)
    wrong = OwnAnchor(id="p4", own_m=(0.0, 0.0, 1.0), at_m=(3.0, 3.0, 3.0))
    project = with_cage(cage((*moved, wrong)), ("p4",))
    (found,) = [one for one in placed_solids(project) if one.id == "hoop"]
    assert isinstance(found, MeshSolid)
    assert standing(found).put(np.zeros((1, 3)))[0] == pytest.approx((0.4, 0.0, 0.1), abs=1e-9)
    in_line = tuple(replace(a, own_m=(float(i), 0.0, 0.0), at_m=(float(i), 0.0, 0.0)) for i, a in enumerate(FIXED))
    open_again = with_cage(cage((*in_line, wrong)), ("p4",))
    assert "hoop" not in [one.id for one in placed_solids(open_again)]  # three in line say nothing of its turn


def test_one_more_point_is_far_off_and_where_the_others_put_it() -> None:
    moved = tuple(replace(a, at_m=(a.at_m[0] + 0.4, a.at_m[1], a.at_m[2] + 0.1)) for a in FIXED)
    new = next_anchor(cage(moved))
    assert new.id == "p4"
    assert new.own_m == pytest.approx((2.0, 0.0, 1.9))
    assert new.at_m == pytest.approx((2.4, 0.0, 2.0))
    assert standing(cage((*moved, new))).miss.max() < 1e-9
