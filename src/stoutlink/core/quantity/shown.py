"""Every quantity the program shows or reads, in inches-pounds or millimetres-kilograms.

One table of kinds; SI inside, the user's unit outside. Exact by definition: 1 lb = 0.45359237 kg,
1 lbf = POUND_FORCE N, 1 mile = 1609.344 m.

Source: NIST SP 811, appendix B.
"""

from __future__ import annotations

import math
import re
from typing import Literal

from msgspec import Struct

from stoutlink.core.errors import TextError
from stoutlink.core.quantity.constants import FOOT, INCH, MILE, POUND, POUND_FORCE
from stoutlink.core.quantity.duration_text import format_duration, parse_duration
from stoutlink.core.quantity.length_text import (
    UnitSystem,
    format_length,
    format_length_text,
    parse_length,
)
from stoutlink.core.quantity.number_text import not_understood, parse_unsigned, split_sign, tidy

Kind = Literal[
    "length", "angle", "mass", "torque", "speed", "ratio", "number", "rpm", "percent", "share", "stress", "pressure", "count", "money", "hours",
    "force", "spring_rate", "volume", "fine_length", "small_torque", "duration", "temperature", "weld_speed", "heat_input", "distance",
]  # fmt: skip

LENGTHS = ("length", "fine_length")
"""Kinds read and written as lengths; the fine one to a thousandth of an inch (shims, gaps, walls)."""
FINE: dict[UnitSystem, int] = {"in": 3, "mm": 2}
MILE_PER_HOUR = MILE / 3600.0


class _Unit(Struct, frozen=True):
    name: str
    si: float
    decimals: int
    zero: float = 0.0
    """What stands at 0 of it (temperatures, which are held in °C)."""


_UNITS: dict[str, dict[UnitSystem, _Unit]] = {
    "angle": {"in": _Unit("°", math.pi / 180, 1), "mm": _Unit("°", math.pi / 180, 1)},
    "mass": {"in": _Unit("lb", POUND, 0), "mm": _Unit("kg", 1.0, 0)},
    "torque": {"in": _Unit("lb·ft", POUND_FORCE * FOOT, 0), "mm": _Unit("N·m", 1.0, 0)},
    "small_torque": {"in": _Unit("lb·in", POUND_FORCE * INCH, 0), "mm": _Unit("N·m", 1.0, 1)},
    "speed": {"in": _Unit("mph", MILE_PER_HOUR, 0), "mm": _Unit("km/h", 1 / 3.6, 0)},
    "ratio": {"in": _Unit(":1", 1.0, 2), "mm": _Unit(":1", 1.0, 2)},
    "number": {"in": _Unit("", 1.0, 2), "mm": _Unit("", 1.0, 2)},
    "count": {"in": _Unit("", 1.0, 0), "mm": _Unit("", 1.0, 0)},
    "money": {"in": _Unit("", 1.0, 0), "mm": _Unit("", 1.0, 0)},
    "hours": {"in": _Unit("h", 1.0, 1), "mm": _Unit("h", 1.0, 1)},
    "rpm": {"in": _Unit("rpm", 1.0, 0), "mm": _Unit("rpm", 1.0, 0)},
    "percent": {"in": _Unit("%", 1.0, 0), "mm": _Unit("%", 1.0, 0)},
    "share": {"in": _Unit("%", 0.01, 0), "mm": _Unit("%", 0.01, 0)},
    "pressure": {"in": _Unit("psi", POUND_FORCE / INCH**2, 0), "mm": _Unit("bar", 1e5, 2)},
    "force": {"in": _Unit("lbf", POUND_FORCE, 0), "mm": _Unit("kN", 1e3, 2)},
    "spring_rate": {"in": _Unit("lb/in", POUND_FORCE / INCH, 0), "mm": _Unit("N/mm", 1e3, 1)},
    "volume": {"in": _Unit("in³", INCH**3, 0), "mm": _Unit("L", 1e-3, 2)},
    "stress": {"in": _Unit("ksi", POUND_FORCE / INCH**2 * 1000, 0), "mm": _Unit("MPa", 1e6, 0)},
    "temperature": {"in": _Unit("°F", 5 / 9, 0, -160 / 9), "mm": _Unit("°C", 1.0, 0)},
    "weld_speed": {"in": _Unit("in/min", INCH / 60, 1), "mm": _Unit("mm/s", 1e-3, 1)},
    "heat_input": {"in": _Unit("kJ/in", 1e3 / INCH, 1), "mm": _Unit("kJ/mm", 1e6, 2)},
    "distance": {"in": _Unit("mi", MILE, 0), "mm": _Unit("km", 1e3, 0)},
}
_ALIASES = {
    "deg": ("angle", math.pi / 180), "°": ("angle", math.pi / 180),
    "lb": ("mass", POUND), "lbs": ("mass", POUND), "kg": ("mass", 1.0),
    "lb·ft": ("torque", POUND_FORCE * FOOT), "lb-ft": ("torque", POUND_FORCE * FOOT), "lbft": ("torque", POUND_FORCE * FOOT),
    "ft-lb": ("torque", POUND_FORCE * FOOT), "n·m": ("torque", 1.0), "nm": ("torque", 1.0), "n-m": ("torque", 1.0),
    "mph": ("speed", MILE_PER_HOUR), "km/h": ("speed", 1 / 3.6), "kph": ("speed", 1 / 3.6), "m/s": ("speed", 1.0),
    "lb·in": ("torque", POUND_FORCE * INCH), "lb-in": ("torque", POUND_FORCE * INCH), "in-lb": ("torque", POUND_FORCE * INCH),
    "in·lb": ("torque", POUND_FORCE * INCH), "inlb": ("torque", POUND_FORCE * INCH), "ft·lb": ("torque", POUND_FORCE * FOOT),
    "rpm": ("rpm", 1.0), "h": ("hours", 1.0), "%": ("percent", 1.0), ":1": ("ratio", 1.0), "psi": ("pressure", POUND_FORCE / INCH**2), "bar": ("pressure", 1e5), "kpa": ("pressure", 1e3), "ksi": ("stress", _UNITS["stress"]["in"].si), "mpa": ("stress", 1e6),
    "lbf": ("force", POUND_FORCE), "kn": ("force", 1e3), "n": ("force", 1.0), "lb/in": ("spring_rate", POUND_FORCE / INCH), "n/mm": ("spring_rate", 1e3),
    "°f": ("temperature", 5 / 9), "°c": ("temperature", 1.0), "in/min": ("weld_speed", INCH / 60), "ipm": ("weld_speed", INCH / 60), "mm/s": ("weld_speed", 1e-3), "cm/min": ("weld_speed", 0.01 / 60),
    "mi": ("distance", MILE), "miles": ("distance", MILE), "km": ("distance", 1e3),
    "in³": ("volume", INCH**3), "in3": ("volume", INCH**3), "l": ("volume", 1e-3), "cm³": ("volume", 1e-6),
}  # fmt: skip
_FAMILY: dict[str, str] = {"small_torque": "torque", "share": "percent"}
"""Kinds that take the units of another."""
_TAIL = re.compile(
    r"(.*?)\s*(" + "|".join(sorted(map(re.escape, _ALIASES), key=len, reverse=True)) + ")$", re.IGNORECASE
)


