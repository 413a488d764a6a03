"""One axle at one pose: its bodies there, and how far two of them are apart."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle import bodies
from stoutlink.core.analysis.cycle.bodies import FixedBody, Movers
from stoutlink.core.analysis.cycle.grid import Grid, stop_limits
from stoutlink.core.analysis.cycle.interference import pairs, standers
from stoutlink.core.analysis.cycle.shaft import ShaftTravel, shaft_travel
from stoutlink.core.analysis.cycle.steer import SteerTravel, steer_travel
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.linkage.leaf_axle import LeafAxle
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.geometry.convex import Body, nearest_points
from stoutlink.core.mechanics.linkage.poses import Poses

Array = NDArray[np.float64]


class Posed(Struct, frozen=True, eq=False, dict=True):
    """An axle at one place of a grid, its served wheel turned by ``steer`` rad."""

    project: Project
    rig: Rig
    grid: Grid
    place: int
    steer: float
    shaft: ShaftTravel | None
    rods: SteerTravel | None
    leaf: LeafAxle | None

    @cached_property
    def movers(self) -> Movers:
        """What moves with the axle, there."""
        return bodies.movers(
            self.project,
            self.rig,
            self.grid,
            np.array([self.place]),
            self.shaft,
            self.rods,
            self.leaf,
            np.array([self.steer]),
        )

    @cached_property
    def standers(self) -> tuple[list[FixedBody], list[FixedBody]]:
        """What stands still."""
        return standers(self.project, self.rig, self.grid.layout)

    def carry(self, point: object) -> Array:
        """Points of the axle given at ride, where they are now, ``(..., 3)`` m."""
        local = np.asarray(point, dtype=float) - np.array(self.grid.centre)
        at, turn = self.grid.at.reshape(-1, 3)[self.place], self.grid.turn.reshape(-1, 3, 3)[self.place]
        return np.asarray(at + local @ turn.T)

    def back(self, point: object) -> Array:
        """Where a point of the axle as it stands now is at ride, ``(3,)`` m."""
        at, turn = self.grid.at.reshape(-1, 3)[self.place], self.grid.turn.reshape(-1, 3, 3)[self.place]
        return np.asarray(np.array(self.grid.centre) + turn.T @ (np.asarray(point, dtype=float) - at))


class Nearest(Struct, frozen=True):
    """The nearest points of two things, ``(3,)`` m, and how far they are apart; less than 0 where they run into each
    other."""

    one: str
    other: str
    gap: float
    a: tuple[float, float, float]
    b: tuple[float, float, float]


def in_travel(project: Project, travel: AxleTravel, row: int, column: int, steer: float) -> Posed | None:
    """The axle at a pose of its travel; ``None`` where it does not get."""
    grid = travel.grid
    if not grid.reached[row, column]:
        return None
    place = row * grid.reached.shape[1] + column
    return Posed(project, grid.rig, grid, place, steer, travel.shaft, travel.steer, travel.leaf)


def standing(
    project: Project, rig: Rig, end: str, leaf: LeafAxle | None, poses: Poses | None = None, station: int = 0
) -> Posed | None:
    """The axle at ride height, or at a station of ``poses`` worked out for its layout (``None`` where it does not get),
    wheels straight. An end without a layout has its housing and tyres alone.
    """
    layout = project.layout(end)
    bare = layout is None
    if layout is None:
        layout = Layout(id="bare", name="bare", end="front" if end == "front" else "rear", links=())
    x, y, z, yaw, pitch = (rig.wheelbase_m if end == "front" else 0.0), 0.0, rig.end(end).loaded, 0.0, 0.0
    if poses is not None:
        if not poses.reached[station]:
            return None
        x, y, z, yaw, pitch = (float(v[station]) for v in (poses.x, poses.y, poses.z, poses.yaw, poses.pitch))
    one = np.ones((1, 1))
    grid = Grid(
        rig,
        layout,
        np.array([z - rig.end(end).loaded]),
        np.zeros(1),
        x * one,
        y * one,
        yaw * one,
        pitch * one,
        np.ones((1, 1), dtype=bool),
        stop_limits(layout, layout.droop_m, layout.bump_m),
    )
    donor = project.donor(end)
    shaft = None if bare else shaft_travel(rig, grid, donor, project.plan(end))
    return Posed(project, rig, grid, 0, 0.0, shaft, steer_travel(rig, grid, donor), leaf)


MOST_SHOWN = 3
"""Pairs that are shown at one pose."""


def near_pairs(travel: AxleTravel, row: int, column: int) -> tuple[tuple[str, str], ...]:
    """The pairs nearer than they should be at a pose, the worst first, at most three; else the one that is nearest."""
    if not travel.grid.within[row, column]:
        return ()
    there = [(c.room_at(row, column), c) for c in travel.interference.contacts if not c.apart]
    short = sorted((room, c.one, c.other) for room, c in there if room < 0)
    near = short[:MOST_SHOWN] or sorted((room, c.one, c.other) for room, c in there if room + c.wanted < c.near)[:1]
    return tuple((one, other) for _, one, other in near)


def nearest(posed: Posed, names: Sequence[tuple[str, str]]) -> tuple[Nearest, ...]:
    """How far pairs of things that are held against each other are apart at a pose; pairs that are not are left out. Of
    several of one name the nearest counts.
    """
    wanted = {frozenset(pair) for pair in names}
    best: dict[frozenset[str], Nearest] = {}
    for mover, body, against in pairs(posed.movers, *posed.standers) if wanted else ():
        key = frozenset((mover.name, against.name))
        if key not in wanted:
            continue
        parts: list[Body] = [p for p, _, _ in against.parts] if isinstance(against, FixedBody) else [against.body]
        for part in parts:
            gap, a, b = nearest_points(body, part)
            if key not in best or gap < best[key].gap:
                best[key] = Nearest(mover.name, against.name, gap, _point(a), _point(b))
    return tuple(best[key] for pair in names if (key := frozenset(pair)) in best)


def _point(v: Array) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])
