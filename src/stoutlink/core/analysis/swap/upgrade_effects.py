"""What each upgrade does to one axle, whatever is weakest: margins of the parts it touches before and after, and what
is then the weakest.
"""

from __future__ import annotations

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.swap.ladder import Ladder, ladder
from stoutlink.core.analysis.swap.upgrade_path import price_of
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.upgrades import KINDS
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import UPGRADES, AxlePlan, Choosing, Price, Upgrade

SAME = 1e-9


class Touched(Struct, frozen=True):
    """One part an upgrade makes stronger: its margin without and with it."""

    title: str
    without: float
    with_it: float


class UpgradeEffect(Struct, frozen=True):
    """One upgrade on one axle: whether it is planned, its price, the parts it changes, the weakest margin without and
    with it (None: nothing known of the axle), and in words what it does beside the ladder or why it changes nothing.
    """

    id: Upgrade
    title: str
    planned: bool
    price: float
    parts: tuple[Touched, ...]
    weakest: tuple[float, float] | None
    words: str


def upgrade_effects(
    rig: Rig, donor: DonorAxle, plan: AxlePlan, choosing: Choosing, prices: tuple[Price, ...] = ()
) -> tuple[UpgradeEffect, ...]:
    """Every upgrade there is, held against the plan without it and with it, the others as planned."""
    kinds = {one.id: one for one in KINDS}
    out = []
    for name in UPGRADES:
        rest = tuple(u for u in plan.upgrades if u != name)
        without, with_it = (
            ladder(rig, donor, msgspec.structs.replace(plan, upgrades=ups), choosing) for ups in (rest, (*rest, name))
        )
        kind = kinds[name]
        after = {r.part: r.margin for r in with_it.rungs}
        parts = tuple(
            Touched(r.title, r.margin, after[r.part])
            for r in without.rungs
            if r.part in after and abs(after[r.part] - r.margin) > SAME * max(1.0, abs(r.margin))
        )
        ends = None if without.weakest is None or with_it.weakest is None else (without, with_it)
        weakest = None if ends is None else tuple(e.weakest.margin for e in ends if e.weakest is not None)
        out.append(
            UpgradeEffect(
                name,
                kind.title,
                name in plan.upgrades,
                price_of(prices, name),
                parts,
                None if weakest is None or len(weakest) != 2 else (weakest[0], weakest[1]),
                kind.beside or ("" if parts else _why_nothing(without, kind.parts)),
            )
        )
    return tuple(out)


def _why_nothing(now: Ladder, parts: tuple[str, ...]) -> str:
    """Why an upgrade changes no rung of a ladder."""
    unknown = [u.title.lower() for u in now.unknown if u.part in parts]
    if unknown:
        return f"its part is not known yet: {', '.join(unknown)}"
    known = [r for r in now.rungs if r.part in parts]
    if known:
        return f"{known[0].title.lower()} counts by its record, which this does not change"
    return "this axle has no such part"
