"""The next gear, the next point of a torque curve, the place of an output: what is usual (estimates), to be typed over."""

from __future__ import annotations

from stoutlink.core.document.placeholders import RPM_STEP
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Drivetrain, Rig, TorquePoint

STEP = 0.75
"""A gear as a part of the one below it."""
LOWEST_RATIO = 0.3
FIRST_RPM = 1000.0
FRONT_AHEAD = 0.3
"""How far the output to the front lies ahead of the one to the rear, m (estimate)."""


def next_gear(ratios: tuple[float, ...]) -> float:
    """The ratio of one more gear on top.

    >>> next_gear((3.0, 1.6, 1.0)), next_gear((0.35,))
    (0.75, 0.3)
    """
    return round(max(LOWEST_RATIO, STEP * ratios[-1]), 2)


def next_torque_point(train: Drivetrain) -> TorquePoint:
    """One more point of the torque curve, at the torque of the last."""
    if not train.torque_curve:
        return TorquePoint(rpm=FIRST_RPM, torque_nm=0.7 * train.engine_torque_nm)
    last = train.torque_curve[-1]
    return TorquePoint(rpm=last.rpm + RPM_STEP, torque_nm=last.torque_nm)


def front_output_for(rig: Rig) -> Point:
    """Where the front's own output usually lies, m: a hand's breadth and more ahead of the rear's."""
    x, y, z = rig.drivetrain.output_m or output_for(rig)
    return round(x + FRONT_AHEAD, 3), y, z


def output_for(rig: Rig) -> Point:
    """Where the transfer case's output usually lies, m."""
    side = {"left": 0.15, "right": -0.15, "centre": 0.0}[rig.drivetrain.output_side]
    return round(0.45 * rig.wheelbase_m, 3), side, round(max(rig.front.loaded, rig.rear.loaded) + 0.1, 3)
