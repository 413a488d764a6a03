"""Bytes to project, in stages: text, plain data, version, migration, values, references, geometry.

Every failure is one :class:`~stoutlink.core.errors.FileError` (or a member of its family) that names the field and
the value.
"""

from __future__ import annotations

import json
import math
import re
from typing import Any, cast

import msgspec

from stoutlink.core.document.called import field_at, place_words, words_at
from stoutlink.core.document.checking import check_project
from stoutlink.core.document.paths import accepted_words
from stoutlink.core.document.plain_words import accepted_plainly
from stoutlink.core.document.project import FORMAT, GROUP_OF, GROUPS, PARTS, VERSION, Project
from stoutlink.core.errors import FileError
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.storage.migrations import migrate
from stoutlink.core.text import whole_values

FAR = 1e12
"""A number farther out than this is quoted as it stands in the file: in no unit does it mean anything."""


def decode_project(data: bytes, source: str = "The file") -> Project:
    """Read a project file's bytes. ``source`` begins the message when something is wrong.

    Raises :class:`FileError` or :class:`~stoutlink.core.errors.ValueOutOfRange`.
    """
    raw = _plain(data, source)
    version = _version(raw, source)
    raw = migrate(raw, version)
    try:
        project = msgspec.convert(_grouped(raw, source), Project)
    except msgspec.ValidationError as why:
        raise _explain(why, raw, source) from None
    check_project(project)
    return project


def encode_project(project: Project) -> bytes:
    """Write a project as indented JSON that decodes to the same value. Raises :class:`FileError` for a number that is
    not finite.
    """
    raw = _flat(msgspec.to_builtins(project))
    bad = _not_finite(raw)
    if bad:
        where = _called(raw, tuple(bad[0].split(".")))
        raise FileError("F111", f"{where} is {bad[1]}, which is not a number that can be kept.")
    try:
        data = msgspec.json.encode(raw)
    except UnicodeEncodeError:  # half a character in some text: the rest is worth keeping
        data = msgspec.json.encode(whole_values(raw))
    return msgspec.json.format(data, indent=1) + b"\n"


def _grouped(raw: dict[str, Any], source: str) -> dict[str, Any]:
    """What a file holds, its parts in their groups: files do not name groups."""
    out = {name: value for name, value in raw.items() if name not in GROUP_OF}
    for group in GROUPS:
        if group in raw:
            raise _not_known("the project", group, source)
        out[group] = {name: raw[name] for name in raw if GROUP_OF.get(name) == group}
    return out


def _flat(grouped: dict[str, Any]) -> dict[str, Any]:
    """A project in plain data as a file holds it: all parts beside one another."""
    return {name: (grouped[GROUP_OF[name]] if name in GROUP_OF else grouped)[name] for name in PARTS}


def _plain(data: bytes, source: str) -> dict[str, Any]:
    if not data.strip():
        raise FileError("F102", f"{source} is empty.", "Open the copy kept beside it (ending in .previous).")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as why:
        raise FileError("F103", f"{source} is not UTF-8 text (byte {why.start}).", "Is it a project file?") from None
    try:
        raw = json.loads(text, object_pairs_hook=_no_twice, parse_int=_whole_number)
    except json.JSONDecodeError as why:
        rest = text[why.pos :].strip()  # a number, word or text that the end cuts through
        cut = len(rest) <= 1 or "Unterminated" in why.msg or any(w.startswith(rest) for w in ("null", "true", "false"))
        what = "ends too early; it looks cut off" if cut else f"is not JSON: {why.msg.lower()}"
        raise FileError(
            "F104",
            f"{source} {what} (line {why.lineno}, column {why.colno}).",
            "Open the copy kept beside it (ending in .previous).",
        ) from None
    except _Twice as why:
        raise FileError("F105", f"{source} has the key “{str(why)[:40]}” twice in one place.") from None
    except (RecursionError, ValueError):
        raise FileError(
            "F106", f"{source} is not a project file: it is nested too deeply or holds an impossible number."
        ) from None
    if not isinstance(raw, dict):
        raise FileError("F107", f"{source} holds a {_json_name(raw)}, not a project.")
    if "\\ud" in text.lower():
        raw = whole_values(raw)
    bad = _not_finite(raw)
    if bad:
        where = _called(raw, tuple(bad[0].split(".")))
        raise FileError("F108", f"{source}: {where} is {bad[1]}; a finite number is needed.")
    return cast(dict[str, Any], raw)


def _version(raw: dict[str, Any], source: str) -> int:
    found = raw.get("format")
    if found != FORMAT:
        what = _shown(found) if "format" in raw else "missing"
        raise FileError("F109", f"{source} is not a Stout Link project: format is {what}, not “{FORMAT}”.")
    version = raw.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        what = _shown(version) if "version" in raw else "missing"
        raise FileError("F110", f"{source}: version is {what}; a whole number from 1 to {VERSION} is needed.")
    if version > VERSION:
        raise FileError(
            "F112",
            f"{source} was written by a newer Stout Link (version {version}; this one reads up to {VERSION}).",
            "Update the program; the file is untouched.",
        )
    return version


