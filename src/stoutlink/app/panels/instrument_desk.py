"""Instruments in the window: lines to each, live values, and taking a reading into a field."""

from __future__ import annotations

import json
import time
from dataclasses import dataclass, field
from pathlib import Path

import platformdirs
from PyQt6.QtCore import QObject, QSocketNotifier, QTimer, pyqtSignal

from stoutlink.app.desk.not_taken import NEW
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.document.paths import field_info
from stoutlink.core.editing.edits import SetNumber
from stoutlink.core.errors import StoutError
from stoutlink.core.instruments.averaging import Averager, Taken
from stoutlink.core.instruments.port import BAUDS, SILENT, Port
from stoutlink.core.instruments.protocol import Answer, Identity, InstrumentError, Sample
from stoutlink.core.instruments.stand_in import CHANNELS, UNITS, StandIn
from stoutlink.core.quantity.shown import show
from stoutlink.core.storage.own_files import read_own, write_own

KINDS = ("scales", "angle", "caliper", "indicator", "feeler", "wrench", "gauge")
KIND_WORDS = {
    "scales": "scales", "angle": "angle finder", "caliper": "caliper", "indicator": "dial indicator", "feeler": "gap gauge",
    "wrench": "torque wrench", "gauge": "pressure gauge",
}  # fmt: skip
SHOWS = {
    "angle": {"A": 2.4}, "caliper": {"C": 28.62}, "indicator": {"D": 0.183}, "feeler": {"F": 0.254}, "wrench": {"T": 94.0}, "gauge": {"P": 12.0},
}  # fmt: skip
"""What a simulated one shows until it is put elsewhere, in its own unit; scales carry the rig."""
CHANNEL_KIND = {channel: kind for kind, channels in CHANNELS.items() for channel in channels}
SIMULATED = "simulated"
TICK_MS, AGE_MS = 10, 500
"""How often the simulated instruments are given time."""


@dataclass
class Line:
    """One instrument: its port, who it is, and the newest value of each channel."""

    kind: str
    device: str
    port: Port | None = None
    stand_in: StandIn | None = None
    name: str = ""
    values: dict[str, Sample] = field(default_factory=dict)
    """The newest reading of each channel, for as long as it is fresh."""
    heard: dict[str, float] = field(default_factory=dict)
    """When it came, s of the steady clock."""
    trouble: str = ""
    """What is wrong with what it sends, in a word or two; empty when nothing is."""
    garbled: int = 0
    """Lines that could not be read when that was last looked at."""
    notifier: QSocketNotifier | None = None


@dataclass
class _Taking:
    path: str
    averagers: dict[str, Averager]
    garbled: int
    """Garbled lines before it began."""
    taken: dict[str, Taken] = field(default_factory=dict)


