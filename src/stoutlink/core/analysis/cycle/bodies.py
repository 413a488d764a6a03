"""The bodies of one axle's travel: what moves with it, at every pose and steer, and what stands still."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from functools import cached_property, lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.analysis.cycle.shaft import ShaftTravel
from stoutlink.core.analysis.cycle.springs import bag_radius, both_lengths, spring_ends
from stoutlink.core.analysis.cycle.steer import SteerTravel, rods_at, steer_range, wheel_turns
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.analysis.linkage.wheels import wheel_at
from stoutlink.core.analysis.survey.clearances import VIEW_AXES, extent
from stoutlink.core.analysis.survey.mesh_place import placed_pieces
from stoutlink.core.analysis.survey.survey_points import place_survey, rail_run
from stoutlink.core.analysis.vehicle.axle_place import BELOW
from stoutlink.core.analysis.vehicle.pinion_place import pinion_offset
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.survey import BoxSolid, MeshSolid, OutlineSolid, Solid, TubeSolid
from stoutlink.core.document.swap import AxlePlan
from stoutlink.core.geometry.convex import Beam, Body, Box, Piece, Prism
from stoutlink.core.geometry.tyre_body import Tyre

Array = NDArray[np.float64]
STEERS = 5
HOUSING_GUESS, TUBE_GUESS = 0.145, 0.08
"""Radius of the centre casting and diameter of the tubes while the axle does not say, m (estimates)."""
SAME_PLACE = 0.02
"""Readings of a rail nearer to each other than this, m, are one place of it."""
RAIL_GUESS = 0.05
"""Width of a rail that nobody measured, m (estimate)."""
SHOCK_RADIUS, COILOVER_RADIUS, COIL_RADIUS = 0.03, 0.055, 0.065
"""Radius of a shock, a coilover and a coil on seats of its own, m (estimates)."""
SHAFT_FROM_CASE = 0.12
"""Part of the driveshaft next to the transfer case that is its joint and is not held against anything."""
DRAG_LINK_RADIUS = 0.019


class MovingBody(Struct, frozen=True, eq=False, dict=True):
    """One thing that moves. ``body`` at ``(3, poses)``, or at steers × poses when ``steers`` is more than 1; its
    upright bounds ``low``, ``high`` alike.
    """

    name: str
    kind: str
    body: Body
    low: Array
    high: Array
    steers: int = 1
    side: float = 0.0

    @cached_property
    def hull(self) -> tuple[Array, Array]:
        """Upright bounds over the whole travel, ``(3, 1)``."""
        return self.low.min(axis=1, keepdims=True), self.high.max(axis=1, keepdims=True)

    @cached_property
    def across(self) -> float:
        """Where it lies across the vehicle on the whole, m."""
        return float(0.5 * (self.low[1].mean() + self.high[1].mean()))


class FixedBody(Struct, frozen=True, eq=False, dict=True):
    """One thing that stands still: convex parts with their upright bounds ``(3, 1)``, bounds of the whole, the
    clearance it wants, its kind.
    """

    name: str
    kind: str
    parts: tuple[tuple[Body, Array, Array], ...]
    wanted: float

    @cached_property
    def bounds(self) -> tuple[Array, Array]:
        """Upright bounds of all of it."""
        return np.min([p[1] for p in self.parts], axis=0), np.max([p[2] for p in self.parts], axis=0)


class Movers(Struct, frozen=True, eq=False):
    """All that moves with one axle, by what it is."""

    links: list[MovingBody]
    rods: list[MovingBody]
    drive: list[MovingBody]
    axle: list[MovingBody]
    struts: list[MovingBody]
    wheels: list[MovingBody]

    @property
    def all(self) -> tuple[MovingBody, ...]:
        """Every one of them."""
        return (*self.links, *self.rods, *self.drive, *self.axle, *self.struts, *self.wheels)


Flat = Callable[[Array], Array]


def rod(name: str, kind: str, p: Array, q: Array, radius: float, steers: int = 1, side: float = 0.0) -> MovingBody:
    """A round straight mover between points ``(3, n)``."""
    return MovingBody(
        name, kind, Piece(p, q, radius), np.minimum(p, q) - radius, np.maximum(p, q) + radius, steers, side
    )


def still(point: object) -> Array:
    """A point as ``(3, 1)``."""
    return np.asarray(point, dtype=float).reshape(3, 1)


def carried(grid: Grid, keep: NDArray[np.intp]) -> Flat:
    """Axle points given at ride, at the poses kept, ``(3, poses)``."""
    at, turn = grid.at.reshape(-1, 3)[keep].T, np.moveaxis(grid.turn.reshape(-1, 3, 3)[keep], 0, -1)
    at, turn = np.ascontiguousarray(at), np.ascontiguousarray(turn)
    centre = np.array(grid.centre)

    def flat(point: Array) -> Array:
        a, b, c = np.asarray(point, dtype=float) - centre
        return np.asarray(at + turn[:, 0] * a + turn[:, 1] * b + turn[:, 2] * c)

    return flat


def spun(grid: Grid, keep: NDArray[np.intp]) -> Flat:
    """Directions given at ride, at the poses kept, ``(3, poses)``."""
    turn = np.ascontiguousarray(np.moveaxis(grid.turn.reshape(-1, 3, 3)[keep], 0, -1))
    return lambda d: np.asarray(turn[:, 0] * d[0] + turn[:, 1] * d[1] + turn[:, 2] * d[2])


def steer_angles(grid: Grid, steer: SteerTravel | None, donor: DonorAxle | None) -> Array:
    """Steers of the served wheel looked at, rad: five from lock to lock in front, straight at the rear."""
    low, high = steer_range(steer, donor)
    half = STEERS // 2
    return (
        np.concatenate([np.linspace(low, 0.0, half + 1), np.linspace(0.0, high, half + 1)[1:]])
        if grid.layout.end == "front"
        else np.zeros(1)
    )


def bars(grid: Grid, flat: Flat) -> list[MovingBody]:
    """The links."""
    return [
        rod(x.name, x.role, still(x.frame_pivot_m), flat(np.array(x.axle_pivot_m)), 0.5 * x.tube_od_m)
        for x in grid.layout.links
    ]


def steering_rods(grid: Grid, steer: SteerTravel | None, angles: Array, flat: Flat) -> list[MovingBody]:
    """Drag link and tie rod at every steer."""
    if steer is None:
        return []
    each = [rods_at(steer, float(a)) for a in angles]
    out = []
    for name in each[0]:
        p, q = (np.concatenate([self_or_carried(e[name][k], k, name, flat) for e in each], axis=1) for k in (0, 1))
        tie = steer.steering.tie_rod
        radius = DRAG_LINK_RADIUS if name == "Drag link" or tie is None else 0.5 * tie.od_m
        out.append(rod(name, "steering", p, q, radius, len(angles)))
    return out


def self_or_carried(point: Array, k: int, name: str, flat: Flat) -> Array:
    """The pitman end stands on the frame, every other end goes with the axle."""
    moved = flat(point)
    return np.broadcast_to(still(point), moved.shape) if name == "Drag link" and k == 0 else moved


def driveshaft(shaft: ShaftTravel | None, keep: NDArray[np.intp]) -> list[MovingBody]:
    """The shaft in its pieces, without the part at the case."""
    if shaft is None:
        return []
    joint = np.ascontiguousarray(shaft.joint.reshape(-1, 3)[keep].T)
    start = still(shaft.turns_at)
    out = [
        rod("Driveshaft", "driveshaft", start + SHAFT_FROM_CASE * (joint - start), joint, 0.5 * shaft.shaft.tube_od_m)
    ]
    if shaft.carrier is not None:
        case = still(shaft.output)
        first = case + SHAFT_FROM_CASE * (start - case)
        out.append(
            rod(
                "Front piece of the driveshaft",
                "driveshaft",
                first,
                np.broadcast_to(start, joint.shape),
                0.5 * shaft.shaft.tube_od_m,
            )
        )
    return out


def housing(rig: Rig, grid: Grid, donor: DonorAxle | None, plan: AxlePlan, flat: Flat) -> list[MovingBody]:
    """Tubes from wheel to wheel, a portal's its drop above the hubs, and the centre casting as a ball at the pinion's
    offset.
    """
    drop = 0.0 if donor is None else donor.hub_drop_m or 0.0
    centre, half = np.array(grid.centre) + np.array([0.0, 0.0, drop]), 0.5 * rig.end(grid.layout.end).track_m - 0.25
    tube = donor.tube_od_m if donor is not None and donor.tube_od_m is not None else TUBE_GUESS
    ball = HOUSING_GUESS
    if donor is not None and donor.ring_diameter_m is not None:
        ball = 0.5 * donor.ring_diameter_m + (donor.housing_below_m if donor.housing_below_m is not None else BELOW)
    offset = 0.0 if donor is None else pinion_offset(donor, plan) or 0.0
    left, right, middle = (flat(centre + np.array([0.0, y, 0.0])) for y in (half, -half, offset))
    return [rod("Axle tube", "axle", left, right, 0.5 * tube), rod("Centre casting", "axle", middle, middle, ball)]


def movers(
    project: Project,
    rig: Rig,
    grid: Grid,
    keep: NDArray[np.intp],
    shaft: ShaftTravel | None,
    steer: SteerTravel | None,
    leaf: LeafAxle | None,
    angles: Array,
) -> Movers:
    """What moves with an axle at the poses kept (places in the flattened grid) and the steers ``angles``, rad."""
    donor = project.donor(grid.layout.end)
    flat, turned = carried(grid, keep), spun(grid, keep)
    return Movers(
        bars(grid, flat),
        steering_rods(grid, steer, angles, flat),
        driveshaft(shaft, keep),
        housing(rig, grid, donor, project.plan(grid.layout.end), flat),
        springs(grid, leaf, flat),
        tyres(rig, grid, donor, steer, angles, flat, turned),
    )


def springs(grid: Grid, leaf: LeafAxle | None, flat: Flat) -> list[MovingBody]:
    """Shocks, coils and leaves of both sides. A leaf is two straight halves from its seat to where its eyes stand at
    ride.
    """
    layout, out = grid.layout, []
    pairs: list[tuple[str, tuple[float, ...], tuple[float, ...], float]] = []
    if layout.shock is not None:
        coilover = layout.spring is not None and layout.spring.kind == "coilover"
        pairs.append(
            (
                "coilover" if coilover else "shock",
                layout.shock.frame_m,
                layout.shock.axle_m,
                COILOVER_RADIUS if coilover else SHOCK_RADIUS,
            )
        )
    ends = spring_ends(layout)
    if ends is not None and layout.air is not None:
        known = bag_radius(layout.air, both_lengths(grid, ends)[:, grid.within])
        pairs.append(("air spring", *ends, known or max(COIL_RADIUS, 0.5 * layout.air.diameter_m)))
    elif ends is not None and layout.spring is not None and layout.spring.kind == "coil":
        pairs.append(("coil", *ends, COIL_RADIUS))
    if leaf is not None:
        x = grid.centre[0] - leaf.leaf.pin_offset_m
        seat = (x, 0.5 * leaf.leaf.spacing_m, leaf.leaf.seat_z_m)
        for word, (dx, z) in (
            ("front half of the leaf", (leaf.shape.front_x, leaf.leaf.front_eye_z_m)),
            ("rear half of the leaf", (-leaf.shape.rear_x, leaf.leaf.rear_eye_z_m)),
        ):
            pairs.append((word, (x + dx, seat[1], z), seat, 0.5 * leaf.leaf.width_m))
    for side, word in ((1.0, "Left"), (-1.0, "Right")):
        turn = np.array([1.0, side, 1.0])
        out += [
            rod(f"{word} {name}", "spring", still(np.array(a) * turn), flat(np.array(b) * turn), r, side=side)
            for name, a, b, r in pairs
        ]
    return out


def tyres(
    rig: Rig, grid: Grid, donor: DonorAxle | None, steer: SteerTravel | None, angles: Array, flat: Flat, turned: Flat
) -> list[MovingBody]:
    """The tyres at every steer, about their kingpins, the other side's by the tie rod; of two a side the inner one is
    named without more."""
    wheel = rig.end(grid.layout.end)
    tyre = Tyre(wheel.free, wheel.tread)
    out = []
    for k, (side, out_by) in itertools.product((0, 1), enumerate(wheel.abreast)):
        hand, word = ((1.0, "Left"), (-1.0, "Right"))[k]
        name = f"{word} outer tyre" if side else f"{word} tyre"
        places = [wheel_at(rig, grid.layout, donor, hand, wheel_turns(steer, float(a))[k]) for a in angles]
        places = [(p + hand * out_by * s, s) for p, s in places]
        drum = tyre.drum(
            np.concatenate([flat(p) for p, _ in places], axis=1), np.concatenate([turned(s) for _, s in places], axis=1)
        )
        size = tyre.bounds(drum.spin)
        out.append(MovingBody(name, "tyre", drum, drum.centre - size, drum.centre + size, len(angles), hand))
    return out


def fixed_bodies(project: Project) -> list[FixedBody]:
    """Every solid of the project, in convex parts."""
    return [FixedBody(solid.name, solid.kind, _parts(solid), solid.clearance_m) for solid in placed_solids(project)]


@lru_cache(maxsize=256)
def _parts(solid: Solid) -> tuple[tuple[Body, Array, Array], ...]:
    if isinstance(solid, BoxSolid):
        low, high = still(solid.low_m), still(solid.high_m)
        return ((Box(low, high), low, high),)
    if isinstance(solid, TubeSolid):
        return tuple(_capsule(still(u), still(v), 0.5 * solid.diameter_m) for u, v in itertools.pairwise(solid.path_m))
    return placed_pieces(solid) if isinstance(solid, MeshSolid) else tuple(_prisms(solid))


def _capsule(p: Array, q: Array, radius: float) -> tuple[Body, Array, Array]:
    return Piece(p, q, radius), np.minimum(p, q) - radius, np.maximum(p, q) + radius


def _prisms(solid: OutlineSolid) -> list[tuple[Body, Array, Array]]:
    """The outline cut into triangles, each with the thickness."""
    across, first, second = VIEW_AXES[solid.view]
    out: list[tuple[Body, Array, Array]] = []
    from ezdxf.math.triangulation import mapbox_earcut_2d  # noqa: PLC0415 - slow to load, for outlines alone

    for three in mapbox_earcut_2d(solid.outline_m):
        corners = np.array([(v[0], v[1]) for v in three])
        low, high = np.empty((3, 1)), np.empty((3, 1))
        low[across], high[across] = solid.low_m, solid.high_m
        low[[first, second], 0], high[[first, second], 0] = corners.min(axis=0), corners.max(axis=0)
        out.append((Prism(corners, solid.low_m, solid.high_m, across, (first, second)), low, high))
    if not out:  # an outline without area: the box around it stands for it
        low, high = (still(v) for v in extent(solid))
        out.append((Box(low, high), low, high))
    return out


def rails(project: Project, rig: Rig, wanted: float) -> list[FixedBody]:
    """The surveyed rails: bars of the rail's width and height, mitred where they bend; round where the frame is of
    tube. A height not known is taken as the width (estimate).
    """
    points = tuple(p for survey in project.tape.surveys for p in place_survey(survey, rig.wheelbase_m))
    out: list[FixedBody] = []
    for side, name in ((1.0, "Left"), (-1.0, "Right")):
        run = [p for p in rail_run(points, side) if p.z is not None and any(y * side > 0 for y in p.sides)]
        places: list[Array] = []
        widths = []
        for p in run:
            at = np.array([p.x, next(y for y in p.sides if y * side > 0), p.z])
            if not places or np.linalg.norm(at - places[-1]) > SAME_PLACE:
                places.append(at)
                widths.append(p.point.diameter_m or rig.body.rail_width_m or RAIL_GUESS)
        pieces = []
        for k, (u, v) in enumerate(itertools.pairwise(places)):
            wide = widths[k]
            if rig.body.rail_shape == "tube":
                pieces.append(_capsule(still(u), still(v), 0.5 * wide))
            else:
                size = np.array([wide, rig.body.rail_height_m or wide])
                before = places[k - 1] if k else None
                after = places[k + 2] if k + 2 < len(places) else None
                pieces.append(_bar(u, v, size, before, after))
        if pieces:
            out.append(FixedBody(f"{name} frame rail", "rail", tuple(pieces), wanted))
    return out


def _bar(u: Array, v: Array, size: Array, before: Array | None, after: Array | None) -> tuple[Body, Array, Array]:
    """One rail piece ``size`` wide and high between two places, longer at a bend by what its outer corner needs."""
    long = float(np.linalg.norm(v - u))
    along = (v - u) / long
    across = np.cross([0.0, 0.0, 1.0], along)
    across = across / np.linalg.norm(across) if np.linalg.norm(across) > 1e-9 else np.array([0.0, 1.0, 0.0])
    ways = np.stack([along, across, np.cross(along, across)])

    def mitre(turn: Array | None) -> float:
        """Half the section, seen across the bend's axis, by the tangent of half the bend."""
        if turn is None or np.linalg.norm(turn) < 1e-6:
            return 0.0
        other = turn / np.linalg.norm(turn)
        bend = float(np.arccos(np.clip(along @ other, -1.0, 1.0)))
        off = other - (along @ other) * along
        if bend < 1e-9 or np.linalg.norm(off) < 1e-12:
            return 0.0
        off /= np.linalg.norm(off)
        half = 0.5 * (size[0] * abs(off @ ways[1]) + size[1] * abs(off @ ways[2]))
        return float(half * np.tan(0.5 * min(bend, 0.5 * np.pi)))

    first, last = mitre(None if before is None else u - before), mitre(None if after is None else after - v)
    low, high = u - first * along, v + last * along
    half = np.array([0.5 * (long + first + last), 0.5 * size[0], 0.5 * size[1]])
    centre = still(0.5 * (low + high))
    reach = still(np.abs(ways.T) @ half)
    return Beam(centre, ways, half), centre - reach, centre + reach


def anti_roll_bar(layout: Layout, wanted: float) -> list[FixedBody]:
    """The part of an anti-roll bar that lies across the frame, where its place is known."""
    bar = layout.anti_roll_bar
    if bar is None or bar.station_m is None or bar.height_m is None:
        return []
    left, right = (still([bar.station_m, side * 0.5 * bar.length_m, bar.height_m]) for side in (1.0, -1.0))
    return [FixedBody("Anti-roll bar", "bar", (_capsule(left, right, 0.5 * bar.od_m),), wanted)]
