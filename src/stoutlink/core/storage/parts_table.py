"""The parts list read back from a table: one row a line, bad rows told with their line, the others kept.

Only ``line`` has to be there; a row without it that names an ``item`` becomes a line of one's own. Columns that are missing leave
things as they are; an empty cell empties the value. What the program works out (system, count, amount, needed) is not read.
"""

from __future__ import annotations

import csv
import datetime
import io
import re
from collections.abc import Mapping
from typing import Any

from msgspec import Struct

from stoutlink.core.document.build_plan import PART_STATES, SOURCE_WORDS
from stoutlink.core.errors import CatalogueError
from stoutlink.core.tables import plain_cell

COLUMNS = (
    "line", "system", "item", "count", "unit", "detail", "amount", "basis", "price_each", "paid", "paid_in_full", "paid_on", "ordered_as", "came_as", "source",
    "state", "seller", "note", "ordered", "lead_days", "earliest", "likely", "latest", "for_sale_at", "sold_for", "sold_on", "needed", "task",
)  # fmt: skip
_WORDS = {"ordered_as": 160, "came_as": 160, "seller": 160, "note": 200}
_DAYS = ("paid_on", "ordered", "earliest", "likely", "latest", "sold_on")
_MONEY = ("price_each", "paid", "for_sale_at", "sold_for")
MOST_ROWS = 2000
MOST_MONEY = 1e7


class PartsRow(Struct, frozen=True):
    """One row: its line (empty: one of one's own), its item, and what its columns say (``None``: emptied)."""

    line: str
    item: str
    values: dict[str, Any]


class PartsTable(Struct, frozen=True):
    """Rows that could be read, and one sentence for each that could not."""

    rows: tuple[PartsRow, ...]
    problems: tuple[str, ...]


def read_parts(text: str, known: Mapping[str, str]) -> PartsTable:
    """Read a parts list; ``known`` are the lines there are and the state of each: a
    state that is the same again says nothing. Raises :class:`CatalogueError` when it is not one.

    >>> read_parts("line,paid\\ngear_set-rear,120.50\\n", {"gear_set-rear": "needed"}).rows[0].values
    {'paid': 120.5}
    """
    text = text.lstrip("\ufeff")
    first = text.splitlines()[0] if text.strip() else ""
    reader = csv.DictReader(
        io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ",", strict=True
    )
    try:
        header = reader.fieldnames = [name.strip().casefold() for name in reader.fieldnames or []]
        if "line" not in header:
            raise CatalogueError(
                "C116", "This is no parts list: it has no column “line”.", "Export the list as a table and change that."
            )
        rows: list[PartsRow] = []
        problems: list[str] = []
        seen: set[str] = set()
        for raw in reader:
            if len(rows) + len(problems) >= MOST_ROWS:
                problems.append(f"Only the first {MOST_ROWS} lines are read.")
                break
            try:
                row = _row(
                    {
                        k: plain_cell((v or "").strip())
                        for k, v in raw.items()
                        if isinstance(k, str) and isinstance(v, str | None)
                    },
                    known,
                    seen,
                )
            except ValueError as why:
                problems.append(f"Line {reader.line_num}: {why}")
                continue
            if row is not None:
                rows.append(row)
    except csv.Error as why:
        raise CatalogueError(
            "C117", f"This table cannot be read: {why}.", "Save it again as comma-separated text."
        ) from None
    return PartsTable(tuple(rows), tuple(problems))


def _row(cells: dict[str, str], known: Mapping[str, str], seen: set[str]) -> PartsRow | None:
    line, item = cells.get("line", ""), cells.get("item", "")
    if not line and not item:
        return None
    if line and line not in known:
        raise ValueError(f"nothing asks for “{line[:60]}”; leave “line” empty to make it a line of your own.")
    if line in seen:
        raise ValueError(f"“{line}” stands there twice; the first is kept.")
    if not line and len(item) > 120:
        raise ValueError("the item's name is longer than 120 letters.")
    values: dict[str, Any] = {}
    own = not line or line.startswith("own-")
    for name, cell in cells.items():
        if name in _MONEY:
            values[name] = _money(name, cell, own)
        elif name in _DAYS:
            values[name] = _day(name, cell)
        elif name in _WORDS:
            if len(cell) > _WORDS[name]:
                raise ValueError(f"{name} is longer than {_WORDS[name]} letters.")
            values[name] = cell
        elif name == "state":
            state = _one_of(name, cell or "needed", PART_STATES)
            if state != known.get(line, "needed"):
                values[name] = state
        elif name == "source":
            values[name] = _one_of(name, cell, tuple(SOURCE_WORDS))
        elif name == "paid_in_full":
            values[name] = _one_of(name, cell.casefold(), ("yes", "no", "")) == "yes"
        elif name == "lead_days":
            if cell and not (cell.isdecimal() and int(cell) <= 400):
                raise ValueError(f"lead_days “{cell[:20]}”: whole days from 0 to 400 are accepted.")
            values[name] = int(cell) if cell else None
    if line:
        seen.add(line)
    return PartsRow(line, item, values)


def _one_of(name: str, cell: str, allowed: tuple[str, ...]) -> str:
    if cell not in allowed:
        raise ValueError(f"{name} “{cell[:40]}”: accepted are {', '.join(one or 'nothing' for one in allowed)}.")
    return cell


def _day(name: str, cell: str) -> str:
    if not cell:
        return ""
    try:
        day = datetime.date.fromisoformat(cell)
    except ValueError:
        day = None
    if day is None or len(cell) != 10 or not 2000 <= day.year <= 2200:
        raise ValueError(f"{name} “{cell[:20]}”: a day as 2026-05-04 is accepted.")
    return cell


_AMOUNT = re.compile(r"[-−]?\d+(?:[.,]\d{1,2})?")
_GROUPED = re.compile(r"[-−]?\d{1,3}(?:([ ,.’'])\d{3})+([.,])\d{1,2}")


def _money(name: str, cell: str, own: bool) -> float | None:
    if not cell:
        return None
    plain = cell.replace("−", "-")
    if (grouped := _GROUPED.fullmatch(cell)) and grouped[1] != grouped[2]:
        whole, _, rest = plain.rpartition(grouped[2])
        plain = whole.replace(grouped[1], "") + "." + rest
    elif _AMOUNT.fullmatch(cell):
        plain = plain.replace(",", ".")
    else:
        raise ValueError(f"{name} “{cell[:20]}”: money is written as 1234.50.")
    amount = float(plain)
    if abs(amount) > MOST_MONEY or (amount < 0 and not (own and name == "price_each")):
        raise ValueError(
            f"{name} “{cell[:20]}”: accepted is 0 to {MOST_MONEY:.0f}; only a line of your own may be a credit."
        )
    return amount
