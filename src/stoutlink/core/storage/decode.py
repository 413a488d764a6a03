"""Bytes to project, in stages: text, plain data, version, migration, values, references, geometry.

Every failure is one :class:`~stoutlink.core.errors.FileError` (or a member of its family) that names the field and
the value.
"""

from __future__ import annotations

import json
import math
import re
from typing import Any

import msgspec

from stoutlink.core.document.checking import check_project
from stoutlink.core.document.project import FORMAT, VERSION, Project
from stoutlink.core.errors import FileError
from stoutlink.core.storage.migrations import migrate

LARGEST = 64 * 1024 * 1024


def decode_project(data: bytes, source: str = "The file") -> Project:
    """Read a project file's bytes. ``source`` begins the message when something is wrong.

    Raises :class:`FileError` or :class:`~stoutlink.core.errors.ValueOutOfRange`.
    """
    raw = _plain(data, source)
    version = _version(raw, source)
    raw = migrate(raw, version)
    try:
        project = msgspec.convert(raw, Project)
    except msgspec.ValidationError as why:
        raise _explain(why, raw, source) from None
    check_project(project)
    return project


def encode_project(project: Project) -> bytes:
    """Write a project as indented JSON that decodes to the same value. Raises :class:`FileError` for a number that is
    not finite.
    """
    raw = msgspec.to_builtins(project)
    bad = _not_finite(raw)
    if bad:
        raise FileError("F111", f"{bad[0]} is {bad[1]}, which is not a number that can be kept.")
    return msgspec.json.format(msgspec.json.encode(project), indent=1) + b"\n"


def _plain(data: bytes, source: str) -> dict[str, Any]:
    if len(data) > LARGEST:
        raise FileError("F101", f"{source} is larger than 64 MiB, which no project file is.")
    if not data.strip():
        raise FileError("F102", f"{source} is empty.", "Open the copy kept beside it (ending in .previous).")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as why:
        raise FileError("F103", f"{source} is not UTF-8 text (byte {why.start}).", "Is it a project file?") from None
    try:
        raw = json.loads(text, object_pairs_hook=_no_twice)
    except json.JSONDecodeError as why:
        cut = why.pos >= len(text.rstrip()) - 1 or "Unterminated" in why.msg
        what = "ends too early; it looks cut off" if cut else f"is not JSON: {why.msg.lower()}"
        raise FileError(
            "F104",
            f"{source} {what} (line {why.lineno}, column {why.colno}).",
            "Open the copy kept beside it (ending in .previous).",
        ) from None
    except _Twice as why:
        raise FileError("F105", f"{source} has the key “{why}” twice in one place.") from None
    except (RecursionError, ValueError):
        raise FileError(
            "F106", f"{source} is not a project file: it is nested too deeply or holds an impossible number."
        ) from None
    if not isinstance(raw, dict):
        raise FileError("F107", f"{source} holds a {_json_name(raw)}, not a project.")
    bad = _not_finite(raw)
    if bad:
        raise FileError("F108", f"{source}: {bad[0]} is {bad[1]}; a finite number is needed.")
    return raw


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
        try:
            here = here[name] if name else here[int(index)]
        except (KeyError, IndexError, TypeError):
            break
        path.append(name or (here["id"] if isinstance(here, dict) and isinstance(here.get("id"), str) else index))
    field = ".".join(path) or "the project"
    if message.startswith("Object missing required field"):
        missing = message.split("`")[1]
        return FileError("F113", f"{source}: {field} has no “{missing}”, which is needed.")
    if message.startswith("Object contains unknown field"):
        extra = message.split("`")[1]
        return FileError("F114", f"{source}: {field} has a key “{extra}” that is not known.")
    if message.startswith("Expected"):
        message = "accepted is " + _accepted(message.removeprefix("Expected ").replace("`", "").split(", got")[0])
    elif message.startswith("Invalid enum"):
        message = "that is not one of the accepted words (docs/project-file.md lists them)"
    return FileError("F115", f"{source}: {field} is {_shown(here)}; {message}.")


_TYPE_WORDS = {
    "float": "a number",
    "int": "a whole number",
    "str": "text",
    "array": "a list",
    "object": "an object",
    "bool": "true or false",
}


def _accepted(expected: str) -> str:
    """The decoder's words for what it expected, in plain ones."""
    for name, words in _TYPE_WORDS.items():
        expected = re.sub(rf"\b{name}\b", words, expected)
    expected = (
        expected.replace(" | null", " or nothing").replace(" >= ", " of at least ").replace(" <= ", " of at most ")
    )
    return expected.replace(" of length of at least ", " with at least ").replace(
        " of length of at most ", " with at most "
    )


def _shown(value: Any) -> str:
    if value is None:
        return "null"
    if isinstance(value, str):
        return f"“{value[:40]}”"
    if isinstance(value, bool):
        return str(value).lower()
    if isinstance(value, int | float):
        return f"{value:g}"
    return f"a {_json_name(value)}"


def _json_name(value: Any) -> str:
    return {list: "list", dict: "object", str: "text", bool: "true or false"}.get(type(value), "number")
