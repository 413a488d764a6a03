"""What shims do to a gear set, learnt from the attempts of this very housing.

Backlash and the middle of the contact on both flanks are taken as linear in how far the pinion stands towards the ring and
the ring towards the pinion. What nobody has tried yet comes from usual senses by cut (common practice for the signs, the
sizes a guess), with a wide ±; each attempt narrows it by least squares (Gauss; the same as Bayes' rule for normal errors).
A mark that runs off an edge is a bound: it counts as the mean of what lies beyond, with its own ±.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.document.gear_setup import Edge, GearCut

Array = NDArray[np.float64]
SENSE: dict[GearCut, tuple[tuple[float, float], ...]] = {
    "milled": ((-0.25, -0.8), (-900.0, -700.0), (-1900.0, -350.0), (900.0, -900.0), (-1900.0, -350.0)),
    "milled_reverse": ((-0.25, -0.8), (-900.0, -900.0), (-1900.0, -350.0), (900.0, -700.0), (-1900.0, -350.0)),
    "hobbed": ((-0.25, -0.8), (-300.0, -900.0), (-1900.0, -350.0), (300.0, -900.0), (-1700.0, -350.0)),
}
"""By cut, of backlash, drive place, drive height, coast place, coast height: per metre of depth and of ring movement."""
UNSURE = 0.4
LEAST = np.array([0.1, 120.0, 120.0, 120.0, 120.0])
"""1 σ of a sense nobody has tried: a part of itself, and at least (per metre)."""
BEFORE = np.array([0.2e-3, 0.5, 0.5, 0.5, 0.5])
BEFORE_SURE = np.array([0.6e-3, 0.8, 0.8, 0.8, 0.8])
"""What is thought of a set nobody has read, and its 1 σ: backlash m, places and heights."""
NOISE = np.array([6.5e-6, 0.055, 0.055, 0.055, 0.055])
"""1 σ of one reading: backlash over four places by the indicator, a patch judged by eye (common practice)."""
ROUGH = np.array([8e-6, 0.02, 0.02, 0.02, 0.02])
"""1 σ of what the straight line leaves out at any one setting (a guess)."""
OF_EDGE: dict[Edge, tuple[int, int]] = {"toe": (1, -1), "heel": (1, 1), "root": (2, -1), "top": (2, 1)}


class Setting(Struct, frozen=True):
    """Where the shims put the pinion (towards the ring +) and the ring (towards the pinion +), m from the first attempt."""

    depth: float
    ring: float


class Seen(Struct, frozen=True):
    """One reading as numbers, in the order of :data:`SENSE`; ``beyond`` is −1 or 1 where a mark runs off an edge."""

    setting: Setting
    values: tuple[float, float, float, float, float]
    beyond: tuple[int, int, int, int, int] = (0, 0, 0, 0, 0)


class Window(Struct, frozen=True):
    """What is wanted: backlash from to, m; places and heights from to, as parts of the tooth (common practice: between
    tip and root on both flanks, a little to the heel accepted)."""

    backlash: tuple[float, float]
    place: tuple[float, float] = (0.3, 0.72)
    height: tuple[float, float] = (0.27, 0.73)

    @property
    def bounds(self) -> tuple[tuple[float, float], ...]:
        """In the order of what is read."""
        return self.backlash, self.place, self.height, self.place, self.height


class Learnt:
    """What the readings so far say: ``mean`` (5, 3) of offset and both senses, ``cov`` (5, 3, 3)."""

    def __init__(self, seen: Sequence[Seen], cut: GearCut) -> None:
        self.mean, self.cov = np.zeros((5, 3)), np.zeros((5, 3, 3))
        rows = np.array([[1.0, s.setting.depth, s.setting.ring] for s in seen]).reshape(-1, 3)
        same = np.array([[a.setting == b.setting for b in seen] for a in seen], dtype=float).reshape(
            len(seen), len(seen)
        )
        for k in range(5):
            before = np.array([BEFORE[k], *SENSE[cut][k]])
            sure = np.array([BEFORE_SURE[k], *np.hypot(UNSURE * np.abs(SENSE[cut][k]), LEAST[k])])
            y = np.array([s.values[k] for s in seen])
            beyond = np.array([s.beyond[k] for s in seen], dtype=int)
            noise = np.eye(len(seen)) * NOISE[k] ** 2 + ROUGH[k] ** 2 * same
            self.mean[k], self.cov[k] = _fit(rows, y, beyond, before, np.diag(sure**2), noise, float(ROUGH[k]))

    def at(self, depth: Array, ring: Array) -> tuple[Array, Array]:
        """Mean and 1 σ of what would be true at settings: shapes (settings, 5)."""
        rows = np.stack([np.ones_like(depth), depth, ring], axis=-1)
        spread = np.einsum("ni,kij,nj->nk", rows, self.cov, rows)
        return rows @ self.mean.T, np.sqrt(np.maximum(spread, 0.0) + ROUGH**2)

    def chance(self, depth: Array, ring: Array, window: Window) -> Array:
        """Chance that settings are right in everything: shape (settings,)."""
        mean, sure = self.at(depth, ring)
        return np.asarray(np.prod([between(mean[:, k], sure[:, k], *window.bounds[k]) for k in range(5)], axis=0))


def _fit(
    rows: Array, y: Array, beyond: NDArray[np.int_], before: Array, prior: Array, noise: Array, rough: float
) -> tuple[Array, Array]:
    """Mean and covariance of offset and senses of one thing that is read."""
    if not len(y):
        return before, prior
    y, extra = y.copy(), np.zeros(len(y))
    for _ in range(6 if beyond.any() else 1):
        mean, cov = _update(rows, y, before, prior, noise + np.diag(extra))
        for i in np.flatnonzero(beyond):
            keep = np.arange(len(y)) != i
            others = (noise + np.diag(extra))[np.ix_(keep, keep)]
            m, c = _update(rows[keep], y[keep], before, prior, others) if keep.any() else (before, prior)
            y[i], extra[i] = _beyond(float(rows[i] @ m), math.sqrt(rows[i] @ c @ rows[i] + rough**2), int(beyond[i]))
    return mean, cov


def _update(rows: Array, y: Array, before: Array, prior: Array, noise: Array) -> tuple[Array, Array]:
    gain = prior @ rows.T @ np.linalg.inv(rows @ prior @ rows.T + noise)
    return before + gain @ (y - rows @ before), prior - gain @ rows @ prior


def _beyond(mean: float, sure: float, side: int) -> tuple[float, float]:
    """A value thought to be ``mean`` ± ``sure`` that lies beyond 0 (``side`` −1) or 1: the reading, and its variance, that
    would say the same (mean and variance of a normal cut off at the edge)."""
    edge = 0.0 if side < 0 else 1.0
    z = side * (edge - mean) / sure
    density = math.exp(-0.5 * z * z) / math.sqrt(2 * math.pi)
    lean = density / max(0.5 * math.erfc(z / math.sqrt(2)), 1e-12)
    left = max(sure**2 * (1.0 - lean * (lean - z)), 1e-6)
    extra = max(left * sure**2 / max(sure**2 - left, 1e-9), 0.0)
    part = sure**2 / (sure**2 + extra)
    return mean + side * sure * lean / part, extra


_ERF = np.vectorize(math.erf, otypes=[float])


def between(mean: Array, sure: Array, low: float, high: float) -> Array:
    """Chance that a normal value lies between two bounds.

    >>> float(round(between(np.array([0.0]), np.array([1.0]), -1.0, 1.0)[0], 4))
    0.6827
    """
    root = math.sqrt(2.0)
    return np.asarray(0.5 * (_ERF((high - mean) / sure / root) - _ERF((low - mean) / sure / root)))


def chance_here(seen: Sequence[Seen], cut: GearCut, window: Window) -> float:
    """Chance that the last setting read is right: its own readings together with what the others say of it. None for a
    mark that runs off an edge."""
    setting = seen[-1].setting
    mine = [s for s in seen if s.setting == setting]
    if any(any(s.beyond) for s in mine):
        return 0.0
    mean, sure = Learnt([s for s in seen if s.setting != setting], cut).at(
        np.array([setting.depth]), np.array([setting.ring])
    )
    own, n = np.mean([s.values for s in mine], axis=0), len(mine)
    weight, prior = n / NOISE**2, 1.0 / sure[0] ** 2
    best, left = (mean[0] * prior + own * weight) / (prior + weight), 1.0 / np.sqrt(prior + weight)
    return float(np.prod([between(best[k : k + 1], left[k : k + 1], *window.bounds[k])[0] for k in range(5)]))
