"""Steering over the travel: both road wheels with the steering wheel held, the steering wheel with the road wheels
held, lock to lock at ride.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.analysis.linkage.steering_geometry import hands, knuckle_of, sector_of
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.steering import Steering
from stoutlink.core.mechanics.steering import Knuckle, Sector, by_sector, knuckle_turn, per_step, pitman_at, sector_for

Array = NDArray[np.float64]
LOCK_GUESS = 0.56
"""Steering lock while the axle's is not known, rad (estimate)."""
FARTHEST_SECTOR = 1.2
"""The sector is looked at to this turn each way while the box does not say, rad."""


MIDDLE = 1e-4
"""Turn of the sector over which the ratio in the middle is taken, rad."""


class Lock(Struct, frozen=True, eq=False):
    """Lock to lock at ride: sector turns ``(n,)`` rad and both wheels' δ, left +. ``ratio`` steering wheel over road
    wheel in the middle, ``turns`` of the steering wheel from lock to lock, what ends it, the wheels' angles with the
    inner one at its farthest, and the outer one's that would roll freely."""

    sector: Array
    left: Array
    right: Array
    ratio: float
    turns: float
    ended_by: str
    inner: float
    outer: float
    ideal_outer: float

    @property
    def apart(self) -> float:
        """How far the outer wheel turns more than it would to roll freely, rad; 0 is true Ackermann."""
        return self.outer - self.ideal_outer


class SteerTravel(Struct, frozen=True, eq=False):
    """Arrays as the grid: headings of the left and right wheel with the steering wheel held, and the steering wheel's
    turn that keeps the knuckle straight, rad. ``near`` is the side whose knuckle the drag link serves."""

    steering: Steering
    knuckle: Knuckle
    sector: Sector
    near: str
    delta: Array
    left: Array
    right: Array
    hands: Array
    per_step: float
    """Heading of the served wheel, half its change from 25 mm of droop to 25 mm of bump, rad."""
    roll_steer: float
    """Heading of the served wheel for a unit of roll at ride, the axle's own steer included."""
    reaches: bool
    drag_in_plan: float
    """Angle of the drag link against straight across, seen from above, rad."""
    lock: Lock | None

    @property
    def words(self) -> str:
        """What kind of drag link it is."""
        if self.steering.drag_on == "tie_rod" and self.knuckle.on_tie:
            return "drag link to the tie rod"
        return "crossover" if self.drag_in_plan < math.radians(45) else "push-pull"


def steer_travel(rig: Rig, grid: Grid, donor: DonorAxle | None) -> SteerTravel | None:
    """Steering of a front axle over its grid; ``None`` without a drag link (full hydraulic steering has none, and no
    bump steer).
    """
    layout = grid.layout
    s = layout.steering
    if s is None or s.kind != "drag_link" or layout.end != "front":
        return None
    knuckle, sector = knuckle_of(layout, s, grid.centre), sector_of(s)
    z = grid.at[..., 2]
    roll = np.broadcast_to(grid.roll[:, None], z.shape)
    i, j = grid.ride
    turn = knuckle_turn(knuckle, grid.x, grid.y, z, grid.yaw, roll, grid.pitch, (i, j))
    wheel = hands(knuckle, sector, grid.x, grid.y, z, grid.yaw, roll, grid.pitch)
    near = "left" if s.kingpin_m[1] >= 0 else "right"
    left, right = (turn.heading, turn.other_heading) if near == "left" else (turn.other_heading, turn.heading)
    column = turn.heading[:, j]
    slope = np.gradient(column, grid.roll)[i] if len(grid.roll) > 2 else math.nan
    across = abs(s.knuckle_m[1] - s.pitman_m[1])
    return SteerTravel(
        s,
        knuckle,
        sector,
        near,
        turn.delta,
        left,
        right,
        wheel,
        per_step(grid.heave, turn.heading[i]),
        float(slope),
        bool(np.isfinite(turn.delta[grid.within]).all()),
        math.atan2(abs(s.knuckle_m[0] - s.pitman_m[0]), across),
        _lock(rig, s, knuckle, sector, near, donor),
    )


def axle_lock(donor: DonorAxle | None) -> float:
    """How far the knuckles turn, rad."""
    return donor.steer_lock_rad if donor is not None and donor.steer_lock_rad is not None else LOCK_GUESS


def steer_range(found: SteerTravel | None, donor: DonorAxle | None) -> tuple[float, float]:
    """How far the served wheel turns right (−) and left, rad, before either wheel is at the axle's lock; both alike
    without a tie rod.

    The farthest of ±lock to which the tie rod takes the other wheel as well, within its own lock: halved where it
    does not (a rod may lock up before).
    """
    lock = axle_lock(donor)
    if found is None or found.knuckle.tie is None:
        return -lock, lock
    knuckle = found.knuckle

    def goes(angle: float) -> bool:
        other = float(knuckle.other_turn(np.asarray(angle)))
        return math.isfinite(other) and abs(other) <= lock

    out = []
    for way in (-lock, lock):
        inside, beyond = (1.0, 1.0) if goes(way) else (0.0, 1.0)
        for _ in range(0 if inside else 40):
            middle = 0.5 * (inside + beyond)
            inside, beyond = (middle, beyond) if goes(middle * way) else (inside, middle)
        out.append(inside * way)
    return out[0], out[1]


