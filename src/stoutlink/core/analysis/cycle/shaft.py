"""The driveshaft over travel: joint angles in space, what is left of the wave, slip, whirl, length to order."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.analysis.vehicle.pinion_place import pinion_place
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.springing import Driveshaft
from stoutlink.core.document.swap import AxlePlan, planned_gears
from stoutlink.core.mechanics.driveline import (
    equivalent_angle,
    equivalent_of_three,
    excitation,
    joint_angle,
    plane_angle,
    whirl_speed,
)

Array = NDArray[np.float64]
SHORTEST = 1e-6
"""A shaft shorter than this, m, has no direction; its joints then count as straight."""


class ShaftTravel(Struct, frozen=True, eq=False):
    """Arrays as the grid, ``nan`` where it is not reached: angles rad at the case's and the axle's joint, and at the
    carrier's (two pieces), equivalent angle rad, length m of the piece that moves. ``speed`` rad/s of the shaft at
    road speed (None: no ratio); excitations rad/s²; ``whirl`` rad/s at the longest, of the lower piece of two.
    ``turns_at`` is where the moving piece starts: the output, or the carrier's joint."""

    shaft: Driveshaft
    first: Array
    second: Array
    equivalent: Array
    length: Array
    ride: tuple[int, int]
    speed: float | None
    whirl: float
    output: tuple[float, float, float]
    joint: Array
    pinion_wanted: float
    pinion_now: float
    snout_assumed: bool
    turns_at: tuple[float, float, float]
    middle: Array | None = None
    carrier: tuple[float, float, float] | None = None
    front_length: float = 0.0

    @property
    def carrier_assumed(self) -> bool:
        """Whether the carrier bearing's place is taken half way because it is not given."""
        return self.carrier is not None and self.shaft.carrier_m is None

    @property
    def at_ride(self) -> tuple[float, float, float, float]:
        """Both angles, equivalent angle (rad) and length (m) at ride."""
        i, j = self.ride
        return float(self.first[i, j]), float(self.second[i, j]), float(self.equivalent[i, j]), float(self.length[i, j])

    @property
    def closed(self) -> float | None:
        """Length of the shaft at hand pushed all the way in, m: as measured, else from what shows at the pose said."""
        hand = self.shaft.in_hand
        if hand is None or hand.closed_m is not None or hand.showing_m is None:
            return None if hand is None else hand.closed_m
        level = self.length[self.ride[0]]
        at = {
            "taped": hand.taped_m,
            "ride": self.at_ride[3],
            "bump": _last(level[::-1]),
            "droop": _last(level),
        }[hand.shown_at]
        return None if at is None else at - hand.showing_m

    @property
    def engaged_at_ride(self) -> float | None:
        """Slip spline in mesh at ride, m: of the shaft at hand, else what is described; None while not known."""
        hand, closed = self.shaft.in_hand, self.closed
        if hand is None:
            return self.shaft.spline_m
        return None if closed is None else hand.spline_m - (self.at_ride[3] - closed)

    @property
    def inward_at_ride(self) -> float | None:
        """How far it still slides together at ride, m, by the same."""
        if self.shaft.in_hand is None:
            return self.shaft.slip_in_m
        return None if self.closed is None else self.at_ride[3] - self.closed

    @property
    def torsional(self) -> float | None:
        """Torsional excitation at ride at road speed, rad/s²."""
        return None if self.speed is None else float(excitation(np.array(self.at_ride[2]), self.speed))

    @property
    def inertia(self) -> tuple[float, float] | None:
        """Inertial excitation at ride, driving and coasting, rad/s²."""
        if self.speed is None:
            return None
        a, b, _, _ = self.at_ride
        counted = 0.0 if self.shaft.kind == "double_cardan" else a
        return float(excitation(np.array(counted), self.speed)), float(excitation(np.array(b), self.speed))

    @property
    def whirl_part(self) -> float | None:
        """Shaft speed at road speed as a part of the first bending speed."""
        return None if self.speed is None else self.speed / self.whirl


