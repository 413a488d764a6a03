"""What a plasma table makes of a drawing: how often it pierces, how far it cuts, how long that takes, or what cannot be cut.

Speeds are those of no table there is: a rule of this program's own (proportional to the current, inversely to the
thickness), a guess to plan a day with.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from typing import Any

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
MM = {0: 1.0, 1: 25.4, 4: 1.0, 5: 10.0, 6: 1000.0}
"""Millimetres for a drawing unit by $INSUNITS; one that names none is in millimetres."""
FLAT = 0.02
JOINED = 0.05
"""Ends of loose lines nearer than this, mm, meet."""
KERF = 1.5
"""What the torch takes away, mm; outlines nearer than this run into each other."""
MOST_ENTITIES, MOST_POINTS = 20_000, 60_000
LARGEST = 16 * 1024 * 1024
THICKEST = 0.22
"""Plate a table pierces by its current, mm/A."""
RAPID = 8000.0
"""Between two cuts, mm/min."""


class CannotCut(Exception):
    """What of a drawing cannot be cut, each in a few words."""

    def __init__(self, why: tuple[str, ...]) -> None:
        super().__init__("; ".join(why))
        self.why = why


class Job(Struct, frozen=True):
    """Pierces, cut length mm, time s."""

    pierces: int
    length: float
    seconds: float


class _Cut(Struct, frozen=True):
    """One closed line, mm; ``inside`` the one that holds it; ``across`` its least width."""

    points: Array
    name: str
    inside: int

    @property
    def length(self) -> float:
        """Once round, mm."""
        return float(np.linalg.norm(np.roll(self.points, -1, axis=0) - self.points, axis=1).sum())

    @property
    def across(self) -> float:
        """Least side of the box round it, mm."""
        return float((self.points.max(axis=0) - self.points.min(axis=0)).min())


def feed(thickness: float, amps: float) -> float:
    """Cutting speed, mm/min, of plate ``thickness`` mm at a current.

    >>> feed(6.0, 45.0), feed(0.5, 100.0)
    (1125.0, 6000.0)
    """
    return min(6000.0, 150.0 * amps / thickness)


def look_at(drawing: bytes, thickness: float, amps: float, plate: tuple[float, float]) -> Job:
    """Work a drawing out for plate ``thickness`` mm thick and ``plate`` mm long and wide. Raises :class:`CannotCut`
    naming everything that cannot be cut: an open outline, a hole smaller than the plate is thick, outlines that cross,
    coincide or come nearer than the kerf, what lies off the plate, plate too thick for the current.
    """
    closed, loose, names = _read(drawing)
    wrong = [f"open outline that begins at {p[0][0]:.0f}, {p[0][1]:.0f} mm" for p in loose]
    if thickness > THICKEST * amps:
        wrong.append(f"{thickness:.1f} mm plate is too thick for {amps:.0f} A")
    if not closed and not wrong:
        wrong.append("no outline to cut")
    cuts = _nested(closed, names)
    for one in cuts:
        low, high = one.points.min(axis=0), one.points.max(axis=0)
        if low.min() < -1e-6 or high[0] > plate[0] + 1e-6 or high[1] > plate[1] + 1e-6:
            wrong.append(f"{one.name} lies off the plate")
        if one.inside >= 0 and one.across < thickness:
            wrong.append(f"{one.name} of {one.across:.1f} mm is smaller than the plate is thick")
    wrong += _too_near(cuts)
    if wrong:
        raise CannotCut(tuple(dict.fromkeys(wrong)))
    length = sum(one.length for one in cuts)
    seconds = 60.0 * length / feed(thickness, amps) + len(cuts) * (0.5 + 0.08 * thickness)
    return Job(len(cuts), length, seconds + 60.0 * _between(cuts) / RAPID)


def _read(drawing: bytes) -> tuple[list[Array], list[Array], list[tuple[str, tuple[float, float]]]]:
    """Closed lines and those that do not close, mm, and the names written by them. Where there is a layer CUT only that
    is cut."""
    from ezdxf import path as dxf_path  # noqa: PLC0415 - slow to load
    from ezdxf.filemanagement import read  # noqa: PLC0415

    if len(drawing) > LARGEST:
        raise CannotCut(("a drawing of more than 16 MB",))
    try:
        doc = read(io.StringIO(drawing.decode("utf-8", "replace")))
        scale = MM[int(doc.header.get("$INSUNITS", 0))]
        entities = list(doc.modelspace())
    except Exception:  # a torn or hostile drawing makes its reader fail in any way there is
        raise CannotCut(("a drawing that cannot be read, or whose unit is not known",)) from None
    if len(entities) > MOST_ENTITIES:
        raise CannotCut((f"more than {MOST_ENTITIES} shapes",))
    only = any(e.dxf.layer.upper() == "CUT" for e in entities)
    closed: list[Array] = []
    pieces: list[Array] = []
    names = [
        (str(e.dxf.text), (float(e.dxf.insert[0]) * scale, float(e.dxf.insert[1]) * scale))
        for e in entities
        if e.dxftype() == "TEXT"
    ]
    points = 0
    for e in entities:
        if only and e.dxf.layer.upper() != "CUT":
            continue
        try:
            made = dxf_path.make_path(e)
            line = np.array([(p.x, p.y) for p in made.flattening(FLAT / scale)]) * scale
        except Exception:  # texts and what has no outline
            continue
        points += len(line)
        if points > MOST_POINTS:
            raise CannotCut((f"more than {MOST_POINTS} points",))
        if len(line) < 2 or not np.isfinite(line).all():
            continue
        if np.hypot(*(line[0] - line[-1])) <= JOINED and len(line) > 3:
            closed.append(line[:-1])
        else:
            pieces.append(line)
    chained, loose = _joined(pieces)
    return closed + chained, loose, names


def _joined(pieces: list[Array]) -> tuple[list[Array], list[Array]]:
    """Loose lines joined end to end: those that close, and those that do not."""
    free = list(pieces)
    closed: list[Array] = []
    loose: list[Array] = []
    while free:
        chain = free.pop()
        while np.hypot(*(chain[0] - chain[-1])) > JOINED:
            at = next(
                (
                    (i, turn)
                    for i, p in enumerate(free)
                    for turn in (1, -1)
                    if np.hypot(*(p[::turn][0] - chain[-1])) <= JOINED
                ),
                None,
            )
            if at is None:
                break
            chain = np.vstack([chain, free.pop(at[0])[:: at[1]][1:]])
        shut = np.hypot(*(chain[0] - chain[-1])) <= JOINED and len(chain) > 3
        (closed if shut else loose).append(chain[:-1] if shut else chain)
    return closed, loose


def _nested(closed: list[Array], names: list[tuple[str, tuple[float, float]]]) -> list[_Cut]:
    """Which outline lies in which: those in an even number of others are parts, the others holes in them."""
    areas = [abs(_area(c)) for c in closed]
    order = sorted(range(len(closed)), key=lambda i: -areas[i])
    depth: dict[int, int] = {}
    holder: dict[int, int] = {}
    for k, i in enumerate(order):
        around = [j for j in order[:k] if all(_holds(closed[j], p) for p in closed[i][:: max(1, len(closed[i]) // 12)])]
        depth[i] = len(around)
        holder[i] = around[-1] if around else -1
    out = []
    for i, c in enumerate(closed):
        hole = depth[i] % 2 == 1
        whose = holder[i] if hole else i
        low = closed[whose].min(axis=0)
        near = min(names, key=lambda n: math.dist(n[1], low), default=None)
        place = f"outline at {low[0]:.0f}, {low[1]:.0f} mm"
        name = near[0] if near is not None and math.dist(near[1], low) < 20.0 else place
        out.append(_Cut(c, f"hole in {name}" if hole else name, whose if hole else -1))
    return out


def _area(points: Array) -> float:
    x, y = points[:, 0], points[:, 1]
    return float(0.5 * (x * np.roll(y, -1) - np.roll(x, -1) * y).sum())


def _holds(outline: Array, point: Array) -> bool:
    """Whether a point lies in an outline (ray to the right)."""
    a, b = outline, np.roll(outline, -1, axis=0)
    over = (a[:, 1] > point[1]) != (b[:, 1] > point[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = a[:, 0] + (point[1] - a[:, 1]) * (b[:, 0] - a[:, 0]) / (b[:, 1] - a[:, 1])
    return bool((over & (point[0] < x)).sum() % 2)


def _too_near(cuts: list[_Cut]) -> Iterator[str]:
    """Pairs of outlines that cross, coincide or leave less than the kerf between them."""
    boxes = [(c.points.min(axis=0) - KERF, c.points.max(axis=0) + KERF) for c in cuts]
    for i, one in enumerate(cuts):
        for j in range(i):
            if (boxes[i][0] > boxes[j][1] - KERF).any() or (boxes[j][0] > boxes[i][1] - KERF).any():
                continue
            apart = _apart(one.points, cuts[j].points)
            if apart < KERF:
                both = sorted((one.name, cuts[j].name))
                yield f"{both[0]} and {both[1]} {'overlap' if apart == 0 else f'leave {apart:.1f} mm between them'}"


def _apart(one: Array, two: Array) -> float:
    """Least distance between two closed lines, mm; 0 where they cross."""
    a, b, c, d = one, np.roll(one, -1, axis=0), two, np.roll(two, -1, axis=0)

    def side(p: Any, q: Any, r: Any) -> Any:
        return (q[..., 0] - p[..., 0]) * (r[..., 1] - p[..., 1]) - (q[..., 1] - p[..., 1]) * (r[..., 0] - p[..., 0])

    a2, b2, c2, d2 = a[:, None], b[:, None], c[None], d[None]
    crossing = (side(a2, b2, c2) * side(a2, b2, d2) < 0) & (side(c2, d2, a2) * side(c2, d2, b2) < 0)
    if crossing.any():
        return 0.0
    return min(_points_to(a, c, d), _points_to(c, a, b))


def _points_to(points: Array, begin: Array, end: Array) -> float:
    """Least distance of points to pieces of a line, mm."""
    way = end - begin
    size = np.maximum((way**2).sum(axis=1), 1e-18)
    share = ((points[:, None] - begin[None]) * way[None]).sum(axis=2) / size[None]
    foot = begin[None] + np.clip(share, 0.0, 1.0)[..., None] * way[None]
    return float(np.sqrt(((points[:, None] - foot) ** 2).sum(axis=2)).min())


def _between(cuts: list[_Cut]) -> float:
    """Way of the torch between the outlines, the nearest next, mm."""
    left = [c.points[0] for c in cuts]
    here, way = np.zeros(2), 0.0
    while left:
        k = min(range(len(left)), key=lambda i: float(np.hypot(*(left[i] - here))))
        way += float(np.hypot(*(left[k] - here)))
        here = left.pop(k)
    return way
