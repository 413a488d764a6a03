"""Options: every layout of this axle in a column of its own, with numbers, room, cost, hours and why not."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.widgets.picture import Hit, Picture, quiet_label, scrolled, text
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import KIND_NAMES
from stoutlink.core.document.project import Project
from stoutlink.core.editing.layout_edits import PutLayout, UseLayout
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.option_table import option_rows
from stoutlink.core.study.options import Option, options
from stoutlink.core.study.question import GivenUp

WORD, COLUMN, ROW = 104.0, 104.0, 17.0


class OptionLook(LayoutLook):
    """A click picks a column; its note says why it is rejected."""

    def __init__(self, workspace: Workspace, views: ThreeViews, parent: QWidget | None = None) -> None:
        super().__init__(workspace, views, "options", "Layouts beside each other", parent)
        inside = QVBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        self.table = Picture("option_table", "Every layout of this axle", self)
        area = scrolled(self.table, self)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        inside.addWidget(area, 1)
        row = QHBoxLayout()
        row.addWidget(quiet_label("rejected because", self))
        self.why = WordField(workspace, None, "Rejected because", self, name="option_rejected")
        self.why.setToolTip("Why this one is not built; empty while it may be. Rejected ones stand last.")
        row.addWidget(self.why, 1)
        inside.addLayout(row)
        row = QHBoxLayout()
        self.use = self.put_button("use_option", "Work on this one", "Put the layout picked to use at this axle.", row)
        self.use.clicked.connect(lambda: self._use())
        self.other = self.put_button(
            "other_end",
            "Copy to the other axle",
            "The layout picked, or its leaf pack, at the other axle: ahead for behind, at that axle's height.",
            row,
        )
        self.other.clicked.connect(lambda: self._to_other_end())
        row.addStretch(1)
        inside.addLayout(row)
        self.work: Background[tuple[Project, str, tuple[Option, ...]]] = Background(self)
        self._of: tuple[Project, str] | None = None
        self._asked: tuple[Project, str] | None = None
        self.part = 0.0
        self.found: tuple[Option, ...] = ()
        self.picked = ""

    @property
    def known(self) -> bool:
        """Whether the table is of the project as it is."""
        now = (self.workspace.project, self.workspace.end)
        return self._of is not None and self._of[0] is now[0] and self._of[1] == now[1]

    def prepare(self) -> None:
        if not self.known:
            self._begin()
        names = [one.id for one in self.workspace.project.linkage.layouts if one.end == self.workspace.end]
        layout = self.layout_shown
        if self.picked not in names:
            self.picked = layout.id if layout is not None else ""
        self.why.path = f"layouts.{self.picked}.rejected" if self.picked else None
        self.why.refresh()
        self.use.setEnabled(bool(self.picked) and (layout is None or layout.id != self.picked))
        self.other.setEnabled(bool(self.picked))
        assert self.theme is not None
        self.table.show_with(self.theme, self._paint)

    def _begin(self) -> None:
        study, end = self.workspace.study, self.workspace.end
        now = (study.project, end)
        if self.work.busy and self._asked is not None and self._asked[0] is now[0] and self._asked[1] == end:
            return
        self._asked, self.part = now, 0.0

        def work(tell: Progress) -> tuple[Project, str, tuple[Option, ...]] | None:
            try:
                return study.project, end, options(study, end, going=tell)
            except GivenUp:
                return None

        self.work.start(work, self._done, self._moved)

    def _moved(self, part: float) -> None:
        self.part = part
        self.table.update()

    def _done(self, answer: tuple[Project, str, tuple[Option, ...]]) -> None:
        self._of, self.found = (answer[0], answer[1]), answer[2]
        if self.isVisible() and self.theme is not None:
            self.refresh(self.theme)

    def stop(self) -> None:
        self.work.stop()

    # Hands

    def pick(self, name: str) -> None:
        """Pick a column."""
        self.picked = name
        if self.theme is not None:
            self.prepare()

    def _use(self) -> None:
        layout = self.layout_shown
        if self.picked and (layout is None or layout.id != self.picked):
            self.views.select(None)
            self.workspace.do(UseLayout(self.picked, None if layout is None else layout.id))

    def _to_other_end(self) -> None:
        project = self.workspace.project
        one = next((x for x in project.linkage.layouts if x.id == self.picked), None)
        if one is None:
            return
        end = "front" if one.end == "rear" else "rear"
        new = free_id(f"{end}-", (x.id for x in project.linkage.layouts))
        try:
            there = self.workspace.study.at_other_end(one, new, f"{one.name[:100]}, at the {end}")
        except StoutError as why:
            self.workspace.said.emit(why.sentence, True)
            return
        if self.workspace.do(PutLayout(there, (), "Copy to the other axle")):
            self.workspace.said.emit(f"{there.name}: now in use at the {end} axle. Measure its places there.", False)

    # What is shown

    def rows(self) -> list[tuple[str, list[tuple[str, bool]]]]:
        """Word and a cell for every layout, with whether it is out of its band."""
        return option_rows(self.workspace.project, self.found)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        if not self.found or not self.known:
            p.setOpacity(0.4 if self.found else 1.0)
        y = 2.0
        if not self.known:
            text(p, QRectF(4, y, 300, 16), f"Working every layout out… {self.part:.0%}", t.dye, size=9)
        y += 18
        for k, one in enumerate(self.found):
            x = WORD + k * COLUMN
            box = QRectF(x + 2, y - 2, COLUMN - 4, 46)
            if one.layout.id == self.picked:
                p.setPen(QPen(t.dye, 1.5))
                p.drawRoundedRect(box, 3, 3)
            name = f"{'✓ ' if one.used else ''}{one.layout.name}"
            gone = bool(one.layout.rejected)
            text(
                p, QRectF(x + 6, y, COLUMN - 12, 30), name, t.quiet if gone else t.text, size=8.5, bold=True, wrap=True
            )
            kind = "rejected" if gone else KIND_NAMES[one.layout.kind]
            text(p, QRectF(x + 6, y + 28, COLUMN - 12, 14), kind, t.torch if gone else t.quiet, size=7.5, elide=True)
            tip = f"{one.layout.name}, {KIND_NAMES[one.layout.kind]}. {one.why or one.layout.rejected}".strip()
            picture.hits.append(Hit(box, tip, partial(self.pick, one.layout.id), f"option {one.layout.id}"))
        y += 50
        for word, cells in self.rows():
            text(p, QRectF(4, y, WORD - 6, ROW), word, t.quiet, size=8.5, elide=True)
            for k, (cell, bad) in enumerate(cells):
                place = QRectF(WORD + k * COLUMN + 4, y, COLUMN - 10, ROW)
                gone = bool(self.found[k].layout.rejected)
                colour = t.torch if bad else t.quiet if gone else t.text
                text(p, place, f"{'▲ ' if bad else ''}{cell}", colour, size=8.5, align="right", elide=True)
                picture.hits.append(Hit(place, f"{self.found[k].layout.name}: {word} {cell}"))
            y += ROW
        if not self.found and self.known:
            text(p, QRectF(4, y, 400, 30), "Nothing hangs this axle yet: Start puts the first one in.", t.quiet, size=9)
        picture.setMinimumSize(int(WORD + COLUMN * max(1, len(self.found))), int(y + 6))

    def as_text(self) -> str:
        if not self.known:
            return "Layouts are being worked out."
        head = "\t".join(["", *(x.layout.name for x in self.found)])
        return "\n".join([head, *("\t".join([word, *(c for c, _ in cells)]) for word, cells in self.rows())])
