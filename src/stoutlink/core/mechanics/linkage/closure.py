"""Closing the bars: residual, Jacobian and Newton step for many poses at once.

Pose of the axle body: centre C and R = Rz(yaw)·Rx(roll)·Ry(pitch). Height of C and roll are given, the
unknowns are q = (x, y, yaw, pitch). Each bar asks |C + R·a − b| = L. With d = C + R·a − b the row of one bar is

    (d·x̂, d·ŷ, d·(ẑ × ρ), d·(y_b × ρ)),   ρ = R·a,   right-hand side −(d·d − L²)/2,

which is |d| times the unit-bar row. Arrays are component first: ``(bars, stations, layouts)``. Yaw and pitch are
carried as t = tan(angle/2), so that an iteration needs no trigonometric call.

More than four bars: weighted least squares on bar length error e = |d| − L, solved with the exact second
derivative, so that the path and its tangent stay consistent where the bushings give.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.numerics.four import solve_four

Array = NDArray[np.float64]


@dataclass
class State:
    """Unknowns of many poses, each ``(stations, layouts)``: x, y (m) of C from ride, tan(yaw/2), tan(pitch/2)."""

    x: Array
    y: Array
    t_yaw: Array
    t_pitch: Array

    def pick(self, station: slice | Array | int, layout: slice | Array | int) -> State:
        """A copy at some stations and layouts; integer indices keep their axis."""
        rows = slice(station, station + 1) if isinstance(station, int) else station
        cols = slice(layout, layout + 1) if isinstance(layout, int) else layout
        return State(*(v[rows][:, cols].copy() for v in (self.x, self.y, self.t_yaw, self.t_pitch)))

    @classmethod
    def ride(cls, stations: int, layouts: int) -> State:
        """The pose at ride height, repeated."""
        return cls(*(np.zeros((stations, layouts)) for _ in range(4)))


@dataclass
class Rows:
    """Bars evaluated at a state, each ``(bars, stations, layouts)``: ``d`` (whose x and y are Jacobian columns) and what the rest needs."""

    dx: Array
    dy: Array
    dz: Array
    gap: Array
    """(d·d − L²)/2."""
    u: Array
    v: Array
    h: Array
    """ρ in the same frame."""
    w: Array
    """∂u/∂pitch."""
    rx: Array
    ry: Array
    """ρ in vehicle axes."""
    cy: Array
    sy: Array
    yaw: Array
    pitch: Array
    ex: Array
    """Jacobian columns of yaw and pitch, and d forward in the turned frame: filled by :meth:`Closure.turns`."""

    @property
    def ey(self) -> Array:
        """d sideways in the frame turned by −yaw."""
        return self.dy * self.cy - self.dx * self.sy


class Closure:
    """Bars of ``layouts`` candidates made ready for evaluation at stations of heave (m) and roll (rad).

    ``heave`` and ``roll`` have shape ``(stations,)`` or ``(stations, layouts)``.
    """

    def __init__(self, bars: Bars, heave: Array, roll: Array) -> None:
        packed = bars.packed
        self.n, self.layouts = bars.count, packed.half.shape[-1]
        self.order, self.weight = packed.order, packed.weight
        self.length, self.half = packed.length, packed.half
        (self.ax, self.ay, self.az), (self.bx, self.by, self.bz) = packed.local, packed.reach
        self._kept: list[Array] | None = None
        self.at(heave, roll)

    def at(self, heave: Array, roll: Array) -> None:
        """Set the stations."""
        self.heave = heave if heave.ndim == 2 else heave[:, None]
        self.roll = roll = roll if roll.ndim == 2 else roll[:, None]
        self.level = not roll.any()
        self.sr, self.cr = np.sin(roll), np.cos(roll)
        self.tall = self.bz + self.heave

    def rows(self, s: State) -> Rows:
        """Evaluate all bars at a state. The arrays are the closure's own: the next call writes over them."""
        ty, tp = s.t_yaw, s.t_pitch
        k = 1.0 / (1.0 + ty * ty)
        cy, sy = 2.0 * k - 1.0, 2.0 * ty * k
        k = 1.0 / (1.0 + tp * tp)
        cp, sp = 2.0 * k - 1.0, 2.0 * tp * k
        u, w, h, v, rx, ry, dx, dy, dz, ex, yaw, pitch, gap, t = self._scratch((self.n, *ty.shape))
        mul, add, sub = np.multiply, np.add, np.subtract
        add(mul(self.ax, cp, u), mul(self.az, sp, t), u)
        sub(mul(self.az, cp, w), mul(self.ax, sp, t), w)
        if self.level:
            v, h = self.ay, w
        else:
            sub(mul(self.ay, self.cr, v), mul(w, self.sr, t), v)
            add(mul(self.ay, self.sr, h), mul(w, self.cr, t), h)
        sub(mul(u, cy, rx), mul(v, sy, t), rx)
        add(mul(u, sy, ry), mul(v, cy, t), ry)
        add(rx, add(s.x, self.bx, t), dx)
        add(ry, add(s.y, self.by, t), dy)
        add(h, self.tall, dz)
        add(mul(dx, dx, gap), mul(dy, dy, t), gap)
        add(gap, mul(dz, dz, t), gap)
        gap *= 0.5
        gap -= self.half
        return Rows(dx, dy, dz, gap, u, v, h, w, rx, ry, cy, sy, yaw, pitch, ex)

    def turns(self, r: Rows) -> Rows:
        """Fill the columns of yaw and pitch; the residual alone does not need them."""
        mul, add, sub = np.multiply, np.add, np.subtract
        t = self._scratch(r.dx.shape)[-1]
        add(mul(r.dx, r.cy, r.ex), mul(r.dy, r.sy, t), r.ex)
        sub(mul(r.rx, r.dy, r.yaw), mul(r.ry, r.dx, t), r.yaw)
        mul(r.w, r.ex, r.pitch)
        if self.level:
            r.pitch -= mul(r.u, r.dz, t)
        else:
            r.pitch += mul(r.u, self.sr * r.ey - self.cr * r.dz, t)
        return r

    def _scratch(self, shape: tuple[int, ...]) -> list[Array]:
        """Working arrays, made once for a shape: fresh memory costs more than the arithmetic."""
        if self._kept is None or self._kept[0].shape != shape:
            self._kept = list(np.empty((14, *shape)))
        return self._kept

    def error(self, r: Rows) -> Array:
        """Largest bar length error at each pose, m, ``(stations, layouts)``."""
        worst: Array = np.abs(r.gap / self.length).max(axis=0)
        return worst

    def step(self, s: State, r: Rows) -> tuple[Array, tuple[Array, Array, Array, Array]]:
        """One Newton step: moves ``s`` in place and uses up ``r``; returns the determinant and the step."""
        self.turns(r)
        if self.n == 4:
            np.negative(r.gap, r.gap)
            det, (q,) = solve_four((r.dx, r.dy, r.yaw, r.pitch), r.gap, overwrite=True)
        else:
            columns, gradient = self.normal(r)
            det, (q,) = solve_four(columns, -gradient)
        s.x += q[0]
        s.y += q[1]
        s.t_yaw += 0.5 * q[2] * (1.0 + s.t_yaw * s.t_yaw)
        s.t_pitch += 0.5 * q[3] * (1.0 + s.t_pitch * s.t_pitch)
        return det, q

    def motion(self, r: Rows) -> tuple[Array, tuple[Array, Array]]:
        """Determinant, and path derivatives of q per metre of heave and per rad of roll, each ``(4, stations, layouts)``; uses up ``r``."""
        self.turns(r)
        roll = r.v * r.dz - r.h * r.ey
        if self.n == 4:
            sides = (np.negative(r.dz), np.negative(roll))
            det, (by_heave, by_roll) = solve_four((r.dx, r.dy, r.yaw, r.pitch), *sides, overwrite=True)
        else:
            columns, _ = self.normal(r)
            zero = np.zeros_like(r.dx)
            sr, cr = self._tilt()
            across_heave = (zero, zero, zero, -r.u * cr)
            across_roll = (
                r.sy * r.h,
                -r.cy * r.h,
                r.h * (r.ex - r.u),
                r.u * (cr * r.ey + sr * r.dz - sr * r.h - cr * r.v),
            )
            det, (by_heave, by_roll) = solve_four(columns, -self._cross_gradient(r, r.dz, across_heave), -self._cross_gradient(r, roll, across_roll))
        return det, (np.stack(by_heave), np.stack(by_roll))

    def as_given(self, per_bar: Array) -> Array:
        """Put values with the bar axis first back into the order in which the bars were given."""
        back = np.argsort(self.order, axis=1).T
        return np.take_along_axis(per_bar, back.reshape(self.n, *([1] * (per_bar.ndim - 2)), -1), 0)

    def bar_error(self, r: Rows) -> Array:
        """|d| − L of every bar, m, ``(bars, stations, layouts)``."""
        size = self._size(r)
        return self.as_given(2.0 * r.gap / (size + self.length))

    def unit_rows(self, r: Rows) -> Array:
        """Jacobian rows of unit bars on (v_x, v_y, ω_z, ω_yb), ``(bars, 4, stations, layouts)``; moments in m."""
        size = self._size(self.turns(r))
        return self.as_given(np.stack([r.dx / size, r.dy / size, r.yaw / size, r.pitch / size], axis=1))

    def normal(self, r: Rows) -> tuple[tuple[Array, Array, Array, Array], Array]:
        """Second derivative (columns) and gradient of ½·Σ w·(|d| − L)² for redundant sets."""
        size = self._size(r)
        unit = (r.dx / size, r.dy / size, r.yaw / size, r.pitch / size)
        error = 2.0 * r.gap / (size + self.length)
        lean = self.weight * error / size
        second = self._second(r)
        hessian = np.empty((4, 4, *r.dx.shape[1:]))
        for i in range(4):
            for j in range(i, 4):
                entry = (self.weight - lean) * unit[i] * unit[j] + lean * second[i][j - i]
                hessian[i, j] = hessian[j, i] = entry.sum(axis=0)
        gradient = np.stack([(self.weight * error * g).sum(axis=0) for g in unit])
        return (hessian[:, 0], hessian[:, 1], hessian[:, 2], hessian[:, 3]), gradient

    def _cross_gradient(self, r: Rows, along: Array, across: tuple[Array, Array, Array, Array]) -> Array:
        """∂gradient/∂s for a prescribed motion s: ``along`` = d·d_s, ``across`` = d_i·d_s + d·d_is."""
        size = self._size(r)
        unit = (r.dx / size, r.dy / size, r.yaw / size, r.pitch / size)
        lean = self.weight * 2.0 * r.gap / (size + self.length) / size
        return np.stack([((self.weight - lean) * g * along / size + lean * c).sum(axis=0) for g, c in zip(unit, across, strict=True)])

    def _size(self, r: Rows) -> Array:
        return np.sqrt(2.0 * (r.gap + self.half))

    def _tilt(self) -> tuple[Array | float, Array | float]:
        return (0.0, 1.0) if self.level else (self.sr, self.cr)

    def _second(self, r: Rows) -> list[list[Array | float]]:
        """d_i·d_j + d·d_ij for j ≥ i; all in the frame turned by −yaw."""
        sr, cr = self._tilt()
        px, py, pz = r.w, r.u * sr, -r.u * cr  # ∂ρ/∂pitch; ∂ρ/∂yaw is (−v, u, 0)
        turning = r.v * r.v + r.u * r.u - (r.u * r.ex + r.v * r.ey)
        mixed = r.u * py - r.v * px + px * r.ey - py * r.ex
        tilting = px * px + py * py + pz * pz - r.u * r.ex + r.w * (sr * r.ey - cr * r.dz)
        return [
            [1.0, 0.0, -r.cy * r.v - r.sy * r.u, r.cy * px - r.sy * py],
            [1.0, r.cy * r.u - r.sy * r.v, r.sy * px + r.cy * py],
            [turning, mixed],
            [tilting],
        ]