def parse_quantity(text: str, kind: Kind, unit: UnitSystem) -> float:
    """Read typed text of a ``kind`` into SI; a bare number is in the ``unit`` system's own unit.

    >>> round(parse_quantity("100 lb", "mass", "mm"), 6)
    45.359237
    >>> round(parse_quantity("5 1/2", "angle", "in"), 6)
    0.095993
    >>> round(parse_quantity("8 thou", "fine_length", "mm") / 0.0254, 9), round(parse_quantity("15", "small_torque", "in"), 3)
    (0.008, 1.695)
    >>> parse_quantity("1 h 30 min", "duration", "in")
    5400.0
    """
    if kind in LENGTHS:
        return parse_length(text, unit)
    if kind == "duration":
        sign, body = split_sign(tidy(text))
        return sign * parse_duration(body)
    plain = tidy(text)
    sign, body = split_sign(plain)
    match = _TAIL.fullmatch(body)
    if match:
        found, si = _ALIASES[match[2].lower()]
        if found != _FAMILY.get(kind, kind):
            raise not_understood(text, match[2])
        if kind == "share":
            si = 0.01
        zero = _UNITS["temperature"]["in"].zero if match[2].lower() == "°f" else 0.0
        return sign * float(parse_unsigned(match[1], text)) * si + zero
    one = _UNITS[kind][unit]
    return sign * float(parse_unsigned(body, text)) * one.si + one.zero


class Typed(Struct, frozen=True):
    """What was typed in a field: the value in SI, the text that stands for it, 1 σ when a ± was given, and whether it
    is an estimate.
    """

    value: float
    text: str
    sigma: float | None
    estimated: bool


_PLUS_MINUS = re.compile(r"(.*?)\s*(?:±|\+/-|\+-|\+/−)\s*(.*)", re.DOTALL)


