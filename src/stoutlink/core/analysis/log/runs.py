"""Runs held against each other, what puts a run's settings back, and the bands that runs called good make."""

from __future__ import annotations

import math
import statistics
from collections.abc import Iterable

import msgspec
from msgspec import Struct

from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.document.layout import Layout, Link
from stoutlink.core.document.log import Run, RunBar, RunEnd, RunHole
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.mechanics.link_cut import Turns, turns_for

FEWEST = 3
"""Runs called good that it takes to offer a band of one's own."""
MOVED = 5e-5
"""A length changed by less than this, m, is the same."""


def ends_now(project: Project) -> tuple[RunEnd, ...]:
    """How both axles hang now: what a run freezes."""
    out = []
    for end in ("front", "rear"):
        layout = project.layout(end)
        if layout is not None:
            bars = tuple(
                RunBar(id=k.id, frame_pivot_m=k.frame_pivot_m, axle_pivot_m=k.axle_pivot_m) for k in layout.links
            )
            holes = tuple(RunHole(id=b.id, hole=b.hole) for b in layout.brackets)
            out.append(RunEnd(id=end, layout=layout.id, name=layout.name, bars=bars, holes=holes))
    return tuple(out)


def layout_then(project: Project, end: RunEnd) -> Layout | None:
    """The layout of a run with its bolts where they were then; ``None`` when it is gone or has other bars now."""
    layout = next((one for one in project.linkage.layouts if one.id == end.layout), None)
    bars, holes = {b.id: b for b in end.bars}, {h.id: h.hole for h in end.holes}
    if layout is None or {k.id for k in layout.links} != set(bars):
        return None
    links = tuple(_there(k, bars[k.id]) for k in layout.links)
    brackets = tuple(
        msgspec.structs.replace(b, hole=holes[b.id])
        if holes.get(b.id, b.hole) != b.hole and holes[b.id] <= b.holes
        else b
        for b in layout.brackets
    )
    if links == layout.links and brackets == layout.brackets:
        return layout
    return msgspec.structs.replace(layout, links=links, brackets=brackets)


def _there(link: Link, bar: RunBar) -> Link:
    """A link with its bolts as in a run; what is the same stays the very same."""
    moved = {
        name: getattr(bar, name)
        for name in ("frame_pivot_m", "axle_pivot_m")
        if getattr(bar, name) != getattr(link, name)
    }
    return msgspec.structs.replace(link, **moved) if moved else link


def then(project: Project, run: Run) -> Project:
    """The project with both axles and the pressures as they were in a run. Raises ``LookupError`` naming what is gone."""
    layouts = {one.id: one for one in project.linkage.layouts}
    used: dict[str, str] = {}
    for end in run.ends:
        found = layout_then(project, end)
        if found is None:
            raise LookupError(f"{end.name} of this run is gone, or has other bars now")
        layouts[found.id] = found
        used[f"{end.id}_layout"] = found.id
    rig = project.rig
    for name, pressure in (("front", run.front_pressure_pa), ("rear", run.rear_pressure_pa)):
        wheels = rig.end(name)
        if pressure is not None and pressure != wheels.trail_pressure_pa:
            rig = msgspec.structs.replace(rig, **{name: msgspec.structs.replace(wheels, trail_pressure_pa=pressure)})
    return with_parts(project, layouts=tuple(layouts.values()), rig=rig, **used)


class BarBack(Struct, frozen=True):
    """What a bar asks for to be as in a run: from the length it has now, m."""

    end: str
    name: str
    change: float
    turns: Turns


def bars_back(run: Run, cuts: Iterable[LinkCut]) -> tuple[BarBack, ...]:
    """Turns that take every bar from where it stands to where it was, of those that change; by their cut cards of now."""
    held = {(e.id, b.id): b for e in run.ends for b in e.bars}
    out = []
    for one in cuts:
        bar = held.get((one.layout.end, one.link.id))
        if bar is None:
            continue
        change = math.dist(bar.frame_pivot_m, bar.axle_pivot_m) - one.asked
        if abs(change) > MOVED:
            out.append(BarBack(one.layout.end, one.link.name, change, turns_for(one.now, change)))
    return tuple(out)


class Band(Struct, frozen=True):
    """What the runs called good have in common: a number's least and most, its mean and the spread of single runs (1 σ)."""

    id: str
    low: float
    high: float
    mean: float
    spread: float
    count: int


def own_bands(runs: Iterable[Run]) -> tuple[Band, ...]:
    """Bands of one's own, from three good runs on: mean ± one spread, at least from the least to the most there was. A number that was the same
    in all of them makes none."""
    values: dict[str, list[float]] = {}
    for run in runs:
        if run.verdict == "good":
            for number in run.numbers:
                values.setdefault(number.id, []).append(number.value)
    out = []
    for key, seen in values.items():
        if len(seen) >= FEWEST and max(seen) - min(seen) > 1e-9 * max(1.0, abs(max(seen))):
            mean, spread = statistics.fmean(seen), statistics.stdev(seen)
            out.append(Band(key, min(min(seen), mean - spread), max(max(seen), mean + spread), mean, spread, len(seen)))
    return tuple(out)


class HitRate(Struct, frozen=True):
    """How often what was advised came out as promised: trials judged, those that were better, and those still open."""

    judged: int
    better: int
    worse: int
    open: int


def hit_rate(runs: Iterable[Run]) -> HitRate:
    """Over all runs that tried an advice."""
    said = [r.trial.verdict for r in runs if r.trial is not None]
    return HitRate(sum(v != "" for v in said), said.count("better"), said.count("worse"), said.count(""))
