"""Which of many candidates no other beats in everything.

Source: Pareto dominance.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray


def front_of(goodness: ArrayLike) -> NDArray[np.bool_]:
    """Rows of a (n, m) table, more is better in every column, that no other row dominates (as good everywhere, better
    somewhere).

    Equal rows stay together. Two columns are done by sorting, more by comparing all pairs. ``goodness`` holds one row
    a candidate; returns ``(n,)``.

    >>> front_of([[1, 5], [2, 4], [1, 4], [3, 1]]).tolist()
    [True, True, False, True]
    """
    table = np.asarray(goodness, dtype=float)
    n = len(table)
    if n == 0:
        return np.zeros(0, dtype=bool)
    if table.shape[1] == 2:
        order = np.lexsort((-table[:, 1], -table[:, 0]))
        sorted_x, sorted_y = table[order, 0], table[order, 1]
        before = np.concatenate(([-np.inf], np.maximum.accumulate(sorted_y)[:-1]))
        keep = sorted_y > before
        for i in range(1, n):  # equal to one that is kept
            if keep[i - 1] and sorted_x[i] == sorted_x[i - 1] and sorted_y[i] == sorted_y[i - 1]:
                keep[i] = True
        out = np.zeros(n, dtype=bool)
        out[order] = keep
        return out
    as_good = (table[:, None, :] >= table[None, :, :]).all(axis=2)
    better = (table[:, None, :] > table[None, :, :]).any(axis=2)
    dominates = as_good & better
    kept: NDArray[np.bool_] = np.logical_not(dominates.any(axis=0))
    return kept
