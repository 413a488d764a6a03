"""One axle on its bars: everything that follows from where the pivots are."""

from __future__ import annotations

from functools import cached_property, lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.bar_set import bars_of, stiffness_of
from stoutlink.core.analysis.linkage.constructions import Constructions, constructions
from stoutlink.core.analysis.vehicle.anti_numbers import HEIGHT_SCHOOLS, THRUST_SCHOOLS, brake_percent, drive_percent
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.hold import require_held, side_force, smallest_singular
from stoutlink.core.mechanics.linkage.motion import Motion, motion
from stoutlink.core.mechanics.linkage.poses import Poses, ride_pose
from stoutlink.core.mechanics.linkage.position import pose, sweep
from stoutlink.core.mechanics.linkage.roll_motion import RollMotion, roll_motion
from stoutlink.core.mechanics.linkage.side_view import SideView, side_view
from stoutlink.core.mechanics.steering import kingpin_axis

Array = NDArray[np.float64]

HEAVE_STATIONS, ROLL_STATIONS, ROLL_RANGE = 121, 41, np.radians(20.0)


class Travel(Struct, frozen=True, dict=True):
    """Poses along one line of travel with what is read off them, arrays of shape ``(stations,)`` (or more axes)."""

    poses: Poses
    side: SideView
    roll: RollMotion
    pinion: Array
    """Elevation of the pinion axis from level, rad, nose up +."""
    caster: tuple[Array, Array] | None
    """Of the left and the right kingpin against the frame, rad: their inclination tilts into it in roll."""
    wheelbase_change: Array
    """At the axle centre, m, longer +."""
    wheelbase_change_left: Array
    wheelbase_change_right: Array
    lateral: Array
    """Side shift of the axle centre, m, left +."""
    rows: Array
    """Unit-bar Jacobian rows."""
    bar_error: Array

    @cached_property
    def singular(self) -> Array:
        """Smallest singular value of the bars at each pose."""
        return smallest_singular(self.rows)


class RideState(Struct, frozen=True):
    """Numbers at ride height."""

    parallel: bool
    side_view_centre: tuple[float, float] | None
    slope: float
    slope_left: float
    slope_right: float
    drive_percent: dict[str, dict[str, float]]
    brake_percent: dict[str, float]
    roll_centre_height: float
    roll_axis_point: tuple[float, float, float]
    roll_axis_direction: tuple[float, float, float]
    roll_axis_inclination: float
    roll_steer: float
    lateral_hold: float
    link_forces: tuple[float, ...]
    side_give: float
    equal_stiffness: bool
    pinion_per_metre: float
    singular: float


class AxleMotion(Struct, frozen=True, eq=False, dict=True):
    """The answer for one axle: ride height, hand constructions, heave sweep, and the roll sweep once it is asked for."""

    rig: Rig
    end: str
    layout: Layout
    centre: tuple[float, float, float]
    ride: RideState
    drawn: Constructions
    heave: Travel
    bars: Bars
    asked: tuple[float, float]
    """Travel asked for, m: (droop as a negative number, bump)."""

    @cached_property
    def roll(self) -> Travel:
        """Roll ±20° at ride height."""
        turns = np.linspace(-ROLL_RANGE, ROLL_RANGE, ROLL_STATIONS)
        return travel_of(self.rig, self.layout, self.bars, np.zeros_like(turns), turns)

    @property
    def reach(self) -> tuple[float, float]:
        """Travel reached from ride, m: (droop as a negative number, bump)."""
        p = self.heave.poses
        return float(p.limit_low), float(p.limit_high)

    @property
    def roll_reach(self) -> tuple[float, float]:
        """Roll reached at ride height, rad."""
        p = self.roll.poses
        return float(p.limit_low), float(p.limit_high)


@lru_cache(maxsize=32)
def axle_motion(
    rig: Rig,
    layout: Layout,
    joints: tuple[Joint, ...] = (),
    droop: float = 0.15,
    bump: float = 0.15,
    stations: int = HEAVE_STATIONS,
) -> AxleMotion:
    """Analyse one layout on one rig.

    Travel runs from ``droop`` m below to ``bump`` m above ride and ±20° of roll. Raises
    :class:`~stoutlink.core.errors.GeometryError` when pivots coincide or a motion is left free.
    """
    bars = bars_of(rig, layout, joints)
    where = f"layouts.{layout.id}"
    require_held(bars.rows_at_ride, f"{where} ({layout.name})")
    steps = np.linspace(-droop, bump, stations)
    twist, heave = _read(rig, layout, bars, sweep(bars, steps, np.zeros_like(steps)))
    i = int(np.argmin(np.abs(steps)))
    if abs(steps[i]) < 1e-9:  # ride height is one of the stations
        ride = _ride_state(rig, layout, joints, bars, heave, twist, i)
    else:
        twist, at_ride = _read(rig, layout, bars, ride_pose(bars))
        ride = _ride_state(rig, layout, joints, bars, at_ride, twist, 0)
    return AxleMotion(
        rig, layout.end, layout, axle_centre(rig, layout.end), ride, constructions(layout), heave, bars, (-droop, bump)
    )


