"""Pairs of axles ranked by what the user weighs: six criteria in the open, the front of the best, and in words why
one is ahead.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.swap.bolt_circles import wants_pair_adapters
from stoutlink.core.analysis.swap.cost_line import CostLine, MakeLine, common_lines, line_maker
from stoutlink.core.analysis.swap.cost_to_ready import axle_lines, lone_lines, wants_air, wants_speed_correction
from stoutlink.core.analysis.swap.fit_up import housing_clearance
from stoutlink.core.analysis.swap.gear_choice import MOST_APART, asked_ratio, gear_key, least_ratio, wanted_ratio
from stoutlink.core.analysis.swap.locker_advice import manners
from stoutlink.core.analysis.swap.margins import worst_margins
from stoutlink.core.catalogue.donor import DonorAxle, ToothPair
from stoutlink.core.catalogue.lockers import BY_ID as LOCKER_KINDS
from stoutlink.core.document.fitted_axle import as_fitted, fitted_parts
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.swap import AxlePlan, planned_locker
from stoutlink.core.mechanics.pareto import front_of

Array = NDArray[np.float64]
ENOUGH_MARGIN = 2.0
"""A margin beyond this counts as this: nothing is gained by an axle that could carry a lorry."""
CRITERIA: dict[str, tuple[str, bool]] = {
    "strength": ("Strength margin", True), "weight": ("Weight", False), "clearance": ("Under the housing", True), "cost": ("Cost to ready", False),
    "hours": ("Work hours", False), "manners": ("Road manners", True),
}  # fmt: skip
"""Criterion → title, and whether more is better."""


class PairScore(Struct, frozen=True):
    """A pair: its gears, the six numbers (SI, NaN where not known), each scaled to 0…1 between the worst and the best
    candidate, the weighted mean, and what is not known about it."""

    front: DonorAxle | None
    rear: DonorAxle | None
    gears: tuple[ToothPair | None, ToothPair | None]
    numbers: dict[str, float]
    scaled: dict[str, float]
    score: float
    on_front: bool
    unknown: tuple[str, ...]
    crawl: float = math.nan
    """First × low × axle × hub with these gears."""

    @property
    def name(self) -> str:
        """Both names."""
        return " + ".join(a.name for a in (self.front, self.rear) if a is not None)


class Ranking(Struct, frozen=True):
    """The best pairs first; ``cloud`` has every pair that is not ruled out as columns of criteria, with its place in
    ``best`` or −1.
    """

    best: tuple[PairScore, ...]
    cloud: dict[str, Array]
    considered: int
    ruled_out: int
    wanted_ratio: float | None
    weights: dict[str, float]


@dataclass
class _Side:
    """All candidates of one end as arrays: rows axles, columns gear sets."""

    axles: list[DonorAxle | None]
    sets: list[list[ToothPair | None]]
    speed: Array
    margin: Array
    regear: NDArray[np.bool_]
    gear_cost: Array
    gear_hours: Array
    gear_spend: Array
    weight: Array
    clearance: Array
    cost: Array
    hours: Array
    manners: Array
    air: NDArray[np.bool_]
    flags: list[tuple[str, ...]]


class Stopped(Exception):
    """The ranking was given up because nobody waits for it any longer."""


Progress = Callable[[float], bool]
"""Told how far it is, 0 to 1; answers whether to go on."""


def rank_pairs(
    project: Project,
    rig: Rig,
    fronts: Sequence[DonorAxle | None],
    rears: Sequence[DonorAxle | None],
    *,
    most: int = 40,
    progress: Progress | None = None,
) -> Ranking:
    """Rank every pair. Pairs of which no two gear sets are within 1 % of each other are ruled out. An end without
    candidates is ``[None]``.

    Cost is the total of the cost list, tools apart as there. Gears per pair: of the sets that go together, those within
    8 % of the ratio that keeps the old feel that cost least at both ends, then the nearest; none near: the nearest; or, where the deepest are wanted, those. Pairs whose weakest part holds less than the least
    margin wanted come behind all that hold, the nearest to holding first. What is not known about a pair counts as
    the worst, and is named. ``progress`` is told how far it is and may raise :class:`Stopped` by answering False.
    """

    def tell(part: float) -> None:
        if progress is not None and not progress(part):
            raise Stopped

    f, r = (
        _side(project, rig, [a if a is None else as_fitted(project, a) for a in axles] or [None], end, told)
        for axles, end, told in (
            (fronts, "front", lambda part: tell(0.3 * part)),
            (rears, "rear", lambda part: tell(0.3 + 0.3 * part)),
        )
    )
    wanted, least = wanted_ratio(rig, "rear"), least_ratio(project, rig)
    kf, kr, allowed = _choose_gears(
        f, r, wanted, asked_ratio(project, rig), rig.rear.rolling, lambda part: tell(0.6 + 0.3 * part)
    )
    rows, cols = np.nonzero(allowed)
    tell(0.9)
    a, b = kf[rows, cols], kr[rows, cols]
    line = line_maker(project)
    adapters, air = line("adapters", "both", ""), line("air_supply", "both", "")
    differ = _differ(project, rig, f, r)[rows, cols]
    airless = f.air[rows] | r.air[cols]
    common = [x for x in common_lines(project, line) if x.group != "tool"]
    numbers: dict[str, Array] = {
        "strength": np.minimum(f.margin[rows, a], r.margin[cols, b]),
        "weight": f.weight[rows] + r.weight[cols],
        "clearance": np.minimum(f.clearance[rows], r.clearance[cols]),
        "hours": f.hours[rows]
        + r.hours[cols]
        + f.gear_hours[rows, a]
        + r.gear_hours[cols, b]
        + differ * adapters.hours
        + airless * air.hours
        + sum(x.hours for x in common_lines(project, line)),
        "manners": np.minimum(f.manners[rows], r.manners[cols]),
    }
    money = (
        f.cost[rows]
        + r.cost[cols]
        + f.gear_cost[rows, a]
        + r.gear_cost[cols, b]
        + differ * (adapters.amount or 0.0)
        + airless * (air.amount or 0.0)
        + sum(x.amount or 0.0 for x in common)
    )
    numbers["cost"] = money + numbers["hours"] * project.swap.choosing.hour_price
    weights = {name: float(getattr(project.swap.choosing, name)) for name in CRITERIA}
    scaled = {
        name: _scale(np.minimum(v, ENOUGH_MARGIN) if name == "strength" else v, CRITERIA[name][1])
        for name, v in numbers.items()
    }
    total = sum(weights.values()) or 1.0
    score = sum((weights[name] * scaled[name] for name in CRITERIA), np.zeros(len(rows))) / total
    weak = np.asarray(np.logical_not(numbers["strength"] >= project.swap.choosing.least_margin))
    lone = r.axles == [None]
    deep = f.speed[rows, a] * rig.front.rolling if lone else r.speed[cols, b] * rig.rear.rolling
    crawl = deep * rig.drivetrain.first_ratio * rig.drivetrain.transfer_low_ratio
    fast = np.asarray(np.logical_not(deep >= least * (1.0 - 1e-9))) & (least > 0)
    behind = np.where(weak, -np.nan_to_num(numbers["strength"], nan=-1.0), 0.0)
    order = np.lexsort((cols, rows, numbers["cost"], -score, behind, weak, fast))[:most]
    kept_good = (
        np.column_stack([scaled[name][order] for name in CRITERIA]) if len(order) else np.zeros((0, len(CRITERIA)))
    )
    on_front = front_of(kept_good)
    best = []
    for n, i in enumerate(order):
        one, two = f.axles[rows[i]], r.axles[cols[i]]
        best.append(
            PairScore(
                one,
                two,
                (f.sets[rows[i]][a[i]], r.sets[cols[i]][b[i]]),
                {k: float(v[i]) for k, v in numbers.items()},
                {k: float(v[i]) for k, v in scaled.items()},
                float(score[i]),
                bool(on_front[n]),
                (*f.flags[rows[i]], *r.flags[cols[i]]),
                float(crawl[i]),
            )
        )
    place = np.full(len(rows), -1.0)
    place[order] = np.arange(len(order))
    cloud = {**numbers, "score": score, "place": place}
    return Ranking(tuple(best), cloud, allowed.size, int(allowed.size - len(rows)), wanted, weights)


def _scale(values: Array, more: bool) -> Array:
    """0 for the worst candidate, 1 for the best; what is not known is 0."""
    known = values[np.isfinite(values)]
    if not known.size or known.max() - known.min() <= 1e-12 * max(1.0, abs(float(known.max()))):
        return np.where(np.isnan(values), 0.0, 1.0)
    part = (np.clip(values, known.min(), known.max()) - known.min()) / (known.max() - known.min())
    return np.where(np.isnan(values), 0.0, part if more else 1.0 - part)


def _choose_gears(
    f: _Side, r: _Side, wanted: float | None, least: float, rear_rolling: float, tell: Callable[[float], None]
) -> tuple[NDArray[np.int64], NDArray[np.int64], NDArray[np.bool_]]:
    """For every pair the gear set of each end, and whether any two go together. Speeds are ratio over rolling radius,
    hub gears in.
    """
    shape = (len(f.axles), len(r.axles))
    best = np.full(shape, np.inf)
    kf, kr = np.zeros(shape, dtype=np.int64), np.zeros(shape, dtype=np.int64)
    lone = f.axles == [None] or r.axles == [None]
    for i in range(f.speed.shape[1]):
        tell(i / f.speed.shape[1])
        for j in range(r.speed.shape[1]):
            one, two = f.speed[:, i][:, None], r.speed[:, j][None, :]
            with np.errstate(invalid="ignore"):
                apart = np.abs(one / two - 1.0)
            exists = (
                np.isfinite(two)
                if f.axles == [None]
                else np.isfinite(one)
                if r.axles == [None]
                else np.isfinite(one) & np.isfinite(two)
            )
            good = exists if lone else exists & (apart <= MOST_APART)
            speed = one if r.axles == [None] else two
            spend = f.gear_spend[:, i][:, None] + r.gear_spend[:, j][None, :]
            key = np.where(good, gear_key(spend, speed * rear_rolling, wanted, least), np.inf)
            better = key < best - 1e-12
            best[better], kf[better], kr[better] = key[better], i, j
    unknown = ~np.isfinite(best)
    if not lone:  # a pair of which one axle's gears are not known is not ruled out, only not known
        blind = [np.isnan(side.speed).all(axis=1, keepdims=True) for side in (f, r)]
        blank = blind[0] | blind[1].T
        return kf, kr, ~unknown | blank
    return kf, kr, np.ones(shape, dtype=bool)


def _differ(project: Project, rig: Rig, f: _Side, r: _Side) -> NDArray[np.bool_]:
    """Whether a pair needs adapters between its two bolt circles (only when the wheels at hand do not already decide
    it).
    """
    fit = rig.fittings
    if fit.wheel_bolt_count is not None and fit.wheel_bolt_circle_m is not None:
        return np.zeros((len(f.axles), len(r.axles)), dtype=bool)
    kinds: dict[tuple[int | None, float | None], int] = {}
    codes = []
    for side in (f, r):
        codes.append(
            np.array(
                [
                    kinds.setdefault((a.bolt_count, a.bolt_circle_m) if a else (None, None), len(kinds))
                    for a in side.axles
                ]
            )
        )
    table = np.zeros((len(kinds), len(kinds)), dtype=bool)
    some = {
        code: next(
            a for side in (f, r) for a in side.axles if ((a.bolt_count, a.bolt_circle_m) if a else (None, None)) == key
        )
        for key, code in kinds.items()
    }
    for one, a in some.items():
        for two, b in some.items():
            table[one, two] = a is not None and b is not None and wants_pair_adapters(project, a, b)
    out: NDArray[np.bool_] = table[codes[0][:, None], codes[1][None, :]]
    return out


def _side(project: Project, rig: Rig, axles: list[DonorAxle | None], end: str, tell: Callable[[float], None]) -> _Side:
    """Everything about the candidates of one end that does not depend on the other."""
    plan, line = project.plan(end), line_maker(project)
    sets = [_gear_sets(axle, plan) for axle in axles]
    wide = max(len(s) for s in sets)
    ratio = np.full((len(axles), wide), np.nan)
    for i, row in enumerate(sets):
        ratio[i, : len(row)] = [pair.ratio if pair is not None else np.nan for pair in row]
    hub = np.array([a.hub_ratio if a else 1.0 for a in axles])
    bills = []
    for i, axle in enumerate(axles):
        if i % 50 == 0:
            tell(i / len(axles))
        bills.append(_bill(project, rig, axle, plan.gears_for(axle) if axle else None, sets[i], line))

    def padded(name: str) -> Array:
        out = np.zeros((len(axles), wide))
        for i, bill in enumerate(bills):
            out[i, : len(sets[i])] = getattr(bill, name)
        return out

    return _Side(
        axles=axles,
        sets=sets,
        speed=ratio * hub[:, None] / rig.end(end).rolling,
        margin=worst_margins(rig, axles, ratio, plan, project.swap.choosing, end),
        regear=padded("regear").astype(bool),
        gear_cost=padded("gear_cost"),
        gear_hours=padded("gear_hours"),
        gear_spend=padded("gear_cost") + padded("gear_hours") * project.swap.choosing.hour_price,
        air=np.array([a is not None and wants_air(project, rig, a) for a in axles]),
        weight=np.array([0.0 if a is None else math.nan if a.weight_kg is None else a.weight_kg for a in axles]),
        clearance=np.array([_clearance(project, rig, a) for a in axles]),
        cost=np.array([bill.cost for bill in bills]),
        hours=np.array([bill.hours for bill in bills]),
        manners=np.array([_calm(rig, end, a, plan) for a in axles]),
        flags=[_not_known(a) for a in axles],
    )


def _gear_sets(axle: DonorAxle | None, plan: AxlePlan) -> list[ToothPair | None]:
    """The sets a candidate can run: the planned one, else all there are for it, else one that is not known."""
    if axle is None:
        return [None]
    planned = plan.gears_for(axle)
    return [planned] if planned is not None else [*axle.offers] or [None]


def _calm(rig: Rig, end: str, axle: DonorAxle | None, plan: AxlePlan) -> float:
    return 1.0 if axle is None else manners(rig, end, LOCKER_KINDS[planned_locker(axle, plan)[0]])


def _not_known(axle: DonorAxle | None) -> tuple[str, ...]:
    """What stands in a candidate's row without being known."""
    if axle is None:
        return ()
    missing = (
        (axle.price is None, "price"),
        (not axle.offers, "gears"),
        (axle.weight_kg is None, "weight"),
        (axle.ring_diameter_m is None, "ring gear"),
    )
    return tuple(f"{axle.name}: {word}" for gone, word in missing if gone)


