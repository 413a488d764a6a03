"""Instruments gone mad in the real window: garbage, half lines, floods, wrong units, other channels, twisted digits, silence, a pulled plug,
all mixed with true readings. Never may a false number be kept, the window held, or more than a sentence said; and each must connect again.
"""

from __future__ import annotations

import os
import random
import time
from dataclasses import dataclass, field
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from stoutlink.app.panels.instrument_desk import KINDS, SIMULATED
from stoutlink.app.shell.window import MainWindow
from stoutlink.core.document.paths import get_value
from stoutlink.core.instruments.port import Port
from stoutlink.core.instruments.protocol import TO_SI, InstrumentError, Sample, line_of, reading_line
from stoutlink.core.instruments.stand_in import NOISE, UNITS, StandIn

TRUE = {
    "scales": 512.4,
    "angle": 7.2,
    "caliper": 44.4,
    "indicator": 0.183,
    "feeler": 0.254,
    "wrench": 94.0,
    "gauge": 310.0,
}
PLACES = {
    "scales": ("rig.weight.scales.rear_left_kg", "RL"), "angle": ("layouts.rear-a.pinion_up_rad", "A"), "caliper": ("layouts.rear-a.links.upper_left.tube_od_m", "C"),
    "indicator": ("gears.+x", "D"), "feeler": ("cases.+x", "F"), "wrench": ("fasteners.+x", "T"), "gauge": ("brakes.+x", "P"),
}  # fmt: skip
"""A field each can fill, or a place for a reading the project does not hold yet; and the channel it is on."""
UNITS_ALL = ("kg", "deg", "mm", "Nm", "kPa")
HELD_S = 0.3


class Mad(StandIn):
    """A stand-in that sends what it has been given, piece by piece."""

    pieces: list[bytes]

    def tick(self) -> None:
        for _ in range(12):
            if self.pieces:
                self._send(self.pieces.pop(0))


@dataclass
class Went:
    """What came of it."""

    tried: int = 0
    kept: int = 0
    """Readings that were taken, all of them true."""
    lost: int = 0
    longest_s: float = 0.0
    """The longest the window was held, in its own CPU time."""
    faults: list[str] = field(default_factory=list)


def _true(kind: str, rng: random.Random) -> bytes:
    channel = PLACES[kind][1]
    value = TRUE[kind] + rng.gauss(0.0, NOISE[kind])
    return reading_line(Sample(channel, value, UNITS[kind], "steady"))


def madness(kind: str, rng: random.Random) -> list[bytes]:
    """What a mad instrument of a kind sends for a while: each piece is one write."""
    out: list[bytes] = []
    for _ in range(rng.randrange(2, 7)):
        what = rng.randrange(11)
        if what <= 2:
            out += [_true(kind, rng) for _ in range(rng.choice((3, 20, 60)))]
        elif what == 3:
            out += [rng.randbytes(rng.choice((1, 40, 900))) for _ in range(8)]
        elif what == 4:
            out += [_true(kind, rng)[: rng.randrange(1, 20)] for _ in range(20)]
        elif what == 5:  # digits lost or doubled in the middle of the line
            for _ in range(40):
                line = bytearray(_true(kind, rng))
                at = rng.randrange(5, len(line) - 6)
                if rng.random() < 0.5:
                    del line[at : at + 2]
                else:
                    line[at:at] = line[at : at + 2]
                out.append(bytes(line))
        elif what == 6:  # two bits that the check does not see
            for _ in range(40):
                line, bit = bytearray(_true(kind, rng)), 1 << rng.randrange(4)
                for at in rng.sample(range(5, 11), 2):
                    line[at] ^= bit
                out.append(bytes(line))
        elif what == 7 and rng.random() < 0.4:
            out += [line_of(f"R {PLACES[kind][1]} {TRUE[kind]:.3f} {rng.choice(UNITS_ALL)} S") for _ in range(40)]
        elif what == 8:
            out += [line_of(f"R C{n} 1.000 {UNITS[kind]} S") for n in range(60)]
        elif what == 9:
            out += [b"".join(_true(kind, rng) for _ in range(60)) for _ in range(10)]  # a flood
        else:
            out += [
                line_of("E out of order"),
                b"\n\n\r\n",
                line_of("K"),
                line_of(f"I {rng.choice(KINDS)} another one"),
                b"R" * 700,
            ]
    return out


