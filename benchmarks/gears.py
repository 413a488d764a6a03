"""Setting gears up: the advice against a player who knows how the simulated housings are made and tries every stack in his head.

    python benchmarks/gears.py [SEEDS]

The advice is told nothing of a housing's constants. The player draws many housings as the simulation makes them, weighs them
by what was read, and puts in the stack that is right in the largest part of them: nobody can do better one step ahead. Prints
how many games the advice ends in four attempts at most, its false calls, and both means with their ratio.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from stoutlink.core.analysis.bench.gear_sheet import SURE, setting_of, shims_of, stacks
from stoutlink.core.document.gear_setup import GearReading, GearSetup
from stoutlink.core.instruments.gear_trainer import _MOVES, BENT, MIDDLE
from stoutlink.core.study.gear_game import (
    MOST,
    Played,
    advised,
    felt,
    is_right,
    trainer_setup,
    with_attempt,
    with_reading,
)

Array = NDArray[np.float64]
HOUSINGS = 300_000
NOISE = np.array([7e-6, 0.05, 0.05, 0.05, 0.05])
"""1 σ of one reading: four places of 8 µm and what the gauge turns, the pattern by eye."""
STRAY = np.array([0.12e-3, 0.45, 0.45, 0.45, 0.45])
LOW, HIGH = np.array([0.3, 0.27, 0.3, 0.27]), np.array([0.72, 0.73, 0.72, 0.73])
READ = 2
"""How often the player reads an attempt before he thinks."""


@dataclass(frozen=True)
class Drawn:
    """Housings drawn: what they are at the first shims, what a metre of depth and ring does, how they bend."""

    rest: Array
    moves: Array
    bend: Array

    def at(self, depth: float, ring: float) -> Array:
        """All five numbers of every housing at a setting."""
        return self.rest + self.moves[:, :, 0] * depth + self.moves[:, :, 1] * ring + self.bend * depth**2


def draw(cut: str, window: tuple[float, float], dice: np.random.Generator) -> Drawn:
    """Housings as the simulation draws them."""
    base = np.array(_MOVES[cut])
    moves = base * np.exp(dice.normal(0.0, 0.18, (HOUSINGS, 5, 2)))
    bend = dice.normal(0.0, 1.2e5, (HOUSINGS, 5)) * np.array([0.0, 1.0, 1.0, 1.0, 1.0])
    depth = dice.uniform(0.08e-3, 0.4e-3, HOUSINGS) * dice.choice([-1.0, 1.0], HOUSINGS)
    ring = dice.uniform(-0.3e-3, 0.3e-3, HOUSINGS)
    right = MIDDLE + np.hstack([np.zeros((HOUSINGS, 1)), dice.normal(0.0, 0.05, (HOUSINGS, 4))])
    right[:, 0] = 0.5 * sum(window) + dice.normal(0.0, 1.5e-5, HOUSINGS)
    move = moves[:, :, 0] * depth[:, None] + moves[:, :, 1] * ring[:, None]
    return Drawn(right - move - bend * depth[:, None] ** 2, moves, bend)


def weigh(drawn: Drawn, setup: GearSetup) -> Array:
    """How likely each housing is after every reading; a cut-off pattern says only that it lies beyond the edge."""
    log = np.zeros(HOUSINGS)
    for attempt in setup.attempts:
        at = setting_of(setup, shims_of(attempt))
        there = drawn.at(at.depth, at.ring)
        for one in attempt.readings:
            log += _likely(one, there)
    weight = np.exp(log - log.max())
    return np.asarray(weight / weight.sum())


def _likely(one: GearReading, there: Array) -> Array:
    assert one.drive is not None
    assert one.coast is not None
    read = np.array([
        sum(one.backlash_m) / len(one.backlash_m), one.drive.place, one.drive.height, one.coast.place, one.coast.height,
    ])  # fmt: skip
    off = (read - np.clip(there, [0.0] * 5, [1.0] * 5)) / NOISE
    good = np.exp(-0.5 * off**2)
    stray = sum(np.exp(-0.5 * ((read - there + s * STRAY) / NOISE) ** 2) for s in (-1.0, 1.0))
    each = (1.0 - BENT / 5) * good + 0.5 * BENT / 5 * stray + 1e-6
    return np.asarray(np.log(each).sum(axis=1))


def right(drawn: Drawn, depth: float, ring: float, window: tuple[float, float]) -> NDArray[np.bool_]:
    """In which housings a setting is right."""
    y = drawn.at(depth, ring)
    inside = ((y[:, 1:] >= LOW) & (y[:, 1:] <= HIGH)).all(axis=1)
    return np.asarray(inside & (y[:, 0] >= window[0]) & (y[:, 0] <= window[1]))


def player(seed: int) -> Played:
    """One game by the player who tries every stack in his head."""
    setup = trainer_setup("rear", seed)
    assert setup.low_m is not None
    assert setup.high_m is not None
    window = (setup.low_m, setup.high_m)
    drawn = draw(setup.cut, window, np.random.default_rng(10_000 + seed))
    offered = stacks(setup)
    while True:
        last = setup.attempts[-1]
        if len(last.readings) < READ:
            setup = with_reading(setup, felt(setup))
            continue
        weight = weigh(drawn, setup)
        at = setting_of(setup, shims_of(last))
        here = float(weight[right(drawn, at.depth, at.ring, window)].sum())
        if here >= SURE:
            return Played(len(setup.attempts), True, is_right(setup))
        if here >= 0.35 and len(last.readings) < 12:
            setup = with_reading(setup, felt(setup))
            continue
        if len(setup.attempts) >= MOST:
            return Played(len(setup.attempts), False, is_right(setup))
        heavy = np.argsort(weight)[-3000:]
        some = Drawn(drawn.rest[heavy], drawn.moves[heavy], drawn.bend[heavy])
        tried = {setting_of(setup, shims_of(a)) for a in setup.attempts}
        best, most = None, -1.0
        for stack in offered:
            to = setting_of(setup, stack)
            if to in tried:
                continue
            chance = float(weight[heavy][right(some, to.depth, to.ring, window)].sum())
            if chance > most:
                best, most = stack, chance
        if best is None:
            return Played(len(setup.attempts), False, is_right(setup))
        setup = with_attempt(setup, best)


def main() -> int:
    """Play every seed twice."""
    seeds = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    ours = [advised(s) for s in range(seeds)]
    theirs = [player(s) for s in range(seeds)]
    soon = sum(g.called and g.attempts <= 4 for g in ours) / seeds
    false = sum(g.called and not g.right for g in ours)
    mean, other = (sum(g.attempts for g in games) / seeds for games in (ours, theirs))
    print(
        f"{seeds} hard housings; the advice: {soon:.1%} done in at most 4 attempts, {false} false calls, mean {mean:.3f}"
    )
    lost = sum(not g.called or not g.right for g in theirs)
    print(
        f"player who knows how housings are made: mean {other:.3f}, {lost} lost; ratio {mean / other:.3f} (1.15 asked)"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
