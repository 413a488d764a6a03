"""A narrow drawer of what has no place on a picture: numbers, words and choices of the project by their paths."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct
from PyQt6.QtWidgets import QGridLayout, QWidget

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.choice_box import ChoiceBox
from stoutlink.app.widgets.picture import quiet_label
from stoutlink.app.widgets.quantity_field import QuantityField
from stoutlink.app.widgets.word_field import Read, WordField, read_pair


def read_words(words: str) -> tuple[str, ...]:
    """Several, apart by commas."""
    return tuple(one for part in words.split(",") if (one := part.strip()))


READS: dict[str, Read] = {"text": str, "pair": read_pair, "words": read_words}
EXAMPLES = {"pair": "41/10", "words": "puller, spreader"}


class Entry(Struct, frozen=True):
    """One thing in the drawer: its path, its word, and what it is: ``number``, ``text``, ``words`` (several, by commas),
    ``pair`` (teeth as 41/10) or ``choice`` with its choices.
    """

    path: str
    word: str
    kind: str = "number"
    choices: tuple[tuple[Any, str], ...] = ()
    channels: tuple[str, ...] = ()
    """Of an instrument that Space reads into it."""


class PathDrawer(QWidget):
    """Entries in rows of ``columns``; made anew when they are other ones."""

    def __init__(self, workspace: Workspace, name: str, columns: int, parent: QWidget, *, wide: int = 104) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self._workspace, self._columns, self._wide = workspace, columns, wide
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(4)
        self._entries: tuple[Entry, ...] = ()
        self._fields: list[QuantityField | WordField | ChoiceBox] = []

    def show_entries(self, entries: Sequence[Entry], proposed: Mapping[str, float] | None = None) -> None:
        """Show these, with the project's values; ``proposed`` is what empty numbers stand for, by path, SI."""
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
        for entry, field in zip(self._entries, self._fields, strict=True):
            if isinstance(field, QuantityField) and proposed is not None:
                field.stand_for(proposed.get(entry.path))
            field.refresh()
        self.setVisible(bool(entries))

    def _add(self, i: int, entry: Entry) -> None:
        row, column = divmod(i, self._columns)
        field: QuantityField | WordField | ChoiceBox
        if entry.kind == "choice":
            field = ChoiceBox(self._workspace, f"choice_{entry.path}", entry.word.capitalize(), entry.choices, self)
            field.path = lambda: entry.path
        elif entry.kind in READS:
            field = WordField(
                self._workspace,
                entry.path,
                entry.word.capitalize(),
                self,
                read=READS[entry.kind],
                example=EXAMPLES.get(entry.kind, ""),
            )
        else:
            field = QuantityField(
                self._workspace, entry.path, self, title=entry.word.capitalize(), channels=entry.channels
            )
        field.setFixedWidth(self._wide)
        self._grid.addWidget(quiet_label(entry.word, self), row, 2 * column)
        self._grid.addWidget(field, row, 2 * column + 1)
        field.show()  # at once, so that whoever was sent here finds it
        self._fields.append(field)
