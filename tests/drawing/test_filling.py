"""Triangles that fill outlines with holes, against the area a general geometry library finds."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from shapely.geometry import Polygon

from stoutlink.core.geometry.filling import filled

Flat = tuple[float, float]


def round_hole(x: float, y: float, r: float, n: int = 12) -> list[Flat]:
    return [(x + r * math.cos(2 * math.pi * k / n), y + r * math.sin(2 * math.pi * k / n)) for k in range(n)]


def covered(points: np.ndarray, triangles: np.ndarray) -> float:
    return math.fsum(Polygon(points[t]).area for t in triangles)


@pytest.mark.parametrize("seed", range(40))
def test_stars_with_holes(seed: int) -> None:
    rng = random.Random(seed)
    rim: list[Flat] = []
    for angle in sorted(rng.uniform(0, 2 * math.pi) for _ in range(rng.randint(5, 40))):
        r = rng.uniform(0.5, 1.0)
        rim.append((r * math.cos(angle), r * math.sin(angle)))
    plate = Polygon(rim)
    if not plate.is_valid:
        pytest.skip("the rim crosses itself")
    holes: list[list[Flat]] = []
    for _ in range(6):
        hole = round_hole(rng.uniform(-1, 1), rng.uniform(-1, 1), rng.uniform(0.02, 0.2))
        one = Polygon(hole)
        if plate.buffer(-0.01).contains(one) and not any(one.buffer(0.01).intersects(Polygon(o)) for o in holes):
            holes.append(hole if rng.random() < 0.5 else hole[::-1])
    found = filled([rim, *holes])
    assert found is not None
    points, triangles, count = found
    assert count == (len(rim), *(12 for _ in holes))
    assert covered(points, triangles) == pytest.approx(Polygon(rim, holes).area, rel=1e-9)
    assert len(triangles) == len(points) + 2 * len(holes) - 2  # Euler's formula for a plane figure


def test_what_is_no_outline() -> None:
    square = [(0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)]
    assert filled([[(0.0, 0.0), (1.0, 0.0), (2.0, 0.0)]]) is None  # no area
    assert filled([square, round_hole(1.0, 0.5, 0.2)]) is None  # breaks out of the edge
    assert filled([square, round_hole(0.5, 0.5, 0.2), round_hole(0.6, 0.5, 0.2)]) is None  # one in another


def test_corners_given_twice_or_straight_on() -> None:
    found = filled([[(0.0, 0.0), (0.5, 0.0), (1.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0), (0.0, 0.0)]])
    assert found is not None
    assert len(found[0]) == 4
    assert covered(found[0], found[1]) == pytest.approx(1.0)
