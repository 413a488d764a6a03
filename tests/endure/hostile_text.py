"""Texts that a spreadsheet would run, that end a line of a calendar, a drawing or a paper, or that look like a path, in every text a
project holds, through everything the command line writes. Other libraries open what comes out.
"""

from __future__ import annotations

import contextlib
import csv
import io
import json
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Literal, get_args, get_origin
from xml.etree import ElementTree

import ezdxf
import icalendar
import msgspec
from msgspec import Meta, Struct
from pypdf import PdfReader

from stoutlink.cli.main import main as command_line
from stoutlink.core.document.paths import declared, parts_of
from stoutlink.core.document.project import PARTS, Project, part_of, with_parts
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.decode import decode_project, encode_project
from stoutlink.core.storage.files import write_project
from stoutlink.core.tables import plain_cell, safe_cell

TEXTS = (
    "=1+1", "+A1", "-cmd|' /C calc'!A0", "@SUM(A1)", "\t=1", "'=1", "<b>x</b>&<script>alert(1)</script>", '";--,', "../../../../tmp/evil", "/etc/passwd",
    "a\nBEGIN:VALARM\r\nX:1", ";,\\:", "\u202egnp.exe", "%s{0}{x}", ")>> endobj", "]]>", "x\x00y\x07", "ünïcode 车🚙", " ", "\\P{\\fArial;", "CON", "..",
)  # fmt: skip
RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r")


def with_text(value: Any, hint: Any, text: str) -> Any:
    """A value of a project with ``text`` in every text that takes any, cut to what each takes."""
    if isinstance(value, Struct):
        hints = declared(type(value))
        changes = {name: with_text(here, hints[name], text) for name, here in parts_of(value)}
        return with_parts(value, **changes) if isinstance(value, Project) else msgspec.structs.replace(value, **changes)
    if isinstance(value, tuple):
        kinds = [k for h in (hint, *get_args(hint)) if get_origin(h) is tuple for k in get_args(h)]
        inner = kinds[0] if kinds else None
        return tuple(with_text(one, inner, text) for one in value)
    if isinstance(value, str) and hint is not None and _any_text(hint):
        return text[: _longest(hint)] or "x"
    return value


def _metas(hint: Any) -> list[Meta]:
    return [m for h in (hint, *get_args(hint)) for m in getattr(h, "__metadata__", ()) if isinstance(m, Meta)]


def _any_text(hint: Any) -> bool:
    kinds = (hint, *get_args(hint), *(k for h in get_args(hint) for k in get_args(h)))
    return not any(get_origin(h) is Literal for h in kinds) and all(m.pattern is None for m in _metas(hint)) and str in kinds  # fmt: skip


def _longest(hint: Any) -> int:
    return next((m.max_length for m in _metas(hint) if m.max_length is not None), 400)


def hostile(project: Project, text: str) -> Project:
    """A project that says ``text`` wherever it says anything, and can be saved; parts that may not say it say what they did."""
    made = with_text(project, Project, text)
    keep = {}
    for name in PARTS:
        try:
            decode_project(encode_project(with_parts(project, **{name: part_of(made, name)})))
        except StoutError:
            continue
        keep[name] = part_of(made, name)
    return with_parts(project, **keep)


@dataclass
class Written:
    """What came of it."""

    texts: int = 0
    commands: int = 0
    files: int = 0
    cells: int = 0
    faults: list[str] = field(default_factory=list)


def _run(words: list[str], out: Written, where: str) -> str:
    said, told = io.StringIO(), io.StringIO()
    try:
        with contextlib.redirect_stdout(said), contextlib.redirect_stderr(told):
            code = command_line(words)
        if code not in (0, 1):
            out.faults.append(f"{where}: exit {code}: {told.getvalue()[:300]}")
    except BaseException as why:
        out.faults.append(f"{where}: {type(why).__name__}: {why}")
    out.commands += 1
    return said.getvalue()


def _csv(data: bytes, text: str, out: Written, where: str) -> None:
    for row in csv.reader(io.StringIO(data.decode("utf-8-sig"))):
        for cell in row:
            out.cells += 1
            if cell.startswith(RUN_BY_SPREADSHEETS) and safe_cell(cell) != cell:
                out.faults.append(f"{where}: a spreadsheet would run {cell[:60]!r}")
            plain_cell(cell)


def _ics(data: bytes, text: str, out: Written, where: str) -> None:
    found = icalendar.Calendar.from_ical(data)
    if any(part.name == "VALARM" for part in found.walk()):
        out.faults.append(f"{where}: a text became a part of the calendar")
    if any(len(line) > 75 for line in data.split(b"\r\n")):
        out.faults.append(f"{where}: a line of more than 75 bytes")


