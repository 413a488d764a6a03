"""Bars cut up: held against every way there is to part the pieces and give each part a bar."""

from __future__ import annotations

import itertools
import random
from collections.abc import Iterator
from typing import Any

import msgspec
import pytest

from stoutlink.core.document.link_work import Sawing, StockBar, TubeCope
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.mechanics.cutting_stock import CuttingPlan, bar_needs, cut_up, left_over
from stoutlink.core.study.study import Study

Cost = tuple[int, float, float, float, int]


def partings(items: list[int]) -> Iterator[list[tuple[int, ...]]]:
    """Every way to part some things."""
    if not items:
        yield []
        return
    first, rest = items[0], items[1:]
    for k in range(len(rest) + 1):
        for beside in itertools.combinations(rest, k):
            for others in partings([x for x in rest if x not in beside]):
                yield [(first, *beside), *others]


def more(cost: Cost, length: float, inside: list[float], bought: bool, kerf: float, keep: float) -> Cost:
    """A bar more: bars bought, new steel that does not go back to the shelf, waste of offcuts, length bought, offcuts."""
    left = max(0.0, length - sum(inside) - kerf * len(inside))
    gone = length - (left if left >= keep else 0.0)
    if bought:
        return cost[0] + 1, cost[1] + gone, cost[2], cost[3] + length, cost[4]
    return cost[0], cost[1], cost[2] + gone - sum(inside), cost[3], cost[4] + 1


def tidy(cost: Cost) -> Cost:
    return cost[0], round(cost[1], 9), round(cost[2], 9), round(cost[3], 9), cost[4]


def cheapest(
    pieces: tuple[float, ...], bars: tuple[float, ...], offcuts: tuple[float, ...], kerf: float, keep: float
) -> Cost | None:
    """The best cost there is, by trying everything."""
    best: Cost | None = None

    def give(parts: list[tuple[int, ...]], free: frozenset[int], cost: Cost) -> None:
        nonlocal best
        if not parts:
            total = tidy(cost)
            best = total if best is None or total < best else best
            return
        inside = [pieces[i] for i in parts[0]]
        need = sum(inside) + kerf * (len(inside) - 1)
        for length, bought, free_after in (
            *((offcuts[k], False, free - {k}) for k in free),
            *((b, True, free) for b in bars),
        ):
            if length >= need - 1e-12:
                give(parts[1:], free_after, more(cost, length, inside, bought, kerf, keep))

    for parts in partings(list(range(len(pieces)))):
        give(parts, frozenset(range(len(offcuts))), (0, 0.0, 0.0, 0.0, 0))
    return best


def cost_of(
    plan: CuttingPlan,
    pieces: tuple[float, ...],
    bars: tuple[float, ...],
    offcuts: tuple[float, ...],
    kerf: float,
    keep: float,
) -> Cost:
    """What a plan costs; every piece once, every offcut at most once, and all of it in its bar."""
    used = [i for one in plan.bars for i in one.pieces]
    assert sorted((*used, *plan.too_long)) == list(range(len(pieces)))
    taken = [one.bar for one in plan.bars if one.offcut]
    assert len(taken) == len(set(taken))
    cost: Cost = (0, 0.0, 0.0, 0.0, 0)
    for one in plan.bars:
        inside = [pieces[i] for i in one.pieces]
        length = offcuts[one.bar] if one.offcut else bars[one.bar]
        assert bar_needs(tuple(inside), kerf) <= length + 1e-9
        assert one.left == pytest.approx(left_over(length, tuple(inside), kerf))
        cost = more(cost, length, inside, not one.offcut, kerf, keep)
    return tidy(cost)


@pytest.mark.parametrize("seed", range(60))
def test_nothing_is_better(seed: int) -> None:
    rng = random.Random(seed)
    pieces = tuple(round(rng.uniform(0.2, 1.2), 3) for _ in range(rng.randint(1, 5)))
    pieces += pieces[: rng.randint(0, 1)]
    bars = tuple(rng.sample([1.5, 2.0, 3.0], rng.randint(1, 2)))
    offcuts = tuple(round(rng.uniform(0.3, 1.4), 2) for _ in range(rng.randint(0, 3)))
    kerf, keep = rng.choice([0.0, 0.003]), rng.choice([0.0, 0.25, 0.5])
    plan = cut_up(pieces, bars, offcuts, kerf, keep)
    assert plan.proved
    assert cost_of(plan, pieces, bars, offcuts, kerf, keep) == cheapest(pieces, bars, offcuts, kerf, keep)


def test_the_shelf_goes_first() -> None:
    """Two of four lie on the shelf long enough: the new bar keeps twice as much."""
    plan = cut_up((0.9, 0.9, 0.9, 0.9), (6.0,), (1.04, 1.04), 0.003, 0.3)
    assert sum(one.offcut for one in plan.bars) == 2
    new = next(one for one in plan.bars if not one.offcut)
    assert new.left == pytest.approx(6.0 - 2 * 0.903)


