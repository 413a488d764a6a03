"""Parts: everything the build takes, line by line, with its price, where it is from, how far it is; against another build."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import msgspec
from PyQt6.QtCore import QRectF, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.steps.plan.desk import PlanDesk
from stoutlink.app.steps.plan.fields import money_entries, order_entries
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.advice.forced_lines import forced
from stoutlink.core.advice.parts_words import (
    PART_STATE_WORDS,
    PARTS_CAUTION,
    amount_words,
    between_words,
    due_lines,
    line_words,
    list_words,
    month_words,
    shopping,
    shopping_words,
)
from stoutlink.core.analysis.plan.parts_list import Between, PartLine, PartsList
from stoutlink.core.document.build_plan import LANE_WORDS, LANES, PartRecord, PartState
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.price_text import money_words
from stoutlink.core.document.swap import OwnCost
from stoutlink.core.editing.edits import PutInList, TakeFromList

GROUPS = (
    ("order", "Order", "What was ordered, what came, from whom, when."),
    ("money", "Price", "What is asked and paid, and what it sells for afterwards."),
    ("own", "Own line", "Name, group and hours of a line of your own."),
    ("whole", "Ceilings", "What all of it and a month may cost."),
)
MARKS: dict[PartState, str] = {
    "needed": "○",
    "ordered": "◷",
    "late": "▲",
    "here": "●",
    "wrong": "✕",
    "fitted": "✓",
    "sold": "↩",
}
SHOW = (("all", "all"), ("todo", "to order"), ("late", "late or wrong"), ("here", "here"))
KINDS = (("part", "part"), ("work", "work"), ("consumable", "used up"), ("tool", "tool"))
ENDS = (("both", "both axles"), ("front", "front axle"), ("rear", "rear axle"))


class PartsListLook(WorkingLook):
    """``read`` asks for a table to be taken in, ``against`` for another build to be held beside this one."""

    read = pyqtSignal()
    against = pyqtSignal()

    def __init__(self, desk: PlanDesk, parent: QWidget | None = None) -> None:
        super().__init__(
            desk.workspace,
            "parts_list",
            "Parts list",
            GROUPS,
            "Every line of the parts list",
            parent,
            columns=4,
            wide=118,
        )
        self.desk = desk
        states: tuple[tuple[str, str, str, PartState], ...] = (
            ("part_ordered", "Ordered", "It is ordered today.", "ordered"), ("part_here", "Here", "It is here, and what was ordered.", "here"),
            ("part_wrong", "Came wrong", "It is here and is another thing.", "wrong"), ("part_fitted", "Fitted", "It is in or on the rig.", "fitted"),
            ("part_sold", "Sold", "It is gone; what it brought is money back.", "sold"), ("part_needed", "Needed again", "It is neither ordered nor here.", "needed"),
        )  # fmt: skip
        self.states = [
            (self.large(name, words, tip, partial(self.mark, state)), state) for name, words, tip, state in states
        ]
        self.top.addStretch(1)
        self.add = self.small(
            "add_part_line",
            "Own line",
            "A line of your own: a part, freight, tax, a deposit, a credit below 0.",
            self._add,
        )
        self.gone = self.small(
            "remove_part_line",
            "Remove",
            "Take your own line away, or what was said of a line nobody asks for.",
            self._remove,
        )
        self.filters = [
            (self.small(f"show_{key}", words.capitalize(), f"Show {words}.", partial(self.show_only, key)), key)
            for key, words in SHOW
        ]
        self.foot.addStretch(1)
        self.take = self.small(
            "take_parts_list", "Take a table in…", "Reads a parts list that was exported and changed.", self.read.emit
        )
        self.two = self.small(
            "two_builds", "Against another build…", "Holds this list beside that of another project file.", self._two
        )
        self.key, self.only = "", "all"
        self.between: tuple[str, Between] | None = None

    @property
    def found(self) -> PartsList | None:
        """The list shown."""
        return self.desk.parts

    @property
    def line(self) -> PartLine | None:
        """The line picked."""
        return None if self.found is None else self.found.line(self.key)

    def prepare(self) -> None:
        self.desk.prepare()
        found, one = self.found, self.line
        for button, state in self.states:
            button.setVisible(
                one is not None and one.state != state and not (state == "ordered" and one.wanted.kind == "work")
            )
        for filter_, key in self.filters:
            filter_.setVisible(found is not None and bool(found.lines) and self.between is None)
            filter_.setEnabled(key != self.only)
        self.gone.setVisible(one is not None and (self._own(one) or one.gone))
        self.two.setText("Against another build…" if self.between is None else "This build alone")
        if found is None:
            self.show_frame("Looking what it takes…", "", fields=False)
            return
        if self.between is not None:
            name, two = self.between
            words = list(between_words(two, "this build", name))
            self.show_frame(words[0], "", fields=False)
            return
        own = one is not None and self._own(one)
        if self.group == "own" and not own:
            self.group = "order"
        words = list(list_words(found, self.workspace.project.build, self.desk.currency))
        stale = "" if self.desk.fresh else " (working out what changed…)"
        now = line_words(one) if one is not None else words[0] + stale
        more = " ".join(self._because(one) if one is not None else words[1:])
        self.show_frame(now, more)
        self.groups.buttons["own"].setVisible(own)

    def _because(self, one: PartLine) -> Iterator[str]:
        """Why a line is on the list, and which knock-ons force it."""
        if one.wanted.why:
            yield f"{one.wanted.why[0].upper()}{one.wanted.why[1:]}."
        ends = {d.id: d.end for d in self.workspace.project.swap.donors}
        for finding in forced(self.workspace.study.findings_so_far, ends, frozenset((one.key,))).get(one.key, ()):
            yield f"{finding.code}: {finding.sentence}"
        if one.task and self.desk.sheet is not None and (row := self.desk.sheet.row(one.task)) is not None:
            yield f"First needed by “{row.task.title}”."
        if one.unlike and one.record is not None:
            yield f"Ordered “{one.record.ordered_as}”, came “{one.record.came_as}”."

    def entries(self) -> list[Entry]:
        """Fields of the line picked, or of the whole."""
        one = self.line
        if self.group == "whole":
            return [
                Entry("build.ceiling", "all of it"),
                Entry("build.month_ceiling", "a month"),
                Entry("choosing.currency", "currency", "text"),
            ]
        if one is None or (one.key.startswith("own-") and not self._own(one)):
            return []
        if self.group == "own":
            at = f"own_costs.{one.key}"
            return [Entry(f"{at}.title", "what", "text"), Entry(f"{at}.amount", "price"), Entry(f"{at}.hours", "hours"), Entry(f"{at}.group", "is", "choice", KINDS), Entry(f"{at}.end", "for", "choice", ENDS)]  # fmt: skip
        return order_entries(one.key) if self.group == "order" else money_entries(one.key, self._price_path(one))

    def _own(self, one: PartLine) -> bool:
        """Whether a line is one of one's own that is still there: the list shown may be a moment older."""
        return any(o.id == one.key for o in self.workspace.project.swap.own_costs)

    def _price_path(self, one: PartLine) -> str:
        """Where a line's price is kept where that is not the list of prices."""
        if self._own(one):
            return f"own_costs.{one.key}.amount"
        axle = self.workspace.project.donor(one.wanted.end) if one.key.startswith("axle-") else None
        return "" if axle is None else f"donors.{axle.id}.price"

    def pick(self, key: str) -> None:
        """Work on a line; the one picked once more is let go."""
        self.key = "" if key == self.key else key
        if self.group == "whole" and self.key:
            self.group = "order"
        self.show_group(self.group)

    def open_line(self, key: str) -> None:
        """Have a line picked and in view."""
        self.key, self.only, self.between = key, "all", None
        self.show_group("order")

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        if parts[0] == "build" and parts[1:2] != ["arrivals"]:
            self.show_group("whole")
            return
        money = parts[0] == "prices" or parts[-1] in ("ask", "sold_for", "sold_on")
        self.key = parts[2] if parts[0] == "build" and len(parts) > 2 else parts[1] if len(parts) > 1 else ""
        self.between = None
        self.show_group("own" if parts[0] == "own_costs" else "money" if money else "order")

    def show_only(self, key: str) -> None:
        """Leave lines out that are not of one kind."""
        self.only = key
        self.show_group(self.group)

    def mark(self, state: PartState) -> None:
        """Say how far the line picked is."""
        one = self.line
        if one is None:
            return
        old = one.record or PartRecord(id=one.key)
        today = self.desk.today.isoformat()
        day = {"ordered": old.ordered or today, "needed": ""}.get(state, old.ordered)
        sold = today if state == "sold" and not old.sold_on else old.sold_on
        new = msgspec.structs.replace(old, state=state, name=one.wanted.title[:120], ordered=day, sold_on=sold)
        if state == "ordered" and new.likely and new.likely < day:
            new = msgspec.structs.replace(new, earliest="", likely="", latest="")
        if (
            self.workspace.do(PutInList("build.arrivals", new, f"Part {PART_STATE_WORDS[state]}"))
            and state == "sold"
            and new.sold_for is None
        ):
            self.show_group("money")
            self.workspace.said.emit(f"“{one.wanted.title}”: type what it brought under “sold for”.", False)

    def _add(self) -> None:
        key = free_id("own-", (o.id for o in self.workspace.project.swap.own_costs))
        if self.workspace.do(PutInList("own_costs", OwnCost(id=key, title="A line of your own"), "Add a line")):
            self.key = key
            self.show_group("own")

    def _remove(self) -> None:
        one = self.line
        if one is None:
            return
        where = "own_costs" if self._own(one) else "build.arrivals"
        self.workspace.do(TakeFromList(where, (one.key,), f"Remove {one.wanted.title}"[:80]))
        self.key = ""

    def _two(self) -> None:
        if self.between is not None:
            self.between = None
            self.show_group(self.group)
            return
        self.against.emit()

    def hold_against(self, name: str, two: Between) -> None:
        """Show this build beside another."""
        self.between = (name, two)
        self.show_group(self.group)

    def _shown(self, found: PartsList) -> list[PartLine]:
        due = {x.key for x, _ in due_lines(found, self.desk.today)}
        return [
            x
            for x in found.lines
            if self.only == "all"
            or (self.only == "todo" and x.to_order)
            or (self.only == "late" and x.key in due)
            or (self.only == "here" and x.state in ("here", "fitted"))
        ]

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """Every line by the lane it belongs to."""
        found, w = self.found, float(picture.width())
        if found is None:
            return
        if self.between is not None:
            self.tall(self._paint_two(p, t, w))
            return
        y, lines = 4.0, self._shown(found)
        right = w - 20
        cols = (right - 345, right - 265, right - 165, right - 75)
        for x, words in zip(cols if lines else (), ("price", "paid", "comes", "needed"), strict=False):
            text(p, QRectF(x - 25, y, 100, 16), words, t.quiet, size=8.5, align="right")
        y += 16
        for lane in LANES:
            mine = [x for x in lines if x.wanted.system == lane]
            if not mine:
                continue
            p.setPen(QPen(t.edge, 1))
            p.drawLine(QRectF(12, y, w - 24, 0).topLeft(), QRectF(12, y, w - 24, 0).topRight())
            text(p, QRectF(14, y + 2, 300, 20), LANE_WORDS[lane], t.text, size=10, bold=True)
            y += 23
            for one in mine:
                y = self._row(p, t, picture, one, y, cols)
            y += 6
        if not lines and found.lines:
            text(p, QRectF(14, y, w - 28, 20), "Nothing of that kind.", t.quiet, size=10)
            y += 24
        words = " ".join([*month_words(found, self.workspace.project.build), PARTS_CAUTION])
        y += flow(p, QRectF(14, y + 6, w - 28, 60), words, t.quiet, size=8.5) + 16
        self.tall(y)

    def _row(self, p: QPainter, t: Theme, picture: Picture, one: PartLine, y: float, cols: tuple[float, ...]) -> float:
        chosen = one.key == self.key
        bad = one.late or one.state == "wrong" or one.unlike
        colour: QColor = t.dye if chosen else t.torch if bad else t.quiet if one.gone else t.text
        box = QRectF(12, y - 1, picture.width() - 24.0, 20)
        if chosen:
            p.fillRect(box, t.raised)
        text(p, QRectF(16, y, 18, 18), MARKS[one.state], colour, size=10, align="centre")
        text(p, QRectF(36, y, 34, 18), f"{one.wanted.count} ×" if one.wanted.unit or one.wanted.count != 1 else "", t.quiet, size=9, align="right")  # fmt: skip
        name = one.wanted.title + (f", {one.wanted.unit}" if one.wanted.unit else "")
        text(p, QRectF(76, y, cols[0] - 196, 18), name, colour, size=9.5, elide=True)
        state = PART_STATE_WORDS[one.state] + (", unlike" if one.unlike and one.state != "wrong" else "")
        text(p, QRectF(cols[0] - 112, y, 100, 18), state, colour if bad else t.quiet, size=9)
        came = "" if one.due is None else one.due.likely.isoformat() + (" ▲" if one.due.overdue else "")
        cells = (
            amount_words(one),
            money_words(one.wanted.paid) if one.wanted.paid else "",
            came,
            "" if one.needed is None else one.needed.isoformat(),
        )
        for x, words in zip(cols, cells, strict=True):
            text(
                p,
                QRectF(x - 25, y, 100, 18),
                words,
                t.torch if words == "no price" else colour if chosen else t.text,
                size=9,
                align="right",
            )
        picture.hits.append(
            Hit(box, f"{line_words(one)}. Click to work on it.", partial(self.pick, one.key), f"part {one.key}")
        )
        return y + 20

    def _paint_two(self, p: QPainter, t: Theme, w: float) -> float:
        assert self.between is not None
        name, two = self.between
        y = 6.0
        cols = (w - 250, w - 130)
        for x, words, whole in ((cols[0], "this build", two.total_a), (cols[1], name, two.total_b)):
            text(p, QRectF(x, y, 110, 16), words, t.quiet, size=8.5, align="right", elide=True)
            text(p, QRectF(x, y + 15, 110, 18), money_words(whole), t.text, size=10, bold=True, align="right")
        y += 38
        for head, rows in (
            ("Only this build", [(x, None) for x in two.only_a]), (f"Only {name}", [(None, x) for x in two.only_b]), ("Both", list(two.both)),
        ):  # fmt: skip
            text(p, QRectF(14, y, w - 280, 18), head, t.text, size=10, bold=True, elide=True)
            y += 21
            for pair in rows:
                some = pair[0] or pair[1]
                assert some is not None
                end = f", {some.wanted.end}" if some.wanted.end != "both" else ""
                text(p, QRectF(28, y, cols[0] - 40, 18), some.wanted.title + end, t.text, size=9.5, elide=True)
                differ = None not in pair and pair[0].amount != pair[1].amount  # type: ignore[union-attr]
                for x, one in zip(cols, pair, strict=True):
                    text(
                        p,
                        QRectF(x, y, 110, 18),
                        "" if one is None else amount_words(one),
                        t.dye if differ else t.text,
                        size=9,
                        align="right",
                    )
                y += 19
            y += 6
        return y + 10

    def as_text(self) -> str:
        found = self.found
        if found is None:
            return "Looking what it takes…"
        if self.between is not None:
            return "\n".join(between_words(self.between[1], "this build", self.between[0]))
        plan = self.workspace.project.build
        head = list(list_words(found, plan, self.desk.currency))
        shown = shopping(found) if self.only == "todo" else self._shown(found)
        return "\n".join(
            [*head, *(line_words(x) for x in shown), *month_words(found, plan), *shopping_words(found), PARTS_CAUTION]
        )
