"""What every look of the donors step has in common."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.look import Look
from stoutlink.core.analysis.vehicle.lacking import Group
from stoutlink.core.catalogue.donor import DonorAxle


class DonorLook(Look):
    """A look at a candidate. ``pair`` looks show both axles and leave the list of candidates away."""

    pair = False
    takes: tuple[Group, ...] = ()
    """Numbers of the rig it judges by; it is not put up before they are entered."""

    def __init__(self, workspace: Workspace, name: str, title: str, parent: QWidget | None = None) -> None:
        super().__init__(workspace, f"donor_look_{name}", title, parent)
        self.donor: DonorAxle | None = None
