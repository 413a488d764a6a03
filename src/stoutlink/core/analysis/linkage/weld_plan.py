"""The weld plan of a housing: its seams and beads, the order they are laid in beside the other school's, how far it has
come, and what readings taken afterwards make of the shrinkage.
"""

from __future__ import annotations

import datetime
import math
from itertools import pairwise

import numpy as np
from msgspec import Struct

from stoutlink.core.analysis.linkage.station_sheet import ahead_and_up
from stoutlink.core.analysis.linkage.weld_order import best_order, diagonal_order
from stoutlink.core.analysis.linkage.weld_run import Field, Run, Step
from stoutlink.core.analysis.linkage.weld_seam import Seam
from stoutlink.core.analysis.linkage.weld_seams import (
    Bead,
    Housing,
    beads_of,
    housing_of,
    layout_seams,
    own_seams,
)
from stoutlink.core.document.layout import Layout
from stoutlink.core.document.project import Project
from stoutlink.core.document.rig import Rig
from stoutlink.core.document.stations import Stations, StationStage
from stoutlink.core.document.welding import BeadState, OrderSchool, WeldPlan
from stoutlink.core.mechanics.carbon import Says, carbon_equivalent, says
from stoutlink.core.mechanics.weld_bow import FACTOR_SURE
from stoutlink.core.mechanics.weld_heat import heat_input

STRAIGHT_SURE = 0.00025
"""1 σ of one reading against the bar, m (common practice for a caliper at a puck)."""
MOST_BEADS = 200
"""More are not put in order: it would take too long, and no housing takes as many."""
OTHER: dict[OrderSchool, OrderSchool] = {"small_bow": "diagonal", "diagonal": "small_bow"}
Ends = tuple[float, float, float, float]


class WeldBase(Struct, frozen=True):
    """What is to be welded. ``housing`` is ``None`` where something is ``missing`` (in words); ``left_out`` are seams
    the layout makes that are not welded; ``gone``: beads ticked off that no seam has any more; ``input`` J/m; ``pull``
    how far the ends move by all beads, m (left up, left ahead, right up, right ahead), ± ``pull_sure`` of it (2 σ: the
    handbook's, or what the factor was typed or read with).
    """

    plan: WeldPlan
    housing: Housing | None
    missing: str
    seams: tuple[Seam, ...]
    left_out: tuple[Seam, ...]
    beads: tuple[Bead, ...]
    field: Field | None
    gone: tuple[str, ...]
    input: float
    equivalent: float | None
    steel: Says | None
    pull: Ends
    pull_sure: float

    @property
    def too_many(self) -> bool:
        """Whether there are more beads than are put in order."""
        return len(self.beads) > MOST_BEADS

    @property
    def farthest(self) -> float:
        """How far the end that is farther off comes to be, m."""
        return max(math.hypot(*self.pull[:2]), math.hypot(*self.pull[2:]))

    @property
    def on_casting(self) -> bool:
        """Whether anything is welded to the casting."""
        h = self.housing
        return h is not None and any(b.seam.kind == "casting" or h.side(b.at) == 2 for b in self.beads)

    def state(self, bead: str) -> BeadState | None:
        """How far a bead has come."""
        return self.plan.state(bead)


class WeldSheet(Struct, frozen=True):
    """Beads in the order chosen, beside the other school's, and how many of the first are laid."""

    base: WeldBase
    run: Run
    other: Run
    laid: int

    @property
    def next(self) -> Step | None:
        """The bead to lay now."""
        return self.run.steps[self.laid] if self.laid < len(self.run.steps) else None


class FromReadings(Struct, frozen=True):
    """The shrinkage that readings while tacked and after welding ask for, ± 2 σ."""

    factor: float
    two_sigma: float


