"""Everything by name: type a few letters, press Enter."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Protocol

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.theme import dress

MOST = 60
"""Things listed at once; a few more letters leave fewer."""


class Findable(Protocol):
    """Something to go to: what it is called, a line on it, and the way there."""

    @property
    def name(self) -> str: ...

    @property
    def detail(self) -> str: ...

    @property
    def go(self) -> Callable[[], object]: ...


class CommandBox(QFrame):
    """A small panel over the window with a line to type in and what matches: commands, then whatever ``more`` gives."""

    chosen = pyqtSignal(str)

    def __init__(
        self, commands: list[Command], parent: QWidget, more: Callable[[], Iterable[Findable]] = tuple
    ) -> None:
        super().__init__(parent)
        self.setObjectName("command_box")
        self.setAccessibleName("Command box")
        self.setFrameShape(QFrame.Shape.StyledPanel)
        self.setAutoFillBackground(True)
        self._more, self._things = more, list[Findable]()
        self._commands = [c for c in commands if c.id != "command_box"]
        self.line = QLineEdit(self)
        self.line.setObjectName("command_line")
        self.line.setAccessibleName("Type a command")
        self.line.setPlaceholderText("Type what you want to do, or what you look for")
        self.list = QListWidget(self)
        self.list.setObjectName("command_list")
        self.list.setAccessibleName("Matching commands")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        layout = QVBoxLayout(self)
        layout.addWidget(self.line)
        layout.addWidget(self.list)
        self.line.textChanged.connect(self._fill)
        self.list.itemClicked.connect(self._take)
        self.hide()

    def popup(self) -> None:
        """Show it in the middle of the window."""
        parent = self.parentWidget()
        if parent is not None:
            wide = min(560, parent.width() - 40)
            self.setGeometry((parent.width() - wide) // 2, 60, wide, 360)
        dress(self)
        self.line.clear()
        self._things = list(self._more())
        self._fill("")
        self.show()
        self.raise_()
        self.line.setFocus()

    def _fill(self, text: str) -> None:
        words = text.lower().split()
        self.list.clear()
        named, meant = [], []
        for one in self._commands:
            if one.enabled is not None and not one.enabled():
                continue
            if all(w in one.name.lower() for w in words):
                named.append(one)
            elif all(w in f"{one.name} {one.help_text}".lower() for w in words):
                meant.append(one)
        for one in named:
            self._offer(one)
        for thing in self._matching(words) if words else ():
            item = QListWidgetItem(f"{thing.name}\n{thing.detail}")
            item.setData(Qt.ItemDataRole.UserRole + 1, thing)
            self.list.addItem(item)
        for one in meant:
            self._offer(one)
        self.list.setCurrentRow(0)

    def _offer(self, one: Command) -> None:
        """Put a command in the list."""
        item = QListWidgetItem(f"{one.name}    {one.keys.split(' or ')[0]}\n{one.help_text}")
        item.setData(Qt.ItemDataRole.UserRole, one.id)
        self.list.addItem(item)

    def _matching(self, words: list[str]) -> list[Findable]:
        """Things with all the words, those that begin with them first."""
        found = [t for t in self._things if all(w in f"{t.name} {t.detail}".lower() for w in words)]
        return sorted(found, key=lambda t: not t.name.lower().startswith(words[0]))[:MOST]

    def _take(self, item: QListWidgetItem | None) -> None:
        self.hide()
        if item is None:
            return
        thing = item.data(Qt.ItemDataRole.UserRole + 1)
        if thing is not None:
            thing.go()
        else:
            self.chosen.emit(item.data(Qt.ItemDataRole.UserRole))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = event.key()
        if key == Qt.Key.Key_Escape:
            self.hide()
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take(self.list.currentItem())
        else:
            super().keyPressEvent(event)
