"""The port to an instrument: a serial device by path and baud, real or simulated."""

from __future__ import annotations

import contextlib
import errno

import serial

from stoutlink.core.instruments.protocol import InstrumentError, Lines, Message, parse_line

BAUDS = (1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200)
SILENT = 3.0
"""Without a line for this long, s, an instrument counts as lost."""


class Port:
    """An open line to an instrument; never blocks. Whoever owns it polls :meth:`read` when data is there, or at
    intervals.
    """

    def __init__(self, device: str, baud: int = 9600, write_s: float = 0.1) -> None:
        """Open a device. ``write_s``: how long a command may wait for a line that takes nothing, s; a window cannot wait
        long. Raises :class:`InstrumentError` when it cannot be opened.
        """
        self.device, self.baud = device, baud
        self._lines = Lines()
        self.garbled = 0
        self.waiting: list[Message] = []
        """Messages that came in with one somebody waited for."""
        try:
            self._serial = serial.Serial(device, baud, timeout=0, write_timeout=write_s, exclusive=True)
        except (serial.SerialException, OSError, ValueError) as why:
            number = errno.EWOULDBLOCK if "exclusively" in str(why) else getattr(why, "errno", None)
            reason = {
                errno.ENOENT: "there is no such device",
                errno.EACCES: "permission denied (the dialout group may be needed)",
                errno.EBUSY: "it is busy",
                errno.EWOULDBLOCK: "another window or program has it",
            }.get(number or 0, "it does not answer as a serial device")
            raise InstrumentError(
                "I110", f"{device} cannot be opened: {reason}.", "Check the plug and the device path."
            ) from None

    def fileno(self) -> int:
        """The file descriptor, for waiting on data."""
        return int(self._serial.fileno())

    def read(self) -> list[Message]:
        """Messages that have come in. Garbled lines are counted and passed over. Raises :class:`InstrumentError` when
        the line is dead.
        """
        try:
            data = self._serial.read(4096)
        except (serial.SerialException, OSError, TypeError):
            raise InstrumentError(
                "I111",
                f"{self.device} was lost: the line is dead.",
                "Plug it in and connect again; nothing typed has changed.",
            ) from None
        out: list[Message] = []
        for line in self._lines.feed(data):
            try:
                out.append(parse_line(line))
            except InstrumentError:
                self.garbled += 1
        return out

    def say(self, command: str) -> None:
        """Send a command (``?``, ``Z``, ``Z FL``). Raises :class:`InstrumentError` when the line is dead."""
        try:
            self._serial.write(f"{command}\n".encode("ascii"))
        except (serial.SerialException, OSError):
            raise InstrumentError(
                "I111",
                f"{self.device} was lost: the line is dead.",
                "Plug it in and connect again; nothing typed has changed.",
            ) from None

    def close(self) -> None:
        """Close the line."""
        with contextlib.suppress(serial.SerialException, OSError):
            self._serial.close()
