"""Where a drawing stands beside its results: the results in a column of full height that can be widened and folded away, the
drawing in the rest of the sheet, and over it the hands that say which view is large.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Protocol

from PyQt6.QtCore import QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QSplitter, QVBoxLayout, QWidget

from stoutlink.app.canvas.round_pane import RoundPane
from stoutlink.app.canvas.view_geometry import PANES, Large, ViewGeometry
from stoutlink.app.desk.memory import Drawing
from stoutlink.app.desk.still_box import StillBox
from stoutlink.app.desk.theme import font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.step import Sheet

TITLES: dict[Large, tuple[str, str]] = {
    "side": ("Side", "The side view large, the others small beside it (F5)."),
    "plan": ("Plan", "The plan large (F6)."),
    "rear": ("Rear", "The view from behind large (F7)."),
    "round": ("Round", "The round view large: the whole rig, turned by hand (F8)."),
    "all": ("Four", "Four views alike, on one scale and one ground line (F9)."),
}
FROM: tuple[tuple[str, float, float], ...] = (
    ("from the right", 0.0, 0.0), ("from the left", 180.0, 0.0), ("from behind", -90.0, 0.0), ("from in front", 90.0, 0.0),
    ("from above", 0.0, 90.0), ("from below", 0.0, -90.0), ("from a corner", -35.0, 22.0),
)  # fmt: skip
"""Where to look from: words, turn and tilt, °."""
PLANES = (
    ("look", "square to the look"),
    ("side", "lengthwise, upright"),
    ("plan", "level"),
    ("rear", "across, upright"),
)
LEAST = 240


class Views(Protocol):
    """A drawing of linked views."""

    drawn: ViewGeometry
    round: RoundPane

    def rearrange(self) -> None:
        """Another view is large, or the axle is followed or not."""


class DrawingDesk(QWidget):
    """Column and drawing. ``folded`` when the column was put away or brought back."""

    folded = pyqtSignal()

    def __init__(
        self, workspace: Workspace, name: str, column: QWidget, views: QWidget, below: QWidget | None, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._workspace, self._column, self._name, self._what = workspace, column, name, ""
        self.views: Views = views  # type: ignore[assignment]
        self._round_hands(self.views.round)
        self._split = QSplitter(Qt.Orientation.Horizontal, self)
        self._split.setObjectName(f"{name}_split")
        self._split.setChildrenCollapsible(False)
        right = QWidget(self._split)
        stack = QVBoxLayout(right)
        stack.setContentsMargins(0, 0, 0, 0)
        stack.setSpacing(0)
        stack.addWidget(self._hands(right))
        stack.addWidget(views, 1)
        if below is not None:
            stack.addWidget(below)
        column.setMinimumWidth(LEAST)
        self._split.addWidget(column)
        self._split.addWidget(right)
        self._split.setStretchFactor(0, 0)
        self._split.setStretchFactor(1, 1)
        self._split.splitterMoved.connect(self._moved)
        self.views.round.larger.connect(lambda: self.arrange("round"))
        self.views.round.moved.connect(self._turned)
        self.take()

    def _hands(self, parent: QWidget) -> QWidget:
        out = QWidget(parent)
        out.setProperty("screen_only", True)
        row = QHBoxLayout(out)
        row.setContentsMargins(6, 3, 8, 3)
        row.setSpacing(2)
        self.results = self._button(out, "results", "Results", "Fold the results away, or bring them back (F4).")
        self.results.clicked.connect(self.fold)
        row.addWidget(self.results)
        row.addSpacing(8)
        self.buttons: dict[Large, QPushButton] = {}
        for key in (*PANES, "all"):
            title, tip = TITLES[key]
            button = self._button(out, f"large_{key}", title, tip)
            button.clicked.connect(lambda _=False, key=key: self.arrange(key))
            row.addWidget(button)
            self.buttons[key] = button
        row.addStretch(1)
        self.halt = QPushButton("", out)
        self.halt.setObjectName(f"{self._name}_halt")
        self.halt.setAccessibleName("Stop")
        self.halt.setToolTip("Leave off what is being made.")
        self.halt.setFont(font(8.5))
        self.halt.clicked.connect(lambda: self._stop() if self._stop is not None else None)
        self.halt.hide()
        self._stop: Callable[[], None] | None = None
        row.addWidget(self.halt)
        self.follow = QCheckBox("Follow", out)
        self.follow.setObjectName(f"{self._name}_follow")
        self.follow.setToolTip("Keep the axle where it is in the picture and let the rig go up and down.")
        self.follow.setFont(font(8.5))
        self.follow.toggled.connect(self._follow)
        row.addWidget(self.follow)
        return out

    def _round_hands(self, out: RoundPane) -> None:
        """Over the round view: where it is looked from, and in which plane a pivot is dragged."""
        self.plane = StillBox(out)
        self.plane.setObjectName(f"{self._name}_plane")
        self.plane.setAccessibleName("Plane a pivot is dragged in")
        self.plane.setToolTip("The plane a pivot is dragged in, in the round view.")
        for plane, words in PLANES:
            self.plane.addItem(f"drag {words}", plane)
        self.plane.activated.connect(self._plane)
        self.look_from = StillBox(out)
        self.look_from.setObjectName(f"{self._name}_look_from")
        self.look_from.setAccessibleName("Look from")
        self.look_from.setToolTip("Turn the rig so that it is seen from a side.")
        self.look_from.addItem("as turned", None)
        for words, turn, tilt in FROM:
            self.look_from.addItem(words, (turn, tilt))
        self.look_from.activated.connect(self._look)
        place = QVBoxLayout(out)
        place.setContentsMargins(6, 6, 6, 6)
        place.addStretch(1)
        row = QHBoxLayout()
        for box in (self.look_from, self.plane):
            box.setFont(font(8.5))
            box.setProperty("screen_only", True)
            row.addWidget(box)
        row.addStretch(1)
        place.addLayout(row)

    def _button(self, parent: QWidget, name: str, title: str, tip: str) -> QPushButton:
        out = QPushButton(title, parent)
        out.setObjectName(f"{self._name}_{name}")
        out.setAccessibleName(title)
        out.setProperty("flat", True)
        out.setCheckable(True)
        out.setToolTip(tip)
        out.setFont(font(8.5))
        out.setStyleSheet("padding: 2px 6px;")
        return out

    def busy(self, what: str, stop: Callable[[], None] | None) -> None:
        """Something is being made that can be stopped; nothing is any more where ``stop`` is ``None``."""
        self._stop, self._what = stop, what
        self.halt.setVisible(stop is not None)
        self.moved(0.0)

    def moved(self, part: float) -> None:
        """How far it is."""
        self.halt.setText(f"Stop {self._what.lower()} ({part:.0%})")

    # What is remembered, for every drawing alike

    def take(self) -> None:
        """Stand as the window remembers it."""
        d = self._workspace.drawing
        drawn, eye = self.views.drawn, self.views.round
        drawn.large = d.large
        eye.small = drawn.is_small("round")
        for key, button in self.buttons.items():
            button.setChecked(key == d.large)
        self.results.setChecked(not d.folded)
        self._column.setVisible(not d.folded)
        with QSignalBlocker(self.follow):
            self.follow.setChecked(d.follow)
        self.follow.setEnabled(d.large != "round")
        self.look_from.setVisible(not eye.small)
        self.plane.setVisible(d.large == "round")
        eye.turn_to(d.turn, d.tilt)
        eye.plane = None if d.plane == "look" else d.plane
        with QSignalBlocker(self.plane):
            self.plane.setCurrentIndex(max(0, self.plane.findData(d.plane)))
        self.views.rearrange()
        self._turned()
        self._size()

    def _note(self, **what: object) -> None:
        self._workspace.drawing = Drawing(
            **{f: getattr(self._workspace.drawing, f) for f in Drawing.__struct_fields__} | what
        )

    def arrange(self, large: Large) -> None:
        """Have a view large."""
        self._note(large=large)
        self.take()

    def fold(self) -> None:
        """Put the results away, or bring them back."""
        self._note(folded=not self._workspace.drawing.folded)
        self.take()
        self.folded.emit()

    def _follow(self, on: bool) -> None:
        self._note(follow=on)
        self.views.rearrange()

    def _plane(self, row: int) -> None:
        self._note(plane=self.plane.itemData(row))
        self.take()

    def _look(self, row: int) -> None:
        way = self.look_from.itemData(row)
        if way is not None:
            self.views.round.look_from(math.radians(way[0]), math.radians(way[1]))
            self.look_from.setCurrentIndex(row)

    def _turned(self) -> None:
        """Looked at from somewhere else: it is remembered, and said where it is one of the sides."""
        eye = self.views.round.eye
        d = self._workspace.drawing
        if (eye.turn, eye.tilt) != (d.turn, d.tilt):
            self._note(turn=eye.turn, tilt=eye.tilt)
        row = 1 + next(
            (
                k
                for k, (_, turn, tilt) in enumerate(FROM)
                if math.isclose(math.degrees(eye.turn), turn, abs_tol=0.1)
                and math.isclose(math.degrees(eye.tilt), tilt, abs_tol=0.1)
            ),
            -1,
        )
        self.look_from.setCurrentIndex(row)

    def _moved(self) -> None:
        if self._column.isVisible():
            self._note(column=self._split.sizes()[0])

    def _size(self) -> None:
        wide = min(self._workspace.drawing.column, max(LEAST, self.width() - LEAST))
        self._split.setSizes([wide, max(1, self.width() - wide)])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._split.setGeometry(self.rect())
        self._size()

    def showEvent(self, event: object) -> None:
        self.take()


class DrawingSheet(Sheet):
    """A sheet whose drawing stands beside its results."""

    desk: DrawingDesk

    def arrange(self, large: Large | None = None) -> None:
        """Have a view large, or all as the window remembers it."""
        if large is None:
            self.desk.take()
        else:
            self.desk.arrange(large)

    def look_from(self, turn: float, tilt: float) -> None:
        """Have the round view seen from a side: turn and tilt, °."""
        self.desk.views.round.look_from(math.radians(turn), math.radians(tilt))

    def fold(self) -> None:
        """Put the results away, or bring them back."""
        self.desk.fold()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.desk.setGeometry(self.rect())
