"""Seen: what was looked at before the choice, where, when, for how much, what its seller says, for and against."""

from __future__ import annotations

import datetime
from functools import partial

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.donors.look import DonorLook
from stoutlink.app.widgets.choice_box import ChoiceBox
from stoutlink.app.widgets.picture import Hit, Picture, flow, plate, quiet_label, scrolled, text
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.swap import Seen
from stoutlink.core.editing.edits import PutInList, SetChoice, TakeFromList
from stoutlink.core.reports.seen_table import OUTCOMES, seen_of, seen_text, seen_words

EMPTY = "Nothing noted yet. Add what you look at before you choose: where, when, for how much, what its seller says, what speaks for it and against it. It stays with the project when the choice is made."
WORDS = (("name", "what"), ("source", "where"), ("when", "when"), ("claim", "seller says"), ("reason", "for it"), ("doubt", "against it"))  # fmt: skip


class SeenLook(DonorLook):
    """A list above, the one picked in fields below. ``record`` takes a claim's price over as the record's."""

    pair = True

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "seen", "Seen before the choice", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(14, 6, 14, 6)
        outer.setSpacing(6)
        self.list = Picture("seen_list", "What was seen", self)
        outer.addWidget(scrolled(self.list, self), 1)
        self.form = QWidget(self)
        grid = QGridLayout(self.form)
        grid.setContentsMargins(0, 0, 0, 0)
        self.fields: dict[str, WordField] = {}
        for i, (key, word) in enumerate(WORDS):
            grid.addWidget(quiet_label(word, self.form), i, 0)
            field = WordField(workspace, None, word.capitalize(), self.form, name=f"seen_{key}")
            self.fields[key] = field
            grid.addWidget(field, i, 1, 1, 1 if i < 3 else 3)
        self.price: QuantityField | None = None
        self._grid = grid
        self.outcome = ChoiceBox(workspace, "seen_outcome", "What became of it", tuple(OUTCOMES.items()), self.form)
        grid.addWidget(quiet_label("became", self.form), 1, 2)
        grid.addWidget(self.outcome, 1, 3)
        self.axle = ChoiceBox(workspace, "seen_axle", "The axle record it would be", (), self.form)
        grid.addWidget(quiet_label("axle record", self.form), 2, 2)
        grid.addWidget(self.axle, 2, 3)
        grid.setColumnStretch(1, 3)
        grid.setColumnStretch(3, 2)
        outer.addWidget(self.form)
        row = QHBoxLayout()
        self.add = self.put_button("add_seen", "Add one", "An axle or part you looked at, with date and source.", row)
        self.add.clicked.connect(self._add)
        self.take = self.put_button("take_seen", "Remove it", "The one picked leaves.", row)
        self.take.clicked.connect(self._take)
        self.to_record = self.put_button(
            "seen_price",
            "Its price to the record",
            "The axle record costs what was asked here, as a seller's claim.",
            row,
        )
        self.to_record.clicked.connect(self._to_record)
        row.addStretch(1)
        outer.addLayout(row)
        self.picked = ""

    def one(self) -> Seen | None:
        """The one in the fields."""
        return next((x for x in self.workspace.project.swap.seen if x.id == self.picked), None)

    def pick(self, name: str) -> None:
        """Put one into the fields."""
        self.picked = name
        if self.theme is not None:
            self.refresh(self.theme)

    def _add(self) -> None:
        name = free_id("seen-", (x.id for x in self.workspace.project.swap.seen))
        taken = {x.name for x in self.workspace.project.swap.seen}
        what = next(w for n in range(1, 999) if (w := "Seen" if n == 1 else f"Seen {n}") not in taken)
        self.picked = name
        today = datetime.datetime.now(tz=datetime.UTC).astimezone().date().isoformat()
        self.workspace.do(PutInList("seen", Seen(id=name, name=what, when=today), "Add one that was seen"))

    def _take(self) -> None:
        if self.one() is not None:
            self.workspace.do(TakeFromList("seen", (self.picked,), "Remove one that was seen"))

    def _to_record(self) -> None:
        one = self.one()
        if one is not None and one.price is not None and one.axle:
            self.workspace.do(SetChoice(f"donors.{one.axle}.price", one.price, "price as asked"))

    def prepare(self) -> None:
        project = self.workspace.project
        if self.one() is None:
            found = seen_of(project)
            self.picked = found[0].id if found else ""
        one = self.one()
        self.form.setVisible(one is not None)
        self.take.setVisible(one is not None)
        known = one is not None and any(d.id == one.axle for d in project.swap.donors)
        self.to_record.setVisible(known and one is not None and one.price is not None)
        if one is not None:
            at = f"seen.{one.id}"
            for key, field in self.fields.items():
                field.path = f"{at}.{key}"
                field.refresh()
            if self.price is None:
                self.price = QuantityField(self.workspace, f"{at}.price", self.form, title="Price asked")
                self._grid.addWidget(quiet_label("asked", self.form), 0, 2)
                self._grid.addWidget(self.price, 0, 3)
            self.price.set_path(f"{at}.price")
            self.price.refresh()
            self.axle.clear()
            self.axle.addItem("none", "")
            for donor in project.swap.donors:
                self.axle.addItem(donor.name, donor.id)
            self.outcome.path = lambda: f"{at}.outcome"
            self.axle.path = lambda: f"{at}.axle"
            self.outcome.refresh()
            self.axle.refresh()
        assert self.theme is not None
        self.list.show_with(self.theme, self._paint)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        project, w, y = self.workspace.project, float(picture.width()), 2.0
        for one in seen_of(project):
            box = QRectF(2, y, w - 6, 38)
            plate(p, t, box, raised=True, picked=one.id == self.picked)
            gone = one.outcome in ("passed", "gone")
            sign = {"bought": "✓ ", "passed": "✗ ", "gone": "✗ "}.get(one.outcome, "")
            line = f"{sign}{seen_words(project, one)}"
            text(
                p, QRectF(10, y + 2, w - 26, 17), line, t.quiet if gone else t.text, size=9.5, bold=not gone, elide=True
            )
            said = "; ".join(
                f"{word}: {words}"
                for word, words in (("seller says", one.claim), ("for it", one.reason), ("against it", one.doubt))
                if words
            )
            text(p, QRectF(10, y + 19, w - 26, 16), said or "nothing noted", t.quiet, size=8.5, elide=True)
            picture.hits.append(Hit(box, f"{line}. {said}", partial(self.pick, one.id), f"seen {one.id}"))
            y += 42
        if not project.swap.seen:
            y += flow(p, QRectF(6, y + 4, w - 14, 80), EMPTY, t.quiet, size=10)
        picture.setMinimumHeight(int(y + 6))

    def as_text(self) -> str:
        return seen_text(self.workspace.project) or EMPTY
