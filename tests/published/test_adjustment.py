"""Least squares with data snooping against a general library, hand arithmetic and the textbook w-test."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import least_squares

from stoutlink.core.mechanics.adjustment import CRITICAL, Adjusted, adjusted, noticed, snooped

Array = np.ndarray


def triangle(x: Array) -> tuple[Array, Array]:
    """Three angles of a triangle, two of them unknown."""
    return np.array([x[0], x[1], np.pi - x[0] - x[1]]), np.array([[1.0, 0.0], [0.0, 1.0], [-1.0, -1.0]])


def test_a_triangle_by_hand() -> None:
    """Any textbook of adjustment: a misclosure goes to the three angles in equal parts, each checked by a third."""
    miss = np.radians(0.03)
    read = np.radians([61.0, 72.0, 47.0]) + np.array([0.0, 0.0, miss])
    fit = adjusted(triangle, np.radians([60.0, 70.0]), read, np.full(3, 1e-4), np.ones(2))
    assert fit.residual == pytest.approx(np.full(3, -miss / 3), abs=1e-12)
    assert fit.redundancy == pytest.approx(np.full(3, 1 / 3))
    assert np.abs(fit.w) == pytest.approx(np.full(3, miss / 3 / (1e-4 / np.sqrt(3))))
    assert fit.covariance[0, 0] == pytest.approx(1e-8 * 2 / 3)
    assert fit.unit_sigma == pytest.approx(np.sqrt(3 * (miss / 3 / 1e-4) ** 2))


def test_a_mean_and_what_would_be_noticed() -> None:
    """Baarda 1968: n equal readings have redundancy 1 − 1/n, and δ0 = 4.13 for 0.1 % and 80 %."""

    def level(x: Array) -> tuple[Array, Array]:
        return np.repeat(x, 5), np.ones((5, 1))

    fit = adjusted(level, np.zeros(1), np.array([1.0, 2.0, 3.0, 4.0, 5.0]), np.ones(5), np.ones(1))
    assert fit.unknowns == pytest.approx([3.0])
    assert fit.redundancy == pytest.approx(np.full(5, 0.8))
    assert noticed(1.0, 0.8) == pytest.approx(4.13 / np.sqrt(0.8))


def trilateration(rng: np.random.Generator, points: int) -> tuple[object, Array, Array]:
    """Points in a plane by their distances from four known ones and from one another."""
    known = np.array([[0.0, 0.0], [3.0, 0.0], [0.0, 3.0], [3.0, 3.2]])
    true = rng.uniform(0.5, 2.5, (points, 2))
    pairs = [(i, j) for i in range(points) for j in range(i)]

    def model(x: Array) -> tuple[Array, Array]:
        at = x.reshape(points, 2)
        said, slope = [], []
        for i in range(points):
            for k in known:
                gap = at[i] - k
                length = np.hypot(*gap)
                row = np.zeros(2 * points)
                row[2 * i : 2 * i + 2] = gap / length
                said.append(length)
                slope.append(row)
        for i, j in pairs:
            gap = at[i] - at[j]
            length = np.hypot(*gap)
            row = np.zeros(2 * points)
            row[2 * i : 2 * i + 2], row[2 * j : 2 * j + 2] = gap / length, -gap / length
            said.append(length)
            slope.append(row)
        return np.array(said), np.array(slope)

    return model, true.ravel(), model(true.ravel())[0]


@given(st.integers(0, 10_000), st.integers(2, 4))
def test_the_fit_against_a_general_library(seed: int, points: int) -> None:
    """SciPy's least_squares on the same weighted misfits, from the same start; covariance from its Jacobian."""
    rng = np.random.default_rng(seed)
    model, true, said = trilateration(rng, points)
    sigma = rng.uniform(0.001, 0.01, len(said))
    read = said + rng.normal(0.0, sigma)
    start = true + rng.normal(0.0, 0.02, len(true))
    fit = adjusted(model, start, read, sigma, np.full(len(true), 0.01))  # type: ignore[arg-type]
    other = least_squares(lambda x: (model(x)[0] - read) / sigma, start, xtol=1e-15, ftol=1e-15, gtol=1e-15)  # type: ignore[operator]
    assert fit.unknowns == pytest.approx(other.x, abs=1e-7)
    assert fit.covariance == pytest.approx(np.linalg.inv(other.jac.T @ other.jac), rel=1e-4, abs=1e-11)
    assert fit.spare == pytest.approx(len(said) - len(true))


