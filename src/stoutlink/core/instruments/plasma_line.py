"""Asking a plasma table what it makes of a drawing, over its line: settings, the drawing packed and in pieces, the answer."""

from __future__ import annotations

import base64
import contextlib
import subprocess
import sys
import time
import zlib
from collections.abc import Callable

from msgspec import Struct

from stoutlink.core.instruments.port import Port
from stoutlink.core.instruments.protocol import Answer, CutJob, Identity, InstrumentError, Message, Refused

PIECE = 96
PATIENCE = 20.0
"""A table that takes longer over one answer than this, s, is given up."""
MOST_REFUSED = 200
"""Things a table may refuse of one drawing; more says nothing more."""
Tell = Callable[[float], bool]


class TableSays(Struct, frozen=True):
    """What came back: the job, or what cannot be cut."""

    job: CutJob | None
    refused: tuple[str, ...]


class SimulatedTable:
    """The table that ships with the program, in a process of its own; ``path`` is its device."""

    def __init__(self) -> None:
        command = [sys.executable, "-m", "stoutlink.core.instruments.plasma_table"]
        self._process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        )
        assert self._process.stdout is not None
        self.path = self._process.stdout.readline().strip()

    def close(self) -> None:
        """Switch it off."""
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe is not None:
                with contextlib.suppress(OSError):
                    pipe.close()
        with contextlib.suppress(subprocess.TimeoutExpired):
            self._process.wait(2.0)
        if self._process.poll() is None:
            self._process.kill()
            self._process.wait()


def ask_table(
    device: str, baud: int, drawing: bytes, thickness: float, amps: float, plate: tuple[float, float], tell: Tell
) -> TableSays | None:
    """Send a drawing and hear the answer; plate ``thickness``, length and width m. ``tell`` hears how far it is; where
    it says no, ``None`` comes back. Raises :class:`InstrumentError` for a line that cannot be opened, is dead or silent,
    for another kind of instrument, and for what the table refuses as a whole.
    """
    port = Port(device, baud, write_s=2.0)
    part = 0.0

    def answer() -> Message:
        return _answer(port, lambda: tell(part))

    try:
        port.say("?")
        who = answer()
        if not isinstance(who, Identity) or who.kind != "plasma":
            name = who.name if isinstance(who, Identity) else "something else"
            raise InstrumentError(
                "I106", f"At {device} there is “{name}”, which is no plasma table.", "Connect the table's own line."
            )
        mm = [1000.0 * v for v in (thickness, *plate)]
        port.say(f"S {mm[0]:.3f} {amps:.1f} {mm[1]:.1f} {mm[2]:.1f}")
        _done(answer())
        packed = base64.b64encode(zlib.compress(drawing, 9)).decode("ascii")
        port.say(f"F {len(packed)}")
        _done(answer())
        for k in range(0, len(packed), PIECE):
            port.say(f"B {packed[k : k + PIECE]}")
            part = 0.9 * k / len(packed)
            if not tell(part):
                return None
        port.say(f"G {zlib.crc32(drawing):08X}")
        refused: list[str] = []
        until = time.monotonic() + 3.0 * PATIENCE
        while time.monotonic() < until:
            said = answer()
            if isinstance(said, CutJob):
                return TableSays(said, ())
            if isinstance(said, Refused) and len(refused) < MOST_REFUSED:
                refused.append(said.words)
            elif isinstance(said, Answer) and not said.done:
                if refused:
                    return TableSays(None, tuple(refused))
                _done(said)
        raise _silent(port)
    except _Off:
        return None
    finally:
        port.close()


class _Off(Exception):
    """Whoever asked wants no answer any more."""


def _answer(port: Port, wanted: Callable[[], bool]) -> Message:
    """The next message; raises where none comes, or where it is not wanted any more."""
    until = time.monotonic() + PATIENCE
    while time.monotonic() < until:
        if port.waiting:
            return port.waiting.pop(0)
        port.waiting += port.read()
        if not wanted():
            raise _Off
        if not port.waiting:
            time.sleep(0.005)
    raise _silent(port)


def _silent(port: Port) -> InstrumentError:
    return InstrumentError("I107", f"The plasma table at {port.device} went silent.", "Check its line and ask again.")


def _done(said: Message) -> None:
    if isinstance(said, Answer) and not said.done:
        raise InstrumentError("I108", f"The plasma table refused: {said.words}.", "Nothing was cut.")
