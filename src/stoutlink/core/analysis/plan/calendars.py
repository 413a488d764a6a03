"""Working hours as spans of minutes, several calendars asked at once: when work may begin, when so much of it is done."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Minutes = NDArray[np.int64]
Span = tuple[int, int]
DAY = 24 * 60
NEVER = 2**40
"""Minutes that lie past every calendar."""


def joined(spans: Iterable[Span]) -> tuple[Span, ...]:
    """Spans in order, those that touch or overlap made one, empty ones left out.

    >>> joined([(5, 9), (0, 3), (9, 12), (4, 4)])
    ((0, 3), (5, 12))
    """
    out: list[Span] = []
    for a, b in sorted(s for s in spans if s[1] > s[0]):
        if out and a <= out[-1][1]:
            out[-1] = (out[-1][0], max(out[-1][1], b))
        else:
            out.append((a, b))
    return tuple(out)


def common(one: Sequence[Span], two: Sequence[Span]) -> tuple[Span, ...]:
    """What two lists of spans, each in order, have in common.

    >>> common([(0, 10), (20, 30)], [(5, 25)])
    ((5, 10), (20, 25))
    """
    out, i, j = [], 0, 0
    while i < len(one) and j < len(two):
        low, high = max(one[i][0], two[j][0]), min(one[i][1], two[j][1])
        if high > low:
            out.append((low, high))
        if one[i][1] < two[j][1]:
            i += 1
        else:
            j += 1
    return tuple(out)


def without(one: Sequence[Span], closed: Iterable[Span]) -> tuple[Span, ...]:
    """Spans less what is closed.

    >>> without([(0, 10), (20, 30)], [(8, 22)])
    ((0, 8), (22, 30))
    """
    out = list(one)
    for a, b in joined(closed):
        out = [part for s in out for part in ((s[0], min(s[1], a)), (max(s[0], b), s[1])) if part[1] > part[0]]
    return tuple(sorted(out))


class Calendars(Struct, frozen=True, dict=True):
    """Several calendars one behind the other, so that all are asked in one go. An empty calendar never opens."""

    starts: Minutes
    ends: Minutes
    before: Minutes
    """Working minutes before each span, of its own calendar."""
    owner: Minutes

    @staticmethod
    def of(lists: Sequence[Sequence[Span]]) -> Calendars:
        """Calendars from lists of spans in order; each gets a last span that nobody reaches."""
        rows: list[tuple[int, int, int, int]] = []
        for k, spans in enumerate(lists):
            done = 0
            for a, b in (*spans, (NEVER, 2 * NEVER)):
                rows.append((a, b, done, k))
                done += b - a
        table = np.array(rows, dtype=np.int64).reshape(-1, 4)
        return Calendars(table[:, 0], table[:, 1], table[:, 2], table[:, 3])

    @cached_property
    def _end_keys(self) -> Minutes:
        return self.ends + self.owner * (4 * NEVER)

    @cached_property
    def _done_keys(self) -> Minutes:
        return self.before + (self.ends - self.starts) + self.owner * (4 * NEVER)

    def begin(self, which: Minutes, at: Minutes) -> Minutes:
        """The first open minute from ``at`` on, of calendar ``which`` (shapes alike); :data:`NEVER` or later: none."""
        span = np.searchsorted(self._end_keys, at + which * (4 * NEVER), side="right")
        return np.maximum(at, self.starts[span])

    def worked(self, which: Minutes, at: Minutes) -> Minutes:
        """Working minutes of calendar ``which`` before ``at``."""
        span = np.searchsorted(self._end_keys, at + which * (4 * NEVER), side="right")
        return np.asarray(self.before[span] + np.maximum(0, at - self.starts[span]))

    def finish(self, which: Minutes, at: Minutes, work: Minutes) -> Minutes:
        """When so much ``work`` begun at ``at`` is done; it rests outside the hours. No work is done at once."""
        goal = self.worked(which, at) + work
        span = np.searchsorted(self._done_keys, goal + which * (4 * NEVER), side="left")
        return np.where(work > 0, self.starts[span] + goal - self.before[span], at)

    def latest(self, which: Minutes, by: Minutes, work: Minutes) -> Minutes:
        """The latest begin of so much ``work`` that is done by ``by``; below 0 where there is not so much before it."""
        goal = self.worked(which, by) - work
        span = np.searchsorted(self._done_keys, goal + which * (4 * NEVER), side="right")
        return np.where(work > 0, np.where(goal < 0, goal, self.starts[span] + goal - self.before[span]), by)
