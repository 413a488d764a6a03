"""Closed outlines from a DXF drawing, in metres.

What is read is bounded before it is worked on: bytes, entities, copies of blocks, vertices, and how far a shape may
reach. :mod:`.dxf_apart` reads in a process of its own, so that no drawing takes the window's time or memory.
"""

from __future__ import annotations

import argparse
import itertools
import json
import math
import sys
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from ezdxf import path as dxf_path
from ezdxf.document import Drawing
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.filemanagement import readfile

from stoutlink.core.errors import FileError
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.storage.disk import read_bytes

Flat = tuple[float, float]
UNITS = {0: None, 1: INCH, 2: 0.3048, 4: 0.001, 5: 0.01, 6: 1.0}
"""Metres for a drawing unit by $INSUNITS; 0 is none given."""
FLATNESS = 0.0005
JOINED = 0.0005
LARGEST = 32 * 1024 * 1024
MOST_ENTITIES, MOST_COPIES, MOST_VERTICES = 20_000, 2_000, 200_000
"""Of shapes as drawn, of shapes out of blocks (each has to be made), and of points."""
FARTHEST = 1000.0
"""Nothing that is drawn of a vehicle reaches farther than this from its origin, m."""
DEEPEST = 8
"""Blocks in blocks."""


def read_outlines(path: Path, unit: str = "mm") -> list[tuple[Flat, ...]]:
    """Closed outlines of all layers, largest first, m; curves become chords within 0.5 mm, loose lines are joined end
    to end, blocks are taken where they are put.

    ``unit`` (``in`` or ``mm``) serves drawings that name none. Raises :class:`FileError` for a file that is no DXF,
    uses an unknown unit, is beyond what is read, or holds no closed outline.
    """
    read_bytes(path, LARGEST)
    try:
        drawing = readfile(path)
        code = int(drawing.header.get("$INSUNITS", 0))
    except Exception:  # a torn or hostile drawing makes its reader fail in any way there is
        raise FileError(
            "F141", f"{path.name} is not a DXF drawing that can be read.", "Save it as DXF R2000 or later."
        ) from None
    if code not in UNITS:
        raise FileError(
            "F142",
            f"{path.name} is drawn in a unit that is not known ($INSUNITS {code}).",
            "Save it in millimetres or inches.",
        )
    scale = UNITS[code] or (INCH if unit == "in" else 0.001)
    closed: list[tuple[Flat, ...]] = []
    loose: list[list[Flat]] = []
    try:
        for points in _curves(drawing, scale):
            if math.dist(points[0], points[-1]) <= JOINED and len(points) > 3:
                closed.append(tuple(points[:-1]))
            else:
                loose.append(points)
    except _TooMuch:
        raise FileError(
            "F144",
            f"{path.name} holds more than the {MOST_ENTITIES:,} shapes, {MOST_COPIES:,} copies out of blocks or {MOST_VERTICES:,} points that are read.",
            "Save the outline alone in a drawing of its own.",
        ) from None
    closed += _joined(loose)
    closed = [c for c in closed if len(c) >= 3 and abs(area(c)) > 1e-6]
    if not closed:
        raise FileError(
            "F143",
            f"{path.name} holds no closed outline within 1 km of its origin.",
            "Close the polyline, or join its lines end to end.",
        )
    return sorted(closed, key=lambda c: -abs(area(c)))


class _TooMuch(Exception):
    """There is more than is read."""


def _entities(drawing: Drawing) -> Iterator[DXFGraphic]:
    """What stands in the drawing, blocks taken apart; raises when their copies are too many."""

    copied = itertools.count(1)

    def inner(entity: DXFGraphic, depth: int) -> Iterator[DXFGraphic]:
        if entity.dxftype() != "INSERT":
            yield entity
            return
        if depth == 0:
            return
        rows, columns = int(entity.dxf.get("row_count", 1)), int(entity.dxf.get("column_count", 1))
        if rows * columns > MOST_COPIES:
            raise _TooMuch
        copies: Any = entity.multi_insert() if rows * columns > 1 else (entity,)  # type: ignore[attr-defined]
        for copy in copies:
            for one in copy.virtual_entities():
                if next(copied) > MOST_COPIES:
                    raise _TooMuch
                yield from inner(one, depth - 1)

    try:
        for entity in drawing.modelspace():
            yield from inner(entity, DEEPEST)
    except _TooMuch:
        raise
    except Exception:  # a block that cannot be taken apart is as good as none
        return


