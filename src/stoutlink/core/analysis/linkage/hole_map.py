"""Every combination of bracket holes of one layout, and what each gives."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.bar_set import link_length
from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.analysis.linkage.many_layouts import Setting, numbers_of
from stoutlink.core.document.bracket import Bracket
from stoutlink.core.document.headline import MAPPED
from stoutlink.core.document.hole_points import hole_point, with_holes
from stoutlink.core.document.layout import Joint, Layout
from stoutlink.core.document.project import Settings
from stoutlink.core.document.rig import Rig
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.mechanics.link_cut import Turns, turns_for
from stoutlink.core.numerics.remembering import remember_by_identity

Array = NDArray[np.float64]
MOST = 1_000_000
"""Combinations worked out exactly; more are refused."""
SWEPT = 4_000
"""Combinations up to which the pinion's change over travel is worked out as well."""


class HoleMap(Struct, frozen=True):
    """All combinations: ``holes`` ``(m, brackets)`` counted from 1, ``values`` ``(m,)`` by gauge, and which row is
    fitted now (−1: none).
    """

    layout: Layout
    holes: NDArray[np.intp]
    values: dict[str, Array]
    current: int

    def words(self, row: int) -> str:
        """A combination in words."""
        return ", ".join(f"{b.name} {int(h)}" for b, h in zip(self.layout.brackets, self.holes[row], strict=True))


def turns_of(found: HoleMap, row: int, cuts: tuple[LinkCut, ...]) -> tuple[tuple[LinkCut, Turns], ...]:
    """What a combination asks of every bar that changes: turns from the length it is cut (or at hand) at, and whether
    its threads reach."""
    holes = [(b.id, int(h)) for b, h in zip(found.layout.brackets, found.holes[row], strict=True)]
    after = with_holes(found.layout, holes)
    out = []
    for one in cuts:
        link = after.link(one.link.id)
        assert link is not None
        change = link_length(link) - one.cut.centre_to_centre
        if abs(change) > 5e-5:
            out.append((one, turns_for(one.cut, change)))
    return tuple(out)


class HoleReach(Struct, frozen=True):
    """What the holes of one bracket do to one number, the others as they are: its range, and with a hole more at each
    end of the row."""

    gauge: str
    low: float
    high: float
    more_low: float
    more_high: float

    def part(self, band: tuple[float, float], *, more: bool = False) -> float:
        """The part of a band that lies within the range, 0 to 1."""
        low, high = (self.more_low, self.more_high) if more else (self.low, self.high)
        wide = band[1] - band[0]
        return max(0.0, min(high, band[1]) - max(low, band[0])) / wide if wide > 0 else 0.0


def hole_reach(
    rig: Rig, layout: Layout, joints: tuple[Joint, ...], settings: Settings, bracket: Bracket
) -> tuple[HoleReach, ...]:
    """Every mapped number over the holes of one bracket, and over two holes more."""
    link = layout.link(bracket.link)
    assert link is not None
    index = {one.id: i for i, one in enumerate(layout.links)}
    holes = range(bracket.holes + 2)
    frame, axle = (
        np.repeat(np.array([[one.pivot(end) for one in layout.links]]), len(holes), axis=0) for end in ("frame", "axle")
    )
    target = frame if bracket.end == "frame" else axle
    for k, hole in enumerate(holes):
        point = np.array(hole_point(layout, bracket, hole))
        for name, side in layout.moved_with(link, bracket.end):
            target[k, index[name]] = point * np.array([1.0, side, 1.0])
    found = numbers_of(Setting(rig, layout, joints, settings), frame, axle, MAPPED, stations=21)
    out = []
    for name in MAPPED:
        values = found[name]
        if np.isfinite(values[1:-1]).any():
            inner, outer = values[1:-1][np.isfinite(values[1:-1])], values[np.isfinite(values)]
            out.append(HoleReach(name, *(float(v) for v in (inner.min(), inner.max(), outer.min(), outer.max()))))
    return tuple(out)


def combinations(layout: Layout) -> int:
    """How many combinations of holes a layout has."""
    return math.prod(b.holes for b in layout.brackets)


@remember_by_identity(4)
def hole_map(rig: Rig, layout: Layout, joints: tuple[Joint, ...], settings: Settings) -> HoleMap:
    """Work out every combination at once, links made to suit, the axle held at ride.

    Raises :class:`ValueOutOfRange` for a layout without brackets or with more than a million combinations. The
    pinion's change is left out (``nan``) above 4000. A combination that leaves a motion free has ``nan``.
    """
    count = combinations(layout)
    if not layout.brackets:
        raise ValueOutOfRange(
            "L201", "No pivot of this layout has a bracket with holes yet.", "Pick a pivot and give it a row or a fan."
        )
    if count > MOST:
        raise ValueOutOfRange(
            "L202",
            f"{count:,} hole combinations are more than the {MOST:,} that are worked out.",
            "Take a bracket away or give one fewer holes.",
        )
    grid = np.indices([b.holes for b in layout.brackets]).reshape(len(layout.brackets), -1).T + 1
    index = {link.id: i for i, link in enumerate(layout.links)}
    frame0 = np.array([link.frame_pivot_m for link in layout.links])
    axle0 = np.array([link.axle_pivot_m for link in layout.links])
    names = MAPPED if count <= SWEPT else tuple(n for n in MAPPED if n != "pinion")
    values: dict[str, list[Array]] = {name: [] for name in names}
    for start in range(0, count, 50_000):
        part = grid[start : start + 50_000]
        frame, axle = (np.broadcast_to(v, (len(part), *v.shape)).copy() for v in (frame0, axle0))
        for k, bracket in enumerate(layout.brackets):
            points = np.array([hole_point(layout, bracket, h) for h in range(1, bracket.holes + 1)])[part[:, k] - 1]
            link = layout.link(bracket.link)
            assert link is not None
            target = frame if bracket.end == "frame" else axle
            for name, side in layout.moved_with(link, bracket.end):
                target[:, index[name]] = points * np.array([1.0, side, 1.0])
        found = numbers_of(Setting(rig, layout, joints, settings), frame, axle, names, stations=21)
        for name in names:
            values[name].append(found[name])
    done = {name: np.concatenate(v) for name, v in values.items()}
    done.setdefault("pinion", np.full(count, np.nan))
    now = np.flatnonzero((grid == np.array([b.hole for b in layout.brackets])).all(axis=1))
    return HoleMap(layout, grid, done, int(now[0]) if len(now) else -1)
