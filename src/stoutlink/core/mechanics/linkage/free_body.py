"""Forces in the bars when the axle is loaded: the free body of housing, wheels and differential."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.errors import GeometryError

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Load:
    """Something that acts on the axle: a force (N) at a point (m), and a moment (N·m) besides."""

    force: tuple[float, float, float]
    at: tuple[float, float, float]
    moment: tuple[float, float, float] = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Reactions:
    """Bar forces ``(n,)``, tension +, and spring forces ``(2,)``, pressing down +, in N; ``rest`` what is left of force and moment (6,)."""

    bars: Array
    springs: Array
    rest: Array


def wrench(loads: tuple[Load, ...], about: Array) -> Array:
    """Force and moment of loads about a point, ``(6,)``."""
    out = np.zeros(6)
    for one in loads:
        force = np.asarray(one.force)
        out[:3] += force
        out[3:] += np.cross(np.asarray(one.at) - about, force) + np.asarray(one.moment)
    return out


def reactions(frame: Array, axle: Array, stiffness: Array, springs: Array, loads: tuple[Load, ...], about: Array) -> Reactions:
    """Bars and two springs that hold the axle against ``loads``.

    ``frame`` and ``axle`` pivots ``(n, 3)`` m as they stand, ``stiffness`` ``(n,)`` N/m, ``springs`` ``(2, 3)`` where they press (straight down),
    ``about`` ``(3,)`` any point. Wheel and outboard brake torque are internal. Four bars and two springs: six equations, six unknowns. More
    bars: the set with the least elastic work, Σ n²/k. Raises :class:`GeometryError` when they cannot hold it.
    Source: equilibrium of a rigid body; Castigliano's theorem for the redundant ones.
    """
    unit = (axle - frame) / np.linalg.norm(axle - frame, axis=-1)[:, None]
    down = np.tile([0.0, 0.0, -1.0], (2, 1))
    force = np.concatenate([-unit, down])
    points = np.concatenate([axle, springs])
    a = np.concatenate([force, np.cross(points - about, force)], axis=1).T
    outside = wrench(loads, about)
    n = len(frame)
    soft = np.concatenate([stiffness.mean() / stiffness, np.zeros(2)])
    system = np.zeros((n + 8, n + 8))
    system[: n + 2, : n + 2] = np.diag(soft)
    system[: n + 2, n + 2 :] = a.T
    system[n + 2 :, : n + 2] = a
    right = np.concatenate([np.zeros(n + 2), -outside])
    try:
        found = np.linalg.solve(system, right)
    except np.linalg.LinAlgError:
        raise GeometryError("G120", "The bars and springs cannot hold the axle against this load.", "A motion is left free.") from None
    x = found[: n + 2]
    rest = a @ x + outside
    if not np.isfinite(x).all() or np.abs(rest).max() > 1e-6 * max(1.0, np.abs(outside).max()):
        raise GeometryError("G120", "The bars and springs cannot hold the axle against this load.", "A motion is left free.")
    return Reactions(x[:n], x[n:], rest)
