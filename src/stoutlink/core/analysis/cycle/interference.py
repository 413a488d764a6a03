"""What comes near what, at every heave, roll and steer of one axle, to a third of a millimetre where it matters."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle import bodies
from stoutlink.core.analysis.cycle.bodies import FixedBody, Movers, MovingBody
from stoutlink.core.analysis.cycle.grid import Grid
from stoutlink.core.analysis.cycle.shaft import ShaftTravel
from stoutlink.core.analysis.cycle.steer import SteerTravel
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.convex import Beam, Body, Box, Drum, Piece, apart, way_out
from stoutlink.core.geometry.many_distances import pieces_apart, pieces_to_bar

Array = NDArray[np.float64]
NEAR, BEYOND = 0.035, 0.01
"""Beyond 35 mm, and 10 mm beyond what is wanted, a lower bound stands for the distance."""
WANTED = 0.0127
"""Clearance wanted between parts that say none of their own, m (common practice: half an inch)."""
HOLDS = ("cross_member", "other")
"""Solids that may carry a spring's or a shock's frame end."""
FROM_END = 0.30
"""Part of a link next to its own bracket that is not held against what it is bracketed to."""
BRACKET = 0.12
"""Pivots nearer than this, m, share a bracket; there their links do not count as touching."""
PAIRS = (
    # movers of one kind against movers of another; which part of the first one is left out: none, its frame end, its
    # axle end
    ("link", "link"), ("link", "driveshaft"), ("link", "steering"), ("steering", "steering"), ("steering", "driveshaft"), ("link", "casting"), ("steering", "casting"),
    ("panhard", "tube"), ("steering", "tube"), ("spring", "tyre"), ("spring", "driveshaft"), ("spring", "link"), ("link", "tyre"),
)  # fmt: skip
"""Which movers are held against which: links, panhard among them, and steering rods against each other, driveshaft
and casting; what lies across the axle against its tube; springs and links against tyres."""


def near_of(wanted: float) -> float:
    """Up to which a distance is worked out exactly, m."""
    return max(NEAR, wanted + BEYOND)


class Contact(Struct, frozen=True, eq=False):
    """One pair of things: names, least distance m over all poses and where it is (heave m, roll rad, steer rad), the
    clearance wanted, and the room to spare ``(rolls, heaves)`` beyond it, the least over the steering, or one number
    ``()`` where they never come near. Distances beyond :attr:`near` are lower bounds."""

    one: str
    other: str
    least: float
    heave: float
    roll: float
    steer: float | None
    wanted: float
    room: Array

    @property
    def spare(self) -> float:
        """Least room beyond what is wanted, m; negative: too near, and below −wanted they touch."""
        return self.least - self.wanted

    def room_at(self, row: int, column: int) -> float:
        """Room to spare at one pose, m."""
        return float(self.room[row, column] if self.room.ndim else self.room)

    @property
    def apart(self) -> bool:
        """Whether they never come near, so that there is one bound for the whole travel and no place for it."""
        return self.room.ndim == 0

    @property
    def near(self) -> float:
        """Up to this the distance is exact, m."""
        return near_of(self.wanted)


class Interference(Struct, frozen=True, eq=False):
    """Every pair, nearest first, and over the grid the least room to spare and which pair has it (index, −1 where it
    is not reached).
    """

    contacts: tuple[Contact, ...]
    room: Array
    which: NDArray[np.intp]


def interference(
    project: Project,
    rig: Rig,
    grid: Grid,
    shaft: ShaftTravel | None,
    steer: SteerTravel | None,
    leaf: LeafAxle | None,
    donor: DonorAxle | None,
    going: Callable[[], bool] = lambda: True,
) -> Interference:
    """Hold everything that moves with the axle against everything else.

    Links and panhard, drag link and tie rod, driveshaft, shocks, coils, air springs and leaves (each a capsule), the
    tubes and centre casting of the axle, and its tyres, the front ones and the steering rods at five steers from lock
    to lock, against solids, frame rails, the anti-roll bar where its place is known, and each other where they do not
    share a bracket. What is bracketed to the frame is held against rails and solids without the part next to its
    bracket. Outlines count with their own shape.
    Stops early, with what it has, when ``going`` says no.
    """
    shape = grid.reached.shape
    keep = np.flatnonzero(grid.within.ravel())
    if not keep.size:  # a shackle that reaches nowhere, even at ride
        return _put_together([], shape, keep)
    angles = bodies.steer_angles(grid, steer, donor)
    moving = bodies.movers(project, rig, grid, keep, shaft, steer, leaf, angles)
    found: list[Contact] = []

    def take(one: MovingBody, other: str, gap: Array, wanted: float) -> None:
        if gap.size < keep.size:
            found.append(Contact(one.name, other, float(gap[0]), 0.0, 0.0, None, wanted, np.array(gap[0] - wanted)))
            return
        steers = gap.size // keep.size
        by_steer = gap.reshape(steers, keep.size)
        least = by_steer.min(axis=0)
        i = int(least.argmin())
        full = np.full(shape, np.nan).ravel()
        full[keep] = least - wanted
        row, column = np.unravel_index(keep[i], shape)
        turn = float(angles[int(by_steer[:, i].argmin())]) if steers > 1 else None
        found.append(
            Contact(
                one.name,
                other,
                float(least[i]),
                float(grid.heave[column]),
                float(grid.roll[row]),
                turn,
                wanted,
                full.reshape(shape),
            )
        )

    for mover, body, other in pairs(moving, *standers(project, rig, grid.layout)):
        if isinstance(other, FixedBody):
            take(mover, other.name, _to_stander(mover, body, other), other.wanted)
        else:
            take(mover, other.name, _to_mover(mover, body, other), WANTED)
        if not going():
            break
    return _put_together(found, shape, keep)


def standers(project: Project, rig: Rig, layout: Layout) -> tuple[list[FixedBody], list[FixedBody]]:
    """What stands still: the solids, and rails with the anti-roll bar."""
    frame = bodies.rails(project, rig, WANTED) + bodies.anti_roll_bar(layout, WANTED)
    return bodies.fixed_bodies(project), frame


def pairs(
    moving: Movers, solids: list[FixedBody], frame: list[FixedBody]
) -> Iterator[tuple[MovingBody, Body, FixedBody | MovingBody]]:
    """Everything that is held against something: the mover, the part of it that counts, and what it is held against."""
    for mover in moving.all:
        for solid in solids:
            if mover.kind == "driveshaft" and solid.kind in ("driveshaft", "transfer_case"):
                continue
            if solid.kind == "driveshaft" and moving.drive:
                continue  # the shaft itself, as it was measured once; the one that moves counts
            own = mover.kind == "spring" and solid.kind in HOLDS
            yield mover, _without(mover, frame=own), solid
        for rail in frame:
            if mover.kind in ("tyre", "spring") and rail.kind == "rail" and mover.name.split()[0] not in rail.name:
                continue
            own = rail.kind == "rail" and (mover in moving.links or mover.kind == "spring")
            yield mover, _without(mover, frame=own), rail
    groups: dict[str, Sequence[MovingBody]] = {
        "link": moving.links,
        "steering": moving.rods,
        "driveshaft": moving.drive,
        "casting": moving.axle[1:],
        "tube": moving.axle[:1],
        "spring": moving.struts,
        "tyre": moving.wheels,
        "panhard": [x for x in moving.links if x.kind == "panhard"],
    }
    for first, second in PAIRS:
        for a, b in (
            itertools.combinations(groups[first], 2)
            if first == second
            else itertools.product(groups[first], groups[second])
        ):
            if not _apart_by_nature(a, b):
                own = b.kind == "axle" and first != "steering"  # a link is bracketed to the axle
                yield a, _without(a, axle=own), b


def _put_together(found: list[Contact], shape: tuple[int, ...], keep: NDArray[np.intp]) -> Interference:
    if not found:
        return Interference((), np.full(shape, np.nan), np.full(shape, -1))
    ranked = sorted(found, key=lambda c: c.spare)
    rooms = np.stack([np.broadcast_to(c.room, shape).ravel() for c in ranked if c.room.ndim or c is ranked[0]])
    index = np.array([k for k, c in enumerate(ranked) if c.room.ndim or c is ranked[0]])
    room, which = np.full(rooms.shape[1], np.nan), np.full(rooms.shape[1], -1)
    inside = keep
    some = rooms[:, inside]
    which[inside] = index[some.argmin(axis=0)]
    room[inside] = some.min(axis=0)
    return Interference(tuple(ranked), room.reshape(shape), which.reshape(shape))


def _without(a: MovingBody, *, frame: bool = False, axle: bool = False) -> Body:
    """A link's body without the part next to its bracket."""
    body = a.body
    if not (frame or axle) or not isinstance(body, Piece):
        return body
    along = body.q - body.p
    return Piece(
        body.p + FROM_END * along if frame else body.p, body.q - FROM_END * along if axle else body.q, body.round
    )


