"""A survey as CSV: one row a point, units in the headings, fractions allowed, several readings with ``|``.

Lines before the heading that begin with ``#`` carry the survey's name, notes and datum. Comma or semicolon (then a
decimal comma is understood), with or without a byte order mark. A bad row is reported with its line and column and
the others are kept. Columns: docs/survey-table.md.
"""

from __future__ import annotations

import csv
import io
import itertools
import math
import re
from collections.abc import Iterator
from decimal import Decimal
from pathlib import Path
from typing import Any

import msgspec
from msgspec import Struct

from stoutlink.core.document.called import field_at, words_at
from stoutlink.core.document.plain_words import accepted_plainly
from stoutlink.core.document.survey import Datum, Reading, Survey, SurveyPoint
from stoutlink.core.errors import CatalogueError, TextError
from stoutlink.core.quantity.length_text import UnitSystem, parse_length
from stoutlink.core.quantity.shown import parse_quantity
from stoutlink.core.storage.table_file import read_table_text
from stoutlink.core.tables import plain_cell, table_text
from stoutlink.core.text import one_line, whole

READINGS = ("station", "height", "side")
LENGTHS = ("diameter", "station_sigma", "height_sigma", "side_sigma")
WORDS = ("id", "name", "kind", "across", "station_edge", "height_edge", "side_edge")
ORDER = (
    "name", "station", "height", "side", "across", "kind", "station_edge", "height_edge", "side_edge", "diameter", "angle_deg",
    "station_sigma", "height_sigma", "side_sigma", "id",
)  # fmt: skip
_UNIT = re.compile(r"(.*?)[\s_]*[\[(]?(in|mm|cm|m)[\])]?$")
_EXACT = re.compile(r"-?\d+(\.\d+)? m")
"""How this program writes a length for which no text as typed is kept."""
MOST_POINTS = 5000
"""Stations that a survey takes."""
_DATUM = ("zero_x_m", "direction", "stood", "front_rise_m", "rear_rise_m", "centre_offset_m", "zero_sigma_m")


class SurveyTable(Struct, frozen=True):
    """The survey that could be read, and one sentence for each row that could not."""

    survey: Survey
    problems: tuple[str, ...]


def write_survey(survey: Survey, unit: UnitSystem) -> str:
    """Write a survey that :func:`read_survey` reads back without loss, texts as typed included."""
    rows: list[list[object]] = [["# survey", _one_line(survey.name)]]
    if survey.notes:
        rows.append(["# notes", _one_line(survey.notes)])
    plain = msgspec.to_builtins(survey.datum)
    for key in _DATUM:
        rows.append([f"# {key}", _number(plain[key]) if isinstance(plain[key], float) else plain[key]])
    rows.append([f"{c}_{unit}" if c in READINGS + LENGTHS else c for c in ORDER])
    rows += [[_cell(point, column, unit) for column in ORDER] for point in survey.points]
    return table_text(rows)


_ESCAPED = {"\\": "\\\\", "\n": "\\n", "\r": "\\r"}


def _one_line(text: str) -> str:
    """Text without line ends, which :func:`_many_lines` brings back."""
    return re.sub(r"[\\\n\r]", lambda m: _ESCAPED[m[0]], text)


def _no_datum(why: str, notes: dict[str, str]) -> str:
    """Which line with # cannot be, and what it may say."""
    said, _, place = why.partition(" - at `$")
    key = place.strip(".`")
    field = field_at(("surveys", "s", "datum", key))
    if field is not None:
        wanted = f"accepted is a number from {field.low:g} to {field.high:g}"
    elif said.startswith("Expected"):
        wanted = f"accepted is {accepted_plainly(said.removeprefix('Expected ').replace('`', '').split(', got')[0])}"
    else:
        wanted = f"accepted is {' or '.join(words_at(('surveys', 's', 'datum', key)))}"
    return f"The line “# {key}” holds “{one_line(notes.get(key, ''), 40)}”; {wanted}."


def _many_lines(text: str) -> str:
    return re.sub(r"\\([\\nr])", lambda m: {"n": "\n", "r": "\r"}.get(m[1], "\\"), text)


