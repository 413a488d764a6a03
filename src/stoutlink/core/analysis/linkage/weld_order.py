"""In which order the beads of a housing are laid: the trade's diagonal order, and one that keeps bow, heat and time small.

Both keep the same rules (common practice): tubes to the casting before a truss, the second spring pad after the first,
the ends of a seam after its middle, the housing's ends last, and no bead beside the one just laid while there is another.
"""

from __future__ import annotations

import math
import random
from itertools import pairwise

import numpy as np

from stoutlink.core.analysis.linkage.weld_run import Field
from stoutlink.core.analysis.linkage.weld_seams import Bead

WORSE = 0.03
"""How much worse an order may be that is gone on from, at the start of the search."""
TRIES = 8_000
"""Beads laid in trying other orders, all tries together; an order of 60 beads is tried 133 times."""


def goes_after(beads: tuple[Bead, ...]) -> tuple[frozenset[int], ...]:
    """Of every bead which others go before it."""
    index: dict[str, list[int]] = {}
    for i, b in enumerate(beads):
        index.setdefault(b.seam.id, []).append(i)
    casting = [i for i, b in enumerate(beads) if b.seam.kind == "casting"]
    rest = [i for i, b in enumerate(beads) if b.seam.kind != "end"]
    first_pad = [i for i, b in enumerate(beads) if b.seam.kind == "pad" and b.seam.at > 0]
    out = []
    for b in beads:
        before: set[int] = set()
        if b.seam.kind == "truss":
            before |= set(casting)
        if b.seam.kind == "end":
            before |= set(rest)
        if b.seam.kind == "pad" and b.seam.at < 0:
            before |= set(first_pad)
        if b.of > 2 and b.number in (1, b.of):
            mine = index[b.seam.id]
            before |= {j for j in mine if beads[j].number not in (1, b.of)}
        out.append(frozenset(before))
    return tuple(out)


def _next(field: Field, after: tuple[frozenset[int], ...], order: list[int], left: set[int]) -> list[int]:
    """Beads that may be laid now: those beside the last one only where there is no other."""
    done = set(order)
    free = sorted(i for i in left if after[i] <= done)
    apart = [i for i in free if not field.adjoin[order[-1], i]] if order else free
    return apart or free


def diagonal_order(field: Field, begun: tuple[int, ...] = ()) -> tuple[int, ...]:
    """The trade's order: each bead as far across from the last as there is one: the other side, the other face."""
    after, beads = goes_after(field.beads), field.beads
    order, left = list(begun), set(range(len(beads))) - set(begun)
    while left:
        free = _next(field, after, order, left)
        last = beads[order[-1]] if order else None

        def across(i: int, last: Bead | None = last) -> tuple[float, float]:
            if last is None:
                return float(beads[i].around > math.pi), beads[i].at
            turn = abs(beads[i].around - last.around)
            turn = min(turn, 2 * math.pi - turn)
            return round(turn / math.pi + float((beads[i].at > 0) != (last.at > 0)), 6), abs(beads[i].at - last.at)

        order.append(max(free, key=lambda i: (across(i), -i)))
        left.discard(order[-1])
    return tuple(order)


def _greedy(field: Field, begun: tuple[int, ...]) -> tuple[int, ...]:
    """Each bead the one that leaves the ends nearest to where they were for the least waiting."""
    after = goes_after(field.beads)
    order, left = list(begun), set(range(len(field.beads))) - set(begun)
    moved = field.miss[order].sum(axis=0) if order else np.zeros(4)
    whole = max(1e-9, float(np.abs(field.miss).sum(axis=0).max()))
    states = [np.zeros_like(fin.decay) for fin in field.fast]
    face = -1
    while left:
        costs = []
        for i in _next(field, after, order, left):
            side, shape = int(field.side[i]), field.shapes[i]
            turn = field.plan.turn_s if face >= 0 and field.quarter[i] != face else 0.0
            wait = 0.0 if shape is None else field.wait(side, shape * states[side])
            then = moved + field.miss[i]
            off = max(math.hypot(then[0], then[1]), math.hypot(then[2], then[3]))
            costs.append((off / whole + max(wait, turn) / 900.0, i))
        _, best = min(costs)
        side, shape = int(field.side[best]), field.shapes[best]
        gap = field.plan.between_s + (field.plan.turn_s if face >= 0 and field.quarter[best] != face else 0.0)
        if shape is not None:
            gap += field.wait(side, shape * states[side] * np.exp(-field.fast[side].decay * gap))
        states = [fin.later(s, gap + field.seconds[best]) for fin, s in zip(field.fast, states, strict=True)]
        rise = field.rises[best]
        if rise is not None:
            states[side] = states[side] + rise
        moved, face = moved + field.miss[best], int(field.quarter[best])
        order.append(best)
        left.discard(best)
    return tuple(order)


def keeps(field: Field, after: tuple[frozenset[int], ...], order: tuple[int, ...]) -> bool:
    """Whether an order keeps every rule of what goes before what."""
    done: set[int] = set()
    for i in order:
        if not after[i] <= done:
            return False
        done.add(i)
    return True


def beside(field: Field, order: tuple[int, ...]) -> int:
    """How often a bead follows one it adjoins."""
    return sum(bool(field.adjoin[a, b]) for a, b in pairwise(order))


def best_order(field: Field, begun: tuple[int, ...] = ()) -> tuple[int, ...]:
    """The order that keeps bow, heat and time small together: the sum of each over what the diagonal order takes, so
    that it is never more than that order's own. Beads laid already stay in front. Found from a greedy order by moving
    single beads, always the same way.
    """
    if len(field.beads) - len(begun) < 2:
        return diagonal_order(field, begun)
    trade = diagonal_order(field, begun)
    norm = [max(v, 1e-9) for v in field.glance(trade)]

    def cost(order: tuple[int, ...]) -> float:
        return sum(v / n for v, n in zip(field.glance(order), norm, strict=True))

    after = goes_after(field.beads)
    start = _greedy(field, begun)
    near = beside(field, trade)
    found = [(cost(trade), trade)]
    if beside(field, start) <= near:
        found.append((cost(start), start))
    best = here = min(found)
    dice, n, head = random.Random(7), len(trade), len(begun)
    tries = TRIES // n
    for k in range(tries):
        for _ in range(20):  # moves that keep the rules
            tried = _moved(here[1], head, dice)
            if keeps(field, after, tried) and beside(field, tried) <= near:
                break
        else:
            break
        now = cost(tried)
        # a little worse is taken on the way, less and less so
        if now < here[0] + WORSE * (1.0 - k / tries):
            here = now, tried
        best = min(best, here)
    return best[1]


def _moved(order: tuple[int, ...], head: int, dice: random.Random) -> tuple[int, ...]:
    """An order with one bead put elsewhere, or two changed over, behind the first ``head``."""
    a, b = dice.randrange(head, len(order)), dice.randrange(head, len(order))
    other = list(order)
    if dice.random() < 0.5:
        other.insert(b, other.pop(a))
    else:
        other[a], other[b] = other[b], other[a]
    return tuple(other)
