"""Where a gear set stands: what the last attempt says, whether it is right and how surely, and which shims to try next."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from functools import lru_cache
from typing import Literal

import numpy as np
from msgspec import Struct
from msgspec.structs import astuple

from stoutlink.core.analysis.bench.gear_model import (
    NOISE,
    OF_EDGE,
    Learnt,
    Seen,
    Setting,
    Window,
    chance_here,
)
from stoutlink.core.document.gear_setup import GearAttempt, GearReading, GearSetup, Patch

SURE, UNLIKELY = 0.985, 0.35
"""From this chance on a set is called right; below this one it is not read again but moved."""
AGREE = 4.0
"""Two readings of one setting that differ by more σ than this do not agree: a third is wanted."""
MOST_READ = 12
"""Readings of one setting after which it is moved all the same."""
TIGHT = 5e-6
"""Backlash of less, m, is none: how tight it is cannot be read."""
FAR = 0.0008
"""Stacks farther than this from what was in at first, m, are not offered."""
PRELOAD = 2.5e-5
"""The sum of both ring stacks may differ by this from what it was, m."""
MOST = 3000
"""Sums of shims that are looked at of one place."""
Verdict = Literal["right", "read", "again", "look", "move"]
Word = Literal["too deep", "too shallow", "to the heel", "to the toe", "crossed", "off the edge", "tight", "loose"]


class Shims(Struct, frozen=True):
    """Stacks to put in, m."""

    pinion: float
    toward: float
    away: float


class Next(Struct, frozen=True):
    """The shims to try: what they will do with 1 σ (in the order of what is read), and the chance that all is right."""

    shims: Shims
    will: tuple[float, ...]
    sure: tuple[float, ...]
    chance: float


class GearSheet(Struct, frozen=True):
    """What stands. ``verdict``: ``right`` (never while the ring runs out), nothing ``read`` yet, read it ``again`` (two readings do not agree), ``look``
    once more to be sure, ``move`` the shims. ``chance`` that the last attempt is right; ``words`` what is wrong with it;
    ``spread`` of the backlash round the ring, m, and whether that is too much; ``means`` of the last attempt."""

    setup: GearSetup
    verdict: Verdict
    chance: float
    words: tuple[Word, ...]
    means: tuple[float, ...] | None
    spread: float | None
    uneven: bool
    next: Next | None
    missing: str


def setting_of(setup: GearSetup, shims: Shims) -> Setting:
    """Where shims put pinion and ring from the first attempt: a shim swapped from side to side moves the ring by its
    thickness, one added by half, as the carrier's preload takes it."""
    first = setup.attempts[0]
    deeper = 1.0 if setup.thicker == "deeper" else -1.0
    ring = 0.5 * ((shims.toward - first.toward_m) - (shims.away - first.away_m))
    return Setting(deeper * (shims.pinion - first.pinion_m), ring)


def shims_of(attempt: GearAttempt) -> Shims:
    """The stacks of an attempt."""
    return Shims(attempt.pinion_m, attempt.toward_m, attempt.away_m)


def seen_of(setup: GearSetup, attempt: GearAttempt) -> tuple[Seen, ...]:
    """Whole readings of an attempt as numbers; of three or more those that lie by their middle count, a bent one does not."""
    setting = setting_of(setup, shims_of(attempt))
    out = [
        Seen(setting, *_numbers(r))
        for r in attempt.readings
        if r.backlash_m and r.drive is not None and r.coast is not None
    ]
    if len(out) < 3 or _agree(out):
        return tuple(out)
    middle = np.median([s.values for s in out], axis=0)
    side = np.median([s.beyond for s in out], axis=0)
    near = [
        s
        for s in out
        if bool((np.abs(np.subtract(s.values, middle)) <= AGREE * NOISE).all()) and bool((side == s.beyond).all())
    ]
    return tuple(near) if len(near) > 1 else tuple(out)


