"""What each reading of a finished axle says of its bolts: the equations of the as-built fit.

Unknown are the place of every bolt in vehicle axes at ride height, the height of each hub, and the pinion's angle. The axle's
centre is where x begins and the middle of the vehicle where y does. Source: geometry of points and lines.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.document.layout import ONE_BOLT, Layout
from stoutlink.core.document.leaf_eyes import LEAF_POINTS, LEAF_WORDS, leaf_point
from stoutlink.core.document.log import BuiltOf
from stoutlink.core.document.rig import Rig

Array = NDArray[np.float64]
PINION = "pinion"
HUBS = ("hub:left", "hub:right")
AXES = "xyz"
USUAL = 0.01
"""A usual change of an unknown, m or rad: what is not read stays as near to the plan as this makes it."""


class Observation(Struct, frozen=True):
    """One reading as an equation: ``key`` is the path it stands at, ``name`` its words; ``a`` and ``b`` points (or a link)."""

    key: str
    name: str
    of: BuiltOf
    a: str
    b: str
    value: float
    sigma: float
    source: str = ""


class BuiltPoints:
    """The points of an axle and which unknown each of their coordinates is. ``free`` are (point, axis) in the order of the unknowns,
    the pinion's angle last."""

    def __init__(self, rig: Rig, layout: Layout) -> None:
        self.end = layout.end
        self.layout = layout
        self.at: dict[str, Array] = {}
        self.same: dict[str, str] = {}
        """Points on one bolt: by the one that stands for it."""
        self.names: dict[str, str] = {}
        for link in layout.links:
            for which in ("frame", "axle"):
                name, here = f"{link.id}:{which}", np.array(link.pivot(which))
                twin = next(
                    (n for n, p in self.at.items() if n.endswith(f":{which}") and math.dist(p, here) < ONE_BOLT), None
                )
                self.same[name] = twin or name
                self.names[name] = f"{link.name}, {which}"
                if twin is None:
                    self.at[name] = here
        for leaf_name in LEAF_POINTS if layout.leaf is not None else ():
            place = leaf_point(layout, leaf_name, rig.wheelbase_m)
            assert place is not None
            for side, way in (("left", 1.0), ("right", -1.0)):
                name = f"{leaf_name}:{side}"
                self.at[name] = np.array(place) * np.array([1.0, way, 1.0])
                self.same[name], self.names[name] = name, f"{LEAF_WORDS[leaf_name]}, {side}"
        x = rig.wheelbase_m if layout.end == "front" else 0.0
        self.x0 = x
        for name, way in zip(HUBS, (0.5, -0.5), strict=True):
            self.at[name] = np.array([x, way * rig.end(layout.end).track_m, rig.end(layout.end).loaded])
            self.same[name], self.names[name] = name, f"Hub, {name.rpartition(':')[2]}"
        self.free: list[tuple[str, int]] = []
        for name in self.at:
            self.free += [(name, 2)] if name in HUBS else [(name, axis) for axis in range(3)]
        self.free.append((PINION, 0))
        self.index = {key: i for i, key in enumerate(self.free)}

    @property
    def start(self) -> Array:
        """The unknowns as planned."""
        return np.array([self.layout.pinion_up if n == PINION else self.at[n][axis] for n, axis in self.free])

    def known(self, name: str) -> bool:
        """Whether a point of this name is there."""
        return name in self.same

    def place(self, name: str, x: Array) -> Array:
        """Where a point is with these unknowns, m."""
        name = self.same[name]
        return np.array([x[self.index[name, i]] if (name, i) in self.index else self.at[name][i] for i in range(3)])

    def slopes(self, name: str, by: Array) -> Iterator[tuple[int, float]]:
        """How a value that moves by ``by`` (3,) with a point's place moves with the unknowns."""
        name = self.same[name]
        for i in range(3):
            if (name, i) in self.index and by[i] != 0.0:
                yield self.index[name, i], float(by[i])


Said = tuple[float, list[tuple[int, float]]]
_AXIS: dict[BuiltOf, int] = {"along": 0, "across": 1, "up": 2}


def said_by(points: BuiltPoints, one: Observation, x: Array) -> Said:
    """What a reading should say with these unknowns, and how that moves with them. Raises ``KeyError`` for a point that is not there."""
    if one.of in _AXIS:
        return _along(points, one, x, _AXIS[one.of])
    if one.of == "apart":
        a, b = points.place(one.a, x), points.place(one.b, x)
        gap = a - b
        length = float(np.linalg.norm(gap))
        unit = gap / length if length > 0 else np.zeros(3)
        return length, [*points.slopes(one.a, unit), *points.slopes(one.b, -unit)]
    pinion = points.index[PINION, 0]
    if one.of == "pinion":
        return float(x[pinion]), [(pinion, 1.0)]
    if one.of == "slope":
        frame, axle = f"{one.a}:frame", f"{one.a}:axle"
        way = 1.0 if points.at[points.same[frame]][0] >= points.at[points.same[axle]][0] else -1.0
        return _elevation(points, axle, frame, x, way)
    angle, slopes = _elevation(points, one.a, one.b, x, 1.0 if points.end == "rear" else -1.0)
    angle -= float(x[pinion])
    near = 2.0 * math.pi * round((one.value - angle) / (2.0 * math.pi))
    return angle + near, [*slopes, (pinion, -1.0)]


def _along(points: BuiltPoints, one: Observation, x: Array, axis: int) -> Said:
    planned = points.at[points.same[one.a]][axis]
    by = np.zeros(3)
    if one.b:
        planned -= points.at[points.same[one.b]][axis]
    else:
        planned -= points.x0 if axis == 0 else 0.0
    by[axis] = way = -1.0 if planned < 0 else 1.0
    value = float(points.place(one.a, x)[axis])
    value -= float(points.place(one.b, x)[axis]) if one.b else (points.x0 if axis == 0 else 0.0)
    return way * value, [*points.slopes(one.a, by), *(points.slopes(one.b, -by) if one.b else ())]


def _elevation(points: BuiltPoints, low: str, high: str, x: Array, way: float) -> Said:
    """Angle over level of the line from one point to another in the side view, rad; ``way`` 1 when forward counts ahead."""
    gap = points.place(high, x) - points.place(low, x)
    square = gap[0] ** 2 + gap[2] ** 2
    if square <= 0.0:
        return 0.0, []
    by = np.array([-way * gap[2] / square, 0.0, way * gap[0] / square])
    return math.atan2(gap[2], way * gap[0]), [*points.slopes(high, by), *points.slopes(low, -by)]


def model_of(points: BuiltPoints, observations: tuple[Observation, ...]) -> Callable[[Array], tuple[Array, Array]]:
    """All readings together, as :data:`stoutlink.core.mechanics.adjustment.Model`."""

    def model(x: Array) -> tuple[Array, Array]:
        said, slope = np.empty(len(observations)), np.zeros((len(observations), len(x)))
        for k, one in enumerate(observations):
            said[k], parts = said_by(points, one, x)
            for i, by in parts:
                slope[k, i] += by
        return said, slope

    return model
