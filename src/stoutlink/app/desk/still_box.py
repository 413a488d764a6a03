"""A box of choices that the mouse wheel does not change in passing."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent, QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QComboBox, QWidget


class StillBox(QComboBox):
    """The wheel over it scrolls the sheet on, unless it has the keys because it was clicked."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)  # the wheel alone does not bring the keys
        self._clicked = False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self._clicked = True
        super().mousePressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        kept = (Qt.FocusReason.PopupFocusReason, Qt.FocusReason.ActiveWindowFocusReason)  # its own list has the keys
        if event is None or event.reason() not in kept:
            self._clicked = False
        super().focusOutEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and not (self._clicked and self.hasFocus()):
            event.ignore()
            return
        super().wheelEvent(event)
