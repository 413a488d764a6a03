"""A small box that shows one of a few words of the project and changes it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.document.paths import get_value
from stoutlink.core.editing.edits import SetChoice


class ChoiceBox(StillBox):
    """Words for the value at a path; ``None`` is shown as "not known" or what ``nothing`` says."""

    def __init__(
        self,
        workspace: Workspace,
        name: str,
        title: str,
        choices: Sequence[tuple[Any, str]],
        parent: QWidget,
        *,
        tip: str = "",
    ) -> None:
        super().__init__(parent)
        self._workspace, self._title = workspace, title
        self.path: Callable[[], str | None] = lambda: None
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.setToolTip(tip or f"{title}.")
        self.setFont(font(9))
        for value, words in choices:
            self.addItem(words, value)
        self.activated.connect(self._chosen)

    def _chosen(self, i: int) -> None:
        path = self.path()
        if path is not None and not self._workspace.do(SetChoice(path, self.itemData(i), self._title)):
            self.refresh()

    def refresh(self) -> None:
        """Show the project's value."""
        path = self.path()
        self.setEnabled(path is not None)
        if path is None:
            return
        value = get_value(self._workspace.project, path)
        with QSignalBlocker(self):
            for i in range(self.count()):
                if self.itemData(i) == value:
                    self.setCurrentIndex(i)
                    return
            self.setCurrentIndex(-1)
