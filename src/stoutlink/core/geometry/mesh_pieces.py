"""A mesh of triangles as a few convex pieces, bars and drums, that hold all of it and as little else as may be.

Source: bounding volumes along a surface's own directions, split where that saves most (after S. Gottschalk, M. Lin, D. Manocha,
OBBTree, 1996, with the volume saved in place of a tree's depth).
"""

from __future__ import annotations

import heapq
from typing import Literal

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
MOST_PIECES = 96
MOST_TRIANGLES = 120_000
"""Triangles after long ones are cut: where there would be more they are cut less finely."""
FINE = 40
"""Triangles are cut until their sides are shorter than the mesh's largest size by this."""
LEAST_SIDE = 0.01
"""But no shorter than this, m."""
THIN = 5e-4
"""Half as thick as this, m, at least, is every piece: a sheet has two sides."""
MOST_APART = 6
"""A mesh in more parts than this is split by halves first."""
WORTH = 0.08
"""A piece is split where that saves at least this part of it."""
LEAST_WORTH = 2e-5
"""And at least this much, m³: a fiftieth of a litre."""


class MeshPiece(Struct, frozen=True, eq=False):
    """A bar (half sizes ``half`` ``(3,)`` m along ``ways``, rows) or a drum about ``ways[0]`` (half its width, its radius twice)."""

    kind: Literal["bar", "drum"]
    centre: Array
    ways: Array
    half: Array

    @property
    def volume(self) -> float:
        """m³."""
        return float(self.half.prod()) * (8.0 if self.kind == "bar" else 2.0 * np.pi)


def cut_fine(points: Array, triangles: Ints, longest: float) -> tuple[Array, Ints]:
    """``points`` ``(n, 3)`` m and ``triangles`` ``(m, 3)`` with sides no longer than ``longest`` m: each long side halved, for all triangles that
    have it, the longest first, as long as there are fewer than :data:`MOST_TRIANGLES`. Source: bisection of the longest side.

    >>> p, t = cut_fine(np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]), np.array([[0, 1, 2]]), 0.8)
    >>> len(t), len(p)
    (4, 6)
    """
    while True:
        corner = points[triangles]
        side = np.linalg.norm(corner - np.roll(corner, -1, axis=1), axis=2)
        worst = side.argmax(axis=1)
        reach = side[np.arange(len(side)), worst]
        long = reach > max(longest, 0.7 * float(reach.max(initial=0.0)))
        if not long.any():
            return points, triangles
        if len(triangles) + int(long.sum()) > MOST_TRIANGLES:
            return points, triangles
        rows, k = np.flatnonzero(long), worst[long]
        a, b, c = (triangles[rows, (k + i) % 3] for i in range(3))
        pairs, of = np.unique(np.sort(np.column_stack([a, b]), axis=1), axis=0, return_inverse=True)
        middle = len(points) + of.ravel()
        points = np.vstack([points, 0.5 * (points[pairs[:, 0]] + points[pairs[:, 1]])])
        triangles = np.vstack([triangles[~long], np.column_stack([a, middle, c]), np.column_stack([middle, b, c])])


def hanging_together(triangles: Ints, rows: Ints) -> list[Ints]:
    """Some ``rows`` ``(k,)`` of ``triangles`` ``(m, 3)`` (numbers of points) apart by what hangs together in shared points; all as one where they are more than
    :data:`MOST_APART` parts. Source: smallest labels with pointer jumping, any text on graphs.

    >>> [part.tolist() for part in hanging_together(np.array([[0, 1, 2], [3, 4, 5], [2, 1, 6]]), np.arange(3))]
    [[0, 2], [1]]
    """
    known, of = np.unique(triangles[rows], return_inverse=True)
    corners = of.reshape(-1, 3)
    label = np.arange(len(known))
    while True:
        before = label.copy()
        np.minimum.at(label, corners.ravel(), np.repeat(label[corners].min(axis=1), 3))
        label = label[label]
        if (label == before).all():
            break
    part = label[corners[:, 0]]
    names = np.unique(part)
    return [rows] if len(names) > MOST_APART else [rows[part == name] for name in names]


