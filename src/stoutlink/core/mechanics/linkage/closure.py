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
from stoutlink.core.numerics.four import pivot_order, solve_four

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
    """Bars evaluated at a state: ``d`` and unnormalised Jacobian columns, each ``(bars, stations, layouts)``."""

    dx: Array
    dy: Array
    dz: Array
    yaw: Array
    pitch: Array
    gap: Array
    """(d·d − L²)/2."""
    ex: Array
    """d forward in the frame turned by −yaw."""
    u: Array
    v: Array
    h: Array
    """ρ in the same frame."""
    w: Array
    """∂u/∂pitch."""
    cy: Array
    sy: Array

    @property
    def ey(self) -> Array:
        """d sideways in the frame turned by −yaw."""
        return self.dy * self.cy - self.dx * self.sy


class Closure:
    """Bars of ``layouts`` candidates made ready for evaluation at stations of heave (m) and roll (rad).

    ``heave`` and ``roll`` have shape ``(stations,)`` or ``(stations, layouts)``.
    """

    def __init__(self, bars: Bars, heave: Array, roll: Array) -> None:
        n = bars.count
        local = bars.local.reshape(-1, n, 3)
        reach = (bars.centre[..., None, :] - bars.frame).reshape(-1, n, 3)
        length = bars.length.reshape(-1, n)
        self.n = n
        self.order = np.broadcast_to(np.arange(n), length.shape)
        if n == 4:
            self.order = pivot_order(_ride_rows(local, reach))
            pick = self.order[:, :, None]
            local, reach = np.take_along_axis(local, pick, 1), np.take_along_axis(reach, pick, 1)
            length = np.take_along_axis(length, self.order, 1)
        local, reach = local.transpose(2, 1, 0)[:, :, None, :], reach.transpose(2, 1, 0)[:, :, None, :]
        self.ax, self.ay, self.az = (np.ascontiguousarray(v) for v in local)
        self.bx, self.by, self.bz = (np.ascontiguousarray(v) for v in reach)
        self.length = np.ascontiguousarray(length.T)[:, None, :]
        self.half = 0.5 * self.length**2
        weight = bars.stiffness.reshape(-1, n).T
        self.weight = np.ascontiguousarray(weight / weight.mean(axis=0))[:, None, :]
        self.at(heave, roll)

    def at(self, heave: Array, roll: Array) -> None:
        """Set the stations."""
        self.heave = heave if heave.ndim == 2 else heave[:, None]
        self.roll = roll = roll if roll.ndim == 2 else roll[:, None]
        self.level = not roll.any()
        self.sr, self.cr = np.sin(roll), np.cos(roll)
        self.tall = self.bz + self.heave

    def rows(self, s: State) -> Rows:
        """Evaluate all bars at a state."""
        ty, tp = s.t_yaw, s.t_pitch
        k = 1.0 / (1.0 + ty * ty)
        cy, sy = 2.0 * k - 1.0, 2.0 * ty * k
        k = 1.0 / (1.0 + tp * tp)
        cp, sp = 2.0 * k - 1.0, 2.0 * tp * k
        u = self.ax * cp + self.az * sp
        w = self.az * cp - self.ax * sp
        if self.level:
            v, h = self.ay, w
        else:
            v = self.ay * self.cr - w * self.sr
            h = self.ay * self.sr + w * self.cr
        rx, ry = u * cy - v * sy, u * sy + v * cy
        dx, dy, dz = rx + (s.x + self.bx), ry + (s.y + self.by), h + self.tall
        ex = dx * cy + dy * sy
        yaw = rx * dy - ry * dx
        pitch = w * ex - u * dz if self.level else w * ex + u * (self.sr * (dy * cy - dx * sy) - self.cr * dz)
        gap = 0.5 * (dx * dx + dy * dy + dz * dz) - self.half
        return Rows(dx, dy, dz, yaw, pitch, gap, ex, u, v, h, w, cy, sy)

    def error(self, r: Rows) -> Array:
        """Largest bar length error at each pose, m, ``(stations, layouts)``."""
        worst: Array = np.abs(r.gap / self.length).max(axis=0)
        return worst

    def step(self, s: State, r: Rows) -> tuple[Array, tuple[Array, Array, Array, Array]]:
        """One Newton step: moves ``s`` in place; returns the determinant and the step."""
        if self.n == 4:
            det, (q,) = solve_four((r.dx, r.dy, r.yaw, r.pitch), -r.gap)
        else:
            columns, gradient = self.normal(r)
            det, (q,) = solve_four(columns, -gradient)
        s.x += q[0]
        s.y += q[1]
        s.t_yaw += 0.5 * q[2] * (1.0 + s.t_yaw * s.t_yaw)
        s.t_pitch += 0.5 * q[3] * (1.0 + s.t_pitch * s.t_pitch)
        return det, q

    def motion(self, r: Rows) -> tuple[Array, tuple[Array, Array]]:
        """Determinant, and path derivatives of q per metre of heave and per rad of roll, each ``(4, stations, layouts)``."""
        heave = np.broadcast_to(r.dz, r.dx.shape)
        roll = r.v * r.dz - r.h * r.ey
        if self.n == 4:
            det, (by_heave, by_roll) = solve_four((r.dx, r.dy, r.yaw, r.pitch), -heave, -roll)
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
            det, (by_heave, by_roll) = solve_four(columns, -self._cross_gradient(r, heave, across_heave), -self._cross_gradient(r, roll, across_roll))
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
        size = self._size(r)
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


def _ride_rows(local: Array, reach: Array) -> Array:
    """Rows at ride, ``(layouts, bars, 4)``."""
    d = local + reach
    return np.stack(
        [d[..., 0], d[..., 1], local[..., 0] * d[..., 1] - local[..., 1] * d[..., 0], local[..., 2] * d[..., 0] - local[..., 0] * d[..., 2]],
        axis=-1,
    )
