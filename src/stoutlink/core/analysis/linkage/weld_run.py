"""Welding a housing bead after bead: how long each waits, how warm the tubes get, how far the ends have moved by then."""

from __future__ import annotations

import math
from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.weld_seams import Bead, Housing, quarter
from stoutlink.core.document.welding import WeldPlan
from stoutlink.core.mechanics.weld_bow import arc_arm, bend, fillet_section, miss_at, tube_section
from stoutlink.core.mechanics.weld_heat import MODES, Fin, cool_for, heat_input

Array = NDArray[np.float64]
PLACES = 61
"""Places along each tube, from the casting out, at which temperature and bow are kept."""
COARSE = 48
"""Modes while orders are tried; what is shown is worked out with all of them."""
WAITS = np.concatenate([[0.0], 4.0 * 1.3 ** np.arange(30)])
"""Times at which cooling is looked at while orders are tried, s (to 2 h)."""


class Step(Struct, frozen=True):
    """One bead laid: seconds waited for the tube to cool and from the start to its end; whether the housing is turned
    first, whether it adjoins the one before; how warm the hottest section is at its end, °C, and where (from the axle's
    middle, m); ``ends`` how far the ends have moved then, m: left up, left ahead, right up, right ahead.
    """

    bead: Bead
    waited: float
    begins: float
    ends_at: float
    turned: bool
    adjoins: bool
    warm: tuple[Array, Array]
    """Left and right tube from the casting out, °C."""
    hottest: float
    hottest_at: float
    ends: tuple[float, float, float, float]

    @property
    def miss(self) -> float:
        """How far the end that is farther off is from where it was, m."""
        return max(math.hypot(*self.ends[:2]), math.hypot(*self.ends[2:]))


class Run(Struct, frozen=True):
    """All beads in an order."""

    steps: tuple[Step, ...]

    @property
    def seconds(self) -> float:
        """From the first arc to the last, s."""
        return self.steps[-1].ends_at if self.steps else 0.0

    @property
    def waited(self) -> float:
        """Of it waiting for the tube, s."""
        return sum(s.waited for s in self.steps)

    @property
    def peak(self) -> float:
        """The farthest any end is off on the way, m."""
        return max((s.miss for s in self.steps), default=0.0)

    @property
    def hottest(self) -> float:
        """The hottest section on the way, °C."""
        return max((s.hottest for s in self.steps), default=0.0)