def textbook(model: object, start: Array, read: Array, sigma: Array) -> list[int]:
    """The w-test as it stands in books: v = A·x̂ − l, Q_vv = P⁻¹ − A·(AᵀPA)⁻¹·Aᵀ, w = v/√q_vv; the greatest goes, and again."""
    out: list[int] = []
    while True:
        use = [k for k in range(len(read)) if k not in out]
        x = start.copy()
        for _ in range(20):
            said, slope = model(x)  # type: ignore[operator]
            a, p = slope[use], np.diag(1.0 / sigma[use] ** 2)
            x = x + np.linalg.solve(a.T @ p @ a, a.T @ p @ (read[use] - said[use]))
        said, slope = model(x)  # type: ignore[operator]
        a, p = slope[use], np.diag(1.0 / sigma[use] ** 2)
        q = np.linalg.inv(p) - a @ np.linalg.inv(a.T @ p @ a) @ a.T
        w = np.abs(said[use] - read[use]) / np.sqrt(np.maximum(np.diag(q), 1e-18))
        if w.max() <= CRITICAL or len(use) <= len(start) + 1:
            return out
        out.append(use[int(w.argmax())])


def test_planted_faults_are_named_as_often_as_by_the_textbook() -> None:
    """200 seeds, one reading off by 8 σ: named at least as often, less four in a hundred; a wrong name never more often."""
    named = [0, 0]
    wrong = [0, 0]
    for seed in range(200):
        rng = np.random.default_rng(seed)
        model, true, said = trilateration(rng, 3)
        sigma = np.full(len(said), 0.003)
        read = said + rng.normal(0.0, sigma)
        bad = int(rng.integers(len(said)))
        read[bad] += rng.choice([-1.0, 1.0]) * 8.0 * sigma[bad]
        mine = snooped(model, true, read, sigma, np.full(len(true), 0.01)).left_out  # type: ignore[arg-type]
        theirs = textbook(model, true, read, sigma)
        for k, found in enumerate((mine, theirs)):
            named[k] += bad in found
            wrong[k] += any(i != bad for i in found)
    assert named[0] >= named[1] - 8
    assert named[0] >= 184  # 92 in a hundred
    assert wrong[0] <= wrong[1]


def test_what_no_reading_determines_stays_and_is_said() -> None:
    def one(x: Array) -> tuple[Array, Array]:
        return np.array([x[0] + x[1]]), np.array([[1.0, 1.0, 0.0]])

    fit: Adjusted = adjusted(one, np.array([1.0, 2.0, 7.0]), np.array([5.0]), np.ones(1), np.ones(3))
    assert fit.unknowns == pytest.approx([2.0, 3.0, 7.0])  # the least change
    assert fit.free.shape == (3, 2)
    assert np.isnan(fit.w[0])
    assert fit.redundancy[0] == pytest.approx(0.0, abs=1e-12)
    assert fit.unit_sigma is None


def test_two_that_check_only_one_another_are_both_named() -> None:
    def pair(x: Array) -> tuple[Array, Array]:
        return np.array([x[0], x[0]]), np.ones((2, 1))

    found = snooped(pair, np.zeros(1), np.array([0.0, 9.0]), np.ones(2), np.ones(1))
    assert len(found.left_out) == 1
    assert set(found.either[0]) | set(found.left_out) == {0, 1}


def test_two_faults_are_found_one_after_the_other_and_a_good_one_comes_back() -> None:
    def level(x: Array) -> tuple[Array, Array]:
        return np.repeat(x, 8), np.ones((8, 1))

    read = np.array([0.1, -0.2, 0.0, 0.15, -0.1, 0.05, 12.0, -7.0])
    found = snooped(level, np.zeros(1), read, np.ones(8), np.ones(1))
    assert set(found.left_out) == {6, 7}
    assert found.errors[found.left_out.index(6)] == pytest.approx(12.0, abs=0.2)
    assert found.used.sum() == 6
