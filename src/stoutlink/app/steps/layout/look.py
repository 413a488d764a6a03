"""What every look in the corner of the layout step has in common."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.steps.look import Look
from stoutlink.core.document.layout import Layout
from stoutlink.core.drawing.shapes import Shape, ViewName
from stoutlink.core.study.axle import AxleStudy


class LayoutLook(Look):
    """A look at the layout in work, which may draw on the three views."""

    def __init__(
        self, workspace: Workspace, views: ThreeViews, name: str, title: str, parent: QWidget | None = None
    ) -> None:
        super().__init__(workspace, f"layout_look_{name}", title, parent)
        self.views = views

    @property
    def layout_shown(self) -> Layout | None:
        """The layout in work."""
        return self.workspace.project.layout(self.workspace.end)

    @property
    def axle(self) -> AxleStudy:
        """What can be asked of the end in work."""
        return self.workspace.study.axles[self.workspace.end]

    def overlay(self, view: ViewName) -> list[Shape]:
        """What it draws on a view."""
        return []
