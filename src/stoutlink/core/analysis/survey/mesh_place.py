"""A thing taken in from a mesh where it stands: its pieces in vehicle axes, by the points of it whose places are known."""

from __future__ import annotations

import itertools
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.document.quantities import Point
from stoutlink.core.document.survey import MeshSolid
from stoutlink.core.geometry.convex import Beam, Body, Drum, Piece, apart
from stoutlink.core.geometry.rigid_fit import Standing, stand

Array = NDArray[np.float64]
Placed = tuple[Body, Array, Array]
"""A body with the low and high corner of the upright box around it, ``(3, 1)`` m."""
SIDES = np.array(list(itertools.product((-1.0, 1.0), repeat=3)))


def standing(solid: MeshSolid) -> Standing:
    """How it stands; as it was drawn where its points do not say (the document refuses that)."""
    found = stand(np.array([a.own_m for a in solid.anchors]), np.array([a.at_m for a in solid.anchors]))
    return Standing(np.eye(3), np.zeros(3), np.zeros(len(solid.anchors))) if found is None else found


@lru_cache(maxsize=64)
def placed_pieces(solid: MeshSolid) -> tuple[Placed, ...]:
    """Its pieces where they stand."""
    where, out = standing(solid), []
    for one in solid.pieces:
        first = np.array(one.first) / max(float(np.linalg.norm(one.first)), 1e-9)
        second = np.array(one.second) - first * float(first @ np.array(one.second))
        second = second / max(float(np.linalg.norm(second)), 1e-9)
        ways = np.array([first, second, np.cross(first, second)]) @ where.turn.T
        centre, half = where.put(np.array([one.centre_m]))[0], np.array(one.half_m)
        if one.kind == "drum":
            radius = max(half[1], half[2])
            reach = half[0] * np.abs(ways[0]) + radius * np.sqrt(np.maximum(0.0, 1.0 - ways[0] ** 2))
            body: Body = Drum(centre[:, None], ways[0][:, None], float(radius), float(half[0]))
        else:
            reach = half @ np.abs(ways)
            body = Beam(centre[:, None], ways, half)
        out.append((body, (centre - reach)[:, None], (centre + reach)[:, None]))
    return tuple(out)


@lru_cache(maxsize=64)
def box_around(solid: MeshSolid) -> tuple[Point, Point]:
    """The upright box around it, m."""
    low = np.min([low for _, low, _ in placed_pieces(solid)], axis=0)[:, 0]
    high = np.max([high for _, _, high in placed_pieces(solid)], axis=0)[:, 0]
    return (float(low[0]), float(low[1]), float(low[2])), (float(high[0]), float(high[1]), float(high[2]))


def gap_to(solid: MeshSolid, a: Point, b: Point) -> float:
    """Least distance from a straight line between two points to it, m; negative inside."""
    p, q = np.array(a, dtype=float)[:, None], np.array(b, dtype=float)[:, None]
    return min(float(apart(body, Piece(p, q), 1)[0]) for body, _, _ in placed_pieces(solid))


def corners_of(solid: MeshSolid) -> list[Array]:
    """Points around each piece whose outline, seen from anywhere, is the piece's: ``(k, 3)`` m."""
    out = []
    turn = np.arange(24) * (2.0 * np.pi / 24)
    for body, _, _ in placed_pieces(solid):
        if isinstance(body, Drum):
            spin = body.spin[:, 0]
            side = np.cross(spin, np.eye(3)[int(np.abs(spin).argmin())])
            side /= np.linalg.norm(side)
            ring = body.radius * (np.outer(np.cos(turn), side) + np.outer(np.sin(turn), np.cross(spin, side)))
            out.append(body.centre[:, 0] + np.vstack([ring + body.half * spin, ring - body.half * spin]))
        else:
            assert isinstance(body, Beam)
            out.append(body.centre[:, 0] + (SIDES * body.half) @ body.ways)
    return out
