"""Both knuckles of a steering axle, turned by drag link and tie rod while the axle moves: bump steer, roll steer,
lock, what the hands feel.

Source: Rodrigues' rotation; distances kept by rods.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.geometry.rotation import rotation

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]
ACROSS = np.array([0.0, 1.0, 0.0])
FARTHEST = 1.45
"""No knuckle turns farther than this, rad; a root beyond is another way of putting the links together."""


class Knuckle(Struct, frozen=True, dict=True):
    """At ride, wheels straight, m in vehicle axes: pitman end and axle end of the drag link, a point on the kingpin
    and its unit axis (up), the axle's centre. ``tie`` is the tie rod's ball joint on this knuckle, the other knuckle
    is the mirror image; ``on_tie``: the drag link ends on the tie rod instead of this knuckle, its end carried at its
    part along it and at its offset from it as it lies at ride."""

    pitman: Array
    arm: Array
    kingpin: Array
    axis: Array
    centre: Array
    tie: Array | None = None
    on_tie: bool = False

    @property
    def length(self) -> float:
        """Drag link between its joints, m."""
        return float(np.linalg.norm(self.arm - self.pitman))

    @property
    def tie_length(self) -> float | None:
        """Tie rod between its joints, m."""
        return None if self.tie is None else 2.0 * abs(float(self.tie[1]))

    @cached_property
    def tie_part(self) -> float:
        """Where along the tie rod the drag link ends: 0 at this knuckle's end, 1 at the other's."""
        if self.tie is None:
            return 0.0
        return float((self.tie[1] - self.arm[1]) / (2.0 * self.tie[1]))

    def turned(self, point: Array, delta: Array) -> Array:
        """A point of this knuckle, in vehicle axes at ride, turned by ``delta`` about the kingpin, ``(..., 3)``."""
        return _turned(point, self.kingpin, self.axis, delta)

    def other_turn(self, delta: Array) -> Array:
        """Turn of the other knuckle through the tie rod, rad; the same without one, ``nan`` where the rod cannot reach.

        Its ball joint keeps the rod's length from this one's: A·cos δ' + B·sin δ' = K, the root nearest to δ.
        """
        if self.tie is None:
            return np.asarray(delta, dtype=float)
        ball = self.turned(self.tie, delta)
        pin, axis, tie = (v * _MIRROR for v in (self.kingpin, self.axis, self.tie))
        q = tie - pin
        along = axis * float(axis @ q)
        across, aside = q - along, np.cross(axis, q)
        foot = pin + along - ball
        a, b = 2.0 * foot @ across, 2.0 * foot @ aside
        length = self.tie_length
        assert length is not None
        rhs = length**2 - (foot * foot).sum(-1) - float(across @ across)
        with np.errstate(invalid="ignore", divide="ignore"):
            half = np.arccos(rhs / np.hypot(a, b))
        middle = np.arctan2(b, a)
        one, two = _wrapped(middle + half - delta), _wrapped(middle - half - delta)
        return np.asarray(delta + np.where(np.abs(one) <= np.abs(two), one, two))

    def end(self, delta: Array) -> tuple[Array, Array]:
        """The drag link's axle end and how it moves for a unit of δ, vehicle axes at ride, each ``(..., 3)``."""
        if not self.on_tie or self.tie is None:
            at = self.turned(self.arm, delta)
            return at, np.cross(self.axis, at - self.kingpin)
        other = self.other_turn(delta)
        pin, axis, far = (v * _MIRROR for v in (self.kingpin, self.axis, self.tie))
        one, two = self.turned(self.tie, delta), _turned(far, pin, axis, other)
        go = np.cross(self.axis, one - self.kingpin)
        swing = np.cross(axis, two - pin)
        rod = two - one
        with np.errstate(invalid="ignore", divide="ignore"):
            rate = (rod * go).sum(-1) / (rod * swing).sum(-1)
        part = self.tie_part
        offset = self.arm - (self.tie + part * (far - self.tie))
        return one + part * rod + offset, go + part * (swing * rate[..., None] - go)

    def spin(self, delta: Array, *, far: bool = False) -> Array:
        """Unit spin axis of the wheel, pointing left, turned by ``delta``; ``far`` that of the other knuckle."""
        axis = self.axis * _MIRROR if far else self.axis
        return _turned(ACROSS, np.zeros(3), axis, delta)


