"""Readings of the tape as they are typed, and rows of them as they come from a spreadsheet."""

from __future__ import annotations

from typing import Literal

import msgspec

from stoutlink.core.document.ids import free_id
from stoutlink.core.document.survey import Across, Reading, SurveyPoint
from stoutlink.core.errors import StoutError, TextError
from stoutlink.core.quantity.length_text import UnitSystem, format_length_text, parse_length
from stoutlink.core.text import one_line

Cell = Literal["station", "height", "side", "name"]
CELLS: tuple[Cell, ...] = ("station", "height", "side", "name")
CELL_WORDS = {"station": "station", "height": "height", "side": "width", "name": "name"}


def parse_readings(text: str, unit: UnitSystem) -> tuple[Reading, ...]:
    """One reading or several with ``+`` between; raises :class:`~stoutlink.core.errors.TextError`. Empty text is no
    reading.
    """
    parts = [part.strip() for part in text.split("+")]
    if parts == [""]:
        return ()
    return tuple(Reading(value_m=parse_length(part, unit), text=part[:40]) for part in parts)


def readings_text(readings: tuple[Reading, ...], unit: UnitSystem) -> str:
    """The readings as they are offered for editing."""
    return "+".join(_one(r, unit) for r in readings)


def _one(reading: Reading, unit: UnitSystem) -> str:
    if reading.text:
        try:
            if abs(parse_length(reading.text, unit) - reading.value_m) < 1e-9:
                return reading.text
        except StoutError:
            pass
    return format_length_text(reading.value_m, unit)


def pasted(
    text: str, points: tuple[SurveyPoint, ...], column: int, row: int, unit: UnitSystem
) -> tuple[SurveyPoint, ...]:
    """The points of a survey with rows of a spreadsheet laid over them: one line a station, its cells apart by tabs,
    from the cell in hand on (``column`` the point, ``row`` the place in :data:`CELLS`).

    Stations beyond the last are added; an empty cell changes nothing; a heading without a single number is passed
    over. Raises :class:`~stoutlink.core.errors.TextError` for the first cell that is no length, and then nothing is
    taken.

    >>> [p.name for p in pasted("12\\t22\\t34\\trear\\n40\\t22\\t34\\tmiddle", (), 0, 0, "in")]
    ['rear', 'middle']
    """
    lines = [line.split("\t") for line in text.splitlines() if line.strip()]
    if len(lines) > 1 and not any(c.isdigit() for cell in lines[0] for c in cell):
        lines = lines[1:]
    out = list(points)
    for n, cells in enumerate(lines):
        at = column + n
        if at >= len(out):
            across: Across = out[-1].across if out else "full"
            out.append(SurveyPoint(id=free_id("p", (p.id for p in out)), across=across))
        for key, cell in zip(CELLS[row:], cells, strict=False):
            if cell.strip():
                out[at] = _with(out[at], key, cell.strip(), n + 1, unit)
    return tuple(out)


def _with(point: SurveyPoint, key: Cell, cell: str, line: int, unit: UnitSystem) -> SurveyPoint:
    if key == "name":
        return msgspec.structs.replace(point, name=cell[:80])
    try:
        return msgspec.structs.replace(point, **{key: parse_readings(cell, unit)})
    except StoutError as why:
        shown = one_line(cell, 40)
        raise TextError("Q113", f"Row {line}, {CELL_WORDS[key]}: “{shown}” is no length.", why.hint) from None
