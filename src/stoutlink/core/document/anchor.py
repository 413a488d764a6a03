"""What a pivot was put on: a face or the middle of a surveyed rail, so that it is known when the rail's readings move."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from stoutlink.core.document.quantities import Frozen, Point

Across = Literal["middle", "inside", "outside"]
Up = Literal["middle", "top", "bottom"]


class Anchor(Frozen, frozen=True, kw_only=True):
    """A pivot put on a rail: ``id`` is the link's id and its end as ``upper_left:frame``; which rail, which face across
    and up (``None``: not bound that way), and where the pivot was put, m. A coordinate that has been moved by hand
    since then is no longer bound."""

    id: Annotated[str, Meta(pattern="^[a-z0-9][a-z0-9_-]{0,47}[:]frame$")]
    rail: Literal["left", "right"]
    across: Across | None = None
    up: Up | None = None
    at_m: Point
