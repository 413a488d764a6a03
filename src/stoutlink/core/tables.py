"""Cells of tables that go out and come in as comma-separated text: nothing in them is taken for a formula.

A spreadsheet works out a cell that begins with ``=``, ``+``, ``-`` or ``@``. Text that begins so goes out behind an
apostrophe, which is taken away again on reading; numbers, also with their unit, go out as they are.

Source: the advice on CSV injection of the OWASP Foundation (owasp.org, "CSV Injection").
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

_FORMULA = re.compile(r"'*[=+\-@\t\r]")
_NUMBER = re.compile(
    r"[+\-−]?[\d\s./|'\"″′+\-−]*(?:e[+-]?\d+)?(?:\s?(?:mm|cm|m|in|ft|rad|deg)\b[\d\s./|'\"″′+\-−]*)*", re.IGNORECASE
)


def safe_cell(cell: object) -> object:
    """A cell as it may go out.

    >>> safe_cell("=1+1"), safe_cell("-12.5"), safe_cell("-1 1/2 in"), safe_cell("+ see note"), safe_cell(-3.0)
    ("'=1+1", '-12.5', '-1 1/2 in', "'+ see note", -3.0)
    """
    if isinstance(cell, str) and _FORMULA.match(cell) and not _NUMBER.fullmatch(cell):
        return f"'{cell}"
    return cell


def plain_cell(cell: str) -> str:
    """A cell that came in, without the apostrophe that :func:`safe_cell` put before it.

    >>> plain_cell("'=1+1"), plain_cell("'t is"), plain_cell("-3")
    ('=1+1', "'t is", '-3')
    """
    return cell[1:] if cell.startswith("'") and _FORMULA.match(cell) else cell


def table_text(rows: Iterable[Sequence[object]]) -> str:
    """Rows of cells as comma-separated text."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows([safe_cell(c) for c in row] for row in rows)
    return out.getvalue()
