"""The layout step: three views, and in their free corner which layout it is and a look at it."""

from __future__ import annotations

import re

from PyQt6.QtCore import QSignalBlocker
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.drawing_desk import DrawingDesk, DrawingSheet
from stoutlink.app.steps.layout.find_look import FindLook
from stoutlink.app.steps.layout.fit_look import FitLook
from stoutlink.app.steps.layout.hole_look import HoleLook
from stoutlink.app.steps.layout.leaf_look import LeafLook
from stoutlink.app.steps.layout.loads_look import LoadsLook
from stoutlink.app.steps.layout.look import LayoutLook
from stoutlink.app.steps.layout.option_look import OptionLook
from stoutlink.app.steps.layout.over_constraint_look import OverConstraintLook
from stoutlink.app.steps.layout.pivot_look import PivotLook
from stoutlink.app.steps.layout.sideways_look import SidewaysLook
from stoutlink.app.steps.layout.start_look import StartLook
from stoutlink.app.steps.layout.three_views import ThreeViews
from stoutlink.app.steps.step import focus_field
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.core.advice.finding import Finding
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.layout import KIND_NAMES, Layout
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.editing.layout_edits import CopyLayout, TakeLayout, UseLayout
from stoutlink.core.editing.pivots import Pivot

LOOKS: tuple[tuple[str, str, str], ...] = (
    ("pivots", "Pivots", "Pick, drag and type pivots; step through travel."),
    ("leaf", "Leaves", "The leaf pack: rate, wrap, pinion, perches, shackle."),
    ("holes", "Holes", "Rows and fans of holes, and the map of what each combination gives."),
    ("fit", "Fit", "Whether joint, bracket, bolt, rail, tube and insert go together."),
    ("sideways", "Sideways", "Panhard, drag link, bump steer, plan angles."),
    ("loads", "Loads", "Forces in the links for hard cases, and what carries them."),
    ("bind", "Bind", "How far joints lean and bushings give over travel."),
    ("options", "Options", "Every layout of this axle beside each other: numbers, room, cost, hours."),
    ("find", "Find", "Say where pivots may lie and what is wanted; layouts are searched for."),
    ("start", "Start", "Start from a kind, or make this layout another kind."),
)  # fmt: skip


DEALS_WITH: dict[str, tuple[str, ...]] = {
    "fit": ("G220", "K146", "K147", "K148", "K160"),
    "loads": ("G210", "G120"),
    "bind": ("G204", "G205", "G206"),
    "sideways": ("G201", "G230", "G231", "G232", "G233", "K201", "K203"),
    "leaf": ("G240", "G241", "G242", "G243", "G244", "G245", "G246", "G247", "K204"),
}
"""Which look deals with a finding, by its code; the pivots with the others."""


