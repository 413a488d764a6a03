"""The line protocol between the program and a bench instrument. Written down in docs/instruments.md.

ASCII lines ended by a line feed. The instrument streams readings ``R <channel> <value> <unit> <flag>*<check>``; the
program asks ``?`` (who are you), ``Z`` or ``Z <channel>`` (zero). Answers: ``I <kind> <name>*<check>``, ``K*<check>``
(done), ``E <words>*<check>`` (refused). The check is the two-digit hexadecimal exclusive-or of all bytes before the
star, as on many marine and survey instruments (common practice).
"""

from __future__ import annotations

import math
import re
from typing import Literal

from msgspec import Struct

from stoutlink.core.errors import StoutError

Unit = Literal["kg", "deg", "mm", "Nm", "kPa"]
Flag = Literal["steady", "moving", "over"]
_FLAGS: dict[str, Flag] = {"S": "steady", "U": "moving", "O": "over"}
_LETTERS = {word: letter for letter, word in _FLAGS.items()}
_READING = re.compile(r"R ([A-Z0-9]{1,8}) (-?\d{1,7}(?:\.\d{1,6})?) (kg|deg|mm|Nm|kPa) ([SUO])")
LONGEST = 120
TO_SI: dict[str, float] = {"kg": 1.0, "deg": math.radians(1.0), "mm": 1e-3, "Nm": 1.0, "kPa": 1e3}
KIND_NAMES = ("scales", "angle", "caliper", "indicator", "feeler", "wrench", "gauge", "plasma")


class InstrumentError(StoutError):
    """An instrument that cannot be reached, went silent, or spoke nonsense."""


class Sample(Struct, frozen=True):
    """One reading: channel, value in the instrument's unit, and whether it calls itself steady."""

    channel: str
    value: float
    unit: Unit
    flag: Flag

    @property
    def si(self) -> float:
        """The value in kg, rad, m, N·m or Pa."""
        return self.value * TO_SI[self.unit]


class Identity(Struct, frozen=True):
    """Who is at the other end: ``kind`` (one of :data:`KIND_NAMES`) and its name."""

    kind: str
    name: str


class Answer(Struct, frozen=True):
    """A command was done (``words`` empty) or refused."""

    done: bool
    words: str = ""


class CutJob(Struct, frozen=True):
    """What a plasma table makes of a drawing: pierces, cut length m, time s."""

    pierces: int
    length: float
    seconds: float


class Refused(Struct, frozen=True):
    """One thing of a drawing that a table cannot cut."""

    words: str


Message = Sample | Identity | Answer | CutJob | Refused


def check_of(body: str) -> str:
    """Exclusive-or of the bytes, two hexadecimal digits.

    >>> check_of("K")
    '4B'
    """
    value = 0
    for byte in body.encode("ascii", "replace"):
        value ^= byte
    return f"{value:02X}"


def line_of(body: str) -> bytes:
    """A line ready to send: body, check, line feed."""
    return f"{body}*{check_of(body)}\n".encode("ascii")


def reading_line(sample: Sample) -> bytes:
    """A reading as the instrument sends it.

    >>> reading_line(Sample("FL", 512.4, "kg", "steady"))
    b'R FL 512.400 kg S*2B\\n'
    """
    return line_of(f"R {sample.channel} {sample.value:.3f} {sample.unit} {_LETTERS[sample.flag]}")


def parse_line(line: bytes) -> Message:
    """Read one line; raises :class:`InstrumentError` for a wrong check or anything that is not in the protocol.

    >>> parse_line(b"R FL 512.400 kg S*2B").value
    512.4
    """
    text = line.decode("ascii", "replace").strip()
    body, star, check = text.rpartition("*")
    if not star or len(text) > LONGEST or check.upper() != check_of(body):
        raise InstrumentError(
            "I101",
            f"The instrument sent “{text[:40]}”, whose check does not fit.",
            "A loose plug or a wrong baud rate garbles lines.",
        )
    if match := _READING.fullmatch(body):
        return Sample(match[1], float(match[2]), match[3], _FLAGS[match[4]])  # type: ignore[arg-type]
    if body == "K":
        return Answer(True)
    if body.startswith("E "):
        return Answer(False, body[2:])
    if match := re.fullmatch(rf"I ({'|'.join(KIND_NAMES)}) (.{{1,60}})", body):
        return Identity(match[1], match[2])
    if match := re.fullmatch(r"J (\d{1,6}) (\d{1,9}\.\d) (\d{1,9}\.\d)", body):
        return CutJob(int(match[1]), float(match[2]) / 1000.0, float(match[3]))
    if body.startswith("X "):
        return Refused(body[2:])
    raise InstrumentError(
        "I102", f"The instrument sent “{body[:40]}”, which is not in the protocol.", "Is it the right device?"
    )


class Lines:
    """Cuts a stream of bytes into lines; a line longer than any in the protocol is thrown away."""

    def __init__(self) -> None:
        self._rest = b""

    def feed(self, data: bytes) -> list[bytes]:
        """Whole lines that ``data`` completes."""
        *whole, self._rest = (self._rest + data).split(b"\n")
        if len(self._rest) > 4 * LONGEST:
            self._rest = b""
        return [line for line in whole if line.strip()]
