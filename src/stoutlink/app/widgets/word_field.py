"""The one field for words of the project by their path: text, a tooth pair, a list of tooth pairs."""

from __future__ import annotations

import re
from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.core.catalogue.donor import ToothPair
from stoutlink.core.document.paths import get_value
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.errors import StoutError
from stoutlink.core.text import whole

Read = Callable[[str], object]
"""Turns what was typed into the value; raises ``ValueError`` when it is not understood."""


def read_pair(words: str) -> ToothPair | None:
    """Teeth as typed, ``41/10``; nothing for nothing."""
    if not words:
        return None
    ring, pinion = re.split(r"[/:]", words)
    return ToothPair(ring=int(ring), pinion=int(pinion))


def read_pairs(words: str) -> tuple[ToothPair, ...]:
    """Several, ``41/10 43/10``."""
    return tuple(p for word in words.replace(",", " ").split() if (p := read_pair(word)) is not None)


class WordField(KeptLine):
    """Words by path. Words that are refused or not understood stay, marked, and nothing changes; Esc brings the old
    ones back.

    ``path`` may be changed, and ``None`` stands for nothing to show.
    """

    def __init__(
        self,
        workspace: Workspace,
        path: str | None,
        title: str,
        parent: QWidget,
        *,
        read: Read = str,
        example: str = "",
        name: str = "",
    ) -> None:
        super().__init__(workspace, parent)
        self.title, self._read, self._example = title, read, example
        self.path = path
        self.setObjectName(name or f"words_{path}")
        self.setAccessibleName(title)
        self.setToolTip(f"{title}{f', such as {example}' if example else ''}.")
        self.setFont(font(9))
        self.editingFinished.connect(self._take)
        self.refresh()

    def refresh(self) -> None:
        """Show the project's words, unless the user is typing here or typed what could not be taken."""
        words = self._words() or ""
        self.setToolTip(f"{self.title}{f', such as {self._example}' if self._example else ''}.")
        self.offer(self.path or "", words)
        if not self.in_hand():
            self.setCursorPosition(0)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.release()
            self.setText(self._words() or "")
            self.clearFocus()
            return
        super().keyPressEvent(event)

    def _words(self) -> str | None:
        """The project's words; None when what they are about is gone."""
        if self.path is None:
            return None
        try:
            value = get_value(self._workspace.project, self.path)
        except KeyError:
            return None
        if isinstance(value, tuple):
            return (", " if value and isinstance(value[0], str) else " ").join(str(one) for one in value)
        return "" if value is None else str(value)

    def _take(self) -> None:
        old, words = self._words(), whole(self.text().strip())
        if old is None or self.path is None or not self.isModified():
            return
        if words == old:
            self.release()
            return
        try:
            value = self._read(words)
        except ValueError:
            self.refuse(words, f"“{words}” is not understood; accepted is {self._example}.")
            return
        self.setModified(False)
        self._workspace.not_taken.remove(self.place)
        try:
            edit = SetChoice(self.path, value, self.title.lower())
            self._workspace.attempt(edit)
        except StoutError as why:
            self.refuse(words, why.words, edit)
            return
        self.release()
