"""What every look of the donors step has in common."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.catalogue.donor import DonorAxle


class DonorLook(QWidget):
    """Base of the looks. ``pair`` looks show both axles and leave the list of candidates away."""

    pair = False

    def __init__(self, workspace: Workspace, name: str, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(f"donor_look_{name}")
        self.setAccessibleName(title)
        self.workspace = workspace
        self.theme: Theme | None = None
        self.donor: DonorAxle | None = None

    def refresh(self, theme: Theme, donor: DonorAxle | None) -> None:
        """Show the current project, and the candidate looked at."""
        self.theme, self.donor = theme, donor
        self.prepare()
        self.setAccessibleDescription(self.as_text()[:2000])
        self.update()

    def prepare(self) -> None:
        """Work out what is to be shown."""

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""

    def as_text(self) -> str:
        """The look in words, for the clipboard and for those who cannot see it."""
        return ""
