"""Tape readings to vehicle axes: the one place where station, height and spread become x, y and z.

Source: plane rotation of the frame.
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Edge = Literal["centre", "near", "far", "top", "bottom", "outside", "inside"]


def hidden_centre(reading: float, edge: Edge, width: float, *, full: bool = False) -> float:
    """Centre of a part from a reading of its edge, m; ``width`` is its diameter or width along the reading.

    ``near``/``far`` along the tape (near is toward zero), ``top``/``bottom`` for heights, ``outside``/``inside``
    sideways; a ``full`` spread from outside to outside is two half widths more than between centres. Raises
    ``ValueError`` for a width that is not positive with an edge.

    >>> hidden_centre(0.50, "top", 0.04), hidden_centre(1.00, "outside", 0.06, full=True)
    (0.48, 0.94)
    """
    if edge == "centre":
        return reading
    if not width > 0:
        raise ValueError("an edge reading needs the part's width")
    sign = {"near": 1.0, "far": -1.0, "top": -1.0, "bottom": 1.0, "outside": -1.0, "inside": 1.0}[edge]
    return reading + sign * (width if full else 0.5 * width)


def rake(front_rise: float, rear_rise: float, wheelbase: float) -> float:
    """Nose-up angle, rad, that lifts the frame by ``rear_rise`` at the rear axle and ``front_rise`` at the front:
    asin of the difference over L.

    Raises ``ValueError`` when the rises differ by the wheelbase or more.

    >>> round(rake(0.0, 0.1, 2.6), 5)
    -0.03847
    """
    part = (front_rise - rear_rise) / wheelbase
    if abs(part) >= 1.0:
        raise ValueError("the rises differ by more than the wheelbase")
    return math.asin(part)


def tape_to_vehicle(
    station: Array | float,
    height: Array | float,
    zero_x: float,
    forward: bool,
    front_rise: float,
    rear_rise: float,
    wheelbase: float,
) -> tuple[Array | float, Array | float]:
    """x and z, m, of points read at ``station`` and ``height`` (m, any shape) when the tape's zero lay at vehicle x
    ``zero_x``.

    X = zero_x ± station (+ when stations grow ``forward``), then, for a frame measured away from ride height, the
    rigid motion that lifts it by ``rear_rise`` over the rear axle and ``front_rise`` over the front one: x = X·cos ε
    − z_r·sin ε, z = X·sin ε + z_r·cos ε + rear_rise, sin ε = (front_rise − rear_rise)/L. Axle points take rises of 0.
    Source: plane geometry. ``wheelbase`` L m.

    >>> x, z = tape_to_vehicle(0.5, 0.6, 2.5, False, 0.1, 0.1, 2.5)
    >>> float(x), round(float(z), 9)
    (2.0, 0.7)
    """
    along = zero_x + (1.0 if forward else -1.0) * station
    turn = rake(front_rise, rear_rise, wheelbase)
    c, s = math.cos(turn), math.sin(turn)
    return along * c - height * s, along * s + height * c + rear_rise


def datum_of_motion(rotation: float, shift: tuple[float, float], wheelbase: float) -> tuple[float, float, float]:
    """Tape zero, front rise and rear rise, m, of a rigid motion found by fitting: the inverse of
    :func:`tape_to_vehicle`.

    ``rotation`` rad and ``shift`` m carry (±station, height) to (x, z). Raises ``ValueError`` for a quarter turn or
    more. ``wheelbase`` L m.

    >>> datum_of_motion(0.0, (2.5, 0.1), 2.5)
    (2.5, 0.1, 0.1)
    """
    if abs(rotation) >= math.pi / 2:
        raise ValueError("the fit turns the frame by a quarter turn or more")
    zero = shift[0] / math.cos(rotation)
    rear = shift[1] - zero * math.sin(rotation)
    return zero, rear + wheelbase * math.sin(rotation), rear


def mean_reading(values: tuple[float, ...], sigma: float) -> tuple[float, float, float]:
    """Mean of repeated readings, its 1 σ and their range, m. ``sigma`` is 1 σ of one reading.

    The mean of n readings has σ/√n, or the scatter seen over √n when that is larger. Raises ``ValueError`` for no
    readings. ``values`` in m.

    >>> m, s, r = mean_reading((1.000, 1.004), 0.003)
    >>> round(m, 9), round(s, 6), round(r, 9)
    (1.002, 0.002121, 0.004)
    """
    n = len(values)
    if n == 0:
        raise ValueError("nothing was read")
    mean = math.fsum(values) / n
    scatter = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (n - 1)) if n > 1 else 0.0
    return mean, max(sigma, scatter) / math.sqrt(n), max(values) - min(values)


_RANGES = (2.772, 3.314, 3.633, 3.858, 4.030, 4.170, 4.286, 4.387, 4.474, 4.552, 4.622)


def likely_range(count: int) -> float:
    """How far the largest and smallest of ``count`` readings lie apart at most, in σ of one reading, 19 times in 20.

    The 5 % points of the range of 2 to 12 normal values (studentized range with known σ, any handbook of statistics);
    beyond 12 the last value, which is a little strict. Raises ``ValueError`` for fewer than two.

    >>> likely_range(2), likely_range(3)
    (2.772, 3.314)
    """
    if count < 2:
        raise ValueError("one reading has no range")
    return _RANGES[min(count, 12) - 2]
