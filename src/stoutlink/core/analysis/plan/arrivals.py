"""When a part comes: as typed, else from the order's day and the lead time; one that is not here cannot have come yesterday."""

from __future__ import annotations

import datetime

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.plan.jobs import Arrives
from stoutlink.core.analysis.plan.shop_hours import day_of, minute_of, moment
from stoutlink.core.document.build_plan import HERE, BuildPlan, PartRecord, PartState


class Due(Struct, frozen=True):
    """Earliest, likely and latest day; ``overdue``: the likely one has passed and it is not here; ``said``: somebody typed a
    day (or ordered it), it is not only the lead time from today."""

    earliest: datetime.date
    likely: datetime.date
    latest: datetime.date
    overdue: bool
    said: bool


def due_of(one: PartRecord, today: datetime.date) -> Due | None:
    """When it comes, asked on a day; ``None`` where it is here, or no day can be told: then it holds nothing up. The day of an
    order counts while it is on its way; of one that came wrong a day that has passed says nothing any more."""
    if one.state in HERE:
        return None
    early, likely, late = (day_of(d) for d in (one.earliest, one.likely, one.latest))
    typed = likely or late or early
    if one.state == "wrong" and typed is not None and typed < today:
        typed = early = late = None
    lead = datetime.timedelta(days=one.lead_days or 0)
    ordered = day_of(one.ordered) if one.state in ("ordered", "late") else None
    if typed is None and one.lead_days is not None:
        typed = (ordered or today) + lead
    if typed is None:
        return None
    first, middle, last = min(early or typed, typed), typed, max(late or typed, typed)
    said = one.lead_days is None or ordered is not None or typed in (likely, early, late)
    return Due(max(first, today), max(middle, today), max(last, today), middle < today, said)


def order_by(one: PartRecord | None, needed: datetime.date | None, today: datetime.date) -> datetime.date | None:
    """The last day to order a part not ordered yet, so that it is there the evening before it is needed; today at the
    earliest. ``None`` where lead time or need is not known, or it is ordered."""
    if one is None or one.lead_days is None or needed is None or one.state not in ("needed", "wrong"):
        return None
    return max(today, needed - datetime.timedelta(days=one.lead_days + 1))


def comes_on(old: PartRecord | None, key: str, day: datetime.date, today: datetime.date) -> PartRecord:
    """A part's record with another likely day, its earliest and latest moved along; one said to be late is on order again."""
    one = old or PartRecord(id=key)
    due = due_of(one, today)
    by = datetime.timedelta(0) if due is None else day - due.likely
    ends = {
        n: (datetime.date.fromisoformat(d) + by).isoformat() for n in ("earliest", "latest") if (d := getattr(one, n))
    }
    state: PartState = "ordered" if one.state == "late" else one.state
    moved = msgspec.structs.replace(one, likely=day.isoformat(), state=state, **ends)
    fits = (not moved.earliest or moved.earliest <= moved.likely) and (not moved.latest or moved.latest >= moved.likely)
    return moved if fits else msgspec.structs.replace(moved, earliest="", latest="")


def arrives_of(plan: BuildPlan, now: int) -> dict[str, Arrives]:
    """Parts on their way as minutes of the plan, asked at the minute ``now``: by the end of their days."""
    today = moment(plan, now).date()
    out = {}
    for one in plan.arrivals:
        due = due_of(one, today)
        if due is None:
            continue
        days = [minute_of(plan, d.isoformat(), end=True) for d in (due.earliest, due.likely, due.latest)]
        a, b, c = (m for m in days if m is not None)
        out[one.id] = Arrives(one.id, a, b, c)
    return out
