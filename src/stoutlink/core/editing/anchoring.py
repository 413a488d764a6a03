"""Pivots put on rails: what a move binds and lets go of."""

from __future__ import annotations

from stoutlink.core.document.anchor import Across, Anchor, Up
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.quantities import Point


def put_on(layout: Layout, moved: dict[str, Point], across: Across | None, up: Up | None) -> tuple[Anchor, ...]:
    """The anchors of a layout once the frame pivots of these links are moved: bound to the faces they fell on, still
    bound where a coordinate stayed, let go where it was moved off.

    ``layout`` is the layout before the move; ``across`` and ``up`` are the faces caught, ``None`` for none.
    """
    out = {one.id: one for one in layout.anchors}
    for name, to in moved.items():
        link, key = layout.link(name), f"{name}:frame"
        if link is None:
            continue
        old, before = out.pop(key, None), link.frame_pivot_m
        kept_across = old.across if old is not None and before[1] == to[1] == old.at_m[1] else None
        kept_up = old.up if old is not None and before[2] == to[2] == old.at_m[2] else None
        now_across, now_up = across or kept_across, up or kept_up
        if now_across is not None or now_up is not None:
            out[key] = Anchor(id=key, rail="left" if to[1] >= 0 else "right", across=now_across, up=now_up, at_m=to)
    found = tuple(out.values())
    return layout.anchors if found == layout.anchors else found