def pose_at(rig: Rig, layout: Layout, joints: tuple[Joint, ...], heave: float, roll: float) -> Travel:
    """The axle at one heave (m) and roll (rad), followed from ride height; one station."""
    bars = bars_of(rig, layout, joints)
    return _read(rig, layout, bars, pose(bars, heave, roll))[1]


def travel_of(rig: Rig, layout: Layout, bars: Bars, heave: Array, roll: Array) -> Travel:
    """Sweep through ride height and read everything off."""
    return _read(rig, layout, bars, sweep(bars, heave, roll))[1]


def _read(rig: Rig, layout: Layout, bars: Bars, poses: Poses) -> tuple[Motion, Travel]:
    twist = motion(bars, poses)
    end = layout.end
    turned = rotation(poses.yaw, poses.roll, poses.pitch)
    forward = 1.0 if end == "rear" else -1.0
    axis = np.array([forward * np.cos(layout.pinion_up), 0.0, np.sin(layout.pinion_up)])
    caster = None
    if layout.caster_rad is not None:
        leans_in = 0.0 if layout.steering is None else layout.steering.kingpin_in_rad
        pins = [turned @ kingpin_axis(side, leans_in, layout.caster_rad) for side in (1.0, -1.0)]
        caster = (np.arctan2(-pins[0][..., 0], pins[0][..., 2]), np.arctan2(-pins[1][..., 0], pins[1][..., 2]))
    longer = -forward * (poses.x - bars.centre[..., None, 0])
    side = -forward * turned[..., 0, 1] * 0.5 * rig.end(end).track_m
    travel = Travel(
        poses=poses,
        side=side_view(poses, twist, end, rig.end(end).loaded, rig.end(end).track_m),
        roll=roll_motion(poses, twist),
        pinion=np.arcsin(np.clip((turned @ axis)[..., 2], -1.0, 1.0)),
        caster=caster,
        wheelbase_change=longer,
        wheelbase_change_left=longer + side,
        wheelbase_change_right=longer - side,
        lateral=poses.y - bars.centre[..., None, 1],
        rows=twist.rows,
        bar_error=twist.bar_error,
    )
    return twist, travel


def _ride_state(
    rig: Rig, layout: Layout, joints: tuple[Joint, ...], bars: Bars, at: Travel, twist: Motion, i: int
) -> RideState:
    rows = twist.rows[i]
    forces, give = side_force(rows, bars.stiffness)
    parallel = not np.isfinite(at.side.centre_x[i])
    slope = at.side.slope[i : i + 1]
    forward = 1.0 if layout.end == "rear" else -1.0
    point, direction = at.roll.axis_point[i], at.roll.axis_direction[i]
    return RideState(
        parallel=parallel,
        side_view_centre=None if parallel else (float(at.side.centre_x[i]), float(at.side.centre_z[i])),
        slope=float(slope[0]),
        slope_left=float(at.side.slope_left[i]),
        slope_right=float(at.side.slope_right[i]),
        drive_percent={
            t: {h: float(drive_percent(rig, layout.end, slope, t, h)[0]) for h in HEIGHT_SCHOOLS}
            for t in THRUST_SCHOOLS
        },
        brake_percent={h: float(brake_percent(rig, layout.end, slope, h)[0]) for h in HEIGHT_SCHOOLS},
        roll_centre_height=float(at.roll.centre_height[i]),
        roll_axis_point=(float(point[0]), float(point[1]), float(point[2])),
        roll_axis_direction=(float(direction[0]), float(direction[1]), float(direction[2])),
        roll_axis_inclination=float(at.roll.inclination[i]),
        roll_steer=float(at.roll.steer[i]),
        lateral_hold=float(np.abs(forces).max()),
        link_forces=tuple(float(f) for f in forces),
        side_give=float(give),
        equal_stiffness=stiffness_of(layout, joints)[2],
        pinion_per_metre=float(-forward * twist.heave_w[i, 1]),
        singular=float(smallest_singular(rows)),
    )
