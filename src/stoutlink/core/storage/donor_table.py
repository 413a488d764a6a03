"""Donor catalogue as CSV: one row an axle, units in the column names, empty means not known.

The columns are the fields of :class:`~stoutlink.core.catalogue.donor.DonorAxle`; comma or semicolon, with or without a
byte order mark. A bad row is reported with its line and column and the others are kept.
"""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path
from typing import get_args, get_type_hints

import msgspec
from msgspec import Struct, field

from stoutlink.core.catalogue.donor import FIELDS, Basis, DonorAxle, Marks
from stoutlink.core.catalogue.donor_check import donor_trouble
from stoutlink.core.document.plain_words import accepted_plainly
from stoutlink.core.errors import CatalogueError
from stoutlink.core.storage.table_file import read_table_text
from stoutlink.core.tables import plain_cell, table_text

COLUMNS = (*FIELDS, "marks")
MOST_ROWS = 2000
_REQUIRED = tuple(f.name for f in msgspec.structs.fields(DonorAxle) if f.required)


class DonorTable(Struct, frozen=True):
    """Rows that could be read, one sentence for each that could not, and where single fields are from (id, field →
    basis).
    """

    axles: tuple[DonorAxle, ...]
    problems: tuple[str, ...]
    marks: Marks = field(default_factory=dict)


def read_donors(text: str) -> DonorTable:
    """Read a catalogue; raises :class:`CatalogueError` when the table as a whole is not one.

    >>> read_donors("id,name\\n").axles
    Traceback (most recent call last):
    ...
    stoutlink.core.errors.CatalogueError: C101 The catalogue has no column “end”.
    """
    text = text.lstrip("\ufeff")
    first = text.splitlines()[0] if text.strip() else ""
    delimiter = ";" if first.count(";") > first.count(",") else ","
    try:
        rows = csv.DictReader(io.StringIO(text), delimiter=delimiter, strict=True)
        header = [name.strip() for name in rows.fieldnames or []]
        rows.fieldnames = header
        for name in _REQUIRED:
            if name not in header:
                raise CatalogueError(
                    "C101",
                    f"The catalogue has no column “{name}”.",
                    "The columns are listed in docs/donor-catalogue.md.",
                )
        for name in header:
            if name not in COLUMNS:
                raise CatalogueError(
                    "C102",
                    f"The catalogue has a column “{name}” that is not known.",
                    "The columns are listed in docs/donor-catalogue.md.",
                )
        axles: dict[str, DonorAxle] = {}
        problems: list[str] = []
        marks: dict[tuple[str, str], Basis] = {}
        for row in rows:
            try:
                axle, marked = _read_row(row)
                if axle.id in axles:
                    raise ValueError(f"column id: “{axle.id}” stands twice")
                if len(axles) >= MOST_ROWS:
                    raise ValueError(f"{MOST_ROWS} axles are the most a project takes")
                axles[axle.id] = axle
                marks.update({(axle.id, name): basis for name, basis in marked.items()})
            except ValueError as why:
                problems.append(f"Line {rows.line_num}, {why}.")
    except csv.Error as why:
        raise CatalogueError("C103", f"The catalogue is not a CSV table: {why}.") from why
    return DonorTable(tuple(axles.values()), tuple(problems), marks)


def _read_row(row: dict[str, str | None]) -> tuple[DonorAxle, dict[str, Basis]]:
    if None in row or None in row.values():
        raise ValueError(f"the row has {'more' if None in row else 'fewer'} cells than the heading")
    plain: dict[str, object] = {}
    for name, cell in row.items():
        value = plain_cell((cell or "").strip())
        if value:
            plain[name] = value
    for name in _REQUIRED:
        if name not in plain:
            raise ValueError(f"column {name}: empty")
    marked = _read_marks(str(plain.pop("marks", "")))
    pairs = str(plain.get("ratios", ""))
    if "ratios" in plain:
        plain["ratios"] = _read_pairs(pairs)
    try:
        axle = msgspec.convert(plain, DonorAxle, strict=False)
    except msgspec.ValidationError as why:
        message = str(why)
        name = re.split(r"[.\[`]", message.split("$.", 1)[1])[0] if "$." in message else "?"
        shown = pairs if name == "ratios" else plain.get(name, "")
        raise ValueError(
            f"column {name}: “{shown}”: {_plain_words(message.split(' - at', maxsplit=1)[0], name)}"
        ) from None
    trouble = donor_trouble(axle)
    if trouble is not None:
        raise ValueError(f"column {trouble[0]}: {trouble[1]}")
    return axle, marked


def _plain_words(message: str, name: str) -> str:
    """The decoder's refusal in the shop's words."""
    if message.startswith("Invalid enum"):
        return "accepted is " + ", ".join(_choices(name))
    expected = message.replace("`", "").removeprefix("Expected ").split(", got")[0]
    return f"accepted is {accepted_plainly(expected.replace(' | null', ''))}"


def _choices(name: str) -> tuple[str, ...]:
    """The words a column accepts."""
    hint = get_type_hints(DonorAxle).get(name)
    out: list[str] = []
    for one in (hint, *get_args(hint)):
        out += [w for w in get_args(one) if isinstance(w, str)]
    return tuple(dict.fromkeys(out))


def _read_pairs(text: str) -> list[dict[str, int]]:
    """Gear sets as ``41/10 43/10``."""
    out = []
    for word in text.replace(",", " ").replace(";", " ").split():
        match = re.fullmatch(r"(\d{1,3})/(\d{1,3})", word)
        if match is None:
            raise ValueError(f"column ratios: “{word}” is no tooth pair such as 41/10")
        out.append({"ring": int(match[1]), "pinion": int(match[2])})
    return out


def _read_marks(text: str) -> dict[str, Basis]:
    """Where fields are from, as ``width_m=measured price=claim``."""
    out: dict[str, Basis] = {}
    for word in text.replace(",", " ").replace(";", " ").split():
        name, _, basis = word.partition("=")
        if name not in FIELDS or basis not in get_args(Basis):
            raise ValueError(f"column marks: “{word}” is not FIELD=measured, sheet, claim or estimated")
        out[name] = basis  # type: ignore[assignment]
    return out


def write_donors(axles: tuple[DonorAxle, ...], marks: Marks | None = None) -> str:
    """Write a catalogue that :func:`read_donors` reads back without loss. Empty columns are left out but for the
    needed ones.
    """
    rows = []
    for axle in axles:
        cells = {name: _cell(getattr(axle, name)) for name in FIELDS}
        cells["marks"] = " ".join(
            f"{name}={basis}" for (one, name), basis in (marks or {}).items() if one == axle.id and name in FIELDS
        )
        rows.append(cells)
    columns = [c for c in COLUMNS if c in _REQUIRED or any(cells[c] != "" for cells in rows)]
    return table_text([columns, *([cells[c] for c in columns] for cells in rows)])


def _cell(value: object) -> object:
    if value is None:
        return ""
    if isinstance(value, bool):
        return str(value).lower()
    if isinstance(value, tuple):
        return " ".join(str(pair) for pair in value)
    return value


def read_donor_file(path: Path) -> DonorTable:
    """Read a catalogue file; raises :class:`CatalogueError` when it cannot be opened or is not text."""
    return read_donors(read_table_text(path))
