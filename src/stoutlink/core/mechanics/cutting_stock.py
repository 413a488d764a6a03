"""Cutting pieces from bars: fewest bars bought, then least new steel, what lies on the shelf first and for nothing.

One-dimensional cutting stock, solved exactly by going through the pieces left bar by bar while there are few kinds of
them, else by first fit of the longest. Source: derived; Gilmore and Gomory 1961 name the problem.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator
from functools import cache

from msgspec import Struct

SAME = 5e-5
"""Pieces within this of each other, m, are of one length."""
MOST_WORK = 100_000
"""Ways to fill a bar that are looked at, at most; with more, first fit is taken instead."""


class BarUsed(Struct, frozen=True):
    """A bar and the pieces cut from it, by their places in the list, longest first; what is left over, m, past the last
    cut. ``bar`` is its place among those on offer; ``offcut`` whether it lay on the shelf."""

    bar: int
    offcut: bool
    pieces: tuple[int, ...]
    left: float


class CuttingPlan(Struct, frozen=True):
    """Bars used, pieces no bar is long enough for, and whether nothing better is possible (else: not proved)."""

    bars: tuple[BarUsed, ...]
    too_long: tuple[int, ...]
    proved: bool


def bar_needs(lengths: tuple[float, ...], kerf: float) -> float:
    """What pieces of ``lengths`` m take of a bar, m: all of them and a cut of ``kerf`` m after each but one that ends
    the bar.

    >>> round(bar_needs((1.0, 0.5), 0.003), 6)
    1.503
    """
    return sum(lengths) + kerf * max(0, len(lengths) - 1)


def left_over(bar: float, lengths: tuple[float, ...], kerf: float) -> float:
    """What is left of a ``bar`` m long past the last cut of pieces of ``lengths`` m with ``kerf`` m, m; nothing where
    the saw takes the rest.

    >>> round(left_over(2.0, (1.0, 0.5), 0.003), 6), left_over(1.5, (1.0, 0.499), 0.001)
    (0.494, 0.0)
    """
    return max(0.0, bar - sum(lengths) - kerf * len(lengths))


def cut_up(
    pieces: tuple[float, ...],
    bars: tuple[float, ...],
    offcuts: tuple[float, ...],
    kerf: float,
    keep: float,
) -> CuttingPlan:
    """Cut ``pieces`` from ``bars`` that can be bought (any number of each) and ``offcuts`` (each once), all m.

    Fewest bought, then least new steel used up (pieces, what the saw takes by ``kerf``, and what is left of a bar and
    shorter than ``keep``): so offcuts go first. Then least waste of offcuts, least bought length, fewest offcuts. A
    piece longer than everything is named in ``too_long``.

    >>> plan = cut_up((0.6, 0.6, 0.5), (1.2,), (), 0.002, 0.1)
    >>> [(b.pieces, round(b.left, 3)) for b in plan.bars], plan.proved
    ([((0,), 0.598), ((1, 2), 0.096)], True)
    """
    longest = max((*bars, *offcuts), default=0.0)
    too_long = tuple(i for i, v in enumerate(pieces) if v > longest + 1e-12)
    wanted = sorted((i for i in range(len(pieces)) if i not in too_long), key=lambda i: -pieces[i])
    kinds: list[float] = []
    of_kind: list[list[int]] = []
    for i in wanted:
        if kinds and kinds[-1] - pieces[i] <= SAME:
            of_kind[-1].append(i)
        else:
            kinds.append(pieces[i])
            of_kind.append([i])
    counts = tuple(len(one) for one in of_kind)
    work = (len(bars) + len(set(offcuts))) * math.prod(n + 1 for n in Counter(offcuts).values())
    for count in counts:
        work *= (count + 1) * (count + 2) // 2
    solved = _exact(tuple(kinds), counts, bars, offcuts, kerf, keep) if work <= MOST_WORK else None
    used = _first_fit(tuple(kinds), counts, bars, offcuts, kerf) if solved is None else solved
    if used is None:
        fits = {i for i in wanted if pieces[i] <= max(bars, default=0.0) + 1e-12}
        if len(fits) < len(wanted):  # more that only offcuts are long enough for than there are offcuts
            short = cut_up(tuple(pieces[i] for i in sorted(fits)), bars, offcuts, kerf, keep)
            places = sorted(fits)
            moved = tuple(BarUsed(b.bar, b.offcut, tuple(places[k] for k in b.pieces), b.left) for b in short.bars)
            return CuttingPlan(moved, tuple(i for i in range(len(pieces)) if i not in fits), False)
        return CuttingPlan((), tuple(range(len(pieces))), False)
    left = [list(one) for one in of_kind]
    out = []
    for bar, offcut, pattern in used:
        names = tuple(left[k].pop(0) for k, count in enumerate(pattern) for _ in range(count))
        length = offcuts[bar] if offcut else bars[bar]
        out.append(BarUsed(bar, offcut, names, left_over(length, tuple(pieces[i] for i in names), kerf)))
    return CuttingPlan(tuple(out), too_long, solved is not None)


Pattern = tuple[int, ...]
Used = tuple[tuple[int, bool, Pattern], ...]
Cost = tuple[int, float, float, float, int]


def _patterns(kinds: tuple[float, ...], counts: Pattern, length: float, kerf: float, must: int) -> Iterator[Pattern]:
    """Every way to fill a bar with what is left, at least one of kind ``must`` in it."""

    def fill(k: int, room: float, chosen: list[int]) -> Iterator[Pattern]:
        if k == len(kinds):
            yield tuple(chosen)
            return
        for n in range(counts[k] + 1):
            if n and n * kinds[k] + (n - 1) * kerf > room + 1e-12:
                break
            if n or k != must:
                chosen.append(n)
                yield from fill(k + 1, room - n * (kinds[k] + kerf), chosen)
                chosen.pop()

    yield from fill(0, length, [])


def _exact(
    kinds: tuple[float, ...],
    counts: Pattern,
    bars: tuple[float, ...],
    offcuts: tuple[float, ...],
    kerf: float,
    keep: float,
) -> Used | None:
    shelf = Counter(offcuts)
    lengths = tuple(sorted(shelf))
    first = {v: [i for i, o in enumerate(offcuts) if o == v] for v in lengths}

    def used_up(length: float, pattern: Pattern) -> tuple[float, float]:
        """What of a bar does not go back to the shelf, and what of that is in no piece, m."""
        inside = tuple(v for v, n in zip(kinds, pattern, strict=True) for _ in range(n))
        left = left_over(length, inside, kerf)
        gone = length - (left if left >= keep else 0.0)
        return gone, gone - sum(inside)

    @cache
    def best(remaining: Pattern, there: tuple[int, ...]) -> tuple[Cost, Used] | None:
        must = next((k for k, n in enumerate(remaining) if n), None)
        if must is None:
            return (0, 0.0, 0.0, 0.0, 0), ()
        found: tuple[Cost, Used] | None = None
        options = [(length, True, s) for s, length in enumerate(lengths) if there[s]]
        options += [(length, False, b) for b, length in enumerate(bars)]
        for length, offcut, which in options:
            for pattern in _patterns(kinds, remaining, length, kerf, must):
                after = tuple(a - b for a, b in zip(remaining, pattern, strict=True))
                shelf_after = tuple(n - (offcut and s == which) for s, n in enumerate(there))
                rest = best(after, shelf_after)
                if rest is None:
                    continue
                (bought, new, wasted, long, taken), used = rest
                gone, scrap = used_up(length, pattern)
                cost = (
                    bought + (not offcut),
                    round(new + (0.0 if offcut else gone), 9),
                    round(wasted + (scrap if offcut else 0.0), 9),
                    round(long + (0.0 if offcut else length), 9),
                    taken + offcut,
                )
                if found is None or cost < found[0]:
                    found = cost, ((which, offcut, pattern), *used)
        return found

    solved = best(counts, tuple(shelf[v] for v in lengths))
    if solved is None:
        return None
    taken: Counter[int] = Counter()
    out: list[tuple[int, bool, Pattern]] = []
    for which, offcut, pattern in solved[1]:
        if offcut:
            out.append((first[lengths[which]][taken[which]], True, pattern))
            taken[which] += 1
        else:
            out.append((which, False, pattern))
    return tuple(out)


def _first_fit(
    kinds: tuple[float, ...], counts: Pattern, bars: tuple[float, ...], offcuts: tuple[float, ...], kerf: float
) -> Used | None:
    """Longest first: each into the fullest bar begun that takes it, else an offcut, else the longest bar."""
    begun: list[tuple[int, bool, list[int], float]] = []
    free = sorted(range(len(offcuts)), key=lambda i: offcuts[i])
    for k, count in enumerate(counts):
        for _ in range(count):
            fits = [b for b in begun if b[3] + 1e-12 >= kinds[k]]
            if fits:
                bar = min(fits, key=lambda b: b[3])
            else:
                shelf = next((i for i in free if offcuts[i] + 1e-12 >= kinds[k]), None)
                if shelf is not None:
                    free.remove(shelf)
                    bar = (shelf, True, [0] * len(kinds), offcuts[shelf])
                else:
                    longest = max(range(len(bars)), key=lambda i: bars[i], default=None)
                    if longest is None or bars[longest] + 1e-12 < kinds[k]:
                        return None
                    bar = (longest, False, [0] * len(kinds), bars[longest])
                begun.append(bar)
            bar[2][k] += 1
            at = next(i for i, b in enumerate(begun) if b is bar)
            begun[at] = (bar[0], bar[1], bar[2], bar[3] - kinds[k] - kerf)
    return tuple((bar, offcut, tuple(pattern)) for bar, offcut, pattern, _ in begun)