@dataclass
class _Bill:
    """What one candidate costs as it comes, and what each of its gear sets adds."""

    cost: float
    hours: float
    opened: bool
    regear: list[bool]
    gear_cost: list[float]
    gear_hours: list[float]


def _bill(
    project: Project,
    rig: Rig,
    axle: DonorAxle | None,
    planned: ToothPair | None,
    sets: list[ToothPair | None],
    line: MakeLine,
) -> _Bill:
    none = [0.0] * len(sets)
    if axle is None:
        return _Bill(0.0, 0.0, False, [False] * len(sets), none, [*none])
    cost, hours, opened = _collect(project, rig, axle, planned, line)
    bill = _Bill(cost, hours, opened, [False] * len(sets), none, [*none])
    speed = line("speed_correction", "rear", "")
    shelf = fitted_parts(project, axle.end).get("gear_set")
    known: dict[tuple[bool, bool], tuple[float, float]] = {}
    for j, pair in enumerate(sets):
        bill.regear[j] = pair is not None and pair != axle.pair
        if pair is not None and bill.regear[j] and planned is None:
            crosses = pair.ratio > (axle.carrier_break_ratio or math.inf), shelf is not None and shelf.gears == pair
            if crosses not in known:
                extra = _collect(project, rig, axle, pair, line)
                known[crosses] = (extra[0] - cost, extra[1] - hours)
            bill.gear_cost[j], bill.gear_hours[j] = known[crosses]
        if wants_speed_correction(rig, axle, pair):
            bill.gear_cost[j] += speed.amount or 0.0
            bill.gear_hours[j] += speed.hours
    return bill


