"""The plan step's sheet."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.plan.plan_look import PlanLook
from stoutlink.app.steps.step import Sheet, focus_field

LOOKS = (("plan", "Plan", "The build as lanes: what comes next, what sets the date, what a late part moves."),)


class PlanSheetView(Sheet):
    """``elsewhere`` asks for another step, ``copy`` and ``export`` the window to do it."""

    elsewhere = pyqtSignal(str)
    copy = pyqtSignal()
    export = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_plan")
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 8, 14, 4)
        head.addStretch(1)
        for name, signal, text, tip in (
            ("copy_plan", self.copy, "Copy as text", "Puts the plan on the clipboard."),
            ("export_plan", self.export, "Export…", "Writes the plan as a calendar, a table or a wall sheet."),
        ):
            button = QPushButton(text, self)
            button.setObjectName(name)
            button.setAccessibleName(text)
            button.setToolTip(tip)
            button.clicked.connect(signal.emit)
            head.addWidget(button)
        outer.addLayout(head)
        self.plan = PlanLook(workspace, self)
        self.plan.elsewhere.connect(self.elsewhere.emit)
        outer.addWidget(self.plan, 1)

    def look(self, key: str) -> None:
        """There is one."""
        if self._theme is not None:
            self.refresh(self._theme)

    def show_field(self, path: str) -> bool:
        """Put up the fields a path is among."""
        if path.startswith("build"):
            self.plan.show_path(path)
        return focus_field(self, path)

    def ready(self) -> bool:
        """Whether what is shown is worked out."""
        return not self.plan.work.busy

    def as_text(self) -> str:
        """The plan in words."""
        if self._theme is not None:
            self.plan.refresh(self._theme)
        return self.plan.as_text()

    def stop(self) -> None:
        """Leave off what is worked out beside the window."""
        self.plan.stop()

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        self.plan.refresh(theme)
