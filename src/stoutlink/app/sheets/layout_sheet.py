"""The layout step: three views with the travel panel in their free corner."""

from __future__ import annotations

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from stoutlink.app.sheets.three_views import Pivot, ThreeViews
from stoutlink.app.sheets.travel_panel import TravelPanel
from stoutlink.app.theme import Theme, font
from stoutlink.app.workspace import Workspace
from stoutlink.core.document.layout import KIND_NAMES
from stoutlink.core.editing.edits import SetMirrored


class LayoutSheet(QWidget):
    """Drag, nudge or type pivots; step through travel."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_layout")
        self._workspace = workspace
        self._theme: Theme | None = None
        self.views = ThreeViews(workspace, self)
        self._corner = QWidget(self)
        inside = QVBoxLayout(self._corner)
        inside.setContentsMargins(14, 10, 14, 8)
        inside.setSpacing(6)
        self._name = QLabel(self._corner)
        self._name.setFont(font(12, bold=True))
        self._kind = QLabel(self._corner)
        self._kind.setFont(font(9))
        self._name.setWordWrap(True)
        inside.addWidget(self._name)
        inside.addWidget(self._kind)
        row = QHBoxLayout()
        self.pivots = QComboBox(self._corner)
        self.pivots.setObjectName("pivot_choice")
        self.pivots.setAccessibleName("Pivot to edit")
        self.pivots.setToolTip("The pivot whose dimensions stand on the drawing; drag it, nudge it with the arrow keys, or type.")
        self.pivots.activated.connect(self._picked)
        self.mirrored = QCheckBox("Mirrored", self._corner)
        self.mirrored.setObjectName("mirrored")
        self.mirrored.setToolTip("Left and right pivots of a pair move together; untick to let them differ.")
        self.mirrored.clicked.connect(self._mirror)
        self.snap = QCheckBox("Snap", self._corner)
        self.snap.setObjectName("snap")
        self.snap.setChecked(True)
        self.snap.setToolTip("Dragged pivots fall on 1/16 in or 1 mm and line up with others; hold Alt to drag freely.")
        self.snap.toggled.connect(lambda on: setattr(self.views, "snapping", on))
        row.addWidget(self.pivots, 1)
        row.addWidget(self.mirrored)
        row.addWidget(self.snap)
        inside.addLayout(row)
        self.travel = TravelPanel(workspace, self._corner)
        self.travel.moved.connect(self._travelled)
        inside.addWidget(self.travel, 1)
        self._problem = QLabel(self._corner)
        self._problem.setWordWrap(True)
        inside.addWidget(self._problem)
        self.views.selected_changed.connect(self._selected)
        self._listed: object = None

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.views.setGeometry(self.rect())
        self.views.drawn.size = (float(self.width()), float(self.height()))  # a hidden child hears of its size only when shown
        self._corner.setGeometry(self.views.drawn.corner().toRect())

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        layout = self.views.layout_shown
        axle = self._workspace.review.axles[self._workspace.end]
        self._corner.setVisible(layout is not None)
        if layout is not None:
            self._name.setText(layout.name)
            self._kind.setText(f"{KIND_NAMES[layout.kind].capitalize()}, {layout.end} axle")
            partners = any(layout.partner(one) for one in layout.links)
            self.mirrored.setVisible(partners)
            with QSignalBlocker(self.mirrored):
                self.mirrored.setChecked(layout.mirrored)
            listed = (layout.id, tuple(one.name for one in layout.links))
            if listed != self._listed:
                self._listed = listed
                self.pivots.clear()
                self.pivots.addItem("Pick a pivot…", None)
                for link in layout.links:
                    for which in ("frame", "axle"):
                        self.pivots.addItem(f"{link.name}, {which}", (link.id, which))
                self._selected()
        self._problem.setText(f"{axle.problem.sentence} {axle.problem.hint}" if axle.problem else "")
        self._problem.setVisible(axle.problem is not None)
        self.travel.refresh(theme, axle.motion)
        if axle.motion is None and self.views.station is not None:
            self.views.station = None
        self.views.refresh(theme)

    def end_changed(self) -> None:
        """Another axle: start it at ride height, whole in view."""
        self.views.select(None)
        self.views.station = None
        self.travel.to_ride()
        self.views.fit()

    def _picked(self, row: int) -> None:
        pivot: Pivot | None = self.pivots.itemData(row)
        self.views.select(tuple(pivot) if pivot else None)  # type: ignore[arg-type]
        self.views.setFocus()

    def _selected(self) -> None:
        for i in range(self.pivots.count()):
            data = self.pivots.itemData(i)
            if (tuple(data) if data else None) == self.views.selected:
                self.pivots.setCurrentIndex(i)

    def _mirror(self, on: bool) -> None:
        layout = self.views.layout_shown
        if layout is not None:
            self._workspace.do(SetMirrored(layout.id, on))

    def _travelled(self, station: int) -> None:
        self.views.station = None if station < 0 else station
        if self._theme is not None:
            self.views.refresh(self._theme)