def weld_base(project: Project, rig: Rig, layout: Layout | None, plan: WeldPlan) -> WeldBase:
    """Gather seams and beads of a plan."""
    donor = project.donor(plan.id)
    stations = next((s for s in project.fabrication.stations if s.id == plan.id), None)
    leaf = None if layout is None else layout.leaf
    seat = leaf.spacing_m if leaf is not None else None if donor is None else donor.seat_spacing_m
    housing = housing_of(plan, donor, stations, seat)
    equivalent, steel = None, None
    s = plan.steel
    if s.carbon is not None and s.manganese is not None:  # what a sheet does not name beside them is not in it
        rest = (0.0 if v is None else v for v in (s.chromium, s.molybdenum, s.vanadium, s.nickel, s.copper))
        equivalent = carbon_equivalent(s.carbon, s.manganese, *rest)
        steel = says(s.carbon, equivalent)
    note = project.entry(f"welding.{plan.id}.factor")
    sure = FACTOR_SURE if note is None or note.sigma is None or not plan.factor else 2.0 * note.sigma / plan.factor
    heat = heat_input(plan.process, plan.volts, plan.amps, plan.travel_m_s)
    if isinstance(housing, str):
        return WeldBase(plan, None, housing, (), (), (), None, (), heat, equivalent, steel, (0.0, 0.0, 0.0, 0.0), sure)
    every = (*layout_seams(project, rig, layout, plan, housing.od), *own_seams(plan))
    out = set(plan.left_out)
    seams = tuple(s for s in every if s.id not in out and housing.right <= s.at <= housing.left)
    left_out = tuple(s for s in every if s.id in out or not housing.right <= s.at <= housing.left)
    beads = tuple(b for s in seams for b in beads_of(s, housing.od))
    known = {b.id for b in beads}
    gone = tuple(dict.fromkeys(t.bead for t in plan.ticks if t.bead not in known))
    field = Field(plan, housing, beads) if 0 < len(beads) <= MOST_BEADS else None
    pull = np.zeros(4) if field is None else field.miss.sum(axis=0)
    ends = (float(pull[0]), float(pull[1]), float(pull[2]), float(pull[3]))
    return WeldBase(plan, housing, "", seams, left_out, beads, field, gone, heat, equivalent, steel, ends, sure)


def laid_beads(base: WeldBase) -> tuple[tuple[int, ...], tuple[float | None, ...]]:
    """Beads that are laid, in the order they were, and when each was ended, s from the first arc, where every one of
    them has its time; none of them otherwise."""
    index = {b.id: i for i, b in enumerate(base.beads)}
    first: dict[str, str] = {}
    for tick in base.plan.ticks:
        if tick.state in ("welded", "inspected") and tick.bead in index:
            first.setdefault(tick.bead, tick.when)
    laid = [b for b in first if base.state(b) in ("welded", "inspected")]
    order = tuple(index[b] for b in laid)
    times = [moment(first[b]) for b in laid]
    known = [t for t in times if t is not None]
    if not known or len(known) < len(times) or any(b < a for a, b in pairwise(known)):
        return order, ()
    assert base.field is not None
    start = known[0] - base.field.seconds[order[0]]
    return order, tuple(t - start for t in known)


def moment(when: str) -> float | None:
    """A moment written as ISO 8601, s; ``None`` for a mere day or anything else."""
    if "T" not in when:
        return None
    try:
        return datetime.datetime.fromisoformat(when).timestamp()
    except ValueError:
        return None


def weld_sheet(base: WeldBase) -> WeldSheet | None:
    """Put the beads in order, in both schools; what is laid already stays in front. ``None`` where there is none."""
    field = base.field
    if field is None:
        return None
    begun, times = laid_beads(base)
    orders = {"small_bow": best_order(field, begun), "diagonal": diagonal_order(field, begun)}
    runs = {school: field.run(order, times) for school, order in orders.items()}
    return WeldSheet(base, runs[base.plan.order], runs[OTHER[base.plan.order]], len(begun))


def from_readings(base: WeldBase, stations: Stations | None) -> FromReadings | None:
    """The shrinkage by least squares over how far the ends moved from tacked to welded, where both were read with their
    clock and every bead is laid; ``None`` otherwise."""
    if (
        stations is None
        or base.field is None
        or any(base.state(b.id) in (None, "fitted", "tacked") for b in base.beads)
    ):
        return None
    moved: list[float] = []
    pull: list[float] = []
    for k, side in enumerate(("left", "right")):
        then, now = (_read(stations, side, stage) for stage in ("tacked", "welded"))
        if then is None or now is None:
            continue
        moved += [now[0] - then[0], now[1] - then[1]]
        pull += base.pull[2 * k : 2 * k + 2]
    whole = sum(p * p for p in pull)
    if not moved or whole < 1e-10:
        return None
    share = sum(p * m for p, m in zip(pull, moved, strict=True)) / whole
    factor = base.plan.factor
    return FromReadings(share * factor, 2.0 * factor * STRAIGHT_SURE * math.sqrt(2.0 / whole))


def _read(stations: Stations, side: str, stage: StationStage) -> tuple[float, float] | None:
    """The last reading of an end at a stage as up and ahead, m."""
    mine = [r for r in stations.straight if r.side == side and r.stage == stage and r.clock is not None]
    if not mine:
        return None
    ahead, up = ahead_and_up(mine[-1])
    return None if ahead is None or up is None else (up, ahead)