class Field:
    """What a housing, a plan and its beads make, worked out once and used by every order."""

    def __init__(self, plan: WeldPlan, housing: Housing, beads: tuple[Bead, ...]) -> None:
        self.plan, self.housing, self.beads = plan, housing, beads
        area, second = tube_section(housing.od, housing.wall)
        self.lengths = housing.left - housing.inner_left, housing.inner_right - housing.right
        self.watts = heat_input(plan.process, plan.volts, plan.amps, plan.travel_m_s) * plan.travel_m_s
        self.limit = plan.most_c - plan.air_c
        rim = math.pi * housing.od
        self.fine = tuple(Fin(x, area, rim, plan.loss, plan.inner) for x in self.lengths)
        self.fast = tuple(Fin(x, area, rim, plan.loss, plan.inner, COARSE) for x in self.lengths)
        n = len(beads)
        self.side = np.array([housing.side(b.at) for b in beads], dtype=int)
        self.seconds = np.array([b.length / plan.travel_m_s for b in beads])
        self.quarter = np.array([quarter(b.around) for b in beads], dtype=int)
        self.begins, self.ends, self.turns = np.zeros(n), np.zeros(n), np.zeros((n, 2))
        self.miss = np.zeros((n, 4))
        for i, b in enumerate(beads):
            side = int(self.side[i])
            if side == 2:
                continue
            near, far = self._along(b, side)
            self.begins[i], self.ends[i] = near, far
            arm = 0.5 * housing.od if b.seam.runs == "along" else arc_arm(0.5 * housing.od, b.length)
            # on the tube itself only what lies on it pulls: a bead that runs onto the casting counts by its part
            part = (far - near) / b.wide
            turn = bend(fillet_section(b.seam.leg), arm, second, plan.factor) * b.length * part
            way = np.array([math.cos(b.around), math.sin(b.around)])
            self.turns[i] = turn * way
            moved = float(miss_at(self.lengths[side], np.array([turn]), np.array([near]), np.array([far]))[0, 0])
            self.miss[i, 2 * side : 2 * side + 2] = moved * way

    @cached_property
    def shapes(self) -> list[Array | None]:
        """Each bead's own place over the few modes; ``None`` on the casting."""
        return [self._shape(self.fast, i) for i in range(len(self.beads))]

    @cached_property
    def fine_shapes(self) -> list[Array | None]:
        """The same over all modes."""
        return [self._shape(self.fine, i) for i in range(len(self.beads))]

    @cached_property
    def rises(self) -> list[Array | None]:
        """What each bead adds to the few modes."""
        return [self._rise(self.fast, i) for i in range(len(self.beads))]

    @cached_property
    def fine_rises(self) -> list[Array | None]:
        """What each bead adds to all modes."""
        return [self._rise(self.fine, i) for i in range(len(self.beads))]

    @cached_property
    def cooling(self) -> tuple[Array, ...]:
        """What is left of every mode at the times looked at."""
        return tuple(np.exp(-np.multiply.outer(WAITS, fin.decay)) for fin in self.fast)

    @cached_property
    def adjoin(self) -> NDArray[np.bool_]:
        """Which beads adjoin one another: nearer on the tube's skin than half of both and a little."""
        return self._adjoining()

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Field):
            return NotImplemented
        return (self.plan, self.housing, self.beads) == (other.plan, other.housing, other.beads)

    def __hash__(self) -> int:
        return hash((self.plan, self.housing, self.beads))

    def __repr__(self) -> str:
        """The same for the same work, wherever it stands."""
        return f"Field({self.plan!r}, {self.housing!r}, {self.beads!r})"

    def _along(self, b: Bead, side: int) -> tuple[float, float]:
        """Where a bead begins and ends from the casting out, m, kept on the tube."""
        h = self.housing
        near, far = (
            (b.begins - h.inner_left, b.ends - h.inner_left)
            if side == 0
            else (h.inner_right - b.ends, h.inner_right - b.begins)
        )
        return max(0.0, near), min(self.lengths[side], far)

    def _shape(self, fins: tuple[Fin, ...], i: int) -> Array | None:
        side = int(self.side[i])
        return None if side == 2 else fins[side].over(self.begins[i], self.ends[i])

    def _rise(self, fins: tuple[Fin, ...], i: int) -> Array | None:
        side = int(self.side[i])
        if side == 2:
            return None
        fin = fins[side]
        on = (self.ends[i] - self.begins[i]) / self.beads[i].wide
        return fin.welded(np.zeros_like(fin.decay), self.begins[i], self.ends[i], on * self.watts, self.seconds[i])

    def _adjoining(self) -> NDArray[np.bool_]:
        at = np.array([b.at for b in self.beads])
        around = np.array([b.around for b in self.beads])
        half = np.array([0.5 * b.length for b in self.beads])
        turn = np.abs(around[:, None] - around[None, :])
        turn = np.minimum(turn, 2 * math.pi - turn)
        apart = np.hypot(at[:, None] - at[None, :], 0.5 * self.housing.od * turn)
        out: NDArray[np.bool_] = apart < half[:, None] + half[None, :] + 0.01
        np.fill_diagonal(out, False)
        return out

    def glance(self, order: tuple[int, ...]) -> tuple[float, float, float]:
        """Seconds, the farthest an end is off, m, and the hottest a bead's own place gets, K over the air; quickly."""
        plan = self.plan
        states = [np.zeros(COARSE), np.zeros(COARSE)]
        decays = [fin.decay for fin in self.fast]
        clock, face, hot, last = 0.0, -1, 0.0, 0.0
        for i in order:
            side, gap = int(self.side[i]), 0.0
            if face >= 0:
                gap = plan.between_s + (plan.turn_s if self.quarter[i] != face else 0.0)
            face = int(self.quarter[i])
            shape = self.shapes[i]
            if shape is not None:
                cooled = states[side] * np.exp(-decays[side] * gap)
                gap += self.wait(side, shape * cooled)
            spent = gap + self.seconds[i]
            for k in (0, 1):
                states[k] = states[k] * np.exp(-decays[k] * spent)
            rise = self.rises[i]
            if rise is not None and shape is not None:
                states[side] = states[side] + rise
                last = float(shape @ states[side])
                hot = max(hot, last)
            clock += spent
        moved = np.cumsum(self.miss[list(order)], axis=0)
        peak = float(np.sqrt(np.maximum((moved[:, :2] ** 2).sum(1), (moved[:, 2:] ** 2).sum(1)).max()))
        return clock, peak, hot

    def wait(self, side: int, parts: Array) -> float:
        """Seconds until a place is cool enough, between the times looked at; ``parts`` its warmth by mode."""
        warm = self.cooling[side] @ parts
        if warm[0] <= self.limit:
            return 0.0
        low = np.flatnonzero(warm <= self.limit)
        if not len(low):
            return float(WAITS[-1])
        j = int(low[0])
        share = (warm[j - 1] - self.limit) / (warm[j - 1] - warm[j])
        return float(WAITS[j - 1] + share * (WAITS[j] - WAITS[j - 1]))

    def run(self, order: tuple[int, ...], done: tuple[float | None, ...] = ()) -> Run:
        """Lay the beads in an order. ``done``: of the first ones, when each was ended, s from the first arc, where that
        is known; they wait as they did.
        """
        plan = self.plan
        states = [np.zeros(MODES), np.zeros(MODES)]
        xs = [np.linspace(0.0, length, PLACES) for length in self.lengths]
        shapes = [fin.at(x) for fin, x in zip(self.fine, xs, strict=True)]
        clock, face, before = 0.0, -1, -1
        moved = np.zeros(4)
        steps = []
        for k, i in enumerate(order):
            side = int(self.side[i])
            turned = face >= 0 and int(self.quarter[i]) != face
            gap = 0.0 if face < 0 else plan.between_s + (plan.turn_s if turned else 0.0)
            face = int(self.quarter[i])
            shape, waited = self.fine_shapes[i], 0.0
            known = done[k] if k < len(done) else None
            if known is not None:
                gap = max(0.0, known - self.seconds[i] - clock)
            elif shape is not None:
                waited = cool_for(self.fine[side], self.fine[side].later(states[side], gap), shape, self.limit)
            spent = gap + waited + self.seconds[i]
            states = [fin.later(s, spent) for fin, s in zip(self.fine, states, strict=True)]
            rise = self.fine_rises[i]
            if rise is not None:
                states[side] = states[side] + rise
            clock += spent
            moved = moved + self.miss[i]
            warm = tuple(plan.air_c + m @ s for m, s in zip(shapes, states, strict=True))
            place = max((0, 1), key=lambda s: float(warm[s].max()))
            j = int(warm[place].argmax())
            h = self.housing
            at = h.inner_left + xs[0][j] if place == 0 else h.inner_right - xs[1][j]
            steps.append(
                Step(
                    self.beads[i],
                    float(waited),
                    float(clock - self.seconds[i]),
                    float(clock),
                    turned,
                    before >= 0 and bool(self.adjoin[before, i]),
                    (warm[0], warm[1]),
                    float(warm[place][j]),
                    float(at),
                    (float(moved[0]), float(moved[1]), float(moved[2]), float(moved[3])),
                )
            )
            before = i
        return Run(tuple(steps))

    def line(self, beads: tuple[int, ...]) -> tuple[Array, Array]:
        """How far both tubes have moved, m, by these beads: each (places, 2), up and ahead, from the casting out."""
        out = []
        for side in (0, 1):
            mine = [i for i in beads if int(self.side[i]) == side]
            xs = np.linspace(0.0, self.lengths[side], PLACES)
            shape = miss_at(xs, np.ones(len(mine)), self.begins[mine], self.ends[mine])
            out.append(shape @ self.turns[mine] if mine else np.zeros((PLACES, 2)))
        return out[0], out[1]
