"""A day of the build: what was done, what is tacked or held up, what is short, what comes first tomorrow; what goes along elsewhere."""

from __future__ import annotations

import datetime

from msgspec import Struct

from stoutlink.core.analysis.plan.parts_list import PartLine, PartsList
from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, Row
from stoutlink.core.analysis.plan.shop_hours import minute_of
from stoutlink.core.document.build_plan import DayClose, Trip, TripItem

AHEAD = 14
"""Days that the shopping list looks ahead."""


class DaySheet(Struct, frozen=True):
    """A day: ``done`` on it, ``going`` (planned for it and not over), ``tacked``, ``blocked``; ``short``: parts that tasks of the
    days ahead need and that are not here; ``shop``: what of them nobody has ordered; ``tomorrow``: by name the first task of each,
    on the next day there is time; ``left``: where the day before was left."""

    day: datetime.date
    done: tuple[Row, ...]
    going: tuple[Row, ...]
    tacked: tuple[Row, ...]
    blocked: tuple[Row, ...]
    short: tuple[PartLine, ...]
    shop: tuple[PartLine, ...]
    tomorrow: tuple[tuple[str, Row], ...]
    left: DayClose | None


def day_sheet(today: PlanSheet, tomorrow: PlanSheet, parts: PartsList, day: datetime.date) -> DaySheet:
    """The day, from the plan as it stands from this morning on and as it stands from tomorrow on."""
    begin = minute_of(today.plan, day.isoformat()) or 0
    end = begin + 24 * 60
    date = day.isoformat()
    open_ = [r for r in today.rows if not r.over]
    last = day + datetime.timedelta(days=AHEAD)
    short = tuple(x for x in parts.lines if x.needed is not None and x.needed <= last and x.state not in ("here", "fitted", "sold") and x.wanted.kind != "work")  # fmt: skip
    closes = sorted((c for c in today.plan.closes if c.day and c.day <= date), key=lambda c: c.day)
    return DaySheet(
        day,
        tuple(
            r for r in today.rows if r.state in ("done", "inspected") and r.change is not None and r.change.when == date
        ),
        tuple(r for r in open_ if r.begin is not None and r.begin < end and r.task.people > 0),
        tuple(r for r in open_ if r.state in ("tacked", "mocked")),
        tuple(r for r in open_ if r.state == "blocked"),
        short,
        tuple(x for x in short if x.to_order),
        firsts(tomorrow, end),
        closes[-1] if closes else None,
    )


def firsts(sheet: PlanSheet, after: int) -> tuple[tuple[str, Row], ...]:
    """By person the first task from a minute on, each another one where two work apart; a task of two stands once."""
    out: list[tuple[str, Row]] = []
    rows = sorted(
        (r for r in sheet.rows if r.begin is not None and r.begin >= after and r.who), key=lambda r: r.begin or 0
    )
    left = {name for r in rows for name in r.who}
    for r in rows:
        mine = [name for name in r.who if name in left]
        if mine:
            out.append((" and ".join(r.who), r))
            left -= set(mine)
    return tuple(out)


class Packing(Struct, frozen=True):
    """What goes along on a trip: its tasks, the parts they need that are here, those that are not, tools and jigs; what is out and
    not back."""

    trip: Trip
    tasks: tuple[Row, ...]
    parts: tuple[PartLine, ...]
    missing: tuple[PartLine, ...]
    out: tuple[TripItem, ...]


def packing(sheet: PlanSheet, parts: PartsList, trip: Trip) -> Packing:
    """The packing list of a trip."""
    rows = tuple(r for key in trip.tasks if (r := sheet.row(key)) is not None)
    needs = dict.fromkeys(n for r in rows for n in r.task.needs)
    lines = [x for key in needs if (x := parts.line(key)) is not None]
    here = tuple(x for x in lines if x.state in ("here", "fitted"))
    return Packing(
        trip,
        rows,
        here,
        tuple(x for x in lines if x not in here),
        tuple(i for i in trip.items if i.out and not i.back and not i.used),
    )
