"""What every look in the corner of the layout step has in common."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.core.document.layout import Layout
from stoutlink.core.drawing.shapes import Shape, ViewName
from stoutlink.core.study.axle import AxleStudy


class LayoutLook(QWidget):
    """Base of the looks: shows something of the layout in work, and may draw on the three views."""

    def __init__(
        self, workspace: Workspace, views: ThreeViews, name: str, title: str, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setObjectName(f"layout_look_{name}")
        self.setAccessibleName(title)
        self.workspace, self.views = workspace, views
        self.theme: Theme | None = None

    @property
    def layout_shown(self) -> Layout | None:
        """The layout in work."""
        return self.workspace.project.layout(self.workspace.end)

    @property
    def axle(self) -> AxleStudy:
        """The judgement of the end in work."""
        return self.workspace.study.axles[self.workspace.end]

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self.theme = theme
        self.prepare()
        if not self.workspace.dragging:
            self.setAccessibleDescription(self.as_text()[:2000])
        self.update()

    def prepare(self) -> None:
        """Work out what is to be shown."""

    def overlay(self, view: ViewName) -> list[Shape]:
        """What it draws on a view."""
        return []

    def as_text(self) -> str:
        """The look in words, for the clipboard and for those who cannot see it."""
        return ""

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