def _agree(seen: Iterable[Seen]) -> bool:
    """Whether readings of one setting agree within what reading can tell."""
    return all(
        a.beyond == b.beyond and bool((np.abs(np.subtract(a.values, b.values)) <= AGREE * 2**0.5 * NOISE).all())
        for a, b in itertools.combinations(tuple(seen), 2)
    )


def _numbers(
    r: GearReading,
) -> tuple[tuple[float, float, float, float, float], tuple[int, int, int, int, int]]:
    assert r.drive is not None
    assert r.coast is not None
    beyond = [0, 0, 0, 0, 0]
    for base, patch in ((0, r.drive), (2, r.coast)):
        for edge in patch.off:
            k, side = OF_EDGE[edge]
            beyond[base + k] = side
    mean = sum(r.backlash_m) / len(r.backlash_m)
    if mean < TIGHT:
        beyond[0] = -1
    values = (mean, r.drive.place, r.drive.height, r.coast.place, r.coast.height)
    return values, (beyond[0], beyond[1], beyond[2], beyond[3], beyond[4])


def gear_sheet(setup: GearSetup) -> GearSheet:
    """Judge a gear set and say what to try next."""
    missing = ""
    if setup.low_m is None or setup.high_m is None or setup.high_m <= setup.low_m:
        missing = "the backlash that is wanted, from its sheet"
    elif not setup.attempts or min(astuple(shims_of(setup.attempts[0]))) <= 0:
        missing = "the shims that were in: at the pinion, on the ring's side, on the other side"
    if missing:
        return GearSheet(setup, "read", 0.0, (), None, None, False, None, missing)
    assert setup.low_m is not None
    assert setup.high_m is not None
    window, last = Window((setup.low_m, setup.high_m)), setup.attempts[-1]
    mine = seen_of(setup, last)
    round_ = [r.backlash_m for r in last.readings if len(r.backlash_m) > 1]
    spread = max((max(r) - min(r) for r in round_), default=None)
    uneven = spread is not None and spread > setup.spread_m
    if not mine:
        return GearSheet(setup, "read", 0.0, (), None, spread, uneven, None, "")
    seen = [s for a in setup.attempts for s in seen_of(setup, a)]
    means = tuple(float(v) for v in np.mean([s.values for s in mine], axis=0))
    words = _words(means, mine, window)
    if len(mine) == 1 or (not _agree(mine) and len(last.readings) < MOST_READ):
        return GearSheet(setup, "again", 0.0, words, means, spread, uneven, None, "")
    chance = chance_here(seen, setup.cut, window)
    if chance >= SURE and not uneven:
        return GearSheet(setup, "right", chance, words, means, spread, uneven, None, "")
    if chance >= UNLIKELY and len(last.readings) < MOST_READ:
        return GearSheet(setup, "look", chance, words, means, spread, uneven, None, "")
    return GearSheet(setup, "move", chance, words, means, spread, uneven, _next(setup, seen, window), "")


def _words(means: tuple[float, ...], seen: tuple[Seen, ...], window: Window) -> tuple[Word, ...]:
    """What is wrong with an attempt, in the trade's words."""
    out: list[Word] = []
    backlash, drive_place, drive_height, coast_place, coast_height = means
    (low, high), (toe, heel), (root, top) = window.backlash, window.place, window.height
    out += ["tight"] if backlash < low else ["loose"] if backlash > high else []
    if any(any(s.beyond) for s in seen):
        out.append("off the edge")
    if drive_height < root and coast_height < root:
        out.append("too deep")
    if drive_height > top and coast_height > top:
        out.append("too shallow")
    if drive_place > heel and coast_place > heel:
        out.append("to the heel")
    if drive_place < toe and coast_place < toe:
        out.append("to the toe")
    if (drive_place < toe and coast_place > heel) or (drive_place > heel and coast_place < toe):
        out.append("crossed")
    return tuple(out)