def _number(value: float) -> str:
    """A float as decimal digits that read back to the very same value."""
    return format(Decimal(repr(value)), "f")


def _cell(point: SurveyPoint, column: str, unit: UnitSystem) -> str:
    if column in READINGS:
        return " | ".join(_reading_text(r, unit) for r in getattr(point, column))
    if column == "angle_deg":
        return "" if point.angle_rad is None else f"{_number(point.angle_rad)} rad"
    if column in LENGTHS:
        value = getattr(point, f"{column}_m")
        return "" if value is None else f"{_number(value)} m"
    return str(getattr(point, column))


def _reading_text(reading: Reading, unit: UnitSystem) -> str:
    if reading.text and "|" not in reading.text:
        try:
            if parse_length(reading.text, unit) == reading.value_m:
                return reading.text
        except TextError:
            pass
    return f"{_number(reading.value_m)} m"


def read_survey(
    text: str, unit: UnitSystem = "in", name: str = "Imported survey", survey_id: str = "survey"
) -> SurveyTable:
    """Read a survey; raises :class:`CatalogueError` when the table as a whole is not one. ``unit`` serves headings
    without one.

    >>> t = read_survey("name,station_in,height_in\\nframe dips,12 1/2,22\\nx,,y\\n")
    >>> t.survey.points[0].station[0].value_m, t.problems
    (0.3175, ('Line 3, column height_in: “y” is not understood.',))
    """
    lines = io.StringIO(text.lstrip("\ufeff"), newline="\n").readlines()
    heading = next((i for i, line in enumerate(lines) if line.strip() and not line.lstrip('"').startswith("#")), None)
    if heading is None:
        raise CatalogueError(
            "C110", "The table is empty: there is no heading row.", "The columns are listed in docs/survey-table.md."
        )
    first = lines[heading]
    delimiter = ";" if first.count(";") > first.count(",") else "\t" if "\t" in first and "," not in first else ","
    points: list[SurveyPoint] = []
    problems: list[str] = []
    taken: set[str] = set()
    fresh = (f"p{n}" for n in itertools.count(1))
    try:
        columns = _columns(first, delimiter, unit)
        notes = _comments(lines[:heading], delimiter)
        rows = csv.reader(io.StringIO("".join(lines[heading + 1 :])), delimiter=delimiter, strict=True)
        for row in rows:
            line = heading + 1 + rows.line_num
            if not any(cell.strip() for cell in row):
                continue
            if len(points) >= MOST_POINTS:
                problems.append(f"Line {line} and what follows: {MOST_POINTS} stations are the most a survey takes.")
                break
            try:
                points.append(_row(row, columns, delimiter == ";", taken, fresh))
            except ValueError as why:
                problems.append(f"Line {line}, {why}")
    except csv.Error as why:
        raise CatalogueError("C111", f"The table is not CSV: {why}.") from why
    try:
        datum = msgspec.convert({k: v for k, v in notes.items() if k in _DATUM}, Datum, strict=False)
    except msgspec.ValidationError as why:
        raise CatalogueError("C112", _no_datum(str(why), notes)) from None
    notes_text = _many_lines(notes.get("notes", ""))[:4000]
    named = _many_lines(notes.get("survey", "")) or name
    return SurveyTable(
        Survey(id=survey_id, name=named[:120], notes=notes_text, datum=datum, points=tuple(points)), tuple(problems)
    )


def _comments(lines: list[str], delimiter: str) -> dict[str, str]:
    out = {}
    for row in csv.reader(io.StringIO("".join(lines)), delimiter=delimiter):
        if len(row) >= 2:
            out[row[0].lstrip("# ").strip()] = plain_cell(row[1])
    return out


