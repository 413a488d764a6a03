"""Closing the bars: residual, Jacobian and Newton step for many poses at once.

Pose of the axle body: centre C and R = Rz(yaw)·Rx(roll)·Ry(pitch). Height of C and roll are given, the
unknowns are q = (x, y, yaw, pitch). Each bar asks |C + R·a − b| = L. With d = C + R·a − b the row of one bar is

    (d·x̂, d·ŷ, d·(ẑ × ρ), d·(y_b × ρ)),   ρ = R·a,   right-hand side −(d·d − L²)/2,

which is |d| times the unit-bar row. Arrays are component first: ``(bars, stations, layouts)``. Yaw and pitch are
carried as t = tan(angle/2), so that an iteration needs no trigonometric call.

More than four bars: weighted least squares on bar length error e = |d| − L, solved with the exact second
derivative, so that the path and its tangent stay consistent where the bushings give.

Source: constraint equations of rigid bars, differentiated exactly.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.numerics.four import solve_four

Array = NDArray[np.float64]


@dataclass
class Rows:
    """Bars evaluated at a state, each ``(bars, stations, layouts)``; the closure's own arrays, written over by the
    next call.

    ``system`` ``(6, bars, ...)``: columns d_x, d_y, yaw, pitch (the last two filled by :meth:`Closure.turns`), and
    room for two right-hand sides. ``gap`` is (d·d − L²)/2. ``u``, ``v``, ``h`` is ρ in the frame turned by −yaw,
    ``w`` is ∂u/∂pitch, ``rx``, ``ry`` is ρ in vehicle axes, ``ex`` is d forward in the turned frame.
    """

    system: Array
    dz: Array
    gap: Array
    u: Array
    v: Array
    h: Array
    w: Array
    rx: Array
    ry: Array
    ex: Array
    cy: Array
    sy: Array

    @property
    def columns(self) -> tuple[Array, Array, Array, Array]:
        """The four Jacobian columns, each |d| times the unit-bar column."""
        return self.system[0], self.system[1], self.system[2], self.system[3]

    @property
    def ey(self) -> Array:
        """d sideways in the frame turned by −yaw."""
        aside: Array = self.system[1] * self.cy - self.system[0] * self.sy
        return aside


class Closure:
    """Bars of ``layouts`` candidates made ready for evaluation at stations of heave (m) and roll (rad).

    ``heave`` and ``roll`` have shape ``(stations,)`` or ``(stations, layouts)``.
    """

    def __init__(self, bars: Bars, heave: Array, roll: Array) -> None:
        packed = bars.packed
        self.n, self.layouts = bars.count, packed.half.shape[-1]
        self.order, self.weight = packed.order, packed.weight
        self.length, self.half = packed.length, packed.half
        (self.axz, self.azx, self.ay), (self.bxy, self.bz) = packed.local, packed.reach
        self._kept: Array | None = None
        self.at(heave, roll)

    def at(self, heave: Array, roll: Array) -> None:
        """Set the stations."""
        self.heave = heave if heave.ndim == 2 else heave[:, None]
        self.roll = roll = roll if roll.ndim == 2 else roll[:, None]
        self.level = not roll.any()
        self.sr, self.cr = np.sin(roll), np.cos(roll)
        self.tall = self.bz + self.heave

    def rows(self, q: Array) -> Rows:
        """Evaluate all bars at unknowns ``q`` ``(4, stations, layouts)``: x, y (m) of C from ride, tan(yaw/2),
        tan(pitch/2).
        """
        t = q[2:]
        k = 2.0 / (1.0 + t * t)
        (cy, cp), (sy, sp) = k - 1.0, t * k
        room = self._scratch((self.n, *cy.shape))
        system, dz, gap, work, uw, h, v, rx, ry, ex = (
            room[:6],
            room[6],
            room[7],
            room[8:10],
            room[10:12],
            room[12],
            room[13],
            room[14],
            room[15],
            room[16],
        )
        mul, add, sub = np.multiply, np.add, np.subtract
        add(mul(self.axz, cp, uw), mul(self.azx, sp, work), uw)
        u, w = uw
        spare = work[0]
        if self.level:
            v, h = self.ay, w
        else:
            sub(mul(self.ay, self.cr, v), mul(w, self.sr, spare), v)
            add(mul(self.ay, self.sr, h), mul(w, self.cr, spare), h)
        sub(mul(u, cy, rx), mul(v, sy, spare), rx)
        add(mul(u, sy, ry), mul(v, cy, spare), ry)
        d = system[:2]
        add(room[14:16], add(q[:2, None], self.bxy, work), d)
        add(h, self.tall, dz)
        mul(d, d, work)
        add(work[0], work[1], gap)
        gap += mul(dz, dz, spare)
        gap *= 0.5
        gap -= self.half
        return Rows(system, dz, gap, u, v, h, w, rx, ry, ex, cy, sy)

    def _scratch(self, shape: tuple[int, ...]) -> Array:
        """Working arrays, made once for a shape: fresh memory costs more than the arithmetic."""
        if self._kept is None or self._kept.shape[1:] != shape:
            self._kept = np.empty((17, *shape))
        return self._kept

    def turns(self, r: Rows) -> Rows:
        """Fill the columns of yaw and pitch; the residual alone does not need them."""
        dx, dy, yaw, pitch = r.columns
        mul, add, sub = np.multiply, np.add, np.subtract
        spare = self._scratch(dx.shape)[8]
        add(mul(dx, r.cy, r.ex), mul(dy, r.sy, spare), r.ex)
        sub(mul(r.rx, dy, yaw), mul(r.ry, dx, spare), yaw)
        mul(r.w, r.ex, pitch)
        if self.level:
            pitch -= mul(r.u, r.dz, spare)
        else:
            pitch += mul(r.u, self.sr * r.ey - self.cr * r.dz, spare)
        return r

    def error(self, r: Rows) -> Array:
        """Largest bar length error at each pose, m, ``(stations, layouts)``."""
        worst: Array = np.abs(r.gap / self.length).max(axis=0)
        return worst

    def step(self, q: Array, r: Rows) -> tuple[Array, Array]:
        """One Newton step: moves ``q`` in place and uses up ``r``; returns the determinant and the step ``(4, ...)``."""
        self.turns(r)
        if self.n == 4:
            np.negative(r.gap, r.system[4])
            det, found = solve_four(r.system[:5])
        else:
            hessian, gradient = self.normal(r)
            det, found = solve_four(np.concatenate([hessian, -gradient[None]]))
        moved = found[0]
        q[:2] += moved[:2]
        q[2:] += moved[2:] * (0.5 + 0.5 * q[2:] ** 2)
        return det, moved

    def motion(self, r: Rows) -> tuple[Array, tuple[Array, Array]]:
        """Determinant, and path derivatives of x, y, yaw, pitch per metre of heave and per rad of roll, each ``(4,
        stations, layouts)``; uses up ``r``.
        """
        self.turns(r)
        roll = r.v * r.dz - r.h * r.ey
        if self.n == 4:
            np.negative(r.dz, r.system[4])
            np.negative(roll, r.system[5])
            det, found = solve_four(r.system)
        else:
            hessian, _ = self.normal(r)
            zero = np.zeros_like(r.dz)
            sr, cr = self._tilt()
            across_heave = (zero, zero, zero, -r.u * cr)
            across_roll = (
                r.sy * r.h,
                -r.cy * r.h,
                r.h * (r.ex - r.u),
                r.u * (cr * r.ey + sr * r.dz - sr * r.h - cr * r.v),
            )
            sides = [-self._cross_gradient(r, r.dz, across_heave), -self._cross_gradient(r, roll, across_roll)]
            det, found = solve_four(np.concatenate([hessian, sides]))
        return det, (found[0].copy(), found[1].copy())

    def as_given(self, per_bar: Array) -> Array:
        """Put values with the bar axis first back into the order in which the bars were given."""
        back = np.argsort(self.order, axis=1).T
        if self.layouts == 1:
            return per_bar[back[:, 0]]
        return np.take_along_axis(per_bar, back.reshape(self.n, *([1] * (per_bar.ndim - 2)), -1), 0)

    def bar_error(self, r: Rows) -> Array:
        """|d| − L of every bar, m, ``(bars, stations, layouts)``."""
        size = self._size(r)
        return self.as_given(2.0 * r.gap / (size + self.length))

    def unit_rows(self, r: Rows) -> Array:
        """Jacobian rows of unit bars on (v_x, v_y, ω_z, ω_yb), ``(bars, 4, stations, layouts)``; moments in m."""
        return self.as_given(np.moveaxis(self.turns(r).system[:4] / self._size(r), 0, 1))

    def normal(self, r: Rows) -> tuple[Array, Array]:
        """Second derivative ``(4, 4, ...)`` and gradient ``(4, ...)`` of ½·Σ w·(|d| − L)² for redundant sets."""
        size = self._size(r)
        unit = r.system[:4] / size
        error = 2.0 * r.gap / (size + self.length)
        lean = self.weight * error / size
        second = self._second(r)
        hessian = np.empty((4, 4, *r.dz.shape[1:]))
        for i in range(4):
            for j in range(i, 4):
                entry = (self.weight - lean) * unit[i] * unit[j] + lean * second[i][j - i]
                hessian[i, j] = hessian[j, i] = entry.sum(axis=0)
        return hessian, (self.weight * error * unit).sum(axis=1)

    def _cross_gradient(self, r: Rows, along: Array, across: tuple[Array, Array, Array, Array]) -> Array:
        """∂gradient/∂s for a prescribed motion s: ``along`` = d·d_s, ``across`` = d_i·d_s + d·d_is."""
        size = self._size(r)
        unit = r.system[:4] / size
        lean = self.weight * 2.0 * r.gap / (size + self.length) / size
        return np.stack(
            [
                ((self.weight - lean) * g * along / size + lean * c).sum(axis=0)
                for g, c in zip(unit, across, strict=True)
            ]
        )

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
