"""Donor catalogue as CSV: one row an axle, units in the column names, empty means not known.

The columns are the fields of :class:`~stoutlink.core.catalogue.donor.DonorAxle`; comma or semicolon, with or without a
byte order mark. A bad row is reported with its line and column and the others are kept.
"""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from pathlib import Path

import msgspec

from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.errors import CatalogueError

COLUMNS = tuple(f.name for f in msgspec.structs.fields(DonorAxle))
_REQUIRED = tuple(f.name for f in msgspec.structs.fields(DonorAxle) if f.required)


@dataclass(frozen=True)
class DonorTable:
    """Rows that could be read, and one sentence for each that could not."""

    axles: tuple[DonorAxle, ...]
    problems: tuple[str, ...]


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
                raise CatalogueError("C101", f"The catalogue has no column “{name}”.", "The columns are listed in docs/donor-catalogue.md.")
        for name in header:
            if name not in COLUMNS:
                raise CatalogueError(
                    "C102", f"The catalogue has a column “{name}” that is not known.", "The columns are listed in docs/donor-catalogue.md."
                )
        axles: list[DonorAxle] = []
        problems: list[str] = []
        for row in rows:
            try:
                axle = _read_row(row)
                if any(axle.id == other.id for other in axles):
                    raise ValueError(f"column id: “{axle.id}” stands twice")
                axles.append(axle)
            except ValueError as why:
                problems.append(f"Line {rows.line_num}, {why}.")
    except csv.Error as why:
        raise CatalogueError("C103", f"The catalogue is not a CSV table: {why}.") from why
    return DonorTable(tuple(axles), tuple(problems))


def _read_row(row: dict[str, str | None]) -> DonorAxle:
    if None in row or None in row.values():
        raise ValueError(f"the row has {'more' if None in row else 'fewer'} cells than the heading")
    plain: dict[str, object] = {}
    for name, cell in row.items():
        value = (cell or "").strip()
        if value:
            plain[name] = value
    for name in _REQUIRED:
        if name not in plain:
            raise ValueError(f"column {name}: empty")
    try:
        axle = msgspec.convert(plain, DonorAxle, strict=False)
    except msgspec.ValidationError as why:
        message = str(why)
        name = message.rsplit("$.", 1)[-1].rstrip("`") if "$." in message else "?"
        raise ValueError(f"column {name}: “{plain.get(name, '')}”: {message.split(' - at', maxsplit=1)[0].lower()}") from None
    return axle


def write_donors(axles: tuple[DonorAxle, ...]) -> str:
    """Write a catalogue that :func:`read_donors` reads back without loss."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for axle in axles:
        plain = msgspec.to_builtins(axle)
        writer.writerow(["" if plain[c] is None else str(plain[c]).lower() if isinstance(plain[c], bool) else plain[c] for c in COLUMNS])
    return out.getvalue()


def read_donor_file(path: Path) -> DonorTable:
    """Read a catalogue file; raises :class:`CatalogueError` when it cannot be opened or is not text."""
    try:
        return read_donors(path.read_text(encoding="utf-8-sig"))
    except OSError as why:
        raise CatalogueError("C104", f"{path.name} cannot be opened: {why.strerror}.") from why
    except UnicodeDecodeError as why:
        raise CatalogueError("C105", f"{path.name} is not UTF-8 text.") from why
