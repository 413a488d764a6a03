"""The question as numbers: which coordinates may move, and how far a layout is from what is wanted."""

from __future__ import annotations

from functools import cached_property

import msgspec
import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from stoutlink.core.analysis.linkage.many_layouts import Setting, numbers_of
from stoutlink.core.document.headline import HEADLINES
from stoutlink.core.document.layout import Layout, Link, PivotEnd
from stoutlink.core.document.search import PivotBox, Search, Want
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.shown import show_both

Array = NDArray[np.float64]
INSIDE = 0.12
"""The search aims this part of the half band inside its edges, so that rounding the tape readings does not push it
out.
"""
NO_LIMIT = 1.0
"""A wanted clearance up to this or more, m, has no upper end."""
HOPELESS = 40.0
"""What a version that does not hold the axle counts as being out by, in usual differences."""


def roomy(want: Want, value: Array) -> Array:
    """A number as it is judged: with nothing in the way there is all the room that is wanted."""
    return np.where(np.isposinf(value), max(want.low, want.high), value) if want.id == "clearance" else value


class Moved(Struct, frozen=True):
    """One coordinate that may move: its place in the layout, its box, the step its tape reading is rounded to, m, and
    what moves with it.
    """

    box: str
    axis: int
    low: float
    high: float
    step: float
    places: tuple[tuple[PivotEnd, int, float], ...]


class Question(Struct, frozen=True, dict=True):
    """What is asked: the setting, the coordinates that may move and what is wanted of the numbers."""

    setting: Setting
    moved: tuple[Moved, ...]
    wants: tuple[Want, ...]

    @cached_property
    def base(self) -> tuple[Array, Array]:
        """Frame and axle pivots as they are, ``(n, 3)``."""
        links = self.setting.layout.links
        return np.array([x.frame_pivot_m for x in links]), np.array([x.axle_pivot_m for x in links])

    @cached_property
    def low(self) -> Array:
        """Lower ends of all coordinates."""
        return np.array([m.low for m in self.moved])

    @cached_property
    def edge(self) -> Array:
        """Lengths of all coordinates' boxes."""
        return np.array([m.high - m.low for m in self.moved])

    @cached_property
    def names(self) -> tuple[str, ...]:
        """Numbers that are wanted."""
        return tuple(dict.fromkeys(w.id for w in self.wants))

    @cached_property
    def near(self) -> float:
        """Room beyond which it does not matter how much there is, m."""
        return next((w.low + 0.02 if w.high >= NO_LIMIT else np.inf for w in self.wants if w.id == "clearance"), np.inf)

    def here(self) -> Array:
        """The layout as it is, as a point of the unit box (put on its faces where it lies outside)."""
        out = []
        for m in self.moved:
            which, bar, _ = m.places[0]
            value = self.base[0 if which == "frame" else 1][bar, m.axis]
            out.append((value - m.low) / (m.high - m.low))
        return np.asarray(np.clip(np.array(out), 0.0, 1.0))

    def pivots(self, points: Array) -> tuple[Array, Array]:
        """Frame and axle pivots ``(m, n, 3)`` of points of the unit box ``(m, d)``."""
        frame, axle = (np.broadcast_to(v, (len(points), *v.shape)).copy() for v in self.base)
        values = self.low + points * self.edge
        for k, m in enumerate(self.moved):
            for which, bar, side in m.places:
                (frame if which == "frame" else axle)[:, bar, m.axis] = values[:, k] * (side if m.axis == 1 else 1.0)
        return frame, axle

    def numbers(self, points: Array, stations: int = 7) -> dict[str, Array]:
        """The wanted numbers of points, ``(m,)`` each."""
        return numbers_of(self.setting, *self.pivots(points), self.names, stations)

    def out_by(self, numbers: dict[str, Array], inside: float = 0.0) -> Array:
        """How far outside each wanted band, ``(m, wants)``, in usual differences; a version that holds nothing is out
        by a lot.
        """
        out = []
        for w in self.wants:
            half = 0.5 * (w.high - w.low)
            unit = min(HEADLINES[w.id].usual, max(half, 0.1 * HEADLINES[w.id].usual))
            margin = inside * min(half, HEADLINES[w.id].usual)
            value = roomy(w, numbers[w.id])
            off = np.maximum(0.0, np.maximum(w.low + margin - value, value - w.high + margin)) / unit
            out.append(np.where(np.isfinite(off), off, HOPELESS))
        return np.stack(out, axis=-1) if out else np.zeros((len(next(iter(numbers.values()))), 0))

    def residuals(
        self, points: Array, weights: Array, inside: float = INSIDE, names: tuple[str, ...] | None = None
    ) -> Array:
        """Weighted distances for the search, ``(m, wants)``; with ``names`` only those wants, the others 0."""
        frame, axle = self.pivots(points)
        wanted = self.names if names is None else names
        numbers = numbers_of(self.setting, frame, axle, wanted, 7, self.near, rough=True)
        for name in self.names:
            numbers.setdefault(name, np.full(len(points), 0.0))
        off = self.out_by(numbers, inside)
        if names is not None:
            off = off * np.array([w.id in names for w in self.wants])
        return np.minimum(off, HOPELESS) * weights

    def snapped(self, points: Array) -> Array:
        """Points moved to the nearest whole tape readings inside their boxes; a box without one keeps the point."""
        values = self.low + points * self.edge
        for k, m in enumerate(self.moved):
            least, most = np.ceil((m.low - 1e-9) / m.step), np.floor((m.high + 1e-9) / m.step)
            if least <= most:
                values[:, k] = np.clip(np.round(values[:, k] / m.step), least, most) * m.step
        return np.asarray((values - self.low) / self.edge)


