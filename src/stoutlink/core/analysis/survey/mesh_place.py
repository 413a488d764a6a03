"""A thing taken in from a mesh where it stands: its pieces in vehicle axes, by the points of it whose places are known."""

from __future__ import annotations

import itertools
from functools import lru_cache

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from stoutlink.core.document.ids import free_id
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.survey import MeshSolid, OwnAnchor, SolidPiece
from stoutlink.core.geometry.convex import Beam, Body, Drum, Piece, apart
from stoutlink.core.geometry.rigid_fit import Standing, stand

Array = NDArray[np.float64]
Placed = tuple[Body, Array, Array]
"""A body with the low and high corner of the upright box around it, ``(3, 1)`` m."""
FIXED = tuple(
    OwnAnchor(id=f"p{k}", own_m=p, at_m=p) for k, p in enumerate(((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)), 1)
)
"""What a thing is placed by when it is taken in: as in its file, until somebody says where it stands."""
AS_IN_FILE = tuple(replace(one, id=f"file-{one.id}") for one in FIXED)
"""The same, said by somebody: points of other names, which nobody has left open."""
MOST_ANCHORS = 12
"""Points that a project takes to place a mesh by."""
FAR_ZERO = 10.0
"""A file whose zero is farther than this from what is in it, m, is drawn in axes of something else."""
FARTHEST = 12.0
"""What a coordinate on the rig takes, m."""
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


def first_anchors(pieces: tuple[SolidPiece, ...]) -> tuple[OwnAnchor, ...]:
    """What pieces are placed by until somebody says: :data:`FIXED`; of a file whose zero is far off (a scan of a whole site) about the
    middle of the pieces, so that with the first place pointed at the three do not stand in line."""
    x, y, z = (round(float(v), 3) for v in np.mean([one.centre_m for one in pieces], axis=0))
    if max(abs(x), abs(y), abs(z)) < FAR_ZERO:
        return FIXED
    return tuple(replace(a, own_m=(a.own_m[0] + x, a.own_m[1] + y, a.own_m[2] + z)) for a in FIXED)


def as_drawn(solid: MeshSolid) -> MeshSolid:
    """It as it stands in the axes of its own file."""
    return replace(solid, anchors=FIXED)


@lru_cache(maxsize=16)
def sharp_points(solid: MeshSolid) -> Array:
    """Places of it that can be found on the thing itself with a tape, in the axes of its file, ``(n, 3)`` m: corners of its
    bars, and the middles of the ends of bars and drums."""
    out = []
    for body, _, _ in placed_pieces(as_drawn(solid)):
        assert isinstance(body, Beam | Drum)
        centre = body.centre[:, 0]
        if isinstance(body, Drum):
            out += [centre + way * body.half * body.spin[:, 0] for way in (1.0, -1.0)]
        else:
            long = int(np.argmax(body.half))
            out += [centre + way * body.half[long] * body.ways[long] for way in (1.0, -1.0)]
            out += list(centre + (SIDES * body.half) @ body.ways)
    return np.array(out)


def next_anchor(solid: MeshSolid) -> OwnAnchor:
    """One more point to place it by: the sharp one farthest from those it has, where they put it on the rig."""
    sharp, had = sharp_points(solid), np.array([a.own_m for a in solid.anchors])
    away = np.linalg.norm(sharp[:, None] - had, axis=-1).min(axis=1)
    own = np.round(sharp[int(away.argmax())], 5)
    at = standing(solid).put(own[None])[0]
    new = free_id("p", (a.id for a in solid.anchors))
    x, y, z = (float(v) for v in own)
    u, v, w = (max(-FARTHEST, min(FARTHEST, round(float(c), 5))) for c in at)
    return OwnAnchor(id=new, own_m=(x, y, z), at_m=(u, v, w))


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
