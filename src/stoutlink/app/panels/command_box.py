"""Everything by name: type a few letters, press Enter."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from stoutlink.app.desk.actions import Command


class CommandBox(QFrame):
    """A small panel over the window with a line to type in and the commands that match."""

    chosen = pyqtSignal(str)

    def __init__(self, commands: list[Command], parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("command_box")
        self.setAccessibleName("Command box")
        self.setFrameShape(QFrame.Shape.StyledPanel)
        self.setAutoFillBackground(True)
        self._commands = [c for c in commands if c.id != "command_box"]
        self.line = QLineEdit(self)
        self.line.setObjectName("command_line")
        self.line.setAccessibleName("Type a command")
        self.line.setPlaceholderText("Type what you want to do")
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
        self.line.clear()
        self._fill("")
        self.show()
        self.raise_()
        self.line.setFocus()

    def _fill(self, text: str) -> None:
        words = text.lower().split()
        self.list.clear()
        for one in self._commands:
            if all(w in f"{one.name} {one.help_text}".lower() for w in words) and (
                one.enabled is None or one.enabled()
            ):
                item = QListWidgetItem(f"{one.name}    {one.keys.split(' or ')[0]}\n{one.help_text}")
                item.setData(Qt.ItemDataRole.UserRole, one.id)
                self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _take(self, item: QListWidgetItem | None) -> None:
        self.hide()
        if item is not None:
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
