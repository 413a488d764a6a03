"""The whole rig as closed meshes: what the tape found, both axles where they stand, their parts and welds. What is drawn
round and what goes into a CAD file is made here, from the very bodies that the travel holds against each other.
"""

from __future__ import annotations

import itertools
import math
from functools import lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.bodies import FixedBody, MovingBody, rails
from stoutlink.core.analysis.cycle.interference import WANTED
from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.analysis.linkage.part import Part, Place
from stoutlink.core.analysis.survey.clearances import VIEW_AXES, extent
from stoutlink.core.analysis.survey.mesh_place import placed_pieces
from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.analysis.vehicle.pinion_place import pinion_drawn
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.survey import BoxSolid, MeshSolid, OutlineSolid, Solid, TubeSolid
from stoutlink.core.drawing.shapes import Role
from stoutlink.core.geometry.convex import Body, Piece
from stoutlink.core.geometry.filling import filled
from stoutlink.core.geometry.mesh import Mesh, bar, capsule, mesh_of, plate, together
from stoutlink.core.geometry.pattern import Loop, points
from stoutlink.core.study.study import Study

Array = NDArray[np.float64]
FAR = 20.0
"""Things farther out than this, m, are not shown: they have a finding instead."""
FLAT = 3e-4
"""How far a cut edge's chords may stand off its arcs, m."""
BEAD_RADIUS = 0.004
"""Radius a bead is drawn with where its leg is not known, m (estimate)."""
ROLES: dict[str, Role] = {
    "upper": "link_upper", "lower": "link_lower", "arm": "link_lower", "panhard": "link_panhard", "steering": "drag_link",
    "driveshaft": "shaft", "axle": "housing", "spring": "leaf", "tyre": "tyre",
}  # fmt: skip
"""What a mover of a kind is drawn as."""


class Thing(Struct, frozen=True, eq=False):
    """One thing in the round: what it is called, what it is drawn as, whose axle's it is (empty: the rig's), its mesh,
    and what of the project it is (``links.ID`` for a link)."""

    name: str
    role: Role
    end: str
    mesh: Mesh
    subject: str = ""


def rig_things(project: Project, rig: Rig | None) -> tuple[Thing, ...]:
    """What stands still: solids, and surveyed rails where there is a rig."""
    out = [
        Thing(s.name, "room" if s.kind == "room_kept" else "solid", "", solid_mesh(s), f"solids.{s.id}")
        for s in placed_solids(project)
        if max(abs(v) for v in itertools.chain(*extent(s))) < FAR
    ]
    if rig is not None:
        out += [Thing(one.name, "rail", "", _fixed(one)) for one in rails(project, rig, WANTED)]
    return tuple(out)


def _fixed(body: FixedBody) -> Mesh:
    return together((_piece(part) for part, low, high in body.parts if max(abs(low).max(), abs(high).max()) < FAR))


def _piece(part: Body) -> Mesh:
    """A part of a rail: of round tube with fewer sides than a link, its ends lie within its neighbours."""
    if isinstance(part, Piece):
        return capsule(part.p[:, 0], part.q[:, 0], part.round, 16, 2)
    return mesh_of(part)


@lru_cache(maxsize=64)
def solid_mesh(solid: Solid) -> Mesh:
    """The surface of a solid of the survey.

    >>> tank = BoxSolid(id="t", name="Tank", kind="fuel_tank", low_m=(0.0, 0.0, 0.0), high_m=(1.0, 0.5, 0.2))
    >>> round(solid_mesh(tank).volume, 6)
    0.1
    """
    if isinstance(solid, BoxSolid):
        low, high = np.array(solid.low_m), np.array(solid.high_m)
        return bar(0.5 * (low + high), np.eye(3), 0.5 * (high - low))
    if isinstance(solid, TubeSolid):
        pieces = itertools.pairwise(np.array(solid.path_m))
        return together((capsule(u, v, 0.5 * solid.diameter_m, 16, 2) for u, v in pieces), smooth=True)
    if isinstance(solid, MeshSolid):
        return together(mesh_of(body) for body, _, _ in placed_pieces(solid))
    return _outlined(solid)


def _outlined(solid: OutlineSolid) -> Mesh:
    """An outline with its thickness."""
    _, first, second = VIEW_AXES[solid.view]
    area = filled([list(solid.outline_m)])
    if area is None:
        low, high = (np.array(v) for v in extent(solid))
        return bar(0.5 * (low + high), np.eye(3), 0.5 * (high - low))
    flat, triangles, _ = area
    both = []
    for level in (solid.low_m, solid.high_m):
        at = np.full((len(flat), 3), level)
        at[:, [first, second]] = flat
        both.append(at)
    return plate(triangles, both[0], both[1])


