"""How far two convex bodies are apart, at many poses at once. Arrays are component first: points ``(3, n)`` m, a
fixed one ``(3, 1)``.

A body answers two questions, its nearest point to a given one and how far it reaches in a direction; the distance
follows from them: points are thrown from one body to the other and back, with momentum, until the distance found and
a plane proved to lie between agree.

Source: projection on convex sets and their support functions (C. Ericson, Real-Time Collision Detection, ch. 9).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
Rows = NDArray[np.intp]
TOLERANCE = 2.5e-4
"""Distance found and plane proved agree to this, m."""
MOST, LOOK = 400, 2
"""Throws at the most, and between looks at who is done."""


class Body(Protocol):
    """A convex core with ``round`` m of rounding about it."""

    @property
    def round(self) -> float:
        """Rounding, m."""
        ...

    def nearest(self, x: Array) -> Array:
        """The core's nearest point to each of ``(3, n)``."""
        ...

    def reach(self, n: Array) -> Array:
        """Farthest the core goes along unit directions ``(3, n)``, ``(n,)`` m from the origin."""
        ...

    def some(self, rows: Rows) -> Body:
        """The body at some of its poses."""
        ...

    @property
    def middle(self) -> Array:
        """A point of the core."""
        ...

    @property
    def axes(self) -> Sequence[Array]:
        """Directions along which it may be got out of another body."""
        ...


def dot(a: Array, b: Array) -> Array:
    """Products of ``(3, n)`` with ``(3, n)``.

    ``a`` and ``b`` in the same unit or not; returns ``(n,)``.

    >>> dot(np.array([[1.0], [2.0], [3.0]]), np.array([[4.0], [0.0], [1.0]])).tolist()
    [7.0]
    """
    return np.asarray(a[0] * b[0] + a[1] * b[1] + a[2] * b[2])


def cross(a: Array, b: Array) -> Array:
    """Vector products ``a`` × ``b`` of ``(3, n)`` with ``(3, n)`` or ``(3, 1)``, in the product of their units; returns
    ``(3, n)``.

    >>> cross(np.array([[1.0], [0.0], [0.0]]), np.array([[0.0], [1.0], [0.0]])).ravel().tolist()
    [0.0, 0.0, 1.0]
    """
    return np.stack([a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]])


def _picked(v: Array, rows: Rows) -> Array:
    return v if v.shape[-1] == 1 else v[:, rows]


class Box(Struct, frozen=True, eq=False):
    """An upright box between corners ``(3, 1)`` or ``(3, n)``."""

    low: Array
    high: Array
    round: float = 0.0

    def nearest(self, x: Array) -> Array:
        return np.minimum(np.maximum(x, self.low), self.high)

    def reach(self, n: Array) -> Array:
        return dot(np.where(n > 0, self.high, self.low), n)

    def some(self, rows: Rows) -> Box:
        return Box(_picked(self.low, rows), _picked(self.high, rows), self.round)

    @property
    def middle(self) -> Array:
        return np.asarray(0.5 * (self.low + self.high))

    @property
    def axes(self) -> Sequence[Array]:
        return tuple(np.eye(3)[:, i : i + 1] for i in range(3))


class Beam(Struct, frozen=True, eq=False):
    """A rectangular bar standing still: its ``centre`` ``(3, 1)``, unit directions ``ways`` as rows ``(3, 3)``, and half
    sizes ``half`` ``(3,)`` m along them.
    """

    centre: Array
    ways: Array
    half: Array
    round: float = 0.0

    def nearest(self, x: Array) -> Array:
        within = np.clip(self.ways @ (x - self.centre), -self.half[:, None], self.half[:, None])
        return np.asarray(self.centre + self.ways.T @ within)

    def reach(self, n: Array) -> Array:
        return np.asarray(dot(self.centre, n) + self.half @ np.abs(self.ways @ n))

    def some(self, rows: Rows) -> Beam:
        return self

    @property
    def middle(self) -> Array:
        return self.centre

    @property
    def axes(self) -> Sequence[Array]:
        return tuple(self.ways[i][:, None] for i in range(3))


class Piece(Struct, frozen=True, eq=False):
    """A straight piece between two points; with ``round`` a capsule."""

    p: Array
    q: Array
    round: float = 0.0

    def nearest(self, x: Array) -> Array:
        d = self.q - self.p
        t = dot(x - self.p, d) / np.maximum(dot(d, d), 1e-18)
        return np.asarray(self.p + np.clip(t, 0.0, 1.0) * d)

    def reach(self, n: Array) -> Array:
        return np.maximum(dot(self.p, n), dot(self.q, n))

    def some(self, rows: Rows) -> Piece:
        return Piece(_picked(self.p, rows), _picked(self.q, rows), self.round)

    @property
    def middle(self) -> Array:
        return np.asarray(0.5 * (self.p + self.q))

    @property
    def axes(self) -> Sequence[Array]:
        d = self.q - self.p
        return tuple(cross(d, np.eye(3)[:, i : i + 1]) for i in range(3))


