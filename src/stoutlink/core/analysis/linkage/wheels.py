"""Where a wheel stands when it is turned about its kingpin, as the axle carries it."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.rotation import about
from stoutlink.core.mechanics.steering import kingpin_axis

Array = NDArray[np.float64]
INSET_GUESS = 0.09
"""Wheel's middle to steering axis while the axle does not say, m (estimate)."""


def kingpin_of(rig: Rig, layout: Layout, donor: DonorAxle | None, side: float) -> tuple[Array, Array]:
    """A point on the steering axis of one side (+1 left) and its unit axis up, at ride, vehicle axes.

    From the layout's steering where it is given; else upright but for the caster, at the axle's kingpin inset (an
    estimate while not known).
    """
    s = layout.steering
    caster = layout.caster_rad or 0.0
    if s is not None:
        return np.array([s.kingpin_m[0], side * abs(s.kingpin_m[1]), s.kingpin_m[2]]), kingpin_axis(
            side, s.kingpin_in_rad, caster
        )
    wheel = rig.end(layout.end)
    pin = 0.5 * wheel.track_m - INSET_GUESS
    if donor is not None and donor.kingpin_inset_m is not None:
        # the wheel's face: from the track that counts, planned width and all, where the offset is known
        face = None if donor.width_m is None else 0.5 * donor.width_m
        if wheel.wheel_offset_m is not None:
            face = 0.5 * wheel.track_m - wheel.adapter_m + wheel.wheel_offset_m
        if face is not None:
            pin = face - donor.kingpin_inset_m
    return np.array([rig.wheelbase_m if layout.end == "front" else 0.0, side * pin, wheel.loaded]), kingpin_axis(
        side, 0.0, caster
    )


def wheel_at(rig: Rig, layout: Layout, donor: DonorAxle | None, side: float, angle: float) -> tuple[Array, Array]:
    """Middle of a wheel and its unit spin axis (left +) at ride, turned by ``angle`` rad about its kingpin."""
    wheel = rig.end(layout.end)
    middle = np.array([rig.wheelbase_m if layout.end == "front" else 0.0, side * 0.5 * wheel.track_m, wheel.loaded])
    spin = np.array([0.0, 1.0, 0.0])
    if layout.end == "rear" or math.isclose(angle, 0.0):
        return middle, spin
    pin, axis = kingpin_of(rig, layout, donor, side)
    turn = about(axis, angle)
    return pin + turn @ (middle - pin), turn @ spin
