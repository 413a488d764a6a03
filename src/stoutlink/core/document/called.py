"""What a place of a project is called, from the declarations alone: of a file that is no project yet there are only its keys."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any, Literal, get_args, get_origin

import msgspec
from msgspec import Meta, Struct

from stoutlink.core.document.paths import POINT, FieldInfo, declared, declared_info
from stoutlink.core.document.project import Project
from stoutlink.core.document.quantities import Coordinate, Frozen, Point

_UNIT = re.compile(r"_(?:n_per_m|m|pa|rad|kg|nm|mm|m3|kpa|c|j)$")


def plain_key(key: str) -> str:
    """A key without its unit and lines.

    >>> plain_key("tube_wall_m"), plain_key("notes")
    ('tube wall', 'notes')
    """
    return _UNIT.sub("", key).replace("_", " ").strip()


def field_at(parts: tuple[str, ...]) -> FieldInfo | None:
    """The number field that keys and positions lead to, whatever the lists on the way hold; ``None`` where it is none.

    >>> field_at(("rig", "wheelbase_m")).title, field_at(("rig", "weight", "items", "winch", "mass_kg")).title
    ('Wheelbase', 'Weight of the item')
    """
    owners, found = _declared_at(parts)
    if not found and any(h == Point for h in owners) and parts[-1] in ("0", "1", "2"):
        return declared_info(Coordinate, *POINT[int(parts[-1])], named=True)
    numbers = (h for h in found if get_origin(h) is not tuple)
    info = next((info for h in numbers if (info := declared_info(h, plain_key(parts[-1]))) is not None), None)
    own = any(isinstance(h, type) and issubclass(h, Frozen) and h.kind_of is not Frozen.kind_of for h in owners)
    return info if info is None or not own else msgspec.structs.replace(info, kind="number")  # the value itself says


def words_at(parts: tuple[str, ...]) -> tuple[str, ...]:
    """The words a field of choices accepts; none where any text or a number belongs.

    >>> words_at(("settings", "units"))
    ('in', 'mm')
    """
    hints = [inner for h in _declared_at(parts)[1] for inner in (h, *get_args(h))]
    words = [w for h in hints if get_origin(h) is Literal for w in get_args(h) if isinstance(w, str)]
    return tuple(dict.fromkeys(words))


def _declared_at(parts: tuple[str, ...]) -> tuple[list[Any], list[Any]]:
    """What the last of some keys and positions may stand in, and what is declared there."""
    owners: list[Any] = []
    hints: list[Any] = [Project]
    found: list[Any] = []
    for part in parts:
        owners = hints
        kinds = [h for h in hints if isinstance(h, type) and issubclass(h, Struct)]
        found = [declared(one)[part] for one in kinds if part in declared(one)]
        if not kinds and not any(h == Point for h in hints):
            found = [x for h in hints if get_origin(h) is tuple for x in get_args(h)]
        hints = [inner for h in found for inner in _inside(h)]
    return owners, found


def place_words(parts: tuple[str, ...], name_of: Callable[[tuple[str, ...]], str]) -> str:
    """A place as it is called: the field, what it is part of, and the names of what it belongs to (``name_of`` a
    beginning of the path; "" where that has none).
    """
    owners: list[str] = []
    rest: list[str] = []
    for i, part in enumerate(parts):
        name = name_of(parts[: i + 1])
        if name and part != "rig":
            owners.insert(0, name)
            rest = []
        elif i or len(parts) == 1:
            rest.append(plain_key(part))
    if not rest or (owners and rest == ["links"]):
        return " of ".join(owners) or plain_key(parts[0])
    info = field_at(parts)
    if info is not None and rest[-1].isdigit() and info.title in (title for title, _ in POINT):
        said = " ".join((*rest[:-1], info.title.lower()))
    elif info is None or rest[-1].isdigit():
        said = " ".join(rest)
    else:
        said = info.title + (f" ({' '.join(rest[:-1])})" if rest[:-1] else "")
    return f"{said} of {' of '.join(owners)}" if owners else said


def _inside(hint: Any) -> list[Any]:
    """A declaration without its range, and without "or nothing"."""
    if isinstance(hint, type) and issubclass(hint, Struct):
        return [hint]
    if get_origin(hint) is tuple:
        return [hint]
    return [inner for one in get_args(hint) if not isinstance(one, Meta) for inner in _inside(one)]
