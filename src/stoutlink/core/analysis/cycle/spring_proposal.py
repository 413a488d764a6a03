"""Shocks, springs and bars that fit an axle for a start: usual places and sizes (estimates), to be moved and measured over."""

from __future__ import annotations

import math

from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.springing import AirSpring, AntiRollBar, CarrySpring, Shock

SPARE = 0.03
"""Shock length left at both ends of the travel asked for, m."""
SETTLE = 0.18
"""A spring whose load at ride would compress it by this, m, is a start."""
SOFTEST = 5000.0
RATE_GUESS = 20000.0
"""N/m, while the load on the seat is not known."""


def shock_for(rig: Rig, layout: Layout) -> Shock:
    """A pair of shocks leaning inboard that reach over the travel asked for.

    Lengths are between pivots, rounded to the millimetre.
    """
    x, r, half = _places(rig, layout)
    toward = -1.0 if layout.end == "front" else 1.0
    low, high = (x - toward * 0.10, 0.55 * half, r + 0.04), (x - toward * 0.04, 0.45 * half, r + 0.60)
    length = math.dist(low, high)
    return Shock(
        frame_m=_round(high),
        axle_m=_round(low),
        collapsed_m=round(length - layout.bump_m - SPARE, 3),
        extended_m=round(length + layout.droop_m + SPARE, 3),
    )


def rate_for(travel: AxleTravel | None) -> float:
    """A spring rate, N/m, for the load on the seat at ride."""
    return RATE_GUESS if travel is None else round(max(SOFTEST, travel.springs.seat_load / SETTLE), -2)


def coilover_for(travel: AxleTravel | None) -> CarrySpring:
    """Coilovers on the shocks."""
    return CarrySpring(rate_n_per_m=rate_for(travel))


def coil_for(rig: Rig, layout: Layout, travel: AxleTravel | None) -> CarrySpring:
    """Coils on seats of their own."""
    frame, axle = _seats(rig, layout)
    return CarrySpring(kind="coil", frame_m=frame, axle_m=axle, rate_n_per_m=rate_for(travel))


def air_for(rig: Rig, layout: Layout) -> AirSpring:
    """Air springs on seats of their own."""
    frame, axle = _seats(rig, layout)
    return AirSpring(frame_m=frame, axle_m=axle, diameter_m=0.125, volume_m3=0.004)


def bar_for(rig: Rig, layout: Layout) -> AntiRollBar:
    """An anti-roll bar as wide as the rails usually leave room for."""
    wide = round(1.1 * _places(rig, layout)[2], 3)
    return AntiRollBar(od_m=0.028, length_m=wide, arm_m=0.30, spread_m=wide)


def _places(rig: Rig, layout: Layout) -> tuple[float, float, float]:
    """Axle station, loaded radius and half the track."""
    end = rig.end(layout.end)
    return (rig.wheelbase_m if layout.end == "front" else 0.0), end.loaded, 0.5 * end.track_m


def _seats(rig: Rig, layout: Layout) -> tuple[Point, Point]:
    x, r, half = _places(rig, layout)
    side = 0.5 * (layout.spring_spacing_m or 1.1 * half)
    return (round(x, 4), round(side, 4), round(r + 0.40, 4)), (round(x, 4), round(side, 4), round(r + 0.05, 4))


def _round(p: Point) -> Point:
    return round(p[0], 4), round(p[1], 4), round(p[2], 4)
