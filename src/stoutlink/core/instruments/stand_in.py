"""Simulated instruments on a pseudo-terminal: four axle scales, angle finder, caliper, and the bench's indicator, gap
gauge, torque wrench and pressure gauge.

They speak the protocol of :mod:`.protocol` with noise, settling, slow drift, a zero button and a plug that can be
pulled. What they show is set by :meth:`StandIn.put`; a real device would sit at another device path and nothing else
would change.
"""

from __future__ import annotations

import contextlib
import math
import os
import pty
import random
import time
import tty
from dataclasses import dataclass, field

from stoutlink.core.instruments.protocol import LONGEST, Flag, Lines, Sample, Unit, line_of, reading_line

CHANNELS = {
    "scales": ("FL", "FR", "RL", "RR"), "angle": ("A",), "caliper": ("C",), "indicator": ("D",), "feeler": ("F",), "wrench": ("T",), "gauge": ("P",),
}  # fmt: skip
UNITS: dict[str, Unit] = {
    "scales": "kg", "angle": "deg", "caliper": "mm", "indicator": "mm", "feeler": "mm", "wrench": "Nm", "gauge": "kPa",
}  # fmt: skip
NAMES = {
    "scales": "four axle scales, simulated",
    "angle": "digital angle finder, simulated",
    "caliper": "digital caliper, simulated",
    "indicator": "dial indicator, simulated",
    "feeler": "gap gauge, simulated",
    "wrench": "torque wrench, simulated",
    "gauge": "pressure gauge, simulated",
}
NOISE = {
    "scales": 0.25,
    "angle": 0.02,
    "caliper": 0.008,
    "indicator": 0.0015,
    "feeler": 0.006,
    "wrench": 0.15,
    "gauge": 0.6,
}
DRIFT = {
    "scales": 0.004, "angle": 0.0004, "caliper": 0.0002, "indicator": 0.0001, "feeler": 0.0001, "wrench": 0.005, "gauge": 0.02,
}  # fmt: skip
"""Random walk of the zero, unit per square root of a second."""
MOST = {
    "scales": 1500.0, "angle": 90.0, "caliper": 1000.0, "indicator": 12.0, "feeler": 3.0, "wrench": 600.0, "gauge": 20000.0,
}  # fmt: skip
SETTLING = 0.25
"""Time constant, s, with which a changed load is followed."""


@dataclass
class _Channel:
    target: float = 0.0
    shown: float = 0.0
    zero: float = 0.0
    drift: float = 0.0


@dataclass
class StandIn:
    """One simulated instrument. ``kind`` is one of :data:`CHANNELS`; ``rate`` readings a second on each channel;
    ``seed`` fixes the noise.

    ``path`` is the device to open while it is plugged in.
    """

    kind: str
    rate: float = 12.0
    seed: int = 1
    name: str = ""
    path: str = ""
    _channels: dict[str, _Channel] = field(default_factory=dict)
    _lines: Lines = field(default_factory=Lines)
    _last: float = 0.0
    _master: int = -1
    _slave: int = -1

    def __post_init__(self) -> None:
        self.unit = UNITS[self.kind]
        self.name = self.name or NAMES[self.kind]
        self._channels = {c: _Channel() for c in CHANNELS[self.kind]}
        self._random = random.Random(self.seed)

    def plug_in(self) -> str:
        """Make the pseudo-terminal; returns the device path. Does nothing when plugged in already. It streams as
        :meth:`tick` is called.
        """
        if self._master >= 0:
            return self.path
        self._master, self._slave = pty.openpty()
        tty.setraw(self._slave)
        os.set_blocking(self._master, False)
        self.path = os.ttyname(self._slave)
        self._lines, self._last = Lines(), time.monotonic()
        return self.path

    def unplug(self) -> None:
        """Pull the plug: the device goes away, whoever reads it finds the line dead."""
        for handle in (self._slave, self._master):
            if handle >= 0:
                with contextlib.suppress(OSError):
                    os.close(handle)
        self._master = self._slave = -1
        self.path = ""

    def put(self, values: dict[str, float]) -> None:
        """Put loads (kg) on the scales, hold the angle finder at an angle (degrees), open caliper, indicator or gap gauge
        (mm), pull at the wrench (N·m), put pressure on the gauge (kPa), by channel."""
        for channel, value in values.items():
            self._channels[channel].target = value

    def zero(self, channel: str | None = None) -> None:
        """The zero button: what is shown now becomes 0, on one channel or all."""
        for name, one in self._channels.items():
            if channel in (None, name):
                one.zero = one.shown + one.drift

    def sample(self, channel: str, elapsed: float) -> Sample:
        """The next reading of a channel, ``elapsed`` seconds after the last."""
        one = self._channels[channel]
        follow = 1.0 - math.exp(-elapsed / SETTLING)
        one.shown += (one.target - one.shown) * follow
        one.drift += self._random.gauss(0.0, DRIFT[self.kind] * math.sqrt(elapsed))
        moving = abs(one.target - one.shown) > 4 * NOISE[self.kind]
        value = one.shown + one.drift - one.zero + self._random.gauss(0.0, NOISE[self.kind])
        flag: Flag = "over" if abs(one.shown) > MOST[self.kind] else "moving" if moving else "steady"
        return Sample(channel, value, self.unit, flag)

    def answer(self, command: str) -> bytes:
        """What the instrument says to a command line."""
        word, _, channel = command.strip().partition(" ")
        if word == "?":
            return line_of(f"I {self.kind} {self.name}")
        if word == "Z" and (not channel or channel in self._channels):
            self.zero(channel or None)
            return line_of("K")
        return line_of(f"E unknown command {command.strip()[:20]}")

    def tick(self) -> None:
        """Do what is due: answer commands, send the next readings. Whoever plugged it in calls this many times a
        second.

        There is no thread behind it: nothing of a window is ever touched from another one.
        """
        if self._master < 0:
            return
        with contextlib.suppress(OSError):  # nobody has written
            data = os.read(self._master, 4 * LONGEST)
            for line in self._lines.feed(data.replace(b"\r", b"\n")):
                self._send(self.answer(line.decode("ascii", "replace")))
        now = time.monotonic()
        elapsed = now - self._last
        if elapsed >= 1.0 / self.rate:
            self._last = now
            for channel in self._channels:
                self._send(reading_line(self.sample(channel, elapsed)))

    def _send(self, data: bytes) -> None:
        with contextlib.suppress(OSError):  # nobody reads: the buffer is full and readings are lost, as on a real line
            os.write(self._master, data)
