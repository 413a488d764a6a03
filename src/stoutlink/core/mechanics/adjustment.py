"""Least squares over readings of one thing: the fit, how well each reading is checked by the others, and which cannot be right.

Source: Baarda, A testing procedure for use in geodetic networks (1968): redundancy numbers, the w-test, data snooping.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
CRITICAL = 3.29
"""|w| beyond this happens to a good reading once in a thousand (two-sided normal)."""
NOTICED = 4.13
"""Non-centrality of an error found four times in five at that level (Baarda's δ0 for 0.1 % and 80 %)."""
CHECKED = 1e-4
"""Redundancy below which nothing is said of a reading at all."""
ALIKE = 0.9999
"""Readings whose w goes together this closely cannot be told apart."""

Model = Callable[[Array], tuple[Array, Array]]
"""Unknowns ``(n,)`` to what each reading should say ``(m,)`` and how it moves with each unknown ``(m, n)``."""


class Adjusted(Struct, frozen=True):
    """A fit: unknowns ``(n,)``, their covariance ``(n, n)`` as far as readings determine them, the directions nothing
    measures as columns ``(n, k)``; by reading ``(m,)``: residual (fitted less read), redundancy 0 to 1, w (``nan`` where
    not checked), the error it would have if it alone were wrong; ``alike`` ``(m, m)`` how far two w go together."""

    unknowns: Array
    covariance: Array
    free: Array
    residual: Array
    redundancy: Array
    w: Array
    error: Array
    sigma: Array
    alike: Array

    @property
    def spare(self) -> float:
        """Readings more than it takes."""
        return float(self.redundancy.sum())

    @property
    def unit_sigma(self) -> float | None:
        """σ of unit weight: about 1 when readings are as good as their ± says; ``None`` with nothing to spare."""
        return None if self.spare < 0.5 else float(np.sqrt(((self.residual / self.sigma) ** 2).sum() / self.spare))


def adjusted(model: Model, start: Array, read: Array, sigma: Array, scale: Array) -> Adjusted:
    """Weighted least squares by Gauss-Newton from ``start`` ``(n,)``; ``read`` and ``sigma`` ``(m,)`` in the readings' units (m or rad), ``scale``
    ``(n,)`` the size of a usual change of each unknown. What no reading determines stays as near to ``start`` as it can:
    the least change in units of ``scale``. ``model`` as :data:`Model`. Source: normal equations by singular values; Baarda
    1968. Degenerate: without readings the start itself, everything free.

    >>> line = lambda x: (np.array([x[0], x[0]]), np.array([[1.0], [1.0]]))
    >>> fit = adjusted(line, np.zeros(1), np.array([1.0, 2.0]), np.ones(2), np.ones(1))
    >>> round(float(fit.unknowns[0]), 9), [round(float(r), 9) for r in fit.redundancy]
    (1.5, [0.5, 0.5])
    """
    x = start.astype(np.float64).copy()
    for _ in range(30):
        said, slope = model(x)
        u, s, vt, rank = _apart(slope * scale / sigma[:, None])
        step = scale * (vt[:rank].T @ ((u[:, :rank].T @ ((read - said) / sigma)) / s[:rank]))
        x = x + step
        if np.abs(step / scale).max(initial=0.0) < 1e-10:
            break
    said, slope = model(x)
    u, s, vt, rank = _apart(slope * scale / sigma[:, None])
    known = scale[:, None] * (vt[:rank].T / s[:rank])
    off = np.eye(len(read)) - u[:, :rank] @ u[:, :rank].T
    redundancy = np.clip(np.diag(off), 0.0, 1.0)
    residual = said - read
    checked = redundancy > CHECKED
    root = np.sqrt(np.where(checked, redundancy, 1.0))
    w = np.where(checked, residual / sigma / root, np.nan)
    error = np.where(checked, -residual / root**2, np.nan)
    alike = np.where(checked[:, None] & checked[None, :], off / np.outer(root, root), 0.0)
    return Adjusted(x, known @ known.T, scale[:, None] * vt[rank:].T, residual, redundancy, w, error, sigma, alike)


def _apart(weighted: Array) -> tuple[Array, Array, Array, int]:
    u, s, vt = np.linalg.svd(weighted, full_matrices=True)
    return u, s, vt, int((s > 1e-9 * max(float(s[0]) if len(s) else 0.0, 1e-300)).sum())


class Snooped(Struct, frozen=True):
    """A fit without the readings that cannot be right: those ``left_out`` in the order they were found, as indices, with the
    error each shows against the rest; ``either``: for each, which others it cannot be told from. ``used``: what the fit rests on, without all of these."""

    fit: Adjusted
    used: NDArray[np.bool_]
    left_out: tuple[int, ...]
    errors: tuple[float, ...]
    error_sigmas: tuple[float, ...]
    either: tuple[tuple[int, ...], ...]


def snooped(model: Model, start: Array, read: Array, sigma: Array, scale: Array, most: int | None = None) -> Snooped:
    """Data snooping: leave out the reading with the greatest |w| beyond :data:`CRITICAL`, fit again, and so on; at the end each one
    left out is held against the fit of the rest, and taken back when it agrees after all. ``model``, ``start``, ``read``, ``sigma`` and
    ``scale`` as for :func:`adjusted` (m, rad); ``most`` how many may be left out at most. Source: Baarda 1968. Degenerate: of two
    readings that check only one another neither can be said to be the wrong one: both are named in ``either``, and neither counts in the fit.

    >>> level = lambda x: (np.repeat(x, 4), np.ones((4, 1)))
    >>> found = snooped(level, np.zeros(1), np.array([0.0, 0.1, -0.1, 9.0]), np.ones(4), np.ones(1))
    >>> found.left_out, round(found.errors[0], 2)
    ((3,), 9.0)
    """

    def fitted(used: NDArray[np.bool_]) -> Adjusted:
        def part(x: Array) -> tuple[Array, Array]:
            said, slope = model(x)
            return said[used], slope[used]

        return adjusted(part, start, read[used], sigma[used], scale)

    used = np.ones(len(read), dtype=bool)
    fit = fitted(used)
    out: list[int] = []
    either: dict[int, tuple[int, ...]] = {}
    limit = len(read) if most is None else most
    while len(out) < limit and used.any():
        size = np.abs(np.nan_to_num(fit.w))
        if size.max(initial=0.0) <= CRITICAL:
            break
        worst = int(size.argmax())
        where = np.flatnonzero(used)
        twins = np.abs(fit.alike[worst]) > ALIKE
        twins[worst] = False
        found = int(where[worst])
        either[found] = tuple(int(i) for i in where[twins])
        out.append(found)
        used[found] = False
        fit = fitted(used)
    for k in tuple(out[:-1]):
        again = used.copy()
        again[k] = True
        tried = fitted(again)
        if np.abs(np.nan_to_num(tried.w)).max(initial=0.0) <= CRITICAL:
            used, fit = again, tried
            out.remove(k)
    errors, sigmas = [], []
    said, slope = model(fit.unknowns)
    for k in out:
        spread = float(slope[k] @ fit.covariance @ slope[k])
        errors.append(float(read[k] - said[k]))
        sigmas.append(float(np.sqrt(sigma[k] ** 2 + spread)))
    apart = sorted({i for k in out for i in either[k]})
    if apart:  # which of them is wrong nothing says, so none of them counts
        used[apart] = False
        fit = fitted(used)
    return Snooped(fit, used, tuple(out), tuple(errors), tuple(sigmas), tuple(either[k] for k in out))


def noticed(sigma: float, redundancy: float) -> float:
    """The least error of a reading that would be found four times in five, in the reading's unit (m, rad): δ0·σ/√r. ``sigma`` 1 σ of
    it, ``redundancy`` 0 to 1. Source: Baarda 1968 (internal reliability). Degenerate: infinite for a reading nothing checks.

    >>> round(noticed(0.001, 0.25), 5), noticed(0.001, 0.0)
    (0.00826, inf)
    """
    return float("inf") if redundancy <= CHECKED else NOTICED * sigma / float(np.sqrt(redundancy))
