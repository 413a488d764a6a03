"""Actions as data: one list gives menus, shortcuts, the command box and the help page."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QWidget


class Command(Struct, frozen=True):
    """One thing the user can do: name, menu, keys, one sentence, what it calls, when it can be used."""

    id: str
    name: str
    menu: str
    keys: str
    help_text: str
    run: Callable[[], object]
    enabled: Callable[[], bool] | None = None


def make_actions(commands: list[Command], owner: QWidget) -> dict[str, QAction]:
    """Turn commands into actions of ``owner``, by id."""
    out = {}
    for one in commands:
        action = QAction(one.name, owner)
        action.setObjectName(f"action_{one.id}")
        if one.keys:
            action.setShortcuts([QKeySequence(k) for k in one.keys.split(" or ")])
        action.setToolTip(one.help_text)
        action.setStatusTip(one.help_text)
        action.triggered.connect(lambda _=False, run=one.run: run())
        owner.addAction(action)
        out[one.id] = action
    return out
