"""What every look of every step has in common."""

from __future__ import annotations

from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QBoxLayout, QPushButton, QWidget

from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.widgets.tab_order import in_reading_order

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
            in_reading_order(self)
            self.setAccessibleDescription(self.as_text()[:MOST_WORDS])
        self.update()

    def put_button(self, name: str, words: str, tip: str, row: QBoxLayout) -> QPushButton:
        """A button with its help at the end of a row of this look."""
        out = QPushButton(words, self)
        out.setObjectName(name)
        out.setAccessibleName(words)
        out.setToolTip(tip)
        out.setFont(font(9))
        row.addWidget(out)
        return out

    def event(self, event: QEvent | None) -> bool:
        """Places change with the size, and the order of the Tab key with them."""
        done = super().event(event)
        if event is not None and event.type() == QEvent.Type.Resize:
            in_reading_order(self)
        return done

    def prepare(self) -> None:
        """Work out what is to be shown."""

    def as_text(self) -> str:
        """The look in words, for the clipboard and for those who cannot see it."""
        return ""

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
