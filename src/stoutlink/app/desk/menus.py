"""Menus that open where the mouse or the menu key asks for one."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QWidget

from stoutlink.app.desk.theme import dress

Entry = tuple[str, Callable[[], object]]
"""What stands in a menu, and what it does."""


def pop_up(over: QWidget, at: QPoint, entries: list[Entry | None]) -> QMenu:
    """Open a menu at a place of the screen; ``None`` stands for a line between entries."""
    menu = QMenu(over)
    menu.setObjectName("context_menu")
    dress(menu)
    for entry in entries:
        if entry is None:
            menu.addSeparator()
            continue
        words, act = entry
        action = menu.addAction(words)
        if action is not None:
            action.triggered.connect(lambda _=False, run=act: run())
    menu.aboutToHide.connect(menu.deleteLater)
    menu.popup(at)
    return menu