def _lock(rig: Rig, s: Steering, knuckle: Knuckle, sector: Sector, near: str, donor: DonorAxle | None) -> Lock | None:
    most = s.sector_turn_rad if s.sector_turn_rad is not None else FARTHEST_SECTOR
    turn = np.linspace(-most, most, 241)
    one, two = by_sector(knuckle, sector, turn)
    left, right = (one, two) if near == "left" else (two, one)
    limit = axle_lock(donor)
    good = np.isfinite(one) & np.isfinite(two)
    near_middle = by_sector(knuckle, sector, np.array([-MIDDLE, 0.0, MIDDLE]))[0]
    rate = float(near_middle[2] - near_middle[0]) / (2.0 * MIDDLE)
    if good.sum() < 5 or not math.isfinite(rate) or rate == 0.0:  # it locks up at once
        return None
    inside = good & (np.maximum(np.abs(left), np.abs(right)) <= limit)
    if not inside.any():  # a lock so small that the wheels are past it standing straight
        return None
    ways = [np.flatnonzero(inside)[[0, -1]].tolist(), np.flatnonzero(good)[[0, -1]].tolist()]
    low, high = ways[0]
    by_axle = [low > ways[1][0], high < ways[1][1]]
    ended = (
        "the axle's own stops"
        if all(by_axle)
        else "the axle's stops one way, box or rods the other"
        if any(by_axle)
        else "the box"
        if s.sector_turn_rad is not None
        else "the reach of drag link and tie rod"
    )
    stops = [_end(knuckle, sector, turn, k, step, limit) for k, step in ((low, -1), (high, 1))]
    ends = [(a, b) if near == "left" else (b, a) for _, a, b in stops]
    # the inner wheel is the one on the side turned to
    pairs = [(abs(b), abs(a)) if a + b < 0 else (abs(a), abs(b)) for a, b in ends]
    inner, outer = max(pairs)
    apart = 2.0 * abs(s.kingpin_m[1])
    ideal = math.atan(1.0 / (1.0 / math.tan(inner) + apart / rig.wheelbase_m)) if inner > 1e-6 else 0.0
    return Lock(
        turn[good],
        left[good],
        right[good],
        abs(sector.ratio / rate),
        abs(stops[1][0] - stops[0][0]) * sector.ratio / (2 * math.pi),
        ended,
        float(inner),
        float(outer),
        ideal,
    )


def _end(
    knuckle: Knuckle, sector: Sector, turn: Array, inside: int, step: int, limit: float
) -> tuple[float, float, float]:
    """Where the lock ends beyond the last station inside it: sector turn and δ of the served and the other wheel."""
    if not 0 <= inside + step < len(turn):
        one, two = by_sector(knuckle, sector, turn[[len(turn) // 2, inside]])
        return float(turn[inside]), float(one[1]), float(two[1])
    good, bad = float(turn[inside]), float(turn[inside + step])
    one = two = np.array([math.nan])
    for _ in range(4):
        tries = np.linspace(good, bad, 33)
        one, two = by_sector(knuckle, sector, tries if abs(good) < abs(bad) else tries[::-1])
        goes = np.isfinite(one) & np.isfinite(two) & (np.maximum(np.abs(one), np.abs(two)) <= limit)
        last = int(np.argmin(goes)) - 1 if not goes.all() else len(tries) - 2
        good, bad = float(tries[last]), float(tries[last + 1])
    return good, float(one[last]), float(two[last])


@lru_cache(maxsize=64)
def rods_at(found: SteerTravel, angle: float) -> dict[str, tuple[Array, Array]]:
    """Drag link and tie rod with the served wheel turned by ``angle`` rad: their ends, at ride in vehicle axes, the
    drag link's pitman end first; a pitman arm that cannot follow stays where it is."""
    delta = np.asarray(angle)
    end, _ = found.knuckle.end(delta)
    back = sector_for(found.knuckle, found.sector, end)
    pitman = pitman_at(found.knuckle, found.sector, np.nan_to_num(back))
    out = {"Drag link": (pitman, end)}
    tie = found.knuckle.tie
    if tie is not None:
        mirror = np.array([1.0, -1.0, 1.0])
        other = Knuckle(
            tie * mirror,
            tie * mirror,
            found.knuckle.kingpin * mirror,
            found.knuckle.axis * mirror,
            found.knuckle.centre,
        )
        out["Tie rod"] = (found.knuckle.turned(tie, delta), other.turned(tie * mirror, found.knuckle.other_turn(delta)))
    return out


@lru_cache(maxsize=64)
def wheel_turns(found: SteerTravel | None, angle: float) -> tuple[float, float]:
    """δ of the left and right wheel, rad, with the served one turned by ``angle``; both alike without a tie rod."""
    if found is None:
        return angle, angle
    other = float(found.knuckle.other_turn(np.asarray(angle)))
    other = other if math.isfinite(other) else angle
    return (angle, other) if found.near == "left" else (other, angle)
