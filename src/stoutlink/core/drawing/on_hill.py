"""The rig on the test hill in the round: body, axles and ground as the hill's run has them at one of its places."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.cycle.posed import Posed
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.log.hill import HillFound
from stoutlink.core.drawing.solids import Thing
from stoutlink.core.geometry.filling import filled
from stoutlink.core.geometry.mesh import Mesh, plate
from stoutlink.core.mechanics.hill_statics import HillRun
from stoutlink.core.study.study import Study

Array = NDArray[np.float64]
BEFORE, BELOW, BESIDE = 8.0, 0.35, 0.45
"""Ground shown before and after the hill, below its lowest place, and beyond the middle of the tyres, m."""


def ground_things(found: HillFound, half: float) -> tuple[Thing, ...]:
    """The ground under the left and the right wheels, which stand ``half`` m to each side."""
    out = []
    low = min(z for profile in (found.left, found.right) for _, z in profile) - BELOW
    for name, profile, side in (("Ground on the left", found.left, 1.0), ("Ground on the right", found.right, -1.0)):
        first, last = profile[0], profile[-1]
        ring = [
            (first[0] - BEFORE, first[1]),
            *profile,
            (last[0] + BEFORE, last[1]),
            (last[0] + BEFORE, low),
            (first[0] - BEFORE, low),
        ]
        area = filled([ring])
        if area is None:
            continue
        flat, triangles, _ = area
        edges = [
            np.column_stack([flat[:, 0], np.full(len(flat), y), flat[:, 1]]) for y in (0.0, side * (half + BESIDE))
        ]
        out.append(Thing(name, "room", "", plate(triangles, edges[0], edges[1])))
    return tuple(out)


def posed_on(study: Study, travels: Mapping[str, AxleTravel], run: HillRun, k: int) -> tuple[Posed, ...]:
    """Both axles under the body at a place of the run, each at the nearest station of its travel."""
    out = []
    for n, end in enumerate(("front", "rear")):
        g = travels[end].grid
        column = int(np.abs(g.heave + run.over[k, n]).argmin())
        row = int(np.abs(g.roll - (run.axle_roll[k, n] - run.roll[k])).argmin())
        posed = study.posed_in(travels[end], row, column, 0.0)
        if posed is not None:
            out.append(posed)
    return tuple(out)


def carried(points: Array, run: HillRun, k: int) -> Array:
    """Points of the body ``(n, 3)`` m where they are at a place of the run: along, left and up."""
    x, y, z = points.T
    s, c = np.sin(run.roll[k]), np.cos(run.roll[k])
    along, high = run.body_point_at(k, x, y, z)
    return np.column_stack([along, y * c - z * s, high])


def moved(things: tuple[Thing, ...], run: HillRun, k: int) -> tuple[Thing, ...]:
    """Things of the rig there."""
    return tuple(
        Thing(t.name, t.role, t.end, Mesh(carried(t.mesh.points, run, k), t.mesh.triangles, t.mesh.groups), t.subject)
        for t in things
    )
