"""This rig beside another file, or beside itself before the swap, on every headline number."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.background import Background, Progress
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.app.widgets.picture import Hit, Picture, flow, scrolled, text
from stoutlink.core.document.project import Project
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.beside import Held, before_swap, beside, headlines
from stoutlink.core.study.study import Study

ROW, WORD, COLUMN = 18.0, 270.0, 130.0
BEFORE = "Before the swap"
Both = tuple[Project, str, tuple[Held, ...], tuple[Held, ...]]


class BesideBoard(Look):
    """Before the swap until another file is opened."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, "board_beside", "Beside another rig", parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(12, 4, 8, 4)
        row = QHBoxLayout()
        self.before = self.put_button("beside_before", BEFORE, "The rig without the axles that are planned.", row)
        self.before.clicked.connect(lambda: self.hold(None))
        self.open = self.put_button("beside_file", "Another file…", "Another project on the same numbers.", row)
        self.open.clicked.connect(self._open)
        row.addStretch(1)
        outer.addLayout(row)
        self.table = Picture("beside_table", "Both rigs beside each other", self)
        outer.addWidget(scrolled(self.table, self), 1)
        self.work: Background[Both] = Background(self)
        self.path: Path | None = None
        self.found: Both | None = None
        self._asked: tuple[Project, Path | None] | None = None

    def _open(self) -> None:
        path = dialogs.choose_file(self, "Another rig", "", "Stout Link projects (*.stoutlink)", False)
        if path is not None:
            self.hold(path)

    def hold(self, path: Path | None) -> None:
        """Hold it against a file, or against itself before the swap."""
        self.path, self.found, self._asked = path, None, None
        if self.theme is not None:
            self.refresh(self.theme)

    def prepare(self) -> None:
        project = self.workspace.project
        now = (project, self.path)
        old = self._asked is None or self._asked[0] is not project or self._asked[1] != self.path
        if old and self.isVisible():  # it is refreshed unseen too, to be looked through for fields
            self._asked = now
            study, path = self.workspace.study, self.path

            def work(tell: Progress) -> Both:
                other = before_swap(project) if path is None else read_project(path)
                name = BEFORE if path is None else other.name
                return project, name, headlines(study), headlines(Study(other))

            self.work.start(work, self._done, lambda part: None, self._failed)
        assert self.theme is not None
        self.table.show_with(self.theme, self._paint)

    def _done(self, found: Both) -> None:
        self.found = found
        if self.theme is not None:
            self.refresh(self.theme)

    def _failed(self, why: StoutError) -> None:
        self.path, self._asked = None, None
        self.workspace.said.emit(why.words, True)

    def rows(self) -> list[tuple[str, str, str, str]]:
        """Title, this one, the other, the difference; nothing while it is worked out for the project as it is."""
        found = self.found
        if found is None or found[0] is not self.workspace.project:
            return []
        return (
            beside(found[3], found[2], self.workspace.unit)
            if self.path is None
            else beside(found[2], found[3], self.workspace.unit)
        )

    @property
    def heads(self) -> tuple[str, str]:
        """Names over the two columns."""
        other = self.found[1] if self.found is not None else ""
        mine = self.workspace.project.name
        return (other, "With it") if self.path is None else (mine, other)

    def _paint(self, p: QPainter, t: Theme, picture: Picture) -> None:
        y, rows = 4.0, self.rows()
        if not rows:
            flow(p, QRectF(4, y, 400, 30), "Both are being worked out…", t.dye, size=9.5)
            return
        for k, word in enumerate((*self.heads, "difference")):
            box = QRectF(WORD + k * COLUMN, y, COLUMN - 8, 30)
            text(p, box, word, t.text, size=9, bold=True, align="right", wrap=True)
        y += 34
        for title, *cells in rows:
            p.setPen(QPen(t.edge, 1))
            text(p, QRectF(4, y, WORD - 8, ROW), title, t.quiet, size=9, elide=True)
            for k, cell in enumerate(cells):
                colour = t.text if k < 2 else t.quiet if cell in ("", "same") else t.dye
                text(p, QRectF(WORD + k * COLUMN, y, COLUMN - 8, ROW), cell, colour, size=9, align="right", elide=True)
            picture.hits.append(Hit(QRectF(0, y, WORD + 3 * COLUMN, ROW), f"{title}: {cells[0]}, {cells[1]}"))
            y += ROW
        picture.setMinimumHeight(int(y + 8))

    def as_text(self) -> str:
        rows = self.rows()
        return "\n".join("\t".join(row) for row in [("", *self.heads, "difference"), *rows]) if rows else ""

    def stop(self) -> None:
        self.work.stop()
