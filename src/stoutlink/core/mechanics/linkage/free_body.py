"""Forces in the bars when the axle is loaded: the free body of housing, wheels and differential.

Source: equilibrium of a rigid body.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.errors import GeometryError

Array = NDArray[np.float64]


class Load(Struct, frozen=True):
    """Something that acts on the axle: a force (N) at a point (m), and a moment (N·m) besides."""

    force: tuple[float, float, float]
    at: tuple[float, float, float]
    moment: tuple[float, float, float] = (0.0, 0.0, 0.0)


class Reactions(Struct, frozen=True):
    """Bar forces ``(n,)``, tension +, and spring forces ``(2,)``, pressing down +, in N; ``rest`` what is left of
    force and moment (6,).
    """

    bars: Array
    springs: Array
    rest: Array


def wrench(loads: tuple[Load, ...], about: Array) -> Array:
    """Force and moment of loads about a point, ``(6,)``.

    ``loads`` in N and m.

    >>> wrench((Load((1000.0, 0.0, 0.0), (0.0, 0.0, 0.4)),), np.zeros(3)).tolist()
    [1000.0, 0.0, 0.0, 0.0, 400.0, 0.0]
    """
    force, moment = [0.0, 0.0, 0.0], [0.0, 0.0, 0.0]
    for one in loads:
        (x, y, z), (fx, fy, fz) = (a - b for a, b in zip(one.at, about.tolist(), strict=True)), one.force
        for i, (f, m) in enumerate(zip(one.force, (y * fz - z * fy, z * fx - x * fz, x * fy - y * fx), strict=True)):
            force[i] += f
            moment[i] += m + one.moment[i]
    return np.array(force + moment)


def reactions(
    frame: Array, axle: Array, stiffness: Array, springs: Array, loads: Sequence[tuple[Load, ...]], about: Array
) -> tuple[Reactions, ...]:
    """Bars and two springs that hold the axle against each of several sets of ``loads``.

    ``frame`` and ``axle`` pivots ``(n, 3)`` m as they stand, ``stiffness`` ``(n,)`` N/m, ``springs`` ``(2, 3)`` where
    they press (straight down), ``about`` ``(3,)`` any point. Wheel and outboard brake torque are internal. Four bars
    and two springs: six equations, six unknowns. More bars: the set with the least elastic work, Σ n²/k. Raises
    :class:`GeometryError` when they cannot hold it. Source: equilibrium of a rigid body; Castigliano's theorem for
    the redundant ones.

    >>> frame = np.array([[1.0, 0.5, 0.4], [1.0, -0.5, 0.4], [0.9, 0.4, 0.65], [0.9, -0.4, 0.65]])
    >>> axle = np.array([[0.0, 0.4, 0.4], [0.0, -0.4, 0.4], [0.0, 0.1, 0.7], [0.0, -0.1, 0.7]])
    >>> seats = np.array([[0.0, 0.4, 0.6], [0.0, -0.4, 0.6]])
    >>> weight = Load((0.0, 0.0, 9000.0), (0.0, 0.0, 0.0))
    >>> (held,) = reactions(frame, axle, np.full(4, 1e7), seats, [(weight,)], np.zeros(3))
    >>> [float(v) for v in held.springs.round()], bool(np.all(held.rest < 1e-6))
    ([4500.0, 4500.0], True)
    """
    unit = (axle - frame) / np.linalg.norm(axle - frame, axis=-1)[:, None]
    force = np.concatenate([-unit, np.tile([0.0, 0.0, -1.0], (2, 1))])
    points = np.concatenate([axle, springs])
    a = np.concatenate([force, np.cross(points - about, force)], axis=1).T
    outside = np.stack([wrench(one, about) for one in loads], axis=1)
    n = len(frame)
    system = np.zeros((n + 8, n + 8))
    system[: n + 2, : n + 2] = np.diag(np.concatenate([stiffness.mean() / stiffness, np.zeros(2)]))
    system[: n + 2, n + 2 :] = a.T
    system[n + 2 :, : n + 2] = a
    right = np.concatenate([np.zeros((n + 2, outside.shape[1])), -outside])
    try:
        x = np.linalg.solve(system, right)[: n + 2]
    except np.linalg.LinAlgError:
        raise GeometryError(
            "G120", "The bars and springs cannot hold the axle against this load.", "A motion is left free."
        ) from None
    rest = a @ x + outside
    if not np.isfinite(x).all() or np.abs(rest).max() > 1e-6 * max(1.0, np.abs(outside).max()):
        raise GeometryError(
            "G120", "The bars and springs cannot hold the axle against this load.", "A motion is left free."
        )
    return tuple(Reactions(x[:n, i], x[n:, i], rest[:, i]) for i in range(outside.shape[1]))
