"""A line of the cost list and where its price is from: paid, asked, estimated, or free."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, Protocol

from msgspec import Struct
from msgspec.structs import replace

from stoutlink.core.catalogue.prices import BY_ID, Group
from stoutlink.core.document.build_plan import FREE, SOURCE_WORDS
from stoutlink.core.document.project import Project
from stoutlink.core.document.swap import Price
from stoutlink.core.quantity.money import to_cents

Basis = Literal["paid", "asked", "estimate", "free", "unknown"]


def line_key(name: str, end: str) -> str:
    """A line and its end in one word; a line for both ends is only itself."""
    return name if end == "both" else f"{name}-{end}"


class CostLine(Struct, frozen=True):
    """One line: what, for which end (or both), why, how many, amount for all (None: not known yet), hours for all,
    and whose price it is.
    """

    id: str
    end: str
    title: str
    why: str
    group: Group
    count: int
    amount: float | None
    hours: float
    own: bool
    paid: float = 0.0
    """What of it is paid already."""
    basis: Basis = "estimate"
    """What the amount rests on; ``free``: it is there, or made."""
    pay_day: str = ""
    named: str = ""
    """A line of one's own goes by its id, whatever its end."""

    @property
    def key(self) -> str:
        """The line and its end, as prices and the parts list name it."""
        return self.named or line_key(self.id, self.end)


def price_of(own: dict[str, Price], name: str, end: str) -> Price | None:
    """What was typed for a line: for its end, and for both ends where its own says nothing."""
    mine, both = own.get(f"{name}-{end}"), own.get(name)
    if mine is None or both is None:
        return mine or both
    amount, hours = (getattr(mine if getattr(mine, n) is not None else both, n) for n in ("amount", "hours"))
    paid = mine if mine.paid is not None else both
    return Price(
        id=mine.id,
        amount=amount,
        hours=hours,
        paid=paid.paid,
        settled=paid.settled,
        paid_on=mine.paid_on or both.paid_on,
    )


class MakeLine(Protocol):
    """Makes one line of the price list."""

    def __call__(self, name: str, end: str, why: str, count: int = 1, title: str = "") -> CostLine: ...


def line_maker(project: Project) -> MakeLine:
    """Lines at the user's prices, those for one end first, else at the estimates that ship; what is on the shelf, made here or
    freed by another choice costs nothing while no price is typed. Every line is rounded to the cent by itself."""
    own = {p.id: p for p in project.swap.prices}
    there = {r.id: r.source for r in project.build.arrivals if r.source in FREE}

    def line(name: str, end: str, why: str, count: int = 1, title: str = "") -> CostLine:
        known, key = BY_ID[name], line_key(name, end)
        mine = price_of(own, name, end)
        hours = known.hours if mine is None or mine.hours is None else mine.hours
        source = there.get(key, "")
        basis: Basis = "estimate"
        amount = known.amount * count
        price, all_paid = (None, False) if mine is None else mine.whole(None, count)
        if price is not None:
            amount, basis = (price, "paid" if all_paid else "asked")
        elif source:
            amount, basis = 0.0, "free"
        return CostLine(
            name,
            end,
            title or known.title,
            f"{SOURCE_WORDS[source]}: {why}" if basis == "free" else why,
            known.group,
            count,
            to_cents(amount),
            hours * count,
            mine is not None or bool(source),
            to_cents(0.0 if mine is None else mine.paid or 0.0),
            basis,
            "" if mine is None else mine.paid_on,
        )

    return line


def common_lines(project: Project, line: MakeLine) -> Iterator[CostLine]:
    """What is bought with the swap whatever the axles, and the user's own lines and credits."""
    yield from (line(name, "both", "bought with the swap") for name in project.swap.choosing.buys)
    prices = {p.id: p for p in project.swap.prices}
    for own in project.swap.own_costs:
        mine = prices.get(own.id)
        made = CostLine(
            own.id, own.end, own.title, "a line of your own", own.group, 1, to_cents(own.amount), own.hours, True
        )
        yield priced(replace(made, basis="asked", named=own.id), mine)
    for one in project.build.arrivals:
        if one.state == "sold" and one.sold_for is not None:
            credit = to_cents(-one.sold_for)
            title = f"Sold: {one.name or one.id.replace('_', ' ')}"
            yield CostLine(
                f"sold-{one.id}", "both", title, "money back", "part", 1, credit, 0.0, True, credit, "paid", one.sold_on
            )


def priced(line: CostLine, mine: Price | None) -> CostLine:
    """A line of a price of its own with what was paid of it."""
    if mine is None:
        return line
    amount, all_paid = mine.whole(line.amount)
    basis: Basis = "paid" if all_paid else "asked" if mine.amount is not None else line.basis
    return replace(
        line,
        amount=None if amount is None else to_cents(amount),
        paid=to_cents(mine.paid or 0.0),
        basis=basis,
        pay_day=mine.paid_on,
    )