_MIRROR = np.array([1.0, -1.0, 1.0])


class Sector(Struct, frozen=True):
    """The pitman arm's turning: its middle and unit axis, vehicle axes; ``ratio`` turns of the steering wheel to one
    of the sector.
    """

    middle: Array
    axis: Array
    ratio: float


def pitman_at(knuckle: Knuckle, sector: Sector, turn: Array) -> Array:
    """The pitman end of the drag link with the sector turned by ``turn`` rad, ``(..., 3)``.

    ``knuckle`` for its place at ride.

    >>> up, hub = np.array([0.0, 0.0, 1.0]), np.zeros(3)
    >>> arm, pivot = np.array([0.2, -0.5, 0.5]), np.array([0.0, -0.6, 0.5])
    >>> knuckle = Knuckle(arm + np.array([0.0, 0.9, 0.1]), arm, pivot, up, hub)
    >>> sector = Sector(knuckle.pitman + np.array([-0.15, 0.0, 0.0]), up, 16.0)
    >>> pitman_at(knuckle, sector, np.array([0.0])).round(4).tolist()
    [[0.2, 0.4, 0.6]]
    """
    return _turned(knuckle.pitman, sector.middle, sector.axis, turn)


def _turned(point: Array, about: Array, axis: Array, delta: Array) -> Array:
    """Rodrigues' turn of one point about an axis through ``about``, ``(..., 3)``."""
    q = point - about
    along = axis * float(axis @ q)
    d = np.asarray(delta)[..., None]
    return np.asarray(about + along + (q - along) * np.cos(d) + np.cross(axis, q) * np.sin(d))


class KnuckleTurn(Struct, frozen=True):
    """At each pose: δ about the kingpin (+ = wheel left) and heading of the wheel against the vehicle, rad, of the
    knuckle the drag link serves and of the other; ``nan`` where the drag link cannot reach or the axle does not get
    there."""

    delta: Array
    heading: Array
    other_delta: Array
    other_heading: Array


def kingpin_axis(side: float, leans_in: float, caster: float) -> Array:
    """Unit vector up the steering axis of the knuckle on one side (+1 left, −1 right): leaning in by ``leans_in`` and
    back by ``caster`` (rad, each seen along its own axis).

    >>> kingpin_axis(1.0, 0.1, 0.05).round(4).tolist()
    [-0.0497, -0.0997, 0.9938]
    """
    axis = np.array([-np.tan(caster), -side * np.tan(leans_in), 1.0])
    return np.asarray(axis / np.linalg.norm(axis))


def held_turn(knuckle: Knuckle, pitman: Array) -> Array:
    """δ that keeps the drag link's length to its pitman end ``(..., 3)``, given in the axle's own axes moved to ride;
    ``nan`` where none does.

    Newton on |E(δ) − P|² = L² from straight ahead; a root reached through a turning point (the arm in line with the
    link) is on another branch and is not taken. ``knuckle`` at ride.

    >>> up, hub = np.array([0.0, 0.0, 1.0]), np.zeros(3)
    >>> arm, pivot = np.array([0.2, -0.5, 0.5]), np.array([0.0, -0.6, 0.5])
    >>> knuckle = Knuckle(arm + np.array([0.0, 0.9, 0.1]), arm, pivot, up, hub)
    >>> abs(float(held_turn(knuckle, knuckle.pitman))) < 1e-9
    True
    """
    delta = np.zeros(pitman.shape[:-1])
    square = knuckle.length**2
    at, go = knuckle.end(np.zeros(()))
    sense = np.sign(float((at - knuckle.pitman) @ go))
    slope = np.ones_like(delta)
    with np.errstate(all="ignore"):
        for _ in range(10):
            at, go = knuckle.end(delta)
            off = at - pitman
            wrong = (off * off).sum(-1) - square
            slope = 2.0 * (off * go).sum(-1)
            step = np.clip(np.nan_to_num(wrong / slope), -0.25, 0.25)
            delta = np.clip(delta - step, -FARTHEST, FARTHEST)
            if np.abs(step).max(initial=0.0) < 1e-14:
                break
        at, go = knuckle.end(delta)
        off = at - pitman
        good = (
            (np.abs((off * off).sum(-1) - square) < 1e-11)
            & (np.sign((off * go).sum(-1)) == sense)
            & (np.abs(delta) < FARTHEST - 1e-6)
        )
    return np.asarray(np.where(good, delta, np.nan))