class LayoutSheet(DrawingSheet):
    """Drag, nudge or type pivots; look at holes, fit, loads and the rest; start, search, compare."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_layout")
        self._workspace = workspace
        self._theme: Theme | None = None
        self.views = ThreeViews(workspace, self)
        self._corner = QWidget()
        inside = QVBoxLayout(self._corner)
        inside.setContentsMargins(12, 8, 12, 6)
        inside.setSpacing(5)
        self._head = QWidget(self._corner)
        head = QVBoxLayout(self._head)
        head.setContentsMargins(0, 0, 0, 0)
        head.setSpacing(4)
        head.addLayout(self._layout_row())
        head.addLayout(self._kind_row())
        inside.addWidget(self._head)
        self.pivot_look = PivotLook(workspace, self.views, self)
        self.find_look = FindLook(workspace, self.views, self)
        self.looks: dict[str, LayoutLook] = {
            "pivots": self.pivot_look,
            "leaf": LeafLook(workspace, self.views, self),
            "holes": HoleLook(workspace, self.views, self),
            "fit": FitLook(workspace, self.views, self),
            "sideways": SidewaysLook(workspace, self.views, self),
            "loads": LoadsLook(workspace, self.views, self),
            "bind": OverConstraintLook(workspace, self.views, self),
            "options": OptionLook(workspace, self.views, self),
            "find": self.find_look,
            "start": StartLook(workspace, self.views, self),
        }
        self.travel, self.pivots, self.mirrored, self.snap = (
            self.pivot_look.travel,
            self.pivot_look.pivots,
            self.pivot_look.mirrored,
            self.pivot_look.snap,
        )
        self.differences = self.pivot_look.differences
        self.bar = LookBar(LOOKS, "layout", 2, self._corner)
        self.bar.picked.connect(self.look)
        inside.addWidget(self.bar)
        self.stack = QStackedWidget(self._corner)
        for one in self.looks.values():
            self.stack.addWidget(one)
        inside.addWidget(self.stack, 1)
        self.desk = DrawingDesk(workspace, "layout", self._corner, self.views, None, self)
        self.views.enlarge.connect(self.desk.arrange)
        self.pivot_look.travelled.connect(self._travelled)
        self.views.overlay = lambda view: self.looks[self.current].overlay(view)
        self._wanted = "pivots"
        self._offered: object = None

    def _layout_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.layouts = StillBox(self._head)
        self.layouts.setObjectName("layout_choice")
        self.layouts.setAccessibleName("Layout in use")
        self.layouts.setToolTip("The layout of this axle that is worked on; the others of this end keep their numbers.")
        self.layouts.setFont(font(10.5, bold=True))
        self.layouts.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.layouts.activated.connect(self._use)
        row.addWidget(self.layouts, 1)
        for name, text, tip, slot in (
            ("copy_layout", "Copy", "Copy this layout and work on the copy, held against this one.", self._copy),
            ("rename_layout", "Rename", "Give this layout another name.", self._rename),
            ("remove_layout", "Remove", "Take this layout away; undo brings it back.", self._remove),
        ):
            button = QPushButton(text, self._head)
            button.setObjectName(name)
            button.setProperty("flat", True)
            button.setFont(font(8.5))
            button.setToolTip(tip)
            button.clicked.connect(slot)
            row.addWidget(button)
        return row

    def _kind_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self._kind = Label("", self._head)
        self._kind.setFont(font(9))
        row.addWidget(self._kind, 1)
        self.against = StillBox(self._head)
        self.against.setObjectName("compare_choice")
        self.against.setAccessibleName("Compare with")
        self.against.setToolTip(
            "Hold another layout of this axle against it: dash-dot links in the views, hollow ticks in the verdict, differences in words."
        )
        self.against.setFont(font(9))
        self.against.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.against.activated.connect(self._hold)
        row.addWidget(self.against, 1)
        return row

    @property
    def current(self) -> str:
        """The look in view: the one asked for where it goes with the layout."""
        return self._wanted if self._wanted in self._offer() else self._offer()[0]

    def _offer(self) -> tuple[str, ...]:
        """Looks that go with the layout in work."""
        layout = self.views.layout_shown
        if layout is None:
            return ("start",)
        if layout.leaf is not None:
            return (
                ("leaf", "pivots", "fit", "sideways", "options", "start")
                if layout.links
                else ("leaf", "sideways", "options", "start")
            )
        return tuple(key for key, *_ in LOOKS if key != "leaf")

    def look(self, key: str) -> None:
        """Put a look up."""
        self._wanted = key
        if self._theme is not None:
            self.refresh(self._theme)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        layout = self.views.layout_shown
        self._head.setVisible(layout is not None)
        if layout is not None:
            self._list(layout)
            self._kind.setText(f"{KIND_NAMES[layout.kind].capitalize()}, {layout.end} axle")
        offer, current = self._offer(), self.current
        for key, button in self.bar.buttons.items():
            button.setVisible(key in offer)
        self.bar.show_picked(current)
        self.stack.setCurrentWidget(self.looks[current])
        if self._workspace.study.axles[self._workspace.end].motion is None and self.views.station is not None:
            self.views.station = None
        if current != "pivots":
            self.pivot_look.travel.refresh(theme, self._workspace.study.axles[self._workspace.end].motion)
        self.looks[current].refresh(theme)
        self.views.refresh(theme)

    def as_text(self) -> str:
        """The look in view as text."""
        return self.looks[self.current].as_text()

    def fit(self) -> None:
        """Bring everything into the views."""
        self.views.fit()
        self.views.round.fit()

    def zoom(self, factor: float) -> None:
        """Draw larger or smaller."""
        self.views.zoom(factor)

    def move_axle(self, stations: int) -> None:
        """Step the axle through its travel."""
        self.travel.step(stations)

    def to_ride(self) -> None:
        """Put the axle back at ride height."""
        self.travel.to_ride()

    def project_taken(self) -> None:
        """Another project: nothing is picked, the axle at ride height."""
        self.end_changed()

    def go(self, finding: Finding) -> None:
        """Put up the look that deals with a finding, and pick the pivot it is about."""
        layout = self.views.layout_shown
        self.look(next((look for look, codes in DEALS_WITH.items() if finding.code in codes), "pivots"))
        named = re.match(r"[^. ]+\.([^. ]+)(?: (frame|axle))?", finding.subject)
        if layout is not None and named is not None and layout.link(named[1]) is not None:
            self.pick(named[1], named[2] or "frame")

    def show_field(self, path: str) -> bool:
        """Pick the pivot of the link a path is about, and give the keys to the field."""
        parts = path.split(".")
        if len(parts) > 3 and parts[2] == "links":
            self.look("pivots")
            self.pick(parts[3], "axle" if "axle" in path else "frame")
        elif len(parts) > 2 and (look := {"leaf": "leaf", "rejected": "options"}.get(parts[2])) is not None:
            self.look(look)
        return focus_field(self, path)

    def pick(self, subject: str, part: str) -> None:
        """Pick a pivot by link and end."""
        pivot: Pivot = (subject, "frame" if part == "frame" else "axle")
        self.views.select(pivot)
        at = self.views.pivot_point(pivot) if self.views.selected == pivot else None
        if at is not None and self.views.drawn.large == "round":
            self.views.round.fly_to(at)

    def ready(self) -> bool:
        """Whether no search is under way, and the round view is as fine as it will be."""
        return self.find_look.part is None and self.views.ready()

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
        for one in self.looks.values():
            one.stop()
        self.views.stop()

    def _list(self, layout: Layout) -> None:
        """The layouts of this end, and what the one in use is held against."""
        project = self._workspace.project
        same = [one for one in project.linkage.layouts if one.end == layout.end]
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
        taken = [one.name for one in self._workspace.project.linkage.layouts]
        name = next(n for i in range(2, 1000) if (n := f"{layout.name[:110]} ({i})") not in taken)
        self._workspace.do(
            CopyLayout(
                layout.id, free_id(f"{layout.end}-", (one.id for one in self._workspace.project.linkage.layouts)), name
            )
        )

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
        answer = dialogs.ask(
            self, "Remove", f"Take {layout.name} out of this project? Undo brings it back.", ("Remove", "Cancel")
        )
        if answer == "Remove":
            self.views.select(None)
            self._workspace.do(TakeLayout(layout.id))

    def end_changed(self) -> None:
        """Another axle: start it at ride height, whole in view."""
        self.views.select(None)
        self.views.station = None
        self.travel.to_ride()
        self.views.fit()

    def _travelled(self, station: int) -> None:
        self.views.station = None if station < 0 else station
        if self._theme is not None:
            self.views.refresh(self._theme)
