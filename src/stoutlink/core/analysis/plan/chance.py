"""How surely the day is met: works and arrivals drawn many times, the same order, people and hours."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.plan.calendars import Minutes
from stoutlink.core.analysis.plan.jobs import Arrives, Net
from stoutlink.core.analysis.plan.schedule import lay

SAMPLES = 2000


class Chance(Struct, frozen=True):
    """Part of the draws that are done by the minute wanted, its 1 σ, and the minutes by which 10, 50 and 90 % are done."""

    met: float
    sigma: float
    tenth: int
    half: int
    ninth: int


def pert(least: NDArray[np.float64], likely: NDArray[np.float64], most: NDArray[np.float64], dice: np.random.Generator, count: int) -> NDArray[np.float64]:  # fmt: skip
    """Beta-PERT draws, count × jobs: mean (a + 4m + b)/6 between a and b. Source: the PERT network's own assumption."""
    wide = np.maximum(most - least, 1e-9)
    alpha, beta = 1.0 + 4.0 * (likely - least) / wide, 1.0 + 4.0 * (most - likely) / wide
    return np.asarray(least + wide * dice.beta(alpha, beta, (count, len(least))))


def chance(
    net: Net, order: Minutes, arrives: Mapping[str, Arrives], wanted: int, count: int = SAMPLES, seed: int = 7
) -> Chance:
    """Draw works (beta-PERT) and arrivals (triangular) with the same numbers each time it is asked."""
    dice = np.random.default_rng(seed)
    least, likely, most = (
        np.array([getattr(j, name) for j in net.jobs], dtype=float) for name in ("least", "likely", "most")
    )
    work = np.rint(pert(least, likely, most, dice, count)).astype(np.int64)
    ready = np.tile(np.array([j.not_before for j in net.jobs], dtype=np.int64), (count, 1))
    drawn: dict[str, Minutes] = {}
    for key in sorted(arrives):
        one = arrives[key]
        if one.latest > one.earliest:
            drawn[key] = np.rint(dice.triangular(one.earliest, one.likely, one.latest, count)).astype(np.int64)
        else:
            drawn[key] = np.full(count, one.likely, dtype=np.int64)
    for k, job in enumerate(net.jobs):
        for need in job.needs:
            if need in drawn:
                ready[:, k] = np.maximum(ready[:, k], drawn[need])
    ends = np.sort(lay(net, np.tile(order, (count, 1)), work, ready).end)
    met = float((ends <= wanted).mean())
    tenth, half, ninth = (int(ends[int(q * (count - 1))]) for q in (0.1, 0.5, 0.9))
    return Chance(met, math.sqrt(max(met * (1.0 - met), 1.0 / count) / count), tenth, half, ninth)
