"""The parts list in words: what it comes to, what is late or wrong, what to order when, what a month costs."""

from __future__ import annotations

import datetime
from collections.abc import Iterator

from stoutlink.core.analysis.plan.parts_list import Between, PartLine, PartsList
from stoutlink.core.document.build_plan import SOURCE_WORDS, BuildPlan, PartState
from stoutlink.core.document.price_text import money_words

PARTS_CAUTION = "Prices marked ~ are the program's estimates in no currency of its own: what somebody asks, and what was paid, takes their place."
PART_STATE_WORDS: dict[PartState, str] = {
    "needed": "needed", "ordered": "on order", "late": "late", "here": "here", "wrong": "came wrong", "fitted": "fitted", "sold": "sold",
}  # fmt: skip


def amount_words(x: PartLine) -> str:
    """The price of a line; an estimate says so."""
    if x.amount is None:
        return "no price"
    if x.wanted.basis == "free" and x.amount == 0:
        return "free"
    return f"{'~' if x.wanted.basis == 'estimate' else ''}{money_words(x.amount)}"


def sum_words(found: PartsList, currency: str = "") -> str:
    """What all of it comes to; "at least" while a line has no price."""
    least = "at least " if found.unknown or found.waits else ""
    return f"{least}{money_words(found.total)} {currency}".strip()


def list_words(found: PartsList, plan: BuildPlan, currency: str) -> Iterator[str]:
    """The list in a few lines."""
    if not found.lines:
        yield "No part yet: choose an axle in Donors or lay out links; what they take is listed here."
        return
    unit = f" {currency}" if currency else ""
    yield f"{len(found.lines)} line{'s' if len(found.lines) != 1 else ''}, {sum_words(found, currency)}."
    yield f"Axles ready {money_words(found.axles)} (as in Donors, Cost, without your hours), everything else {money_words(found.others)}; paid {money_words(found.paid)}, to pay {money_words(found.to_pay)}{unit}."
    if found.waits:
        yield f"Lines of the axles are missing until the rig has its {', '.join(found.waits)}."
    if found.unknown:
        n = len(found.unknown)
        yield f"{n} line{'s have' if n != 1 else ' has'} no price yet."
    if found.left is not None:
        if found.left < 0:
            yield f"Over the ceiling by {money_words(-found.left)}{unit}."
        else:
            yield f"{money_words(found.left)}{unit} left of the ceiling."
    for x in found.lines:
        if x.unlike and x.state != "wrong":
            yield f"{x.wanted.title}: ordered “{x.record.ordered_as}”, came “{x.record.came_as}”. Say whether it is wrong." if x.record is not None else ""  # fmt: skip


def counted(x: PartLine) -> str:
    """How many of what; one of a thing that is counted by the axle is only named."""
    return f"{x.wanted.count} × {x.wanted.title}" if x.wanted.count != 1 or x.wanted.unit else x.wanted.title


def line_words(x: PartLine) -> str:
    """One line."""
    words = counted(x)
    if x.wanted.unit:
        words += f" ({x.wanted.unit})"
    if x.wanted.end in ("front", "rear"):
        words += f", {x.wanted.end}"
    words += f": {PART_STATE_WORDS[x.state]}, {amount_words(x)}"
    if x.wanted.paid:
        words += f", paid {money_words(x.wanted.paid)}" + (f" on {x.wanted.pay_day}" if x.wanted.pay_day else "")
    r = x.record
    if r is not None and r.source:
        words += f", {SOURCE_WORDS[r.source]}"
    if x.due is not None:
        words += f", comes {x.due.likely.isoformat()}" + (", its day has passed" if x.due.overdue else "" if x.due.said else " if ordered today")  # fmt: skip
    if x.needed is not None:
        words += f", needed {x.needed.isoformat()}"
    if x.order_by is not None:
        words += f", order by {x.order_by.isoformat()}"
    if r is not None and r.ordered_as:
        words += f"; ordered as “{r.ordered_as}”" + (f", came as “{r.came_as}”" if r.came_as else "")
    if x.wanted.detail:
        words += f"; {x.wanted.detail}"
    if r is not None and r.ask is not None and x.state != "sold":
        words += f"; for sale after at {money_words(r.ask)}"
    if x.gone:
        words += "; nothing asks for it any more"
    return words + (f"; {r.note}" if r is not None and r.note else "")


def month_words(found: PartsList, plan: BuildPlan) -> Iterator[str]:
    """Money by month."""
    for m in found.months:
        over = f", over the month's ceiling by {money_words(m.over)}" if m.over else ""
        yield f"{m.name}: paid {money_words(m.paid)}, to pay {money_words(m.to_pay)}{over}."
    if found.undated:
        yield f"No day known of {money_words(found.undated)}."


def shopping(found: PartsList) -> tuple[PartLine, ...]:
    """What somebody still has to order or fetch, what has to be ordered first before the others; without a day last."""
    todo = [x for x in found.lines if x.to_order]
    return tuple(sorted(todo, key=lambda x: ((x.order_by or x.needed) is None, x.order_by or x.needed, x.wanted.title)))


def shopping_words(found: PartsList) -> Iterator[str]:
    """The shopping list."""
    todo = shopping(found)
    if todo:
        yield "To order or fetch:"
    for x in todo:
        when = f"by {x.order_by.isoformat()}" if x.order_by is not None else f"needed {x.needed.isoformat()}" if x.needed is not None else "no task needs it on a day yet"  # fmt: skip
        yield f"  {counted(x)}{f', {x.wanted.end}' if x.wanted.end != 'both' else ''}: {when}"


def due_lines(found: PartsList, today: datetime.date) -> list[tuple[PartLine, str]]:
    """Lines somebody has to do something about on a day, with what is wrong."""
    out = []
    for x in found.lines:
        if x.state == "wrong":
            out.append((x, "Came wrong"))
        elif x.unlike:
            out.append((x, "Came as another than ordered"))
        elif x.late:
            out.append((x, "Late"))
        elif x.due is not None and x.needed is not None and x.due.likely > x.needed:
            out.append((x, "Comes after it is needed"))
        elif x.order_by is not None and x.order_by <= today:
            out.append((x, "To be ordered"))
    return out


def between_words(found: Between, a: str, b: str) -> Iterator[str]:
    """Two builds held against each other."""
    more = found.difference
    which = f"{b} costs {money_words(more)} more" if more > 0 else f"{a} costs {money_words(-more)} more" if more < 0 else "They cost the same"  # fmt: skip
    least = f", {found.unknown} lines without a price left out" if found.unknown else ""
    yield f"{which}: {a} {money_words(found.total_a)}, {b} {money_words(found.total_b)}{least}."
    for name, lines in ((a, found.only_a), (b, found.only_b)):
        for x in lines:
            yield f"Only {name}: {x.wanted.title}{f', {x.wanted.end}' if x.wanted.end != 'both' else ''}: {amount_words(x)}"
    for one, two in found.both:
        same = one.amount == two.amount
        words = f"{one.wanted.title}{f', {one.wanted.end}' if one.wanted.end != 'both' else ''}"
        yield f"Both: {words}: {amount_words(one)}" + ("" if same else f" and {amount_words(two)}")
