"""The constraint set: rigid bars between the frame and one axle body.

Source: rigid-body constraints.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.errors import GeometryError
from stoutlink.core.numerics.four import pivot_order

Array = NDArray[np.float64]

EQUAL_STIFFNESS = 20e6
"""Default axial stiffness of a bar with its bushings, N/m; equal for all bars (estimate)."""
SHORTEST = 1e-3


class Bars(Struct, frozen=True, dict=True):
    """Bars of one axle or of many candidate layouts of it.

    ``centre`` axle centre at ride, m, shape ``(..., 3)``; ``frame`` and ``axle`` pivots at ride height in vehicle
    axes, m, shape ``(..., n, 3)``; ``stiffness`` N/m, shape ``(..., n)``, only weighs redundant sets;
    ``length`` m, ``(..., n)``, defaults to the pivot distance (give another to screw a link in or out).
    A radius arm is two bars sharing their frame pivot, a wishbone two bars sharing their axle pivot.

    Raises :class:`GeometryError` for shapes that do not fit, values that are not finite, and pivots that coincide.
    """

    centre: Array
    frame: Array
    axle: Array
    stiffness: Array
    length: Array

    @classmethod
    def of(
        cls,
        centre: object,
        frame: object,
        axle: object,
        stiffness: object | None = None,
        length: object | None = None,
    ) -> Bars:
        """Build from anything array-like; leading dimensions broadcast."""
        c, f, a = (np.asarray(v, dtype=float) for v in (centre, frame, axle))
        if f.ndim < 2 or f.shape[-1] != 3 or a.shape[-2:] != f.shape[-2:] or c.shape[-1:] != (3,):
            raise GeometryError("G100", f"Pivot arrays of shape {f.shape} and {a.shape} do not describe bars.")
        lead = np.broadcast_shapes(c.shape[:-1], f.shape[:-2], a.shape[:-2])
        n = f.shape[-2]
        c, f, a = (np.broadcast_to(v, (*lead, *tail)) for v, tail in ((c, (3,)), (f, (n, 3)), (a, (n, 3))))
        if not (np.isfinite(c).all() and np.isfinite(f).all() and np.isfinite(a).all()):
            raise GeometryError("G101", "A pivot coordinate is not a finite number.")
        distance = np.linalg.norm(a - f, axis=-1)
        if (distance < SHORTEST).any():
            bar = int(np.argwhere(distance < SHORTEST)[0][-1]) + 1
            raise GeometryError("G102", f"Bar {bar} has both pivots in the same place.", "Move one of its pivots.")
        k = (
            np.full((*lead, n), EQUAL_STIFFNESS)
            if stiffness is None
            else np.broadcast_to(np.asarray(stiffness, float), (*lead, n))
        )
        lengths = distance if length is None else np.broadcast_to(np.asarray(length, float), (*lead, n))
        return cls(c, f, a, k, lengths)

    @property
    def count(self) -> int:
        """Number of bars n."""
        return int(self.frame.shape[-2])

    @property
    def lead(self) -> tuple[int, ...]:
        """Leading (candidate) dimensions; ``()`` for one layout."""
        return tuple(self.frame.shape[:-2])

    @cached_property
    def local(self) -> Array:
        """Axle pivots relative to the axle centre in axle coordinates, ``(..., n, 3)``."""
        return self.axle - self.centre[..., None, :]

    @cached_property
    def at_ride(self) -> AtRide | None:
        """How the bars move through ride height, made once; ``None`` unless there are four that hold."""
        return _at_ride(self)

    @cached_property
    def rows_at_ride(self) -> Array:
        """Unit-bar Jacobian rows on (v_x, v_y, ω_z, ω_y) at ride height, ``(..., n, 4)``, moments in m."""
        rows = _ride_rows(self.local, self.centre[..., None, :] - self.frame)
        return np.asarray(rows / np.linalg.norm(self.axle - self.frame, axis=-1)[..., None])

    @cached_property
    def rates_at_ride(self) -> tuple[Array, Array]:
        """Path derivatives of x, y (m), yaw and pitch (rad) per metre of heave and per rad of roll at ride height,
        ``(..., 4)`` each.

        Each bar keeps its length: rows·q' = −(unit bar)_z for heave, −(ρ × unit bar)_x for roll. More than four bars:
        least squares weighted with their stiffness. Raises ``numpy.linalg.LinAlgError`` where a motion is free.
        """
        rows, d = self.rows_at_ride, self.axle - self.frame
        unit = d / np.linalg.norm(d, axis=-1)[..., None]
        sides = np.stack([unit[..., 2], self.local[..., 1] * unit[..., 2] - self.local[..., 2] * unit[..., 1]], axis=-1)
        if self.count != 4:
            weighted = np.swapaxes(rows * self.stiffness[..., :, None], -1, -2)
            rows, sides = weighted @ rows, weighted @ sides
        found = -np.linalg.solve(rows, sides)
        return np.asarray(found[..., 0]), np.asarray(found[..., 1])

    @cached_property
    def packed(self) -> Packed:
        """The same numbers component first, made once."""
        return _pack(self)


class Packed(Struct, frozen=True):
    """Bars laid out for evaluation: component first, then ``(bars, 1, layouts)``.

    ``local`` axle pivots in axle coordinates: (x, z), (z, −x) and y; ``reach`` centre minus frame pivot: (x, y) and
    z; ``half`` is L²/2. ``order`` ``(layouts, bars)`` tells where each row came from: four bars stand in an order
    with good pivots at ride.
    """

    local: tuple[Array, Array, Array]
    reach: tuple[Array, Array]
    length: Array
    half: Array
    weight: Array
    order: NDArray[np.intp]


class AtRide(Struct, frozen=True):
    """How four bars move through ride height, per layout: sign of the determinant in packed order ``(m,)``, path
    derivatives of x, y, yaw, pitch per metre of heave and per rad of roll, ``(4, 1, m)`` each, Jacobian ``(m, 4, 4)``,
    and axle pivots from the axle's centre and that from the frame pivots, m, ``(3, m, 4)``."""

    sign: Array
    by_heave: Array
    by_roll: Array
    jacobian: Array
    local: Array
    reach: Array

    def bend(self, heave: float, roll: float) -> Array:
        """Second derivative of x, y, yaw, pitch along a straight line of travel with these rates of heave (m) and
        roll (rad), ``(4, 1, m)``.

        Each bar keeps d·d: d'·d' + d·d'' = 0 with d' = C' + ω×a and, for R = Rz·Rx·Ry through zero, R'' the squares
        of the three turns and twice their ordered products; what is left of d'' is the Jacobian times the unknown.
        """
        x, y, yaw, pitch = (self.by_heave * heave + self.by_roll * roll)[:, 0, :, None]
        ax, ay, az = self.local
        dx, dy, dz = self.local + self.reach
        moved_x, moved_y = x - yaw * ay + pitch * az, y + yaw * ax - roll * az
        moved_z = heave - pitch * ax + roll * ay
        across, ahead, tilt = yaw * yaw, pitch * pitch, roll * roll
        bent_x = 2.0 * roll * yaw * az - (across + ahead) * ax
        bent_y = 2.0 * pitch * (roll * ax + yaw * az) - (across + tilt) * ay
        bent_z = -(tilt + ahead) * az
        right = moved_x**2 + moved_y**2 + moved_z**2 + dx * bent_x + dy * bent_y + dz * bent_z
        return np.asarray(np.linalg.solve(self.jacobian, -right[..., None])[..., 0].T[:, None, :])


