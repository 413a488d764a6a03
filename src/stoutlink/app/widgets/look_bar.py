"""The row of flat buttons over the looks in a sheet's corner: one is down at a time."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QWidget

from stoutlink.app.desk.theme import font

Looks = tuple[tuple[str, str, str], ...]
"""Key, title and one plain sentence of each look."""


class LookBar(QWidget):
    """``picked`` carries the key of the look asked for."""

    picked = pyqtSignal(str)

    def __init__(self, looks: Looks, prefix: str, pad: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(1)
        group = QButtonGroup(self)
        for key, title, tip in looks:
            button = QPushButton(title, self)
            button.setObjectName(f"{prefix}_{key}")
            button.setAccessibleName(title)
            button.setProperty("flat", True)
            button.setCheckable(True)
            button.setToolTip(tip)
            button.setFont(font(8.5))
            button.setStyleSheet(f"padding: 3px {pad}px;")
            button.setMinimumWidth(button.fontMetrics().horizontalAdvance(title) + 2 * pad + 4)
            button.clicked.connect(lambda _=False, key=key: self.picked.emit(key))
            group.addButton(button)
            row.addWidget(button)
            self.buttons[key] = button
        row.addStretch(1)

    def show_picked(self, key: str) -> None:
        """Have this one down."""
        for name, button in self.buttons.items():
            button.setChecked(name == key)
