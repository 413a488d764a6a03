"""Flat patterns of plate: closed outlines of lines and arcs, round holes, bend and mark lines; metres.

An outline is a loop of corners ``(x, y, bulge)``; the bulge is the tangent of a quarter of the angle of the arc to the next
corner, anticlockwise +, 0 for a straight side. Source: the usual measure of an arc in drawings; geometry of a circle.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

Corner = tuple[float, float, float]
Loop = tuple[Corner, ...]
Flat = tuple[float, float]
NEVER = 1e-12


class Hole(Struct, frozen=True):
    """A round hole: middle and diameter."""

    x: float
    y: float
    diameter: float


class Pattern(Struct, frozen=True):
    """A part as it is cut from flat plate: outline anticlockwise, holes, lines to bend along, lines to mark."""

    outline: Loop
    holes: tuple[Hole, ...] = ()
    bends: tuple[tuple[Flat, Flat], ...] = ()
    marks: tuple[tuple[Flat, ...], ...] = ()


def sides(loop: Loop) -> Iterator[tuple[Flat, Flat, float]]:
    """From, to and bulge of every side of a ``loop``.

    >>> [(a, b) for a, b, _ in sides(((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0)))][2]
    ((0.0, 1.0), (0.0, 0.0))
    """
    for k, (x, y, bulge) in enumerate(loop):
        to = loop[(k + 1) % len(loop)]
        yield (x, y), (to[0], to[1]), bulge


def arc_of(a: Flat, b: Flat, bulge: float) -> tuple[Flat, float, float]:
    """Middle, radius and angle from start to end (anticlockwise +, rad) of the arc from ``a`` to ``b``; ``bulge`` not 0.

    >>> middle, radius, turn = arc_of((1.0, 0.0), (-1.0, 0.0), 1.0)
    >>> round(math.hypot(*middle), 9), radius, round(turn / math.pi, 9)
    (0.0, 1.0, 1.0)
    """
    turn = 4.0 * math.atan(bulge)
    dx, dy = b[0] - a[0], b[1] - a[1]
    chord = math.hypot(dx, dy)
    radius = abs(0.5 * chord / math.sin(0.5 * turn))
    off = 0.5 * chord / math.tan(0.5 * turn)  # from the chord's middle to its left
    return (0.5 * (a[0] + b[0]) - dy / chord * off, 0.5 * (a[1] + b[1]) + dx / chord * off), radius, turn


def perimeter(loop: Loop) -> float:
    """Length along a ``loop``, m.

    >>> round(perimeter(((1.0, 0.0, 1.0), (-1.0, 0.0, 1.0))) / math.pi, 9)
    2.0
    """
    total = 0.0
    for a, b, bulge in sides(loop):
        total += math.dist(a, b) if bulge == 0 else abs(arc_of(a, b, bulge)[1] * arc_of(a, b, bulge)[2])
    return total


def area(loop: Loop) -> float:
    """Area inside a ``loop``, m², anticlockwise +.

    >>> round(area(((1.0, 0.0, 1.0), (-1.0, 0.0, 1.0))) / math.pi, 9), area(((0, 0, 0), (2, 0, 0), (2, 1, 0), (0, 1, 0)))
    (1.0, 2.0)
    """
    total = 0.0
    for a, b, bulge in sides(loop):
        total += 0.5 * (a[0] * b[1] - b[0] * a[1])
        if bulge:
            _, radius, turn = arc_of(a, b, bulge)
            total += 0.5 * radius * radius * (turn - math.sin(turn))
    return total


def points(loop: Loop, apart: float = 2e-6) -> tuple[Flat, ...]:
    """A ``loop`` as corners whose sides lie within ``apart`` m of it.

    >>> len(points(((1.0, 0.0, 1.0), (-1.0, 0.0, 1.0)), 0.1))
    8
    """
    out: list[Flat] = []
    for a, b, bulge in sides(loop):
        out.append(a)
        if bulge:
            middle, radius, turn = arc_of(a, b, bulge)
            step = 2.0 * math.acos(max(-1.0, 1.0 - min(apart / radius, 1.0)))
            n = max(1, math.ceil(abs(turn) / max(step, 1e-4)))
            start = math.atan2(a[1] - middle[1], a[0] - middle[0])
            out += [
                (
                    middle[0] + radius * math.cos(start + turn * i / n),
                    middle[1] + radius * math.sin(start + turn * i / n),
                )
                for i in range(1, n)
            ]
    return tuple(out)


def extent(loop: Loop) -> tuple[Flat, Flat]:
    """Lower left and upper right of a ``loop``, arcs with their true reach.

    >>> [round(v, 9) + 0.0 for corner in extent(((1.0, 0.0, 1.0), (-1.0, 0.0, 0.0))) for v in corner]
    [-1.0, 0.0, 1.0, 1.0]
    """
    xs, ys = [c[0] for c in loop], [c[1] for c in loop]
    for a, b, bulge in sides(loop):
        if not bulge:
            continue
        middle, radius, turn = arc_of(a, b, bulge)
        start = math.atan2(a[1] - middle[1], a[0] - middle[0])
        low, high = sorted((start, start + turn))
        for k in range(math.ceil(low / (math.pi / 2)), math.floor(high / (math.pi / 2)) + 1):
            xs.append(middle[0] + radius * round(math.cos(k * math.pi / 2)))
            ys.append(middle[1] + radius * round(math.sin(k * math.pi / 2)))
    return (min(xs), min(ys)), (max(xs), max(ys))


def hull_of_discs(discs: tuple[tuple[float, float, float], ...]) -> Loop:
    """The line drawn tight round discs ``(x, y, radius)``, anticlockwise; a radius of 0 is a corner. Discs inside others
    do not count. Source: tangents common to two circles, taken one after the other.

    >>> [tuple(round(v, 6) for v in c) for c in hull_of_discs(((0.0, 0.0, 1.0), (2.0, 0.0, 1.0)))]
    [(0.0, -1.0, 0.0), (2.0, -1.0, 1.0), (2.0, 1.0, 0.0), (0.0, 1.0, 1.0)]
    """
    apart: list[tuple[float, float, float]] = []
    for one in discs:
        if one not in apart:
            apart.append(one)
    start = min(range(len(apart)), key=lambda i: (apart[i][1] - apart[i][2], apart[i][0]))
    if len(apart) == 1:
        x, y, r = apart[0]
        return ((x, y - r, 1.0), (x, y + r, 1.0))
    out: list[Corner] = []
    here, heading, turned = start, 0.0, 0.0
    while turned < 2.0 * math.pi - 1e-9 and len(out) < 4 * len(apart) + 4:
        x, y, r = apart[here]
        best: tuple[float, float, int] | None = None
        for k, (u, v, s) in enumerate(apart):
            far = math.hypot(u - x, v - y)
            if k == here or far <= abs(r - s) + NEVER:
                continue
            angle = math.atan2(v - y, u - x) + math.asin((r - s) / far)
            turn = (angle - heading) % (2.0 * math.pi)
            turn = 0.0 if turn > 2.0 * math.pi - 1e-9 else turn
            if (
                best is None
                or (turn, -far) < (best[0] - 1e-12, 0.0)
                or (abs(turn - best[0]) <= 1e-12 and far > best[1])
            ):
                best = (turn, far, k)
        if best is None:  # one disc holds all others
            return ((x, y - r, 1.0), (x, y + r, 1.0))
        turn = min(best[0], 2.0 * math.pi - turned)
        if turn > 1e-12 and r > 0:
            out.append((x + r * math.sin(heading), y - r * math.cos(heading), math.tan(0.25 * turn)))
        turned += turn
        heading += turn
        if turned >= 2.0 * math.pi - 1e-9:
            break
        out.append((x + r * math.sin(heading), y - r * math.cos(heading), 0.0))
        here = best[2]
    return _tidy(out)


def _tidy(corners: list[Corner]) -> Loop:
    """Without corners that lie on the one before them."""
    out: list[Corner] = []
    for one in corners:
        if out and math.dist(out[-1][:2], one[:2]) < 1e-9:
            out[-1] = one
        else:
            out.append(one)
    if len(out) > 1 and math.dist(out[0][:2], out[-1][:2]) < 1e-9:
        out.pop()
    return tuple(out)