def _next(setup: GearSetup, seen: list[Seen], window: Window) -> Next | None:
    """Of all stacks that the shims owned make, the one most likely right; none that was tried."""
    offered = stacks(setup)
    tried = {setting_of(setup, shims_of(a)) for a in setup.attempts}
    first, deeper = setup.attempts[0], 1.0 if setup.thicker == "deeper" else -1.0
    every = np.array([(s.pinion, s.toward, s.away) for s in offered])
    depth = deeper * (every[:, 0] - first.pinion_m)
    ring = 0.5 * ((every[:, 1] - first.toward_m) - (every[:, 2] - first.away_m))
    free = np.ones(len(offered), dtype=bool)
    for at in tried:
        free &= (np.abs(depth - at.depth) > 1e-9) | (np.abs(ring - at.ring) > 1e-9)
    if not free.any():
        return None
    options, depth, ring = np.flatnonzero(free), depth[free], ring[free]
    learnt = Learnt(seen, setup.cut)
    chances = learnt.chance(depth, ring, window)
    mean, sure = learnt.at(depth, ring)
    bounds = np.array(window.bounds)
    half = 0.5 * (bounds[:, 1] - bounds[:, 0])
    miss = ((mean - bounds.mean(axis=1)) ** 2 / half**2 + (sure / half) ** 2).sum(axis=1)
    best = int(np.lexsort((miss, -np.round(chances, 6)))[0])
    return Next(
        offered[int(options[best])],
        tuple(float(v) for v in mean[best]),
        tuple(float(v) for v in sure[best]),
        float(chances[best]),
    )


@lru_cache(maxsize=8)
def stacks(setup: GearSetup) -> tuple[Shims, ...]:
    """Every way to stack the shims owned: at the pinion any of them near what was tried; at the ring any shared out to the
    two sides whose sum (the preload) is what it was. What was in at first is always among them."""
    first = setup.attempts[0]
    pinion = {round(first.pinion_m, 7)} | {round(p, 7) for p in pinion_sums(setup) if abs(p - first.pinion_m) <= FAR}
    whole = first.toward_m + first.away_m
    ring = {(round(first.toward_m, 7), round(first.away_m, 7))} | {
        (round(t, 7), round(a, 7))
        for t, a in ring_shares(setup)
        if abs(t + a - whole) <= PRELOAD and abs(t - first.toward_m) <= FAR
    }
    return tuple(Shims(p, t, a) for p in sorted(pinion) for t, a in sorted(ring))


@lru_cache(maxsize=16)
def pinion_sums(setup: GearSetup) -> tuple[float, ...]:
    """Thicknesses the pinion's shims make together, m, told apart to a micrometre."""
    found = {0}
    for stack in setup.stacks:
        unit = round(stack.thick_m * 1e6)
        if stack.place == "pinion" and len(found) <= MOST:
            found = {f + k * unit for f in found for k in range(stack.count + 1)}
    return tuple(sorted(f * 1e-6 for f in found if f > 0))


@lru_cache(maxsize=16)
def ring_shares(setup: GearSetup) -> tuple[tuple[float, float], ...]:
    """Ways to share the ring's shims out: towards the pinion and away, m; each shim on one side or on none."""
    found = {(0, 0)}
    for stack in setup.stacks:
        unit, n = round(stack.thick_m * 1e6), stack.count
        if stack.place == "ring" and len(found) <= MOST:
            found = {(t + i * unit, a + j * unit) for t, a in found for i in range(n + 1) for j in range(n + 1 - i)}
    return tuple(sorted((t * 1e-6, a * 1e-6) for t, a in found if t > 0 and a > 0))


def patch_words(patch: Patch | None) -> str:
    """A patch in words: where along the tooth and how high."""
    if patch is None:
        return "not painted"
    along = "toe" if patch.place < 0.3 else "heel" if patch.place > 0.72 else "middle"
    high = "root" if patch.height < 0.27 else "top" if patch.height > 0.73 else "half-way up"
    off = f", runs off at the {' and the '.join(patch.off)}" if patch.off else ""
    return f"{along}, {high}{off}"
