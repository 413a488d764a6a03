"""What is to be looked after next, by distance and by date."""

from __future__ import annotations

import datetime

from msgspec import Struct

from stoutlink.core.document.log import CareItem, Log

SOON = 0.1
"""Within this part of its distance or days a thing is soon due."""


class CareDue(Struct, frozen=True):
    """One thing to look after: what is left of its distance (m) and of its days, below 0 when it is over; ``never``: it was not done yet;
    ``part`` of what is left before whichever comes first."""

    item: CareItem
    left_m: float | None
    left_days: int | None
    part: float
    never: bool

    @property
    def due(self) -> bool:
        """Whether it is to be done now."""
        return self.part <= 0.0

    @property
    def soon(self) -> bool:
        """Whether it comes next."""
        return 0.0 < self.part <= SOON


def day(text: str) -> datetime.date | None:
    """A day of the calendar, or ``None``."""
    try:
        return datetime.date.fromisoformat(text)
    except ValueError:
        return None


def care_due(log: Log, driven: float, today: datetime.date) -> tuple[CareDue, ...]:
    """Everything to be looked after, what is over first. Distance counts from when it was last done, else from 0; days from then, else
    from when it was first written down; with neither interval it is never due."""
    out = []
    for item in log.care:
        last = max(item.done, key=lambda d: (d.driven_m, d.when), default=None)
        parts = []
        left_m = left_days = None
        if item.every_m is not None:
            left_m = item.every_m - (driven - (0.0 if last is None else last.driven_m))
            parts.append(left_m / item.every_m)
        begun = day(item.since if last is None else last.when)
        if item.every_days is not None and begun is not None:
            left_days = item.every_days - (today - begun).days
            parts.append(left_days / item.every_days)
        out.append(CareDue(item, left_m, left_days, min(parts, default=1.0), last is None))
    return tuple(sorted(out, key=lambda d: (d.part, d.item.name)))