def knuckle_turn(
    knuckle: Knuckle, x: Array, y: Array, z: Array, yaw: Array, roll: Array, pitch: Array, start: int | tuple[int, int]
) -> KnuckleTurn:
    """Turn of both knuckles at poses of the axle ``(stations,)`` or ``(rolls, heaves)``, followed from ``start``
    (ride height) outward: beyond a pose where the link cannot reach nothing is said. The kingpins go with the axle;
    heading = atan2(−s_x, s_y) of a wheel's spin axis s.

    ``knuckle`` at ride; ``x``, ``y``, ``z`` of the axle's centre m, ``yaw``, ``roll``, ``pitch`` rad.

    >>> up, hub = np.array([0.0, 0.0, 1.0]), np.zeros(3)
    >>> arm, pivot = np.array([0.2, -0.5, 0.5]), np.array([0.0, -0.6, 0.5])
    >>> knuckle = Knuckle(arm + np.array([0.0, 0.9, 0.1]), arm, pivot, up, hub)
    >>> still = np.zeros(3)
    >>> found = knuckle_turn(knuckle, still, still, np.array([-0.02, 0.0, 0.02]), still, still, still, 1)
    >>> found.delta.round(4).tolist()
    [0.0123, 0.0, -0.01]
    """
    turn = rotation(yaw, roll, pitch)
    at = np.stack([x, y, z], axis=-1)
    local = np.einsum("...ji,...j->...i", turn, knuckle.pitman - at) + knuckle.centre
    delta = held_turn(knuckle, local)
    delta = np.where(_connected(np.isfinite(delta), start), delta, np.nan)
    other = knuckle.other_turn(delta)

    def heading(angle: Array, *, far: bool) -> Array:
        world = np.einsum("...ij,...j->...i", turn, knuckle.spin(angle, far=far))
        return np.asarray(np.arctan2(-world[..., 0], world[..., 1]))

    return KnuckleTurn(delta, heading(delta, far=False), other, heading(other, far=True))


def _connected(good: Flags, start: int | tuple[int, int]) -> Flags:
    """What is reached from the start without a gap: along one line, or first along the start's column and then along
    each row.
    """
    if isinstance(start, int):
        out = good.copy()
        np.logical_and.accumulate(good[start:], out=out[start:])
        np.logical_and.accumulate(good[start::-1], out=out[start::-1])
        return out
    row, column = start
    first = _connected(good[:, column], row)
    return np.stack([_connected(line & first[i], column) for i, line in enumerate(good)])


def by_sector(knuckle: Knuckle, sector: Sector, turn: Array) -> tuple[Array, Array]:
    """At ride, δ of both knuckles for turns of the sector, rad; ``nan`` from where the drag link cannot follow.

    ``knuckle`` at ride, ``turn`` ``(n,)`` rad.

    >>> up, hub = np.array([0.0, 0.0, 1.0]), np.zeros(3)
    >>> arm, pivot = np.array([0.2, -0.5, 0.5]), np.array([0.0, -0.6, 0.5])
    >>> knuckle = Knuckle(arm + np.array([0.0, 0.9, 0.1]), arm, pivot, up, hub)
    >>> sector = Sector(knuckle.pitman + np.array([-0.15, 0.0, 0.0]), up, 16.0)
    >>> by_sector(knuckle, sector, np.array([-0.1, 0.0, 0.1]))[0][[0, 2]].round(3).tolist()
    [-0.073, 0.077]
    """
    zero = int(np.argmin(np.abs(turn)))
    delta = held_turn(knuckle, pitman_at(knuckle, sector, turn))
    delta = np.where(_connected(np.isfinite(delta), zero), delta, np.nan)
    return delta, knuckle.other_turn(delta)