def parse_typed(text: str, kind: Kind, unit: UnitSystem) -> Typed:
    """Read a number with how sure it is: ``34 1/4 ± 1/2`` (95 %, so 1 σ is half of it), ``~34`` an estimate.

    Raises :class:`~stoutlink.core.errors.TextError` for anything else, also for a ± that is negative. ``kind`` says
    what is measured, ``unit`` which system a bare number is in.

    >>> t = parse_typed("~34 1/4 ± 1/2", "length", "in")
    >>> round(t.value / 0.0254, 6), round(t.sigma / 0.0254, 6), t.estimated, t.text
    (34.25, 0.25, True, '34 1/4')
    """
    plain = text.strip()
    estimated = plain.startswith("~")
    plain = plain.removeprefix("~").strip()
    sigma = None
    if match := _PLUS_MINUS.fullmatch(plain):
        plain = match[1].strip()
        if not plain or not match[2].strip():
            missing = "before" if not plain else "after"
            raise TextError(
                "Q106",
                f"“{text.strip()}” has no number {missing} the ±.",
                "Type both, such as 34 ± 1/2, or take the ± away.",
            )
        band = parse_quantity(match[2], kind, unit)
        if kind == "temperature":  # a difference has no zero of its own
            band -= parse_quantity("0", kind, unit)
        if band < 0:
            raise not_understood(text, match[2])
        sigma = band / 2.0
    return Typed(parse_quantity(plain, kind, unit), plain, sigma, estimated)


def show(
    value: float | None,
    kind: Kind,
    unit: UnitSystem,
    *,
    decimals: int | None = None,
    signed: bool = False,
    apart: bool = False,
) -> str:
    """Write an SI value of a ``kind`` for reading; ``None`` is an en dash.

    ``unit`` is the system, ``decimals`` the places (``None``: as the kind says), ``signed`` whether a plus is
    written, ``apart`` that it is a difference (of temperatures, which have a zero of their own).

    >>> show(1000.0, "mass", "in"), show(0.1, "angle", "mm"), show(None, "ratio", "in")
    ('2205 lb', '5.7°', '–')
    >>> show(0.008 * 0.0254, "fine_length", "in"), show(0.0002, "fine_length", "mm"), show(1.7, "small_torque", "in")
    ('0.008″', '0.20 mm', '15 lb·in')
    """
    if value is None or not math.isfinite(value):
        return "–"
    if kind in LENGTHS:
        text = format_length(value, unit, decimals=decimals, places=FINE[unit] if kind == "fine_length" else None)
    elif kind == "duration":
        text = format_duration(value)
    else:
        one = _UNITS[kind][unit]
        number = f"{(value - (0.0 if apart else one.zero)) / one.si:.{one.decimals if decimals is None else decimals}f}"
        if float(number) == 0:
            number = number.replace("-", "")
        gap = "" if one.name in ("°", ":1", "") else " "
        text = f"{number}{gap}{one.name}".replace("-", "−")
    return f"+{text}" if signed and value > 0 else text


def show_both(value: float, kind: Kind) -> str:
    """An SI ``value`` of a ``kind`` in both systems, for sentences made where the project's unit is not known.

    >>> show_both(0.508, "length"), show_both(100.0, "mass")
    ('20″ (508 mm)', '220 lb (100 kg)')
    """
    return f"{show(value, kind, 'in')} ({show(value, kind, 'mm')})"


def edit_text(value: float, kind: Kind, unit: UnitSystem, *, apart: bool = False) -> str:
    """Write an SI value as the text an edit field starts with (reads back to the same value).

    ``kind`` says what ``value`` (SI) measures, ``unit`` the system to write in, ``apart`` that it is a difference.

    >>> edit_text(0.0254, "length", "in"), edit_text(0.0254, "length", "mm")
    ('1', '25.4')
    """
    if kind in LENGTHS:
        return format_length_text(value, unit)
    if kind == "duration":
        return f"{value / 3600.0:.9f}".rstrip("0").rstrip(".") + " h"
    one = _UNITS[kind][unit]
    text = f"{(value - (0.0 if apart else one.zero)) / one.si:.6f}".rstrip("0").rstrip(".")
    return text if text not in ("-0", "") else "0"


def unit_name(kind: Kind, unit: UnitSystem) -> str:
    """The short unit beside a field: ``in``, ``mm``, ``lb`` ...

    ``kind`` says what is measured.

    >>> unit_name("length", "in"), unit_name("force", "mm")
    ('in', 'kN')
    """
    if kind in LENGTHS:
        return unit
    return "h" if kind == "duration" else _UNITS[kind][unit].name


def turned(angle: float, decimals: int = 2) -> str:
    """An ``angle``, rad, as degrees with their sign and so many ``decimals``; a dash where there is no number. Source: the
    degree, BIPM SI Brochure, table 8.

    >>> turned(-0.02), turned(0.02), turned(-1e-9), turned(math.nan)
    ('−1.15°', '+1.15°', '0.00°', '–')
    """
    return show(angle, "angle", "mm", decimals=decimals, signed=True)
