"""4x4 systems against LAPACK: the order of rows, the solution, and one matrix alone as among many."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.linalg import lu

from stoutlink.core.numerics.four import pivot_order, solve_four

RNG = np.random.default_rng(11)
MANY = RNG.normal(size=(200, 4, 4))
MANY[::7, 0, 0] = 0.0
MANY[::11, :2, :2] = 0.0


def test_rows_are_put_in_the_order_of_partial_pivoting() -> None:
    for a, order in zip(MANY, pivot_order(MANY), strict=True):
        p, _, _ = lu(a)  # a = p @ l @ u
        assert order.tolist() == p.argmax(axis=0).tolist()


def test_one_matrix_is_ordered_as_among_many() -> None:
    together = pivot_order(MANY)
    for i, a in enumerate(MANY):
        assert pivot_order(a[None]).tolist() == [together[i].tolist()]


@pytest.mark.parametrize("sides", [1, 2])
def test_solutions_and_determinants_are_lapack_s(sides: int) -> None:
    right = RNG.normal(size=(len(MANY), 4, sides))
    order = pivot_order(MANY)[:, :, None]
    stacked = np.concatenate([MANY, right], axis=2)
    rows = np.take_along_axis(stacked, order, 1).transpose(2, 1, 0).copy()
    det, found = solve_four(rows)
    assert found.transpose(2, 1, 0) == pytest.approx(np.linalg.solve(MANY, right), rel=1e-7, abs=1e-9)
    assert np.abs(det) == pytest.approx(np.abs(np.linalg.det(MANY)), rel=1e-9, abs=1e-12)


def test_a_singular_matrix_alone_is_still_ordered() -> None:
    assert sorted(pivot_order(np.zeros((1, 4, 4)))[0].tolist()) == [0, 1, 2, 3]
