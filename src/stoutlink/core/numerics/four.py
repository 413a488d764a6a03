"""Many 4×4 linear systems at once, without a loop over them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def solve_four(
    columns: tuple[Array, Array, Array, Array], *sides: Array, overwrite: bool = False
) -> tuple[Array, list[tuple[Array, Array, Array, Array]]]:
    """Solve A·x = g for many 4×4 systems by Gaussian elimination in the row order given.

    Parameters: ``columns`` are the four columns of A, each of shape ``(4, ...)`` (row first); ``sides`` are
    right-hand sides of the same shape. The caller puts the rows in an order with good pivots (see
    :func:`pivot_order`; a positive definite A needs none). Returns the determinants ``(...)`` and for each side the
    four unknowns. With ``overwrite`` the inputs (whole arrays) are used as working space. A singular system gives inf or nan, never an exception: check the result.
    Source: any text on linear algebra, Gaussian elimination with back substitution.

    >>> eye = np.eye(4)[:, :, None]
    >>> det, (x,) = solve_four((eye[0], eye[1], eye[2], 2 * eye[3]), np.ones((4, 1)))
    >>> det.tolist(), [float(v[0]) for v in x]
    ([2.0], [1.0, 1.0, 1.0, 0.5])
    """
    if not overwrite:
        shape = np.broadcast_shapes(*(c.shape for c in columns))
        columns = tuple(np.array(np.broadcast_to(c, shape)) for c in columns)  # type: ignore[assignment]
        sides = tuple(np.array(np.broadcast_to(g, shape)) for g in sides)
    c0, c1, c2, c3 = columns
    every = (c1, c2, c3, *sides)
    t = np.empty_like(c0)
    with np.errstate(all="ignore"):
        np.divide(c0[1:], c0[0], c0[1:])
        for v in every:
            v[1:] -= np.multiply(c0[1:], v[0], t[1:])
        np.divide(c1[2:], c1[1], c1[2:])
        for v in every[1:]:
            v[2:] -= np.multiply(c1[2:], v[1], t[2:])
        c2[3] /= c2[2]
        for v in every[2:]:
            v[3] -= np.multiply(c2[3], v[2], t[3])
        det: Array = c0[0] * c1[1] * c2[2] * c3[3]
        out = []
        for g in sides:
            x3 = g[3] / c3[3]
            x2 = (g[2] - c3[2] * x3) / c2[2]
            x1 = (g[1] - c2[1] * x2 - c3[1] * x3) / c1[1]
            x0 = (g[0] - c1[0] * x1 - c2[0] * x2 - c3[0] * x3) / c0[0]
            out.append((x0, x1, x2, x3))
        return det, out


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
