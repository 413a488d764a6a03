"""The parts list as plain data, as text, as a table that is read back, as pages; two builds held against each other."""

from __future__ import annotations

import datetime
from collections.abc import Iterator
from typing import Any

from stoutlink.core.advice.parts_words import (
    PARTS_CAUTION,
    between_words,
    line_words,
    list_words,
    month_words,
    shopping_words,
)
from stoutlink.core.analysis.plan.parts_list import Between, PartLine, PartsList
from stoutlink.core.document.build_plan import LANE_WORDS, LANES, BuildPlan, PartRecord
from stoutlink.core.document.price_text import money_words
from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import Price
from stoutlink.core.reports.packet_pages import BOX, Written
from stoutlink.core.storage.parts_table import COLUMNS
from stoutlink.core.tables import table_text


def parts_json(found: PartsList, currency: str) -> dict[str, Any]:
    """The list, money in the project's currency, ISO days."""
    return {
        "currency": currency,
        "total": found.total,
        "axles_ready": found.axles,
        "everything_else": found.others,
        "paid": found.paid,
        "to_pay": found.to_pay,
        "without_price": list(found.unknown),
        "left_of_ceiling": found.left,
        "not_entered": list(found.waits),
        "months": [{"month": m.name, "paid": m.paid, "to_pay": m.to_pay, "over": m.over} for m in found.months],
        "no_day": found.undated,
        "lines": [_line(x) for x in found.lines],
    }


def _line(x: PartLine) -> dict[str, Any]:
    r = x.record or PartRecord(id=x.key)
    return {
        "line": x.key,
        "system": x.wanted.system,
        "item": x.wanted.title,
        "why": x.wanted.why,
        "detail": x.wanted.detail,
        "kind": x.wanted.kind,
        "count": x.wanted.count,
        "unit": x.wanted.unit,
        "amount": x.amount,
        "basis": x.wanted.basis,
        "paid": x.wanted.paid,
        "pay_day": x.pay_day or None,
        "state": x.state,
        "source": r.source,
        "ordered_as": r.ordered_as,
        "came_as": r.came_as,
        "unlike": x.unlike,
        "comes": None if x.due is None else x.due.likely.isoformat(),
        "late": x.late,
        "needed": None if x.needed is None else x.needed.isoformat(),
        "task": x.task or None,
        "order_by": None if x.order_by is None else x.order_by.isoformat(),
        "for_sale_at": r.ask,
        "sold_for": r.sold_for,
        "in_cost_of_axles": x.wanted.of_axles,
        "no_longer_asked_for": x.gone,
    }


def parts_text(found: PartsList, plan: BuildPlan, currency: str) -> str:
    """The list in words."""
    lines = list(list_words(found, plan, currency))
    for lane in LANES:
        mine = [x for x in found.lines if x.wanted.system == lane]
        if mine:
            lines += ["", LANE_WORDS[lane], *(line_words(x) for x in mine)]
    lines += ["", *month_words(found, plan), *shopping_words(found), PARTS_CAUTION]
    return "\n".join(lines)


def parts_csv(found: PartsList, project: Project) -> str:
    """Every line as a row; what may be changed in it comes back with :func:`stoutlink.core.storage.parts_table.read_parts`."""
    prices = {p.id: p for p in project.swap.prices}
    own = {o.id: o for o in project.swap.own_costs}
    rows: list[tuple[object, ...]] = [COLUMNS]
    for x in found.lines:
        r, p = x.record or PartRecord(id=x.key), prices.get(x.key, Price(id="none"))
        each = own[x.key].amount if x.key in own else p.amount
        rows.append(
            (
                x.key, x.wanted.system, x.wanted.title, x.wanted.count, x.wanted.unit, x.wanted.detail or x.wanted.why,
                _money(x.amount), x.wanted.basis, _money(each), _money(p.paid), "yes" if p.settled else "", p.paid_on,
                r.ordered_as, r.came_as, r.source, x.state, r.seller, r.note, r.ordered, "" if r.lead_days is None else r.lead_days,
                r.earliest, r.likely, r.latest, _money(r.ask), _money(r.sold_for), r.sold_on,
                "" if x.needed is None else x.needed.isoformat(), x.task,
            )
        )  # fmt: skip
    return table_text(rows)


def _money(amount: float | None) -> str:
    return "" if amount is None else f"{amount:.2f}"


def between_json(found: Between) -> dict[str, Any]:
    """Two builds, line by line."""

    def one(x: PartLine) -> dict[str, Any]:
        return {"line": x.key, "item": x.wanted.title, "amount": x.amount}

    return {
        "only_a": [one(x) for x in found.only_a],
        "only_b": [one(x) for x in found.only_b],
        "both": [{**one(a), "amount_b": b.amount} for a, b in found.both],
        "total_a": found.total_a,
        "total_b": found.total_b,
        "b_costs_more": found.difference,
        "lines_without_price": found.unknown,
    }


def between_text(found: Between, a: str, b: str) -> str:
    """Two builds in words."""
    return "\n".join(between_words(found, a, b))


def parts_pages(found: PartsList, plan: BuildPlan, currency: str, today: datetime.date) -> Iterator[Written]:
    """The list to take along: what is to be ordered or fetched first, then all of it."""
    head = tuple(list_words(found, plan, currency))
    rows = tuple(
        (
            LANE_WORDS[x.wanted.system], x.wanted.title, str(x.wanted.count), x.state,
            "" if x.amount is None else money_words(x.amount), "" if x.needed is None else x.needed.isoformat(), BOX,
        )
        for x in found.lines
    )  # fmt: skip
    yield Written(f"Parts, {today.isoformat()}", head, ("Where", "Item", "No.", "State", "Price", "Needed", "Here"), rows, (1.8, 6, 0.8, 1.3, 1.3, 1.6, 0.9), (*month_words(found, plan), PARTS_CAUTION))  # fmt: skip
