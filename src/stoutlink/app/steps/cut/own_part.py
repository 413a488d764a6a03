"""The fields a part of one's own has beside its sizes."""

from __future__ import annotations

from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.core.document.made_part import PART_KINDS, PART_WORDS, MadePart, PartKind

BENT: tuple[PartKind, ...] = ("guard", "perch")


def own_entries(one: MadePart | None) -> list[Entry]:
    """Name, kind, place and count of a part of one's own."""
    if one is None:
        return []
    at = f"made_parts.{one.id}"
    bend = [Entry(f"{at}.bend_rad", "bend, 90° where empty")] if one.kind in BENT else []
    holes = [] if one.kind != "truss" else [Entry(f"{at}.hole_m", "lightening hole")]
    return [
        *bend,
        *(h for h in holes if one.hole_m is None),
        Entry(f"{at}.name", "name", "text"),
        Entry(f"{at}.kind", "kind", "choice", tuple((k, PART_WORDS[k]) for k in PART_KINDS)),
        Entry(f"{at}.seat", "sits on", "choice", (("housing", "the housing"), ("frame", "the frame"))),
        Entry(
            f"{at}.plane",
            "seen flat",
            "choice",
            (("side", "in the side view"), ("rear", "from behind"), ("plan", "in plan")),
        ),
        Entry(f"{at}.at_m.0", "station"),
        Entry(f"{at}.at_m.1", "left of middle"),
        Entry(f"{at}.at_m.2", "height"),
        Entry(f"{at}.turn_rad", "turned"),
        Entry(f"{at}.mirrored", "sides", "choice", ((True, "left and right"), (False, "one"))),
        Entry(f"{at}.count", "at one place"),
    ]
