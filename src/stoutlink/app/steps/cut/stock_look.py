"""Stock: every bar drawn to scale as it will be cut up, what is bought, what is left over, and what no bar is long enough
for.
"""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.path_drawer import Entry, PathDrawer
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.analysis.linkage.stock_plan import TubePlan
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import MATERIAL_WORDS
from stoutlink.core.document.link_work import StockBar
from stoutlink.core.editing.edits import PutInList, TakeFromList
from stoutlink.core.mechanics.cutting_stock import BarUsed
from stoutlink.core.quantity.constants import INCH
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.stock_text import plan_words, stock_text

BAR = {"in": 240 * INCH, "mm": 6.0}
"""A usual bar: 20 ft or 6 m (common practice)."""
SHORT = {"in": 20 * INCH, "mm": 0.5}
MATERIALS = (("steel", "drawn steel"), ("steel_4130", "4130 steel"), ("aluminium", "aluminium"))


class StockLook(Look):
    """One block a kind of tube: the bars as they will be cut, then what there is to cut from."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cut_stock", "Stock", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.picture = Picture("stock_picture", "Bars as they will be cut", self)
        outer.addWidget(scrolled(self.picture, self), 1)
        row = QHBoxLayout()
        row.setContentsMargins(12, 2, 12, 2)
        self.add = self.put_button("add_bar", "Add a bar", "A bar to buy, of the first tube no bar is named for.", row)
        self.add.clicked.connect(lambda: self._add(False))
        self.left = self.put_button(
            "add_offcut", "Add an offcut", "A piece of tube that lies on the shelf; it is used first.", row
        )
        self.left.clicked.connect(lambda: self._add(True))
        self.gone = self.put_button("remove_bar", "Remove", "Take the bar picked out of the stock.", row)
        self.gone.clicked.connect(self._remove)
        row.addStretch(1)
        outer.addLayout(row)
        self.drawer = PathDrawer(workspace, "stock_drawer", 4, self)
        self.drawer.setContentsMargins(12, 0, 12, 8)
        outer.addWidget(self.drawer)
        self.plans: tuple[TubePlan, ...] = ()
        self.picked = ""

    def prepare(self) -> None:
        w = self.workspace
        needs = w.study.needed("stance", "weight")
        self.plans = () if needs else w.study.stock_plan()
        stock = w.project.fabrication.stock
        if all(b.id != self.picked for b in stock):
            self.picked = stock[0].id if stock else ""
        self.gone.setEnabled(bool(self.picked))
        entries = [Entry("sawing.kerf_m", "kerf"), Entry("sawing.keep_m", "worth keeping")]
        bar = next((b for b in stock if b.id == self.picked), None)
        if bar is not None:
            at = f"stock.{bar.id}"
            entries += [
                Entry(f"{at}.name", "name", "text"),
                Entry(f"{at}.od_m", "outside"),
                Entry(f"{at}.wall_m", "wall"),
                Entry(f"{at}.material", "material", "choice", MATERIALS),
                Entry(f"{at}.length_m", "length"),
                Entry(f"{at}.offcut", "lies there", "choice", ((False, "to buy"), (True, "on the shelf"))),
                *([Entry(f"{at}.count", "how many")] if bar.offcut else [Entry(f"{at}.price", "price of one")]),
            ]
        self.drawer.show_entries(entries)
        assert self.theme is not None
        self.picture.show_with(self.theme, self._paint)

    def pick(self, bar: str) -> None:
        """Show a bar's fields."""
        self.picked = bar
        if self.theme is not None:
            self.refresh(self.theme)

    def _add(self, offcut: bool) -> None:
        project = self.workspace.project
        new = free_id("bar-", (b.id for b in project.fabrication.stock))
        bare = next((one for one in self.plans if not one.bars), self.plans[0] if self.plans else None)
        od, wall, material = (
            (1.75 * INCH, 0.25 * INCH, "steel") if bare is None else (bare.od, bare.wall, bare.material)
        )
        unit = self.workspace.unit
        size = f"{show(od, 'length', unit)} × {show(wall, 'fine_length', unit)}"
        bar = StockBar(
            id=new,
            name=f"{'Offcut' if offcut else 'Bar'} {size}"[:120],
            od_m=od,
            wall_m=wall,
            material=material,  # type: ignore[arg-type]
            length_m=SHORT[unit] if offcut else BAR[unit],
            offcut=offcut,
        )
        if self.workspace.do(PutInList("stock", bar, "Add an offcut" if offcut else "Add a bar")):
            self.pick(new)

    def _remove(self) -> None:
        if self.picked:
            self.workspace.do(TakeFromList("stock", (self.picked,), "Take a bar out of the stock"))

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        w, y = float(picture.width()), 8.0
        stock, unit = self.workspace.project.fabrication.stock, self.workspace.unit
        if not self.plans:
            words = "Nothing to cut: lay links out first. Bars and offcuts can be written down already."
            y += flow(p, QRectF(16, y, w - 32, 40), words, t.quiet, size=10) + 8
        longest = max([b.length_m for b in stock] or [1.0])
        for plan in self.plans:
            y = self._tube(p, t, picture, plan, y, w, longest)
        if stock:
            text(p, QRectF(16, y, w - 32, 18), "Stock", t.text, size=10, bold=True)
            y += 22
        for bar in stock:
            box = QRectF(12, y, w - 24, 20)
            if bar.id == self.picked:
                p.fillRect(box, t.raised)
                p.fillRect(QRectF(12, y, 3, 20), t.dye)
            where = f"{bar.count} on the shelf" if bar.offcut else "to buy"
            size = f"{show(bar.od_m, 'length', unit)} × {show(bar.wall_m, 'fine_length', unit)} {MATERIAL_WORDS[bar.material]}"
            text(p, box.adjusted(10, 0, 0, 0), bar.name, t.text, size=9, elide=True)
            words = f"{size}, {show(bar.length_m, 'length', unit)}, {where}"
            text(p, box.adjusted(0, 0, -8, 0), words, t.quiet, size=9, align="right")
            picture.hits.append(
                Hit(box, f"{bar.name}: {words}. Click to change it.", partial(self.pick, bar.id), f"bar {bar.id}")
            )
            y += 22
        if picture.minimumHeight() != int(y + 10):
            picture.setMinimumHeight(int(y + 10))

    def _tube(
        self, p: QPainter, t: Theme, picture: Picture, plan: TubePlan, y: float, w: float, longest: float
    ) -> float:
        for words, bad in plan_words(plan, self.workspace.unit, self.workspace.project.swap.choosing.currency):
            colour = t.torch if bad else t.text
            y += flow(p, QRectF(16, y, w - 32, 36), words, colour, size=10 if not bad else 9) + 3
        scale = (w - 40) / longest
        for used in plan.plan.bars:
            self._bar(p, t, picture, plan, used, QRectF(16, y, plan.bar_of(used).length_m * scale, 32), scale)
            y += 40
        return y + 8

    def _bar(
        self, p: QPainter, t: Theme, picture: Picture, plan: TubePlan, used: BarUsed, box: QRectF, scale: float
    ) -> None:
        unit, kerf = self.workspace.unit, self.workspace.project.fabrication.sawing.kerf_m
        p.setPen(QPen(t.edge, 1))
        p.setBrush(QBrush(t.sheet))
        p.drawRect(box)
        x = box.left()
        for i in used.pieces:
            piece = plan.pieces[i]
            part = QRectF(x, box.top(), piece.length * scale, box.height())
            p.setPen(QPen(t.soap, 1))
            p.setBrush(QBrush(t.raised))
            p.drawRect(part)
            size = show(piece.length, "length", unit, decimals=2 if unit == "in" else 0)
            top, low = part.adjusted(3, 1, -3, -part.height() / 2), part.adjusted(3, part.height() / 2 - 1, -3, -1)
            text(p, top, f"{piece.name}, {piece.axle}", t.text, size=8, align="centre", elide=True)
            text(p, low, size, t.text, size=8.5, bold=True, align="centre", elide=True)
            picture.hits.append(
                Hit(
                    part,
                    f"{piece.name}, {piece.axle}: {show(piece.length, 'length', unit, decimals=3 if unit == 'in' else 1)}",
                )
            )
            x += (piece.length + kerf) * scale
        if used.left > 0:
            rest = QRectF(box.right() - used.left * scale, box.top(), used.left * scale, box.height())
            keep = used.left >= self.workspace.project.fabrication.sawing.keep_m
            if not keep:
                p.fillRect(rest, QBrush(t.faint, Qt.BrushStyle.BDiagPattern))
            words = f"left {show(used.left, 'length', unit, decimals=1 if unit == 'in' else 0)}"
            text(p, rest, words, t.soap if keep else t.quiet, size=8.5, align="centre", elide=True)
            picture.hits.append(Hit(rest, f"{words}: {'back to the shelf' if keep else 'waste'}."))
        p.setPen(QPen(t.edge, 1))
        p.drawLine(QPointF(box.left(), box.bottom()), QPointF(box.right(), box.bottom()))

    def as_text(self) -> str:
        return stock_text(self.plans, self.workspace.unit, self.workspace.project.swap.choosing.currency)
