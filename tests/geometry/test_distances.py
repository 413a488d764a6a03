"""Distances against a numerical minimiser."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import minimize

from stoutlink.core.analysis.survey.clearances import apart, link_gap, segment_to_outline, too_near
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import BoxSolid, OutlineSolid, TubeSolid
from stoutlink.core.geometry.distances import Point, between_segments, segment_to_box


def _point(v: np.ndarray) -> Point:
    return float(v[0]), float(v[1]), float(v[2])


@pytest.mark.parametrize("seed", range(12))
def test_pieces_and_boxes_against_a_minimiser(seed: int) -> None:
    rng = np.random.default_rng(seed)
    p1, p2, q1, q2 = rng.uniform(-1, 1, (4, 3))
    if seed % 4 == 0:
        q2 = q1 + (p2 - p1) * 0.7  # parallel
    best = min(
        minimize(
            lambda v: float(np.linalg.norm(p1 + v[0] * (p2 - p1) - q1 - v[1] * (q2 - q1))),
            start,
            bounds=[(0, 1), (0, 1)],
            tol=1e-12,
        ).fun
        for start in ((0.1, 0.1), (0.9, 0.2), (0.5, 0.5), (0.2, 0.9), (0.9, 0.9))
    )
    assert between_segments(*(_point(v) for v in (p1, p2, q1, q2))) == pytest.approx(best, abs=2e-5)
    low, high = np.full(3, 1.2), np.full(3, 1.9)
    t = np.linspace(0, 1, 20001)[:, None]
    along = p1 + t * (p2 - p1)
    sampled = float(np.linalg.norm(np.maximum(np.maximum(low - along, along - high), 0.0), axis=1).min())
    assert segment_to_box(_point(p1), _point(p2), _point(low), _point(high)) == pytest.approx(sampled, abs=1e-4)


def test_a_piece_through_a_box_is_as_deep_as_it_runs() -> None:
    assert segment_to_box((-1, 0.4, 0.5), (2, 0.4, 0.5), (0, 0, 0), (1, 1, 1)) == pytest.approx(-0.4)


def test_links_against_solids(basalt: Project) -> None:
    """A box, a tube and an outline of the same shape say the same; the quick bound never exceeds the distance."""
    link = basalt.linkage.layouts[0].links[0]
    a, b = link.frame_pivot_m, link.axle_pivot_m
    middle = tuple((u + v) / 2 for u, v in zip(a, b, strict=True))
    x, y, z = middle
    box = BoxSolid(
        id="a", name="a", kind="other", low_m=(x - 0.1, y + 0.2, z - 0.1), high_m=(x + 0.1, y + 0.4, z + 0.1)
    )
    flat = OutlineSolid(
        id="b",
        name="b",
        kind="other",
        view="side",
        outline_m=((x - 0.1, z - 0.1), (x + 0.1, z - 0.1), (x + 0.1, z + 0.1), (x - 0.1, z + 0.1)),
        low_m=y + 0.2,
        high_m=y + 0.4,
    )
    assert link_gap(link, flat) == pytest.approx(link_gap(link, box), abs=1e-3)
    tube = TubeSolid(id="c", name="c", kind="other", path_m=((x, y, z + 0.3), (x + 0.1, y, z + 0.3)), diameter_m=0.05)
    assert link_gap(link, tube) < 0.3 - 0.025 - link.tube_od_m / 2 + 1e-9
    for solid in (box, flat, tube):
        assert apart(link, solid) <= link_gap(link, solid) + 1e-9
    assert segment_to_outline((x, y + 0.3, z), (x, y + 0.3, z + 0.01), flat) == pytest.approx(-0.1, abs=1e-6)
    assert {g.solid.id for g in too_near(basalt)} <= {s.id for s in basalt.tape.solids}
