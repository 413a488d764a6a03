"""Two things in one place: solids and reserved room that run into each other."""

from __future__ import annotations

import itertools

import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.cycle.bodies import FixedBody, fixed_bodies
from stoutlink.core.document.placed_solids import placed_solids
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import Solid, SolidKind
from stoutlink.core.geometry.convex import apart

DEEP = 0.006
"""Two things less than this into each other, m, may be what tape and drawing leave open (estimate)."""
JOINED: tuple[frozenset[SolidKind], ...] = (
    frozenset(("transfer_case", "driveshaft")),
    frozenset(("transfer_case", "engine_sump")),
    frozenset(("engine_sump", "exhaust")),
    frozenset(("transfer_case", "cross_member")),
    frozenset(("driveshaft", "cross_member")),
)
"""Kinds that are bolted to or run through each other."""

MOST = 80
"""Overlaps after which no more are looked for: nobody reads them all, and hundreds of solids in one heap take minutes."""


class Overlap(Struct, frozen=True):
    """Two solids and how far they run into each other, m."""

    one: Solid
    other: Solid
    depth: float


def overlaps(project: Project) -> tuple[Overlap, ...]:
    """Every two solids, room kept included, that are in one place by more than 6 mm, the deepest first; what belongs
    together (case and shaft, engine and exhaust) left out. It ends with the first :data:`MOST` it finds.
    """
    bodies = dict(zip((s.id for s in placed_solids(project)), fixed_bodies(project), strict=True))
    out = []
    for one, other in itertools.combinations(placed_solids(project), 2):
        if frozenset((one.kind, other.kind)) in JOINED:
            continue
        depth = _depth(bodies[one.id], bodies[other.id])
        if depth > DEEP:
            out.append(Overlap(one, other, depth))
            if len(out) == MOST:
                break
    return tuple(sorted(out, key=lambda o: -o.depth))


def _depth(a: FixedBody, b: FixedBody) -> float:
    """How far the deepest parts of two bodies are into each other, m; 0 apart."""
    return max(
        (
            -float(apart(one, two, 1, 0.0)[0])
            for one, low, high in a.parts
            for two, low2, high2 in b.parts
            if not (np.any(low > high2) or np.any(low2 > high))
        ),
        default=0.0,
    )
