"""Find me a layout: the search itself, its snapped answers, and what to relax when there is none."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, field

import msgspec
import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.many_layouts import RIDE_NUMBERS, Setting, numbers_of
from stoutlink.core.analysis.search.question import Question, ask, roomy
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.search import Search, Want
from stoutlink.core.numerics.box_search import descend, spread_points

Array = NDArray[np.float64]
WANTED = 6
"""Distinct answers aimed for."""
SAMPLE, KEPT, ROUNDS, STEPS, TRIED = 4096, 32, 3, 12, 12
APART = 0.10
"""Answers are distinct when some pivot differs by more than this part of its box's edge."""
ENOUGH = 1e-10
FULL = 121
"""Heights at which an answer is judged: those of the layout's own analysis."""


class Answer(Struct, frozen=True):
    """One layout found: the layout with snapped pivots, what it gives by number, and how far each wanted band is
    missed, in the number's own unit (0: met). ``ease`` is how far inside its bands it lies, 0 at an edge."""

    layout: Layout
    values: dict[str, float]
    missed: dict[str, float]
    ease: float
    point: tuple[float, ...]
    free: float | None = None
    """Part of its travel that is free, lock to lock; None until it has been cycled."""
    nearest: tuple[str, str, float] | None = None
    """What comes nearest over the travel and how near, m; None: not cycled, or nothing near."""

    @property
    def meets(self) -> bool:
        """Whether every band is met."""
        return not any(self.missed.values())


class Relax(Struct, frozen=True):
    """With this one band widened by ``by`` (in its own unit) to ``low``–``high`` every other can be met."""

    want: Want
    by: float
    low: float
    high: float


class Found(Struct, frozen=True):
    """Answers, best first. None that meets everything: ``relax`` says which band to widen, least first, and
    ``nearest`` is the best compromise.
    """

    answers: tuple[Answer, ...] = ()
    relax: tuple[Relax, ...] = ()
    nearest: Answer | None = None
    seconds: float = 0.0
    first_after: float | None = None
    stopped: bool = False


Tell = Callable[[float, tuple[Answer, ...]], bool]
"""Told how far the search is and what it has; answers False to give up."""


@dataclass
class _State:
    tell: Tell
    began: float = field(default_factory=time.monotonic)
    answers: list[Answer] = field(default_factory=list)
    first: float | None = None
    wanted: bool = True
    part: float = 0.0

    def going(self) -> bool:
        self.wanted = self.wanted and self.tell(min(self.part, 0.999), tuple(self.answers))
        return self.wanted


def find_layouts(
    setting: Setting,
    search: Search,
    tell: Tell = lambda part, answers: True,
    rounds: int = ROUNDS,
    most: int = WANTED,
    *,
    ask_relax: bool = True,
) -> Found:
    """Search the boxes for several distinct layouts that meet every band, best first; the same question gives the
    same answers.

    Points spread through the box are judged at ride height, the best improved with the travel solved, their tape
    readings rounded (1/8 in or 5 mm), mended by single steps, and only the rounded layout is judged, at every height
    of its own analysis. ``rounds`` and ``most`` answers say when it is enough; ``ask_relax`` whether it is worked out
    what to relax when there is none. Raises :class:`~stoutlink.core.errors.ValueOutOfRange` for a question that
    cannot be asked (see :func:`ask`).
    """
    question = ask(setting, search)
    state = _State(tell)
    weights = np.array([max(w.weight, 0.05) ** 0.5 for w in question.wants])
    best: list[tuple[float, Array]] = []
    for number in range(rounds):
        state.part = number / rounds
        if not state.going():
            break
        starts = _starts(question, weights, number)
        points, cost = descend(lambda p: question.residuals(p, weights), starts, STEPS, ENOUGH, state.going)
        order = np.argsort(cost, kind="stable")
        best += [(float(cost[i]), points[i]) for i in order[:8]]
        _take(question, weights, points[order], cost[order], state, most)
        if len(state.answers) >= most:
            break
    answers = tuple(sorted(state.answers, key=lambda a: -a.ease))
    relax: tuple[Relax, ...] = ()
    nearest = None
    if not answers and state.wanted:
        best.sort(key=lambda b: b[0])
        near = _mended(question, weights, np.array([p for _, p in best[:6]]))
        judged = [_judge(question, p) for p in near]
        nearest = min(
            judged, key=lambda a: sum(v > 0 for v in a.missed.values()) * 1e-6 + _sum(question, a), default=None
        )
        if nearest is not None and nearest.meets:
            answers, nearest = (nearest,), None
        elif ask_relax:
            relax, late = _relaxed(question, np.array(_apart([p for _, p in best])[:4]), state)
            if late is not None:
                answers, nearest, relax = (late,), None, ()
    return Found(answers, relax, nearest, time.monotonic() - state.began, state.first, not state.wanted)


def _sum(question: Question, answer: Answer) -> float:
    numbers = {name: np.array([answer.values[name]]) for name in question.names}
    return float((question.out_by(numbers) ** 2).sum())


def _starts(question: Question, weights: Array, number: int) -> Array:
    """The most promising of many points by their numbers at ride height, well apart from each other; the layout as it
    is among the first round's.
    """
    points = spread_points(SAMPLE, len(question.moved), first=number * SAMPLE)
    ride = tuple(n for n in question.names if n in RIDE_NUMBERS)
    cost = (question.residuals(points, weights, names=ride) ** 2).sum(axis=1) if ride else np.zeros(SAMPLE)
    order = np.argsort(cost, kind="stable")
    chosen: list[Array] = [question.here()] if number == 0 else []
    for i in order[: 12 * KEPT]:
        if all(np.abs(points[i] - c).max() > 0.15 for c in chosen):
            chosen.append(points[i])
        if len(chosen) >= (
            KEPT if len(question.setting.layout.links) == 4 else KEPT // 2
        ):  # more than four bars take longer each
            break
    return np.array(chosen)


