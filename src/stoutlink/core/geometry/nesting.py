"""Flat patterns laid out on plates: each in its upright box, turned a quarter where that is better, row upon row.

Boxes are set where they come lowest, then farthest left, on the skyline of those before (bottom-left on a skyline);
longest first. Boxes never overlap, so patterns do not. Source: derived; a usual way to lay rectangles.
"""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.geometry.pattern import Flat, Hole, Loop, Pattern, extent


class Laid(Struct, frozen=True):
    """A pattern on a plate: its place in the list, the plate's number, where its box's lower left stands, m, and
    whether it is turned a quarter to the left."""

    which: int
    plate: int
    at: Flat
    turned: bool


class Nested(Struct, frozen=True):
    """All that was laid, how many plates it takes, and what no plate is large enough for."""

    laid: tuple[Laid, ...]
    plates: int
    too_large: tuple[int, ...]


def box_of(pattern: Pattern, turned: bool) -> Flat:
    """Width and height of a ``pattern``, m, as it lies or ``turned`` a quarter.

    >>> square = Pattern(((0.0, 0.0, 0.0), (2.0, 0.0, 0.0), (2.0, 1.0, 0.0), (0.0, 1.0, 0.0)))
    >>> box_of(square, False), box_of(square, True)
    ((2.0, 1.0), (1.0, 2.0))
    """
    (x0, y0), (x1, y1) = extent(pattern.outline)
    return (y1 - y0, x1 - x0) if turned else (x1 - x0, y1 - y0)


def laid_out(pattern: Pattern, at: Flat, turned: bool) -> Pattern:
    """The ``pattern`` with the lower left of its box ``at`` a place, m, ``turned`` a quarter to the left or not.

    >>> square = Pattern(((0.0, 0.0, 0.0), (2.0, 0.0, 0.0), (2.0, 1.0, 0.0), (0.0, 1.0, 0.0)))
    >>> laid_out(square, (5.0, 5.0), True).outline[1][:2]
    (6.0, 7.0)
    """

    def turn(x: float, y: float) -> Flat:
        return (-y, x) if turned else (x, y)

    loop = tuple((*turn(x, y), bulge) for x, y, bulge in pattern.outline)
    (x0, y0), _ = extent(loop)
    dx, dy = at[0] - x0, at[1] - y0

    def put(x: float, y: float) -> Flat:
        u, v = turn(x, y)
        return u + dx, v + dy

    outline: Loop = tuple((x + dx, y + dy, bulge) for x, y, bulge in loop)
    holes = tuple(Hole(*put(h.x, h.y), h.diameter) for h in pattern.holes)
    bends = tuple((put(*a), put(*b)) for a, b in pattern.bends)
    return Pattern(outline, holes, bends, tuple(tuple(put(*p) for p in mark) for mark in pattern.marks))


def nest(patterns: tuple[Pattern, ...], plate: Flat, spacing: float, border: float) -> Nested:
    """Lay ``patterns`` on plates of ``plate`` (length, width) m, ``spacing`` m between any two and ``border`` m off the
    plate's edge.

    >>> one = Pattern(((0.0, 0.0, 0.0), (0.3, 0.0, 0.0), (0.3, 0.2, 0.0), (0.0, 0.2, 0.0)))
    >>> found = nest((one,) * 5, (0.7, 0.5), 0.01, 0.02)
    >>> found.plates, [laid.at for laid in found.laid][:2]
    (2, [(0.02, 0.02), (0.33, 0.02)])
    """
    wide, high = plate[0] - 2 * border, plate[1] - 2 * border
    fits = [i for i, p in enumerate(patterns) if any(_goes(box_of(p, t), wide, high) for t in (False, True))]
    order = sorted(fits, key=lambda i: (-max(box_of(patterns[i], False)), i))
    skylines: list[list[tuple[float, float, float]]] = []
    laid: list[Laid] = []
    for i in order:
        best: tuple[int, float, float, bool] | None = None
        for number, line in enumerate((*skylines, _bare(wide))):
            for turned in (False, True):
                box = box_of(patterns[i], turned)
                spot = _lowest(line, box, wide, high, spacing)
                if spot is not None and (best is None or (number, spot[1] + box[1], spot[0]) < (best[0], best[2] + box_of(patterns[i], best[3])[1], best[1])):  # fmt: skip
                    best = (number, spot[0], spot[1], turned)
            if best is not None and best[0] <= number:
                break
        assert best is not None
        number, x, y, turned = best
        if number == len(skylines):
            skylines.append(_bare(wide))
        box = box_of(patterns[i], turned)
        skylines[number] = _raised(skylines[number], x, x + box[0] + spacing, y + box[1] + spacing)
        laid.append(Laid(i, number, (border + x, border + y), turned))
    return Nested(tuple(laid), len(skylines), tuple(i for i in range(len(patterns)) if i not in fits))


def _goes(box: Flat, wide: float, high: float) -> bool:
    return box[0] <= wide + 1e-12 and box[1] <= high + 1e-12


def _bare(wide: float) -> list[tuple[float, float, float]]:
    """From, to and height of an empty plate's skyline; it may reach past the edge by a spacing nobody needs there."""
    return [(0.0, 10.0 * wide + 10.0, 0.0)]


def _lowest(line: list[tuple[float, float, float]], box: Flat, wide: float, high: float, spacing: float) -> Flat | None:
    best: Flat | None = None
    for left, _, _ in line:
        if left + box[0] > wide + 1e-12:
            continue
        under = [h for a, b, h in line if a < left + box[0] + spacing - 1e-12 and b > left + 1e-12]
        level = max(under)
        if level + box[1] <= high + 1e-12 and (best is None or (level, left) < (best[1], best[0])):
            best = (left, level)
    return best


def _raised(
    line: list[tuple[float, float, float]], a: float, b: float, level: float
) -> list[tuple[float, float, float]]:
    out: list[tuple[float, float, float]] = []
    for x0, x1, h in line:
        if x0 < a:
            out.append((x0, min(x1, a), h))
        if x1 > b:
            out.append((max(x0, b), x1, h))
    out = [piece for piece in out if piece[1] - piece[0] > 1e-12]
    return sorted([*out, (a, b, level)])
