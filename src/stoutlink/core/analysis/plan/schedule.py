"""Laying jobs out in time: one after the other by an order, each where people and place are free first; the best of many."""

from __future__ import annotations

from collections.abc import Mapping
from heapq import heapify, heappop, heappush
from typing import Literal

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.plan.calendars import NEVER, Minutes
from stoutlink.core.analysis.plan.jobs import Net

ROUNDS, FEW, MOVES = 3, 40, 10
"""How often the best orders are varied; twice as often where there are few jobs, and then by moving single ones."""


def tries_for(jobs: int) -> int:
    """Orders tried at once: many of few jobs, fewer of many."""
    return min(160, max(48, 6000 // max(1, jobs)))


Wait = Literal["begin", "job", "person", "place", "part", "date"]


class Laid(Struct, frozen=True):
    """Many schedules at once: start and finish of each job and the group of people on it, tries × jobs; past the last
    working day both are :data:`NEVER` or later."""

    start: Minutes
    finish: Minutes
    who: Minutes

    @property
    def end(self) -> Minutes:
        """When each try is done."""
        return np.asarray(self.finish.max(axis=1)) if self.finish.size else np.zeros(len(self.finish), dtype=np.int64)


def lay(net: Net, orders: Minutes, work: Minutes, ready: Minutes) -> Laid:
    """Lay jobs out by ``orders`` (tries × jobs; a job stands behind all it waits for), with their ``work`` and the minute each
    is ``ready`` by its parts and dates (tries × jobs). Each is given to the group of people that is done with it first, of these
    to the one that is free last."""
    tries, n = orders.shape
    shop, subsets = net.shop, net.shop.subsets
    member = np.zeros((len(subsets), len(shop.persons)), dtype=bool)
    for k, subset in enumerate(subsets):
        member[k, list(subset)] = True
    size = member.sum(axis=1)
    rows, groups = np.arange(tries), np.arange(len(subsets))
    start, finish = np.zeros((tries, n), dtype=np.int64), np.zeros((tries, n + 1), dtype=np.int64)
    who = np.zeros((tries, n), dtype=np.int64)
    free = np.zeros((tries, len(shop.persons)), dtype=np.int64)
    places = np.zeros((tries, max(1, shop.places)), dtype=np.int64)
    for k in range(n):
        j = orders[:, k]
        base = np.maximum(finish[rows[:, None], net.before[j]].max(axis=1), ready[rows, j])
        place = places.argmin(axis=1)
        base = np.where(net.at_vehicle[j], np.maximum(base, places[rows, place]), base)
        theirs = np.where(member[None], free[:, None, :], 0).max(axis=2)
        at = np.minimum(np.maximum(base[:, None], theirs), NEVER)
        which = net.kind[j][:, None] * len(subsets) + groups[None]
        begin = shop.calendars.begin(which, at)
        done = np.minimum(shop.calendars.finish(which, np.minimum(begin, NEVER), work[rows, j][:, None]), 2 * NEVER)
        done = np.where(size[None] == net.people[j][:, None], done, 4 * NEVER)
        first = done.min(axis=1)
        group = np.where(done == first[:, None], theirs, -1).argmax(axis=1)
        start[rows, j], finish[rows, j], who[rows, j] = begin[rows, group], first, group
        free = np.where(member[group], np.minimum(first, NEVER)[:, None], free)
        places[rows, place] = np.where(net.at_vehicle[j], np.minimum(first, NEVER), places[rows, place])
    return Laid(start, finish[:, :n], who)


def orders_of(net: Net, work: NDArray[np.float64], ready: Minutes, lean: NDArray[np.float64]) -> Minutes:
    """Orders by how long it takes from a job to the end (``lean`` 0) or when it could begin (``lean`` 1), tries × jobs, from
    works that are varied by try; behind what it waits for in any case."""
    tries, n = work.shape
    tail, head = np.zeros((tries, n)), np.zeros((tries, n))
    for k in reversed(net.order):
        tail[:, k] = work[:, k] + max(
            (tail[:, a] for a in net.after[k]), default=np.zeros(tries), key=lambda t: t.sum()
        )
        for a in net.after[k]:
            tail[:, k] = np.maximum(tail[:, k], work[:, k] + tail[:, a])
    for k in net.order:
        head[:, k] = np.maximum(head[:, k], ready[k])
        for a in net.after[k]:
            head[:, a] = np.maximum(head[:, a], head[:, k] + work[:, k])
    key = lean[:, None] * head - (1.0 - lean[:, None]) * tail
    return np.argsort(key, axis=1, kind="stable").astype(np.int64)


def best_order(net: Net, ready: Minutes, seed: int = 1) -> tuple[Minutes, Laid]:
    """The order whose schedule is done first, of several hundred; of equal ones the one whose jobs are done earlier."""
    n = len(net.jobs)
    tries = tries_for(n)
    dice = np.random.default_rng(seed)
    plain = np.maximum(net.likely.astype(float), 1.0)
    work = np.tile(net.likely, (tries, 1))
    readies = np.tile(ready, (tries, 1))
    best: tuple[tuple[int, int], Minutes, Laid] | None = None
    centre, lean_at, wide = plain, 0.4, 0.6
    rounds = (2 * ROUNDS if n <= FEW else ROUNDS) if n > 1 else 1
    for turn in range(rounds):
        spread = np.where(np.arange(tries) % 3 == 0, 1.5, wide)[
            :, None
        ]  # some far off, so that none is missed for good
        varied = np.maximum(centre * np.exp(spread * dice.normal(0.0, 1.0, (tries, n))), 1.0)
        lean = np.clip(dice.normal(lean_at, 0.3, tries), 0.0, 1.0)
        varied[0], lean[0] = centre, lean_at
        orders = orders_of(net, varied, ready, lean)
        laid = lay(net, orders, work, readies)
        found_ = [(orders, laid)]
        if turn == rounds - 1:  # what began earlier is laid earlier: gaps behind late parts are used
            behind = np.argsort(np.argsort(orders, axis=1), axis=1)
            again = np.argsort(laid.start * (n + 1) + behind, axis=1, kind="stable").astype(np.int64)
            if _kept(net, again):
                found_.append((again, lay(net, again, work, readies)))
        for orders_, one in found_:
            ends, sums = one.end, one.finish.sum(axis=1)
            k = int(np.lexsort((sums, ends))[0])
            found = (int(ends[k]), int(sums[k]))
            if best is None or found < best[0]:
                best = (found, orders_[k], Laid(one.start[k : k + 1], one.finish[k : k + 1], one.who[k : k + 1]))
                centre, lean_at = varied[k], float(lean[k])
        wide *= 0.6
    assert best is not None
    for _ in range(MOVES if 2 < n <= FEW else 0):
        near = _moved(net, best[1], tries, dice)
        laid = lay(net, near, work[: len(near)], readies[: len(near)])
        ends, sums = laid.end, laid.finish.sum(axis=1)
        k = int(np.lexsort((sums, ends))[0])
        if (int(ends[k]), int(sums[k])) <= best[0]:
            one = Laid(laid.start[k : k + 1], laid.finish[k : k + 1], laid.who[k : k + 1])
            best = ((int(ends[k]), int(sums[k])), near[k], one)
    return best[1], best[2]


def kept_order(net: Net, ready: Minutes, begins: Mapping[str, int]) -> tuple[Minutes, Laid]:
    """The schedule of an order that was: of the jobs that may be next the one that began first (one that was not there, last)."""
    left = [sum(1 for b in row if b < len(net.jobs)) for row in net.before]
    free = [(begins.get(net.jobs[k].key, NEVER), k) for k, n in enumerate(left) if n == 0]
    heapify(free)
    order: list[int] = []
    while free:
        _, k = heappop(free)
        order.append(k)
        for a in net.after[k]:
            left[a] -= 1
            if left[a] == 0:
                heappush(free, (begins.get(net.jobs[a].key, NEVER), a))
    row = np.array(order, dtype=np.int64)
    return row, lay(net, row[None], net.likely[None], ready[None])


def _moved(net: Net, order: Minutes, count: int, dice: np.random.Generator) -> Minutes:
    """An order and others near it: one to three jobs moved to another place, where that goes."""
    out = [order]
    for _ in range(count - 1):
        row = order
        for _ in range(int(dice.integers(1, 4))):
            a, b = dice.integers(0, len(order), 2)
            row = np.insert(np.delete(row, a), b, row[a])
        out.append(row)
    rows = np.array(out, dtype=np.int64)
    place = np.hstack([np.argsort(rows, axis=1), np.full((len(rows), 1), -1)])
    return np.asarray(rows[(place[:, net.before].max(axis=2) < place[:, :-1]).all(axis=1)])


def _kept(net: Net, orders: NDArray[np.int64]) -> bool:
    """Whether every job stands behind all it waits for, in every order."""
    place = np.argsort(orders, axis=1)
    n = orders.shape[1]
    padded = np.hstack([place, np.full((len(place), 1), -1)])
    return bool((padded[:, net.before].max(axis=2) < place).all()) if n else True


def ready_of(net: Net, arrivals: Mapping[str, int]) -> Minutes:
    """The minute each job is ready by its date and its parts; what is not said to come is there."""
    return np.array(
        [max([j.not_before, *(arrivals.get(need, 0) for need in j.needs)]) for j in net.jobs], dtype=np.int64
    )


class Because(Struct, frozen=True):
    """Why a job begins when it does: what it waited for (a job's key, a part's, a date) and whether the shop was closed
    between that and its begin."""

    wait: Wait
    key: str
    closed: bool


def because(net: Net, laid: Laid, ready: Minutes, arrivals: Mapping[str, int]) -> dict[str, Because]:
    """Of each job of the first schedule what it waited for last."""
    start, finish, who = laid.start[0], laid.finish[0], laid.who[0]
    out: dict[str, Because] = {}
    works = np.array([[p in net.shop.subsets[int(g)] for p in range(len(net.shop.persons))] for g in who], dtype=bool)
    for k, job in enumerate(net.jobs):
        found: list[tuple[int, int, Wait, str]] = [(0, 0, "begin", "")]
        for b in net.before[k]:
            if b < len(net.jobs):
                found.append((int(finish[b]), 5, "job", net.jobs[b].key))
        before = (finish <= start[k]) & (finish > 0)
        before[k] = False
        shared = before & (works & works[k]).any(axis=1)
        found += [(int(finish[b]), 3, "person", net.jobs[b].key) for b in _last(finish, shared)]
        if job.at_vehicle:
            found += [(int(finish[b]), 2, "place", net.jobs[b].key) for b in _last(finish, before & net.at_vehicle)]
        if job.not_before > 0:
            found.append((job.not_before, 4, "date", ""))
        for need in job.needs:
            if arrivals.get(need, 0) > 0:
                found.append((arrivals[need], 4, "part", need))
        at, _, wait, key = max(found)
        out[job.key] = Because(wait, key, int(start[k]) > at)
    return out


def _last(finish: Minutes, which: NDArray[np.bool_]) -> NDArray[np.intp]:
    """Of some jobs those that are done last."""
    return np.nonzero(which & (finish == finish[which].max()))[0] if which.any() else np.empty(0, dtype=np.intp)


def chain(net: Net, laid: Laid, why: Mapping[str, Because]) -> tuple[str, ...]:
    """The jobs that set the date, first to last: from the one done last back along what each waited for."""
    if not net.jobs:
        return ()
    at: str = net.jobs[int(laid.finish[0].argmax())].key
    out = [at]
    while why[at].wait in ("job", "person", "place") and why[at].key not in out:
        at = why[at].key
        out.append(at)
    return tuple(reversed(out))


def floats(net: Net, laid: Laid, order: Minutes) -> dict[str, int]:
    """Of each job how many working minutes of its own hours it may be late before the last day moves, with the people and the
    place it has here."""
    n = len(net.jobs)
    finish, who = laid.finish[0], laid.who[0]
    end = int(finish.max()) if n else 0
    late = np.full(n, end, dtype=np.int64)  # latest finish
    place = {int(k): i for i, k in enumerate(order)}
    next_of: dict[int, list[int]] = {k: list(net.after[k]) for k in range(n)}
    last_by_person: dict[int, int] = {}
    last_places: list[int] = []
    for k in sorted(range(n), key=lambda i: (int(laid.start[0][i]), place[i])):
        for person in net.shop.subsets[int(who[k])]:
            if person in last_by_person:
                next_of[last_by_person[person]].append(k)
            last_by_person[person] = k
        if net.at_vehicle[k]:
            done = [p for p in last_places if finish[p] <= laid.start[0][k]]
            if len(last_places) >= max(1, net.shop.places) and done:
                before = max(done, key=lambda p: int(finish[p]))
                next_of[before].append(k)
                last_places.remove(before)
            last_places.append(k)
    out: dict[str, int] = {}
    calendars = net.shop.calendars
    for k in sorted(range(n), key=lambda i: -int(laid.start[0][i]) * (n + 1) - place[i]):
        which = np.array([net.shop.which(net.jobs[k].hours, int(who[k]))])
        for one in next_of[k]:
            theirs = np.array([net.shop.which(net.jobs[one].hours, int(who[one]))])
            begin = calendars.latest(theirs, late[one : one + 1], net.likely[one : one + 1])
            late[k] = min(late[k], int(begin[0]))
        spare = calendars.worked(which, late[k : k + 1]) - calendars.worked(which, finish[k : k + 1])
        out[net.jobs[k].key] = max(0, int(spare[0]))
    return out
