"""Many 4×4 linear systems at once, without a loop over them.

Source: Gaussian elimination with partial pivoting.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def solve_four(a: Array) -> tuple[Array, Array]:
    """Solve many 4×4 systems in place by Gaussian elimination in the row order given.

    ``a`` has shape ``(4 + k, 4, ...)``: column first, then row; the four columns of the matrix and k right-hand
    sides. It is used up. The caller puts the rows in an order with good pivots (see :func:`pivot_order`; a positive
    definite matrix needs none). Returns the determinants ``(...)`` and the solutions ``(k, 4, ...)`` (a view into
    ``a``). A singular system gives inf or nan: check the result, and call it with NumPy's warnings put away. Source: any text on linear
    algebra, Gaussian elimination with back substitution.

    >>> a = np.concatenate([np.diag([1.0, 1.0, 1.0, 2.0]), np.ones((1, 4))])[:, :, None]
    >>> det, x = solve_four(a)
    >>> det.tolist(), x[0, :, 0].tolist()
    ([2.0], [1.0, 1.0, 1.0, 0.5])
    """
    a[1:, 1:] -= a[1:, :1] * (a[0, 1:] / a[0, 0])
    a[2:, 2:] -= a[2:, 1:2] * (a[1, 2:] / a[1, 1])
    a[3:, 3] -= a[3:, 2] * (a[2, 3] / a[2, 2])
    g = a[4:]
    g[:, 3] /= a[3, 3]
    g[:, :3] -= a[3, :3] * g[:, 3:]
    g[:, 2] /= a[2, 2]
    g[:, :2] -= a[2, :2] * g[:, 2:3]
    g[:, 1] /= a[1, 1]
    g[:, 0] -= a[1, 0] * g[:, 1]
    g[:, 0] /= a[0, 0]
    det: Array = a[0, 0] * a[1, 1] * a[2, 2] * a[3, 3]
    return det, g


def pivot_order(a: Array) -> NDArray[np.intp]:
    """Row order of partial pivoting for many 4×4 matrices of shape ``(m, 4, 4)``; returns ``(m, 4)``.

    ``a`` is left as it is.

    >>> pivot_order(np.array([[[0., 1, 0, 0], [2, 0, 0, 0], [0, 0, 0, 1], [0, 0, 1, 0]]])).tolist()
    [[1, 0, 3, 2]]
    """
    if len(a) == 1:
        return np.array([_order_of_one(a[0].tolist())])
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


def _order_of_one(a: list[list[float]]) -> list[int]:
    """The same for one matrix, which does not pay for arrays."""
    rows = list(enumerate(a))
    for k in range(3):
        best = max(range(k, 4), key=lambda i: abs(rows[i][1][k]))
        rows[k], rows[best] = rows[best], rows[k]
        first = rows[k][1]
        for i in range(k + 1, 4):
            n, row = rows[i]
            part = row[k] / first[k] if first[k] else math.nan
            rows[i] = n, [v - part * u for v, u in zip(row, first, strict=True)]
    return [n for n, _ in rows]
