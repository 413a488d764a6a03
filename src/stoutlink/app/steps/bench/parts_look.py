"""Parts: the assembly drawn apart along its axle, each part with its mark, its tray, its way out and back."""

from __future__ import annotations

import datetime
from functools import partial

import msgspec
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.bench.apart import draw_apart
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.path_drawer import Entry
from stoutlink.app.widgets.picture import Hit, Picture, flow, text
from stoutlink.core.analysis.bench.parts_list import free_mark, next_order, proposed_parts, way_back
from stoutlink.core.document.bench import MARK_KINDS, PART_STATES, SIDES, BenchCard, MarkedPart, PartState
from stoutlink.core.document.bench_checks import mark_words
from stoutlink.core.document.ids import free_id
from stoutlink.core.editing.bench_edits import ToOtherAxle, card_of
from stoutlink.core.editing.edits import PutInList, TakeFromList

GROUPS = (
    ("mark", "Mark", "How it is marked, which way it faces, where it lies."),
    ("part", "Part", "Its name and place, what holds it, what is used on it."),
)
STATE_WORDS: dict[PartState, str] = {"in": "in", "out": "out", "back": "back in", "renewed": "renewed"}


class PartsLook(WorkingLook):
    """The parts map of one axle."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(
            workspace, "bench_parts", "Parts", GROUPS, "The assembly drawn apart", parent, columns=4, wide=130
        )
        self.out = self.large("part_out", "Out", "This part is out now.", self._out)
        self.back = self.large("part_back", "Back in", "This part is back where it was.", partial(self._state, "back"))
        self.new = self.large("part_renewed", "Renewed", "A new one goes in its place.", partial(self._state, "renewed"))  # fmt: skip
        self.put_mark = self.large("part_mark", "Mark it", "Give it a mark no other part carries.", self._mark)
        self.other = self.large("part_other_axle", "To the other axle", "It goes to the other axle with its history, and what pairs with it.", self._to_other)  # fmt: skip
        self.top.addStretch(1)
        self.propose = self.small("propose_parts", "Parts of this axle", "List the parts its record makes.", self._propose)  # fmt: skip
        self.add = self.small("add_map_part", "Add part", "A part of your own.", self._add)
        self.gone = self.small("remove_map_part", "Remove part", "Take the part picked off the list.", self._remove)
        self.foot.addStretch(1)
        self.key = ""

    @property
    def card(self) -> BenchCard:
        """What is written down of this axle."""
        return card_of(self.workspace.project, self.workspace.end)  # type: ignore[arg-type]

    @property
    def picked(self) -> MarkedPart | None:
        """The part picked."""
        return next((p for p in self.card.parts if p.id == self.key), None)

    def prepare(self) -> None:
        one, card = self.picked, self.card
        there = self.workspace.study.axles_there[self.workspace.end] is not None
        for button, on in (
            (self.out, one is not None and one.state in ("in", "back", "renewed")),
            (self.back, one is not None and one.state == "out"),
            (self.new, one is not None and one.state != "renewed"),
            (self.put_mark, one is not None and one.mark is None),
            (self.other, one is not None),
        ):
            button.setVisible(one is not None)
            button.setEnabled(on)
        self.propose.setVisible(there and not card.parts)
        self.add.setVisible(there)
        self.gone.setVisible(one is not None)
        if not there:
            self.show_frame("No axle is chosen at this end.", "", fields=False)
            return
        back = way_back(card.parts)
        if not card.parts:
            now = "No part of this axle is listed yet."
            more = "“Parts of this axle” lists them from its record: left and right, caps with their seats, shims with their side."
        elif one is not None:
            now, more = one.name, self._words(one)
        else:
            now = f"{len(back)} out of {len(card.parts)}" if back else f"{len(card.parts)} parts, none out"
            more = f"Back first: {back[0].name}." if back else "Pick one in the drawing."
        self.show_frame(now, more, fields=one is not None)

    def _words(self, one: MarkedPart) -> str:
        parts = [STATE_WORDS[one.state]]
        parts += [f"out as number {one.order}"] if one.order else []
        parts += [mark_words(one.mark)] if one.mark is not None else ["not marked"]
        parts += [f"faces {one.facing}"] if one.facing else []
        parts += [f"tray {one.tray}"] if one.tray else []
        if one.pair:
            mates = [p.name for p in self.card.parts if p.pair == one.pair and p is not one]
            parts.append(f"stays with {', '.join(mates)}" if mates else "stays with its seat")
        parts += [one.history] if one.history else []
        return "; ".join(parts) + "."

    def entries(self) -> list[Entry]:
        """Mark and place of the part picked."""
        one = self.picked
        if one is None:
            return []
        at = f"cards.{self.workspace.end}.parts.{one.id}"
        if self.group == "mark":
            mark = [Entry(f"{at}.mark.kind", "mark", "choice", tuple((k, k) for k in MARK_KINDS)), Entry(f"{at}.mark.count", "how many"), Entry(f"{at}.mark.colour", "colour", "text")] if one.mark is not None else []  # fmt: skip
            return [*mark, Entry(f"{at}.facing", "faces", "text"), Entry(f"{at}.tray", "tray", "text")]
        return [
            Entry(f"{at}.name", "name", "text"),
            Entry(f"{at}.side", "side", "choice", tuple((s, s) for s in SIDES)),
            Entry(f"{at}.along", "place, right −1 to left 1"),
            Entry(f"{at}.state", "state", "choice", tuple((s, STATE_WORDS[s]) for s in PART_STATES)),
            Entry(f"{at}.order", "out as number"),
            Entry(f"{at}.fastener", "held by", "text"),
            Entry(f"{at}.socket", "socket", "text"),
            Entry(f"{at}.pair", "stays with", "text"),
        ]

    def pick(self, key: str) -> None:
        """Show a part's fields."""
        self.key = key
        if self.theme is not None:
            self.refresh(self.theme)

    def show_path(self, path: str) -> None:
        """Have the field of a path in the drawer."""
        parts = path.split(".")
        self.key = parts[3] if len(parts) > 3 else self.key
        self.group = "mark" if len(parts) > 4 and parts[4] in ("mark", "facing", "tray") else "part"
        self.show_group(self.group)

    def _do(self, parts: tuple[MarkedPart, ...], words: str) -> bool:
        return self.workspace.do(PutInList("cards", msgspec.structs.replace(self.card, parts=parts), words))

    def _change(self, words: str, **changes: object) -> None:
        one = self.picked
        if one is not None:
            new = msgspec.structs.replace(one, **changes)
            self._do(tuple(new if p.id == one.id else p for p in self.card.parts), words)

    def _out(self) -> None:
        self._change("Part out", state="out", order=next_order(self.card.parts))

    def _state(self, state: PartState) -> None:
        back = way_back(self.card.parts)
        one = self.picked
        if state == "back" and one is not None and back and back[0].id != one.id and one.order:
            self.workspace.said.emit(f"Last out, first back: {back[0].name} came out after it.", False)
        self._change(f"Part {STATE_WORDS[state]}", state=state)

    def _mark(self) -> None:
        every = tuple(p for card in self.workspace.project.bench.cards for p in card.parts)
        self.group = "mark"
        self._change("Mark a part", mark=free_mark(every))

    def _to_other(self) -> None:
        one, end = self.picked, self.workspace.end
        if one is not None:
            self.workspace.do(ToOtherAxle(end, one.id, datetime.date.today().isoformat()))  # type: ignore[arg-type]

    def _propose(self) -> None:
        study, end = self.workspace.study, self.workspace.end
        axle = study.axles_there[end]
        if axle is not None:
            self._do(proposed_parts(axle, study.locker_of(end)), "List parts")

    def _add(self) -> None:
        new = free_id("part-", (p.id for p in self.card.parts))
        if self._do((*self.card.parts, MarkedPart(id=new, name="Part")), "Add a part"):
            self.group = "part"
            self.pick(new)

    def _remove(self) -> None:
        if self.picked is not None:
            self.workspace.do(TakeFromList(f"cards.{self.workspace.end}.parts", (self.key,), "Remove a part"))

    def paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        """The parts in the order they come out, apart along the axle; the way back beside them."""
        parts = self.card.parts
        if not parts:
            return
        w = float(picture.width())
        high = draw_apart(p, t, picture, QRectF(10, 6, w - 20, 0), parts, self.key, self.pick)
        y = high + 10
        back = way_back(parts)
        text(p, QRectF(16, y, w - 32, 18), "Way back, last out first", t.text, size=10, bold=True)
        y += 20
        if not back:
            y += flow(p, QRectF(28, y, w - 44, 20), "Nothing is out.", t.quiet, size=9.5) + 4
        for one in back:
            mark = mark_words(one.mark) if one.mark is not None else "not marked"
            box = QRectF(20, y, w - 40, 20)
            tray = f", tray {one.tray}" if one.tray else ""
            held = f", {one.fastener}" if one.fastener else ""
            text(p, box.adjusted(8, 0, 0, 0), f"{one.order}. {one.name}: {mark}{tray}{held}", t.text if one.mark is not None else t.torch, size=10, elide=True)  # fmt: skip
            picture.hits.append(Hit(box, f"{one.name}. Click to pick it.", partial(self.pick, one.id), f"back {one.id}"))  # fmt: skip
            if one.id == self.key:
                p.setPen(QPen(t.dye, 2))
                p.drawLine(QPointF(20, y + 2), QPointF(20, y + 18))
            y += 21
        self.tall(y + 8)

    def as_text(self) -> str:
        parts = self.card.parts
        if not parts:
            return "No part of this axle is listed yet."
        lines = [f"{p.name}: {self._words(p)}" for p in parts]
        back = way_back(parts)
        return "\n".join([*lines, f"Way back: {', '.join(p.name for p in back) or 'nothing is out'}."])
