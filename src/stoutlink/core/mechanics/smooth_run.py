"""The reading that cannot be right: single values that lie off an otherwise smooth run.

A frame rail bends, steps and kinks, so the run is not fitted by a curve. What gives a single bad reading away is its
mark on the sags s_i = v_i − (straight line between its neighbours): (−w, 1, −w) about it and nothing else. Moving
that one value takes the mark away; at a kink or a step moving any one value leaves at least a quarter of it.

Source: robust outlier tests by the median absolute deviation.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
LEFT_OVER = 0.15
"""A mark is one bad reading when moving it leaves less than this part of the squared sags about it (a kink leaves
1/3, a step 1/4).
"""


LEFT_AT_ENDS = 0.05
"""The same for the second value from either end, whose mark has but two sags: a step there (29, 29, 24, 24: an ordinary
drop of the frame) leaves a tenth.
"""
SHARPEST = 1e-4
"""No reading is taken to be surer than this, m."""
FROM_NEIGHBOURS = 1.4
"""σ of the estimate of how far a value is off, over σ of one value: the neighbours are read with the same tape (even
spacing: 1.39).
"""


class Spike(Struct, frozen=True):
    """A value off the run: its index, by how much it is too large (m), and the part of the squared sags that stays
    when it is moved.
    """

    index: int
    off: float
    left: float


def spikes(along: Array, value: Array, sigma: Array | float, least: float = 4.0) -> tuple[Spike, ...]:
    """Values off a smooth run, largest first. ``along`` rising (m), ``value`` (m) of the same shape ``(n,)``, 1 σ of
    the values.

    A spike counts when it is off by more than ``least`` times the σ of that estimate, 1.4·σ. The worst is corrected
    before the next is sought, so that it does not accuse its neighbours. The first and last value cannot be judged
    and fewer than five values say nothing: empty. Raises ``ValueError`` unless ``along`` rises strictly. ``sigma`` m,
    one for all or one each.

    >>> x = np.linspace(0, 2, 9); v = 0.5 + 0.1 * x; v[4] += 0.05
    >>> [(s.index, round(s.off, 6)) for s in spikes(x, v, 0.003)]
    [(4, 0.05)]
    """
    along, value = np.asarray(along, float), np.asarray(value, float).copy()
    n = len(along)
    if n > 1 and not (np.diff(along) > 0).all():
        raise ValueError("stations must rise")
    if n < 5:
        return ()
    one = np.broadcast_to(np.maximum(np.asarray(sigma, float), SHARPEST), (n,))
    ahead = (along[1:-1] - along[:-2]) / (along[2:] - along[:-2])
    found: list[Spike] = []
    marks = np.zeros((n, 3))
    marks[1:-1, 1] = 1.0
    marks[2:-1, 0] = -ahead[:-1]
    marks[1:-2, 2] = -(1.0 - ahead[1:])
    size = (marks**2).sum(axis=1)
    most_left = np.full(n, LEFT_OVER)
    most_left[[1, -2]] = LEFT_AT_ENDS
    for _ in range(n):
        sag = np.zeros(n + 2)
        sag[2:-2] = value[1:-1] - ((1.0 - ahead) * value[:-2] + ahead * value[2:])
        near = np.stack([sag[:-2], sag[1:-1], sag[2:]], axis=1)
        with np.errstate(invalid="ignore", divide="ignore"):
            off = np.where(size > 0, (marks * near).sum(axis=1) / size, 0.0)
            before = (near**2).sum(axis=1)
            left = np.where(before > 0, 1.0 - off**2 * size / before, 1.0)
        off[[0, -1]] = 0.0
        suspect = (np.abs(off) > least * FROM_NEIGHBOURS * one) & (left < most_left)
        for spike in found:
            suspect[spike.index] = False
        if not suspect.any():
            break
        i = int(np.argmax(np.where(suspect, np.abs(off) / one, 0.0)))
        found.append(Spike(i, float(off[i]), float(left[i])))
        value[i] -= off[i]
    return tuple(found)
