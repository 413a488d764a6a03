"""What if a part comes later, or a day is lost: what moves in the order of now, and where the last day comes to be laid out anew."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.plan.plan_sheet import Moved, PlanSheet, Row, moved, plan_sheet
from stoutlink.core.analysis.plan.tasks import Task
from stoutlink.core.document.build_plan import BuildPlan


class WhatIf(Struct, frozen=True):
    """``moved``: what moves while the order of now is kept; ``rows``: those tasks where they would be then, by key; ``anew``: days
    the last day moves by where all is laid out anew (``None``: there is none)."""

    moved: Moved
    rows: dict[str, Row]
    anew: float | None


def what_if(tasks: tuple[Task, ...], plan: BuildPlan, other: BuildPlan, now: int, sheet: PlanSheet | None) -> WhatIf:
    """Hold a plan against an ``other``, both scheduled from the minute ``now`` on in the order of a ``sheet``: only moves what has
    to. Laid out anew the other is in the best order found, as the plan itself is."""
    before, after = (plan_sheet(tasks, one, now, sheet) for one in (plan, other))
    best, was = plan_sheet(tasks, other, now), plan_sheet(tasks, plan, now) if sheet is None else sheet
    anew = None if best.end is None or was.end is None else moved(was, best).days
    found = moved(before, after)
    keys = {key for key, _ in found.tasks}
    return WhatIf(found, {r.task.key: r for r in after.rows if r.task.key in keys}, anew)
