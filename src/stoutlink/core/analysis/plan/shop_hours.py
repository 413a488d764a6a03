"""The shop's calendar as minutes from midnight of the plan's first day: hours of the week, closed days, quiet hours, who is away."""

from __future__ import annotations

import datetime
from functools import lru_cache

import msgspec

from stoutlink.core.analysis.plan.calendars import DAY, Span, joined, without
from stoutlink.core.analysis.plan.jobs import HoursKind, Shop
from stoutlink.core.document.build_plan import BuildPlan, OpenHours

DAYS = 3 * 366
"""Days that are looked ahead."""
USUAL = (
    OpenHours(id="evenings", days="weekdays", from_h=18.0, to_h=21.0),
    OpenHours(id="saturdays", days="saturday", from_h=9.0, to_h=17.0),
)
"""Hours proposed for a plan that has none."""
WEEK: dict[str, tuple[int, ...]] = {"weekdays": (0, 1, 2, 3, 4), "saturday": (5,), "sunday": (6,), "every_day": tuple(range(7))}  # fmt: skip


def day_of(date: str) -> datetime.date | None:
    """A date as written; ``None`` for an empty one or one that is on no calendar.

    >>> day_of("2026-02-28"), day_of("2026-02-30")
    (datetime.date(2026, 2, 28), None)
    """
    try:
        return datetime.date.fromisoformat(date)
    except ValueError:
        return None


def minute_of(plan: BuildPlan, date: str, *, end: bool = False) -> int | None:
    """Midnight at the begin (or the end) of a date, in minutes from the plan's first day; ``None`` where there is none."""
    first, day = day_of(plan.begin), day_of(date)
    if first is None or day is None:
        return None
    return ((day - first).days + (1 if end else 0)) * DAY


def moment(plan: BuildPlan, minute: int) -> datetime.datetime:
    """The moment of a minute of the plan."""
    first = day_of(plan.begin)
    assert first is not None
    return datetime.datetime.combine(first, datetime.time()) + datetime.timedelta(minutes=int(minute))


def shop_of(plan: BuildPlan) -> Shop:
    """The shop of a plan, remembered for as long as its days, hours and people are the same."""
    bare = msgspec.structs.replace(plan, changes=(), own=(), arrivals=(), seen=(), wanted="", first="rear", bump="bump")
    return _shop(bare)


@lru_cache(maxsize=16)
def _shop(plan: BuildPlan) -> Shop:
    first = day_of(plan.begin)
    assert first is not None
    hours = plan.hours or USUAL
    spans: list[Span] = []
    for d in range(DAYS):
        week = (first.weekday() + d) % 7
        for one in hours:
            if week in WEEK[one.days]:
                spans.append((d * DAY + round(one.from_h * 60), d * DAY + round(one.to_h * 60)))
    open_ = joined(spans)
    ends = minute_of(plan, plan.access_ends, end=True)
    if ends is not None:
        open_ = without(open_, [(max(0, ends), DAYS * DAY)])

    def closed(*what: str) -> list[Span]:
        out = []
        for one in plan.closed:
            a, b = minute_of(plan, one.first), minute_of(plan, one.last or one.first, end=True)
            if one.what in what and a is not None and b is not None:
                out.append((a, b))
        return out

    open_ = without(open_, closed("shop"))
    loud = open_
    if plan.quiet_from_h is not None and plan.quiet_to_h is not None:
        a, b = round(plan.quiet_from_h * 60), round(plan.quiet_to_h * 60)
        nights = [(d * DAY + a, d * DAY + (b if b > a else b + DAY)) for d in range(-1, DAYS)]
        loud = without(open_, nights)
    kinds: dict[HoursKind, tuple[Span, ...]] = {
        "shop": open_, "quiet": loud, "outdoors": without(open_, closed("outdoors")), "always": ((0, DAYS * DAY),),
    }  # fmt: skip
    workers = plan.people
    names = tuple(w.name for w in workers) or ("you",)
    own = []
    for w in workers:
        gone, back = minute_of(plan, w.away_from), minute_of(plan, w.away_to or w.away_from, end=True)
        away = [] if gone is None or back is None else [(gone, back)]
        own.append(without(((0, DAYS * DAY),), away))
    return Shop(kinds, names, tuple(own) or (((0, DAYS * DAY),),), plan.places)
