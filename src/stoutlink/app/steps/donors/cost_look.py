"""Cost to ready: up to three pairs side by side, line by line, against the budget; tools bought once stand apart."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.steps.donors.pick_look import AT_ONCE
from stoutlink.app.widgets.picture import Hit, Picture, number_fields, quiet_label, text
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.analysis.swap.cost_to_ready import GROUP_TITLES, Cost, CostLine
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.prices import BY_ID
from stoutlink.core.document.swap import Price
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.errors import StoutError
from stoutlink.core.quantity.shown import parse_quantity

ROW = 21


@dataclass(frozen=True)
class Column:
    """One pair and its cost."""

    title: str
    front: DonorAxle | None
    rear: DonorAxle | None
    cost: Cost


class CostLook(DonorLook):
    """Stacked bars above, the lines below in a scrolled picture."""

    pair = True

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "cost", "Cost to ready", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.setContentsMargins(12, 6, 12, 2)
        self.fields = number_fields(
            workspace,
            row,
            self,
            84,
            (("choosing.budget", "budget"), ("choosing.hour_price", "an hour of yours counts")),
        )
        row.addWidget(quiet_label("currency", self))
        self.currency = WordField(workspace, "choosing.currency", "Currency", self, name="currency")
        self.currency.setToolTip("Any word: it only stands behind the sums.")
        self.currency.setFixedSize(64, 25)
        row.addWidget(self.currency)
        row.addStretch(1)
        outer.addLayout(row)
        self.bars = Picture("cost_bars", "Cost of each pair", self)
        self.bars.setFixedHeight(150)
        outer.addWidget(self.bars)
        area = QScrollArea(self)
        area.setObjectName("cost_lines_area")
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.lines = Picture("cost_lines", "Cost lines", self)
        area.setWidget(self.lines)
        outer.addWidget(area, 1)
        self.columns: list[Column] = []

    def prepare(self) -> None:
        w = self.workspace
        project = w.project
        for field in self.fields:
            field.refresh()
        self.currency.refresh()
        front, rear = project.donor("front"), project.donor("rear")
        wanted: list[tuple[str, DonorAxle | None, DonorAxle | None]] = [("Chosen", front, rear)]
        if self.donor is not None and self.donor not in (front, rear):
            wanted.append(
                (
                    "Looked at",
                    self.donor if self.donor.end == "front" else front,
                    self.donor if self.donor.end == "rear" else rear,
                )
            )
        ends = {end: [d for d in project.donors if d.end == end] for end in ("front", "rear")}
        few = len(ends["front"]) * len(ends["rear"]) <= AT_ONCE
        best = w.study.ranking(tuple(ends["front"]), tuple(ends["rear"]), 3).best if few and all(ends.values()) else ()
        for one in best:
            if len(wanted) < 3 and (one.front, one.rear) not in [(f, r) for _, f, r in wanted]:
                wanted.append((f"Pick {best.index(one) + 1}", one.front, one.rear))
        gears = {(one.front, one.rear): one.gears for one in best}
        self.columns = []
        for title, f, r in wanted:
            if f is None and r is None:
                continue
            sets = gears.get((f, r)) if title.startswith("Pick") else None
            self.columns.append(
                Column(
                    title,
                    f,
                    r,
                    w.study.cost(f, r, sets),
                )
            )
        if self.theme is not None:
            self.bars.show_with(self.theme, self._bars)
            self.lines.show_with(self.theme, self._lines)
            self.lines.setMinimumHeight(60 + ROW * (len(self._rows()) + len(GROUP_TITLES)))

    def _rows(self) -> list[tuple[str, str, str]]:
        """Lines over all columns, in the order of the groups: (group, id, end)."""
        seen: dict[tuple[str, str, str], None] = {}
        for group in GROUP_TITLES:
            for column in self.columns:
                for line in column.cost.lines:
                    if line.group == group:
                        seen.setdefault((group, line.id, line.end), None)
        return list(seen)

    def _bars(self, p: QPainter, t: Theme, picture: Picture) -> None:
        if not self.columns:
            text(
                p,
                QRectF(30, 20, picture.width() - 60, 60),
                "Choose an axle to see everything it drags in until it drives.",
                t.quiet,
                size=11,
                align="centre",
            )
            return
        budget, currency = self.workspace.project.choosing.budget, self.workspace.project.choosing.currency
        most = max([c.cost.total + c.cost.tools for c in self.columns] + ([budget] if budget else [])) * 1.12 or 1.0
        left, right = 250.0, picture.width() - 190.0
        shades: dict[str, tuple[QColor, Qt.BrushStyle]] = {
            "axle": (t.soap, Qt.BrushStyle.SolidPattern),
            "part": (t.quiet, Qt.BrushStyle.SolidPattern),
            "work": (t.brass, Qt.BrushStyle.SolidPattern),
            "hours": (t.brass, Qt.BrushStyle.BDiagPattern),
            "consumable": (t.faint, Qt.BrushStyle.DiagCrossPattern),
            "tool": (t.soap, Qt.BrushStyle.Dense6Pattern),
        }
        for i, c in enumerate(self.columns):
            y = 10 + i * 36
            text(p, QRectF(12, y - 2, left - 20, 16), c.title, t.quiet, size=8.5)
            names = " + ".join(a.name for a in (c.front, c.rear) if a is not None)
            text(p, QRectF(12, y + 12, left - 20, 18), names, t.text, size=9.5, elide=True)
            x = left
            parts = [(g, c.cost.of(g)) for g in ("axle", "part", "work", "consumable")] + [
                ("hours", c.cost.hours * self.workspace.project.choosing.hour_price),
                ("tool", c.cost.tools),
            ]
            for group, amount in parts:
                wide = amount / most * (right - left)
                box = QRectF(x, y, wide, 24)
                colour, style = shades[group]
                p.fillRect(box, QBrush(colour, style))
                p.setPen(QPen(t.sheet, 1))
                p.drawRect(box)
                name = "Your hours" if group == "hours" else GROUP_TITLES[group]
                picture.hits.append(Hit(box, f"{name}: {amount:.0f} {currency}".strip(), None, f"bar_{i}_{group}"))
                x += wide
            over = c.cost.left is not None and c.cost.left < 0
            least = "at least " if c.cost.unknown else ""
            text(
                p,
                QRectF(right + 12, y - 3, 172, 18),
                f"{'▲ ' if over else ''}{least}{c.cost.total + c.cost.tools:.0f} {currency}".strip(),
                t.torch if over else t.text,
                size=11,
                bold=True,
            )
            text(
                p,
                QRectF(right + 12, y + 13, 172, 16),
                f"tools {c.cost.tools:.0f} of it; {c.cost.hours:.0f} h",
                t.quiet,
                size=8.5,
            )
        if budget:
            x = left + budget / most * (right - left)
            p.setPen(QPen(t.dye, 2, Qt.PenStyle.DashLine))
            p.drawLine(QPointF(x, 2), QPointF(x, 12 + 36 * len(self.columns)))
            text(
                p,
                QRectF(x - 60, 12 + 36 * len(self.columns), 120, 14),
                f"budget {budget:.0f}",
                t.text,
                size=8.5,
                align="centre",
            )
        words = "solid: axles, parts, work bought; hatched: your hours; cross-hatched: used up; dotted: tools. Prices are estimates until you click one and say yours."
        text(p, QRectF(12, picture.height() - 18, picture.width() - 24, 16), words, t.quiet, size=8)

    def _lines(self, p: QPainter, t: Theme, picture: Picture) -> None:
        if not self.columns:
            return
        each = 92.0
        first = picture.width() - each * len(self.columns) - 12
        for j, c in enumerate(self.columns):
            text(p, QRectF(first + j * each, 2, each - 6, 18), c.title, t.quiet, size=8.5, align="right")
        y, group_now = 22.0, ""
        for group, name, end in self._rows():
            if group != group_now:
                group_now = group
                p.setPen(QPen(t.edge, 1))
                p.drawLine(QPointF(10, y), QPointF(picture.width() - 10, y))
                text(p, QRectF(12, y, 300, ROW), GROUP_TITLES[group], t.text, size=9.5, bold=True)
                for j, c in enumerate(self.columns):
                    text(
                        p,
                        QRectF(first + j * each, y, each - 6, ROW),
                        _sum(c.cost, group),
                        t.text,
                        size=9.5,
                        bold=True,
                        align="right",
                    )
                y += ROW
            cells = [
                next((x for x in c.cost.lines if (x.group, x.id, x.end) == (group, name, end)), None)
                for c in self.columns
            ]
            some: CostLine = next(x for x in cells if x is not None)
            title = some.title if name != "axle" else f"{end.capitalize()} axle"
            text(
                p,
                QRectF(24, y, 216, ROW),
                title if end == "both" or name == "axle" else f"{title}, {end}",
                t.text,
                size=9,
                elide=True,
            )
            text(p, QRectF(246, y, first - 250, ROW), some.why if name != "axle" else "", t.quiet, size=8.5, elide=True)
            for j, x in enumerate(cells):
                if x is not None:
                    words = (
                        "not known"
                        if x.amount is None
                        else f"{x.amount:.0f}"
                        if x.amount or not x.hours
                        else f"{x.hours:.1f} h"
                    )
                    colour = (
                        t.torch
                        if x.amount is None
                        else t.brass
                        if x.own and x.id in BY_ID and x.id != "repair"
                        else t.text
                    )
                    text(
                        p,
                        QRectF(first + j * each, y, each - 6, ROW),
                        words if x.own or x.amount is None else f"~{words}",
                        colour,
                        size=9,
                        align="right",
                    )
            if name in BY_ID and name != "repair":
                known = BY_ID[name]
                tip = f"{known.title}, a {known.per}: {some.why}. About {known.amount:.0f} and {known.hours:g} h (estimate). Click to say your price."
                picture.hits.append(
                    Hit(
                        QRectF(10, y, picture.width() - 20, ROW),
                        tip,
                        partial(self.ask_price, name),
                        f"line_{name}_{end}",
                    )
                )
            y += ROW

    def ask_price(self, name: str) -> None:
        """Ask for the user's own price of a line."""
        known = BY_ID[name]
        answer = dialogs.ask_text(
            self,
            "Your price",
            f"{known.title}, a {known.per}: what does it cost you? Empty goes back to the estimate of {known.amount:.0f}.",
        )
        if answer is None:
            return
        amount: float | None = None
        try:
            if answer.strip():
                amount = parse_quantity(answer.strip(), "money", self.workspace.unit)
        except StoutError as why:
            self.workspace.said.emit(f"{known.title}: {why.sentence} {why.hint}", True)
            return
        self.workspace.do(PutInList("prices", Price(id=name, amount=amount), f"Price of {known.title.lower()}"))

    def as_text(self) -> str:
        out = []
        for c in self.columns:
            names = " + ".join(a.name for a in (c.front, c.rear) if a is not None)
            out.append(f"{c.title}: {names}\ttotal {c.cost.total:.0f}\ttools {c.cost.tools:.0f}\t{c.cost.hours:.1f} h")
            out += [
                f"{GROUP_TITLES[x.group]}\t{x.title}\t{x.end}\t{'not known' if x.amount is None else f'{x.amount:.0f}'}\t{x.hours:.1f} h\t{x.why}"
                for x in c.cost.lines
            ]
        return "\n".join(out) or "No axles chosen."


def _sum(cost: Cost, group: str) -> str:
    """A group's money, or its hours where no money goes into it."""
    amount = cost.of(group)
    hours = sum(x.hours for x in cost.lines if x.group == group)
    return f"{amount:.0f}" if amount or not hours else f"{hours:.0f} h"
