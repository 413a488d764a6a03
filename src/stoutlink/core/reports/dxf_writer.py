"""Shapes as a DXF drawing: real lines, circles, arcs and texts on a layer for each role, in millimetres or inches."""

from __future__ import annotations

import io
import math
from collections.abc import Iterable

from stoutlink.core.drawing.shapes import Arc, Line, Note, Oval, Role, Shape, Text, plain
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import UnitSystem

LAYERS: dict[Role, tuple[str, int, str]] = {
    "cut": ("CUT", 7, "CONTINUOUS"), "mark": ("MARK", 3, "CONTINUOUS"), "bend": ("BEND", 5, "CENTER"), "dimension": ("DIMENSION", 8, "CONTINUOUS"),
    "construction": ("CONSTRUCTION", 8, "DASHED"), "centreline": ("CENTRELINE", 8, "CENTER"), "ground": ("GROUND", 8, "CONTINUOUS"),
}  # fmt: skip
"""Layer, colour index and line type of the roles a shop looks for; every other role has a layer of its own name."""
NOTE_HEIGHT = 0.02
"""Height of words that have none of their own, m."""


def dxf_bytes(shapes: Iterable[Shape], unit: UnitSystem) -> bytes:
    """A drawing of shapes in metres, R2000, in the unit the file says ($INSUNITS). Tubes are outlines of four sides.

    Nothing is scaled but the unit: a metre is 1000 mm or 39.37 in to the last digit a double has.
    """
    from ezdxf import units  # noqa: PLC0415 - slow to load and only wanted when a drawing leaves
    from ezdxf.filemanagement import new  # noqa: PLC0415

    scale = 1.0 / INCH if unit == "in" else 1000.0
    doc = new("R2000", setup=["linetypes"])
    doc.units = units.IN if unit == "in" else units.MM
    doc.header["$MEASUREMENT"] = 0 if unit == "in" else 1
    space = doc.modelspace()

    def layer(role: Role) -> dict[str, str]:
        name, colour, line = LAYERS.get(role, (role.upper(), 7, "CONTINUOUS"))
        if name not in doc.layers:
            doc.layers.add(name, color=colour, linetype=line)
        return {"layer": name}

    def at(point: tuple[float, float]) -> tuple[float, float]:
        return point[0] * scale, point[1] * scale

    for one in plain(shapes):
        on = layer(one.role)
        if isinstance(one, Line):
            points, closed = (
                (tube_outline(one), True) if one.width > 0 and len(one.points) == 2 else (one.points, one.closed)
            )
            space.add_lwpolyline([at(p) for p in points], close=closed, dxfattribs=on)
        elif isinstance(one, Oval) and one.radius[0] == one.radius[1]:
            space.add_circle(at(one.centre), one.radius[0] * scale, dxfattribs=on)
        elif isinstance(one, Oval):
            wide, high = one.radius
            major = (wide * scale, 0.0) if wide >= high else (0.0, high * scale)
            space.add_ellipse(at(one.centre), major, min(wide, high) / max(wide, high), dxfattribs=on)
        elif isinstance(one, Arc):
            space.add_arc(
                at(one.centre), one.radius * scale, math.degrees(one.start), math.degrees(one.end), dxfattribs=on
            )
        else:
            _words(space, one, at, scale, on)
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode("utf-8")


def _words(space: object, one: Text | Note, at: object, scale: float, on: dict[str, str]) -> None:
    from ezdxf.enums import TextEntityAlignment as Align  # noqa: PLC0415

    height = one.height if isinstance(one, Text) else NOTE_HEIGHT
    turn = math.degrees(one.turn) if isinstance(one, Text) else 0.0
    where = {"left": Align.LEFT, "centre": Align.CENTER, "right": Align.RIGHT}[one.align]
    text = space.add_text(one.text, height=height * scale, rotation=turn, dxfattribs=on)  # type: ignore[attr-defined]
    text.set_placement(at(one.at), align=where)  # type: ignore[operator]


def tube_outline(one: Line) -> tuple[tuple[float, float], ...]:
    """The four corners of a line that has a width.

    >>> tube_outline(Line(((0.0, 0.0), (1.0, 0.0)), "link_lower", width=0.1))
    ((0.0, 0.05), (1.0, 0.05), (1.0, -0.05), (0.0, -0.05))
    """
    (ax, ay), (bx, by) = one.points
    size = math.hypot(bx - ax, by - ay) or 1.0
    nx, ny = -(by - ay) / size * one.width / 2, (bx - ax) / size * one.width / 2
    return (ax + nx, ay + ny), (bx + nx, by + ny), (bx - nx, by - ny), (ax - nx, ay - ny)
