"""The parts list: every line the build takes, with its price, where it is from, when it comes and how far it is; money by month."""

from __future__ import annotations

import datetime
from collections.abc import Iterable, Mapping
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from stoutlink.core.analysis.plan.arrivals import Due, due_of, order_by
from stoutlink.core.document.build_plan import FREE, HERE, BuildPlan, Lane, PartRecord, PartState
from stoutlink.core.document.swap import Price
from stoutlink.core.quantity.money import to_cents, total

Basis = Literal["paid", "asked", "estimate", "free", "unknown"]
OF_BRAKES = ("brakes", "brake_lines", "disc_conversion", "parking_brake")
OF_DRIVELINE = ("driveshaft", "joint_conversion", "speed_correction")


class Wanted(Struct, frozen=True):
    """A line as the rest of the project makes it. ``amount`` for all of it (``None``: no price known), ``kind`` as the cost list
    groups, ``unit`` one of what it is, ``detail`` what it is exactly; ``of_axles``: it stands in the cost of the axles."""

    key: str
    title: str
    end: str
    kind: str
    system: Lane
    why: str
    count: int
    amount: float | None
    basis: Basis
    paid: float = 0.0
    pay_day: str = ""
    unit: str = ""
    detail: str = ""
    of_axles: bool = True
    state: PartState = "needed"
    """As the rest of the project knows it."""


class PartLine(Struct, frozen=True):
    """One line: what is wanted, what was said of it, how far it is, when it comes, the first task that needs it (its key and the
    day it begins), by when it has to be ordered, when it is paid. ``gone``: nothing asks for it any more; what was paid counts."""

    wanted: Wanted
    record: PartRecord | None
    state: PartState
    due: Due | None
    task: str
    needed: datetime.date | None
    order_by: datetime.date | None
    pay_day: str
    gone: bool = False

    @property
    def key(self) -> str:
        """The line's name in prices and records."""
        return self.wanted.key

    @property
    def amount(self) -> float | None:
        """What it costs, all of it."""
        return self.wanted.amount

    @property
    def unlike(self) -> bool:
        """Whether it came as another thing than was ordered."""
        r = self.record
        return r is not None and bool(r.ordered_as and r.came_as) and _plain(r.ordered_as) != _plain(r.came_as)

    @property
    def late(self) -> bool:
        """Whether its day has passed, or it comes on a day later than the task begins that needs it without the part."""
        return self.state == "late" or (self.due is not None and self.due.overdue)

    @property
    def to_order(self) -> bool:
        """Whether somebody still has to order it: not free, not here, not on its way."""
        return self.state in ("needed", "wrong") and self.wanted.basis != "free" and self.wanted.kind != "work"


def _plain(words: str) -> str:
    return " ".join(words.casefold().split())


class Month(Struct, frozen=True):
    """Money of a month (as 2026-05): what was paid, what is still to be paid in it; ``over`` the ceiling of a month by so much."""

    name: str
    paid: float
    to_pay: float
    over: float

    @property
    def whole(self) -> float:
        """All of it."""
        return total((self.paid, self.to_pay))


class PartsList(Struct, frozen=True):
    """All lines. ``axles``: what the cost of the axles holds of it (without own hours), ``others``: the rest; ``unknown`` lines
    without a price, so that the total is "at least"; ``undated`` money no day is known of; ``left`` of the ceiling."""

    lines: tuple[PartLine, ...]
    axles: float
    others: float
    paid: float
    unknown: tuple[str, ...]
    months: tuple[Month, ...]
    undated: float
    left: float | None
    waits: tuple[str, ...] = ()
    """What of the rig is not entered, so that lines of the axles are missing."""

    @property
    def total(self) -> float:
        """All of it, to the cent."""
        return total((self.axles, self.others))

    @property
    def to_pay(self) -> float:
        """What is left to pay."""
        return total((self.total, -self.paid))

    def line(self, key: str) -> PartLine | None:
        """A line by its key."""
        return next((x for x in self.lines if x.key == key), None)


def system_of(line: str, end: str) -> Lane:
    """The lane a line belongs to.

    >>> system_of("brake_lines", "rear"), system_of("gear_set", "front"), system_of("air_supply", "both")
    ('brakes', 'front', 'frame')
    """
    if line in OF_BRAKES:
        return "brakes"
    if line in OF_DRIVELINE:
        return "driveline"
    return "front" if end == "front" else "rear" if end == "rear" else "frame"


def priced(one: Wanted, prices: Mapping[str, Price], record: PartRecord | None) -> Wanted:
    """A line outside the axles' cost at the price typed for it, each; what is on the shelf, made or freed is free without one."""
    mine = prices.get(one.key)
    each = None if one.amount is None else one.amount / one.count
    price, all_paid = (None, False) if mine is None else mine.whole(each, one.count)
    typed = mine is not None and (mine.amount is not None or mine.paid is not None)
    if price is not None and typed:
        one = replace(one, amount=to_cents(price), basis="paid" if all_paid else "asked")
    elif record is not None and record.source in FREE:
        one = replace(one, amount=0.0, basis="free")
    elif one.amount is not None:
        one = replace(one, amount=to_cents(one.amount))
    return one if mine is None else replace(one, paid=to_cents(mine.paid or 0.0), pay_day=mine.paid_on)


