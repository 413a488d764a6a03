"""What is to be scheduled: jobs with their work, what they wait for, and the shop they are done in."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.plan.calendars import Calendars, Minutes, Span, common

HoursKind = Literal["shop", "quiet", "outdoors", "always"]
HOURS_KINDS: tuple[HoursKind, ...] = ("shop", "quiet", "outdoors", "always")
"""When a job may go on: in working hours; outside quiet hours (it is loud); when the weather lets it; day and night."""


class Job(Struct, frozen=True):
    """One job: working minutes (least, likely, most), keys of jobs ``after`` which it begins, how many ``people``, whether it
    takes the place ``at_vehicle``, its ``hours``, the minute it may begin at the earliest, and parts it ``needs`` by key."""

    key: str
    least: int
    likely: int
    most: int
    after: tuple[str, ...] = ()
    people: int = 1
    at_vehicle: bool = True
    hours: HoursKind = "shop"
    not_before: int = 0
    needs: tuple[str, ...] = ()


class Arrives(Struct, frozen=True):
    """A part on its way: the end of the working day it comes, minutes: earliest, likely, latest."""

    key: str
    earliest: int
    likely: int
    latest: int


@dataclass(frozen=True)
class Shop:
    """Who works when: open spans by kind of hours, each person's own, and how many jobs go on at the vehicle at once."""

    spans: dict[HoursKind, tuple[Span, ...]]
    persons: tuple[str, ...]
    own: tuple[tuple[Span, ...], ...]
    places: int = 1
    subsets: tuple[tuple[int, ...], ...] = field(init=False)
    calendars: Calendars = field(init=False)

    def __post_init__(self) -> None:
        who = range(len(self.persons))
        subsets = tuple(s for size in range(min(3, len(self.persons)) + 1) for s in itertools.combinations(who, size))
        lists: list[Sequence[Span]] = []
        for kind in HOURS_KINDS:
            for subset in subsets:
                spans = self.spans[kind]
                if kind != "always":
                    for person in subset:
                        spans = common(spans, self.own[person])
                lists.append(spans)
        object.__setattr__(self, "subsets", subsets)
        object.__setattr__(self, "calendars", Calendars.of(lists))

    def which(self, kind: HoursKind, subset: int) -> int:
        """Number of the calendar of a kind of hours and a group of people."""
        return HOURS_KINDS.index(kind) * len(self.subsets) + subset


class Net:
    """Jobs as arrays: ``before`` (job × most predecessors, the last index where there is none), people, place, hours.
    Raises :class:`Circle` where jobs wait for one another in a circle."""

    def __init__(self, jobs: Sequence[Job], shop: Shop) -> None:
        self.jobs, self.shop = tuple(jobs), shop
        index = {j.key: k for k, j in enumerate(self.jobs)}
        n = len(self.jobs)
        befores = [[index[a] for a in j.after if a in index] for j in self.jobs]
        wide = max((len(b) for b in befores), default=0) or 1
        self.before: Minutes = np.full((n, wide), n, dtype=np.int64)
        for k, b in enumerate(befores):
            self.before[k, : len(b)] = b
        self.after: list[list[int]] = [[] for _ in self.jobs]
        for k, b in enumerate(befores):
            for one in b:
                self.after[one].append(k)
        self.order = _in_order(self.jobs, befores)
        most = len(shop.persons)
        self.people = np.array([min(j.people, most) for j in self.jobs], dtype=np.int64)
        self.at_vehicle = np.array([j.at_vehicle for j in self.jobs], dtype=bool)
        self.kind = np.array([HOURS_KINDS.index(j.hours) for j in self.jobs], dtype=np.int64)
        self.likely = np.array([j.likely for j in self.jobs], dtype=np.int64)
        self.index = index


class Circle(ValueError):
    """Jobs that wait for one another; ``keys`` in the order they wait."""

    def __init__(self, keys: tuple[str, ...]) -> None:
        super().__init__(" → ".join(keys))
        self.keys = keys


def _in_order(jobs: Sequence[Job], befores: list[list[int]]) -> tuple[int, ...]:
    left = [len(set(b)) for b in befores]
    after: list[list[int]] = [[] for _ in jobs]
    for k, b in enumerate(befores):
        for one in set(b):
            after[one].append(k)
    free = [k for k, n in enumerate(left) if n == 0]
    out: list[int] = []
    while free:
        k = free.pop()
        out.append(k)
        for one in after[k]:
            left[one] -= 1
            if left[one] == 0:
                free.append(one)
    if len(out) == len(jobs):
        return tuple(out)
    at = next(k for k, n in enumerate(left) if n > 0)
    walked: list[int] = []
    while at not in walked:  # from any job left over, back along what it waits for, a circle is met
        walked.append(at)
        at = next(b for b in befores[at] if left[b] > 0)
    circle = [*walked[walked.index(at) :], at]
    raise Circle(tuple(jobs[k].key for k in reversed(circle)))