def _take(question: Question, weights: Array, points: Array, cost: Array, state: _State, most: int) -> None:
    """Round, mend and judge the promising points, a few at a time, and keep those that meet everything and are apart
    from what is there.
    """
    known = [np.array(a.point) for a in state.answers]
    fresh = [
        p
        for p, c in zip(points, cost, strict=True)
        if c < 0.5 * len(question.wants) and all(np.abs(p - k).max() > APART for k in known)
    ]
    promising = np.array(_apart(fresh)[:TRIED])
    for i in range(0, len(promising), 6):
        if len(state.answers) >= most or not state.going():
            return
        for p in _mended(question, weights, promising[i : i + 6]):
            if any(np.abs(p - np.array(a.point)).max() <= APART for a in state.answers):
                continue
            answer = _judge(question, p)
            if answer.meets:
                state.answers.append(answer)
                if state.first is None:
                    state.first = time.monotonic() - state.began
        state.part = min(0.99, state.part + 0.5 / ROUNDS / max(1, len(promising) // 6))


def _apart(points: list[Array]) -> list[Array]:
    """Those that are apart from all before them."""
    out: list[Array] = []
    for p in points:
        if all(np.abs(p - q).max() > APART for q in out):
            out.append(p)
    return out


def _mended(question: Question, weights: Array, points: Array) -> Array:
    """Points with whole tape readings, improved by single steps of single readings until nothing gets better."""
    at = question.snapped(points)
    d = at.shape[1]
    step = np.array([m.step for m in question.moved]) / question.edge

    def cost_of(p: Array) -> Array:
        r = question.residuals(p, weights, 0.0)
        return np.asarray((r * r).sum(axis=1))

    cost = cost_of(at)
    for _ in range(24):
        live = np.flatnonzero(cost > 0)
        if not len(live):
            break
        moves = np.concatenate([np.eye(d) * step, -np.eye(d) * step])
        near = question.snapped(np.clip(at[live][:, None] + moves, 0.0, 1.0).reshape(-1, d))
        costs = cost_of(near).reshape(len(live), 2 * d)
        pick = costs.argmin(axis=1)
        better = costs[np.arange(len(live)), pick] < cost[live] - 1e-12
        rows = live[better]
        if not len(rows):
            break
        at[rows] = near.reshape(len(live), 2 * d, d)[np.flatnonzero(better), pick[better]]
        cost[rows] = costs[np.flatnonzero(better), pick[better]]
    return at


def _judge(question: Question, point: Array) -> Answer:
    """The layout of a point as it is analysed afresh."""
    frame, axle = question.pivots(point[None])
    numbers = numbers_of(question.setting, frame, axle, question.names, FULL)
    values = {name: float(v[0]) for name, v in numbers.items()}
    missed: dict[str, float] = {}
    ease = []
    for w in question.wants:
        value = float(roomy(w, np.array(values[w.id])))
        off = max(0.0, w.low - value, value - w.high) if np.isfinite(value) or value == np.inf else np.inf
        missed[w.id] = float(off)
        from_edge = min(value - w.low, w.high - value)
        ease.append(w.weight * min(1.0, from_edge / (0.5 * min(w.high - w.low, 4 * HEADLINES[w.id].usual))))
    layout = question.setting.layout
    links = tuple(
        msgspec.structs.replace(link, frame_pivot_m=_triple(frame[0, i]), axle_pivot_m=_triple(axle[0, i]))
        for i, link in enumerate(layout.links)
    )
    weight = sum(w.weight for w in question.wants)
    return Answer(
        msgspec.structs.replace(layout, links=links),
        values,
        missed,
        float(sum(ease)) / weight,
        tuple(float(v) for v in point),
    )


def _triple(v: Array) -> tuple[float, float, float]:
    return tuple(round(float(x), 9) for x in v)  # type: ignore[return-value]


def _relaxed(question: Question, starts: Array, state: _State) -> tuple[tuple[Relax, ...], Answer | None]:
    """For each band: how far it must be widened when every other is held firmly, least first in usual differences,
    none where that does not suffice; and an answer that meets everything, should one turn up on the way."""
    out = []
    for k, want in enumerate(question.wants):
        if not state.going():
            break
        firm = np.full(len(question.wants), 12.0)
        firm[k] = 1.0
        points, cost = descend(lambda p, firm=firm: question.residuals(p, firm), starts, STEPS, ENOUGH, state.going)  # type: ignore[misc]
        near = _mended(question, firm, points[np.argsort(cost, kind="stable")][:3])
        answers = [_judge(question, p) for p in near]
        whole = next((a for a in answers if a.meets), None)
        if whole is not None:
            return (), whole
        good = [
            a
            for a in answers
            if not any(v for name, v in a.missed.items() if name != want.id) and np.isfinite(a.missed[want.id])
        ]
        if good and want.id != "travel":
            a = min(good, key=lambda one: one.missed[want.id])
            value = a.values[want.id]
            out.append(Relax(want, a.missed[want.id], min(want.low, value), max(want.high, value)))
    return tuple(sorted(out, key=lambda r: r.by / HEADLINES[r.want.id].usual)), None
