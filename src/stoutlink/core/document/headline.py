"""The headline numbers of an axle: one table for verdict, hole map, search, comparison, curves and results.

Each number has one id, one unit, one word; whoever shows, ranks or compares it takes them from here.
"""

from __future__ import annotations

import math
from typing import Literal

from msgspec import Struct

from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show

Better = Literal["low", "high", "band"]
DEGREE = math.pi / 180.0


class Headline(Struct, frozen=True):
    """One number: ``word`` before its value, ``field`` over a field, ``title`` in a list (rear, front), ``form`` of its
    value in its own unit (``length`` for metres in the user's). ``si`` is the own unit in SI (0.01 for percent stays 1:
    percent are kept as such).

    ``usual`` is a difference worth as much as the usual one of any other number (what a search measures in), ``worth``
    the smallest worth a word in a comparison, ``better`` which way is better (``band``: neither), ``scale`` the ends of
    its gauge, ``curve`` its curve over the travel, ``mapped`` whether the hole map shows it, ``searched`` whether a
    search may want it, ``tick`` its form on an axis where that is shorter, ``term`` the field's standard term where the
    shop says it otherwise.
    """

    id: str
    word: str
    field: str
    title: tuple[str, str]
    form: str
    usual: float
    worth: float | None = None
    better: Better = "band"
    scale: tuple[float, float] | None = None
    curve: str | None = None
    si: float = 1.0
    mapped: bool = False
    searched: bool = True
    tick: str = ""
    term: str = ""

    @property
    def is_length(self) -> bool:
        """Whether it is in metres."""
        return self.form == "length"

    def tells(self, value: float, sigma: float = 0.0) -> bool:
        """Whether a value with its 1 σ says anything: one far off its gauge, or known no better than that, comes from bars
        that barely hold, and no digit of it means anything.

        >>> HEADLINES["drive"].tells(-50.0, 400.0), HEADLINES["drive"].tells(-4e5), HEADLINES["drive"].tells(90.0, 3e3)
        (True, False, False)
        """
        if self.scale is None:
            return True
        low, high = self.scale
        far = FAR_OFF * (high - low)
        return low - far <= value <= high + far and 2.0 * sigma <= far

    def text(self, value: float, unit: UnitSystem) -> str:
        """Its value for reading.

        >>> HEADLINES["hold"].text(2.5, "in"), HEADLINES["longest"].text(0.9144, "in"), HEADLINES["clearance"].text(9.0, "mm")
        ('2.50×', '36.00″', 'plenty')
        """
        if self.is_length:
            if value > PLENTY:
                return "plenty"
            return show(value, "length", unit, decimals=2 if unit == "in" else 1)
        return self.form.format(value).replace("-", "−") if self.tells(value) else BEYOND

    def on_axis(self, value: float) -> str:
        """Its value beside an axis or in a narrow place."""
        return (self.tick or self.form).format(value).replace("-", "−")


BEYOND = "beyond telling"
"""What is said in place of a number that says nothing."""
FAR_OFF = 10.0
"""A value this many lengths of its gauge off the gauge says nothing (estimate)."""
PLENTY = 5.0
"""Room beyond this, m, is no number worth reading."""
_BOTH = "Travel reached", "Travel reached"
HEADLINES: dict[str, Headline] = {
    one.id: one
    for one in (
        Headline(
            "drive", "drive", "anti-squat, %", ("Anti-squat", "Anti-lift, drive"), "{:.0f} %",
            usual=10.0, worth=3.0, scale=(-50.0, 200.0), curve="drive", mapped=True,
        ),
        Headline(
            "brake", "braking", "braking, %", ("Anti-lift, braking", "Anti-dive"), "{:.0f} %",
            usual=10.0, worth=3.0, scale=(-50.0, 150.0), curve="brake", mapped=True,
        ),
        Headline(
            "roll_centre", "roll centre", "roll centre, part of CG", ("Roll centre", "Roll centre"), "{:.2f} of CG",
            tick="{:.2f}", usual=0.08, worth=0.02, better="high", scale=(0.0, 1.5), mapped=True,
        ),
        Headline(
            "inclination", "roll axis", "roll axis, °", ("Roll axis", "Roll axis"), "{:.1f}°", usual=1.5, si=DEGREE,
        ),
        Headline(
            "steer", "roll steer", "roll steer, °/°", ("Roll steer", "Roll steer"), "{:.3f}",
            usual=0.04, worth=0.01, scale=(-0.3, 0.3), curve="roll_steer", mapped=True,
        ),
        Headline(
            "hold", "hold", "sideways hold, ×", ("Sideways hold", "Sideways hold"), "{:.2f}×",
            usual=0.5, worth=0.08, better="low", scale=(0.0, 8.0), mapped=True, term="peak link-force ratio",
        ),
        Headline(
            "pinion", "pinion", "pinion change, °", ("Pinion change", "Pinion change"), "{:.1f}°",
            usual=0.8, worth=0.4, better="low", scale=(0.0, 10.0), si=DEGREE, mapped=True,
        ),
        Headline("bind", "bushings give", "bushings give", ("Bushings give", "Bushings give"), "length", usual=0.002, better="low"),
        Headline("longest", "longest", "longest link", ("Longest link", "Longest link"), "length", usual=0.03),
        Headline("shortest", "shortest", "shortest link", ("Shortest link", "Shortest link"), "length", usual=0.03),
        Headline("clearance", "room", "room to spare", ("Room to spare", "Room to spare"), "length", usual=0.01, better="high"),
        Headline("travel", "travel", "travel reached", _BOTH, "{:.0%}", usual=0.05, worth=0.01, better="high", scale=(0.0, 1.0)),
        Headline(
            "wrap", "wrap", "wrap under full throttle, °", ("Wrap under full throttle", "Wrap under full throttle"),
            "{:.1f}°", usual=1.0, better="low", scale=(0.0, 12.0), si=DEGREE, searched=False,
        ),
        Headline("rate", "rate", "spring rate", ("Spring rate", "Spring rate"), "{:.0f} N/m", usual=2000.0, searched=False),
    )
}  # fmt: skip
"""By id, in reading order. Anti-numbers, roll centre and roll steer have both schools' bands; ``usual``, ``worth`` and
scales are estimates."""
WANT_IDS = tuple(one.id for one in HEADLINES.values() if one.searched)
"""What a search may want, in the order it is asked."""
LENGTH_WANTS = tuple(one.id for one in HEADLINES.values() if one.searched and one.is_length)
MAPPED = tuple(one.id for one in HEADLINES.values() if one.mapped)


def headline_words(name: str, value: float, unit: UnitSystem) -> str:
    """One number with its word.

    >>> headline_words("hold", 2.5, "in"), headline_words("drive", 112.4, "mm")
    ('hold 2.50×', 'drive 112 %')
    """
    one = HEADLINES[name]
    return f"{one.word} {one.text(value, unit)}"
