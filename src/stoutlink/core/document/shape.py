"""Whether a changed project still is what its declarations say, looked at only where it changed.

What passes here can be written to a file and read again: ranges, lengths of texts and lists, and words.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any, get_args

import msgspec
from msgspec import Struct

from stoutlink.core.document.paths import accepted_words, declared, field_info, get_value, with_value
from stoutlink.core.document.plain_words import accepted_plainly
from stoutlink.core.document.project import GROUP_OF, PARTS, Project, part_of
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.text import one_line, whole, whole_values


def in_shape(project: Project, before: Project) -> Project:
    """``project`` once every value that is not the very same one as ``before`` is one that its field takes; raises
    :class:`ValueOutOfRange` (D126) for the first that is none.

    Every half of a character in them is marked as lost: no file can hold one, and a dialog or a paste may bring it.

    >>> from stoutlink.demo import demo_file; from stoutlink.core.storage.files import read_project
    >>> p = read_project(demo_file("basalt.stoutlink")); in_shape(p, p) is p
    True
    """
    for path, value, hint in list(_changed(project, before, "")):
        plain = msgspec.to_builtins(value)
        halves = _has_halves(plain)
        try:
            taken = msgspec.convert(whole_values(plain) if halves else plain, hint)
        except msgspec.ValidationError as why:
            raise refusal(project, value, path, project.settings.units, str(why)) from None
        if halves:
            project = with_value(project, path, taken)
    return project


def _has_halves(plain: Any) -> bool:
    if isinstance(plain, str):
        return whole(plain) != plain
    if isinstance(plain, dict):
        return any(_has_halves(v) for v in plain.values())
    return isinstance(plain, list | tuple) and any(_has_halves(v) for v in plain)


def _changed(now: Any, before: Any, path: str) -> Iterator[tuple[str, Any, Any]]:
    """Values that differ from those before in another of the same kind, as small as they can be had, with what is declared
    for them."""
    hints = declared(type(now))
    differ = [name for name in now.__struct_fields__ if getattr(now, name) is not getattr(before, name)]
    read: Callable[[Any, str], Any] = getattr
    if isinstance(now, Project):
        differ, read = [name for name in PARTS if GROUP_OF.get(name, name) in differ], part_of
    for name in differ:
        one, old = read(now, name), read(before, name)
        if one is old:
            continue
        here = f"{path}.{name}" if path else name
        if isinstance(one, Struct) and isinstance(old, Struct) and type(one) is type(old):
            yield from _changed(one, old, here)
        elif isinstance(one, tuple) and one and isinstance(one[0], Struct):
            known = {getattr(o, "id", i): o for i, o in enumerate(old)} if isinstance(old, tuple) else {}
            most = _longest(hints[name])
            if most is not None and len(one) > most:
                yield here, one, hints[name]
            for i, item in enumerate(one):
                key = getattr(item, "id", i)
                same = known.get(key)
                if item is same:
                    continue
                if same is not None and type(same) is type(item):
                    yield from _changed(item, same, f"{here}.{key}")
                else:
                    yield f"{here}.{key}", item, type(item)
        else:
            yield here, one, hints[name]


def _longest(hint: Any) -> int | None:
    for extra in getattr(hint, "__metadata__", ()):
        if isinstance(extra, msgspec.Meta) and extra.max_length is not None:
            return extra.max_length
    return None


def accepted_at(root: Struct, path: str, why: str) -> str:
    """What the field at a path accepts, for the end of a sentence, from the decoder's refusal: its words where it has
    some."""
    owner_path, _, key = path.rpartition(".")
    owner = get_value(root, owner_path) if owner_path else root
    hint = declared(type(owner)).get(key) if isinstance(owner, Struct) else None
    words = [w for one in (hint, *get_args(hint)) for w in get_args(one) if isinstance(w, str)]
    words += [w for w in get_args(hint) if isinstance(w, str)]
    if words and why.startswith("Invalid enum"):
        return f"accepted is {', '.join(dict.fromkeys(words))}"
    expected = why.partition(" - at `")[0].replace("`", "").removeprefix("Expected ").split(", got")[0]
    return f"accepted is {accepted_plainly(expected)}"


def refusal(root: Struct, value: Any, path: str, unit: UnitSystem, why: str) -> ValueOutOfRange:
    """The sentence for a ``value`` at a ``path`` of ``root`` (itself, with an empty path) that the decoder refuses with
    ``why``: what it is called, what it is, and what is accepted."""
    message, _, place = why.partition(" - at `$")
    inner = re.sub(r"\[(\d+)\]", r".\1", place.rstrip("`")).strip(".")
    for part in inner.split(".") if inner else ():
        value = value[int(part)] if part.isdigit() else getattr(value, part)
    full = ".".join(x for x in (path, inner) if x)
    try:
        info = field_info(root, full)
    except (KeyError, ValueError):
        shown = f"{len(value)} long" if isinstance(value, tuple) else f"“{one_line(str(value), 40)}”"
        expected = message.replace("`", "").removeprefix("Expected ").split(", got")[0]
        return ValueOutOfRange("D126", f"{full} cannot be {shown}; accepted is {accepted_plainly(expected)}.")
    return ValueOutOfRange(
        "D126", f"{info.title} cannot be {show(value, info.kind, unit)}; {accepted_words(info, unit)}."
    )
