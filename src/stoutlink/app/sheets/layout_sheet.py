"""The layout step: three views with the travel panel in their free corner."""

from __future__ import annotations

import html

from PyQt6.QtCore import QSignalBlocker, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from stoutlink.app import dialogs
from stoutlink.app.sheets.three_views import Pivot, ThreeViews
from stoutlink.app.sheets.travel_panel import TravelPanel
from stoutlink.app.theme import Theme, font
from stoutlink.app.workspace import Workspace
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import KIND_NAMES, Layout
from stoutlink.core.editing.edits import SetChoice, SetMirrored
from stoutlink.core.editing.layout_edits import CopyLayout, TakeLayout, UseLayout

MOST_WORDS = 6


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
        top = QHBoxLayout()
        self.layouts = QComboBox(self._corner)
        self.layouts.setObjectName("layout_choice")
        self.layouts.setAccessibleName("Layout in use")
        self.layouts.setToolTip("The layout of this axle that is worked on; the others of this end keep their numbers.")
        self.layouts.setFont(font(10.5, bold=True))
        self.layouts.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.layouts.activated.connect(self._use)
        top.addWidget(self.layouts, 1)
        for name, text, tip, slot in (
            ("copy_layout", "Copy", "Copy this layout and work on the copy, held against this one.", self._copy),
            ("rename_layout", "Rename", "Give this layout another name.", self._rename),
            ("remove_layout", "Remove", "Take this layout away; undo brings it back.", self._remove),
        ):
            button = QPushButton(text, self._corner)
            button.setObjectName(name)
            button.setProperty("flat", True)
            button.setFont(font(8.5))
            button.setToolTip(tip)
            button.clicked.connect(slot)
            top.addWidget(button)
        inside.addLayout(top)
        second = QHBoxLayout()
        self._kind = QLabel(self._corner)
        self._kind.setFont(font(9))
        second.addWidget(self._kind, 1)
        self.against = QComboBox(self._corner)
        self.against.setObjectName("compare_choice")
        self.against.setAccessibleName("Compare with")
        self.against.setToolTip(
            "Hold another layout of this axle against it: dash-dot links in the views, hollow ticks in the verdict, differences in words."
        )
        self.against.setFont(font(9))
        self.against.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.against.activated.connect(self._hold)
        second.addWidget(self.against, 1)
        inside.addLayout(second)
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
        self.differences = QLabel(self._corner)
        self.differences.setObjectName("differences")
        self.differences.setAccessibleName("Differences to the compared layout")
        self.differences.setWordWrap(True)
        self.differences.setFont(font(8.5))
        self.differences.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        inside.addWidget(self.differences)
        self._problem = QLabel(self._corner)
        self._problem.setWordWrap(True)
        inside.addWidget(self._problem)
        self.views.selected_changed.connect(self._selected)
        self._listed: object = None
        self._offered: object = None

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
            self._list(layout)
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
        self.differences.setVisible(axle.compared is not None)
        if axle.compared is not None:
            words = axle.compared.words
            more = f" (+{len(words) - MOST_WORDS} more)" if len(words) > MOST_WORDS else ""
            lines = "<br>".join(f"· {html.escape(w)}" for w in words[:MOST_WORDS])
            self.differences.setText(f"<b>Against {html.escape(axle.compared.name)}</b>, dash-dot in the views:{more}<br>{lines}")
            self.differences.setToolTip("\n".join(words))
        self.travel.refresh(theme, axle.motion)
        if axle.motion is None and self.views.station is not None:
            self.views.station = None
        self.views.refresh(theme)

    def _list(self, layout: Layout) -> None:
        """The layouts of this end, and what the one in use is held against."""
        project = self._workspace.project
        same = [one for one in project.layouts if one.end == layout.end]
        held = project.compared(layout.end)
        key = (layout.id, held.id if held is not None else None, tuple((one.id, one.name) for one in same))
        if key == self._offered:
            return
        self._offered = key
        with QSignalBlocker(self.layouts), QSignalBlocker(self.against):
            self.layouts.clear()
            self.against.clear()
            self.against.addItem("compare with: none" if len(same) > 1 else "copy it to compare", None)
            for one in same:
                self.layouts.addItem(one.name, one.id)
                if one.id != layout.id:
                    self.against.addItem(f"compare with: {one.name}", one.id)
            self.layouts.setCurrentIndex(self.layouts.findData(layout.id))
            self.against.setCurrentIndex(max(0, self.against.findData(held.id) if held is not None else 0))
        self.against.setEnabled(len(same) > 1)

    def _use(self, row: int) -> None:
        layout, wanted = self.views.layout_shown, self.layouts.itemData(row)
        if layout is not None and wanted != layout.id:
            self.views.select(None)
            self._workspace.do(UseLayout(wanted, layout.id))

    def _hold(self, row: int) -> None:
        layout = self.views.layout_shown
        if layout is not None:
            self._workspace.do(SetChoice(f"{layout.end}_compare", self.against.itemData(row), "compared layout"))

    def _copy(self) -> None:
        layout = self.views.layout_shown
        if layout is None:
            return
        taken = [one.name for one in self._workspace.project.layouts]
        name = next(n for i in range(2, 1000) if (n := f"{layout.name[:110]} ({i})") not in taken)
        self._workspace.do(CopyLayout(layout.id, free_id(f"{layout.end}-", (one.id for one in self._workspace.project.layouts)), name))

    def _rename(self) -> None:
        layout = self.views.layout_shown
        if layout is None:
            return
        name = dialogs.ask_text(self, "Rename", f"A new name for {layout.name}:")
        if name is not None and name.strip():
            self._workspace.do(SetChoice(f"layouts.{layout.id}.name", name.strip(), "name of the layout"))

    def _remove(self) -> None:
        layout = self.views.layout_shown
        if layout is None:
            return
        answer = dialogs.ask(self, "Remove", f"Take {layout.name} out of this project? Undo brings it back.", ("Remove", "Cancel"))
        if answer == "Remove":
            self.views.select(None)
            self._workspace.do(TakeLayout(layout.id))

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