def axle_things(posed: Posed) -> tuple[Thing, ...]:
    """All that moves with an axle, where it stands."""
    end = posed.grid.layout.end
    by_body = {id(b): f"links.{x.id}" for b, x in zip(posed.movers.links, posed.grid.layout.links, strict=True)}
    out = [
        Thing(one.name, ROLES[one.kind], end, _mover(one), by_body.get(id(one), ""))
        for one in posed.movers.all
        if np.isfinite(one.low).all() and np.isfinite(one.high).all()
    ]
    return (*out, Thing("Pinion snout", "housing", end, _snout(posed)))


def _mover(one: MovingBody) -> Mesh:
    return mesh_of(one.body)


def _snout(posed: Posed) -> Mesh:
    """From the casting to the pinion's joint."""
    p, layout = posed.project, posed.grid.layout
    place = pinion_drawn(posed.rig, layout.end, p.donor(layout.end), p.plan(layout.end), layout.pinion_up)
    return capsule(posed.carry(place.start), posed.carry(place.joint), 0.04)


class Hung(Struct, frozen=True, eq=False):
    """A thing at ride height, and whether it moves with the axle."""

    thing: Thing
    rides: bool

    def at(self, posed: Posed) -> Thing:
        """Where it is at a pose."""
        one, mesh = self.thing, self.thing.mesh
        if not self.rides:
            return one
        moved = Mesh(posed.carry(mesh.points), mesh.triangles, mesh.groups)
        return Thing(one.name, one.role, one.end, moved, one.subject)


def part_things(study: Study, end: str) -> tuple[Hung, ...]:
    """Parts of plate where they stand at ride."""
    on_axle = {m.id for m in study.project.fabrication.made_parts if m.seat == "housing"}
    return tuple(
        Hung(
            Thing(part.name, "cut", end, mesh, f"parts.{part.id}"),
            part.id in on_axle or part.subject.endswith((" axle", " leaf")),
        )
        for part in study.parts(end)
        for mesh in part_meshes(part)
    )


@lru_cache(maxsize=48)
def part_meshes(part: Part) -> tuple[Mesh, ...]:
    """Every copy of a part that stands somewhere on the rig at ride height, the plate half to each side of its pattern;
    with its holes, unless one of them breaks out of it (which its checks say)."""
    rim = points(part.pattern.outline, FLAT)
    area = filled([rim, *(_hole(h.x, h.y, h.diameter) for h in part.pattern.holes)]) or filled([rim])
    if area is None:
        return ()
    flat, triangles, rings = area
    return tuple(_placed(flat, triangles, rings, place, part.thickness) for place in part.places)


def _hole(x: float, y: float, diameter: float) -> list[tuple[float, float]]:
    half: Loop = ((x - diameter / 2, y, -1.0), (x + diameter / 2, y, -1.0))
    return list(points(half, FLAT))


def _placed(flat: Array, triangles: NDArray[np.intp], rings: tuple[int, ...], place: Place, thick: float) -> Mesh:
    a, u = np.array(place.across), np.array(place.up)
    middle = np.array(place.origin) + flat[:, :1] * a + flat[:, 1:] * u
    off = 0.5 * thick * np.cross(a, u)
    return plate(triangles, middle - off, middle + off, rings)


def weld_things(study: Study, end: str) -> tuple[Hung, ...]:
    """The beads of the plan on the housing."""
    base = study.weld_base(end)
    if base is None or base.housing is None:
        return ()
    donor = study.project.donor(end)
    x, y, z = axle_centre(study.true.rig, end)
    centre = np.array([x, y, z + (0.0 if donor is None else donor.hub_drop_m or 0.0)])
    radius = 0.5 * base.housing.od
    out = []
    for bead in base.beads:
        thick = 0.5 * bead.seam.leg if bead.seam.leg > 0 else BEAD_RADIUS
        if bead.seam.runs == "along":
            ways = [(bead.begins, bead.around), (bead.ends, bead.around)]
        else:
            half = 0.5 * bead.length / radius
            ways = [(bead.at, bead.around + half * t) for t in np.linspace(-1.0, 1.0, 5)]
        mesh = _bead(tuple(ways), radius, thick)
        there = Mesh(mesh.points + centre, mesh.triangles, mesh.groups)
        out.append(Hung(Thing(f"Bead {bead.id}", "mark", end, there, f"welding.{end}"), True))
    return tuple(out)


@lru_cache(maxsize=1024)
def _bead(ways: tuple[tuple[float, float], ...], radius: float, thick: float) -> Mesh:
    """A bead on a tube of ``radius`` about the origin, along ways across and around it: the same until the plan moves it."""
    path = [_on_tube(at, around, radius) for at, around in ways]
    return together((capsule(a, b, thick, 6, 1) for a, b in itertools.pairwise(path)), smooth=True)


def _on_tube(at: float, around: float, radius: float) -> Array:
    return np.array([radius * math.sin(around), at, radius * math.cos(around)])
