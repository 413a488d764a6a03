"""Springs on offer as CSV: one row a spring, the unit in the column's name; a bad row is told with its line and the
others are kept.

Columns: ``name``; ``rate_lb_per_in`` or ``rate_n_per_mm``; ``free_in`` or ``free_mm``; and if known
``bind_in``/``bind_mm``, ``inside_in``/``inside_mm``, ``notes``. Comma or semicolon, with or without a byte order
mark.
"""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path

import msgspec
from msgspec import Struct

from stoutlink.core.catalogue.spring import SpringOffer
from stoutlink.core.errors import CatalogueError, TextError
from stoutlink.core.quantity.constants import INCH, POUND_FORCE
from stoutlink.core.quantity.length_text import parse_length
from stoutlink.core.storage.table_file import read_table_text
from stoutlink.core.tables import plain_cell

_INCH, _POUND = INCH, POUND_FORCE
COLUMNS: dict[str, tuple[str, float]] = {
    "rate_lb_per_in": ("rate_n_per_m", _POUND / _INCH), "rate_n_per_mm": ("rate_n_per_m", 1e3), "free_in": ("free_m", _INCH), "free_mm": ("free_m", 1e-3),
    "bind_in": ("solid_m", _INCH), "bind_mm": ("solid_m", 1e-3), "inside_in": ("inside_m", _INCH), "inside_mm": ("inside_m", 1e-3),
}  # fmt: skip
"""Column → field of the record and what one of it is in SI."""
MOST_ROWS = 2000


class SpringTable(Struct, frozen=True):
    """Rows that could be read, and one sentence for each that could not."""

    springs: tuple[SpringOffer, ...]
    problems: tuple[str, ...]


def read_springs(text: str) -> SpringTable:
    """Read a list of springs; raises :class:`CatalogueError` when the table as a whole is not one.

    >>> round(read_springs("name,rate_lb_per_in,free_in\\nSoft,150,14\\n").springs[0].free_m, 9)
    0.3556
    """
    text = text.lstrip("\ufeff")
    first = text.splitlines()[0] if text.strip() else ""
    try:
        rows = csv.DictReader(
            io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ",", strict=True
        )
        header = rows.fieldnames = [name.strip() for name in rows.fieldnames or []]
        for field, names in (
            ("rate_n_per_m", "rate_lb_per_in or rate_n_per_mm"),
            ("free_m", "free_in or free_mm"),
            ("name", "name"),
        ):
            found = [c for c in header if c == field or COLUMNS.get(c, ("",))[0] == field]
            if len(found) != 1:
                raise CatalogueError(
                    "C301",
                    f"The list of springs needs one column {names}; it has {'none' if not found else ' and '.join(found)}.",
                    "The first line names the columns.",
                )
        for name in header:
            if name not in COLUMNS and name not in ("name", "notes"):
                raise CatalogueError(
                    "C302",
                    f"The list of springs has a column “{name}” that is not known.",
                    f"Known are name, notes, {', '.join(COLUMNS)}.",
                )
        out: list[SpringOffer] = []
        problems: list[str] = []
        for row in rows:
            try:
                if len(out) >= MOST_ROWS:
                    raise ValueError(f"{MOST_ROWS} springs are the most a project takes")
                out.append(_read_row(row, len(out) + 1))
            except ValueError as why:
                problems.append(f"Line {rows.line_num}, {why}.")
    except csv.Error as why:
        raise CatalogueError("C303", f"The list of springs is not a CSV table: {why}.") from why
    return SpringTable(tuple(out), tuple(problems))


def _number(column: str, text: str, size: float) -> float:
    """A cell in SI; lengths also as a tape says them, ``14 1/4``."""
    if column.startswith("rate"):
        if not re.fullmatch(r"\d+(\.\d+)?", text):
            raise ValueError(f"column {column}: “{text}” is not a number")
        return float(text) * size
    try:
        return parse_length(text, "mm" if column.endswith("_mm") else "in")
    except TextError:
        raise ValueError(f"column {column}: “{text}” is not a length") from None


def _read_row(row: dict[str, str | None], number: int) -> SpringOffer:
    if None in row or None in row.values():
        raise ValueError(f"the row has {'more' if None in row else 'fewer'} cells than the heading")
    plain: dict[str, object] = {"id": f"spring-{number}"}
    for column, cell in row.items():
        value = plain_cell((cell or "").strip())
        if not value:
            continue
        if column in COLUMNS:
            field, size = COLUMNS[column]
            plain[field] = _number(column, value.replace(",", "."), size)
        else:
            plain[column] = value
    if "name" not in plain:
        raise ValueError("column name: empty")
    try:
        found = msgspec.convert(plain, SpringOffer)
    except msgspec.ValidationError as why:
        field = str(why).split("$.", 1)[1].split("`", 1)[0] if "$." in str(why) else ""
        column = next((c for c, (f, _) in COLUMNS.items() if f == field and (row.get(c) or "").strip()), field)
        if "missing required" in str(why):
            missing = "rate" if "rate" in str(why) else "free length"
            raise ValueError(f"the {missing} is empty") from None
        raise ValueError(f"column {column}: “{row.get(column)}” is out of range") from None
    if found.solid_m is not None and found.solid_m >= found.free_m:
        raise ValueError("it is no longer free than at coil bind")
    return found


def read_spring_file(path: Path) -> SpringTable:
    """Read a file of springs; raises :class:`CatalogueError` when it cannot be opened or is not text."""
    return read_springs(read_table_text(path))
