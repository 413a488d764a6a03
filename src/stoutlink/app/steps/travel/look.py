"""What every look in the corner of the travel step has in common."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.cycle.travel_map import Ribbon


@dataclass(frozen=True)
class Shown:
    """What is on the table: the travel of the axle in work and of both, its ribbon, and the pose picked (row, column,
    steer rad).
    """

    travel: AxleTravel | None
    both: dict[str, AxleTravel | None]
    compared: AxleTravel | None
    found: Ribbon | None
    row: int
    column: int
    steer: float


WAIT = "Cycling…"


class TravelLook(QWidget):
    """Base of the looks."""

    def __init__(self, workspace: Workspace, name: str, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(f"travel_look_{name}")
        self.setAccessibleName(title)
        self.workspace = workspace
        self.theme: Theme | None = None
        self.shown = Shown(None, {}, None, None, 0, 0, 0.0)

    def show_at(self, theme: Theme, shown: Shown) -> None:
        """Show a pose of a travel."""
        self.theme, self.shown = theme, shown
        self.prepare()
        self.update()

    def prepare(self) -> None:
        """Work out what is to be shown."""

    def stop(self) -> None:
        """Leave off work beside the window."""

    def as_text(self) -> str:
        """The look in words."""
        return ""
