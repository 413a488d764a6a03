"""Closed outlines from a DXF drawing, in metres."""

from __future__ import annotations

import math
from pathlib import Path

from ezdxf import path as dxf_path
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.filemanagement import readfile
from ezdxf.lldxf.const import DXFError

from stoutlink.core.errors import FileError
from stoutlink.core.quantity.constants import INCH

Flat = tuple[float, float]
UNITS = {0: None, 1: INCH, 2: 0.3048, 4: 0.001, 5: 0.01, 6: 1.0}
"""Metres for a drawing unit by $INSUNITS; 0 is none given."""
FLATNESS = 0.0005
JOINED = 0.0005


def read_outlines(path: Path, unit: str = "mm") -> list[tuple[Flat, ...]]:
    """Closed outlines of all layers, largest first, m; curves become chords within 0.5 mm, loose lines are joined end
    to end.

    ``unit`` (``in`` or ``mm``) serves drawings that name none. Raises :class:`FileError` for a file that is no DXF,
    uses an unknown unit, or holds no closed outline.
    """
    try:
        drawing = readfile(path)
    except (OSError, DXFError, UnicodeError, ValueError) as why:
        if isinstance(why, OSError) and why.strerror:
            raise FileError("F140", f"{path.name} cannot be opened: {why.strerror.lower()}.") from None
        raise FileError(
            "F141", f"{path.name} is not a DXF drawing that can be read.", "Save it as DXF R2000 or later."
        ) from None
    code = int(drawing.header.get("$INSUNITS", 0))
    if code not in UNITS:
        raise FileError(
            "F142",
            f"{path.name} is drawn in a unit that is not known ($INSUNITS {code}).",
            "Save it in millimetres or inches.",
        )
    scale = UNITS[code] or (INCH if unit == "in" else 0.001)
    closed: list[tuple[Flat, ...]] = []
    loose: list[list[Flat]] = []
    for entity in drawing.modelspace():
        points = _flattened(entity, FLATNESS / scale)
        if len(points) < 2:
            continue
        scaled = [(x * scale, y * scale) for x, y in points]
        if math.dist(scaled[0], scaled[-1]) <= JOINED and len(scaled) > 3:
            closed.append(tuple(scaled[:-1]))
        else:
            loose.append(scaled)
    closed += _joined(loose)
    closed = [c for c in closed if len(c) >= 3 and abs(area(c)) > 1e-6]
    if not closed:
        raise FileError(
            "F143", f"{path.name} holds no closed outline.", "Close the polyline, or join its lines end to end."
        )
    return sorted(closed, key=lambda c: -abs(area(c)))


def _flattened(entity: DXFGraphic, flatness: float) -> list[Flat]:
    try:
        made = dxf_path.make_path(entity)
    except (TypeError, DXFError):
        return []
    return [(p.x, p.y) for p in made.flattening(flatness)]


def _joined(loose: list[list[Flat]]) -> list[tuple[Flat, ...]]:
    """Loose pieces joined where their ends meet; only chains that close."""
    out = []
    while loose:
        chain = list(loose.pop())
        grown = True
        while grown and math.dist(chain[0], chain[-1]) > JOINED:
            grown = False
            for i, piece in enumerate(loose):
                if math.dist(chain[-1], piece[0]) <= JOINED:
                    chain += piece[1:]
                elif math.dist(chain[-1], piece[-1]) <= JOINED:
                    chain += piece[-2::-1]
                else:
                    continue
                del loose[i]
                grown = True
                break
        if math.dist(chain[0], chain[-1]) <= JOINED and len(chain) > 3:
            out.append(tuple(chain[:-1]))
    return out


def area(outline: tuple[Flat, ...]) -> float:
    """Signed area, m² (the shoelace formula).

    >>> area(((0, 0), (2, 0), (2, 1), (0, 1)))
    2.0
    """
    following = (*outline[1:], outline[0])
    return 0.5 * math.fsum(a[0] * b[1] - b[0] * a[1] for a, b in zip(outline, following, strict=True))
