"""The test hill: a profile driven over slowly by the rig as it is set, what each tyre carries and grips, where it lifts, touches, tips."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.axle_springs import Axles, axle_springs, heave_rate
from stoutlink.core.analysis.cycle.behaviour import roll_stiffness
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.analysis.vehicle.stance import low_points
from stoutlink.core.catalogue.lockers import BY_ID
from stoutlink.core.document.log import Hill
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.mechanics.hill_ground import HubWay, hub_way
from stoutlink.core.mechanics.hill_statics import HillAxle, HillRig, HillRun, drive_over
from stoutlink.core.quantity.constants import GRAVITY

Array = NDArray[np.float64]
Profile = tuple[tuple[float, float], ...]
WHEELS = ("front left", "front right", "rear left", "rear right")
STATIONS = 240
ROUNDS = 3
"""Rounds of looking closer where something changes sharply."""
RUN_UP = 0.8
BEYOND = 60.0


class Touch(Struct, frozen=True):
    """A point of the underside: the least room over the ground there was, m, and where the rig was then."""

    name: str
    room: float
    at: float


class HillFound(Struct, frozen=True):
    """A setting on the hill. ``needs``: the most grip any tyre uses, at which wheel and where; ``slides``: where first more than there is;
    ``lifts``: the first wheel to lose the ground and where; ``tips``: where first a side or an end has nothing under it; ``lost``: places without
    a rest that are not tipping (it goes over them in one movement)."""

    run: HillRun
    left: Profile
    right: Profile
    friction: float
    needs: float
    needs_wheel: str
    needs_at: float
    slides: float | None
    lifts: tuple[str, float] | None
    tips: float | None
    nose_up: tuple[float, float]
    leans: tuple[float, float]
    touches: tuple[Touch, ...]
    wall: bool
    lost: int
    assumed: tuple[str, ...]

    @property
    def over(self) -> bool:
        """Whether it goes over it: it neither slides, tips, touches nor meets a wall."""
        return self.slides is None and self.tips is None and not self.wall and all(t.room > 0 for t in self.touches)


def profiles(hill: Hill, track: float = 1.0) -> tuple[Profile, Profile]:
    """Ground under the left and the right wheels, ``track`` m apart, (along, high) m; level before its first and after its last point."""
    h, long, m = hill.high_m, hill.long_m, math.tan(hill.slope_rad)
    if hill.kind == "own":
        points = sorted(hill.points, key=lambda p: p.along_m)
        return tuple((p.along_m, p.left_m) for p in points), tuple((p.along_m, p.right_m) for p in points)
    if hill.kind == "side":
        rise = math.sin(hill.slope_rad) * track
        both: Profile = ((0.0, 0.0), (long, rise), (2.0 * long, rise), (3.0 * long, 0.0))
        return both, ((0.0, 0.0), (3.0 * long, 0.0))
    if hill.kind == "grade":
        one: Profile = ((0.0, 0.0), (long, long * m), (long + BEYOND, long * m))
    elif hill.kind == "ditch":
        run = h / m if m > 0 else long
        one = ((0.0, 0.0), (run, -h), (2.0 * run, 0.0))
    else:
        count = hill.count if hill.kind == "steps" else 1
        one = tuple(p for k in range(count) for p in ((k * long, k * h), (k * long, (k + 1) * h)))
    skew = 0.0 if hill.kind == "grade" else hill.skew_m
    return one, tuple((x + skew, z) for x, z in one)


def hill_axle(rig: Rig, end: str, one: AxleTravel, carried: float, locked: bool) -> HillAxle | None:
    """An axle as it goes over the hill; ``None`` while its springs are not known. Rates are those at ride, between its stops."""
    springs, rate, roll = axle_springs(one), heave_rate(one), roll_stiffness(one)
    if springs is None or rate is None or roll is None:
        return None
    centre = one.motion.ride.roll_centre_height if one.motion is not None else one.leaf.roll_centre_line if one.leaf is not None else None  # fmt: skip
    if centre is None or not math.isfinite(centre):
        return None
    wheel, step = rig.end(end), springs.path(0.0)
    apart = (
        one.layout.leaf.spacing_m
        if one.layout.leaf is not None
        else one.layout.spring_spacing_m or 0.75 * wheel.track_m
    )
    return HillAxle(
        rig.wheelbase_m if end == "front" else 0.0, wheel.loaded, wheel.outer_track_m, wheel.unsprung * GRAVITY, carried, 2.0 * rate, roll, centre,
        max(springs.high, 1e-3), max(-springs.low, 1e-3), apart, step.slope, -step.turn, True, locked,
    )  # fmt: skip


def hill_rig(project: Project, rig: Rig, axles: Axles, locked: tuple[bool, bool]) -> HillRig | str:
    """The rig as it goes over the hill, or one sentence why not yet."""
    own = rig.front.unsprung * GRAVITY, rig.rear.unsprung * GRAVITY
    weight = rig.mass_kg * GRAVITY
    sprung = weight - sum(own)
    base = rig.wheelbase_m
    if sprung <= 0:
        return "The axles and wheels weigh as much as the rig."
    ahead = (weight * rig.cg_ahead_of_rear_m - own[0] * base) / sprung
    high = (weight * rig.cg_height_m - own[0] * rig.front.loaded - own[1] * rig.rear.loaded) / sprung
    left = effective_vehicle(project).side_offset or 0.0
    if not 0.0 < ahead < base:
        return "The sprung weight does not lie between the axles."
    carried = sprung * ahead / base, sprung * (base - ahead) / base
    found = []
    for end, load, lock in zip(("front", "rear"), carried, locked, strict=True):
        one = axles.get(end)
        axle = None if one is None else hill_axle(rig, end, one, load, lock)
        if axle is None:
            return f"The {end} axle's springs are not known yet: Travel, Springs, or leaves in Layout."
        found.append(axle)
    return HillRig(sprung, ahead, left * weight / sprung, high, found[0], found[1])


def locks(locker: str) -> bool:
    """Whether a locker of this kind holds both wheels together when it is wanted."""
    kind = BY_ID.get(locker)
    return kind is not None and kind.tie == "locked"


def drive_hill(project: Project, rig: HillRig, hill: Hill) -> HillFound:
    """Drive a rig over a hill, looking closer where something changes sharply."""
    left, right = profiles(hill, 0.5 * (rig.front.track + rig.rear.track))
    ways = tuple(hub_way(p, a.radius) for a in (rig.front, rig.rear) for p in (left, right))
    four = ways[0], ways[1], ways[2], ways[3]
    first = min(left[0][0], right[0][0])
    last = max(p[-1][0] for p in (left, right)) if hill.kind != "grade" else hill.long_m + 2.0
    at = np.linspace(first - rig.front.station - rig.front.radius - RUN_UP, last + RUN_UP, STATIONS)
    run = drive_over(rig, four, at, ROUNDS, plane=hill.kind == "side")
    return _seen(project, run, left, right, four)


def _seen(project: Project, run: HillRun, left: Profile, right: Profile, ways: Iterable[HubWay]) -> HillFound:
    used = np.where(run.rests[:, None], run.used, np.nan)
    needs, wheel, where = 0.0, "", math.nan
    if np.isfinite(used).any():
        k, w = np.unravel_index(int(np.nanargmax(used)), used.shape)
        needs, wheel, where = float(used[k, w]), WHEELS[w], float(run.at[k])
    friction = project.swap.choosing.friction
    with np.errstate(invalid="ignore"):
        slides = _first(run.at, np.asarray((used > friction).any(axis=1)))
    air = (run.normal < 1e-3 * run.rig.weight) & run.rests[:, None]
    lifts = None
    if air.any():
        row = int(air.any(axis=1).argmax())
        lifts = WHEELS[int(air[row].argmax())], float(run.at[row])
    good = run.rests
    pitch, roll = run.pitch[good], run.roll[good]
    return HillFound(
        run, left, right, friction, needs, wheel, where, slides, lifts, _first(run.at, run.tips),
        (float(pitch.min(initial=0.0)), float(pitch.max(initial=0.0))), (float(roll.min(initial=0.0)), float(roll.max(initial=0.0))),
        _touches(project, run, left, right), any(math.isfinite(w.wall) for w in ways), int((~good & ~run.tips).sum()),
        ("springs as stiff as at ride, between their stops", "tyres rigid at their loaded radius", "locked wheels use the same part of their load"),
    )  # fmt: skip


def _first(at: Array, which: NDArray[np.bool_]) -> float | None:
    return float(at[int(which.argmax())]) if which.any() else None


def _touches(project: Project, run: HillRun, left: Profile, right: Profile) -> tuple[Touch, ...]:
    """Room under the low points that are entered: over the higher of both sides' ground."""
    low = low_points(project.rig)
    out = []
    for name, point in (("front low point", low.front), ("belly", low.belly), ("rear low point", low.rear)):
        if point is None:
            continue
        x, z = run.body_point(point[0], 0.0, point[1])
        ground = np.maximum(*(np.interp(x, *np.array(p).T) for p in (left, right)))
        room = np.where(run.rests, z - ground, np.inf)
        k = int(room.argmin())
        if math.isfinite(float(room[k])):
            out.append(Touch(name, float(room[k]), float(run.at[k])))
    return tuple(out)