def _pdf(data: bytes, text: str, out: Written, where: str) -> None:
    reader = PdfReader(io.BytesIO(data), strict=True)
    for page in reader.pages:
        page.extract_text()
    if any("/JS" in str(page) or "/JavaScript" in str(page) for page in reader.pages):
        out.faults.append(f"{where}: a text became a script")


def _dxf(data: bytes, text: str, out: Written, where: str) -> None:
    drawing = ezdxf.read(io.StringIO(data.decode("utf-8")))  # type: ignore[attr-defined]
    if drawing.audit().has_errors:
        out.faults.append(f"{where}: the drawing has errors")


def _svg(data: bytes, text: str, out: Written, where: str) -> None:
    root = ElementTree.fromstring(data)
    if any(one.tag.endswith("script") for one in root.iter()):
        out.faults.append(f"{where}: a text became a script")


def _zip(data: bytes, text: str, out: Written, where: str) -> None:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        if archive.testzip() is not None:
            out.faults.append(f"{where}: torn")
        for name in archive.namelist():
            if name.startswith(("/", "\\")) or ".." in Path(name).parts or any(ord(c) < 32 for c in name):
                out.faults.append(f"{where}: a member called {name!r}")
            suffix = Path(name).suffix
            if suffix in OPENED:
                _open(suffix, archive.read(name), text, out, f"{where}, {name}")


def _json(data: bytes, text: str, out: Written, where: str) -> None:
    json.loads(data, parse_constant=lambda word: out.faults.append(f"{where}: {word}"))


OPENED: dict[str, Callable[[bytes, str, Written, str], None]] = {
    ".csv": _csv, ".ics": _ics, ".pdf": _pdf, ".dxf": _dxf, ".svg": _svg, ".zip": _zip, ".json": _json,
}  # fmt: skip


def _open(suffix: str, data: bytes, text: str, out: Written, where: str) -> None:
    out.files += 1
    try:
        OPENED[suffix](data, text, out, where)
    except Exception as why:
        out.faults.append(f"{where}: does not open: {type(why).__name__}: {str(why)[:200]}")


def write_everything(project: Project, text: str, folder: Path, out: Written, *, packed: bool = True) -> None:
    """Everything the command line writes of a project that says ``text`` everywhere, opened again; ``packed``: packet and
    archive too, which take their time.
    """
    folder.mkdir(parents=True)
    inside = folder / "in" / "deep"
    inside.mkdir(parents=True)
    made = hostile(project, text)
    rig = inside / "rig.stoutlink"
    write_project(made, rig)
    other = inside / "other.stoutlink"
    write_project(project, other)
    out.texts += 1
    end = next((e for e in ("rear", "front") if made.layout(e) is not None), None)
    survey = made.tape.surveys[0].id if made.tape.surveys else None
    commands = [
        ["export", "--cutlist", "cut.csv", "--donors", "donors.csv", "--parts", "parts", *(("--packet", "packet.pdf") if packed else ())],
        ["travel", "--csv", "travel.csv", "--bump-sheet", "bump.csv"], ["bench", "--csv", "bench.csv", "--pdf", "bench.pdf"],
        ["plan", "--csv", "plan.csv", "--ics", "plan.ics", "--pdf", "plan.pdf", "--today", "2026-11-02"], ["parts-list", "--csv", "list.csv", "--pdf", "list.pdf"],
        ["log", "--csv", "log.csv"], ["analyze"], ["analyze", "--json"], ["plan", "--json"], ["bench", "--json"], ["parts-list", "--json"], ["log", "--json"], ["as-built", "--json"],
        ["rank", "--json"], ["check"], ["parts-list", "--against", str(other)],
    ]  # fmt: skip
    if survey:
        commands.append(["export", "--survey", survey, "survey.csv"])
    if end:
        commands += [["export", "--drawing", end, "side", f"side.{kind}"] for kind in ("dxf", "pdf")]
    (inside / "parts").mkdir()
    for words in commands:
        placed = [str(inside / w) if ("." in w and Path(w).suffix in OPENED) or w == "parts" else w for w in words[1:]]
        said = _run([words[0], str(rig), *placed], out, f"{text!r}, {' '.join(words)}")
        if "--json" in words:
            _open(".json", said.encode(), text, out, f"{text!r}, {words[0]}")
    if packed:
        _run(["hand-over", str(rig), str(inside / "all.zip")], out, f"{text!r}, hand-over")
    for path in inside.rglob("*"):
        if path.suffix in OPENED:
            _open(path.suffix, path.read_bytes(), text, out, f"{text!r}, {path.name}")
    strays = [p for p in folder.rglob("*") if inside not in p.parents and p not in (inside, inside.parent)]
    if strays or Path("/tmp/evil").exists():
        out.faults.append(f"{text!r}: written elsewhere: {strays}")
