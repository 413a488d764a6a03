"""Pivots that were measured with the axle tacked at bump, taken to ride height along the links' own way."""

from __future__ import annotations

import math

import msgspec
import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.vehicle.axle_place import axle_centre
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.rig import Rig
from stoutlink.core.errors import GeometryError
from stoutlink.core.geometry.rotation import rotation
from stoutlink.core.mechanics.linkage.bars import Bars
from stoutlink.core.mechanics.linkage.position import sweep

STEPS, TURNS = 41, 8
"""Heaves the axle is followed over, and how often its station at bump is put right."""


class AtRide(Struct, frozen=True):
    """The layout with its axle pivots at ride height and its pinion turned as the axle turns on the way; how far the
    axle stood ahead (+) of its ride station at bump, m; ``turned`` rad, nose up +, from bump to ride; each link's
    length at ride less that at bump, m, by id (0 for bars that close exactly).
    """

    layout: Layout
    ahead_at_bump: float
    turned: float
    changes: dict[str, float]


def from_bump(rig: Rig, layout: Layout, up: float) -> AtRide:
    """Take a layout whose pivots were measured with the axle's centre ``up`` m above its ride height, square and
    centred, to ride; below 0 it was measured in droop. Frame pivots stay.

    The axle is followed along its bars from there to ride. Its station while it was measured follows from where it
    has to stand at ride. At ride it is centred and square again: bars of an unlike pair, or a panhard, then differ
    from their length at bump by what is told. Raises :class:`~stoutlink.core.errors.GeometryError` for bars that do
    not hold the axle or bind on the way.
    """
    cx, cy, cz = axle_centre(rig, layout.end)
    frame = np.array([x.frame_pivot_m for x in layout.links])
    axle = np.array([x.axle_pivot_m for x in layout.links])
    station, pitch = cx, 0.0
    for _ in range(TURNS):
        bars = Bars.of((station, cy, cz + up), frame, axle)
        way = np.linspace(-up, 0.0, STEPS) if up > 0 else np.linspace(0.0, -up, STEPS)
        at_ride = 0 if up > 0 else STEPS - 1
        poses = sweep(bars, way, np.zeros(STEPS))
        if len(layout.links) < 4 or not poses.reached[at_ride]:
            raise GeometryError(
                "G111",
                f"{layout.name}: its {len(layout.links)} bars do not take the axle from there to ride height.",
                "Look at the readings, and at the sign of the bump.",
            )
        off, pitch = float(poses.x[at_ride]) - cx, float(poses.pitch[at_ride])
        station -= off
        if abs(off) < 1e-9:
            break
    turn = rotation(np.array(0.0), np.array(0.0), np.array(pitch))
    local = axle - np.array([station, cy, cz + up])
    now = np.array([cx, cy, cz]) + local @ turn.T
    links, changes = [], {}
    for link, place, was in zip(layout.links, now, np.linalg.norm(axle - frame, axis=1), strict=True):
        x, y, z = (round(float(v), 6) for v in place)
        moved = msgspec.structs.replace(link, axle_pivot_m=(x, y, z))
        links.append(moved)
        changes[link.id] = math.dist(moved.frame_pivot_m, moved.axle_pivot_m) - float(was)
    turned = -pitch if layout.end == "rear" else pitch
    after = msgspec.structs.replace(layout, links=tuple(links), pinion_up_rad=round(layout.pinion_up_rad + turned, 6))
    return AtRide(after, station - cx, turned, changes)
