"""A narrow drawer of what has no place on a picture: numbers, words and choices of the project by their paths."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtWidgets import QGridLayout, QLineEdit, QWidget

from stoutlink.app.quantity_field import QuantityField
from stoutlink.app.sheets.donors.choice_box import ChoiceBox
from stoutlink.app.sheets.donors.look import quiet_label
from stoutlink.app.theme import font
from stoutlink.app.workspace import Workspace
from stoutlink.core.catalogue.donor import ToothPair
from stoutlink.core.document.paths import get_value
from stoutlink.core.editing.edits import SetChoice


@dataclass(frozen=True)
class Entry:
    """One thing in the drawer: its path, its word, and what it is: ``number``, ``text``, ``pair`` (teeth as 41/10) or ``choice`` with its choices."""

    path: str
    word: str
    kind: str = "number"
    choices: tuple[tuple[Any, str], ...] = ()


class WordField(QLineEdit):
    """Words of the project by their path; refused words give way to the old ones."""

    def __init__(self, workspace: Workspace, path: str, title: str, parent: QWidget, *, pair: bool = False) -> None:
        super().__init__(parent)
        self._workspace, self.path, self._title, self._pair = workspace, path, title, pair
        self.setObjectName(f"words_{path}")
        self.setAccessibleName(title)
        self.setToolTip(f"{title}.")
        self.setFont(font(9))
        self.editingFinished.connect(self._take)
        self.refresh()

    def refresh(self) -> None:
        """Show the project's words, unless the user is typing here."""
        if not self.hasFocus():
            try:
                self.setText(self._words())
            except KeyError:
                self.setText("")

    def _take(self) -> None:
        try:
            old = self._words()
        except KeyError:  # what it was about has just been taken out
            return
        words = self.text().strip()
        if words == old:
            return
        value: object = words
        if self._pair:
            try:
                value = _pair_of(words)
            except ValueError:
                self._workspace.said.emit(f"{self._title}: “{words}” is not understood; accepted is a tooth pair such as 41/10.", True)
                return
        if not self._workspace.do(SetChoice(self.path, value, self._title.lower())):
            self.setText(old)

    def _words(self) -> str:
        value = get_value(self._workspace.project, self.path)
        return "" if value is None else str(value)


def _pair_of(words: str) -> ToothPair | None:
    """Teeth as typed; nothing for nothing. Raises ``ValueError`` for anything else."""
    if not words:
        return None
    ring, pinion = words.split("/")
    return ToothPair(ring=int(ring), pinion=int(pinion))


class PathDrawer(QWidget):
    """Entries in rows of ``columns``; made anew when they are other ones."""

    def __init__(self, workspace: Workspace, name: str, columns: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self._workspace, self._columns = workspace, columns
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(4)
        self._entries: tuple[Entry, ...] = ()
        self._fields: list[QuantityField | WordField | ChoiceBox] = []

    def show_entries(self, entries: Sequence[Entry]) -> None:
        """Show these, with the project's values."""
        if tuple(entries) != self._entries:
            self._entries = tuple(entries)
            self._fields = []
            while (item := self._grid.takeAt(0)) is not None:
                gone = item.widget()
                if gone is not None:
                    gone.hide()
                    gone.deleteLater()
            for i, entry in enumerate(entries):
                self._add(i, entry)
        for field in self._fields:
            field.refresh()
        self.setVisible(bool(entries))

    def _add(self, i: int, entry: Entry) -> None:
        row, column = divmod(i, self._columns)
        field: QuantityField | WordField | ChoiceBox
        if entry.kind == "choice":
            field = ChoiceBox(self._workspace, f"choice_{entry.path}", entry.word.capitalize(), entry.choices, self)
            field.path = lambda: entry.path
        elif entry.kind in ("text", "pair"):
            field = WordField(self._workspace, entry.path, entry.word.capitalize(), self, pair=entry.kind == "pair")
        else:
            field = QuantityField(self._workspace, entry.path, self, title=entry.word.capitalize())
        field.setFixedWidth(104)
        self._grid.addWidget(quiet_label(entry.word, self), row, 2 * column)
        self._grid.addWidget(field, row, 2 * column + 1)
        self._fields.append(field)
