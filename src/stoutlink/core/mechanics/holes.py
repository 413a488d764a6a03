"""Where the holes of a bracket lie against the one in use.

Source: plane geometry.
"""

from __future__ import annotations

import math


def hole_offset(index: int, pitch: float, angle: float, radius: float | None = None) -> tuple[float, float]:
    """From hole 1 to hole ``index`` (counted from 1), m, (first axis, up), in the plane of the bracket.

    A row runs ``pitch`` apart along ``angle`` (rad, from the first axis up). A fan of ``radius`` has the pitch along
    its arc, starts along ``angle`` and bends left of it (positive turn) for a positive radius, right of it for a
    negative one. Source: arc of a circle: chord of arc s is 2R·sin(s/2R) at angle + s/2R.

    >>> [round(v, 9) for v in hole_offset(3, 0.025, math.pi / 2)]
    [0.0, 0.05]
    """
    run = (index - 1) * pitch
    if radius is None or run == 0.0:
        return run * math.cos(angle), run * math.sin(angle)
    half = run / (2.0 * radius)
    chord = 2.0 * radius * math.sin(half)
    return chord * math.cos(angle + half), chord * math.sin(angle + half)
