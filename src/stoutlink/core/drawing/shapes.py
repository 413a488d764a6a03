"""Plain shapes in metres on a view: what every painter (screen, paper, file) understands.

A view has a horizontal and a vertical coordinate: side (x, z) seen from the right, plan (x, y) from above,
rear (−y, z) from behind. ``role`` says what a line means; the painter chooses pen and colour.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from typing import Literal

from msgspec import Struct

Flat = tuple[float, float]
ViewName = Literal["side", "plan", "rear"]
AXES: dict[ViewName, tuple[int, int]] = {"side": (0, 2), "plan": (0, 1), "rear": (1, 2)}
"""Which coordinates of a point run across and up each view."""
SIGN: dict[ViewName, float] = {"side": 1.0, "plan": 1.0, "rear": -1.0}
"""Which way the first of them runs."""
Role = Literal[
    "ground", "tyre", "housing", "axle", "link_upper", "link_lower", "link_panhard", "link_selected", "construction", "force", "neutral",
    "roll_axis", "cg", "cg_band", "ghost", "body", "centreline", "selected", "shaft", "compared", "rail", "rail_far", "solid", "room", "tape",
    "hole", "drag_link", "arc", "load_pull", "load_push", "search_box", "lock", "leaf",
    "cut", "mark", "bend", "dimension",
]  # fmt: skip
VIEWS: tuple[ViewName, ...] = ("side", "plan", "rear")


class Line(Struct, frozen=True):
    """A polyline, or an outline when ``closed``; ``width`` m gives it body (a tube), 0 is a pen line."""

    points: tuple[Flat, ...]
    role: Role
    closed: bool = False
    width: float = 0.0


class Oval(Struct, frozen=True):
    """A circle or an upright ellipse."""

    centre: Flat
    radius: Flat
    role: Role


class Note(Struct, frozen=True):
    """Words at a point, in the painter's own size."""

    at: Flat
    text: str
    role: Role
    align: Literal["left", "centre", "right"] = "left"


class Arc(Struct, frozen=True):
    """A circular arc counted anticlockwise from ``start`` to ``end``, rad from the first axis of the view."""

    centre: Flat
    radius: float
    start: float
    end: float
    role: Role

    def points(self, most: float = math.radians(3.0)) -> tuple[Flat, ...]:
        """The arc as a polyline whose steps are no wider than ``most``, rad.

        >>> [(round(x, 6), round(y, 6)) for x, y in Arc((0.0, 0.0), 1.0, 0.0, math.pi / 2, "cut").points(1.0)]
        [(1.0, 0.0), (0.707107, 0.707107), (0.0, 1.0)]
        """
        span = (self.end - self.start) % (2 * math.pi) or 2 * math.pi
        n = max(1, math.ceil(span / most))
        at = (self.start + span * i / n for i in range(n + 1))
        return tuple(
            (self.centre[0] + self.radius * math.cos(v), self.centre[1] + self.radius * math.sin(v)) for v in at
        )


class Text(Struct, frozen=True):
    """Words of a height of their own, m: they keep their size in the drawing, unlike a :class:`Note`."""

    at: Flat
    text: str
    height: float
    role: Role
    align: Literal["left", "centre", "right"] = "left"
    turn: float = 0.0


LETTER_WIDTH = 0.8
"""Room a letter takes, as a part of its height."""