def go_mad(window: MainWindow, seed: int, count: int) -> Went:
    """So many mad instruments, one after the other, on one window."""
    desk, w = window.instruments, window.workspace
    out, rng = Went(), random.Random(seed)
    said: list[str] = []
    measured: list[tuple[str, float]] = []
    w.said.connect(lambda text, _bad: said.append(text))
    desk.measured.connect(lambda place, mean, _spread: measured.append((place, mean)))
    beat = [time.thread_time()]
    desk.patience_ms = 250
    desk._ages.setInterval(60)
    heart = QTimer()

    def listen() -> None:
        now = time.thread_time()
        out.longest_s = max(out.longest_s, now - beat[0])
        beat[0] = now

    heart.timeout.connect(listen)
    heart.start(5)
    for n in range(count):
        kind = rng.choice(KINDS)
        place, channel = PLACES[kind]
        before = None if "+" in place else get_value(w.project, place)
        measured.clear()
        said.clear()
        if not desk.connect_to(kind, SIMULATED):
            out.faults.append(f"{n}: {kind} does not connect: {said}")
            continue
        line = desk.lines[kind]
        made = Mad(kind)
        made.pieces = madness(kind, rng)
        if rng.random() < 0.4:
            made.pieces += [_true(kind, rng) for _ in range(80)]
        assert line.stand_in is not None
        made._master, made._slave = line.stand_in._master, line.stand_in._slave
        line.stand_in = made
        desk.take(place, (channel,))
        pulled = rng.random() < 0.3
        until = time.monotonic() + rng.uniform(0.3, 1.5)
        while time.monotonic() < until and kind in desk.lines:
            QApplication.processEvents()
            if desk.taking is None and not made.pieces:
                break
            time.sleep(0.001)
        if pulled and kind in desk.lines:
            made.unplug()
            until = time.monotonic() + 1.0
            while kind in desk.lines and time.monotonic() < until:
                QApplication.processEvents()
                time.sleep(0.001)
            if kind in desk.lines:
                out.faults.append(f"{n}: {kind}: a pulled plug is not noticed")
        desk.stop_taking()
        out.lost += kind not in desk.lines
        desk.disconnect_from(kind)
        now = None if "+" in place else get_value(w.project, place)
        found = [v for _, v in measured] if "+" in place else [now] if now != before else []
        for value in found:
            true = TRUE[kind] * TO_SI[UNITS[kind]]
            if value is None or abs(value - true) > 3.0 * NOISE[kind] * TO_SI[UNITS[kind]]:
                out.faults.append(f"{n}: {kind} kept {value}, true is {true}")
            out.kept += 1
        for text in said:
            if len(text) > 400 or "\n" in text or "Traceback" in text:
                out.faults.append(f"{n}: says {text}")
        while w.session.undo_label:
            w.session.undo()
        out.tried += 1
    heart.stop()
    if out.longest_s > HELD_S:
        out.faults.append(f"the window was held for {out.longest_s:.2f} s")
    return out


def odd_devices(folder: Path) -> list[str]:
    """Paths that are no instrument: each is one sentence, at once."""
    (folder / "pipe").unlink(missing_ok=True)
    os.mkfifo(folder / "pipe")
    (folder / "plain").write_bytes(b"x")
    (folder / "loop").symlink_to(folder / "loop")
    faults = []
    odd = (
        str(folder),
        str(folder / "pipe"),
        str(folder / "plain"),
        str(folder / "loop"),
        str(folder / "none"),
        "/dev/null",
        "/dev/zero",
        "",
        "a\0b",
        "x" * 5000,
    )
    for path in odd:
        began = time.monotonic()
        try:
            Port(path).close()
            faults.append(f"{path[:60]!r} opens")
        except InstrumentError as why:
            if len(why.sentence) > 300 or "\n" in why.sentence:
                faults.append(f"{path[:60]!r}: {why}")
        except Exception as why:
            faults.append(f"{path[:60]!r}: {type(why).__name__}: {why}")
        if time.monotonic() - began > 1.0:
            faults.append(f"{path[:60]!r} holds for {time.monotonic() - began:.1f} s")
    return faults