def sector_for(knuckle: Knuckle, sector: Sector, end: Array) -> Array:
    """Turn of the sector that the drag link asks for with its axle end at ``end`` ``(..., 3)``, rad; ``nan`` where no
    turn does.

    |S + R(ψ)(P − S) − E| = L: A·cos ψ + B·sin ψ = K, root nearest 0. ``knuckle`` at ride.

    >>> up, hub = np.array([0.0, 0.0, 1.0]), np.zeros(3)
    >>> arm, pivot = np.array([0.2, -0.5, 0.5]), np.array([0.0, -0.6, 0.5])
    >>> knuckle = Knuckle(arm + np.array([0.0, 0.9, 0.1]), arm, pivot, up, hub)
    >>> sector = Sector(knuckle.pitman + np.array([-0.15, 0.0, 0.0]), up, 16.0)
    >>> float(sector_for(knuckle, sector, knuckle.arm).round(6))
    0.0
    """
    q = knuckle.pitman - sector.middle
    along = sector.axis * float(sector.axis @ q)
    across, aside = q - along, np.cross(sector.axis, q)
    foot = sector.middle + along - end
    a, b = 2.0 * foot @ across, 2.0 * foot @ aside
    rhs = knuckle.length**2 - (foot * foot).sum(-1) - float(across @ across)
    with np.errstate(invalid="ignore", divide="ignore"):
        half = np.arccos(rhs / np.hypot(a, b))
    middle = np.arctan2(b, a)
    one, two = _wrapped(middle + half), _wrapped(middle - half)
    return np.asarray(np.where(np.abs(one) <= np.abs(two), one, two))


def _wrapped(angle: Array) -> Array:
    return np.asarray((angle + np.pi) % (2 * np.pi) - np.pi)


def per_step(heave: Array, values: Array, step: float = 0.025) -> float:
    """(f(+step) − f(−step))/2 over heave in m, for travel that reaches both; ``nan`` otherwise.

    ``values`` ``(n,)`` over rising ``heave``.

    >>> per_step(np.array([-0.05, 0.0, 0.05]), np.array([-0.2, 0.0, 0.2]))
    0.1
    """
    good = np.isfinite(values)
    if not good.any() or heave[good].min() > -step + 1e-9 or heave[good].max() < step - 1e-9:
        return float("nan")
    up, down = np.interp([step, -step], heave[good], values[good])
    return float(up - down) / 2.0


class ArcMatch(Struct, frozen=True):
    """Drag link against panhard, seen from behind: lengths between pivots (m), slopes (rad, up to the axle end's
    side), whether the frame ends are on the same side."""

    length_apart: float
    slope_apart: float
    same_hand: bool


def arc_match(drag: tuple[Array, Array], panhard: tuple[Array, Array]) -> ArcMatch:
    """How alike two bars run, each as (frame end, axle end): common practice wants equal length, equal slope and the
    same hand.

    ``drag`` link and ``panhard``, points ``(3,)`` m.

    >>> bar = np.array([0.0, 0.4, 0.5]), np.array([0.0, -0.4, 0.5])
    >>> arc_match(bar, bar)
    ArcMatch(length_apart=0.0, slope_apart=0.0, same_hand=True)
    """

    def read(bar: tuple[Array, Array]) -> tuple[float, float, float]:
        dy, dz = bar[1][1] - bar[0][1], bar[1][2] - bar[0][2]
        return float(np.linalg.norm(bar[1] - bar[0])), float(np.arctan2(dz, abs(dy))), float(np.sign(dy))

    one, two = read(drag), read(panhard)
    return ArcMatch(one[0] - two[0], one[1] - two[1], one[2] == two[2])