def _whole_number(digits: str) -> int | float:
    """A whole number as it is; one with more digits than any field takes as a float, which may be infinite."""
    return int(digits) if len(digits) <= 18 else float(digits)


class _Twice(Exception):
    pass


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for key, value in pairs:
        if key in out:
            raise _Twice(key)
        out[key] = value
    return out


def _not_finite(value: Any, path: str = "") -> tuple[str, str] | None:
    if isinstance(value, float) and not math.isfinite(value):
        return path, "NaN" if math.isnan(value) else "infinite"
    items: Any = ()
    if isinstance(value, dict):
        items = ((f"{path}.{k}" if path else str(k), v) for k, v in value.items())
    elif isinstance(value, list | tuple):
        items = (
            (f"{path}.{v['id'] if isinstance(v, dict) and isinstance(v.get('id'), str) else i}", v)
            for i, v in enumerate(value)
        )
    for where, inner in items:
        found = _not_finite(inner, where)
        if found:
            return found
    return None


_AT = re.compile(r"(.*?) - at `(?:key in )?\$(.*)`$", re.DOTALL)


def _explain(why: msgspec.ValidationError, raw: dict[str, Any], source: str) -> FileError:
    match = _AT.match(str(why))
    message, where = (match[1], match[2]) if match else (str(why), "")
    here: Any = raw
    path: list[str] = []
    for name, index in re.findall(r"\.([A-Za-z0-9_]+)|\[(\d+)\]", where):
        if here is raw and name in GROUPS:
            continue
        try:
            here = here[name] if name else here[int(index)]
        except (KeyError, IndexError, TypeError):
            break
        path.append(name or (here["id"][:48] if isinstance(here, dict) and isinstance(here.get("id"), str) else index))
    field = _called(raw, tuple(path)) if path else "the project"
    if message.startswith("Object missing required field"):
        missing = message.split("`")[1]
        return FileError("F113", f"{source}: {field} has no “{missing}”, which is needed.")
    if message.startswith("Object contains unknown field"):
        extra = message.split("`", 1)[1].rpartition("`")[0]
        return _not_known(field, extra, source)
    info = field_at(tuple(path))
    if info is not None and isinstance(here, int | float) and not isinstance(here, bool):
        unit = _unit(raw)
        value = show(float(here), info.kind, unit) if abs(here) < FAR else _shown(here)
        said = f"{value}; {accepted_words(info, unit)}"
    elif message.startswith("Expected"):
        expected = message.removeprefix("Expected ").replace("`", "").split(", got")[0]
        said = f"{_shown(here)}; accepted is {accepted_plainly(expected)}"
    else:  # a word that is none of those the field has
        said = f"{_shown(here)}; accepted is {' or '.join(words_at(tuple(path))) or 'another word'}"
    return FileError("F115", f"{source}: {field} is {said}.")


def _not_known(field: str, key: str, source: str) -> FileError:
    return FileError("F114", f"{source}: {field} has a key “{key[:40]}” that is not known.")


def _unit(raw: dict[str, Any]) -> UnitSystem:
    """The unit the file is shown in, as far as that can be read."""
    settings = raw.get("settings")
    return "mm" if isinstance(settings, dict) and settings.get("units") == "mm" else "in"


def _called(raw: Any, path: tuple[str, ...]) -> str:
    """What the place of a path is called, with the names the file gives."""

    def name_of(parts: tuple[str, ...]) -> str:
        here = raw
        for part in parts:
            if isinstance(here, list):
                by_id = [x for x in here if isinstance(x, dict) and str(x.get("id"))[:48] == part]
                here = by_id[0] if by_id else here[int(part)] if part.isdigit() and int(part) < len(here) else None
            else:
                here = here.get(part) if isinstance(here, dict) else None
        name = here.get("name") if isinstance(here, dict) else None
        return name[:60] if isinstance(name, str) else ""

    said = place_words(path, name_of)
    return said[:1].upper() + said[1:]


def _shown(value: Any) -> str:
    if value is None:
        return "null"
    if isinstance(value, str):
        return f"“{value[:40]}{'…' if len(value) > 40 else ''}”"
    if isinstance(value, bool):
        return str(value).lower()
    if isinstance(value, float):
        return f"{value:g}" if value != round(value) or abs(value) > 1e6 else f"{value:.1f}"
    if isinstance(value, int):
        return str(value)
    return f"{'an' if isinstance(value, dict) else 'a'} {_json_name(value)}"


def _json_name(value: Any) -> str:
    return {list: "list", dict: "object", str: "text", bool: "true or false"}.get(type(value), "number")