class InstrumentDesk(QObject):
    """Owns the lines. ``changed`` when a value or a state changed, ``taken`` with the path a reading went into."""

    changed = pyqtSignal()
    taken = pyqtSignal(str)
    lost = pyqtSignal(str)
    measured = pyqtSignal(str, float, float)
    """A reading for something the project does not hold yet (its place has a ``+``): place, mean and scatter in SI."""

    def __init__(self, workspace: Workspace, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self.lines: dict[str, Line] = {}
        self._taking: _Taking | None = None
        self.patience_ms = int(SILENT * 1000)
        self._ticks = QTimer(self)
        self._ticks.setInterval(TICK_MS)
        self._ticks.timeout.connect(self._tick)
        self._ages = QTimer(self)
        self._ages.setInterval(AGE_MS)
        self._ages.timeout.connect(self.look_at_ages)
        self._watch = QTimer(self)
        self._watch.setSingleShot(True)
        self._watch.timeout.connect(self._silent)
        workspace.take_reading.connect(self.take)
        workspace.stop_reading.connect(self.stop_taking)
        self.settings = _read_settings()

    # Connecting

    def connect_to(self, kind: str, device: str, baud: int = 9600) -> bool:
        """Open a line; ``simulated`` makes the stand-in. ``False`` with a message when it cannot be opened."""
        self.disconnect_from(kind)
        line = Line(kind, device)
        try:
            if device == SIMULATED:
                line.stand_in = StandIn(kind)
                line.port = Port(line.stand_in.plug_in(), baud)
                line.stand_in.put(self.loads() if kind == "scales" else SHOWS[kind])
            else:
                line.port = Port(device, baud)
            line.port.say("?")
        except (InstrumentError, OSError) as why:
            if line.stand_in is not None:
                line.stand_in.unplug()
            words = why.words if isinstance(why, InstrumentError) else f"{device} cannot be opened."
            self._workspace.said.emit(words, True)
            return False
        line.notifier = QSocketNotifier(line.port.fileno(), QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]
        line.notifier.activated.connect(lambda *_: self._read(line))
        self.lines[kind] = line
        self._ages.start()
        if line.stand_in is not None:
            self._ticks.start()
        self.settings[kind] = {"device": device, "baud": baud}
        _write_settings(self.settings)
        self._workspace.said.emit(f"{KIND_WORDS[kind].capitalize()} connected: {device}", False)
        self.changed.emit()
        return True

    def disconnect_from(self, kind: str) -> None:
        """Close a line."""
        line = self.lines.pop(kind, None)
        if line is None:
            return
        if line.notifier is not None:
            line.notifier.setEnabled(False)
            line.notifier.deleteLater()
        if line.port is not None:
            line.port.close()
        if line.stand_in is not None:
            line.stand_in.unplug()
        if self._taking is not None and any(CHANNEL_KIND[c] == kind for c in self._taking.averagers):
            self._taking = None
            self._watch.stop()
        self.changed.emit()

    def _tick(self) -> None:
        for line in self.lines.values():
            if line.stand_in is not None:
                line.stand_in.tick()

    def close(self) -> None:
        """Close all lines."""
        self._ticks.stop()
        self._ages.stop()
        for kind in tuple(self.lines):
            self.disconnect_from(kind)

    def look_at_ages(self) -> None:
        """A reading that is not renewed is not shown as if it were; garbled lines are called that."""
        now = time.monotonic()
        for line in self.lines.values():
            old = [c for c, at in line.heard.items() if now - at > self.patience_ms / 1000.0]
            garbled = line.port.garbled if line.port is not None else 0
            trouble = line.trouble
            if old and not (set(line.heard) - set(old)):
                trouble = "garbled" if garbled > line.garbled else "silent"
            for channel in old:
                line.values.pop(channel, None)
                line.heard.pop(channel, None)
            if not line.heard and not old and garbled > line.garbled:
                trouble = "garbled"
            if old or trouble != line.trouble:
                line.trouble = trouble
                self.changed.emit()
            line.garbled = garbled

    def zero(self, kind: str) -> None:
        """Press the instrument's zero button."""
        line = self.lines.get(kind)
        if line is None or line.port is None:
            return
        try:
            line.port.say("Z")
        except InstrumentError as why:
            self._gone(line, why)

    def loads(self) -> dict[str, float]:
        """What the simulated scales carry: the rig in force, standing level, its halves a little unlike as in life."""
        rig = self._workspace.rig
        front = rig.mass_kg * rig.cg_ahead_of_rear_m / rig.wheelbase_m
        rear = rig.mass_kg - front
        return {"FL": 0.507 * front, "FR": 0.493 * front, "RL": 0.496 * rear, "RR": 0.504 * rear}

    # Reading

    @property
    def taking(self) -> str | None:
        """Path of the field a reading is being taken for."""
        return self._taking.path if self._taking else None

    @property
    def progress(self) -> float:
        """How far the reading being taken has come, 0 to 1."""
        if self._taking is None:
            return 0.0
        return min(1.0 if c in self._taking.taken else a.progress for c, a in self._taking.averagers.items())

    def take(self, path: str, channels: tuple[str, ...]) -> None:
        """Average the channels until they are steady and put their sum into the field at ``path``."""
        missing = {CHANNEL_KIND[c] for c in channels} - set(self.lines)
        if missing:
            words = " and ".join(KIND_WORDS[k] for k in sorted(missing))
            self._workspace.said.emit(f"No {words} connected. Connect it below the drawing, or type the number.", True)
            return
        port = self.lines[CHANNEL_KIND[channels[0]]].port
        self._taking = _Taking(path, {c: Averager(c) for c in channels}, port.garbled if port is not None else 0)
        self._watch.start(self.patience_ms)
        self._workspace.said.emit("Taking a reading: waiting until it is steady (Esc stops)", False)
        self.changed.emit()

    def stop_taking(self) -> None:
        """Give up the reading being taken; nothing has changed."""
        if self._taking is not None:
            self._taking = None
            self._watch.stop()
            self._workspace.said.emit("Reading stopped; nothing has changed", False)
            self.changed.emit()

    def _read(self, line: Line) -> None:
        if line.port is None:
            return
        try:
            messages = line.port.read()
        except InstrumentError as why:
            self._gone(line, why)
            return
        for one in messages:
            if isinstance(one, Sample):
                if one.channel not in CHANNELS[line.kind]:
                    continue  # nothing here can be filled from it
                if one.unit != UNITS[line.kind]:
                    self._gone(
                        line,
                        InstrumentError(
                            "I103",
                            f"They sent {one.value:g} {one.unit}, where {UNITS[line.kind]} is read.",
                            "Set the instrument's unit, or connect the right one.",
                        ),
                    )
                    return
                line.values[one.channel], line.heard[one.channel], line.trouble = one, time.monotonic(), ""
                self._add(one)
            elif isinstance(one, Identity):
                if one.kind != line.kind:
                    self._gone(
                        line,
                        InstrumentError(
                            "I104",
                            f"At {line.device} there is “{one.name}”, which is another kind of instrument.",
                            "Connect it where it belongs.",
                        ),
                    )
                    return
                line.name = one.name
            elif isinstance(one, Answer) and not one.done:
                self._workspace.said.emit(f"The {KIND_WORDS[line.kind]} refused: {one.words}", True)
        if messages:
            self.changed.emit()

    def _add(self, sample: Sample) -> None:
        now = self._taking
        if now is None or sample.channel not in now.averagers:
            return
        self._watch.start(self.patience_ms)
        if sample.channel in now.taken:
            return
        got = now.averagers[sample.channel].add(sample)
        if got is not None:
            now.taken[sample.channel] = got
            if len(now.taken) == len(now.averagers):
                self._finish(now)

    def _finish(self, now: _Taking) -> None:
        self._taking = None
        self._watch.stop()
        mean = sum(t.mean for t in now.taken.values())
        spread = sum(t.spread**2 for t in now.taken.values()) ** 0.5
        count = min(t.count for t in now.taken.values())
        if f".{NEW}" in now.path:
            self.measured.emit(now.path, mean, spread)
            self.changed.emit()
            return
        try:
            info = field_info(self._workspace.project, now.path)
        except KeyError:
            self._workspace.said.emit("What the reading was taken for is gone; nothing has changed", True)
            self.changed.emit()
            return
        done = self._workspace.do(SetNumber(now.path, mean, "", "measured", info.title, None, count, spread))
        if done:
            unit = self._workspace.unit
            text, scatter = show(mean, info.kind, unit, decimals=1), show(spread, info.kind, unit, decimals=2)
            self._workspace.said.emit(f"{info.title}: {text}, mean of {count} readings, scatter {scatter}", False)
            self.taken.emit(now.path)
        self.changed.emit()

    def _silent(self) -> None:
        now = self._taking
        if now is None:
            return
        kind = CHANNEL_KIND[next(iter(now.averagers))]
        line = self.lines.get(kind)
        if line is not None:
            garbled = line.port is not None and line.port.garbled > now.garbled
            self._gone(
                line,
                InstrumentError(
                    "I105",
                    f"What the {KIND_WORDS[kind]} send is garbled.",
                    "A wrong baud rate or a loose plug does that.",
                )
                if garbled
                else InstrumentError(
                    "I112",
                    f"The {KIND_WORDS[kind]} went silent.",
                    "Nothing typed has changed. Check the plug and take the reading again.",
                ),
            )

    def _gone(self, line: Line, why: StoutError) -> None:
        """An instrument was lost: its line is closed, what was typed stays."""
        taking = self._taking
        self.disconnect_from(line.kind)
        tail = " The field keeps what it had." if taking is not None else ""
        self._workspace.said.emit(
            f"{KIND_WORDS[line.kind].capitalize()}: {why.sentence}{tail} {why.hint}".strip(), True
        )
        self.lost.emit(line.kind)


def parse_device(text: str) -> tuple[str, int] | None:
    """A device path with an optional baud, such as ``/dev/ttyUSB0 9600``; ``None`` when it is neither."""
    parts = text.split()
    if len(parts) == 1:
        return parts[0], 9600
    if len(parts) == 2 and parts[1].isdigit() and int(parts[1]) in BAUDS:
        return parts[0], int(parts[1])
    return None


def _settings_file() -> Path:
    return platformdirs.user_config_path("stout-link") / "instruments.json"


def _read_settings() -> dict[str, dict[str, object]]:
    try:
        data = json.loads(read_own(_settings_file()) or b"{}")
        return {k: v for k, v in data.items() if k in KINDS and isinstance(v, dict)}
    except (ValueError, AttributeError, RecursionError):
        return {}


def _write_settings(settings: dict[str, dict[str, object]]) -> None:
    write_own(json.dumps(settings).encode(), _settings_file())
