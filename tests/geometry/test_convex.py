"""Distances between convex bodies against a general minimiser and against sampled skins."""

from __future__ import annotations

import math

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.optimize import minimize

from stoutlink.core.analysis.cycle.bodies import fixed_bodies
from stoutlink.core.analysis.survey.clearances import segment_to_outline
from stoutlink.core.document.project import Project
from stoutlink.core.document.survey import OutlineSolid
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.geometry.convex import Body, Box, Drum, Piece, Prism, apart

Array = NDArray[np.float64]


def unit(v: Array) -> Array:
    return np.asarray(v / np.linalg.norm(v))


def column(v: object) -> Array:
    return np.asarray(v, dtype=float).reshape(3, 1)


def made(kind: str, rng: np.random.Generator, at: Array) -> tuple[Body, object, int]:
    """A body near a place, and a map from the unit cube onto its core, to be minimised over by something else."""
    if kind == "box":
        low, high = at - rng.uniform(0.05, 0.3, 3), at + rng.uniform(0.05, 0.3, 3)
        return Box(column(low), column(high)), (lambda u: low + u * (high - low)), 3
    if kind == "piece":
        p, q = at + rng.normal(size=3) * 0.3, at + rng.normal(size=3) * 0.3
        return Piece(column(p), column(q)), (lambda u: p + u[0] * (q - p)), 1
    if kind == "drum":
        spin, radius, half = unit(rng.normal(size=3)), rng.uniform(0.2, 0.5), rng.uniform(0.05, 0.2)
        e1 = unit(np.cross(spin, [0.3, 0.5, 0.8]))
        e2 = np.cross(spin, e1)

        def skin(u: Array) -> Array:
            v = 2 * u[:2] - 1
            size = max(1.0, float(np.hypot(*v)))
            return np.asarray(at + radius / size * (v[0] * e1 + v[1] * e2) + half * (2 * u[2] - 1) * spin)

        return Drum(column(at), column(spin), radius, half), skin, 3
    corners = at[:2] + rng.normal(size=(3, 2)) * 0.3
    low, high = at[2] - 0.1, at[2] + 0.1

    def inside(u: Array) -> Array:
        a, b = u[0], u[1] * (1 - u[0])
        flat = corners[0] + a * (corners[1] - corners[0]) + b * (corners[2] - corners[0])
        return np.array([*flat, low + u[2] * (high - low)])

    return Prism(corners, low, high, 2, (0, 1)), inside, 3


@pytest.mark.parametrize(
    "pair", [("box", "drum"), ("piece", "drum"), ("piece", "box"), ("prism", "drum"), ("prism", "piece")]
)
def test_apart_against_a_minimiser(pair: tuple[str, str]) -> None:
    """scipy's bounded minimiser from several starts over both bodies' own coordinates."""
    rng = np.random.default_rng(7)
    checked = 0
    for _ in range(12):
        one, f, n = made(pair[0], rng, rng.normal(size=3) * 0.3)
        two, g, m = made(pair[1], rng, rng.normal(size=3) * 0.3 + [0.9, 0.2, 0.1])

        def far(u: Array, f: object = f, g: object = g, n: int = n) -> float:
            return float(np.linalg.norm(f(u[:n]) - g(u[n:])))  # type: ignore[operator]

        best = min(
            minimize(
                far,
                rng.uniform(0.1, 0.9, n + m),
                bounds=[(0, 1)] * (n + m),
                method="L-BFGS-B",
                options={"maxiter": 400},
            ).fun
            for _ in range(8)
        )
        found = float(apart(one, two, 1)[0])
        if found > 1e-3:
            assert found <= best + 3e-4
            assert found == pytest.approx(best, abs=4e-3)
            checked += 1
            assert apart(one, two, 1, 0.5 * found)[0] <= best + 1e-9  # told to stop early it gives a bound
    assert checked >= 6


def test_rounding_and_ways_out() -> None:
    ball = Piece(column([0, 0, 0]), column([0, 0, 0]), 0.1)
    box = Box(column([0.3, -1, -1]), column([1, 1, 1]))
    assert apart(ball, box, 1)[0] == pytest.approx(0.2, abs=1e-6)
    fat = Piece(column([0, 0, 0]), column([0, 0, 0]), 0.35)
    assert apart(fat, box, 1)[0] == pytest.approx(-0.05, abs=1e-6)
    sunk = Piece(column([0.4, 0, 0]), column([0.4, 0.1, 0]), 0.02)
    assert apart(sunk, box, 1)[0] == pytest.approx(-0.12, abs=1e-6)  # 0.1 back out, and its own radius
    drum = Drum(column([0, 0, 0]), column([0, 1, 0]), 0.4, 0.1, 0.03)
    assert apart(drum, Box(column([0.35, -0.05, -0.2]), column([0.6, 0.05, 0.2])), 1)[0] == pytest.approx(
        -0.08, abs=1e-6
    )
    assert apart(drum, Piece(column([-1, 0.2, -1]), column([1, 0.2, 1]), 0.02), 1)[0] == pytest.approx(0.05, abs=3e-4)
    # the rounded edge: from the core's edge at 45°
    corner = Piece(column([0.5, 0.2, 0]), column([0.5, 0.2, 0]))
    assert apart(drum, corner, 1)[0] == pytest.approx(math.hypot(0.1, 0.1) - 0.03, abs=3e-4)


def test_many_poses_at_once_are_each_alone() -> None:
    rng = np.random.default_rng(3)
    n = 200
    spin = rng.normal(size=(3, n))
    spin /= np.linalg.norm(spin, axis=0)
    drum = Drum(rng.normal(size=(3, n)) * 0.4, spin, 0.4, 0.12, 0.03)
    piece = Piece(column([0.5, -1, 0.2]), rng.normal(size=(3, n)) * 0.2 + column([0.5, 1, 0.2]), 0.02)
    whole = apart(drum, piece, n)
    each = [apart(drum.some(np.array([i])), piece.some(np.array([i])), 1)[0] for i in range(n)]
    assert whole == pytest.approx(each, abs=6e-4)


def test_an_outline_counts_with_its_own_shape(basalt: Project) -> None:
    """An L from above: its hollow corner is free, where the box around it is not; against the outline's own distance
    function.
    """
    shape = ((0.0, 0.0), (0.6, 0.0), (0.6, 0.1), (0.1, 0.1), (0.1, 0.6), (0.0, 0.6))
    ell = OutlineSolid(id="ell", name="Ell", kind="cross_member", view="plan", outline_m=shape, low_m=0.4, high_m=0.6)
    only = PutInList("solids", ell, "x").apply(basalt)
    stander = next(s for s in fixed_bodies(only) if s.name == "Ell")
    rng = np.random.default_rng(1)
    for _ in range(40):
        a, b = (rng.uniform([-0.1, -0.1, 0.3], [0.8, 0.8, 0.7]) for _ in range(2))
        piece = Piece(column(a), column(b))
        found = min(float(apart(piece, part, 1)[0]) for part, _, _ in stander.parts)
        true = segment_to_outline(tuple(a), tuple(b), ell)
        assert (found < 1e-6) == (true < 2e-3) or abs(true) < 3e-3
        if found > 1e-3:
            assert found == pytest.approx(true, abs=2.5e-3)
    hollow = Piece(column([0.4, 0.4, 0.5]), column([0.4, 0.4, 0.5]))
    assert min(float(apart(hollow, part, 1)[0]) for part, _, _ in stander.parts) == pytest.approx(0.3, abs=3e-4)
