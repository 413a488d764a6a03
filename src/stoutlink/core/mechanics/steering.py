"""One knuckle turned by its drag link while the axle moves and the pitman arm is held: bump steer."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.geometry.rotation import rotation

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Knuckle:
    """At ride, wheels straight, m in vehicle axes: pitman end and knuckle end of the drag link, a point on the kingpin and its unit axis
    (up), the axle's centre."""

    pitman: Array
    arm: Array
    kingpin: Array
    axis: Array
    centre: Array

    @property
    def length(self) -> float:
        """Drag link between its joints, m."""
        return float(np.linalg.norm(self.arm - self.pitman))


@dataclass(frozen=True)
class KnuckleTurn:
    """At each pose, ``(stations,)``: δ about the kingpin (+ = wheel left) and heading of the wheel against the vehicle, rad; ``nan`` where the
    drag link cannot reach or the axle does not get there."""

    delta: Array
    heading: Array


def kingpin_axis(side: float, leans_in: float, caster: float) -> Array:
    """Unit vector up the steering axis of the knuckle on one side (+1 left, −1 right): leaning in by ``leans_in`` and back by ``caster`` (rad,
    each seen along its own axis)."""
    axis = np.array([-np.tan(caster), -side * np.tan(leans_in), 1.0])
    return np.asarray(axis / np.linalg.norm(axis))


def knuckle_turn(knuckle: Knuckle, x: Array, y: Array, z: Array, yaw: Array, roll: Array, pitch: Array, start: int) -> KnuckleTurn:
    """Turn of the knuckle at poses of the axle, followed from the station ``start`` (ride height) outward.

    The kingpin goes with the axle. With q the arm's end from the kingpin, split along the axis and across it, the link's length asks
    A·cos δ + B·sin δ = K, A = 2·w·e, B = 2·w·f, K = L² − |w|² − |q⊥|²; the root nearest to the step before is taken, and |K| > √(A² + B²)
    means the link cannot reach: from there on nothing is said. Heading = atan2(−s_x, s_y) of the wheel's spin axis s.
    """
    turn = rotation(yaw, roll, pitch)
    at = np.stack([x, y, z], axis=-1)
    k, q = knuckle.axis, knuckle.arm - knuckle.kingpin
    along = k * float(k @ q)
    across = q - along
    foot = at + (knuckle.kingpin - knuckle.centre + along) @ np.swapaxes(turn, -1, -2) - knuckle.pitman
    e, f = across @ np.swapaxes(turn, -1, -2), np.cross(k, q) @ np.swapaxes(turn, -1, -2)
    a, b = 2.0 * (foot * e).sum(-1), 2.0 * (foot * f).sum(-1)
    rhs = knuckle.length**2 - (foot * foot).sum(-1) - float(across @ across)
    size = np.hypot(a, b)
    with np.errstate(invalid="ignore", divide="ignore"):
        half = np.arccos(rhs / size)
    middle = np.arctan2(b, a)
    delta = np.full(at.shape[0], np.nan)
    for order in (range(start, len(delta)), range(start, -1, -1)):
        before = 0.0
        for i in order:
            if not np.isfinite(half[i]):
                break
            roots = [_wrapped(middle[i] + half[i]), _wrapped(middle[i] - half[i])]
            before = delta[i] = min(roots, key=lambda v: abs(_wrapped(v - before)))
    lateral = np.array([0.0, 1.0, 0.0])
    spin = k * k[1] + (lateral - k * k[1]) * np.cos(delta)[..., None] + np.cross(k, lateral) * np.sin(delta)[..., None]
    world = np.einsum("...ij,...j->...i", turn, spin)
    return KnuckleTurn(delta, np.arctan2(-world[..., 0], world[..., 1]))


def _wrapped(angle: float) -> float:
    return float((angle + np.pi) % (2 * np.pi) - np.pi)


def per_step(heave: Array, values: Array, step: float = 0.025) -> float:
    """(f(+step) − f(−step))/2 over heave in m, for travel that reaches both; ``nan`` otherwise."""
    good = np.isfinite(values)
    if not good.any() or heave[good].min() > -step + 1e-9 or heave[good].max() < step - 1e-9:
        return float("nan")
    up, down = np.interp([step, -step], heave[good], values[good])
    return float(up - down) / 2.0


@dataclass(frozen=True)
class ArcMatch:
    """Drag link against panhard, seen from behind: lengths between pivots (m), slopes (rad, up to the axle end's side), whether the frame ends
    are on the same side."""

    length_apart: float
    slope_apart: float
    same_hand: bool


def arc_match(drag: tuple[Array, Array], panhard: tuple[Array, Array]) -> ArcMatch:
    """How alike two bars run, each as (frame end, axle end): common practice wants equal length, equal slope and the same hand."""

    def read(bar: tuple[Array, Array]) -> tuple[float, float, float]:
        dy, dz = bar[1][1] - bar[0][1], bar[1][2] - bar[0][2]
        return float(np.linalg.norm(bar[1] - bar[0])), float(np.arctan2(dz, abs(dy))), float(np.sign(dy))

    one, two = read(drag), read(panhard)
    return ArcMatch(one[0] - two[0], one[1] - two[1], one[2] == two[2])
