"""Outlines of solids seen from one side.

Source: parallel projection; convex hull by the monotone chain (Andrew, 1979).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def hull(points: Array) -> list[tuple[float, float]]:
    """Convex hull of ``(n, 2)`` points, counter-clockwise; of fewer than three distinct ones those themselves.
    Source: Andrew's monotone chain.

    >>> hull(np.array([[0.0, 0], [2, 0], [1, 0.5], [2, 2], [0, 2]]))
    [(0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0)]
    """
    rows = sorted({(float(x), float(y)) for x, y in points})
    if len(rows) < 3:
        return rows

    def half(ordered: list[tuple[float, float]]) -> list[tuple[float, float]]:
        out: list[tuple[float, float]] = []
        for x, y in ordered:
            while (
                len(out) > 1
                and (out[-1][0] - out[-2][0]) * (y - out[-2][1]) - (out[-1][1] - out[-2][1]) * (x - out[-2][0]) <= 0
            ):
                out.pop()
            out.append((x, y))
        return out[:-1]

    return half(rows) + half(rows[::-1])


def wheel_rims(middle: Array, spin: Array, radius: float, width: float, count: int = 32) -> Array:
    """Points on both rims of a wheel, ``(2·count, 3)``: ``spin`` its unit axis.

    ``middle`` of the wheel ``(3,)``, ``radius`` and ``width`` in m.

    >>> rims = wheel_rims(np.zeros(3), np.array([0.0, 1.0, 0.0]), 0.5, 0.3, count=4)
    >>> rims.shape, sorted(set(rims[:, 1].round(3).tolist()))
    ((8, 3), [-0.15, 0.15])
    """
    ref = np.array([0.0, 0.0, 1.0]) if abs(spin[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    e1 = np.cross(ref, spin)
    e1 /= np.linalg.norm(e1)
    turn = np.linspace(0.0, 2.0 * np.pi, count, endpoint=False)[:, None]
    rim = middle + radius * (np.cos(turn) * e1 + np.sin(turn) * np.cross(spin, e1))
    return np.concatenate([rim + 0.5 * width * spin, rim - 0.5 * width * spin])
