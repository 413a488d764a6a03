"""What would have it driving sooner: tasks that may be left out, parts that come at once, one more pair of hands, one more evening."""

from __future__ import annotations

from typing import Literal

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.plan.plan_sheet import PlanSheet, could_drop, moved, plan_sheet
from stoutlink.core.analysis.plan.tasks import Task
from stoutlink.core.document.build_plan import BuildPlan, Worker
from stoutlink.core.document.paths import with_value

Way = Literal["drop", "part", "hands", "place"]
MOST = 8
"""Parts that are tried."""


class Sooner(Struct, frozen=True):
    """One way and the days it wins."""

    way: Way
    key: str
    days: float


def sooner(tasks: tuple[Task, ...], plan: BuildPlan, sheet: PlanSheet, now: int) -> tuple[Sooner, ...]:
    """Every way that wins anything, the best first: what may be left out, the parts the chain waits for if they were here, one
    more person, one more task at the vehicle at once. Nothing while there is no day."""
    if sheet.end is None:
        return ()
    out = [Sooner("drop", key, days) for key, days in could_drop(tasks, plan, sheet, now)]
    late = {r.why.key for r in sheet.rows if r.why is not None and r.why.wait == "part" and r.begin is not None}
    tries: list[tuple[Way, str, BuildPlan]] = []
    for key in sorted(late, key=lambda k: -sheet.arrivals.get(k, 0))[:MOST]:
        tries.append(("part", key, with_value_of(plan, key)))
    if len(plan.people) < 4:
        more = Worker(id="one-more", name="One more")
        tries.append(("hands", "", msgspec.structs.replace(plan, people=(*plan.people, more))))
    if plan.places < 4:
        tries.append(("place", "", msgspec.structs.replace(plan, places=plan.places + 1)))
    for way, key, other in tries:
        won = -moved(sheet, plan_sheet(tasks, other, now)).days
        if won > 0:
            out.append(Sooner(way, key, won))
    return tuple(sorted(out, key=lambda s: -s.days))


def with_value_of(plan: BuildPlan, key: str) -> BuildPlan:
    """The plan with a part here."""
    return with_value(plan, f"arrivals.{key}.state", "here")
