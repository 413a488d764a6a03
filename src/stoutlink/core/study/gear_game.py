"""Setting gears up as a game against a simulated housing, for a user and for the advice alike."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

import msgspec
import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.bench.gear_sheet import Shims, gear_sheet, setting_of, shims_of
from stoutlink.core.document.gear_setup import GearAttempt, GearReading, GearSetup, Patch, ShimStack
from stoutlink.core.instruments.gear_trainer import GearTrainer

LONG, TALL = 0.4, 0.3
"""How long and tall a patch is painted."""
MOST = 15


@lru_cache(maxsize=64)
def trainer(seed: int) -> GearTrainer:
    """The housing of a seed."""
    return GearTrainer(seed)


def trainer_setup(end: Literal["front", "rear"], seed: int) -> GearSetup:
    """What a player is given: cut, window and shims by the sheet, the old shims in as the first attempt."""
    one = trainer(seed)
    step = one.step
    pinion = [
        ("base", one.pinion - 8 * step, 1),
        ("a", step, 1),
        ("b", 2 * step, 1),
        ("c", 4 * step, 1),
        ("d", 8 * step, 1),
    ]
    ring = [("rbase", one.toward - 5 * step, 2), ("rstep", step, 10), ("rhalf", 0.5 * step, 2)]
    stacks = [ShimStack(id=f"p-{n}", place="pinion", thick_m=round(t, 7), count=c) for n, t, c in pinion]
    stacks += [ShimStack(id=f"r-{n}", place="ring", thick_m=round(t, 7), count=c) for n, t, c in ring]
    toward = one.toward + 0.5 * step
    first = GearAttempt(
        id="attempt-1", pinion_m=round(one.pinion, 7), toward_m=round(toward, 7), away_m=round(toward, 7)
    )
    return GearSetup(
        id=end,
        cut=one.cut,  # type: ignore[arg-type]
        low_m=one.window[0],
        high_m=one.window[1],
        source="simulated",
        stacks=tuple(stacks),
        attempts=(first,),
        trainer=seed,
    )


def felt(setup: GearSetup) -> GearReading:
    """One reading of the last attempt of a game, as the indicator and the painted teeth give it. The same reading of the
    same attempt is always the same."""
    assert setup.trainer is not None
    last = setup.attempts[-1]
    dice = np.random.default_rng([setup.trainer, len(setup.attempts), len(last.readings)])
    at = setting_of(setup, shims_of(last))
    one = trainer(setup.trainer).felt(at.depth, at.ring, dice)
    return GearReading(backlash_m=one.backlash, drive=_patch(*one.drive), coast=_patch(*one.coast))


def _patch(place: float, height: float) -> Patch:
    """A patch whose middle is there; one whose middle is past an edge runs off it and shows what is left."""
    inside = [min(max(v, 0.5 * size + 1e-3), 1 - 0.5 * size - 1e-3) for v, size in ((place, LONG), (height, TALL))]
    at = [v if v in (0.0, 1.0) else i if abs(v - i) < 1e-9 else v for v, i in zip((place, height), inside, strict=True)]
    return Patch(place=at[0], height=at[1], long=_shown(at[0], LONG), tall=_shown(at[1], TALL))


def _shown(middle: float, size: float) -> float:
    """A patch is painted as large as still lies within the tooth round its middle; past an edge as a sliver that runs off."""
    if middle in (0.0, 1.0):
        return size
    return max(0.02, min(size, 2 * middle - 2e-3, 2 * (1 - middle) - 2e-3))


def with_reading(setup: GearSetup, reading: GearReading) -> GearSetup:
    """The set-up with a reading of its last attempt."""
    last = setup.attempts[-1]
    after = msgspec.structs.replace(last, readings=(*last.readings, reading))
    return msgspec.structs.replace(setup, attempts=(*setup.attempts[:-1], after))


def with_attempt(setup: GearSetup, shims: Shims) -> GearSetup:
    """The set-up with other shims in."""
    new = GearAttempt(
        id=f"attempt-{len(setup.attempts) + 1}",
        pinion_m=round(shims.pinion, 7),
        toward_m=round(shims.toward, 7),
        away_m=round(shims.away, 7),
    )
    return msgspec.structs.replace(setup, attempts=(*setup.attempts, new))


class Played(Struct, frozen=True):
    """How a game went: attempts (the old shims count as the first), whether it was called right, whether it was."""

    attempts: int
    called: bool
    right: bool


def advised(seed: int) -> Played:
    """A game played by the advice alone."""
    setup = trainer_setup("rear", seed)
    while True:
        setup = with_reading(setup, felt(setup))
        sheet = gear_sheet(setup)
        if sheet.verdict == "right":
            return Played(len(setup.attempts), True, is_right(setup))
        if sheet.verdict in ("read", "again", "look") and len(setup.attempts[-1].readings) < 14:
            continue
        if sheet.next is None or len(setup.attempts) >= MOST:
            return Played(len(setup.attempts), False, is_right(setup))
        setup = with_attempt(setup, sheet.next.shims)


def is_right(setup: GearSetup) -> bool:
    """Whether the last attempt of a game is truly right."""
    assert setup.trainer is not None
    at = setting_of(setup, shims_of(setup.attempts[-1]))
    return trainer(setup.trainer).right(at.depth, at.ring)
