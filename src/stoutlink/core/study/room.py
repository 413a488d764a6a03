"""How much of its travel a layout has free, and what comes nearest on the way: of the one in use, or of one not taken yet."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.cycle.interference import Contact
from stoutlink.core.analysis.cycle.travel_map import clear_part
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import with_parts
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.study.study import Study
from stoutlink.core.study.vehicle import Going, go_on


class Room(Struct, frozen=True):
    """The nearest pair (None: nothing comes near anything) and the part of the travel within the stops that is free,
    lock to lock; ``why`` where there is no travel."""

    nearest: Contact | None
    free: float
    why: str = ""


def room_of(study: Study, end: str, *, going: Going = go_on) -> Room:
    """Of the layout in use. Raises :class:`~stoutlink.core.study.question.GivenUp`."""
    try:
        travel = study.travel(end, going=going)
    except StoutError as why:
        return Room(None, 0.0, why.sentence)
    if travel is None:
        return Room(None, 0.0, "nothing hangs this axle yet")
    found = travel.interference.contacts
    return Room(found[0] if found else None, clear_part(study.map_of(travel)))


def room_with(study: Study, layout: Layout, *, going: Going = go_on) -> Room:
    """Of a layout that is put to use at its end for this alone. Raises as :func:`room_of`."""
    project = study.project
    others = tuple(one for one in project.linkage.layouts if one.id != layout.id)
    used = {f"{layout.end}_layout": layout.id, f"{layout.end}_compare": None}
    alone = Study(with_parts(project, layouts=(*others, layout), **used))  # it pushes out nothing known
    return room_of(alone, layout.end, going=going)


def room_words(room: Room, unit: UnitSystem) -> str:
    """In a sentence."""
    if room.why:
        return f"Not cycled: {room.why}"
    free = f"{room.free:.0%} of its travel is free, lock to lock"
    if room.nearest is None:
        return f"{free}."
    gap = show(abs(room.nearest.least), "length", unit, decimals=2 if unit == "in" else 0)
    way = f"{gap} into each other" if room.nearest.least < 0 else f"{gap} apart"
    return f"{free}; nearest: {room.nearest.one} – {room.nearest.other}, {way}."
