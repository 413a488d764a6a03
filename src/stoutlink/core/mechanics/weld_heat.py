"""Heat of welding in a tube: heat input of a bead, and the tube as a fin that beads warm one after the other.

The fin: ρ·c·A·∂T/∂t = k·A·∂²T/∂x² − h·P·(T − T₀) + q(x, t), T the mean of a section, solved by its modes: cosines
where both ends are insulated, quarter-wave sines where the inner end is held at the casting's temperature. Each bead is a
pulse spread over its length for as long as it burns. Source: heat conduction by separation of variables.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
K_STEEL, RHO_C = 45.0, 7850.0 * 480.0
"""Conductivity, W/(m·K), and heat capacity, J/(m³·K), of plain steel (common handbook values)."""
Ends = Literal["insulated", "casting"]
MODES = 200
EFFICIENCY = {"wire": 0.8, "stick": 0.8, "tig": 0.6}
"""Thermal efficiency by process (EN 1011-1, from memory)."""


def heat_input(process: str, volts: float, amps: float, speed: float) -> float:
    """Heat that goes into a length of weld, J/m: η·V·I/v; ``volts`` and ``amps`` of the arc, ``speed`` of
    travel m/s. Raises ``KeyError`` for a ``process``
    that is not known and ``ZeroDivisionError`` for no speed. Source: EN 1011-1.

    >>> round(heat_input("wire", 25.0, 200.0, 0.005) / 1e6, 3)
    0.8
    """
    return EFFICIENCY[process] * volts * amps / speed


@dataclass(frozen=True)
class Fin:
    """A tube as a fin: ``length`` m with x from its inner end, ``area`` of the section m², ``round`` the wetted
    perimeter m, ``h`` W/(m²·K) to the air; the outer end is insulated, ``inner`` is insulated too or held by the
    casting. Temperatures are over the air's, K.
    """

    length: float
    area: float
    round: float
    h: float
    inner: Ends = "casting"
    modes: int = MODES

    def __post_init__(self) -> None:
        n = np.arange(self.modes, dtype=np.float64)
        waves = (n + 0.5 if self.inner == "casting" else n) * math.pi / self.length
        object.__setattr__(self, "_waves", waves)
        capacity = RHO_C * self.area
        object.__setattr__(self, "decay", K_STEEL / RHO_C * waves**2 + self.h * self.round / capacity)

    decay: Array = None  # type: ignore[assignment]  # made from the others
    """Of each mode, 1/s."""

    def at(self, x: Array | float) -> Array:
        """Shape of every mode at places: shape (places, modes)."""
        waves: Array = self._waves  # type: ignore[attr-defined]
        turn = np.multiply.outer(np.asarray(x, dtype=np.float64), waves)
        return np.sin(turn) if self.inner == "casting" else np.cos(turn)

    def over(self, a: float, b: float) -> Array:
        """Mean of every mode's shape between two places: shape (modes,)."""
        waves: Array = self._waves  # type: ignore[attr-defined]
        half = 0.5 * (b - a) * waves
        return self.at(0.5 * (a + b)) * np.sinc(half / math.pi)

    def source(self, a: float, b: float) -> Array:
        """What one watt spread over ``a`` to ``b`` drives each mode with, K/s."""
        norm = np.full(self.modes, 0.5 * self.length)
        if self.inner == "insulated":
            norm[0] = self.length
        return self.over(a, b) / (norm * RHO_C * self.area)

    def later(self, state: Array, seconds: float) -> Array:
        """The modes' amplitudes after a time without heat."""
        return state * np.exp(-self.decay * seconds)

    def welded(self, state: Array, a: float, b: float, watts: float, seconds: float) -> Array:
        """The modes' amplitudes at the end of a bead over ``a`` to ``b`` that gave ``watts`` for ``seconds``."""
        grown = np.where(self.decay > 0, -np.expm1(-self.decay * seconds) / np.maximum(self.decay, 1e-300), seconds)
        return self.later(state, seconds) + watts * self.source(a, b) * grown

    def energy(self, state: Array) -> float:
        """Heat stored in the tube over the air's temperature, J."""
        return float(RHO_C * self.area * self.length * (self.over(0.0, self.length) @ state))


def cool_for(fin: Fin, state: Array, shape: Array, limit: float, most: float = 7200.0) -> float:
    """Time, s, until a place (its ``shape`` over the modes) is no warmer than ``limit`` K over the air; 0 where it is
    now, ``most`` where it takes longer. ``fin`` with the amplitudes ``state`` of its modes. Source: halving.

    >>> fin = Fin(0.5, 1.4e-3, 0.24, 15.0); at = fin.over(0.30, 0.345)
    >>> cool_for(fin, 0.0 * at, at, 60.0), round(cool_for(fin, fin.welded(0.0 * at, 0.30, 0.345, 3000.0, 7.5), at, 60.0))
    (0.0, 14)
    """
    if float(shape @ state) <= limit:
        return 0.0
    low, high = 0.0, 15.0
    while float(shape @ fin.later(state, high)) > limit:
        low, high = high, 2.0 * high
        if low >= most:
            return most
    for _ in range(24):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if float(shape @ fin.later(state, middle)) > limit else (low, middle)
    return high
