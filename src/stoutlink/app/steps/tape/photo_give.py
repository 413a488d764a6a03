"""What is traced in a photo given to what it is of."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.advice.picture_rules import WHY
from stoutlink.core.analysis.survey.traced import AXES, TracedPlaces
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.plane_picture import PlanePicture
from stoutlink.core.document.project import Project
from stoutlink.core.editing.picture_edits import PivotFromPicture, Sure, solid_from, stations_from
from stoutlink.core.editing.pivots import Pivot, move, name_of, of_leaf, path_of, pivots_of, place_of
from stoutlink.core.quantity.shown import show

Give = Callable[[Workspace, PlanePicture, TracedPlaces], str | None]
"""Gives something traced away; the id of what was made of it, ``None`` where that was refused."""


def pivots_to_give(project: Project) -> Iterator[tuple[str, Layout, Pivot]]:
    """All pivots of both axles, with their words."""
    for end in ("rear", "front"):
        layout = project.layout(end)
        if layout is not None:
            for pivot in pivots_of(layout):
                yield f"{end.capitalize()}: {name_of(layout, pivot)}", layout, pivot


def to_pivot(workspace: Workspace, one: PlanePicture, had: TracedPlaces, layout: Layout, pivot: Pivot) -> None:
    """Move a pivot to where it is seen, carried from the plane to its own distance across; what it takes is said."""
    at = place_of(layout, pivot, workspace.project.rig.wheelbase_m)
    if at is None:
        return
    path = path_of(layout, pivot)
    seen = workspace.study.seen_at(one.id, had.traced.pixels[0], at, path, mirrored=layout.mirrored)
    if seen.why is not None:
        workspace.said.emit(f"{name_of(layout, pivot)} cannot be had from this photo. {WHY[seen.why]}", True)
        return
    to = list(at)
    first, second = AXES[one.view]
    to[first], to[second] = seen.at
    if layout.mirrored and one.view != "side" and at[1] * to[1] < 0.0:
        to[1] = -to[1]
    noted = of_leaf(pivot) is None  # a leaf's points follow from lengths and heights: no number of theirs is this
    edit = PivotFromPicture(
        move(layout, pivot, (round(to[0], 5), round(to[1], 5), round(to[2], 5))),
        (f"{path}.{first}", f"{path}.{second}") if noted else (),
        seen.sigma if noted else (),
    )
    if workspace.do(edit):
        unit = workspace.unit
        wide = show(2.0 * max(seen.sigma), "length", unit, decimals=2 if unit == "in" else 0)
        workspace.said.emit(f"{name_of(layout, pivot)} stands where it is seen, ± {wide}.", False)


def _sure(had: TracedPlaces) -> list[Sure]:
    return [(p.at, p.sigma) for p in had.places]


def to_tape(workspace: Workspace, one: PlanePicture, had: TracedPlaces) -> str | None:
    """Put its corners among the stations; the survey's id."""
    if had.across is None:
        workspace.said.emit(WHY["no_depth"], True)
        return None
    edit = stations_from(workspace.project, one, had.traced, _sure(had), had.across, had.across_sigma)
    return edit.item.id if workspace.do(edit) else None


def to_solids(workspace: Workspace, one: PlanePicture, had: TracedPlaces) -> str | None:
    """Make it something in the way; its id."""
    if had.across is None:
        workspace.said.emit(WHY["no_depth"], True)
        return None
    new, edit = solid_from(workspace.project, one, had.traced, _sure(had), had.across)
    return new if workspace.do(edit) else None
