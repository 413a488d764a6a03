"""A simulated housing to practise setting up gears on: its constants are its own and hidden, its readings are noisy, one
in twenty is bent. It answers as a dial indicator and a painted tooth would.
"""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]
BENT = 0.05
"""Part of readings that are bent."""
KINDS = ("milled", "milled_reverse", "hobbed")
MIDDLE = np.array([0.17e-3, 0.5, 0.5, 0.5, 0.5])
_MOVES = {
    "milled": ((-0.21, -0.74), (-760.0, -820.0), (-2150.0, -260.0), (1030.0, -760.0), (-1700.0, -420.0)),
    "milled_reverse": ((-0.28, -0.86), (-1010.0, -780.0), (-1650.0, -430.0), (790.0, -830.0), (-2100.0, -280.0)),
    "hobbed": ((-0.22, -0.77), (-210.0, -1040.0), (-2050.0, -410.0), (410.0, -780.0), (-1520.0, -300.0)),
}
"""What this simulation's gears do, per metre: not what any advice assumes."""


class Felt(Struct, frozen=True):
    """One reading: backlash at four places, m; per flank place, height (0 to 1, cut off at the edges)."""

    backlash: tuple[float, float, float, float]
    drive: tuple[float, float]
    coast: tuple[float, float]


class GearTrainer:
    """The housing of a ``seed``: which cut, what window and shims its sheet names, and what it hides."""

    def __init__(self, seed: int) -> None:
        dice = np.random.default_rng(seed)
        self.cut = str(dice.choice(KINDS, p=[0.3, 0.2, 0.5]))
        moves = np.array(_MOVES[self.cut])
        self._moves = moves * np.exp(dice.normal(0.0, 0.18, moves.shape))
        self._bend = dice.normal(0.0, 1.2e5, 5) * np.array([0.0, 1.0, 1.0, 1.0, 1.0])
        self.step = float(dice.choice([0.05e-3, 0.08e-3, 0.1e-3], p=[0.5, 0.3, 0.2]))
        low = float(dice.uniform(0.10, 0.15)) * 1e-3
        self.window = round(low, 6), round(low + float(dice.uniform(0.09, 0.13)) * 1e-3, 6)
        self.pinion, self.toward, self.away = 1.2e-3, 6.0e-3, 6.0e-3
        while True:
            depth = float(dice.uniform(0.08, 0.4)) * 1e-3 * float(dice.choice([-1.0, 1.0]))
            ring = float(dice.uniform(-0.3, 0.3)) * 1e-3
            right = MIDDLE + np.array([dice.normal(0.0, 2e-5), *dice.normal(0.0, 0.05, 4)])
            right[0] = 0.5 * sum(self.window) + dice.normal(0.0, 1.5e-5)
            self._rest = right - self._moves @ [depth, ring] - self._bend * depth**2
            if not self.right(0.0, 0.0) and any(
                self.right(i * self.step, 0.5 * j * self.step, 0.02, 6e-6) for i in range(-8, 9) for j in range(-10, 11)
            ):
                break

    def true(self, depth: float, ring: float) -> Array:
        """What is so at a setting: backlash m, drive place, drive height, coast place, coast height."""
        return np.asarray(self._rest + self._moves @ [depth, ring] + self._bend * depth**2)

    def right(self, depth: float, ring: float, inside: float = 0.0, slack: float = 0.0) -> bool:
        """Whether a setting is right, by as much as ``inside`` on the tooth and ``slack`` m of backlash."""
        y = self.true(depth, ring)
        heights = all(0.27 + inside <= v <= 0.73 - inside for v in (y[2], y[4]))
        places = all(0.3 + inside <= v <= 0.72 - inside for v in (y[1], y[3]))
        return bool(self.window[0] + slack <= y[0] <= self.window[1] - slack) and heights and places

    def felt(self, depth: float, ring: float, dice: np.random.Generator) -> Felt:
        """One reading of a setting."""
        y = self.true(depth, ring) + dice.normal(0.0, 1.0, 5) * np.array([0.0, 0.05, 0.05, 0.05, 0.05])
        if dice.random() < BENT:
            k = int(dice.integers(5))
            y[k] += float(dice.choice([-1.0, 1.0])) * (0.12e-3 if k == 0 else 0.45)
        turn = dice.uniform(0.0, 2 * math.pi)
        around = [
            max(0.0, float(y[0] + 6e-6 * math.cos(turn + k * math.pi / 2) + dice.normal(0.0, 8e-6))) for k in range(4)
        ]
        drive, coast = ((min(max(float(y[k]), 0.0), 1.0), min(max(float(y[k + 1]), 0.0), 1.0)) for k in (1, 3))
        return Felt((around[0], around[1], around[2], around[3]), drive, coast)