def _last(values: Array) -> float | None:
    """The first of a row that is reached; None without one."""
    known = values[np.isfinite(values)]
    return float(known[0]) if len(known) else None


def shaft_travel(rig: Rig, grid: Grid, donor: DonorAxle | None, plan: AxlePlan) -> ShaftTravel | None:
    """The driveshaft of an axle over its grid; ``None`` until the output's place and the axle's pinion offset are
    known.

    All axes point from case to axle. One cardan each end: pinion parallel to the output is wanted; a double cardan at
    the case: pinion at it, the wrap allowance down either way; two pieces: parallel to the front one. A double cardan
    counts as straight in the equivalent angle, each half at half its angle.
    """
    out = rig.drivetrain.output(grid.layout.end)
    place = None if donor is None else pinion_place(rig, donor, plan, grid.layout.pinion_up)
    if out is None or donor is None or place is None:
        return None
    shaft = grid.layout.driveshaft or Driveshaft()
    end = grid.layout.end
    back = -1.0 if end == "rear" else 1.0  # from case to axle along x
    down = rig.drivetrain.output_down(end)
    output = np.array([back * math.cos(down), 0.0, -math.sin(down)])
    joint, pinion = grid.carried(place.joint), grid.turn @ np.array(place.axis)
    i, j = grid.ride
    carrier = None
    if shaft.kind == "two_piece":
        half = 0.5 * (np.array(out) + joint[i, j])
        carrier = shaft.carrier_m or (float(half[0]), float(half[1]), float(half[2]))
    starts = np.array(out if carrier is None else carrier)
    along = joint - starts
    length = np.linalg.norm(along, axis=-1)
    axis = along / np.maximum(length, SHORTEST)[..., None]
    middle, front_length = None, 0.0
    if carrier is None:
        first, second = joint_angle(output, axis), joint_angle(axis, pinion)
        planes = plane_angle(np.broadcast_to(output, axis.shape), axis, pinion)
        equivalent = equivalent_angle(
            np.zeros_like(first) if shaft.kind == "double_cardan" else first, second, planes, shaft.yoke_rad
        )
        looks = axis[i, j]
    else:
        front = starts - np.array(out)
        front_length = float(np.linalg.norm(front))
        looks = front / front_length if front_length > 1e-6 else output
        ahead = np.broadcast_to(looks, axis.shape)
        first = np.where(grid.reached, float(joint_angle(output, looks)), np.nan)
        middle, second = joint_angle(ahead, axis), joint_angle(axis, pinion)
        turns = plane_angle(np.broadcast_to(output, axis.shape), ahead, axis), plane_angle(ahead, axis, pinion)
        equivalent = equivalent_of_three(first, middle, second, turns, shaft.yoke_rad)
    # one cardan each end wants the pinion parallel to the output, two pieces parallel to the front piece, a double
    # cardan at the joint
    elevation = down if shaft.kind == "single" else float(np.arctan2(-looks[2], np.hypot(looks[0], looks[1])))
    wanted = elevation - grid.layout.wrap_allowed * (1.0 if end == "rear" else -1.0)
    pair = planned_gears(donor, plan)
    speed = None if pair is None else rig.road_speed_m_per_s / rig.end(end).rolling * pair.ratio * donor.hub_ratio
    longest = max(float(np.nanmax(length)), front_length)
    return ShaftTravel(
        shaft,
        first / (2.0 if shaft.kind == "double_cardan" else 1.0),
        second,
        equivalent,
        length,
        grid.ride,
        speed,
        whirl_speed(longest, shaft.tube_od_m, shaft.tube_wall_m),
        out,
        joint,
        wanted,
        grid.layout.pinion_up,
        place.snout_assumed,
        out if carrier is None else carrier,
        middle,
        carrier,
        front_length,
    )
