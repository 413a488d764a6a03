"""The bench step: setting gears up."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.bench.gear_look import GearLook
from stoutlink.app.steps.step import Sheet, focus_field

LOOKS = (("gears", "Gears", "Gears set up attempt by attempt: what it says, which shims to try next."),)


class BenchSheet(Sheet):
    """One look so far: gears."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_bench")
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 6, 0, 0)
        self.gears = GearLook(workspace, self)
        outer.addWidget(self.gears, 1)

    def look(self, key: str) -> None:
        """There is one."""
        if self._theme is not None:
            self.refresh(self._theme)

    def show_field(self, path: str) -> bool:
        """Put up the fields a path is among."""
        if path.startswith("gears."):
            self.gears.show_path(path)
        return focus_field(self, path)

    def as_text(self) -> str:
        """Where the gear set stands."""
        return self.gears.as_text()

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        self.gears.refresh(theme)