def _at_ride(bars: Bars) -> AtRide | None:
    n = bars.count
    if n != 4:
        return None
    local = bars.local.reshape(-1, n, 3)
    reach = (bars.centre[..., None, :] - bars.frame).reshape(-1, n, 3)
    rows = _ride_rows(local, reach)
    try:
        by_heave, by_roll = (rate.reshape(-1, 4).T[:, None, :] for rate in bars.rates_at_ride)
    except np.linalg.LinAlgError:
        return None
    sign = np.sign(np.linalg.det(_in_order(rows, bars.packed.order)))
    return AtRide(sign, by_heave, by_roll, rows, *(np.moveaxis(v, 2, 0) for v in (local, reach)))


def _pack(bars: Bars) -> Packed:
    n = bars.count
    local = bars.local.reshape(-1, n, 3)
    reach = (bars.centre[..., None, :] - bars.frame).reshape(-1, n, 3)
    length, weight = bars.length.reshape(-1, n), bars.stiffness.reshape(-1, n)
    order = np.broadcast_to(np.arange(n), length.shape)
    if n == 4:
        order = pivot_order(_ride_rows(local, reach))
        local, reach, length, weight = (_in_order(v, order) for v in (local, reach, length, weight))

    ax, ay, az = np.ascontiguousarray(local.transpose(2, 1, 0))[:, :, None, :]
    around = np.ascontiguousarray(reach.transpose(2, 1, 0))[:, :, None, :]
    first = np.ascontiguousarray(length.T)[:, None, :]
    scaled = np.ascontiguousarray((weight / weight.mean(axis=1, keepdims=True)).T)[:, None, :]
    return Packed(
        (np.stack([ax, az]), np.stack([az, -ax]), ay), (around[:2], around[2]), first, 0.5 * first**2, scaled, order
    )


def _in_order(per_bar: Array, order: NDArray[np.intp]) -> Array:
    """Values ``(layouts, bars, ...)`` with the bars of each layout in its ``order`` ``(layouts, bars)``."""
    if len(order) == 1:
        return np.asarray(per_bar[:, order[0]])
    return np.take_along_axis(per_bar, order.reshape(*order.shape, *([1] * (per_bar.ndim - 2))), 1)


def _ride_rows(local: Array, reach: Array) -> Array:
    """Jacobian rows at ride, ``(layouts, bars, 4)``."""
    d = local + reach
    yaw = local[..., 0] * d[..., 1] - local[..., 1] * d[..., 0]
    pitch = local[..., 2] * d[..., 0] - local[..., 0] * d[..., 2]
    return np.stack([d[..., 0], d[..., 1], yaw, pitch], axis=-1)


def bar_stiffness(k1: float, k2: float, length: float, area: float, modulus: float = 207e9) -> float:
    """Axial stiffness of a bar with its end joints in series, N/m: 1/(1/k₁ + L/EA + 1/k₂).

    Parameters in N/m, N/m, m, m², Pa. An infinite k is a rigid joint. Raises ``ValueError`` unless all are positive.
    Source: springs in series; E of steel 207 GPa from memory. ``k1`` and ``k2`` of the joints, ``length`` L, ``area``
    A and ``modulus`` E of the tube.

    >>> round(bar_stiffness(10e6, 10e6, 1.0, 1e9) / 1e6, 6)
    5.0
    """
    if min(k1, k2, length, area, modulus) <= 0:
        raise ValueError("stiffness, length, area and modulus must be positive")
    return 1.0 / (1.0 / k1 + length / (modulus * area) + 1.0 / k2)
