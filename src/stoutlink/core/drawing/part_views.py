"""Flat patterns as shapes: cut lines with true arcs, holes, bends, marks, and their sizes beside them."""

from __future__ import annotations

import math

from stoutlink.core.analysis.linkage.part import Part
from stoutlink.core.drawing.shapes import Arc, Dimension, Line, Oval, Shape, Text
from stoutlink.core.geometry.pattern import Loop, Pattern, arc_of, extent, sides
from stoutlink.core.mechanics.cope import Cope
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show


def loop_shapes(loop: Loop) -> list[Shape]:
    """A closed outline as lines and arcs, each as it is."""
    out: list[Shape] = []
    for a, b, bulge in sides(loop):
        if bulge == 0:
            out.append(Line((a, b), "cut"))
            continue
        middle, radius, turn = arc_of(a, b, bulge)
        one, two = (math.atan2(p[1] - middle[1], p[0] - middle[0]) for p in (a, b))
        out.append(Arc(middle, radius, *((one, two) if turn > 0 else (two, one)), "cut"))
    return out


def pattern_shapes(pattern: Pattern) -> list[Shape]:
    """Everything of a pattern but its words."""
    out = loop_shapes(pattern.outline)
    out += [Oval((h.x, h.y), (0.5 * h.diameter, 0.5 * h.diameter), "cut") for h in pattern.holes]
    out += [Line(bend, "bend") for bend in pattern.bends]
    out += [Line(mark, "mark") for mark in pattern.marks]
    return out


def part_sheet(part: Part, unit: UnitSystem, letters: float = 0.0025) -> list[Shape]:
    """A part with its outer sizes and what it is, for paper and for a drawing file."""
    (x0, y0), (x1, y1) = extent(part.pattern.outline)
    away = 4 * letters

    def size(v: float) -> str:
        return show(v, "length", unit, decimals=3 if unit == "in" else 1)

    words = f"{part.name}: {part.count} off, {show(part.thickness, 'fine_length', unit)} plate"
    holes = sorted({round(h.diameter, 7) for h in part.pattern.holes})
    told = "holes " + ", ".join(
        f"{size(d)} × {sum(abs(h.diameter - d) < 1e-6 for h in part.pattern.holes)}" for d in holes
    )
    return [
        *pattern_shapes(part.pattern),
        Dimension((x0, y0), (x1, y0), size(x1 - x0), -away, letters, "across"),
        Dimension((x1, y0), (x1, y1), size(y1 - y0), -away, letters, "up"),
        Text((x0, y1 + 3 * letters), words, letters, "dimension"),
        Text((x0, y1 + 1.2 * letters), told, letters, "dimension"),
    ]


def cope_loop(found: Cope, above: float) -> Loop:
    """The wrap of a cope: as wide as the tube is round, the cut line below, a straight edge ``above`` m over its highest
    point; starts and ends at the acute heel.
    """
    n = len(found.outer) - 1
    round_ = 2.0 * math.pi * found.radius
    top = max(found.outer) + above
    line = [(round_ * k / n, z, 0.0) for k, z in enumerate(found.outer)]
    return (*line, (round_, top, 0.0), (0.0, top, 0.0))


def cope_sheet(found: Cope, title: str, unit: UnitSystem, letters: float = 0.0025, above: float = 0.02) -> list[Shape]:
    """The wrap with quarter lines and words."""
    loop = cope_loop(found, above)
    (x0, y0), (x1, y1) = extent(loop)
    out: list[Shape] = [Line(tuple((x, y) for x, y, _ in loop), "cut", closed=True)]
    for k, word in enumerate(("heel", "right", "toe", "left", "heel")):
        x = x0 + (x1 - x0) * k / 4
        out.append(Line(((x, found.outer[k * (len(found.outer) - 1) // 4]), (x, y1)), "mark"))
        align = "left" if k < 4 else "right"
        out.append(Text((x + (0.4 if k < 4 else -0.4) * letters, y1 - 1.6 * letters), word, letters, "mark", align))  # type: ignore[arg-type]
    width = show(x1 - x0, "length", unit, decimals=3 if unit == "in" else 1)
    out.append(Dimension((x0, y0), (x1, y0), width, -4 * letters, letters, "across"))
    out.append(Text((x0, y1 + 1.2 * letters), title, letters, "dimension"))
    return out
