"""Schedules: calendars minute by minute, the order against an exact solver, what is waited for, float, chance."""

from __future__ import annotations

import itertools
import math
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp

from stoutlink.core.analysis.plan.calendars import DAY, NEVER, Calendars, common, joined, without
from stoutlink.core.analysis.plan.chance import chance, pert
from stoutlink.core.analysis.plan.jobs import Arrives, Circle, Job, Net, Shop
from stoutlink.core.analysis.plan.schedule import because, best_order, chain, floats, lay, ready_of

ALWAYS = ((0, 400 * DAY),)


def shop(people: int = 1, spans: tuple[tuple[int, int], ...] = ALWAYS, places: int = 9) -> Shop:
    kinds = {"shop": spans, "quiet": spans, "outdoors": spans, "always": ALWAYS}
    return Shop(kinds, tuple(f"p{k}" for k in range(people)), (ALWAYS,) * people, places)  # type: ignore[arg-type]


def job(key: str, work: int, *after: str, **more: object) -> Job:
    return Job(key, work, work, work, after, at_vehicle=False, **more)  # type: ignore[arg-type]


spans_ = st.lists(st.tuples(st.integers(0, 200), st.integers(1, 40)), max_size=6).map(
    lambda found: joined((a, a + n) for a, n in found)
)


@given(st.lists(spans_, min_size=1, max_size=3), st.integers(0, 260), st.integers(0, 70))
def test_calendars_are_what_minutes_counted_one_by_one_are(lists: list[tuple[tuple[int, int], ...]], at: int, work: int) -> None:  # fmt: skip
    made = Calendars.of(lists)
    for k, spans in enumerate(lists):
        which, when, much = np.array([k]), np.array([at]), np.array([work])
        minutes = [m for a, b in spans for m in range(a, b)]
        later, before = [m for m in minutes if m >= at], [m for m in minutes if m < at]
        assert made.worked(which, when)[0] == len(before)
        begin, done, late = (int(x[0]) for x in (made.begin(which, when), made.finish(which, when, much), made.latest(which, when, much)))  # fmt: skip
        assert begin == later[0] if later else begin >= NEVER
        if work == 0:
            assert done == late == at
            continue
        assert done == later[work - 1] + 1 if len(later) >= work else done >= NEVER
        assert late == before[-work] if len(before) >= work else late < 0


@given(spans_, spans_)
def test_common_and_without_are_sets_of_minutes(
    one: tuple[tuple[int, int], ...], two: tuple[tuple[int, int], ...]
) -> None:
    def minutes(spans: tuple[tuple[int, int], ...]) -> set[int]:
        return {m for a, b in spans for m in range(a, b)}

    assert minutes(common(one, two)) == minutes(one) & minutes(two)
    assert minutes(without(one, two)) == minutes(one) - minutes(two)


def textbook() -> list[Job]:
    """A network of eight activities worked by hand: the longest of its paths is A C F H, 3 + 4 + 6 + 2 = 15."""
    return [job("A", 3), job("B", 2), job("C", 4, "A"), job("D", 3, "A"), job("E", 5, "B"), job("F", 6, "C", "E"), job("G", 4, "D"), job("H", 2, "F", "G")]  # fmt: skip


def test_critical_path_of_a_network_worked_by_hand() -> None:
    """Early and late dates by the two passes of the critical path method (Kelley and Walker), done on paper here."""
    net = Net(textbook(), shop(8))
    order, laid = best_order(net, ready_of(net, {}))
    early = {"A": 0, "B": 0, "C": 3, "D": 3, "E": 2, "F": 7, "G": 6, "H": 13}
    slack = {"A": 0, "B": 0, "C": 0, "D": 3, "E": 0, "F": 0, "G": 3, "H": 0}
    assert {j.key: int(laid.start[0][k]) for k, j in enumerate(net.jobs)} == early
    assert floats(net, laid, order) == slack
    found = chain(net, laid, because(net, laid, ready_of(net, {}), {}))
    assert found in (("A", "C", "F", "H"), ("B", "E", "F", "H"))
    assert int(laid.end[0]) == 15