class Dimension(Struct, frozen=True):
    """The distance from ``a`` to ``b`` written on a line ``off`` m to the left of the way from one to the other;
    ``along`` measures across (``"across"``) or up (``"up"``) only."""

    a: Flat
    b: Flat
    text: str
    off: float
    height: float
    along: Literal["aligned", "across", "up"] = "aligned"
    role: Role = "dimension"

    def parts(self) -> tuple[Line | Text, ...]:
        """As lines and words: two extension lines, the dimension line with slashes at its ends, the text over it."""
        if self.along == "across":
            a, b = self.a, (self.b[0], self.a[1])
        elif self.along == "up":
            a, b = self.a, (self.a[0], self.b[1])
        else:
            a, b = self.a, self.b
        size = math.dist(a, b) or 1.0
        ux, uy = (b[0] - a[0]) / size, (b[1] - a[1]) / size
        nx, ny = -uy * self.off, ux * self.off
        p, q = (a[0] + nx, a[1] + ny), (b[0] + nx, b[1] + ny)
        over, tick = 0.6 * self.height, 0.5 * self.height
        sign = 1.0 if self.off >= 0 else -1.0
        lift = (-uy * sign * over, ux * sign * over)
        out: list[Line | Text] = [Line((p, q), self.role)]
        for point, end in ((self.a, p), (self.b, q)):
            out.append(Line((point, (end[0] + lift[0], end[1] + lift[1])), self.role))
            slash = ((ux - uy) * tick, (uy + ux) * tick)
            out.append(
                Line(((end[0] - slash[0], end[1] - slash[1]), (end[0] + slash[0], end[1] + slash[1])), self.role)
            )
        turn = math.atan2(uy, ux)
        flip = not -math.pi / 2 < turn <= math.pi / 2
        middle = (0.5 * (p[0] + q[0]), 0.5 * (p[1] + q[1]))
        turn = (turn + math.pi) % (2 * math.pi) if flip else turn
        rise = 0.35 * self.height
        at, align = (middle[0] - math.sin(turn) * rise, middle[1] + math.cos(turn) * rise), "centre"
        if LETTER_WIDTH * self.height * len(self.text) > size:  # no room between the slashes: beside them
            last = p if flip else q
            ahead, down = 1.4 * tick, 0.5 * self.height
            at = (
                last[0] + math.cos(turn) * ahead + math.sin(turn) * down,
                last[1] + math.sin(turn) * ahead - math.cos(turn) * down,
            )
            align = "left"
        out.append(Text(at, self.text, self.height, self.role, "centre" if align == "centre" else "left", turn))
        return tuple(out)


Shape = Line | Oval | Note | Arc | Text | Dimension


Plain = Line | Oval | Note | Arc | Text


def plain(shapes: Iterable[Shape]) -> Iterator[Plain]:
    """The shapes with dimensions taken apart."""
    for one in shapes:
        if isinstance(one, Dimension):
            yield from one.parts()
        else:
            yield one


def extent_of(shapes: Iterable[Shape]) -> tuple[Flat, Flat] | None:
    """The low and high corner of everything drawn, m; ``None`` for nothing. Notes count as points."""
    xs: list[float] = []
    ys: list[float] = []
    for one in plain(shapes):
        if isinstance(one, Line):
            half = 0.5 * one.width
            xs += [v + s for v, _ in one.points for s in (-half, half)]
            ys += [v + s for _, v in one.points for s in (-half, half)]
        elif isinstance(one, Oval):
            xs += [one.centre[0] - one.radius[0], one.centre[0] + one.radius[0]]
            ys += [one.centre[1] - one.radius[1], one.centre[1] + one.radius[1]]
        elif isinstance(one, Arc):
            xs += [v for v, _ in one.points()]
            ys += [v for _, v in one.points()]
        else:
            xs.append(one.at[0])
            ys.append(one.at[1])
    return None if not xs else ((min(xs), min(ys)), (max(xs), max(ys)))


def flatten(point: tuple[float, float, float], view: ViewName) -> Flat:
    """A vehicle point as it appears in a view.

    >>> flatten((1.0, 2.0, 3.0), "rear")
    (-2.0, 3.0)
    """
    x, y, z = point
    return (x, z) if view == "side" else (x, y) if view == "plan" else (-y, z)


def box(low: Flat, high: Flat, role: Role) -> Line:
    """An upright rectangle."""
    return Line((low, (high[0], low[1]), high, (low[0], high[1])), role, closed=True)