def _columns(heading: str, delimiter: str, unit: UnitSystem) -> list[tuple[str, str, str]]:
    """For each column: the heading as written, the field, and its unit."""
    out: list[tuple[str, str, str]] = []
    for cell in next(csv.reader([heading.strip()], delimiter=delimiter)):
        written = cell.strip()
        key, own = written.lower().replace(" ", "_"), ""
        if key not in ORDER and (match := _UNIT.fullmatch(written.lower())):
            key, own = match[1].strip().replace(" ", "_"), match[2]
        key = {"spread": "side", "offset": "side"}.get(key, key)
        if key not in ORDER:
            raise CatalogueError(
                "C113",
                f"The table has a column “{written}” that is not known.",
                "The columns are listed in docs/survey-table.md.",
            )
        if key in (k for _, k, _ in out):
            raise CatalogueError("C114", f"The table has two columns for {key}.", "Keep one.")
        out.append((written, key, own or unit))
    if "station" not in (k for _, k, _ in out):
        raise CatalogueError(
            "C115", "The table has no column for station.", "The columns are listed in docs/survey-table.md."
        )
    return out


def _row(
    row: list[str],
    columns: list[tuple[str, str, str]],
    decimal_comma: bool,
    taken: set[str],
    fresh: Iterator[str],
) -> SurveyPoint:
    if len(row) != len(columns):
        raise ValueError(f"the row has {len(row)} cells, the heading {len(columns)}.")
    plain: dict[str, Any] = {}
    where: dict[str, str] = {}
    for cell, (written, key, unit) in zip(row, columns, strict=True):
        cell = plain_cell(cell.strip())
        if not cell and key != "name":
            continue
        try:
            if key in READINGS:
                parts = [p.strip() for p in cell.split("|")]
                plain[key] = [{"value_m": _length(p, unit, decimal_comma), "text": _kept(p, unit)} for p in parts if p]
                where[key] = written
            elif key in LENGTHS:
                plain[f"{key}_m"] = _length(cell, unit, decimal_comma)
                where[f"{key}_m"] = written
            elif key == "angle_deg":
                plain["angle_rad"] = _angle(cell, decimal_comma)
                where["angle_rad"] = written
            else:
                plain[key] = cell
                where[key] = written
        except TextError as why:
            raise ValueError(f"column {written}: {why.sentence}") from None
    if "id" not in plain:
        plain["id"] = next(name for name in fresh if name not in taken)
    identity = plain["id"]
    if identity in taken:
        raise ValueError(f"column id: “{identity}” stands twice.")
    try:
        point = msgspec.convert(plain, SurveyPoint)
    except msgspec.ValidationError as why:
        message, _, path = str(why).partition(" - at `$.")
        key = re.split(r"[.\[`]", path)[0]
        shown = plain.get(key)
        text = shown[0]["text"] if isinstance(shown, list) else str(shown)
        expected = message.replace("`", "").removeprefix("Expected ").split(", got")[0]
        accepted = "a word this column has" if message.startswith("Invalid") else accepted_plainly(expected)
        raise ValueError(
            f"column {where.get(key, key)}: “{one_line(text, 40)}” cannot be; accepted is {accepted}."
        ) from None
    taken.add(identity)
    return point


def _kept(text: str, unit: str) -> str:
    """The text as typed, unless it is only the exact value this program wrote itself."""
    return "" if _EXACT.fullmatch(text) and unit != "m" else text[:40]


def _length(text: str, unit: str, decimal_comma: bool) -> float:
    if _EXACT.fullmatch(text):
        return float(text.removesuffix(" m"))
    plain = text.replace(",", ".") if decimal_comma else text
    if unit in ("in", "mm"):
        return parse_length(plain, "in" if unit == "in" else "mm")
    try:
        return parse_length(plain + unit, "mm")
    except TextError:
        return parse_length(plain, "mm")


def _angle(text: str, decimal_comma: bool) -> float:
    plain = text.replace(",", ".") if decimal_comma else text
    if plain.endswith(" rad"):
        try:
            value = float(plain.removesuffix(" rad"))
        except ValueError:
            value = math.nan
        if not math.isfinite(value):
            raise TextError("Q105", f"“{text}” is not an angle.", "Accepted: degrees such as 2.5.")
        return value
    return parse_quantity(plain, "angle", "in")


def read_survey_file(path: Path, unit: UnitSystem, survey_id: str) -> SurveyTable:
    """Read a survey file; raises :class:`CatalogueError` when it cannot be opened or is not text."""
    return read_survey(read_table_text(path), unit, whole(path.stem), survey_id)
