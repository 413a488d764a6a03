"""Meshes as bars and drums: all of the mesh is in them, little else is; placed by points, against SciPy and shapely."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import trimesh
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from stoutlink.core.geometry.mesh import Mesh, bar, capsule, together
from stoutlink.core.geometry.mesh_pieces import (
    MOST_APART,
    MOST_TRIANGLES,
    MeshPiece,
    cut_fine,
    hanging_together,
    pieces_of,
)
from stoutlink.core.geometry.rigid_fit import stand

Array = NDArray[np.float64]


def hoop(path: list[tuple[float, float, float]], radius: float = 0.022) -> Mesh:
    return together([capsule(np.array(u), np.array(v), radius, 16, 2) for u, v in itertools.pairwise(path)])


def within(piece: MeshPiece, points: Array) -> NDArray[np.bool_]:
    """Which points lie in a piece, written from what a bar and a drum are."""
    own = np.abs((points - piece.centre) @ piece.ways.T)
    if piece.kind == "bar":
        return np.asarray((own <= piece.half + 1e-9).all(axis=1))
    return np.asarray((own[:, 0] <= piece.half[0] + 1e-9) & (np.hypot(own[:, 1], own[:, 2]) <= piece.half[1] + 1e-9))


TURN = Rotation.from_rotvec([0.4, -0.7, 1.1]).as_matrix()
SQUARE = [(0.0, -0.6, 0.5), (0.0, -0.6, 1.4), (0.0, 0.6, 1.4), (0.0, 0.6, 0.5)]
BENT = [(0.0, 0.6 * np.cos(a), 1.0 + 0.6 * np.sin(a)) for a in np.linspace(0.0, np.pi, 20)]


def drum_mesh() -> Mesh:
    made = trimesh.creation.cylinder(0.15, 0.6, sections=48)
    return Mesh(
        np.array(made.vertices), np.array(made.faces, dtype=np.int32), np.zeros(len(made.faces), dtype=np.int32)
    )


SHAPES: dict[str, tuple[Mesh, int, float]] = {
    "box": (bar(np.zeros(3), np.eye(3), np.array([0.5, 0.2, 0.1])), 1, 1.0),
    "turned box": (bar(np.zeros(3), TURN, np.array([0.5, 0.2, 0.1])), 1, 1.06),
    "drum": (drum_mesh(), 1, 1.02),
    "two boxes": (together([bar(np.zeros(3), np.eye(3), np.array([0.4, 0.3, 0.1])), bar(np.array([0.2, 0.0, 0.2]), np.eye(3), np.array([0.2, 0.3, 0.1]))]), 2, 1.01),
    "square hoop": (hoop(SQUARE), 3, 1.1),
    "bent hoop": (hoop(BENT), 40, 1.4),
}  # fmt: skip
"""Mesh, pieces at most, and how much more than the mesh they may fill."""


@pytest.mark.parametrize("name", SHAPES)
def test_pieces_hold_all_of_a_mesh_and_little_else(name: str) -> None:
    mesh, most, over = SHAPES[name]
    found = pieces_of(mesh.points, mesh.triangles)
    assert len(found) <= most
    made = np.random.default_rng(1)
    corner = mesh.corners[made.integers(0, len(mesh.triangles), 4000)]
    u = made.dirichlet((1.0, 1.0, 1.0), 4000)
    skin = (corner * u[:, :, None]).sum(axis=1)
    held = np.zeros(len(skin), dtype=bool)
    for one in found:
        assert one.ways @ one.ways.T == pytest.approx(np.eye(3), abs=1e-9)
        held |= within(one, skin)
    assert held.all()
    assert sum(one.volume for one in found) <= over * mesh.volume


def test_most_pieces_is_kept() -> None:
    mesh = SHAPES["bent hoop"][0]
    assert 1 < len(pieces_of(mesh.points, mesh.triangles, most=12)) <= 12


def test_nothing_is_refused() -> None:
    with pytest.raises(ValueError, match="no triangles"):
        pieces_of(np.zeros((3, 3)), np.zeros((0, 3), dtype=np.int64))


def test_a_sheet_has_two_sides() -> None:
    """A flat sheet is a thin bar, not nothing."""
    points = np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [1.0, 0.6, 0.0], [0.0, 0.6, 0.0]])
    (one,) = pieces_of(points, np.array([[0, 1, 2], [0, 2, 3]]))
    assert one.kind == "bar"
    assert sorted(one.half) == pytest.approx([5e-4, 0.3, 0.5])


def test_cutting_keeps_the_surface() -> None:
    mesh = SHAPES["square hoop"][0]
    points, triangles = cut_fine(mesh.points, mesh.triangles.astype(np.int64), 0.05)
    corner = points[triangles]
    assert np.linalg.norm(corner - np.roll(corner, -1, axis=1), axis=2).max() <= 0.05

    def area(c: Array) -> float:
        return 0.5 * float(np.linalg.norm(np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0]), axis=1).sum())

    assert area(corner) == pytest.approx(area(mesh.corners))
    most = cut_fine(mesh.points, mesh.triangles.astype(np.int64), 1e-4)
    assert MOST_TRIANGLES // 3 < len(most[1]) <= MOST_TRIANGLES  # as fine as there is room for
    assert area(most[0][most[1]]) == pytest.approx(area(mesh.corners))


@pytest.mark.parametrize("seed", range(6))
def test_what_hangs_together(seed: int) -> None:
    """Against walking from triangle to triangle by hand."""
    made = np.random.default_rng(seed)
    triangles = made.integers(0, 60, (26, 3))
    left, parts = set(range(len(triangles))), []
    while left:
        part, queue = set(), [left.pop()]
        while queue:
            one = queue.pop()
            part.add(one)
            near = {k for k in left if set(triangles[k]) & set(triangles[one])}
            left -= near
            queue += near
        parts.append(frozenset(part))
    got = hanging_together(triangles, np.arange(len(triangles)))
    if len(parts) <= MOST_APART:
        assert {frozenset(p.tolist()) for p in got} == set(parts)
    else:
        assert len(got) == 1


def test_a_body_stands_as_its_points_say() -> None:
    made = np.random.default_rng(2)
    own = made.normal(0.0, 0.5, (5, 3))
    turn = Rotation.from_rotvec([1.0, 0.3, -0.6])
    at = turn.apply(own) + np.array([0.3, -0.2, 0.9]) + made.normal(0.0, 0.004, (5, 3))
    found = stand(own, at)
    assert found is not None
    best, _ = Rotation.align_vectors(at - at.mean(axis=0), own - own.mean(axis=0))  # SciPy's own fit
    assert found.turn == pytest.approx(best.as_matrix(), abs=1e-9)
    assert found.miss == pytest.approx(np.linalg.norm(found.put(own) - at, axis=1))
    assert found.miss.max() < 0.02


@pytest.mark.parametrize("bad", ["few", "line of its own", "line there"])
def test_points_that_do_not_say_how_it_stands(bad: str) -> None:
    line = np.array([[0.0, 0.0, 0.0], [1.0, 1.0, 0.0], [2.0, 2.0, 0.0]])
    good = np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    pairs = {"few": (good[:2], good[:2]), "line of its own": (line, good), "line there": (good, line)}
    assert stand(*pairs[bad]) is None


def test_it_is_never_mirrored() -> None:
    own = np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]])
    found = stand(own, own * [1.0, 1.0, -1.0])
    assert found is not None
    assert np.linalg.det(found.turn) == pytest.approx(1.0)
    assert found.miss.max() > 0.1
