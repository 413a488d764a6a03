"""What follows from where pivots and axle centre are at ride height, for many sets of bars at once.

Source: as for the side view and the roll motion.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.hold import side_force

Array = NDArray[np.float64]


def ride_shape(end: str, bars: Bars) -> dict[str, Array]:
    """Support slope, roll centre (m), roll axis inclination (rad), roll steer and sideways hold, ``(m,)`` each, of
    bars with lead ``(m,)``.

    Straight from the motion at ride height, where the axle's axes are the vehicle's: v = (x', y', 1), ω = (0, pitch',
    yaw') in heave and v = (x', y', 0), ω = (1, pitch', yaw') in roll (see side_view and roll_motion for the
    formulas). ``end`` is ``front`` or ``rear``. Raises ``numpy.linalg.LinAlgError`` where a motion is free.

    >>> frame = [(1.0, 0.5, 0.4), (1.0, -0.5, 0.4), (0.9, 0.4, 0.65), (0.9, -0.4, 0.65)]
    >>> axle = [(0.0, 0.4, 0.4), (0.0, -0.4, 0.4), (0.0, 0.1, 0.7), (0.0, -0.1, 0.7)]
    >>> bars = Bars.of((0.0, 0.0, 0.5), frame, axle)
    >>> many = Bars.of(bars.centre[None], bars.frame[None], bars.axle[None])
    >>> sorted(ride_shape("rear", many))
    ['hold', 'inclination_rad', 'roll_centre_m', 'roll_steer', 'slope']
    """
    heave, roll = bars.rates_at_ride
    slope = heave[:, 0] - heave[:, 3] * bars.centre[:, 2]
    return {
        "slope": slope if end == "front" else -slope,
        "roll_centre_m": bars.centre[:, 2] + roll[:, 1],
        "inclination_rad": np.arctan(roll[:, 2]),
        "roll_steer": roll[:, 2],
        "hold": np.abs(side_force(bars.rows_at_ride, bars.stiffness)[0]).max(axis=-1),
    }
