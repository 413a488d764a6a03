"""Stations along a straight line of travel, and Newton at all of them together. What is asked from outside is in
:mod:`~stoutlink.core.mechanics.linkage.position`.

Source: Newton's method; Hermite interpolation through positions and slopes.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.bars import AtRide
from stoutlink.core.mechanics.linkage.closure import Closure

Array = NDArray[np.float64]

CLOSED = 1e-11
"""Newton stops here; what is reported as reached is below 1e-10 m."""
STILL = 1e-11
MOST_STEPS = 14
FEW = 1500
"""Fewer poses than this are solved straight from ride height; for more, some stations are solved first."""
FAR = 20.0
"""A first guess farther than this (m, or tan of a half angle) is none."""
NEAR = 6000
"""Poses whose working arrays stay near the processor."""


class Line(Struct, frozen=True, dict=True):
    """Stations of a sweep as one parameter s measured from the start, with both directions outward."""

    heave: Array
    roll: Array
    start: tuple[float, float]
    s: Array
    """Signed distance from the start: metres of heave plus half-radians of roll."""
    own: Array
    """The variable reported as limit: heave when it varies, else roll."""

    @cached_property
    def per_s(self) -> tuple[float, float]:
        """Heave and roll per unit of s."""
        far = int(np.argmax(np.abs(self.s)))
        if self.s[far] == 0:
            return 0.0, 0.0
        return (self.heave[far] - self.start[0]) / self.s[far], (self.roll[far] - self.start[1]) / self.s[far]

    @classmethod
    def through(cls, heave: Array, roll: Array, start: tuple[float, float]) -> Line:
        dh, dr = heave - start[0], roll - start[1]
        size = np.hypot(dh, 0.5 * dr)
        size[size < 1e-9] = 0.0
        own, own_start = (heave, start[0]) if np.abs(dh).max(initial=0.0) > 0 else (roll, start[1])
        return cls(heave, roll, start, np.where(own < own_start, -size, size), own)

    def outward(self, sign: int) -> NDArray[np.intp]:
        inside = np.flatnonzero(self.s >= 0) if sign > 0 else np.flatnonzero(self.s < 0)
        return inside[np.argsort(np.abs(self.s[inside]), kind="stable")]


def converge(c: Closure, q: Array, most: int = MOST_STEPS) -> tuple[Array, Array]:
    """Newton on all poses of ``c``, in place on ``q`` ``(4, stations, layouts)``, at ``most`` so many steps; returns the
    determinant and the final error (m; the last step for more than four bars), both ``(stations, layouts)``.

    All together, or some stations after others where together they would not stay in the processor's own memory.

    >>> from stoutlink.core.mechanics.linkage.bars import Bars
    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> c = Closure(Bars.of((0.0, 0.0, 0.5), frame, axle), np.zeros(1), np.zeros(1))
    >>> c.at(np.array([0.05]), np.zeros(1))
    >>> bool(converge(c, np.zeros((4, 1, 1)))[1].max() < 1e-12)
    True
    """
    stations, layouts = q.shape[1:]
    some = max(1, NEAR // layouts)
    if some >= stations:
        return _together(c, q, most)
    heave, roll = c.heave, c.roll
    det, error = np.empty(q.shape[1:]), np.empty(q.shape[1:])
    for i in range(0, stations, some):
        part = slice(i, i + some)
        c.at(*(v if len(v) == 1 else v[part] for v in (heave, roll)))
        det[part], error[part] = _together(c, q[:, part], most)
    c.at(heave, roll)
    return det, error


def _together(c: Closure, q: Array, most: int) -> tuple[Array, Array]:
    r = c.rows(q)
    for _ in range(most):
        det, moved = c.step(q, r)
        if c.n != 4:
            size = np.abs(moved).max(axis=0)
            error = np.where(size < STILL, 0.0, size)
        r = c.rows(q)
        if c.n == 4:
            error = c.error(r)
        worst = error.max()
        if worst <= CLOSED or (worst != worst and np.isnan(error).all()):
            break
    return det, error


def solved(c: Closure, base: Array, start: Array, line: Line, ride: AtRide | None) -> tuple[Array, Array, Array]:
    """Every station of the ``line`` solved, ``(4, stations, layouts)``, with determinant and error (m), each ``(stations,
    layouts)``, from the pose ``base`` at its start and the slope ``start`` there.

    Few columns: from a first guess along the tangent and, where the start is ``ride`` height, the bend. Many: through a
    handful of them. ``c`` is left at the stations solved last.

    >>> from stoutlink.core.mechanics.linkage.bars import Bars
    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> c = Closure(Bars.of((0.0, 0.0, 0.5), frame, axle), np.zeros(1), np.zeros(1))
    >>> base, s = np.zeros((4, 1, 1)), np.linspace(-0.1, 0.1, 5)
    >>> line = Line.through(s, 0.0 * s, (0.0, 0.0))
    >>> q, det, error = solved(c, base, slope(base, c.motion(c.rows(base))[1], line), line, None)
    >>> q.shape, bool(error.max() < 1e-10)
    ((4, 5, 1), True)
    """
    if len(line.s) * base.shape[-1] >= FEW and len(line.s) >= 9:
        return through_knots(c, base, start, line, lambda some: (line.heave[some], line.roll[some]))
    c.at(line.heave, line.roll)
    q = base + start * line.s[:, None]
    if ride is not None:
        bend = ride.bend(*line.per_s)
        bend[2:] *= 0.5
        q += bend * (0.5 * line.s**2)[:, None]
    return q, *converge(c, q)


def through_knots(
    c: Closure,
    base: Array,
    start: Array,
    line: Line,
    at: Callable[[NDArray[np.intp]], tuple[Array, Array]],
) -> tuple[Array, Array, Array]:
    """Every station of the ``line`` solved, ``(4, stations, columns)``, with determinant and error (m), each ``(stations,
    columns)``: a few of them first, outward from the pose ``base`` and the slope ``start`` there, and the others from the
    polynomial through their positions and slopes, so that one Newton step is enough for most.

    ``at`` gives heave (m) and roll (rad) of some of the stations, as ``c`` takes them.

    >>> from stoutlink.core.mechanics.linkage.bars import Bars
    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> c = Closure(Bars.of((0.0, 0.0, 0.5), frame, axle), np.zeros(1), np.zeros(1))
    >>> base, s = np.zeros((4, 1, 1)), np.linspace(-0.1, 0.1, 9)
    >>> line = Line.through(s, 0.0 * s, (0.0, 0.0))
    >>> start = slope(base, c.motion(c.rows(base))[1], line)
    >>> q, det, error = through_knots(c, base, start, line, lambda some: (s[some], 0.0 * s[some]))
    >>> bool(error.max() < 1e-10), bool((np.sign(det) == np.sign(det[0])).all())
    (True, True)
    """
    s = line.s
    knots, values, slopes = [0.0], [base], [start]
    q = np.empty((4, len(s), base.shape[-1]))
    det, error = np.empty(q.shape[1:]), np.empty(q.shape[1:])
    left = np.ones(len(s), bool)
    for level in (0.5, 1.0):
        near = np.unique([np.abs(s - level * end).argmin() for end in (s.min(), s.max())])
        new = near[~np.isin(s[near], knots)]
        if not len(new):
            continue
        guess = _hermite(knots, values, slopes, s[new])
        c.at(*at(new))
        det[new], error[new] = converge(c, guess, 3)
        if error[new].max() <= CLOSED:
            q[:, new], left[new] = guess, False
        _, found = c.motion(c.rows(guess))
        rate = slope(guess, found, line)
        for i, v in enumerate(s[new]):
            knots.append(float(v))
            values.append(guess[:, i : i + 1])
            slopes.append(rate[:, i : i + 1])
    others = np.flatnonzero(left)
    guess = _hermite(knots, values, slopes, s[others])
    guess = np.where(np.abs(guess) < FAR, guess, 0.0)
    c.at(*at(others))
    det[others], error[others] = converge(c, guess)
    q[:, others] = guess
    return q, det, error


def slope(q: Array, rates: tuple[Array, Array], line: Line) -> Array:
    """dq/ds along the ``line`` at ``q``, from the ``rates`` of x, y (m), yaw and pitch (rad) per metre of heave and per
    rad of roll, all ``(4, stations, layouts)``; those of yaw and pitch become rates of tan(angle/2).

    >>> rates = np.array([[[0.1]], [[0.0]], [[0.0]], [[0.4]]]), np.zeros((4, 1, 1))
    >>> slope(np.zeros((4, 1, 1)), rates, Line.through(np.array([0.0, 0.1]), np.zeros(2), (0.0, 0.0))).ravel().tolist()
    [0.1, 0.0, 0.0, 0.2]
    """
    out = rates[0] * line.per_s[0] + rates[1] * line.per_s[1]
    out[2:] *= 0.5 + 0.5 * q[2:] ** 2
    return out


def _hermite(knots: list[float], values: list[Array], slopes: list[Array], at: Array) -> Array:
    """The polynomial through values and slopes (each ``(4, 1, layouts)``) at points ``at``: ``(4, stations,
    layouts)``.
    """
    k = np.array(knots)
    if len(k) == 1:
        return values[0] + slopes[0] * at[:, None]
    gap = k[:, None] - k
    np.fill_diagonal(gap, 1.0)
    lagrange = np.stack(
        [np.prod([(at - k[j]) / gap[i, j] for j in range(len(k)) if j != i], axis=0) for i in range(len(k))]
    )
    lean = (1.0 / gap - np.eye(len(k))).sum(axis=1)
    off = at - k[:, None]
    square = lagrange**2
    basis = np.concatenate([(1.0 - 2.0 * off * lean[:, None]) * square, off * square])
    data = np.concatenate([np.concatenate(values, axis=1), np.concatenate(slopes, axis=1)], axis=1)
    out: Array = np.matmul(basis.T, data)
    return out
