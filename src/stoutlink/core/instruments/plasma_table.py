"""A simulated plasma table in a process of its own: it makes a pseudo-terminal, says its path, and answers there.

It speaks the protocol of docs/instruments.md; a real table's controller behind a serial line would stand at another path.
"""

from __future__ import annotations

import base64
import binascii
import contextlib
import os
import pty
import sys
import tty
import zlib

from stoutlink.core.instruments.plasma_job import LARGEST, CannotCut, look_at
from stoutlink.core.instruments.protocol import LONGEST, Lines, line_of

NAME = "plasma table, simulated"


class PlasmaTable:
    """What the table remembers between two lines: its settings and the drawing that is coming in."""

    def __init__(self) -> None:
        self.settings: tuple[float, float, float, float] | None = None
        self.waits = 0
        self.data = ""

    def answer(self, line: str) -> list[bytes]:
        """What the table says to a line; nothing to a piece of a drawing."""
        word, _, rest = line.strip().partition(" ")
        if word == "?":
            return [line_of(f"I plasma {NAME}")]
        if word == "S":
            return self._set(rest)
        if word == "F" and rest.isdigit() and 0 < int(rest) <= 2 * LARGEST:
            self.waits, self.data = int(rest), ""
            return [line_of("K")]
        if word == "B" and len(self.data) < self.waits:
            self.data += rest.strip()
            return []
        if word == "G":
            return self._go(rest.strip())
        return [line_of(f"E unknown command {line.strip()[:20]}")]

    def _set(self, rest: str) -> list[bytes]:
        try:
            thick, amps, long, wide = (float(v) for v in rest.split())
        except ValueError:
            return [line_of("E settings are thickness, amps, plate length and width")]
        if not (0.1 <= thick <= 100 and 5 <= amps <= 1000 and 10 <= long <= 20000 and 10 <= wide <= 20000):
            return [line_of("E settings out of range")]
        self.settings = thick, amps, long, wide
        return [line_of("K")]

    def _go(self, check: str) -> list[bytes]:
        if self.settings is None:
            return [line_of("E no settings yet")]
        try:
            packed = base64.b64decode(self.data.encode("ascii", "replace"), validate=True)
            reader = zlib.decompressobj()
            drawing = reader.decompress(packed, LARGEST)
        except (binascii.Error, ValueError, zlib.error):
            return [line_of("E the drawing came in garbled")]
        if reader.unconsumed_tail or f"{zlib.crc32(drawing):08X}" != check.upper():
            return [line_of("E the drawing came in garbled")]
        thick, amps, long, wide = self.settings
        try:
            job = look_at(drawing, thick, amps, (long, wide))
        except CannotCut as why:
            plain = [w.replace("″", " in").encode("ascii", "replace").decode()[: LONGEST - 8] for w in why.why[:40]]
            return [*(line_of(f"X {w}") for w in plain), line_of(f"E {len(why.why)} refused")]
        return [line_of(f"J {job.pierces} {job.length:.1f} {job.seconds:.1f}")]


def main() -> int:
    """Serve until whoever began it closes its standard input."""
    master, slave = pty.openpty()
    tty.setraw(slave)
    print(os.ttyname(slave), flush=True)
    os.set_blocking(sys.stdin.fileno(), False)
    table, lines = PlasmaTable(), Lines()
    import select  # noqa: PLC0415 - only a process of its own waits

    while True:
        ready, _, _ = select.select([master, sys.stdin.fileno()], [], [], 1.0)
        if sys.stdin.fileno() in ready and not os.read(sys.stdin.fileno(), 64):
            return 0
        if master not in ready:
            continue
        with contextlib.suppress(OSError):
            for line in lines.feed(os.read(master, 65536).replace(b"\r", b"\n")):
                for said in table.answer(line.decode("ascii", "replace")):
                    os.write(master, said)


if __name__ == "__main__":
    sys.exit(main())