class Drum(Struct, frozen=True, eq=False):
    """A cylinder of ``radius`` and half width ``half`` about unit axes ``spin``; with ``round`` its edges are
    rounded.
    """

    centre: Array
    spin: Array
    radius: float
    half: float
    round: float = 0.0

    def nearest(self, x: Array) -> Array:
        away = x - self.centre
        along = dot(away, self.spin)
        out = away - along * self.spin
        far = np.sqrt(dot(out, out))
        out *= self.radius / np.maximum(far, self.radius)
        return np.asarray(self.centre + out + np.clip(along, -self.half, self.half) * self.spin)

    def reach(self, n: Array) -> Array:
        along = dot(n, self.spin)
        return np.asarray(
            dot(self.centre, n)
            + self.half * np.abs(along)
            + self.radius * np.sqrt(np.maximum(0.0, dot(n, n) - along * along))
        )

    def some(self, rows: Rows) -> Drum:
        return Drum(_picked(self.centre, rows), _picked(self.spin, rows), self.radius, self.half, self.round)

    @property
    def middle(self) -> Array:
        return self.centre

    @property
    def axes(self) -> Sequence[Array]:
        return (self.spin, *(cross(self.spin, np.eye(3)[:, i : i + 1]) for i in range(3)))


class Prism(Struct, frozen=True, eq=False):
    """A triangle ``corners`` ``(3, 2)`` in the plane of axes ``flat``, between ``low`` and ``high`` along the axis
    ``across``; it stands still.
    """

    corners: Array
    low: float
    high: float
    across: int
    flat: tuple[int, int]
    round: float = 0.0

    def nearest(self, x: Array) -> Array:
        out = np.empty_like(x)
        out[self.across] = np.clip(x[self.across], self.low, self.high)
        u, v = x[self.flat[0]], x[self.flat[1]]
        best = np.full(u.shape, np.inf)
        bu, bv = u.copy(), v.copy()
        turns = []
        for a, b in zip(self.corners, np.roll(self.corners, -1, axis=0), strict=True):
            e = b - a
            turns.append(e[0] * (v - a[1]) - e[1] * (u - a[0]))
            t = np.clip(((u - a[0]) * e[0] + (v - a[1]) * e[1]) / max(float(e @ e), 1e-18), 0.0, 1.0)
            pu, pv = a[0] + t * e[0], a[1] + t * e[1]
            far = (u - pu) ** 2 + (v - pv) ** 2
            near = far < best
            best = np.where(near, far, best)
            bu, bv = np.where(near, pu, bu), np.where(near, pv, bv)
        inside = ((turns[0] >= 0) & (turns[1] >= 0) & (turns[2] >= 0)) | (
            (turns[0] <= 0) & (turns[1] <= 0) & (turns[2] <= 0)
        )
        out[self.flat[0]], out[self.flat[1]] = np.where(inside, u, bu), np.where(inside, v, bv)
        return out

    def reach(self, n: Array) -> Array:
        flat = np.max([c[0] * n[self.flat[0]] + c[1] * n[self.flat[1]] for c in self.corners], axis=0)
        return np.asarray(flat + np.maximum(self.low * n[self.across], self.high * n[self.across]))

    def some(self, rows: Rows) -> Prism:
        return self

    @property
    def middle(self) -> Array:
        out = np.empty((3, 1))
        out[self.across], out[list(self.flat), 0] = 0.5 * (self.low + self.high), self.corners.mean(axis=0)
        return out

    @property
    def axes(self) -> Sequence[Array]:
        out = [np.eye(3)[:, self.across : self.across + 1]]
        for a, b in zip(self.corners, np.roll(self.corners, -1, axis=0), strict=True):
            side = np.zeros((3, 1))
            side[self.flat[0]], side[self.flat[1]] = b[1] - a[1], a[0] - b[0]
            out.append(side)
        return out


