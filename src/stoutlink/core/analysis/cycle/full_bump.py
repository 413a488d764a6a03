"""What there is to measure with the springs out: the axle at ride, at its stops and crossed, every distance from the
travel, to be held against the tape."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.cycle.between import between, carried_between, corners_of
from stoutlink.core.analysis.cycle.grid import ROLL_RANGE, stop_spacing
from stoutlink.core.analysis.cycle.springs import spring_ends
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.survey.rail_at import rail_at
from stoutlink.core.analysis.vehicle.pinion_place import pinion_place
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.document.project import Project
from stoutlink.core.document.quantities import Point
from stoutlink.core.document.rig import Rig

TUBE_GUESS = 0.08
"""Tube of an axle that does not say, m (estimate)."""


class Measured(Struct, frozen=True):
    """One thing to measure: its id, what it is, from where to where, whether it is a ``length`` or an ``angle``, and
    its value at each pose of the sheet, m or rad (None: not reached or not known)."""

    id: str
    words: str
    how: str
    kind: str
    values: tuple[float | None, ...]


class BumpSheet(Struct, frozen=True):
    """Poses as (word, heave m, roll rad), and what is measured there."""

    poses: tuple[tuple[str, float, float], ...]
    rows: tuple[Measured, ...]


def sheet_poses(travel: AxleTravel, rig: Rig) -> tuple[tuple[str, float, float], ...]:
    """Ride, both level stops, and crossed both ways: one side at its bump stop and the other at its droop, as far as
    the travel follows."""
    grid = travel.grid
    low, high = grid.limits
    middle, part = 0.5 * (low + high), (high - low) / stop_spacing(rig, grid.layout)
    roll = min(math.asin(min(1.0, part)), float(ROLL_RANGE))
    out = [("ride", 0.0, 0.0), ("full bump", high, 0.0), ("full droop", low, 0.0)]
    for word, way in (("crossed, left up", 1.0), ("crossed, right up", -1.0)):
        tries = np.linspace(0.0, roll, 41) * way
        goes = np.isfinite(between(grid, np.full(41, middle), tries)[0]).all(axis=-1)
        last = int(np.argmin(goes)) - 1 if not goes.all() else 40
        if last > 0:
            out.append((word, middle, float(tries[last])))
    return tuple(out)


def bump_sheet(project: Project, rig: Rig, travel: AxleTravel) -> BumpSheet:
    """Everything to measure on one axle; each row says from where to where."""
    layout, donor = travel.layout, project.donor(travel.layout.end)
    make = _Sheet(travel, sheet_poses(travel, rig))
    make.rails(project, rig, donor)
    for link in layout.links:
        make.apart(f"link {link.id}", link.name, PINS, link.frame_pivot_m, link.axle_pivot_m)
    pairs: list[tuple[str, Point, Point]] = []
    if layout.shock is not None:
        pairs.append(("shock", layout.shock.frame_m, layout.shock.axle_m))
    ends = spring_ends(layout)
    if ends is not None and (layout.air is not None or (layout.spring is not None and layout.spring.kind == "coil")):
        pairs.append(("air spring" if layout.air is not None else "coil", *ends))
    for word, frame, axle in pairs:
        for side, k in SIDES:
            a, b = (frame[0], k * frame[1], frame[2]), (axle[0], k * axle[1], axle[2])
            make.apart(f"{side} {word}", f"{side.capitalize()} {word}", "Between the centres of its ends.", a, b)
    for one in (x.line for x in travel.lines):
        make.apart(f"line {one.id}", one.name, "Straight between its ends.", one.frame_m, one.far_m)
    place = None if donor is None else pinion_place(rig, donor, project.plan(layout.end), layout.pinion_up)
    if travel.shaft is not None and place is not None:
        make.apart("shaft", "Driveshaft", "Joint centre to joint centre.", travel.shaft.turns_at, place.joint)
    make.pinion()
    for side, _ in SIDES:
        make.tyre(side)
    return BumpSheet(make.poses, tuple(make.rows))


PINS = "Pin centre to pin centre."
SIDES: tuple[tuple[str, float], ...] = (("left", 1.0), ("right", -1.0))


class _Sheet:
    """The rows of a sheet as they come."""

    def __init__(self, travel: AxleTravel, poses: tuple[tuple[str, float, float], ...]) -> None:
        self.travel, self.poses = travel, poses
        self.rows: list[Measured] = []

    def put(self, name: str, words: str, how: str, values: list[float | None], kind: str = "length") -> None:
        """A row, where anything of it is known."""
        if any(v is not None for v in values):
            self.rows.append(Measured(name, words, how, kind, tuple(values)))

    def at(self, point: Point) -> list[Point | None]:
        """An axle point at every pose."""
        out: list[Point | None] = []
        for _, heave, roll in self.poses:
            p = carried_between(self.travel.grid, point, heave, roll)
            out.append((float(p[0]), float(p[1]), float(p[2])) if np.isfinite(p).all() else None)
        return out

    def apart(self, name: str, words: str, how: str, frame: Point, axle: Point) -> None:
        """A row of distances from a frame point to one of the axle."""
        self.put(name, words, how, [None if p is None else math.dist(frame, p) for p in self.at(axle)])

    def rails(self, project: Project, rig: Rig, donor: DonorAxle | None) -> None:
        """Axle to rail on both sides, and the diagonals; nothing without surveyed rails over the axle."""
        x, _, z = self.travel.grid.centre
        found = rail_at(project, x)
        if found is None:
            return
        y, rail_z = found
        under = rail_z - 0.5 * (rig.body.rail_height_m or rig.body.rail_width_m or 0.0)
        tube = donor.tube_od_m if donor is not None and donor.tube_od_m is not None else TUBE_GUESS
        wide = donor.width_m if donor is not None else None
        half = 0.5 * (wide if wide is not None else rig.end(self.travel.layout.end).track_m)
        for side, k in SIDES:
            heights = [None if top is None else under - top for top in self.tube_tops(k * y, 0.5 * tube)]
            self.put(
                f"{side} rail",
                f"{side.capitalize()} rail to tube",
                "Upright, from the rail's underside to the top of the tube below it.",
                heights,
            )
        for (side, k), (other, _) in zip(SIDES, reversed(SIDES), strict=True):
            words = f"{side.capitalize()} rail to {other} wheel face"
            how = "From the middle of the rail's height over the axle to the middle of the wheel's face."
            self.apart(f"diagonal {side}", words, how, (x, k * y, rail_z), (x, -k * half, z))

    def tube_tops(self, across: float, radius: float) -> list[float | None]:
        """Height of the axle tube's top below a point so far to the left of the rig's middle, at every pose."""
        out: list[float | None] = []
        for _, heave, roll in self.poses:
            at, turn = (v[0] for v in between(self.travel.grid, np.array([heave]), np.array([roll])))
            along = turn[:, 1]
            top = at[2] + (across - at[1]) / along[1] * along[2] + radius / math.sqrt(1.0 - along[2] ** 2)
            out.append(float(top) if math.isfinite(top) else None)
        return out

    def pinion(self) -> None:
        """How far the pinion points up."""
        layout = self.travel.layout
        forward = 1.0 if layout.end == "rear" else -1.0
        axis = np.array([forward * math.cos(layout.pinion_up), 0.0, math.sin(layout.pinion_up)])
        ups: list[float | None] = []
        for _, heave, roll in self.poses:
            turned = between(self.travel.grid, np.array([heave]), np.array([roll]))[1][0] @ axis
            ups.append(math.asin(float(turned[2])) if np.isfinite(turned).all() else None)
        self.put("pinion", "Pinion up", "Angle finder on the yoke: up from level.", ups, "angle")

    def tyre(self, side: str) -> None:
        """Distance of a tyre to what is nearest, between the nodes beside each pose; none beyond what is worked out."""
        grid, out = self.travel.grid, []
        name = f"{side.capitalize()} tyre"
        pairs = [c for c in self.travel.interference.contacts if name in (c.one, c.other) and not c.apart]
        for _, heave, roll in self.poses:
            corners = corners_of(grid, np.array([heave]), np.array([roll]))
            gaps = [
                (sum(c.room_at(int(a[0]), int(b[0])) * w[0] for a, b, w in corners if w[0] > 1e-9), c) for c in pairs
            ]
            near = [float(g) + c.wanted for g, c in gaps if math.isfinite(g) and g + c.wanted <= c.near]
            out.append(min(near) if near else None)
        self.put(
            f"{side} tyre", f"{name} to the nearest", "To whatever is nearest, over every steer from lock to lock.", out
        )