def _apart_by_nature(a: MovingBody, b: MovingBody) -> bool:
    """Pairs that share a bracket or a knuckle, and those on different sides of the vehicle."""
    if b.kind == "tyre":
        return a.across * b.side < -0.05
    if isinstance(a.body, Piece) and isinstance(b.body, Piece) and b.kind != "axle":
        one, two = a.body, b.body
        fixed = one.p.shape[1] == 1 and two.p.shape[1] == 1 and float(np.linalg.norm(one.p - two.p)) < BRACKET
        n = min(one.q.shape[1], two.q.shape[1])
        return fixed or float(np.linalg.norm(one.q[:, :n] - two.q[:, :n], axis=0).min()) < BRACKET
    return False


def _between(low: Array, high: Array, low2: Array, high2: Array) -> Array:
    """Distance of upright boxes, m: never more than the true one."""
    off = np.maximum(low - high2, low2 - high)
    np.maximum(off, 0.0, out=off)
    off *= off
    return np.asarray(np.sqrt(off[0] + off[1] + off[2]))


def _to_stander(mover: MovingBody, body: Body, other: FixedBody) -> Array:
    """Least distance of a mover to any part of what stands still, ``(steers × poses,)``; one bound where they never
    come near.
    """
    limit = near_of(other.wanted)
    far = float(_between(*mover.hull, *other.bounds)[0])
    if far > limit:
        return np.array([far])
    gap = _between(mover.low, mover.high, *other.bounds)
    rows = np.flatnonzero(gap < limit)
    if not rows.size:
        return gap
    least = np.full(rows.size, np.inf)
    lows, highs = mover.low[:, rows], mover.high[:, rows]
    for part, low, high in other.parts:
        if len(other.parts) > 1 and (bound := float(_between(*mover.hull, low, high)[0])) > limit:
            np.minimum(least, bound, out=least)
            continue
        near = gap[rows] if len(other.parts) == 1 else _between(lows, highs, low, high)
        close = np.flatnonzero(near < limit)
        near[close] = _exact(body, part, rows[close], limit)
        np.minimum(least, near, out=least)
    gap[rows] = least
    return gap