def exact(jobs: list[Job], people: int) -> int:
    """Least end by an integer program over every minute (SciPy's HiGHS), people as a pool."""
    horizon = sum(j.likely for j in jobs)
    n = len(jobs)
    index = {(k, t): k * horizon + t for k in range(n) for t in range(horizon)}
    size = n * horizon + 1
    cost = np.zeros(size)
    cost[-1] = 1.0
    rows, low, high = [], [], []

    def add(entries: dict[int, float], a: float, b: float) -> None:
        row = np.zeros(size)
        for key, value in entries.items():
            row[key] = value
        rows.append(row)
        low.append(a)
        high.append(b)

    place = {j.key: k for k, j in enumerate(jobs)}
    for k, j in enumerate(jobs):
        add({index[k, t]: 1.0 for t in range(horizon)}, 1.0, 1.0)
        add({**{index[k, t]: -float(t) for t in range(horizon)}, size - 1: 1.0}, j.likely, np.inf)
        for a in j.after:
            b = place[a]
            entries = {index[k, t]: float(t) for t in range(horizon)}
            for t in range(horizon):
                entries[index[b, t]] = entries.get(index[b, t], 0.0) - float(t)
            add(entries, jobs[b].likely, np.inf)
    for t in range(horizon):
        add({index[k, s]: float(j.people) for k, j in enumerate(jobs) for s in range(max(0, t - j.likely + 1), t + 1)}, 0.0, people)  # fmt: skip
    integrality = np.ones(size)
    integrality[-1] = 0
    found = milp(cost, constraints=LinearConstraint(np.array(rows), np.array(low), np.array(high)), integrality=integrality, bounds=Bounds(0, [1.0] * (size - 1) + [horizon]))  # fmt: skip
    assert found.success
    return round(float(found.fun))


@pytest.mark.parametrize("seed", range(8))
def test_orders_are_within_two_percent_of_an_exact_solver(seed: int) -> None:
    dice = random.Random(seed)
    jobs: list[Job] = []
    for k in range(9 if seed < 6 else 12):
        after = tuple({f"j{dice.randrange(k)}" for _ in range(dice.randrange(0, 3))}) if k else ()
        jobs.append(job(f"j{k}", dice.randrange(1, 7), *after, people=dice.choice([1, 1, 2])))
    best = exact(jobs, 2)
    net = Net(jobs, shop(2))
    _, laid = best_order(net, ready_of(net, {}))
    assert best <= int(laid.end[0]) <= 1.02 * best


@pytest.mark.parametrize("seed", range(6))
def test_orders_are_as_good_as_every_order_tried(seed: int) -> None:
    """Seven jobs with parts that come late, one person, hours that close: every order that can be."""
    dice = random.Random(100 + seed)
    spans = tuple((d * 50, d * 50 + 20) for d in range(60))
    jobs = []
    for k in range(7):
        after = tuple({f"j{dice.randrange(k)}" for _ in range(dice.randrange(0, 2))}) if k else ()
        jobs.append(job(f"j{k}", dice.randrange(3, 30), *after, needs=(f"p{k}",) if dice.random() < 0.4 else ()))
    arrivals = {f"p{k}": dice.randrange(0, 200) for k in range(7)}
    net = Net(jobs, shop(1, spans))
    ready = ready_of(net, arrivals)
    place = {j.key: k for k, j in enumerate(jobs)}
    orders = [o for o in itertools.permutations(range(7)) if all(o.index(place[a]) < o.index(k) for k, j in enumerate(jobs) for a in j.after)]  # fmt: skip
    every = lay(net, np.array(orders), np.tile(net.likely, (len(orders), 1)), np.tile(ready, (len(orders), 1)))
    _, laid = best_order(net, ready)
    assert int(laid.end[0]) == int(every.end.min())


def test_nothing_is_done_twice_at_once_and_nothing_before_its_time() -> None:
    dice = random.Random(5)
    hours = tuple((d * DAY + 9 * 60, d * DAY + 18 * 60) for d in range(200))
    away = without(ALWAYS, [(2 * DAY, 5 * DAY)])
    spans = {"shop": hours, "quiet": without(hours, [(d * DAY + 12 * 60, d * DAY + 14 * 60) for d in range(200)]), "outdoors": hours, "always": ALWAYS}  # fmt: skip
    made = Shop(spans, ("a", "b"), (ALWAYS, away), 1)  # type: ignore[arg-type]
    jobs = [
        Job(f"j{k}", 10, w := dice.randrange(20, 300), 2 * w, tuple(f"j{dice.randrange(k)}" for _ in range(2)) if k else (), dice.choice([0, 1, 1, 2]), dice.random() < 0.5, dice.choice(["shop", "quiet", "always"]), dice.choice([0, 0, 3000]), (f"p{k}",) if k % 5 == 0 else ())
        for k in range(40)
    ]  # fmt: skip
    arrivals = {f"p{k}": 700 * k for k in range(40)}
    net = Net(jobs, made)
    ready = ready_of(net, arrivals)
    _, laid = best_order(net, ready)
    start, finish, who = laid.start[0], laid.finish[0], laid.who[0]
    for k, one in enumerate(jobs):
        assert start[k] >= ready[k]
        assert all(finish[net.index[a]] <= start[k] for a in one.after)
        assert len(made.subsets[who[k]]) == one.people
        calendar = made.which(one.hours, int(who[k]))
        worked = made.calendars.worked(np.array([calendar] * 2), np.array([start[k], finish[k]]))
        assert worked[1] - worked[0] == one.likely
        for b, other in enumerate(jobs[:k]):
            apart = finish[k] <= start[b] or finish[b] <= start[k]
            shared = set(made.subsets[who[k]]) & set(made.subsets[who[b]])
            assert apart or (not shared and not (one.at_vehicle and other.at_vehicle))


