"""Reaching a value in the project by its dotted path, and making the next project with another value there.

A path begins with a part of the project; the group the part stands in is not named: ``layouts.rear-a.links.lower_left``.

List items are addressed by their ``id``, items without one (coordinates, gears, curve points) by 0, 1, 2. Of what is said of
things the program makes itself (a task, a line of the parts list, its price) nothing has to be in the list before it is said:
such an item is as nobody had said anything, and comes into the list with the first value put there.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import lru_cache
from operator import attrgetter
from typing import Any, TypeVar, cast, get_args, get_origin, get_type_hints

import msgspec
from msgspec import Meta, Struct

from stoutlink.core.document.project import GROUP_OF, PARTS, Project, part_of, with_parts
from stoutlink.core.document.quantities import Coordinate, Frozen
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import Kind, show


class FieldInfo(Struct, frozen=True):
    """What a number is: title, kind for display, range in SI, help sentence, and whether it may be empty."""

    title: str
    kind: Kind
    low: float
    high: float
    help_text: str
    optional: bool
    whole: bool = False


class Gone(KeyError):
    """There is nothing, or no longer anything, at a path."""


class _Field(Struct, frozen=True):
    """One field of a kind of value: how it is read, and the kind of item where it is a list of what is said of things."""

    read: Callable[[Any], Any]
    said_of: type[Struct] | None


def get_value(root: Struct, path: str) -> Any:
    """The value at ``path`` of a project or a part of one. Raises :class:`Gone` when there is nothing there."""
    here: Any = root
    made: type[Struct] | None = None
    for part in path.split("."):
        if isinstance(here, Struct):
            field = _field(type(here), part)
            here, made = field.read(here), field.said_of
        elif made is not None and isinstance(here, tuple) and all(item.id != part for item in here):
            here, made = made(id=part), None
        else:
            here, made = _child(here, part), None
    return here


@lru_cache(maxsize=4096)
def _field(owner: type[Struct], name: str) -> _Field:
    """Raises :class:`Gone` where a kind of value has no such field."""
    hint = declared(owner).get(name)
    if hint is None:
        raise Gone(name)
    kinds = [
        k for one in (hint, *get_args(hint)) for k in get_args(one) if isinstance(k, type) and issubclass(k, Struct)
    ]
    read = attrgetter(f"{GROUP_OF[name]}.{name}" if owner is Project and name in GROUP_OF else name)
    return _Field(read, next((k for k in kinds if getattr(k, "said_of", False)), None))


Root = TypeVar("Root", bound=Struct)


def with_value(root: Root, path: str, value: Any) -> Root:
    """The next project (or part of one) with ``value`` at ``path``; everything else is shared."""
    return cast(Root, _replace(root, path.split("."), value, None))


def _child(here: Any, part: str) -> Any:
    if isinstance(here, Struct):
        return _field(type(here), part).read(here)
    if isinstance(here, tuple):
        return here[_index(here, part)]
    raise Gone(part)


def _index(items: tuple[Any, ...], part: str) -> int:
    named = bool(items) and hasattr(items[0], "id")
    if named:
        for i, item in enumerate(items):
            if item.id == part:
                return i
    elif part.isdigit() and int(part) < len(items):
        return int(part)
    raise Gone(part)


def _replace(here: Any, parts: list[str], value: Any, made: type[Struct] | None) -> Any:
    if not parts:
        return value
    if isinstance(here, tuple) and made is not None and all(item.id != parts[0] for item in here):
        return (*here, _replace(made(id=parts[0]), parts[1:], value, None))
    inner = _replace(
        _child(here, parts[0]),
        parts[1:],
        value,
        _field(type(here), parts[0]).said_of if isinstance(here, Struct) else None,
    )
    if isinstance(here, tuple):
        i = _index(here, parts[0])
        return (*here[:i], inner, *here[i + 1 :])
    if isinstance(here, Project):
        return with_parts(here, **{parts[0]: inner})
    return msgspec.structs.replace(here, **{parts[0]: inner})


def parts_of(value: Struct) -> Iterator[tuple[str, Any]]:
    """What a value holds, by the words of a path: its fields; of a project its parts, whichever group they stand in."""
    if isinstance(value, Project):
        return ((name, part_of(value, name)) for name in PARTS)
    return ((name, getattr(value, name)) for name in value.__struct_fields__)


def as_declared(root: Struct, path: str, value: Any) -> Any:
    """``value`` once it is known to be what the project declares at ``path`` (the very same one, or its plain form
    converted); raises :class:`msgspec.ValidationError`.

    >>> from stoutlink.core.document.project import Settings
    >>> as_declared(Settings(), "units", "mm")
    'mm'
    """
    owner_path, _, key = path.rpartition(".")
    owner = get_value(root, owner_path) if owner_path else root
    if isinstance(owner, Struct):
        return same_or_converted(value, declared(type(owner))[key])
    return same_or_converted(value, type(_child(owner, key)))


def same_or_converted(value: Any, hint: Any) -> Any:
    """``value`` itself when it passes as ``hint`` unchanged, so that all its parts keep their identity."""
    plain = msgspec.convert(msgspec.to_builtins(value), hint)
    return value if type(plain) is type(value) and plain == value else plain


def first_difference(one: Any, two: Any, path: str = "") -> str | None:
    """The path of the first value that differs between two projects, or parts of one; where something was added to a
    list or taken out of it, the path of that, or of the list. ``None`` when they are the same.

    >>> from stoutlink.core.document.project import Settings
    >>> first_difference(Settings(), Settings(units="mm"))
    'units'
    """
    if one is two:
        return None
    if isinstance(one, Struct) and type(one) is type(two):
        pairs = [(name, a, b) for (name, a), (_, b) in zip(parts_of(one), parts_of(two), strict=True)]
        for name, a, b in sorted(pairs, key=lambda pair: pair[0] in _BESIDE):
            found = first_difference(a, b, f"{path}.{name}" if path else name)
            if found is not None:
                return found
        return None
    if isinstance(one, tuple) and isinstance(two, tuple):
        return _first_in_lists(one, two, path)
    return None if one == two else path


_BESIDE = ("entries", "accepted")
"""What goes along with other changes, and is looked at last."""


def _first_in_lists(one: tuple[Any, ...], two: tuple[Any, ...], path: str) -> str | None:
    if one == two:
        return None
    names = [{str(getattr(item, "id", i)): item for i, item in enumerate(items)} for items in (one, two)]
    for name, item in names[1].items():
        if name not in names[0]:
            return f"{path}.{name}"
        found = first_difference(names[0][name], item, f"{path}.{name}")
        if found is not None:
            return found
    return path


_declared: dict[type[Struct], dict[str, Any]] = {}


def declared(owner: type[Struct]) -> dict[str, Any]:
    """What is declared for each field of a kind of value; of a project for each part, whichever group it stands in."""
    if owner not in _declared:
        hints = get_type_hints(owner, include_extras=True)
        if owner is Project:
            hints = {name: declared(hints[GROUP_OF[name]])[name] if name in GROUP_OF else hints[name] for name in PARTS}
        _declared[owner] = hints
    return _declared[owner]


def _meta(hint: Any) -> Meta | None:
    for one in (hint, *get_args(hint)):
        for extra in getattr(one, "__metadata__", ()):
            if isinstance(extra, Meta):
                return extra
    return None


def field_info(root: Struct, path: str) -> FieldInfo:
    """Title, kind, range and help of the number at ``path``; raises ``KeyError`` when it is not a number field."""
    owner_path, _, key = path.rpartition(".")
    owner: Any = get_value(root, owner_path) if owner_path else root
    if isinstance(owner, tuple):
        _child(owner, key)
        above, _, name = owner_path.rpartition(".")
        holder = get_value(root, above) if above else root
        if isinstance(holder, Struct):
            info = _item_info(type(holder), name, int(key), len(owner))
        else:
            info = _told_of(_item_hint(root, owner_path, int(key)), int(key), len(owner))
    else:
        kind: type[Struct] = type(owner)
        info = _info_of(kind, key)
    if info is None:
        raise KeyError(path)
    own: Any = owner.kind_of(key) if isinstance(owner, Frozen) else None
    return info if own is None else msgspec.structs.replace(info, kind=own)


@lru_cache(maxsize=4096)
def _info_of(owner: type[Struct], key: str) -> FieldInfo | None:
    return declared_info(declared(owner).get(key), key)


@lru_cache(maxsize=4096)
def _item_info(holder: type[Struct], name: str, index: int, items: int) -> FieldInfo | None:
    return _told_of(_item_of(declared(holder).get(name), index), index, items)


def _told_of(hint: Any, index: int, items: int) -> FieldInfo | None:
    """What is declared for one of so many items; a coordinate of a point is called what it is."""
    if items == 3 and hint == Coordinate:
        title, help_text = POINT[index]
        return declared_info(hint, title, help_text, named=True)
    return declared_info(hint, str(index))


def declared_info(hint: Any, title: str = "", help_text: str = "", *, named: bool = False) -> FieldInfo | None:
    """What a declaration says of a number; ``None`` where it declares none. ``title`` stands in where it has none of its
    own, or in its place where the place is ``named``."""
    meta = None if hint is None else _meta(hint)
    if meta is None or meta.ge is None or meta.le is None:
        return None
    whole = int in (hint, *get_args(hint)) or any(int in get_args(one) for one in get_args(hint))
    return FieldInfo(
        title if named else meta.title or title,
        cast(Kind, (meta.extra or {}).get("kind", "number")),
        float(meta.ge),
        float(meta.le),
        help_text or meta.description or "",
        type(None) in get_args(hint),
        whole,
    )


POINT = (
    ("Station", "How far ahead of the rear axle, level along the floor."),
    ("Side", "How far left of the centreline; right is negative."),
    ("Height", "How high above the floor."),
)


def _item_hint(root: Struct, path: str, index: int) -> Any:
    """What is declared for an item of the tuple at ``path`` (itself perhaps an item of one)."""
    owner_path, _, key = path.rpartition(".")
    owner = get_value(root, owner_path) if owner_path else root
    hint = declared(type(owner)).get(key) if isinstance(owner, Struct) else _item_hint(root, owner_path, int(key))
    return _item_of(hint, index)


def _item_of(hint: Any, index: int) -> Any:
    """What is declared for an item of a tuple, from what is declared for the tuple; raises ``KeyError`` for no tuple."""
    for one in (hint, *get_args(hint)):
        inner = one if get_origin(one) is tuple else next((x for x in get_args(one) if get_origin(x) is tuple), None)
        if inner is not None:
            items = get_args(inner)
            return items[0] if len(items) == 2 and items[1] is Ellipsis else items[index]
    raise KeyError(index)


def accept(project: Project, path: str, value: float) -> float:
    """``value`` when the field at ``path`` accepts it; raises :class:`ValueOutOfRange` naming field, value and range."""
    info = field_info(project, path)
    if info.whole and value != round(value):
        raise ValueOutOfRange(
            "D129", f"{info.title} cannot be {value:g}; a whole number from {info.low:g} to {info.high:g} is accepted."
        )
    if not info.low <= value <= info.high:
        unit = project.settings.units
        raise ValueOutOfRange(
            "D120", f"{info.title} cannot be {show(value, info.kind, unit)}; {accepted_words(info, unit)}."
        )
    return int(value) if info.whole else value


def accept_sigma(project: Project, path: str, sigma: float | None) -> float | None:
    """1 σ of the number at ``path`` when it can be meant: not negative, and the ± (95 %) no wider than all the field
    accepts; raises :class:`ValueOutOfRange` (D125)."""
    info, unit = field_info(project, path), project.settings.units
    most = info.high - info.low
    if sigma is not None and not 0.0 <= 2.0 * sigma <= most:
        shown = show(2.0 * sigma, info.kind, unit) if sigma == sigma else "that"
        raise ValueOutOfRange(
            "D125", f"{info.title} cannot be ± {shown}; accepted is from 0 to {show(most, info.kind, unit)}."
        )
    return sigma


def accepted_words(info: FieldInfo, unit: UnitSystem) -> str:
    """What the field would accept, for the end of a sentence."""
    return f"accepted is {show(info.low, info.kind, unit)} to {show(info.high, info.kind, unit)}"


def longest_list(root: Struct, path: str) -> int | None:
    """How many things the list at ``path`` may hold; ``None`` without a limit."""
    owner_path, _, key = path.rpartition(".")
    owner = get_value(root, owner_path) if owner_path else root
    meta = _meta(declared(type(owner))[key])
    return None if meta is None else meta.max_length