def pieces_of(points: Array, triangles: Ints, most: int = MOST_PIECES) -> tuple[MeshPiece, ...]:
    """At most ``most`` pieces that hold all of a mesh of ``points`` ``(n, 3)`` m and ``triangles`` ``(m, 3)``, the largest first: what saves most is split
    first. Raises ``ValueError`` for a mesh of nothing. Source: as this room's.

    >>> from stoutlink.core.geometry.mesh import bar
    >>> box = bar(np.zeros(3), np.eye(3), np.array([0.5, 0.2, 0.1]))
    >>> [(p.kind, np.round(p.half, 6).tolist()) for p in pieces_of(box.points, box.triangles)]
    [('bar', [0.5, 0.2, 0.1])]
    """
    if not len(triangles):
        raise ValueError("no triangles")
    used = points[np.unique(triangles)]
    one = min(_candidates(used), key=lambda one: one.volume)
    a, b, c = np.moveaxis((points - used.mean(axis=0))[triangles], 1, 0)
    filled = abs(float(np.einsum("ij,ij->", a, np.cross(b, c)))) / 6.0
    if (1.0 - WORTH) * one.volume <= filled <= 1.001 * one.volume:
        return (one,)  # no halving could save more
    size = float(np.ptp(used, axis=0).max())
    fine, small = cut_fine(points, triangles.astype(np.int64), max(size / FINE, LEAST_SIDE))
    middles = fine[small].mean(axis=1)

    def best(rows: Ints) -> MeshPiece:
        return min(_candidates(fine[np.unique(small[rows])]), key=lambda one: one.volume)

    def split(rows: Ints, one: MeshPiece) -> tuple[float, list[tuple[Ints, MeshPiece]]]:
        """What the best halving saves, m³, and its halves."""
        found: tuple[float, list[tuple[Ints, MeshPiece]]] = (0.0, [])
        for k in range(3):  # a part that falls apart in a half is worth more than one that does not
            along = middles[rows] @ one.ways[k]
            for part in (0.5, 0.3, 0.7):
                low = along < along.min() + part * np.ptp(along)
                if not low.any() or low.all():
                    continue
                halves = [(one, best(one)) for half in (rows[low], rows[~low]) for one in hanging_together(small, half)]
                saved = one.volume - sum(half.volume for _, half in halves)
                if saved > found[0]:
                    found = (saved, halves)
        return found

    waiting: list[tuple[float, int, MeshPiece, list[tuple[Ints, MeshPiece]]]] = []
    done: list[MeshPiece] = []
    made = 0

    def put(rows: Ints, one: MeshPiece) -> None:
        nonlocal made
        made += 1
        saved, halves = split(rows, one)
        if saved < max(WORTH * one.volume, LEAST_WORTH):
            done.append(one)
        else:
            heapq.heappush(waiting, (-saved, made, one, halves))

    for rows in hanging_together(small, np.arange(len(small))):
        put(rows, best(rows))
    while waiting:
        _, _, one, halves = heapq.heappop(waiting)
        if len(waiting) + len(done) + len(halves) > most:
            done.append(one)
            continue
        for rows, half in halves:
            put(rows, half)
    return tuple(sorted(done, key=lambda one: -one.volume))


def _candidates(held: Array) -> list[MeshPiece]:
    """Bars along the axes and along the points' own directions, and drums about each of these."""
    out = []
    turns = [np.eye(3)]
    if len(held) > 3:
        _, way = np.linalg.eigh(np.cov((held - held.mean(axis=0)).T))
        own = way.T[::-1]
        turns.append(np.array([own[0], own[1], np.cross(own[0], own[1])]))
    for ways in turns:
        along = held @ ways.T
        low, high = along.min(axis=0), along.max(axis=0)
        half = np.maximum(0.5 * (high - low), THIN)
        out.append(MeshPiece("bar", ways.T @ (0.5 * (low + high)), ways, half))
        for k in range(3):
            i, j = (k + 1) % 3, (k + 2) % 3
            about = 0.5 * (low[[i, j]] + high[[i, j]])
            radius = max(float(np.hypot(along[:, i] - about[0], along[:, j] - about[1]).max()), THIN)
            middle = np.empty(3)
            middle[k], middle[i], middle[j] = 0.5 * (low[k] + high[k]), about[0], about[1]
            out.append(MeshPiece("drum", ways.T @ middle, ways[[k, i, j]], np.array([half[k], radius, radius])))
    return out
