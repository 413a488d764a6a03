"""Edits of the plan: a parts table taken in, a task that deals with a knock-on, a task said to be done, a day closed."""

from __future__ import annotations

from typing import Any

import msgspec

from stoutlink.core.document.build_plan import OVER, DayClose, OwnTask, PartRecord, TaskChange, TaskState
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.paths import get_value, with_value
from stoutlink.core.document.project import Accepted, Project, with_parts
from stoutlink.core.document.swap import OwnCost, Price
from stoutlink.core.editing.bench_edits import put
from stoutlink.core.editing.edits import Edit

_RECORD = {
    "ordered_as": "ordered_as", "came_as": "came_as", "source": "source", "state": "state", "seller": "seller", "note": "note", "ordered": "ordered",
    "lead_days": "lead_days", "earliest": "earliest", "likely": "likely", "latest": "latest", "for_sale_at": "ask", "sold_for": "sold_for", "sold_on": "sold_on",
}  # fmt: skip
_PRICE = {"price_each": "amount", "paid": "paid", "paid_in_full": "settled", "paid_on": "paid_on"}


class TakeParts(Edit, frozen=True):
    """Take rows of a parts table in: each a line (empty: one of one's own), its item and what its columns say."""

    rows: tuple[tuple[str, str, dict[str, Any]], ...]

    @property
    def label(self) -> str:
        return f"Take in {len(self.rows)} parts"

    def change(self, project: Project) -> Project:
        records, prices, own = list(project.build.arrivals), list(project.swap.prices), list(project.swap.own_costs)
        for line, item, values in self.rows:
            if not line:
                line = free_id("own-", (o.id for o in own))
                own.append(OwnCost(id=line, title=item))
            mine = next((k for k, o in enumerate(own) if o.id == line), None)
            price = {_PRICE[k]: v for k, v in values.items() if k in _PRICE}
            if mine is not None and "amount" in price:
                own[mine] = msgspec.structs.replace(own[mine], amount=price.pop("amount") or 0.0)
            _into(prices, Price(id=line), price)
            _into(records, PartRecord(id=line, name=item), {_RECORD[k]: v for k, v in values.items() if k in _RECORD})
        build = msgspec.structs.replace(project.build, arrivals=tuple(records))
        return with_parts(project, build=build, prices=tuple(prices), own_costs=tuple(own))


def _into(items: list[Any], plain: Any, values: dict[str, Any]) -> None:
    """Put values into the item of a list; an item nothing is said of does not come into it."""
    at = next((k for k, one in enumerate(items) if one.id == plain.id), None)
    old = plain if at is None else items[at]
    new = msgspec.structs.replace(old, **values)
    if new != old:
        items[len(items) if at is None else at : len(items) if at is None else at + 1] = [new]


class TaskOfKnockOn(Edit, frozen=True):
    """Make a knock-on a task of one's own; ``keys`` of its findings, ``title`` and ``lane`` of the task."""

    keys: tuple[str, ...]
    title: str
    lane: str
    step: str = ""

    @property
    def label(self) -> str:
        return "Make a task of a knock-on"

    def change(self, project: Project) -> Project:
        key = free_id("own-", (o.id for o in project.build.own))
        task = OwnTask(id=key, title=self.title[:120], lane=self.lane, step=self.step, knock_ons=self.keys)  # type: ignore[arg-type]
        return with_value(project, "build.own", (*project.build.own, task))


class MarkTask(Edit, frozen=True):
    """Say how far a task is, on a day. A knock-on it deals with is accepted when it is done, and open again when it is not."""

    key: str
    state: TaskState
    when: str
    title: str = ""

    @property
    def label(self) -> str:
        return f"Task {self.state}"

    def change(self, project: Project) -> Project:
        old: TaskChange = get_value(project, f"build.changes.{self.key}")
        new = msgspec.structs.replace(old, state=self.state, when=self.when if self.state != "open" else "")
        after = with_value(project, "build.changes", put(project.build.changes, new))
        own = next((o for o in project.build.own if o.id == self.key), None)
        if own is None or not own.knock_ons:
            return after
        codes = own.knock_ons
        rest = tuple(a for a in after.accepted if a.code not in codes)
        if self.state in OVER and self.state != "dropped":
            why = f"Done as a task: {own.title}"[:400]
            rest = (*rest, *(Accepted(code=code, when=self.when, why=why) for code in codes))
        return after if rest == after.accepted else msgspec.structs.replace(after, accepted=rest)


class CloseDay(Edit, frozen=True):
    """Write down where a day was left; written again the same day, the later counts."""

    day: str
    left: str
    who: str

    @property
    def label(self) -> str:
        return "Close the day"

    def change(self, project: Project) -> Project:
        one = DayClose(id=f"day-{self.day}", day=self.day, left=self.left[:400], who=self.who[:60])
        return with_value(project, "build.closes", put(project.build.closes, one))
