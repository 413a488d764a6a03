"""Many 4×4 linear systems at once, without a loop over them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def solve_four(columns: tuple[Array, Array, Array, Array], *sides: Array) -> tuple[Array, list[tuple[Array, Array, Array, Array]]]:
    """Solve A·x = g for many 4×4 systems by Gaussian elimination in the row order given.

    Parameters: ``columns`` are the four columns of A, each of shape ``(4, ...)`` (row first); ``sides`` are
    right-hand sides of the same shape. The caller puts the rows in an order with good pivots (see
    :func:`pivot_order`; a positive definite A needs none). Returns the determinants ``(...)`` and for each side the
    four unknowns. A singular system gives inf or nan, never an exception: check the result.
    Source: any text on linear algebra, Gaussian elimination with back substitution.

    >>> eye = np.eye(4)[:, :, None]
    >>> det, (x,) = solve_four((eye[0], eye[1], eye[2], 2 * eye[3]), np.ones((4, 1)))
    >>> det.tolist(), [float(v[0]) for v in x]
    ([2.0], [1.0, 1.0, 1.0, 0.5])
    """
    c0, c1, c2, c3 = columns
    with np.errstate(all="ignore"):
        p0 = c0[0]
        f0 = c0[1:] / p0
        b1, b2, b3 = c1[1:] - f0 * c1[0], c2[1:] - f0 * c2[0], c3[1:] - f0 * c3[0]
        p1 = b1[0]
        f1 = b1[1:] / p1
        d2, d3 = b2[1:] - f1 * b2[0], b3[1:] - f1 * b3[0]
        p2 = d2[0]
        f2 = d2[1] / p2
        p3 = d3[1] - f2 * d3[0]
        out = []
        for g in sides:
            h = g[1:] - f0 * g[0]
            k = h[1:] - f1 * h[0]
            x3 = (k[1] - f2 * k[0]) / p3
            x2 = (k[0] - d3[0] * x3) / p2
            x1 = (h[0] - b2[0] * x2 - b3[0] * x3) / p1
            x0 = (g[0] - c1[0] * x1 - c2[0] * x2 - c3[0] * x3) / p0
            out.append((x0, x1, x2, x3))
        return p0 * p1 * p2 * p3, out


def pivot_order(a: Array) -> NDArray[np.intp]:
    """Row order of partial pivoting for many 4×4 matrices of shape ``(m, 4, 4)``; returns ``(m, 4)``.

    >>> pivot_order(np.array([[[0., 1, 0, 0], [2, 0, 0, 0], [0, 0, 0, 1], [0, 0, 1, 0]]])).tolist()
    [[1, 0, 3, 2]]
    """
    a = a.copy()
    m = np.arange(len(a))
    order = np.tile(np.arange(4), (len(a), 1))
    with np.errstate(all="ignore"):
        for k in range(3):
            best = k + np.abs(a[:, k:, k]).argmax(axis=1)
            for v in (a, order):
                v[m, best], v[m, k] = v[m, k].copy(), v[m, best].copy()
            a[:, k + 1 :] -= (a[:, k + 1 :, k] / a[:, k, k][:, None])[:, :, None] * a[:, k][:, None, :]
    return order
