"""Outlines against scipy's hull, and a wheel's rims by their distances."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import ConvexHull

from stoutlink.core.geometry.outline import hull, wheel_rims


@pytest.mark.parametrize("seed", range(4))
def test_hull_against_scipy(seed: int) -> None:
    points = np.random.default_rng(seed).normal(size=(60, 2))
    found = np.array(hull(points))
    known = ConvexHull(points)
    assert {tuple(v) for v in found} == {tuple(v) for v in points[known.vertices]}
    x, y = found.T
    area = 0.5 * float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
    assert area == pytest.approx(known.volume)  # counter-clockwise: positive
    assert hull(np.array([[1.0, 2.0], [1.0, 2.0]])) == [(1.0, 2.0)]


def test_rims_of_a_wheel() -> None:
    spin = np.array([-0.3, 0.9, 0.1]) / np.linalg.norm([-0.3, 0.9, 0.1])
    middle = np.array([2.6, 0.8, 0.45])
    rims = wheel_rims(middle, spin, 0.47, 0.3)
    along = (rims - middle) @ spin
    assert np.abs(along) == pytest.approx(np.full(len(rims), 0.15))
    assert np.linalg.norm(rims - middle - along[:, None] * spin, axis=1) == pytest.approx(np.full(len(rims), 0.47))
