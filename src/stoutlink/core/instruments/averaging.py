"""Averaging an instrument until it is steady."""

from __future__ import annotations

import math
from collections import deque
from itertools import pairwise

from msgspec import Struct

from stoutlink.core.instruments.protocol import TO_SI, Sample

WINDOW = 16
"""Readings that must agree."""
STEADY = {"kg": (0.8, 0.001), "deg": (0.06, 0.0), "mm": (0.03, 0.0), "Nm": (0.6, 0.004), "kPa": (2.5, 0.003)}
STEADY_INDICATOR = (0.006, 0.0)
"""Of a dial indicator, mm: it reads finer than a caliper."""
"""Largest standard deviation of single readings that counts as steady: absolute, and as a part of the reading."""
DRIFTING = 1.2
"""The halves of the window may differ by this many times the noise (2 σ of that difference for pure noise)."""


class Taken(Struct, frozen=True):
    """A reading taken: mean and scatter (standard deviation of single readings) in SI (kg, rad, m, N·m or Pa), how many, and 1 σ
    of the mean.
    """

    channel: str
    mean: float
    spread: float
    count: int

    @property
    def sigma(self) -> float:
        """Scatter over √n: what repeating can tell; the instrument's own accuracy comes on top."""
        return self.spread / math.sqrt(self.count)


class Averager:
    """Collects one channel's readings until the last sixteen agree, do not drift, and agree with the sixteen before."""

    def __init__(self, channel: str) -> None:
        self.channel = channel
        self._last: deque[Sample] = deque(maxlen=2 * WINDOW)
        self.seen = 0

    def add(self, sample: Sample) -> Taken | None:
        """Take one more reading; the result once it is steady, else ``None``. Other channels are passed over.

        A load off the scale starts over. Steady: no reading of the window is flagged moving, their standard deviation
        is small, and the two halves of the window differ by no more than noise would make them (the noise is taken
        from successive differences, which a slow settling does not touch), and its mean is that of the sixteen
        readings before it within 2 σ of their difference: what still creeps is waited for.
        """
        if sample.channel != self.channel:
            return None
        self.seen += 1
        if sample.flag == "over":
            self._last.clear()
            return None
        self._last.append(sample)
        if len(self._last) < 2 * WINDOW:
            return None
        window = list(self._last)[WINDOW:]
        values = [s.value for s in window]
        mean = math.fsum(values) / WINDOW
        spread = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (WINDOW - 1))
        absolute, part = STEADY_INDICATOR if sample.channel == "D" else STEADY[sample.unit]
        limit = max(absolute, part * abs(mean))
        half = WINDOW // 2
        drift = abs(math.fsum(values[half:]) - math.fsum(values[:half])) / half
        noise = math.sqrt(math.fsum((b - a) ** 2 for a, b in pairwise(values)) / (2 * (WINDOW - 1)))
        if spread > limit or drift > DRIFTING * noise + 1e-3 or any(s.flag == "moving" for s in window):
            return None
        before = math.fsum(s.value for s in list(self._last)[:WINDOW]) / WINDOW
        if abs(mean - before) > 2.0 * noise * math.sqrt(2.0 / WINDOW) + 1e-3:
            return None
        to_si = TO_SI[sample.unit]
        return Taken(self.channel, mean * to_si, spread * to_si, WINDOW)

    @property
    def progress(self) -> float:
        """Part of both windows filled, 0 to 1."""
        return len(self._last) / (2 * WINDOW)