def test_first_fit_alone_would_take_a_bar_too_many() -> None:
    """Longest first puts 6 and 3 together and needs a third bar; 6 with 4 twice fills two of ten."""
    pieces = (0.6, 0.6, 0.4, 0.4, 0.3, 0.3, 0.3)
    plan = cut_up(pieces, (1.0,), (0.9,), 0.0, 0.1)
    assert sum(not one.offcut for one in plan.bars) == 2
    assert plan.proved


def test_the_saw_takes_its_part_but_not_past_the_end() -> None:
    assert cut_up((1.0, 1.0), (2.0,), (), 0.0, 0.0).bars[0].pieces == (0, 1)
    assert len(cut_up((1.0, 1.0), (2.0,), (), 0.002, 0.0).bars) == 2
    one = cut_up((1.0, 1.0), (2.002,), (), 0.002, 0.0).bars
    assert [(b.pieces, b.left) for b in one] == [((0, 1), 0.0)]


def test_many_pieces_are_cut_up_all_the_same_and_it_is_said() -> None:
    pieces = tuple(0.6 + 0.013 * i for i in range(30))
    plan = cut_up(pieces, (6.1,), (1.2,), 0.003, 0.25)
    assert not plan.proved
    cost = cost_of(plan, pieces, (6.1,), (1.2,), 0.003, 0.25)
    assert cost[0] <= -(-sum(pieces) // 6.1) + 1  # never more than one over what the steel alone asks for here


def test_what_no_bar_is_long_enough_for() -> None:
    plan = cut_up((2.5, 1.0), (2.0,), (), 0.0, 0.0)
    assert plan.too_long == (0,)
    assert plan.bars[0].pieces == (1,)
    assert cut_up((1.0,), (), (), 0.0, 0.0).too_long == (0,)
    two = cut_up((0.9, 0.9), (0.5,), (1.0,), 0.0, 0.0)  # one offcut, two that only it would take
    assert len(two.too_long) + sum(len(b.pieces) for b in two.bars) == 2


def bar(name: str, **changes: Any) -> StockBar:
    base: dict[str, Any] = {"od_m": 0.04445, "wall_m": 0.00635, "length_m": 6.0}
    return StockBar(id=name, name=name, **{**base, **changes})


def test_links_of_both_axles_from_the_bars_of_their_tube(basalt: Project) -> None:
    basalt = with_parts(basalt, stock=())
    study = Study(basalt)
    plans = study.stock_plan()
    wanted = {(c.layout.id, c.link.id) for c in study.cuts if not c.there}
    assert {(p.layout, p.link) for plan in plans for p in plan.pieces} == wanted
    assert all(plan.plan.too_long == tuple(range(len(plan.pieces))) for plan in plans)  # no stock yet
    kind = plans[0]
    stock = (
        bar("long", od_m=kind.od, wall_m=kind.wall, material=kind.material, price=90.0),
        bar("left", od_m=kind.od, wall_m=kind.wall, material=kind.material, length_m=0.85, offcut=True, count=2),
        bar("other", od_m=kind.od, wall_m=kind.wall + 0.001, material=kind.material, length_m=9.0),
    )
    project = with_parts(basalt, stock=stock, sawing=Sawing(kerf_m=0.003, keep_m=0.2))
    now = Study(project).stock_plan()[0]
    assert {b.id for b in (*now.bars, *now.offcuts)} == {"long", "left"}
    assert now.plan.too_long == ()
    assert now.cost == 90.0 * now.to_buy.get("long", 0)
    lengths = {(c.layout.id, c.link.id): c.cut.tube for c in study.cuts}
    for used in now.plan.bars:
        inside = tuple(lengths[now.pieces[i].layout, now.pieces[i].link] for i in used.pieces)
        assert used.left == pytest.approx(left_over(now.bar_of(used).length_m, inside, 0.003))
    assert Study(with_parts(project, sawing=Sawing(kerf_m=0.01))).stock_plan()[0].plan != now.plan


def test_braces_and_cross_members_come_from_the_bars_too(basalt: Project) -> None:
    project = with_parts(basalt, copes=(), rear_layout=None, front_layout=None)
    assert Study(project).stock_plan() == ()
    brace = TubeCope(id="b", name="Cross-member", od_m=0.0445, wall_m=0.003, length_m=0.8, count=2)
    bar = StockBar(id="bar", name="Bar", od_m=0.0445, wall_m=0.003, length_m=2.0)
    project = with_parts(project, copes=(brace,), stock=(bar,))
    (plan,) = Study(project).stock_plan()
    assert [p.length for p in plan.pieces] == [0.8, 0.8]
    assert plan.to_buy == {"bar": 1}
    assert plan.pieces[0].name == "Cross-member"
    bare = with_parts(project, copes=(msgspec.structs.replace(brace, length_m=None),))
    assert Study(bare).stock_plan() == ()
