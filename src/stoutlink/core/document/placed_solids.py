"""What is in the way and stands somewhere: all but what was taken in from a mesh and has not been placed yet."""

from __future__ import annotations

import numpy as np
from msgspec.structs import replace

from stoutlink.core.document.placeholders import placeholder_paths
from stoutlink.core.document.project import Entry, Project
from stoutlink.core.document.survey import MeshSolid, OwnAnchor, Solid
from stoutlink.core.geometry.rigid_fit import stand
from stoutlink.core.numerics.remembering import remember_by_identity

FEWEST = 3
"""Points that say where a thing stands."""


def placed_solids(project: Project) -> tuple[Solid, ...]:
    """The solids that stand somewhere, a mesh by the points of it whose places somebody has entered; the very same values where
    nothing is open.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink")); placed_solids(p) is p.tape.solids
    True
    """
    return _placed(project.tape.solids, project.entries)


@remember_by_identity(8)
def _placed(solids: tuple[Solid, ...], entries: tuple[Entry, ...]) -> tuple[Solid, ...]:
    open_ = {path.rpartition(".")[0] for path in placeholder_paths(entries) if path.startswith("solids.")}
    if not open_:
        return solids
    out: list[Solid] = []
    for one in solids:
        known = known_anchors(one, open_) if isinstance(one, MeshSolid) else ()
        if not isinstance(one, MeshSolid) or len(known) == len(one.anchors):
            out.append(one)
        elif len(known) >= FEWEST and stand(*_points(known)) is not None:
            out.append(replace(one, anchors=known))
    return solids if len(out) == len(solids) and all(a is b for a, b in zip(out, solids, strict=True)) else tuple(out)


def known_anchors(solid: MeshSolid, open_: set[str]) -> tuple[OwnAnchor, ...]:
    """The points whose places on the rig are not among the paths that nobody has entered."""
    return tuple(a for a in solid.anchors if f"solids.{solid.id}.anchors.{a.id}.at_m" not in open_)


def _points(anchors: tuple[OwnAnchor, ...]) -> tuple[np.ndarray, np.ndarray]:
    return np.array([a.own_m for a in anchors]), np.array([a.at_m for a in anchors])