def test_what_a_job_waits_for_is_told() -> None:
    jobs = [
        job("a", 5),
        job("b", 5, "a"),
        job("c", 5, needs=("hub",)),
        Job("d", 1, 1, 1, at_vehicle=False, not_before=90),
    ]
    net = Net(jobs, shop(1, ((0, 12), (50, 70), (100, 200))))
    arrivals = {"hub": 40}
    ready = ready_of(net, arrivals)
    _, laid = best_order(net, ready)
    why = because(net, laid, ready, arrivals)
    assert (why["a"].wait, why["b"].wait, why["b"].key) == ("begin", "job", "a")
    assert (why["c"].wait, why["c"].key, why["c"].closed) == ("part", "hub", True)
    assert (why["d"].wait, why["d"].closed) == ("date", True)


def test_float_is_what_a_job_may_be_late_and_no_minute_more() -> None:
    jobs = [job("a", 10), job("b", 30), job("c", 10, "a", "b"), job("d", 5)]
    net = Net(jobs, shop(3))
    order, laid = best_order(net, ready_of(net, {}))
    spare = floats(net, laid, order)
    end = int(laid.end[0])
    for k, one in enumerate(jobs):
        for more, moved in ((spare[one.key], False), (spare[one.key] + 1, True)):
            work = net.likely.copy()
            work[k] += more
            later = lay(net, order[None], work[None], ready_of(net, {})[None])
            assert (int(later.end[0]) > end) == moved, one.key


def test_a_circle_is_named_with_its_jobs() -> None:
    with pytest.raises(Circle) as why:
        Net([job("x", 1), job("a", 1, "c", "x"), job("b", 1, "a"), job("c", 1, "b")], shop())
    assert set(why.value.keys) == {"a", "b", "c"}
    assert why.value.keys[0] == why.value.keys[-1]


def test_without_a_working_day_left_nothing_is_done() -> None:
    net = Net([job("a", 50)], shop(1, ((0, 20),)))
    _, laid = best_order(net, ready_of(net, {}))
    assert int(laid.end[0]) >= NEVER


def test_pert_draws_have_the_mean_and_spread_of_their_law() -> None:
    """Mean (a + 4m + b)/6 and the beta's own variance (Malcolm et al. 1959; beta from any handbook)."""
    a, m, b = 2.0, 5.0, 14.0
    drawn = pert(np.array([a]), np.array([m]), np.array([b]), np.random.default_rng(1), 100_000)[:, 0]
    alpha, beta = 1 + 4 * (m - a) / (b - a), 1 + 4 * (b - m) / (b - a)
    variance = (b - a) ** 2 * alpha * beta / ((alpha + beta) ** 2 * (alpha + beta + 1))
    assert drawn.mean() == pytest.approx((a + 4 * m + b) / 6, abs=0.03)
    assert drawn.std() == pytest.approx(math.sqrt(variance), rel=0.02)


def test_chance_agrees_with_a_hundred_thousand_draws_by_hand() -> None:
    jobs = [Job("a", 60, 120, 400, at_vehicle=False), Job("b", 30, 60, 90, ("a",), at_vehicle=False, needs=("hub",))]
    arrives = {"hub": Arrives("hub", 100, 150, 400)}
    net = Net(jobs, shop())
    order, _ = best_order(net, ready_of(net, {"hub": 150}))
    found = chance(net, order, arrives, 300)
    dice = np.random.default_rng(99)
    work = np.rint(pert(np.array([60.0, 30.0]), np.array([120.0, 60.0]), np.array([400.0, 90.0]), dice, 100_000))
    hub = np.rint(dice.triangular(100, 150, 400, 100_000))
    ends = np.maximum(work[:, 0], hub) + work[:, 1]
    assert found.met == pytest.approx((ends <= 300).mean(), abs=3 * found.sigma)
    assert chance(net, order, arrives, 300) == found, "the same numbers each time it is asked"
    assert chance(net, order, arrives, 250).met <= found.met
