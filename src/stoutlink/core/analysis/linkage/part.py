"""A part of plate: its flat pattern, its sizes with why they are so, what there is too little of, where it stands."""

from __future__ import annotations

import math

from msgspec import Struct

from stoutlink.core.document.link_work import CutPart, KeptSize
from stoutlink.core.geometry.pattern import Corner, Flat, Hole, Loop, Pattern, area, hull_of_discs, points

Vector = tuple[float, float, float]
EDGE = 1.5
"""Edge distance over the hole (common practice)."""
SEEN = 1e-4
"""A size that differs by this, m, is another."""
STEEL = 7850.0


class Place(Struct, frozen=True):
    """Where a pattern stands on the rig: its origin, and which ways its own axes go (unit vectors), at ride height."""

    origin: Vector
    across: Vector
    up: Vector

    def put(self, point: Flat) -> Vector:
        """A point of the pattern on the rig, m."""
        o, a, u = self.origin, self.across, self.up
        x, y = point
        return (o[0] + x * a[0] + y * u[0], o[1] + x * a[1] + y * u[1], o[2] + x * a[2] + y * u[2])

    @property
    def mirrored(self) -> Place:
        """Its mirror image on the other side."""
        o, a, u = self.origin, self.across, self.up
        return Place((o[0], -o[1], o[2]), (a[0], -a[1], a[2]), (u[0], -u[1], u[2]))


class Size(Struct, frozen=True):
    """One size of a part: what it is called, m, the field that holds it (None: it follows), and why it is so where
    nobody typed it."""

    key: str
    title: str
    value: float
    path: str | None
    why: str = ""


class Check(Struct, frozen=True):
    """One thing that is wanted of a part: what, how much there is and how much is wanted, m."""

    key: str
    what: str
    value: float
    wanted: float

    @property
    def good(self) -> bool:
        """Whether there is enough of it."""
        return self.value >= self.wanted - 1e-9


class Part(Struct, frozen=True):
    """One part: how many are wanted (all sides together), plate, pattern, sizes, checks, and where its seam runs, m."""

    id: str
    name: str
    layout: str
    count: int
    thickness: float
    pattern: Pattern
    sizes: tuple[Size, ...]
    checks: tuple[Check, ...]
    seam: float
    subject: str
    notes: tuple[str, ...] = ()
    places: tuple[Place, ...] = ()
    """Where each of them stands on the rig at ride height."""

    @property
    def mass(self) -> float:
        """Of one, kg, in steel."""
        plate = area(self.pattern.outline) - sum(math.pi / 4 * h.diameter**2 for h in self.pattern.holes)
        return plate * self.thickness * STEEL

    def size(self, key: str) -> float:
        """One of its sizes, m."""
        return next(s.value for s in self.sizes if s.key == key)


class PartChanges(Struct, frozen=True):
    """What has changed of a part since it was cut: title, then and now, m."""

    when: str
    sizes: tuple[tuple[str, float, float], ...]


def numbers_of(part: Part) -> dict[str, tuple[str, float]]:
    """Every number that makes a part, by a key: title and value."""
    out = {s.key: (s.title, s.value) for s in part.sizes if s.key != "weld"}  # it is laid after the cut
    for k, hole in enumerate(part.pattern.holes, 1):
        out |= {f"hole{k}-x": (f"hole {k} along", hole.x), f"hole{k}-y": (f"hole {k} up", hole.y)}
    return out


def as_cut(part: Part, when: str) -> CutPart:
    """A part as it is now, to be held against later."""
    sizes = tuple(KeptSize(key=key, value_m=value) for key, (_, value) in numbers_of(part).items())
    return CutPart(id=part.id, when=when, sizes=sizes)


def part_changes(part: Part, cut: tuple[CutPart, ...]) -> PartChanges | None:
    """What the layout has made otherwise since a part was cut; ``None`` for one that is not cut."""
    known = next((c for c in cut if c.id == part.id), None)
    if known is None:
        return None
    now = numbers_of(part)
    out = []
    for size in known.sizes:
        if size.key in now and abs(now[size.key][1] - size.value_m) > SEEN:
            out.append((now[size.key][0], size.value_m, now[size.key][1]))
    if {s.key for s in known.sizes} != set(now):
        out.append(("holes", float(sum(s.key.endswith("-x") for s in known.sizes)), float(len(part.pattern.holes))))
    return PartChanges(known.when, tuple(out))


def outline_on(local: list[tuple[float, float]], edge: float, foot: float, saddle: float | None) -> Loop:
    """Tight round discs of the edge distance at every hole and the two ends of the foot; the foot follows the tube."""
    half = 0.5 * foot
    level, drop = 0.0, 0.0
    if saddle is not None and foot < saddle:
        level = math.sqrt((0.5 * saddle) ** 2 - half**2)
        drop = -math.tan(0.5 * math.asin(foot / saddle))
    loop = hull_of_discs(((-half, level, 0.0), (half, level, 0.0), *((x, y, edge) for x, y in local)))
    out: list[Corner] = []
    for x, y, bulge in loop:
        here = abs(x + half) < 1e-9 and abs(y - level) < 1e-9
        out.append((x, y, drop if here and drop else bulge))
    return tuple(out)


def centre_lines(holes: tuple[Hole, ...]) -> tuple[tuple[tuple[float, float], ...], ...]:
    """A cross through every hole, to mark."""
    out: list[tuple[tuple[float, float], ...]] = []
    for h in holes:
        d = 0.75 * h.diameter
        out += [((h.x - d, h.y), (h.x + d, h.y)), ((h.x, h.y - d), (h.x, h.y + d))]
    return tuple(out)


def on_rig(part: Part) -> tuple[tuple[Vector, ...], ...]:
    """The outline of every copy on the rig, m."""
    rim = points(part.pattern.outline, 2e-4)
    return tuple(tuple(place.put(p) for p in rim) for place in part.places)