def apart(a: Body, b: Body, count: int, enough: float = np.inf) -> Array:
    """Signed distance between the surfaces of two bodies at ``count`` poses, ``(count,)`` m, to a third of a
    millimetre.

    Apart, or within the rounding: the distance, proved by a plane between; once it is proved to be more than
    ``enough``, what is proved. Deeper: minus the shortest way found along the bodies' own axes that gets them out of
    each other. Source: alternating projections between convex sets (von Neumann, Cheney–Goldstein) with the momentum
    and restart of O'Donoghue and Candès; the proof is the support of both bodies along the line between the points.
    ``a`` and ``b`` are bodies of the same poses.

    >>> one = Box(np.zeros((3, 1)), np.ones((3, 1)))
    >>> round(float(apart(one, Piece(np.array([[2.0], [2.0], [0.5]]), np.array([[3.0], [2.0], [0.5]]), 0.25), 1)[0]), 3)
    1.164
    """
    out = np.empty(count)
    rows = np.arange(count)
    x = b.nearest(np.broadcast_to(a.middle, (3, count)).copy())
    x = np.broadcast_to(x, (3, count)).copy()
    y, before, t = x, x, np.ones(count)
    enough += a.round + b.round
    proved = np.full(count, -np.inf)
    one, two = a, b
    for k in range(1, MOST + 1):
        p = one.nearest(y)
        x = two.nearest(p)
        step = x - before
        back = dot(y - x, step) > 0.0
        following = 0.5 * (1.0 + np.sqrt(1.0 + 4.0 * t * t))
        y = x + np.where(back, 0.0, (t - 1.0) / following) * step
        t, before = np.where(back, 1.0, following), x
        if k % LOOK and k != MOST:
            continue
        gap = x - one.nearest(x)
        far = np.sqrt(dot(gap, gap))
        meet = far < 1e-7
        n = gap / np.where(meet, 1.0, far)
        proved = np.maximum(proved, -two.reach(-n) - one.reach(n))
        plenty = proved > enough
        done = meet | plenty | (far - proved < TOLERANCE) | (k == MOST)
        if done.any():
            out[rows[done]] = np.where(meet, 0.0, np.where(plenty, proved, far))[done]
            left = np.flatnonzero(~done)
            rows = rows[left]
            if not rows.size:
                break
            y, before, t, proved = y[:, left], before[:, left], t[left], proved[left]
            one, two = one.some(left), two.some(left)
    deep = np.flatnonzero(out == 0.0)
    if deep.size:
        out[deep] = way_out(a.some(deep), b.some(deep), deep.size)
    return np.asarray(out - a.round - b.round)


def nearest_points(a: Body, b: Body) -> tuple[float, Array, Array]:
    """Signed distance m of two bodies ``a`` and ``b`` at their one pose, and the points of their surfaces ``(3,)`` m it lies between.

    Where they run into each other the distance is minus the way out (:func:`apart`), and both points are the middle of
    what was found of the overlap. Source: as :func:`apart`.

    >>> one = Box(np.zeros((3, 1)), np.ones((3, 1)))
    >>> gap, p, q = nearest_points(one, Piece(np.array([[2.0], [0.5], [0.5]]), np.array([[3.0], [0.5], [0.5]]), 0.25))
    >>> round(gap, 6), p.round(6).tolist(), q.round(6).tolist()
    (0.75, [1.0, 0.5, 0.5], [1.75, 0.5, 0.5])
    """
    x = np.array(b.nearest(np.asarray(a.middle, dtype=float).copy()))
    y, before, t = x, x, 1.0
    for _ in range(MOST):
        x = b.nearest(a.nearest(y))
        step = x - before
        back = float(dot(y - x, step)[0]) > 0.0
        following = 0.5 * (1.0 + (1.0 + 4.0 * t * t) ** 0.5)
        y = x if back else x + (t - 1.0) / following * step
        t, before = (1.0 if back else following), x
        between = x - a.nearest(x)
        far = float(np.linalg.norm(between))
        if far < 1e-7:
            break
        n = between / far
        if far + float(b.reach(-n)[0] + a.reach(n)[0]) < 0.1 * TOLERANCE:
            break
    p = a.nearest(x)
    between = x - p
    far = float(np.linalg.norm(between))
    if far < 1e-6:
        middle = (0.5 * (p + x))[:, 0]
        return float(apart(a, b, 1)[0]), middle, middle
    n = between / far
    gap = far - a.round - b.round
    return gap, (p + a.round * n)[:, 0], (x - b.round * n)[:, 0]


def way_out(a: Body, b: Body, count: int) -> Array:
    """Minus the shortest way along own axes of both that parts two cores which run into each other, ``(count,)`` m;
    ``a`` and ``b`` bodies of the same poses.

    >>> box = Box(np.zeros((3, 1)), np.ones((3, 1)))
    >>> way_out(box, Piece(np.array([[0.5], [0.5], [0.9]]), np.array([[0.6], [0.5], [0.9]])), 1).round(6).tolist()
    [-0.1]
    """
    out = np.full(count, -np.inf)
    between = np.broadcast_to(b.middle - a.middle, (3, count))
    own = [*a.axes, *b.axes, between, *(cross(u, v) for u in a.axes[:1] for v in b.axes)]
    for axis in own:
        size = np.sqrt(dot(axis, axis))
        n = np.broadcast_to(axis / np.where(size > 1e-9, size, 1.0), (3, count))
        for way in (n, -n):
            out = np.maximum(out, np.where(size > 1e-9, -b.reach(-way) - a.reach(way), -np.inf))
    return out
