"""Bodies as closed meshes of triangles, wound so that their outsides count anticlockwise; lengths in metres.

Faces that run smoothly into each other share a ``group``; where two groups meet there is an edge to be drawn.

Source: surfaces of revolution and convex solids in parametric form (any text on descriptive geometry).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from functools import lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.geometry.convex import Beam, Body, Box, Drum, Piece, Prism

Array = NDArray[np.float64]
Ints = NDArray[np.intp]
AROUND, ALONG_ROUND = 24, 3
"""Sides of what is round, and steps from the end of a capsule to its wall."""


SMOOTH = float(np.cos(np.radians(30.0)))
"""A rim that turns by more than 30° has an edge there."""


class Mesh(Struct, frozen=True, eq=False):
    """``points`` ``(n, 3)`` m, ``triangles`` ``(m, 3)`` rows of them, ``groups`` ``(m,)`` of faces that run smoothly
    into each other.
    """

    points: Array
    triangles: Ints
    groups: Ints

    @property
    def corners(self) -> Array:
        """The corners of each triangle, ``(m, 3, 3)`` m."""
        return np.asarray(self.points[self.triangles])

    @property
    def volume(self) -> float:
        """What it encloses, m³; right for a closed mesh only. Source: divergence theorem."""
        a, b, c = np.moveaxis(self.corners, 1, 0)
        return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6.0)

    @property
    def closed(self) -> bool:
        """Whether every edge is shared by two triangles that run along it in opposite ways."""
        t = self.triangles
        there = np.concatenate([t[:, [0, 1]], t[:, [1, 2]], t[:, [2, 0]]])
        one = {(int(a), int(b)) for a, b in there}
        return len(one) == len(there) and all((b, a) in one for a, b in one)


EMPTY = Mesh(np.empty((0, 3)), np.empty((0, 3), dtype=np.intp), np.empty(0, dtype=np.intp))


def together(meshes: Iterable[Mesh], *, smooth: bool = False) -> Mesh:
    """Several ``meshes`` as one, m; with ``smooth`` no edge is drawn where one ends within another of the same group.

    >>> ball = capsule(np.zeros(3), np.zeros(3), 1.0, 4, 1)
    >>> [int(together((ball, ball), smooth=s).groups.max()) for s in (False, True)]
    [1, 0]
    """
    points, triangles, groups = [], [], []
    n = g = 0
    for one in meshes:
        points.append(one.points)
        triangles.append(one.triangles + n)
        groups.append(one.groups + (0 if smooth else g))
        n += len(one.points)
        g += int(one.groups.max(initial=-1)) + 1
    return Mesh(np.concatenate(points), np.concatenate(triangles), np.concatenate(groups)) if points else EMPTY


def frame_along(way: Array) -> Array:
    """Three unit directions as rows ``(3, 3)``, the first along ``way`` ``(3,)``; along x for a way of no length.

    >>> np.round(frame_along(np.array([0.0, 2.0, 0.0])), 9)[0].tolist()
    [0.0, 1.0, 0.0]
    """
    x, y, z = way.tolist()
    size = math.sqrt(x * x + y * y + z * z)
    a, b, c = (1.0, 0.0, 0.0) if size < 1e-12 else (x / size, y / size, z / size)
    least = min(abs(a), abs(b), abs(c))  # across it: the cross product with the axis it leans to least
    d, e, f = (0.0, c, -b) if abs(a) == least else (-c, 0.0, a) if abs(b) == least else (b, -a, 0.0)
    wide = math.sqrt(d * d + e * e + f * f)
    d, e, f = d / wide, e / wide, f / wide
    return np.array([(a, b, c), (d, e, f), (b * f - c * e, c * d - a * f, a * e - b * d)])


@lru_cache(maxsize=64)
def _rings(count: int, around: int, groups: tuple[int, ...]) -> tuple[Ints, Ints]:
    """Triangles and groups of ``count`` rings of ``around`` points between a first and a last point."""
    k = np.arange(around)
    nxt = (k + 1) % around
    first, last = 0, 1 + count * around
    out, group = [np.stack([np.full(around, first), 1 + nxt, 1 + k], axis=1)], [np.full(around, groups[0])]
    for ring in range(count - 1):
        a, b = 1 + ring * around, 1 + (ring + 1) * around
        out += [np.stack([a + k, a + nxt, b + nxt], axis=1), np.stack([a + k, b + nxt, b + k], axis=1)]
        group += [np.full(around, groups[ring + 1])] * 2
    a = 1 + (count - 1) * around
    out.append(np.stack([a + k, a + nxt, np.full(around, last)], axis=1))
    group.append(np.full(around, groups[-1]))
    return np.concatenate(out), np.concatenate(group)


@lru_cache(maxsize=8)
def _circle(around: int) -> Array:
    angle = 2 * np.pi * np.arange(around) / around
    return np.stack([np.cos(angle), np.sin(angle)])


def turned(
    middle: Array, ways: Array, profile: Sequence[tuple[float, float]], groups: Sequence[int], around: int = AROUND
) -> Mesh:
    """A body of revolution about ``ways[0]`` through ``middle`` ``(3,)`` m.

    ``around`` sides; ``profile`` is ``(along, radius)`` m from one end on the axis to the other, rising along; its first and last radius
    are 0. ``groups`` gives one group for each piece of the profile. The surface is inscribed: its corners lie on the
    true one.

    >>> ball = turned(np.zeros(3), np.eye(3), [(-1.0, 0.0), (0.0, 1.0), (1.0, 0.0)], [0, 0], 4)
    >>> round(ball.volume, 6), ball.closed
    (1.333333, True)
    """
    inner = np.array(profile[1:-1])
    cos, sin = _circle(around)
    ring = inner[:, 1, None, None] * (cos[:, None] * ways[1] + sin[:, None] * ways[2])
    body = (middle + inner[:, 0, None, None] * ways[0] + ring).reshape(-1, 3)
    points = np.concatenate([[middle + profile[0][0] * ways[0]], body, [middle + profile[-1][0] * ways[0]]])
    return Mesh(points, *_rings(len(inner), around, tuple(groups)))


def capsule(p: Array, q: Array, radius: float, around: int = AROUND, steps: int = ALONG_ROUND) -> Mesh:
    """All points within ``radius`` m of the piece from ``p`` to ``q`` ``(3,)`` m; a ball where they are one. ``around``
    sides, and ``steps`` from each end to its wall.

    >>> one = capsule(np.zeros(3), np.array([1.0, 0.0, 0.0]), 0.1, 96)
    >>> abs(one.volume / (np.pi * 0.01 * (1 + 0.4 / 3)) - 1) < 0.02
    True
    """
    ways = frame_along(q - p)
    half = 0.5 * float(np.linalg.norm(q - p))
    angle = 0.5 * np.pi * np.arange(steps + 1) / steps
    end = [(half + radius * float(np.sin(a)), radius * float(np.cos(a))) for a in angle]
    end[-1] = (half + radius, 0.0)
    near = end if half > 1e-9 else end[1:]  # a ball has one ring round its middle
    profile = [(-a, r) for a, r in reversed(end)] + near
    return turned(0.5 * (p + q), ways, profile, [0] * (len(profile) - 1), around)


def drum(centre: Array, spin: Array, radius: float, half: float, shoulder: float = 0.0, inner: float = 0.0) -> Mesh:
    """A cylinder about ``centre`` of ``radius`` and half width ``half`` m about ``spin`` with ``shoulder`` m of rounding about it; a
    circle of radius ``inner`` m is drawn on its faces where it is not 0.

    >>> round(drum(np.zeros(3), np.array([0.0, 1.0, 0.0]), 1.0, 0.5).volume / np.pi, 2)
    1.0
    """
    rim = half + shoulder
    steps = 2 if shoulder > 0 else 0
    angle = 0.5 * np.pi * np.arange(steps + 1) / max(1, steps)
    bent = [(half + shoulder * float(np.cos(a)), radius + shoulder * float(np.sin(a))) for a in angle]
    face = [(rim, inner)] if 0 < inner < radius else []
    groups = [0] * len(face) + [1] * (1 + steps)
    right = [(rim, 0.0), *face, *bent]
    profile = [(-a, r) for a, r in right] + right[::-1]
    both = [*groups, 2, *(g + 3 for g in groups[::-1])]
    return turned(centre, frame_along(spin), profile, both, 2 * AROUND)


CORNERS = np.array([[i, j, k] for i in (-1.0, 1.0) for j in (-1.0, 1.0) for k in (-1.0, 1.0)])
_QUADS = ((0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3))
_BOX = np.array([t for a, b, c, d in _QUADS for t in ((a, b, c), (a, c, d))], dtype=np.intp)
_BOX_GROUPS = np.repeat(np.arange(6), 2)


def bar(centre: Array, ways: Array, half: Array) -> Mesh:
    """A rectangular body: its ``centre`` ``(3,)`` m, right-handed unit directions as rows ``ways``, half sizes ``half``
    ``(3,)`` m along them.

    >>> round(bar(np.zeros(3), np.eye(3), np.array([0.5, 1.0, 1.5])).volume, 9)
    6.0
    """
    return Mesh(centre + (CORNERS * half) @ ways, _BOX, _BOX_GROUPS)


def plate(triangles: Ints, low: Array, high: Array, rings: Sequence[int] = ()) -> Mesh:
    """What lies between two alike outlines ``low`` and ``high`` ``(n, 3)`` m, whose corners follow each other round;
    ``triangles`` ``(m, 3)`` of them fill one. ``rings`` gives the numbers of corners of the rim and of each hole where
    there are holes, whose corners run the other way round. Turned outside out where it was given inside out.

    >>> square = np.array([[0.0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0]])
    >>> one = plate(np.array([[0, 1, 2], [0, 2, 3]]), square, square + [0.0, 0.0, -0.5])
    >>> round(one.volume, 9), one.closed
    (0.5, True)
    """
    n, m = len(low), len(triangles)
    k = np.arange(n)
    nxt, begin = k + 1, 0
    first = np.zeros(n, dtype=bool)
    for count in rings or (n,):
        first[begin] = True
        nxt[begin + count - 1] = begin
        begin += count
    sides = np.concatenate([np.stack([k, nxt, nxt + n], axis=1), np.stack([k, nxt + n, k + n], axis=1)])
    faces = np.concatenate([triangles + n, triangles[:, ::-1], sides])
    groups = np.concatenate([np.full(m, 0), np.full(m, 1), np.tile(2 + _walls(low, nxt, first), 2)])
    return outside_out(Mesh(np.concatenate([low, high]), faces, groups))


def _walls(points: Array, nxt: Ints, first: NDArray[np.bool_]) -> Ints:
    """A number for each side of rims: the same where one turns by less than :data:`SMOOTH`."""
    way = points[nxt] - points
    way /= np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-12)
    before = np.empty_like(nxt)
    before[nxt] = np.arange(len(nxt))
    bent = np.einsum("ij,ij->i", way, way[before]) < SMOOTH
    return np.asarray(np.cumsum(bent | first))


def outside_out(mesh: Mesh) -> Mesh:
    """A closed ``mesh`` with its triangles wound so that it encloses more than nothing, m³.

    >>> cube = bar(np.zeros(3), np.eye(3), np.ones(3))
    >>> outside_out(Mesh(cube.points, cube.triangles[:, ::-1], cube.groups)).volume
    8.0
    """
    return mesh if mesh.volume >= 0 else Mesh(mesh.points, mesh.triangles[:, ::-1], mesh.groups)


def mesh_of(body: Body) -> Mesh:
    """The surface of a convex ``body`` at its one pose, m. Raises :class:`TypeError` for a body of another kind.

    >>> round(mesh_of(Box(np.zeros((3, 1)), np.ones((3, 1)))).volume, 9)
    1.0
    """
    if isinstance(body, Piece):
        ball = np.array_equal(body.p, body.q)
        return capsule(body.p[:, 0], body.q[:, 0], body.round, AROUND, 2 * ALONG_ROUND if ball else ALONG_ROUND)
    if isinstance(body, Drum):
        return drum(body.centre[:, 0], body.spin[:, 0], body.radius, body.half, body.round, 0.55 * body.radius)
    if isinstance(body, Box):
        half = 0.5 * (body.high - body.low)[:, 0]
        return bar(body.middle[:, 0], np.eye(3), half)
    if isinstance(body, Beam):
        return outside_out(bar(body.centre[:, 0], body.ways, body.half))
    if isinstance(body, Prism):
        low, high = np.empty((3, 3)), np.empty((3, 3))
        low[:, list(body.flat)] = high[:, list(body.flat)] = body.corners
        low[:, body.across], high[:, body.across] = body.low, body.high
        return plate(np.array([[0, 1, 2]]), low, high)
    raise TypeError(type(body).__name__)
