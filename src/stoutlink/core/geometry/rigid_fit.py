"""Where a body stands, from points of it whose places are known.

Source: W. Kabsch, A solution for the best rotation to relate two sets of vectors (1976).
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
IN_LINE = 0.02
"""Points whose spread across their line is less than this part of that along it do not say how a body is turned about it."""


class Standing(Struct, frozen=True, eq=False):
    """``turn`` ``(3, 3)`` and ``shift`` ``(3,)`` m take a body's own points to where they are; ``miss`` ``(n,)`` m by point."""

    turn: Array
    shift: Array
    miss: Array

    def put(self, points: Array) -> Array:
        """Own points ``(n, 3)`` where they are."""
        return np.asarray(points @ self.turn.T + self.shift)


def stand(own: Array, at: Array) -> Standing | None:
    """The turn and shift that take points ``own`` ``(n, 3)`` m nearest to ``at`` ``(n, 3)`` m, by least squares, without scale or mirror. ``None`` with
    fewer than three, or where they are in line. Source: Kabsch 1976.

    >>> own = np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    >>> one = stand(own, own[:, [1, 0, 2]] * [-1.0, 1.0, 1.0] + [2.0, 0.0, 0.0])
    >>> one is not None and [round(float(v), 6) + 0.0 for v in one.put(np.array([[0.0, 0.0, 1.0]]))[0]]
    [2.0, 0.0, 1.0]
    """
    if len(own) < 3:
        return None
    for points in (own, at):
        spread = np.linalg.svd(points - points.mean(axis=0), compute_uv=False)
        if spread[1] < IN_LINE * max(float(spread[0]), 1e-12):
            return None
    a, b = own - own.mean(axis=0), at - at.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    turn = vt.T @ np.diag([1.0, 1.0, np.sign(np.linalg.det(vt.T @ u.T))]) @ u.T
    shift = at.mean(axis=0) - turn @ own.mean(axis=0)
    return Standing(turn, shift, np.asarray(np.linalg.norm(own @ turn.T + shift - at, axis=1)))
