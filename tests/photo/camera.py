"""A camera of known place and lens, written apart from what is tested: a pinhole with Brown's distortion."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class KnownCamera:
    """Stands at ``eye``, looks at ``target`` (vehicle axes, m), rolled by ``roll``; ``focal`` px; k1, k2 in focal lengths."""

    eye: tuple[float, float, float]
    target: tuple[float, float, float] = (1.3, -0.45, 0.6)
    focal: float = 3200.0
    k1: float = 0.0
    k2: float = 0.0
    roll: float = 0.0
    size: tuple[int, int] = (4000, 3000)

    @property
    def focal_35mm(self) -> float:
        """As a telephone states it: by the diagonal."""
        return self.focal * float(np.hypot(36.0, 24.0)) / float(np.hypot(*self.size))

    def shoot(self, points: Array) -> Array:
        """Pixels right and down of points ``(n, 3)``."""
        ahead = np.array(self.target) - np.array(self.eye)
        ahead /= np.linalg.norm(ahead)
        right = np.cross(ahead, [0.0, 0.0, 1.0])
        right /= np.linalg.norm(right)
        down = np.cross(ahead, right)
        c, s = np.cos(self.roll), np.sin(self.roll)
        x, y, z = ((points - np.array(self.eye)) @ np.array([c * right + s * down, c * down - s * right, ahead]).T).T
        a, b = x / z, y / z
        r2 = a**2 + b**2
        bent = 1.0 + self.k1 * r2 + self.k2 * r2**2
        return np.column_stack([0.5 * self.size[0] + self.focal * a * bent, 0.5 * self.size[1] + self.focal * b * bent])


def on_side(flat: Array, y: float = -0.45) -> Array:
    """Places ``(n, 2)`` (x, z) of the plane at ``y`` in vehicle axes."""
    return np.column_stack([flat[:, 0], np.full(len(flat), y), flat[:, 1]])
