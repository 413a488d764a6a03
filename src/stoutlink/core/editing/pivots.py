"""What can be taken hold of in the views: link pivots, eyes and hangers of the left leaf spring, the ends of the drag link and of the left shock or spring,
each with its place, its fields and its edit.
"""

from __future__ import annotations

from stoutlink.core.document.anchor import Across, Up
from stoutlink.core.document.layout import Layout, PivotEnd
from stoutlink.core.document.leaf_eyes import LEAF_POINTS, LEAF_WORDS, LeafPoint, leaf_point
from stoutlink.core.document.project import Basis
from stoutlink.core.document.quantities import Point
from stoutlink.core.editing.edits import Edit, MovePivot
from stoutlink.core.editing.layout_edits import MoveLeaf, MovePoint

Pivot = tuple[str, PivotEnd]
DRAG_LINK = "@drag_link"
SPRINGING = {"@shock": ("shock", "Shock"), "@coil": ("spring", "Coil"), "@air": ("air", "Air spring")}
"""What stands for drag link, shock, coil and air spring among the links' ids, which cannot be spelt so; of the latter
the key in the layout and its word.
"""
_BOTH: tuple[PivotEnd, PivotEnd] = ("frame", "axle")


def pivots_of(layout: Layout) -> list[Pivot]:
    """Everything that can be taken hold of, in order."""
    out: list[Pivot] = (
        [] if layout.leaf is None else [(f"@{p}", "axle" if p == "seat" else "frame") for p in LEAF_POINTS]
    )
    out += [(link.id, which) for link in layout.links for which in _BOTH]
    if layout.steering is not None and layout.steering.kind == "drag_link":
        out += [(DRAG_LINK, which) for which in _BOTH]
    for name in SPRINGING:
        if getattr(layout, SPRINGING[name][0]) is not None:
            out += [(name, which) for which in _BOTH]
    return out


def of_link(pivot: Pivot) -> bool:
    """Whether it is a link's own, not an end of drag link, shock or spring."""
    return not pivot[0].startswith("@")


def of_leaf(pivot: Pivot) -> LeafPoint | None:
    """Which point of a leaf spring it is, if any."""
    return next((p for p in LEAF_POINTS if pivot[0] == f"@{p}"), None)


def place_of(layout: Layout, pivot: Pivot, wheelbase: float) -> Point | None:
    """Where it is at ride height, m; leaves stand about their axle, hence the ``wheelbase``."""
    leaf = of_leaf(pivot)
    if leaf is not None:
        return leaf_point(layout, leaf, wheelbase)
    if pivot[0] == DRAG_LINK:
        s = layout.steering
        return None if s is None else s.pitman_m if pivot[1] == "frame" else s.knuckle_m
    if pivot[0] in SPRINGING:
        part = getattr(layout, SPRINGING[pivot[0]][0])
        return None if part is None else part.frame_m if pivot[1] == "frame" else part.axle_m
    link = layout.link(pivot[0])
    return None if link is None else link.pivot(pivot[1])


def path_of(layout: Layout, pivot: Pivot) -> str:
    """Path of its point in the project; those of leaves have none, they follow from lengths and heights."""
    if pivot[0] == DRAG_LINK:
        return f"layouts.{layout.id}.steering.{'pitman' if pivot[1] == 'frame' else 'knuckle'}_m"
    if pivot[0] in SPRINGING:
        return f"layouts.{layout.id}.{SPRINGING[pivot[0]][0]}.{pivot[1]}_m"
    return f"layouts.{layout.id}.links.{pivot[0]}.{pivot[1]}_pivot_m"


def name_of(layout: Layout, pivot: Pivot) -> str:
    """In words."""
    leaf = of_leaf(pivot)
    if leaf is not None:
        return LEAF_WORDS[leaf]
    if pivot[0] == DRAG_LINK:
        return f"Drag link, {'pitman' if pivot[1] == 'frame' else 'knuckle'}"
    if pivot[0] in SPRINGING:
        return f"{SPRINGING[pivot[0]][1]}, {'top' if pivot[1] == 'frame' else 'foot'}"
    link = layout.link(pivot[0])
    return "" if link is None else f"{link.name}, {pivot[1]}"


def move(
    layout: Layout,
    pivot: Pivot,
    to: Point,
    gesture: str = "",
    texts: tuple[str, str, str] = ("", "", ""),
    basis: Basis = "measured",
    sigma: float | None = None,
    across: Across | None = None,
    up: Up | None = None,
) -> Edit:
    """The edit that puts it somewhere."""
    leaf = of_leaf(pivot)
    if leaf is not None:
        return MoveLeaf(layout.id, leaf, to, gesture)
    if pivot[0] == DRAG_LINK or pivot[0] in SPRINGING:
        return MovePoint(path_of(layout, pivot), to, name_of(layout, pivot).lower(), gesture)
    return MovePivot(layout.id, pivot[0], pivot[1], to, gesture, texts, basis, sigma, across, up)


def moved_along(layout: Layout, pivot: Pivot) -> set[str]:
    """Ids of the links whose pivot of that end moves with it."""
    link = layout.link(pivot[0])
    return set() if link is None else {name for name, _ in layout.moved_with(link, pivot[1])}