def _collect(
    project: Project, rig: Rig, axle: DonorAxle, gears: ToothPair | None, line: MakeLine
) -> tuple[float, float, bool]:
    """Amount and hours of an axle's own lines (adapters for the wheels at hand and speedometer in), and whether it is
    opened.
    """
    lines: list[CostLine] = []
    walk = axle_lines(project, rig, axle, gears, line)
    while True:
        try:
            lines.append(next(walk))
        except StopIteration as end:
            done = bool(end.value)
            break
    lines += lone_lines(project, rig, axle, line)
    return sum(x.amount or 0.0 for x in lines), sum(x.hours for x in lines), done


def _clearance(project: Project, rig: Rig, axle: DonorAxle | None) -> float:
    if axle is None:
        return math.inf
    found = housing_clearance(rig, axle, project.plan(axle.end))
    return math.nan if found is None else found


def why_ahead(first: PairScore, second: PairScore, weights: dict[str, float], shown: dict[str, tuple[str, str]]) -> str:
    """In words why one pair is ahead of the next; ``shown`` has each criterion's two numbers as text.

    Names what the first gains by, most telling first, and what it pays for it.
    """
    gains = sorted(((weights[k] * (first.scaled[k] - second.scaled[k]), k) for k in CRITERIA), reverse=True)
    better = [f"{CRITERIA[k][0].lower()} {shown[k][0]} against {shown[k][1]}" for g, k in gains if g > 0.02][:3]
    worse = [f"{CRITERIA[k][0].lower()} {shown[k][0]} against {shown[k][1]}" for g, k in reversed(gains) if g < -0.02][
        :2
    ]
    if not better and not worse:
        return "Nothing between them by your weights."
    text = f"Ahead by {', '.join(better)}" if better else "Ahead by little in everything"
    return f"{text}; it gives up {', '.join(worse)}." if worse else f"{text}."
