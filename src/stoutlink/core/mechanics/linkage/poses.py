"""Poses of the axle as they are handed on, and the one at ride height, which is where they start.

Source: Newton's method along a path gives the others.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.bars import Bars

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]


class Poses(Struct, frozen=True):
    """Solved poses; arrays of shape ``(..., stations)``, ``nan`` where not reached.

    ``x``, ``y``, ``z`` of the axle centre in m; ``yaw``, ``roll``, ``pitch`` in rad. ``reached`` marks stations
    connected to ride height. ``residual`` is the largest bar length error in m (four bars) or the gradient norm of
    the weighted fit (five or more). ``limit_low`` and ``limit_high`` are how far along the sweep's own variable
    travel reaches, ``(...)``.
    """

    x: Array
    y: Array
    z: Array
    yaw: Array
    roll: Array
    pitch: Array
    reached: Flags
    residual: Array
    limit_low: Array
    limit_high: Array


def ride_pose(bars: Bars) -> Poses:
    """The pose at ride height, which needs no solving; :class:`Poses` of shape ``(*lead, 1)``.

    ``bars`` of one or many layouts.

    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> bars = Bars.of((0.0, 0.0, 0.5), frame, axle)
    >>> ride_pose(bars).z.tolist()
    [0.5]
    """
    zero = np.zeros((*bars.lead, 1))
    c = bars.centre[..., None, :]
    flat = np.zeros(bars.lead)
    return Poses(c[..., 0] + zero, c[..., 1] + zero, c[..., 2] + zero, zero, zero, zero, zero == 0.0, zero, flat, flat)
