"""Gears: engine speed, crawl ratio, matching the ends. Rolling radius for speeds, loaded radius for forces.

Source: kinematics of gears; the speedometer and the winding-up are common practice.
"""

from __future__ import annotations

import math


def engine_rpm(speed: float, rolling_radius: float, *ratios: float) -> float:
    """Engine speed in turns a minute at a road speed: v/(2π·r_e)·60·product of ratios.

    ``speed`` m/s, ``rolling_radius`` m. Raises ``ValueError`` for a radius that is not positive. Source: definition;
    the trade's 336.135 = 63360/(60π) takes the rolling diameter in inches and mph. ``ratios``: gear, transfer case,
    axle, hub.

    >>> round(engine_rpm(26.8224, 0.45, 1.0, 4.1))
    2334
    """
    if rolling_radius <= 0:
        raise ValueError("rolling radius must be positive")
    return speed / (2 * math.pi * rolling_radius) * 60 * math.prod(ratios)


def road_speed(rpm: float, rolling_radius: float, *ratios: float) -> float:
    """Road speed in m/s at an engine speed: the inverse of :func:`engine_rpm`.

    ``rpm`` turns a minute, ``rolling_radius`` m, ``ratios`` as there.

    >>> round(road_speed(engine_rpm(20.0, 0.45, 4.1), 0.45, 4.1), 9)
    20.0
    """
    return rpm / 60 / math.prod(ratios) * 2 * math.pi * rolling_radius


def crawl_ratio(first: float, transfer_low: float, axle: float, hub: float = 1.0) -> float:
    """Engine turns for one wheel turn in first, low range: first × low × axle × hub.

    ``transfer_low`` is the transfer case's low range.

    >>> crawl_ratio(4.0, 3.0, 5.0)
    60.0
    """
    return first * transfer_low * axle * hub


def mismatch(front_ratio: float, front_rolling: float, rear_ratio: float, rear_rolling: float) -> float:
    """How much faster the front runs geared than the rear, tyres included: (i_f/r_f)/(i_r/r_r) − 1.

    Ratios must include hub gears. Above about 0.01 the transfer case winds up on a hard surface (common practice).
    ``front_ratio`` and ``rear_ratio`` of the axles, ``front_rolling`` and ``rear_rolling`` radii m.

    >>> round(100 * mismatch(37 / 9, 0.45, 41 / 10, 0.45), 2)
    0.27
    """
    return (front_ratio / front_rolling) / (rear_ratio / rear_rolling) - 1.0


def same_feel_ratio(old_ratio: float, old_rolling: float, new_rolling: float) -> float:
    """Axle ratio that keeps the old engine speed on other tyres: old × new r_e/old r_e.

    ``old_ratio`` of the axle, ``old_rolling`` and ``new_rolling`` radii m.

    >>> round(same_feel_ratio(3.73, 0.36, 0.44), 2)
    4.56
    """
    return old_ratio * new_rolling / old_rolling


def speedometer(old_ratio: float, new_ratio: float, old_rolling: float, new_rolling: float, pickup: str) -> float:
    """Indicated over true speed after a change: at the driveshaft (i_new/i_old)·(r_old/r_new), at the wheel
    r_old/r_new.

    1.05 shows five per cent too much. Raises ``ValueError`` for another ``pickup``. ``old_ratio`` and ``new_ratio``
    of the axle, ``old_rolling`` and ``new_rolling`` radii m.

    >>> round(speedometer(3.73, 4.56, 0.395, 0.46, "driveshaft"), 4), round(speedometer(3.73, 4.56, 0.395, 0.46, "wheel"), 4)
    (1.0498, 0.8587)
    """
    if pickup not in ("driveshaft", "wheel"):
        raise ValueError(pickup)
    tyre = old_rolling / new_rolling
    return tyre * new_ratio / old_ratio if pickup == "driveshaft" else tyre


def counted_ratio(pinion_turns: float, wheel_turns: float, hub: float = 1.0, *, one_wheel_held: bool = False) -> float:
    """Axle ratio from counted turns: pinion turns over wheel turns, without the hub gears; with one wheel held the
    other turns twice as far.

    Source: kinematics of an open differential, carrier speed = mean of both sides. ``pinion_turns`` and
    ``wheel_turns`` as counted.

    >>> counted_ratio(41, 10), counted_ratio(41, 20, one_wheel_held=True)
    (4.1, 4.1)
    """
    carrier = wheel_turns / 2 if one_wheel_held else wheel_turns
    return pinion_turns / carrier / hub
