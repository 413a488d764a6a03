"""Cost to ready: up to three pairs side by side, line by line, against the budget; tools bought once stand apart."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import msgspec
from msgspec import Struct
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QAction, QBrush, QColor, QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.steps.donors.pick_look import AT_ONCE
from stoutlink.app.widgets.picture import Hit, Picture, number_fields, quiet_label, text
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.analysis.swap.cost_line import CostLine
from stoutlink.core.analysis.swap.cost_to_ready import GROUP_TITLES, Cost
from stoutlink.core.catalogue.donor import DonorAxle
from stoutlink.core.catalogue.prices import BY_ID
from stoutlink.core.document.paths import get_value
from stoutlink.core.document.price_text import money_words, read_price
from stoutlink.core.document.swap import BUYS, EXTRAS, OwnCost, Price
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList
from stoutlink.core.errors import StoutError

ROW = 21


class Column(Struct, frozen=True):
    """One pair and its cost."""

    title: str
    front: DonorAxle | None
    rear: DonorAxle | None
    cost: Cost


class CostLook(DonorLook):
    """Stacked bars above, the lines below in a scrolled picture."""

    takes = ("stance", "weight", "train")

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
            (("choosing.budget", "budget"), ("choosing.hour_price", "your hour counts")),
        )
        row.addWidget(quiet_label("currency", self))
        self.currency = WordField(workspace, "choosing.currency", "Currency", self, name="currency")
        self.currency.setToolTip("Any word: it only stands behind the sums.")
        self.currency.setFixedSize(64, 25)
        row.addWidget(self.currency)
        self.menus = {end: self._menu(f"plan_{end}", f"{end.capitalize()} axle", row) for end in ("front", "rear")}
        self.buys = self._menu("also_buy", "Also buy", row)
        own = QPushButton("Own line…", self)
        own.setObjectName("own_cost")
        own.setToolTip("A line of your own: what, money (below 0 for a credit), hours.")
        own.clicked.connect(lambda: self.ask_own())
        row.addWidget(own)
        row.addStretch(1)
        outer.addLayout(row)
        self.bars = Picture("cost_bars", "Cost of each pair", self)
        self.bars.setFixedHeight(150)
        outer.addWidget(self.bars)
        area = QScrollArea(self)
        area.setObjectName("cost_area")
        area.setAccessibleName("Cost, part by part")
        area.setObjectName("cost_lines_area")
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.lines = Picture("cost_lines", "Cost lines", self)
        area.setWidget(self.lines)
        outer.addWidget(area, 1)
        self.columns: list[Column] = []

    def _menu(self, name: str, title: str, row: QHBoxLayout) -> QPushButton:
        button = QPushButton(title, self)
        button.setObjectName(name)
        button.setToolTip("What counts into the cost, and what does not.")
        menu = QMenu(button)
        menu.setObjectName(f"{name}_menu")
        button.setMenu(menu)
        row.addWidget(button)
        return button

    def _fill_menus(self) -> None:
        """Say what is planned for each end, and what is bought besides."""
        project = self.workspace.project
        for end, button in self.menus.items():
            plan, menu = project.plan(end), button.menu()
            assert menu is not None
            menu.clear()
            for key, words in (
                ("in_place", "Already under it"),
                ("bought", "In the shop, paid"),
                ("keep_gears", "Keep the gears in it"),
            ):
                act = partial(self._plan, f"{end}_plan.{key}", words.lower())
                _tick(menu, f"{end}_{key}", words, getattr(plan, key), act)
            menu.addSeparator()
            for extra in EXTRAS:
                act = partial(self._switch, f"{end}_plan.extras", EXTRAS, extra)
                _tick(menu, f"{end}_{extra}", BY_ID[extra].title, extra in plan.extras, act)
        menu = self.buys.menu()
        assert menu is not None
        menu.clear()
        for buy in BUYS:
            act = partial(self._switch, "choosing.buys", BUYS, buy)
            _tick(menu, f"buy_{buy}", BY_ID[buy].title, buy in project.swap.choosing.buys, act)

    def _plan(self, path: str, words: str, on: bool) -> None:
        self.workspace.do(SetChoice(path, on, words))

    def _switch(self, path: str, known: tuple[str, ...], one: str, on: bool) -> None:
        """Put one of a few things in or out of a list, in their own order."""
        now = get_value(self.workspace.project, path)
        kept = tuple(x for x in known if (on if x == one else x in now))
        self.workspace.do(SetChoice(path, kept, BY_ID[one].title.lower()))

    def prepare(self) -> None:
        w = self.workspace
        project = w.project
        self._fill_menus()
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
        ends = {end: [d for d in project.swap.donors if d.end == end] for end in ("front", "rear")}
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
        budget, currency = self.workspace.project.swap.choosing.budget, self.workspace.project.swap.choosing.currency
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
                ("hours", c.cost.hours * self.workspace.project.swap.choosing.hour_price),
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
                f"{'▲ ' if over else ''}{least}{money_words(c.cost.total + c.cost.tools)} {currency}".strip(),
                t.torch if over else t.text,
                size=11,
                bold=True,
            )
            text(
                p,
                QRectF(right + 12, y + 13, 172, 16),
                f"tools {c.cost.tools:.0f} of it; {c.cost.hours:.0f} h"
                + (f"; {c.cost.paid:.0f} paid, {c.cost.to_pay:.0f} to go" if c.cost.paid else ""),
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
                        else money_words(x.amount)
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
            if some.id in {own.id for own in self.workspace.project.swap.own_costs}:
                where = QRectF(10, y, picture.width() - 20, ROW)
                tip = f"{some.title}: a line of your own. Click to change it; nothing typed takes it out."
                picture.hits.append(Hit(where, tip, partial(self.ask_own, name), f"line_{name}_{end}"))
            if name in BY_ID and name != "repair":
                known = BY_ID[name]
                tip = f"{known.title}, a {known.per}: {some.why}. About {known.amount:.0f} and {known.hours:g} h (estimate). Click to say your price and hours."
                picture.hits.append(
                    Hit(
                        QRectF(10, y, picture.width() - 20, ROW),
                        tip,
                        partial(self.ask_price, name, end),
                        f"line_{name}_{end}",
                    )
                )
            y += ROW

    def ask_price(self, name: str, end: str = "both") -> None:
        """Ask for the user's own price and hours of a line, for its end."""
        known = BY_ID[name]
        only = f" It counts for the {end} axle; with “both” behind it for both." if end != "both" else ""
        answer = dialogs.ask_text(
            self,
            "Your price",
            f"{known.title}, a {known.per}: what does it cost you, and how many hours? As 240, 6 h, with “paid 80” behind it for what is paid.{only} "
            f"Empty goes back to the estimate of {money_words(known.amount)} and {known.hours:g} h.",
            self._typed(name, end),
        )
        if answer is None:
            return
        try:
            said = read_price(answer, self.workspace.unit)
        except StoutError as why:
            self.workspace.said.emit(f"{known.title}: {why.words}", True)
            return
        key = name if said.both or end == "both" else f"{name}-{end}"
        old = next((p for p in self.workspace.project.swap.prices if p.id == key), Price(id=key))
        price = msgspec.structs.replace(old, amount=said.amount, hours=said.hours, paid=said.paid)
        self.workspace.do(PutInList("prices", price, f"Price of {known.title.lower()}"))

    def _typed(self, name: str, end: str) -> str:
        """A line's own price as it would be typed; empty where there is none."""
        own = {p.id: p for p in self.workspace.project.swap.prices}
        mine = own.get(f"{name}-{end}", own.get(name))
        if mine is None:
            return ""
        amount = "" if mine.amount is None else money_words(mine.amount)
        hours = "" if mine.hours is None else f"{mine.hours:g} h"
        paid = "" if mine.paid is None else f"paid {money_words(mine.paid)}"
        return ", ".join(x for x in (amount, hours, paid) if x)

    def ask_own(self, own_id: str = "") -> None:
        """Ask for a line of the user's own, or for a change of one; nothing takes it out."""
        kept = {one.id: one for one in self.workspace.project.swap.own_costs}
        before = kept.get(own_id)
        answer = dialogs.ask_text(
            self,
            "A line of your own",
            "What, then money and hours after a colon, below 0 for a credit: “Old axle sold: -350”, “Trailer: 60, 2 h”."
            + ("" if before is None else " Empty takes the line out."),
            "" if before is None else f"{before.title}: {before.amount:g}, {before.hours:g} h",
        )
        if answer is None:
            return
        if not answer.strip():
            if before is not None:
                self.workspace.do(TakeFromList("own_costs", (own_id,), f"Remove {before.title}"))
            return
        title, _, sum_text = answer.rpartition(":")
        try:
            said = read_price(sum_text.replace("−", "-"), self.workspace.unit)
        except StoutError as why:
            self.workspace.said.emit(f"Own line: {why.words}", True)
            return
        if not title.strip():
            self.workspace.said.emit(
                f"Own line “{answer}” has no name: write it before a colon, as “Trailer: 60”.", True
            )
            return
        new = next(f"own-{n}" for n in range(1, len(kept) + 2) if f"own-{n}" not in kept)
        own = OwnCost(id=own_id or new, title=title.strip()[:80], amount=said.amount or 0.0, hours=said.hours or 0.0)
        self.workspace.do(PutInList("own_costs", own, f"Cost line {own.title}"))

    def as_text(self) -> str:
        out = []
        for c in self.columns:
            names = " + ".join(a.name for a in (c.front, c.rear) if a is not None)
            out.append(
                f"{c.title}: {names}\ttotal {money_words(c.cost.total)}\ttools {money_words(c.cost.tools)}\t{c.cost.hours:.1f} h\tpaid {money_words(c.cost.paid)}"
            )
            out += [
                f"{GROUP_TITLES[x.group]}\t{x.title}\t{x.end}\t{'not known' if x.amount is None else money_words(x.amount)}\t{x.hours:.1f} h\t{x.why}"
                for x in c.cost.lines
            ]
        return "\n".join(out) or "No axles chosen."


def _tick(menu: QMenu, name: str, words: str, on: bool, act: Callable[[bool], None]) -> None:
    """One line of a menu that is on or off."""
    action = QAction(words, menu)
    action.setObjectName(name)
    action.setCheckable(True)
    action.setChecked(on)
    action.triggered.connect(act)
    menu.addAction(action)


def _sum(cost: Cost, group: str) -> str:
    """A group's money, or its hours where no money goes into it."""
    amount = cost.of(group)
    hours = sum(x.hours for x in cost.lines if x.group == group)
    return money_words(amount) if amount or not hours else f"{hours:.0f} h"
