"""Which link or brace is cut from which bar: one plan for each kind of tube."""

from __future__ import annotations

from msgspec import Struct

from stoutlink.core.analysis.linkage.cut_list import LinkCut
from stoutlink.core.document.layout import Link, Material
from stoutlink.core.document.link_work import Sawing, StockBar, TubeCope
from stoutlink.core.mechanics.cutting_stock import BarUsed, CuttingPlan, cut_up

SAME_SIZE = 1e-4
"""Tubes within this of each other, m, are of one size."""


class Piece(Struct, frozen=True):
    """One tube to cut: whose it is, and its length, m."""

    axle: str
    layout: str
    link: str
    name: str
    length: float


class TubePlan(Struct, frozen=True):
    """All pieces of one kind of tube, the bars on offer (``bars`` bought, ``offcuts`` on the shelf, each piece of tube
    by itself), and the plan; with no bar on offer every piece is too long for it."""

    od: float
    wall: float
    material: Material
    pieces: tuple[Piece, ...]
    bars: tuple[StockBar, ...]
    offcuts: tuple[StockBar, ...]
    plan: CuttingPlan

    @property
    def to_buy(self) -> dict[str, int]:
        """How many of each bar are bought, by id."""
        out: dict[str, int] = {}
        for one in self.plan.bars:
            if not one.offcut:
                name = self.bars[one.bar].id
                out[name] = out.get(name, 0) + 1
        return out

    @property
    def cost(self) -> float | None:
        """What the bars cost; ``None`` while one has no price."""
        known = {b.id: b.price for b in self.bars}
        prices = [None if (p := known[name]) is None else p * count for name, count in self.to_buy.items()]
        return None if None in prices else sum(p for p in prices if p is not None)

    def bar_of(self, used: BarUsed) -> StockBar:
        """The record of a bar used."""
        return (self.offcuts if used.offcut else self.bars)[used.bar]


def stock_plan(
    cuts: tuple[LinkCut, ...], stock: tuple[StockBar, ...], sawing: Sawing, braces: tuple[TubeCope, ...] = ()
) -> tuple[TubePlan, ...]:
    """A plan for every kind of tube that links still have to be cut from, in the order of the links, then for braces and
    cross-members whose length is known (of steel)."""
    kinds: list[tuple[float, float, Material]] = []
    pieces: list[list[Piece]] = []

    def add(kind: tuple[float, float, Material], piece: Piece) -> None:
        k = next((i for i, known in enumerate(kinds) if _same(known, kind)), None)
        if k is None:
            kinds.append(kind)
            pieces.append([piece])
        else:
            pieces[k].append(piece)

    for one in cuts:
        if one.there or one.cut.tube <= 0:
            continue
        link = one.link
        kind = (link.tube_od_m, link.tube_wall_m, link.material)
        add(kind, Piece(one.layout.end, one.layout.id, link.id, link.name, one.cut.tube))
    for brace in braces:
        if brace.length_m is not None:
            piece = Piece("frame", "", brace.id, brace.name, brace.length_m)
            for _ in range(brace.count):
                add((brace.od_m, brace.wall_m, "steel"), piece)
    out = []
    for kind, wanted in zip(kinds, pieces, strict=True):
        mine = [b for b in stock if _same(kind, (b.od_m, b.wall_m, b.material))]
        bars = tuple(b for b in mine if not b.offcut)
        offcuts = tuple(b for b in mine if b.offcut for _ in range(b.count))
        plan = cut_up(
            tuple(p.length for p in wanted),
            tuple(b.length_m for b in bars),
            tuple(b.length_m for b in offcuts),
            sawing.kerf_m,
            sawing.keep_m,
        )
        out.append(TubePlan(*kind, tuple(wanted), bars, offcuts, plan))
    return tuple(out)


def same_tube(link: Link, bar: StockBar) -> bool:
    """Whether a link is cut from tube like this."""
    return _same((link.tube_od_m, link.tube_wall_m, link.material), (bar.od_m, bar.wall_m, bar.material))


def _same(one: tuple[float, float, str], two: tuple[float, float, str]) -> bool:
    return one[2] == two[2] and all(abs(a - b) <= SAME_SIZE for a, b in zip(one[:2], two[:2], strict=True))
