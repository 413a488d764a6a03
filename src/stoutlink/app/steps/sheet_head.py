"""The buttons at the head of a sheet: copy what it shows as text, export it."""

from __future__ import annotations

from PyQt6.QtCore import pyqtBoundSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget


def head_buttons(
    sheet: QWidget,
    row: QHBoxLayout,
    name: str,
    copy: pyqtBoundSignal,
    export: pyqtBoundSignal,
    writes: str,
    exports: str = "Export…",
) -> None:
    """Put both at the end of a row; ``name`` stands in their own names, ``writes`` is what exporting does."""
    for key, signal, words, tip in (
        (f"copy_{name}", copy, "Copy as text", "Puts what this look shows on the clipboard."),
        (f"export_{name}", export, exports, writes),
    ):
        button = QPushButton(words, sheet)
        button.setObjectName(key)
        button.setAccessibleName(words)
        button.setToolTip(tip)
        button.clicked.connect(signal.emit)
        row.addWidget(button)
