"""A tyre as a body: a cylinder with rounded shoulders.

Source: support function of a cylinder.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.geometry.convex import Drum

Array = NDArray[np.float64]
SHOULDER = 0.035
"""Radius of the shoulders, m (estimate), at most a quarter of the width."""


class Tyre(Struct, frozen=True):
    """A tyre's size, m: free radius and section width."""

    radius: float
    width: float

    @property
    def shoulder(self) -> float:
        """Radius of its rounded shoulders."""
        return min(SHOULDER, 0.25 * self.width)

    def drum(self, centre: Array, spin: Array) -> Drum:
        """The tyre as a convex body at centres and unit spin axes ``(3, n)``."""
        return Drum(centre, spin, self.radius - self.shoulder, 0.5 * self.width - self.shoulder, self.shoulder)

    def bounds(self, spin: Array) -> Array:
        """Half the size of the upright box around it, ``(3, n)``."""
        inner, half = self.radius - self.shoulder, 0.5 * self.width - self.shoulder
        return np.asarray(inner * np.sqrt(np.maximum(0.0, 1.0 - spin * spin)) + half * np.abs(spin) + self.shoulder)
