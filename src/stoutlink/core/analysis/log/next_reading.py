"""What to read next on a finished axle: how much each reading that was not taken would gain, and which others it would check."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.log.as_built import UNCHECKED, BuiltAxle
from stoutlink.core.analysis.log.built_model import HUBS, PINION, USUAL, Observation, model_of, said_by
from stoutlink.core.analysis.log.built_readings import SIGMA, reading_name
from stoutlink.core.document.log import BuiltOf
from stoutlink.core.mechanics.adjustment import adjusted

Array = NDArray[np.float64]
WORTH = 0.03
"""A gain of this part of a number's ± is worth a reading."""
MOST = 8


class NextReading(Struct, frozen=True):
    """A reading not taken yet: what it would say by the fit, 1 σ of a number before and after, the part of all numbers' ± it takes away,
    and which readings nothing checks now it would check."""

    one: Observation
    number: str
    before: float
    after: float
    gain: float
    checks: tuple[str, ...]


def next_readings(found: BuiltAxle) -> tuple[NextReading, ...]:
    """The readings worth most, best first: by how much of the ± of the headline numbers each takes away, and what it checks."""
    slopes = found.slopes
    x = found.found.fit.unknowns
    taken = {(o.of, frozenset((o.a, o.b))) for k, o in enumerate(found.observations) if found.found.used[k]}
    weights = {
        name: 1.0 / s for name, g in slopes.items() if (s := math.sqrt(max(0.0, float(g @ found.covariance @ g)))) > 0
    }
    out = []
    for of, a, b in candidates(found):
        if (of, frozenset((a, b))) in taken:
            continue
        one = Observation("", reading_name(found.points, of, a, b), of, a, b, 0.0, SIGMA[of])
        value, parts = said_by(found.points, one, x)
        row = np.zeros(len(x))
        for i, by in parts:
            row[i] += by
        moved = found.covariance @ row
        spread = float(row @ moved) + one.sigma**2
        best, gain = ("", 0.0, 0.0), 0.0
        for name, w in weights.items():
            before = 1.0 / w
            less = float(slopes[name] @ moved) ** 2 / spread
            after = math.sqrt(max(0.0, before**2 - less))
            part = 1.0 - after * w
            gain += part
            if part > best[1]:
                best = name, part, after
        one = Observation("", one.name, of, a, b, value, one.sigma)
        out.append((gain / max(1, len(weights)), best, one, row))
    out.sort(key=lambda t: -t[0])
    final = []
    for gain, (name, part, after), one, _ in out[: 3 * MOST]:
        checks = _checks(found, one)
        if name and (part >= WORTH or checks):
            final.append(NextReading(one, name, 1.0 / weights[name], after, gain, checks))
    final.sort(key=lambda n: -(n.gain + 0.05 * len(n.checks)))
    return tuple(final[:MOST])


def _checks(found: BuiltAxle, one: Observation) -> tuple[str, ...]:
    """Readings that nothing checks now and this one would."""
    lone = [j.one for j in found.unchecked]
    if not lone:
        return ()
    used = tuple(o for k, o in enumerate(found.observations) if found.found.used[k])
    every = (*used, one)
    fit = adjusted(
        model_of(found.points, every),
        found.found.fit.unknowns,
        np.array([o.value for o in every]),
        np.array([o.sigma for o in every]),
        np.full(len(found.points.free), USUAL),
    )
    return tuple(o.name for k, o in enumerate(used) if o in lone and fit.redundancy[k] >= UNCHECKED)


def candidates(found: BuiltAxle) -> Iterator[tuple[BuiltOf, str, str]]:
    """Every reading that can be taken of these points with a tape, a plumb bob and an angle finder."""
    points = found.points
    bolts = [n for n in points.at if n not in HUBS]
    for name in bolts:
        yield "up", name, ""
        yield "along", name, ""
        yield "across", name, ""
    for hub in HUBS:
        yield "up", hub, ""
    for a, b in itertools.combinations(bolts, 2):
        yield "apart", a, b
    for hub, bolt in itertools.product(HUBS, bolts):
        if bolt.endswith(":frame"):
            yield "apart", hub, bolt
    for link in points.layout.links:
        yield "slope", link.id, ""
    yield PINION, "", ""  # type: ignore[misc]
    for a, b in itertools.permutations([n for n in bolts if n.endswith(":axle")], 2):
        if points.at[b][2] - points.at[a][2] > 0.05:
            yield "to_pinion", a, b
