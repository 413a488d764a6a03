"""Bodies as meshes: closed, wound outwards, as big as solid geometry says (volumes of sphere, cylinder, torus segment by
Pappus: any handbook of formulas)."""

from __future__ import annotations

import math

import numpy as np
import pytest

from stoutlink.core.geometry.convex import Beam, Box, Drum, Piece, Prism
from stoutlink.core.geometry.filling import filled
from stoutlink.core.geometry.mesh import EMPTY, Mesh, bar, capsule, drum, mesh_of, outside_out, plate, together
from stoutlink.core.geometry.rotation import rotation


def at(*v: float) -> np.ndarray:
    return np.array(v, dtype=float).reshape(3, 1)


@pytest.mark.parametrize(
    ("body", "volume"),
    [
        (Box(at(0, 0, 0), at(1, 2, 3)), 6.0),
        (Beam(at(1, 2, 3), rotation(np.array(0.3), np.array(0.2), np.array(0.1)), np.array([0.5, 0.1, 0.2])), 0.08),
        (Piece(at(0, 0, 0), at(0.3, 0.4, 0), 0.05), math.pi * 0.05**2 * (0.5 + 4 / 3 * 0.05)),
        (Piece(at(1, 1, 1), at(1, 1, 1), 0.145), 4 / 3 * math.pi * 0.145**3),
        (Drum(at(0, 0, 0), at(0, 1, 0), 0.4, 0.15), math.pi * 0.16 * 0.3),
        (
            Prism(np.array([[0.0, 0.0], [2.0, 0.0], [0.0, 1.0]]), 0.5, 0.9, 1, (0, 2)),
            0.4,
        ),
        (
            Prism(np.array([[0.0, 0.0], [0.0, 1.0], [2.0, 0.0]]), -0.9, -0.5, 0, (1, 2)),
            0.4,
        ),
    ],
)
def test_bodies_are_closed_and_as_big_as_they_are(body: object, volume: float) -> None:
    mesh = mesh_of(body)  # type: ignore[arg-type]
    assert mesh.closed
    assert mesh.volume == pytest.approx(volume, rel=0.04)  # round ones are inscribed
    assert mesh.volume <= volume * (1 + 1e-9)


def test_rounded_drum() -> None:
    r, half, s = 0.4, 0.12, 0.035
    mesh = drum(np.zeros(3), np.array([0.0, 1.0, 0.0]), r, half, s, 0.2)
    flat = math.pi * r * r * 2 * s + math.pi * (r + s) ** 2 * 2 * half
    shoulder = 2 * (2 * math.pi * (r + 4 * s / (3 * math.pi)) * math.pi * s * s / 4)  # Pappus: a quarter disc turned
    assert mesh.closed
    assert mesh.volume == pytest.approx(flat + shoulder, rel=0.01)
    assert np.abs(mesh.points[:, 1]).max() == pytest.approx(half + s)
    assert np.hypot(mesh.points[:, 0], mesh.points[:, 2]).max() == pytest.approx(r + s)


def test_more_sides_come_nearer() -> None:
    exact = math.pi * 0.01 * (1 + 4 / 3 * 0.1)
    off = [exact - capsule(np.zeros(3), np.array([0.0, 0.0, 1.0]), 0.1, n, n // 4).volume for n in (8, 16, 32)]
    assert off[0] > 3.5 * off[1] > 0 < 3.5 * off[2] < off[1]  # chords: the error goes with the square of the step


def test_plate_with_a_hole_and_its_edges() -> None:
    rim = [(0.0, 0.0), (3.0, 0.0), (3.0, 3.0), (0.0, 3.0)]
    hole = [(1.5 + 0.5 * math.cos(v), 1.5 + 0.5 * math.sin(v)) for v in np.linspace(0, 2 * np.pi, 24, endpoint=False)]
    found = filled([rim, hole])
    assert found is not None
    flat, triangles, rings = found
    low = np.column_stack([flat, np.zeros(len(flat))])
    mesh = plate(triangles, low, low + np.array([0.0, 0.0, 0.2]), rings)
    assert mesh.closed
    assert mesh.volume == pytest.approx(0.2 * (9.0 - 12.0 * 0.5**2 * math.sin(2 * math.pi / 24)), rel=1e-9)
    walls = mesh.groups[2 * len(triangles) :]
    assert len(set(walls[: len(flat)].tolist())) == 5  # four sides, and the hole is one smooth wall


def test_together_and_outside_out() -> None:
    one = bar(np.zeros(3), np.eye(3), np.ones(3))
    both = together((one, bar(np.array([5.0, 0.0, 0.0]), np.eye(3), np.ones(3))))
    assert both.volume == pytest.approx(16.0)
    assert len(set(both.groups.tolist())) == 12
    assert len(set(together((one, one), smooth=True).groups.tolist())) == 6
    assert together(()) is EMPTY
    inside_out = Mesh(one.points, one.triangles[:, ::-1], one.groups)
    assert inside_out.volume == pytest.approx(-8.0)
    assert outside_out(inside_out).volume == pytest.approx(8.0)
    hole = Mesh(one.points, one.triangles[1:], one.groups[1:])
    assert not hole.closed
