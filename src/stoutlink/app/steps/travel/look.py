"""What every look in the corner of the travel step has in common."""

from __future__ import annotations

from msgspec import Struct
from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.core.analysis.cycle.travel import AxleTravel
from stoutlink.core.analysis.cycle.travel_map import TravelMap


class Shown(Struct, frozen=True):
    """What is on the table: the travel of the axle in work and of both, its map, and the pose picked (row, column,
    steer rad).
    """

    travel: AxleTravel | None
    both: dict[str, AxleTravel | None]
    compared: AxleTravel | None
    found: TravelMap | None
    row: int
    column: int
    steer: float


WAIT = "Cycling…"


class TravelLook(Look):
    """A look at a pose of a travel. Nothing is read out while it is scrubbed: the poses go by too fast."""

    def __init__(self, workspace: Workspace, name: str, title: str, parent: QWidget | None = None) -> None:
        super().__init__(workspace, f"travel_look_{name}", title, parent)
        self.shown = Shown(None, {}, None, None, 0, 0, 0.0)

    def refresh(self, theme: Theme) -> None:
        """Show the pose picked."""
        self.theme = theme
        self.prepare()
        self.update()