def ask(setting: Setting, search: Search) -> Question:
    """Read a search. Raises :class:`ValueOutOfRange` for a pivot that is not there, a box without room, or bands that
    end before they begin.
    """
    layout, unit = setting.layout, setting.settings.units
    grid = INCH / 8 if unit == "in" else 0.005
    index = {link.id: i for i, link in enumerate(layout.links)}
    moved: list[Moved] = []
    taken: set[tuple[PivotEnd, int]] = set()
    for box in search.boxes:
        link, which = _pivot(layout, box)
        together = layout.moved_with(link, which)
        places = tuple((which, index[name], side) for name, side in together)
        if {(w, i) for w, i, _ in places} & taken:
            raise ValueOutOfRange(
                "L212", f"{box.id} moves with a pivot that has a box already.", "Give a pair one box."
            )
        taken |= {(w, i) for w, i, _ in places}
        pair = any(side < 0 for _, side in together)
        for axis in range(3):
            low, high = box.low_m[axis], box.high_m[axis]
            if low > high:
                raise ValueOutOfRange(
                    "L213",
                    f"The box of {box.id} runs from {show_both(low, 'length')} to {show_both(high, 'length')} along {'xyz'[axis]}; the first must not be more than the second.",
                )
            empty = high - low < 1e-9  # stands where its box says
            moved.append(
                Moved(box.id, axis, low, low if empty else high, grid / 2 if pair and axis == 1 else grid, places)
            )
    for want in search.wants:
        if want.low >= want.high:
            raise ValueOutOfRange(
                "L214",
                f"{want.id} is wanted from {want.low:g} to {want.high:g}; the first must be less than the second.",
            )
    wants = tuple(w for w in search.wants if w.weight > 0)
    if not wants:
        raise ValueOutOfRange(
            "L215", "Nothing is wanted of the layout yet.", "Give at least one number a band and a weight above 0."
        )
    free = tuple(m for m in moved if m.high > m.low)
    if not free:
        raise ValueOutOfRange("L216", "No pivot may move: every box is empty.", "Give at least one pivot room.")
    if all(w.id != "travel" for w in wants):
        wants = (*wants, Want(id="travel", low=0.999, high=2.0))
    return Question(_with_fixed(setting, moved), free, wants)


def _with_fixed(setting: Setting, moved: list[Moved]) -> Setting:
    links = list(setting.layout.links)
    for m in moved:
        if m.high > m.low:
            continue
        for which, bar, side in m.places:
            point = list(links[bar].pivot(which))
            point[m.axis] = m.low * (side if m.axis == 1 else 1.0)
            links[bar] = msgspec.structs.replace(links[bar], **{f"{which}_pivot_m": tuple(point)})
    layout = msgspec.structs.replace(setting.layout, links=tuple(links))
    return Setting(setting.rig, layout, setting.joints, setting.settings, setting.solids)


def _pivot(layout: Layout, box: PivotBox) -> tuple[Link, PivotEnd]:
    name, _, which = box.id.rpartition(":")
    link = layout.link(name)
    if link is None:
        raise ValueOutOfRange(
            "L211",
            f"There is no pivot {box.id} in {layout.name}.",
            f"Links: {', '.join(one.id for one in layout.links)}.",
        )
    return link, "frame" if which == "frame" else "axle"
