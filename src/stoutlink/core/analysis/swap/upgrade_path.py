"""What becomes the weakest once the weakest is dealt with, step by step, with its price, and where a bigger axle is
the answer.
"""

from __future__ import annotations

import math

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.swap.ladder import Ladder, ladder
from stoutlink.core.analysis.swap.margins import fitted_margins
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.prices import BY_ID as PRICE_LINES
from stoutlink.core.catalogue.upgrades import BY_PART
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan, Choosing, Price

ENOUGH = 1.0
MOST_STEPS = 6


class Strengthening(Struct, frozen=True):
    """One state of the path: what was done, the price of it, and the weakest part then with its margin."""

    did: str
    upgrade: str
    price: float
    weakest: str
    margin: float


class Path(Struct, frozen=True):
    """The steps, the first as it comes; ``end`` says in words why it ends."""

    steps: tuple[Strengthening, ...]
    end: str


def price_of(prices: tuple[Price, ...], line: str) -> float:
    """The user's price for a line, else the estimate that ships."""
    own = next((p for p in prices if p.id == line), None)
    return PRICE_LINES[line].amount if own is None or own.amount is None else own.amount


def upgrade_path(
    rig: Rig, donor: DonorAxle, plan: AxlePlan, choosing: Choosing, prices: tuple[Price, ...] = ()
) -> Path:
    """Mend the weakest part again and again until everything holds (margin 1) or the part can only be had with a
    bigger axle.
    """
    now = ladder(rig, donor, plan, choosing)
    steps: list[Strengthening] = []
    price, did, name = 0.0, "as planned" if plan.upgrades else "as it comes", ""
    while True:
        weak = now.weakest
        if weak is None:
            return Path(tuple(steps), "Too little is known of this axle to say.")
        steps.append(Strengthening(did, name, price, weak.title, weak.margin))
        if weak.margin >= ENOUGH:
            missing = f" {len(now.unknown)} parts are not known." if now.unknown else ""
            return Path(tuple(steps), f"Everything known holds with one wheel carrying the axle.{missing}")
        kind = BY_PART.get(weak.part)
        if kind is None or kind.id in plan.upgrades or len(steps) > MOST_STEPS:
            return Path(
                tuple(steps),
                f"{weak.title} cannot be had stronger in this housing: less tyre, less gear, another locker, or a bigger axle.",
            )
        plan = msgspec.structs.replace(plan, upgrades=(*plan.upgrades, kind.id))
        did, name, price = kind.title, kind.id, price_of(prices, kind.id)
        now = ladder(rig, donor, plan, choosing)


def stronger_axles(project: Project, rig: Rig, than: Ladder) -> tuple[tuple[DonorAxle, float], ...]:
    """Axles of the same end whose weakest known part holds better, with that margin, best first; at most three."""
    floor = than.weakest.margin if than.weakest is not None else 0.0
    plan = msgspec.structs.replace(project.plan(than.end), upgrades=(), gears=None)
    others = [d for d in project.swap.donors if d.end == than.end and d.id != than.donor.id]
    if not others:
        return ()
    margins = fitted_margins(rig, others, plan, project.swap.choosing, than.end)
    found = [(other, float(m)) for other, m in zip(others, margins, strict=True) if math.isfinite(m) and m > floor]
    return tuple(sorted(found, key=lambda pair: -pair[1])[:3])
