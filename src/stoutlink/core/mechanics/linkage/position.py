"""Where the axle sits over travel: batch Newton, kept on the branch that contains ride height.

All stations and all candidate layouts are solved together from a first-order prediction at ride. Every
solution is then proved: lengths closed to 1e-10 m, the determinant keeps its sign (four bars), and the path
from ride is smooth. Where the proof fails the path is walked in short steps from the last proven station; where
that ends, the links bind and the travel beyond is marked unreachable. No number comes from a failed solve.

Source: Newton's method along a path, with a proof of each result.
"""

from __future__ import annotations

import math
import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.closure import Closure
from stoutlink.core.mechanics.linkage.poses import Poses
from stoutlink.core.mechanics.linkage.stations import FEW, Line, converge, slope, solved, through_knots

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]

SMOOTH = 0.25
"""Largest change of slope between neighbouring stations, per step, before the path is walked instead."""
FINEST = 2e-6
"""Limits of travel are found to this step (m or half-radians)."""
_BLOCK = 60_000


def sweep(
    bars: Bars, heave: Array, roll: Array, start: tuple[float, float] = (0.0, 0.0), *, patient: bool = True
) -> Poses:
    """Poses along a straight line of travel through ``start`` (heave m, roll rad), for all layouts.

    ``heave`` and ``roll`` have shape ``(stations,)``, ordered, and lie on one straight line through ``start``.
    ``start`` itself must be reachable from ride height; when it is not, nothing on the line is reached. Returns
    :class:`Poses` with shape ``(*bars.lead, stations)``. Without ``patient`` a path that is not proven at once is not
    walked in short steps: its limit is the last station proven, which may be short of the true one (for judging
    thousands of candidates roughly).

    >>> frame = [[1, .3, .5], [1, -.3, .5], [.9, .1, .9], [.9, -.1, .9]]
    >>> axle = [[0, .5, .4], [0, -.5, .4], [0, .4, .7], [0, -.4, .7]]
    >>> p = sweep(Bars.of([0, 0, .45], frame, axle), np.array([0.0, 0.05]), np.zeros(2))
    >>> p.reached.tolist(), bool(abs(p.y).max() < 1e-12)
    ([True, True], True)
    """
    heave, roll = np.atleast_1d(np.asarray(heave, float)), np.atleast_1d(np.asarray(roll, float))
    if heave.shape != roll.shape:
        heave, roll = np.broadcast_arrays(heave, roll)
    total = math.prod(bars.lead)
    line = Line.through(heave, roll, start)
    block, workers = max(1, _BLOCK // max(len(heave), 1)), os.cpu_count() or 1
    if total > block:  # pieces alike, as many for each worker
        block = math.ceil(total / (workers * math.ceil(total / block / workers)))
    blocks = [bars] if total <= block else [_cut(bars, slice(i, i + block)) for i in range(0, total, block)]
    if len(blocks) > 1:
        with ThreadPoolExecutor(min(len(blocks), workers)) as pool:
            parts = list(pool.map(lambda b: _quietly(b, line, patient=patient), blocks))
    else:
        parts = [_quietly(b, line, patient=patient) for b in blocks]
    q, error, reach, low, high = (
        np.concatenate([p[k] for p in parts], axis=-1) if len(parts) > 1 else parts[0][k] for k in range(5)
    )

    def shaped(v: NDArray[Any]) -> NDArray[Any]:
        return v.T.reshape(*bars.lead, -1)

    angles = 2.0 * np.arctan(q[2:])
    reached = shaped(reach)
    gone = None if reached.all() else ~reached

    def known(v: Array) -> Array:
        """Where the axle gets to; not a number beyond."""
        if gone is not None:
            return np.where(gone, np.nan, v)
        return v if v.shape == reached.shape else np.broadcast_to(v, reached.shape).copy()

    c = bars.centre[..., None, :]
    return Poses(
        x=known(c[..., 0] + shaped(q[0])),
        y=known(c[..., 1] + shaped(q[1])),
        z=known(c[..., 2] + heave),
        yaw=known(shaped(angles[0])),
        roll=known(roll + 0.0),
        pitch=known(shaped(angles[1])),
        reached=reached,
        residual=known(shaped(error)),
        limit_low=low.reshape(bars.lead),
        limit_high=high.reshape(bars.lead),
    )


def pose(bars: Bars, heave: float, roll: float, steps: int = 25) -> Poses:
    """One pose of one or many layouts, followed from ride height along a straight line of heave and roll.

    Returns :class:`Poses` of shape ``(*lead, 1)``. ``bars`` of the layouts, ``heave`` m, ``roll`` rad, ``steps`` on
    the way.

    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> bars = Bars.of((0.0, 0.0, 0.5), frame, axle)
    >>> found = pose(bars, 0.05, 0.0)
    >>> bool(found.reached[0]), round(float(found.z[0]), 3)
    (True, 0.55)
    """
    t = np.linspace(0.0, 1.0, steps)
    p = sweep(bars, t * heave, t * roll)
    last = {k: getattr(p, k)[..., -1:] for k in ("x", "y", "z", "yaw", "roll", "pitch", "reached", "residual")}
    return Poses(**last, limit_low=p.limit_low, limit_high=p.limit_high)


def sweep_grid(bars: Bars, heave: Array, roll: Array) -> Poses:
    """Poses of one layout over heave × roll, :class:`Poses` of shape ``(rolls, heaves)``; each row followed from ride
    height at its roll, all rows together.

    Both hold 0 and are ordered. Rows not proven at once are marched station by station, all together; limits are the
    last stations reached. ``bars`` of one layout, ``heave`` m and ``roll`` rad rising.

    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> bars = Bars.of((0.0, 0.0, 0.5), frame, axle)
    >>> sweep_grid(bars, np.linspace(-0.1, 0.1, 5), np.linspace(-0.2, 0.2, 3)).x.shape
    (3, 5)
    """
    with np.errstate(all="ignore"):  # rows that end are followed to nowhere at first, and walked after
        return _grid(bars, heave, roll)


def _grid(bars: Bars, heave: Array, roll: Array) -> Poses:
    rolling = Line.through(np.zeros_like(roll), roll, (0.0, 0.0))
    first, _, got, *_ = _sweep_block(bars, rolling)
    ok = got[:, 0].astype(bool)
    base = np.where(ok, first[:, :, 0], 0.0)[:, None, :]
    still, tilts = np.zeros((1, 1)), roll[None, :]
    c = Closure(bars, np.zeros(1), np.zeros(1))
    sign = np.sign(c.motion(c.rows(np.zeros((4, 1, 1))))[0][0, 0])
    c.at(still, tilts)
    _, rates = c.motion(c.rows(base))
    line = Line.through(heave, np.zeros_like(heave), (0.0, 0.0))
    start = slope(base, rates, line)
    q, det, error = through_knots(c, base, start, line, lambda some: (heave[some, None], tilts))
    reached = ok & _proven((error <= 1e-10) & (det * sign > 0), q, base, start, line)
    short = np.flatnonzero(~reached.all(axis=0) & ok)
    if short.size:
        _march(bars, line, heave, roll, base, short, sign, q, reached, error)
    angles = 2.0 * np.arctan(q[2:])
    void = np.where(reached, 0.0, np.nan)
    x, y, z = bars.centre[..., :3].reshape(3)
    flat = {
        "x": x + q[0] + void,
        "y": y + q[1] + void,
        "z": z + heave[:, None] + void,
        "yaw": angles[0] + void,
        "roll": tilts + void,
        "pitch": angles[1] + void,
        "residual": error + void,
    }
    out = {k: np.ascontiguousarray(v.T) for k, v in flat.items()}
    far = np.where(reached, heave[:, None], 0.0)
    return Poses(**out, reached=np.ascontiguousarray(reached.T), limit_low=far.min(axis=0), limit_high=far.max(axis=0))


def _march(
    bars: Bars,
    line: Line,
    heave: Array,
    roll: Array,
    base: Array,
    columns: NDArray[np.intp],
    sign: float,
    q: Array,
    reached: Flags,
    error: Array,
) -> None:
    """Rows that end, all together station by station outward from ride height; where a step fails each goes on alone
    in halved steps.

    Written into ``q`` ``(4, heaves, rolls)``, ``reached`` and ``error`` ``(heaves, rolls)``.
    """
    tilts = roll[columns][None, :]
    c = Closure(bars, np.zeros(1), np.zeros(1))
    reached[:, columns] = False
    for way in (1, -1):
        order = line.outward(way)
        at, s_at = base[:, :, columns].copy(), 0.0
        alive = np.ones(len(columns), bool)
        done = np.zeros(len(columns), np.intp)
        for n, i in enumerate(order):
            step = line.s[i] - s_at
            c.at(np.full((1, 1), s_at + 0.0), tilts)
            _, rates = c.motion(c.rows(at))
            ahead = slope(at, rates, line) * step
            here = at + ahead
            c.at(np.full((1, 1), heave[i]), tilts)
            det, off = converge(c, here)
            bent = np.abs(here - at - ahead).max(axis=0)
            alive &= ((off <= 1e-10) & (det * sign > 0) & (bent <= SMOOTH * abs(step)))[0]
            good = columns[alive]
            q[:, i, good], error[i, good], reached[i, good] = here[:, 0, alive], off[0, alive], True
            at, s_at = np.where(alive, here, at), float(line.s[i])
            done[alive] = n + 1
            if not alive.any():
                break
        signs = np.full(len(columns), sign)
        _halved(lambda _: c, line, order, tilts, done, base[:, :, columns], signs, q, reached, error, columns)


def _halved(
    closure: Callable[[NDArray[np.intp]], Closure],
    line: Line,
    order: NDArray[np.intp],
    tilts: Array,
    done: NDArray[np.intp],
    base: Array,
    sign: Array,
    q: Array,
    reached: Flags,
    error: Array,
    columns: NDArray[np.intp],
) -> Array:
    """Go on with columns that a whole step ended, each in halved steps of its own and all at the same time, until the
    last of them has come to its end.

    ``closure`` gives the bars of some of the columns, ``tilts`` ``(1, columns)`` is their roll beside the line's, and
    ``done`` says how many stations of ``order`` each has, before and after. Written into ``q`` ``(4, stations, …)``,
    ``reached`` and ``error`` ``(stations, …)`` at ``columns``; returns how far along the line each came.
    """
    (h0, r0), (per_h, per_r) = line.start, line.per_s
    last = np.where(done > 0, order[np.maximum(done, 1) - 1], -1)
    at = np.where(done > 0, q[:, np.maximum(last, 0), columns], base[:, 0])[:, None]
    s_at = np.where(done > 0, line.s[np.maximum(last, 0)], 0.0)
    part = np.ones(len(columns))
    going = done < len(order)
    now, c = np.empty(0, np.intp), None
    while going.any():
        if c is None or not going[now].all():
            now = np.flatnonzero(going)
            c = closure(now)
        station = order[done[now]]
        far = line.s[station] - s_at[now]
        to = s_at[now] + part[now] * far
        c.at((h0 + s_at[now] * per_h)[None], r0 + s_at[now] * per_r + tilts[:, now])
        here = at[:, :, now]
        _, rates = c.motion(c.rows(here))
        ahead = slope(here, rates, line) * (to - s_at[now])
        there = here + ahead
        c.at((h0 + to * per_h)[None], r0 + to * per_r + tilts[:, now])
        det, off = converge(c, there)
        bent = np.abs(there - here - ahead).max(axis=0)
        good = ((off <= 1e-10) & (det * sign[now] > 0) & (bent <= SMOOTH * np.abs(to - s_at[now])))[0]
        good |= far == 0.0
        whole = good & (part[now] == 1.0)
        kept = now[good]
        at[:, :, kept], s_at[kept] = there[:, :, good], to[good]
        came, column = station[whole], columns[now[whole]]
        q[:, came, column], error[came, column] = there[:, 0, whole], off[0, whole]
        reached[came, column] = True
        done[now[whole]] += 1
        part[now] = np.where(good, np.minimum(1.0, 2.0 * part[now]), 0.5 * part[now])
        left = np.abs(line.s[station] - s_at[now]) * part[now]
        going[now] = np.where(whole, done[now] < len(order), left >= FINEST)
    return s_at


def _cut(b: Bars, rows: slice | NDArray[np.intp]) -> Bars:
    """Some of the candidate layouts, counted flat."""
    n = b.count
    points = (v.reshape(-1, n, 3)[rows] for v in (b.frame, b.axle))
    values = (v.reshape(-1, n)[rows] for v in (b.stiffness, b.length))
    return Bars(b.centre.reshape(-1, 3)[rows], *points, *values)


def _closure_of(bars: Bars, columns: NDArray[np.intp], some: NDArray[np.intp]) -> Closure:
    """The bars of some of the columns, to be put where each stands."""
    return Closure(_cut(bars, columns[some]), np.zeros(1), np.zeros(1))


def _quietly(bars: Bars, line: Line, *, patient: bool) -> tuple[NDArray[Any], ...]:
    """A block with NumPy's warnings put away: what runs away does not converge, is not proven, and is walked to."""
    with np.errstate(all="ignore"):
        return _sweep_block(bars, line, patient=patient)


def _sweep_block(bars: Bars, line: Line, *, patient: bool = True) -> tuple[NDArray[Any], ...]:
    m = bars.packed.half.shape[-1]
    c = Closure(bars, np.zeros(1), np.zeros(1))
    base, ok = np.zeros((4, 1, m)), np.ones(m, bool)
    ride = bars.at_ride if m * len(line.s) < FEW else None
    if ride is not None:
        sign, rates = ride.sign, (ride.by_heave, ride.by_roll)
    else:
        det, rates = c.motion(c.rows(base))
        sign = np.sign(det[0])
    h0, r0 = line.start
    if (h0, r0) != (0.0, 0.0):
        t = np.linspace(0.0, 1.0, 25)
        way, _, got, *_ = _sweep_block(bars, Line.through(t * h0, t * r0, (0.0, 0.0)))
        ok = got[-1].astype(bool)
        base = np.where(ok, way[:, -1:], 0.0)
        c.at(np.array([h0]), np.array([r0]))
        _, rates = c.motion(c.rows(base))
        ride = None
    start = slope(base, rates, line)
    q, det, error = solved(c, base, start, line, ride)
    closed = (error <= 1e-10) & (det * sign > 0)
    reached = ok & _proven(closed, q, base, start, line)
    own_start = h0 if line.own is line.heave else r0
    limits = [np.full(m, min(line.own.min(), own_start)), np.full(m, max(line.own.max(), own_start))]
    if not patient and not reached.all():
        within = np.where(reached, line.own[:, None], own_start)
        limits = [np.minimum(within.min(axis=0), own_start), np.maximum(within.max(axis=0), own_start)]
        return q, error, reached, limits[0], limits[1]
    if not reached.all():
        limits[0][~ok], limits[1][~ok] = np.nan, np.nan
        for side, direction in enumerate((-1, 1)):
            order = line.outward(direction)
            ended = np.flatnonzero(ok & ~reached[order].all(axis=0))
            if not len(ended):
                continue
            done = reached[np.ix_(order, ended)].argmin(axis=0)
            level = np.zeros((1, len(ended)))
            cut = partial(_closure_of, bars, ended)
            s_end = _halved(cut, line, order, level, done, base[:, :, ended], sign[ended], q, reached, error, ended)
            own = own_start + s_end * line.per_s[0 if line.own is line.heave else 1]
            limits[side][ended] = np.where(done == len(order), line.own[order[-1]], own)
    return q, error, reached, limits[0], limits[1]


def _proven(closed: Flags, path: Array, start: Array, slope: Array, line: Line) -> Flags:
    """Which stations are proven: closed, and the path from the start is smooth all the way to them."""
    order = np.argsort(line.s, kind="stable")
    s = line.s[order]
    zero = int(np.searchsorted(s, 0.0))
    there = zero < len(s) and s[zero] == 0.0
    in_order = bool((order[1:] > order[:-1]).all())
    q = path if in_order else path[:, order]
    if not there:
        q, s = np.concatenate([q[:, :zero], start, q[:, zero:]], axis=1), np.insert(s, zero, 0.0)
    ok = closed if in_order else closed[order]
    if not there:
        ok = np.insert(ok, zero, True, axis=0)
    slopes = q[:, 1:] - q[:, :-1]
    slopes /= (s[1:] - s[:-1])[:, None]
    bends = np.abs(slopes[:, 1:] - slopes[:, :-1])
    if there and in_order and closed.all() and bends.max(initial=0.0) <= SMOOTH:
        beside = slopes[:, max(zero - 1, 0) : zero + 1] - slope
        if np.abs(beside).max(initial=0.0) <= SMOOTH:
            return closed
    flat: Flags = np.maximum.reduce(bends) <= SMOOTH  # flat[i]: between the two intervals that meet at i + 1
    good = ok.copy()
    for side in (slice(zero + 1, None), slice(zero - 1, None, -1) if zero else slice(0, 0)):
        part = good[side]
        if not len(part):
            continue
        up = side.step is None
        first = slopes[:, zero : zero + 1] if up else slopes[:, zero - 1 : zero]
        smooth = np.concatenate(
            [(np.abs(first - slope).max(axis=0) <= SMOOTH), flat[zero:] if up else flat[: zero - 1][::-1]]
        )
        np.logical_and.accumulate(part & smooth & good[zero], axis=0, out=part)
    out = np.empty_like(closed)
    out[order] = good if there else np.delete(good, zero, axis=0)
    return out