def _to_mover(a: MovingBody, body: Body, b: MovingBody) -> Array:
    """Least distance of two movers, or one bound where they never come near; what does not steer is taken at every
    steer of what does.
    """
    limit = near_of(WANTED)
    far = float(_between(*a.hull, *b.hull)[0])
    if far > limit:
        return np.array([far])
    steers = max(a.steers, b.steers)
    if a.steers < steers:
        a, body = _at_every_steer(a, a.body, steers), _at_every_steer(a, body, steers).body
    if b.steers < steers:
        b = _at_every_steer(b, b.body, steers)
    gap = _between(a.low, a.high, b.low, b.high)
    rows = np.flatnonzero(gap < limit)
    gap[rows] = _exact(body, b.body, rows, limit)
    return gap


def _at_every_steer(a: MovingBody, body: Body, steers: int) -> MovingBody:
    assert isinstance(body, Piece)

    def tiled(v: Array) -> Array:
        return v if v.shape[1] == 1 else np.tile(v, steers)

    return MovingBody(
        a.name,
        a.kind,
        Piece(tiled(body.p), tiled(body.q), body.round),
        np.tile(a.low, steers),
        np.tile(a.high, steers),
        steers,
        a.side,
    )


def _exact(a: Body, b: Body, rows: NDArray[np.intp], near: float) -> Array:
    if not rows.size:
        return np.empty(0)
    if isinstance(a, Piece) and isinstance(b, Piece):
        one, two = a.some(rows), b.some(rows)
        return pieces_apart(one.p, one.q, two.p, two.q) - a.round - b.round
    if isinstance(b, Beam | Box) and isinstance(a, Piece):
        return _to_bar(a.some(rows), b.some(rows), rows.size)
    if isinstance(b, Drum):
        a, b = b, a  # fewer throws with the momentum on the simpler one
    return apart(a.some(rows), b.some(rows), rows.size, near)


def _to_bar(a: Piece, b: Beam | Box, count: int) -> Array:
    """Pieces against a rectangular body, exactly; how deep where they run through it."""
    if isinstance(b, Beam):
        ways, centre, half = b.ways, b.centre, b.half
        p, q = ways @ (a.p - centre), ways @ (a.q - centre)
    else:
        half = 0.5 * (b.high - b.low)[:, 0]
        p, q = a.p - b.middle, a.q - b.middle
    p, q = np.broadcast_to(p, (3, count)), np.broadcast_to(q, (3, count))
    out = pieces_to_bar(p, q, half)
    deep = np.flatnonzero(out <= 0.0)
    if deep.size:
        out[deep] = way_out(a.some(deep), b.some(deep), deep.size)
    return np.asarray(out - a.round - b.round)
