"""What "find me a layout" is asked for one end: where each pivot may lie, and what the numbers shall be."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.headline import LENGTH_WANTS
from stoutlink.core.document.quantities import Frozen, Point


def _n(title: str, kind: str, low: float, high: float, text: str) -> Meta:
    return Meta(title=title, description=text, ge=low, le=high, extra={"kind": kind})


WantId = Literal[
    "drive",
    "brake",
    "roll_centre",
    "inclination",
    "steer",
    "hold",
    "pinion",
    "bind",
    "longest",
    "shortest",
    "clearance",
    "travel",
]


class PivotBox(Frozen, frozen=True, kw_only=True):
    """Where one pivot may lie, m: the link's id and its end as ``upper_left:frame``; mirrored partners follow."""

    id: Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,47}[:](frame|axle)$")]
    low_m: Point
    high_m: Point


class Want(Frozen, frozen=True, kw_only=True):
    """A wanted band for one number, in its own unit (%, part, degrees, × or m), and how much it counts."""

    id: WantId
    low: Annotated[float, _n("Wanted from", "number", -1000.0, 1000.0, "Lower end of the wanted band.")]
    high: Annotated[float, _n("Wanted to", "number", -1000.0, 1000.0, "Upper end of the wanted band.")]
    weight: Annotated[
        float, _n("Weight", "number", 0.0, 10.0, "What it counts against the others when not all can be had.")
    ] = 1.0

    def kind_of(self, key: str) -> str | None:
        """Bands of lengths are lengths."""
        return "length" if self.id in LENGTH_WANTS and key in ("low", "high") else None


class Search(Frozen, frozen=True, kw_only=True):
    """The question for one end; ``id`` is the end. Pivots without a box stay where they are."""

    id: Literal["front", "rear"]
    boxes: Annotated[tuple[PivotBox, ...], Meta(max_length=24)] = ()
    wants: Annotated[tuple[Want, ...], Meta(max_length=12)] = ()