def _curves(drawing: Drawing, scale: float) -> Iterator[list[Flat]]:
    """Every shape as chords, m; raises when there are too many."""
    vertices = 0
    for n, entity in enumerate(_entities(drawing)):
        points = _flattened(entity, scale)
        vertices += len(points)
        if n >= MOST_ENTITIES or vertices > MOST_VERTICES:
            raise _TooMuch
        if len(points) >= 2:
            yield points


def _flattened(entity: DXFGraphic, scale: float) -> list[Flat]:
    """A shape as chords, m; nothing for what has no outline, reaches out of all measure or cannot be worked out."""
    try:
        made = dxf_path.make_path(entity)
        if not all(abs(v) * scale <= FARTHEST for p in made.control_vertices() for v in (p.x, p.y)):  # nor not a number
            return []
        points = [(p.x * scale, p.y * scale) for p in made.flattening(FLATNESS / scale)]
    except Exception:
        return []
    return points if all(math.isfinite(v) for p in points for v in p) else []


def _joined(loose: list[list[Flat]]) -> list[tuple[Flat, ...]]:
    """Loose pieces joined where their ends meet; only chains that close. Each piece is looked at once."""
    ends: dict[tuple[int, int], list[int]] = defaultdict(list)
    for i, piece in enumerate(loose):
        for point in (piece[0], piece[-1]):
            ends[_cell(point)].append(i)
    free = set(range(len(loose)))

    def take(point: Flat) -> list[Flat] | None:
        """A free piece that begins or ends here, turned to begin here."""
        x, y = _cell(point)
        for cell in itertools.product((x - 1, x, x + 1), (y - 1, y, y + 1)):
            there = ends.get(cell, [])
            for i in there[:]:
                if i not in free:
                    there.remove(i)
                elif math.dist(point, loose[i][0]) <= JOINED:
                    free.discard(i)
                    return loose[i]
                elif math.dist(point, loose[i][-1]) <= JOINED:
                    free.discard(i)
                    return loose[i][::-1]
        return None

    out = []
    for i in range(len(loose)):
        if i not in free:
            continue
        free.discard(i)
        chain = list(loose[i])
        while math.dist(chain[0], chain[-1]) > JOINED and (following := take(chain[-1])) is not None:
            chain += following[1:]
        if math.dist(chain[0], chain[-1]) <= JOINED and len(chain) > 3:
            out.append(tuple(chain[:-1]))
    return out


def _cell(point: Flat) -> tuple[int, int]:
    return math.floor(point[0] / JOINED), math.floor(point[1] / JOINED)


def area(outline: tuple[Flat, ...]) -> float:
    """Signed area, m² (the shoelace formula).

    >>> area(((0, 0), (2, 0), (2, 1), (0, 1)))
    2.0
    """
    following = (*outline[1:], outline[0])
    return 0.5 * math.fsum(a[0] * b[1] - b[0] * a[1] for a, b in zip(outline, following, strict=True))


def main() -> int:
    """Read for another process: the outlines, or why there are none, as JSON on standard output."""
    parser = argparse.ArgumentParser(description="Closed outlines of a DXF drawing as JSON")
    parser.add_argument("file", type=Path)
    parser.add_argument("unit", choices=("in", "mm"))
    args = parser.parse_args()
    try:
        said: dict[str, Any] = {"outlines": read_outlines(args.file, args.unit)}
    except FileError as why:
        said = {"refused": [why.code, why.sentence, why.hint]}
    print(json.dumps(said))
    return 0


if __name__ == "__main__":
    sys.exit(main())
