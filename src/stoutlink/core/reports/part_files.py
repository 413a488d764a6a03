"""Flat patterns as files at true scale: DXF with closed outlines on named layers, SVG in millimetres."""

from __future__ import annotations

import io
from collections.abc import Iterable
from html import escape

from msgspec.structs import replace

from stoutlink.core.analysis.linkage.plate_plan import PlatePlan
from stoutlink.core.document.link_work import PlateCutting
from stoutlink.core.geometry.pattern import Flat, Pattern, arc_of, extent, sides
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.text import one_line

Placed = tuple[Pattern, Flat, str]
"""A pattern, where its origin lies, and its name."""
LAYERS = (("CUT", 7, "CONTINUOUS"), ("BEND", 5, "CENTER"), ("MARK", 3, "CONTINUOUS"), ("NOTE", 8, "CONTINUOUS"))
LETTER = 0.003
PAD = 0.005
"""White round a drawing, m."""


def pattern_dxf(placed: Iterable[Placed], unit: UnitSystem) -> bytes:
    """Patterns as DXF R2000 in the unit the file says: outlines as closed polylines with true arcs and holes as circles on
    CUT, bend lines on BEND, what is only marked on MARK, names on NOTE."""
    from ezdxf import units  # noqa: PLC0415 - slow to load and only wanted when a drawing leaves
    from ezdxf.filemanagement import new  # noqa: PLC0415

    scale = 1.0 / INCH if unit == "in" else 1000.0
    doc = new("R2000", setup=["linetypes"])
    doc.units = units.IN if unit == "in" else units.MM
    doc.header["$MEASUREMENT"] = 0 if unit == "in" else 1
    for layer, colour, dashes in LAYERS:
        doc.layers.add(layer, color=colour, linetype=dashes)
    space = doc.modelspace()
    for pattern, (dx, dy), name in placed:
        corners = [((x + dx) * scale, (y + dy) * scale, bulge) for x, y, bulge in pattern.outline]
        space.add_lwpolyline(corners, format="xyb", close=True, dxfattribs={"layer": "CUT"})
        for h in pattern.holes:
            space.add_circle(
                ((h.x + dx) * scale, (h.y + dy) * scale), 0.5 * h.diameter * scale, dxfattribs={"layer": "CUT"}
            )
        for on, drawn in (("BEND", _lines(pattern.bends)), ("MARK", _lines(pattern.marks))):
            for line in drawn:
                way = [((x + dx) * scale, (y + dy) * scale) for x, y in line]
                space.add_lwpolyline(way, dxfattribs={"layer": on})
        low, _ = extent(pattern.outline)
        text = space.add_text(name, height=LETTER * scale, dxfattribs={"layer": "NOTE"})
        text.set_placement(((low[0] + dx) * scale, (low[1] + dy - 2 * LETTER) * scale))
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode("utf-8")


def plates_dxf(plans: tuple[PlatePlan, ...], plate: PlateCutting, unit: UnitSystem) -> bytes:
    """Every plate of every thickness in one drawing, side by side, each part where it lies; a plate's own edge on MARK."""
    out: list[Placed] = []
    x = 0.0
    for plan in plans:
        for number in range(plan.nested.plates):
            out += _on_plate(plan, number, plate, x, unit)
            x += plate.length_m + 0.1
    return pattern_dxf(out, unit)


def plate_dxf(plan: PlatePlan, number: int, plate: PlateCutting, unit: UnitSystem) -> bytes:
    """One plate with its corner at the origin, as a table cuts it."""
    return pattern_dxf(_on_plate(plan, number, plate, 0.0, unit), unit)


def _on_plate(plan: PlatePlan, number: int, plate: PlateCutting, x: float, unit: UnitSystem) -> list[Placed]:
    edge = ((0.0, 0.0), (plate.length_m, 0.0), (plate.length_m, plate.width_m), (0.0, plate.width_m), (0.0, 0.0))
    out: list[Placed] = []
    for k, (part, pattern) in enumerate(plan.on(number)):
        drawn = replace(pattern, marks=(edge,)) if k == 0 else pattern
        out.append((drawn, (x, 0.0), f"{part.name}, {show(part.thickness, 'fine_length', unit)}"))
    return out


def pattern_svg(placed: Iterable[Placed]) -> bytes:
    """Patterns as SVG whose user unit is a millimetre; groups cut, bend, mark and note."""
    every = list(placed)
    corners = [(p[0] + dx, p[1] + dy) for pattern, (dx, dy), _ in every for p in extent(pattern.outline)] or [
        (0.0, 0.0),
        (0.1, 0.1),
    ]
    x0, y0 = min(x for x, _ in corners) - PAD, min(y for _, y in corners) - PAD - 2 * LETTER
    x1, y1 = max(x for x, _ in corners) + PAD, max(y for _, y in corners) + PAD

    def at(x: float, y: float) -> str:
        return f"{1000 * (x - x0):.5f} {1000 * (y1 - y):.5f}"

    groups: dict[str, list[str]] = {"cut": [], "bend": [], "mark": [], "note": []}
    for pattern, (dx, dy), name in every:
        path = []
        for k, (a, b, bulge) in enumerate(sides(pattern.outline)):
            if k == 0:
                path.append(f"M {at(a[0] + dx, a[1] + dy)}")
            if bulge == 0:
                path.append(f"L {at(b[0] + dx, b[1] + dy)}")
            else:
                _, radius, turn = arc_of(a, b, bulge)
                big, sweep = int(abs(turn) > 3.141592653589793), int(turn < 0)
                path.append(f"A {1000 * radius:.5f} {1000 * radius:.5f} 0 {big} {sweep} {at(b[0] + dx, b[1] + dy)}")
        groups["cut"].append(f'<path d="{" ".join(path)} Z"/>')
        for h in pattern.holes:
            x, y = at(h.x + dx, h.y + dy).split()
            groups["cut"].append(f'<circle cx="{x}" cy="{y}" r="{500 * h.diameter:.5f}"/>')
        for group, lines in (("bend", _lines(pattern.bends)), ("mark", _lines(pattern.marks))):
            for line in lines:
                groups[group].append(f'<path d="M {" L ".join(at(x + dx, y + dy) for x, y in line)}"/>')
        low, _ = extent(pattern.outline)
        x, y = at(low[0] + dx, low[1] + dy - 2 * LETTER).split()
        groups["note"].append(f'<text x="{x}" y="{y}" font-size="{1000 * LETTER:g}">{escape(one_line(name))}</text>')
    style = {"cut": 'fill="none" stroke="#000" stroke-width="0.2"', "bend": 'fill="none" stroke="#00f" stroke-width="0.2" stroke-dasharray="4 1 1 1"', "mark": 'fill="none" stroke="#080" stroke-width="0.15"', "note": 'fill="#555" font-family="sans-serif"'}  # fmt: skip
    wide, high = 1000 * (x1 - x0), 1000 * (y1 - y0)
    body = "\n".join(f'<g id="{name}" {style[name]}>\n' + "\n".join(lines) + "\n</g>" for name, lines in groups.items())
    head = f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.5f}mm" height="{high:.5f}mm" viewBox="0 0 {wide:.5f} {high:.5f}">'
    return f'<?xml version="1.0" encoding="UTF-8"?>\n{head}\n{body}\n</svg>\n'.encode()


def _lines(lines: Iterable[Iterable[Flat]]) -> list[list[Flat]]:
    return [list(one) for one in lines]