def parts_list(
    of_axles: Iterable[Wanted],
    made: Iterable[Wanted],
    plan: BuildPlan,
    prices: tuple[Price, ...],
    today: datetime.date,
    begins: Mapping[str, tuple[str, datetime.date]],
    waits: tuple[str, ...] = (),
) -> PartsList:
    """Every line: those of the axles' cost as they are, those that are ``made`` of layouts at their own prices, and what was paid
    for and is no longer asked for. ``begins``: by line the first task that needs it and its day."""
    own = {p.id: p for p in prices}
    wanted = [*of_axles, *(priced(one, own, plan.part(one.key)) for one in made)]
    keys = {one.key for one in wanted}
    lines = [_line(one, plan.part(one.key), today, begins.get(one.key)) for one in wanted]
    for record in plan.arrivals:
        if record.id not in keys:
            price = own.get(record.id)
            paid = to_cents(price.paid or 0.0) if price is not None else 0.0
            day = "" if price is None else price.paid_on
            if not paid and record.state == "needed":
                continue
            title = record.name or record.id.replace("_", " ")
            gone = Wanted(record.id, title, "both", "part", "frame", "nothing asks for it any more", 1, paid, "paid" if paid else "free", paid, day, of_axles=False)  # fmt: skip
            lines.append(replace(_line(gone, record, today, None), gone=True))
    months, undated = money_by_month(lines, plan.month_ceiling)
    axles = total(x.amount or 0.0 for x in lines if x.wanted.of_axles)
    others = total(x.amount or 0.0 for x in lines if not x.wanted.of_axles)
    left = None if plan.ceiling is None else total((plan.ceiling, -axles, -others))
    unknown = tuple(x.key for x in lines if x.amount is None)
    return PartsList(
        tuple(lines), axles, others, total(x.wanted.paid for x in lines), unknown, months, undated, left, waits
    )


def _line(
    one: Wanted, record: PartRecord | None, today: datetime.date, first: tuple[str, datetime.date] | None
) -> PartLine:
    state: PartState = one.state if record is None else record.state
    if record is not None and state in ("needed", "ordered", "late") and one.state in HERE:
        state = one.state
    due = None if record is None or state in HERE else due_of(record, today)
    needed = None if first is None else first[1]
    pay = (
        one.pay_day or ("" if due is None else due.likely.isoformat()) or ("" if needed is None else needed.isoformat())
    )
    by = order_by(record, needed, today) if state in ("needed", "wrong") else None
    return PartLine(one, record, state, due, "" if first is None else first[0], needed, by, pay)


def money_by_month(lines: Iterable[PartLine], ceiling: float | None) -> tuple[tuple[Month, ...], float]:
    """Money of every month from the first with any to the last, and what no day is known of. What is paid counts on the day
    typed with the price; what is left on that day too if nothing of it is paid yet, else when the part comes or is needed."""
    sums: dict[str, list[list[float]]] = {}
    undated = []
    for x in lines:
        rest = total((x.amount or 0.0, -x.wanted.paid))
        later = ("" if x.due is None else x.due.likely.isoformat()) or (
            "" if x.needed is None else x.needed.isoformat()
        )
        for amount, day, which in (
            (x.wanted.paid, x.wanted.pay_day, 0),
            (rest, later if x.wanted.paid else x.pay_day, 1),
        ):
            if not amount:
                continue
            if not day:
                undated.append(amount)
                continue
            sums.setdefault(day[:7], [[], []])[which].append(amount)
    out = []
    for name in _months(sums):
        paid, due = (total(part) for part in sums.get(name, [[], []]))
        over = 0.0 if ceiling is None else max(0.0, total((paid, due, -ceiling)))
        out.append(Month(name, paid, due, over))
    return tuple(out), total(undated)


def _months(names: Iterable[str]) -> list[str]:
    """Every month from the first to the last."""
    known = sorted(names)
    if not known:
        return []
    year, month = (int(x) for x in known[0].split("-"))
    out = []
    while (name := f"{year:04d}-{month:02d}") <= known[-1]:
        out.append(name)
        year, month = (year + 1, 1) if month == 12 else (year, month + 1)
    return out


class Between(Struct, frozen=True):
    """Two builds line by line: only in the one, only in the other, in both (with both amounts); totals to the cent."""

    only_a: tuple[PartLine, ...]
    only_b: tuple[PartLine, ...]
    both: tuple[tuple[PartLine, PartLine], ...]
    total_a: float
    total_b: float
    unknown: int
    """Lines of either without a price."""

    @property
    def difference(self) -> float:
        """By how much the second costs more."""
        return total((self.total_b, -self.total_a))


def between(a: PartsList, b: PartsList) -> Between:
    """Two lists held against each other: a line is the same where its key is and, of an axle or a line of one's own, its title."""

    def name(x: PartLine) -> tuple[str, str]:
        named = x.key.startswith(("axle-", "own-")) or x.gone
        return x.key, x.wanted.title if named else ""

    mine, theirs = {name(x): x for x in a.lines}, {name(x): x for x in b.lines}
    return Between(
        tuple(x for k, x in mine.items() if k not in theirs),
        tuple(x for k, x in theirs.items() if k not in mine),
        tuple((x, theirs[k]) for k, x in mine.items() if k in theirs),
        a.total,
        b.total,
        len(a.unknown) + len(b.unknown),
    )
