"""What every look of every step has in common."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace

MOST_WORDS = 2000
"""Letters of a look's text read out as its description."""


class Look(QWidget):
    """A look at something: the sheet that holds it says at what (a candidate, a pose), then has it refreshed."""

    def __init__(self, workspace: Workspace, name: str, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(title)
        self.workspace = workspace
        self.theme: Theme | None = None

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self.theme = theme
        self.prepare()
        if not self.workspace.dragging:
            self.setAccessibleDescription(self.as_text()[:MOST_WORDS])
        self.update()

    def prepare(self) -> None:
        """Work out what is to be shown."""

    def as_text(self) -> str:
        """The look in words, for the clipboard and for those who cannot see it."""
        return ""

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
