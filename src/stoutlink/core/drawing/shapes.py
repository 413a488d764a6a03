"""Plain shapes in metres on a view: what every painter (screen, paper, file) understands.

A view has a horizontal and a vertical coordinate: side (x, z) seen from the right, plan (x, y) from above,
rear (−y, z) from behind. ``role`` says what a line means; the painter chooses pen and colour.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Flat = tuple[float, float]
ViewName = Literal["side", "plan", "rear"]
AXES: dict[ViewName, tuple[int, int]] = {"side": (0, 2), "plan": (0, 1), "rear": (1, 2)}
"""Which coordinates of a point run across and up each view."""
SIGN: dict[ViewName, float] = {"side": 1.0, "plan": 1.0, "rear": -1.0}
"""Which way the first of them runs."""
Role = Literal[
    "ground", "tyre", "housing", "axle", "link_upper", "link_lower", "link_panhard", "link_selected", "construction", "force", "neutral",
    "roll_axis", "cg", "cg_band", "ghost", "body", "centreline", "selected", "shaft", "compared", "rail", "rail_far", "solid", "room", "tape",
    "hole", "drag_link", "arc", "load_pull", "load_push", "search_box", "lock", "leaf",
]  # fmt: skip
VIEWS: tuple[ViewName, ...] = ("side", "plan", "rear")


@dataclass(frozen=True)
class Line:
    """A polyline, or an outline when ``closed``; ``width`` m gives it body (a tube), 0 is a pen line."""

    points: tuple[Flat, ...]
    role: Role
    closed: bool = False
    width: float = 0.0


@dataclass(frozen=True)
class Oval:
    """A circle or an upright ellipse."""

    centre: Flat
    radius: Flat
    role: Role


@dataclass(frozen=True)
class Note:
    """Words at a point, in the painter's own size."""

    at: Flat
    text: str
    role: Role
    align: Literal["left", "centre", "right"] = "left"


Shape = Line | Oval | Note


def flatten(point: tuple[float, float, float], view: ViewName) -> Flat:
    """A vehicle point as it appears in a view.

    >>> flatten((1.0, 2.0, 3.0), "rear")
    (-2.0, 3.0)
    """
    x, y, z = point
    return {"side": (x, z), "plan": (x, y), "rear": (-y, z)}[view]


def box(low: Flat, high: Flat, role: Role) -> Line:
    """An upright rectangle."""
    return Line((low, (high[0], low[1]), high, (low[0], high[1])), role, closed=True)
