"""The rig step: name, four looks at the same rig, and the instruments below."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from stoutlink.app.desk.labels import Label
from stoutlink.app.desk.theme import Theme, font
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_bar import InstrumentBar
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.steps.rig.board import Board
from stoutlink.app.steps.rig.stance_board import StanceBoard
from stoutlink.app.steps.rig.train_board import TrainBoard
from stoutlink.app.steps.rig.tyre_board import TyreBoard
from stoutlink.app.steps.rig.weight_board import WeightBoard
from stoutlink.app.steps.step import Sheet
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.quantity.shown import show

LOOKS = (
    ("stance", "Stance", "How it stands: wheelbase, track, clearance, ground angles."),
    ("weight", "Weight", "What it weighs, where the balance point is, and how sure that is."),
    ("tyres", "Tyres", "Printed, free, loaded and rolling, each kept apart."),
    ("drivetrain", "Drivetrain", "Engine, gears, transfer case, and what the rig is for."),
)


class RigSheet(Sheet):
    """Four boards under one header."""

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_rig")
        self._workspace = workspace
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        row = QHBoxLayout()
        row.setContentsMargins(14, 8, 14, 6)
        self.name = WordField(workspace, "rig.name", "Name of the rig", self, name="rig_name")
        self.name.setFont(font(12, bold=True))
        self.name.setFixedWidth(170)
        row.addWidget(self.name)
        row.addSpacing(6)
        self._buttons = QButtonGroup(self)
        self.boards: dict[str, Board] = {
            "stance": StanceBoard(workspace, self),
            "weight": WeightBoard(workspace, self),
            "tyres": TyreBoard(workspace, self),
            "drivetrain": TrainBoard(workspace, self),
        }
        self._stack = QStackedWidget(self)
        for key, title, tip in LOOKS:
            button = QPushButton(title, self)
            button.setObjectName(f"look_{key}")
            button.setCheckable(True)
            button.setToolTip(tip)
            button.clicked.connect(lambda _=False, k=key: self.look(k))
            self._buttons.addButton(button)
            row.addWidget(button)
            self._stack.addWidget(self.boards[key])
        row.addStretch(1)
        self._facts = Label("", self)
        self._facts.setObjectName("rig_facts")
        self._facts.setFont(font(9))
        row.addWidget(self._facts)
        outer.addLayout(row)
        outer.addWidget(self._stack, 1)
        self.bar = InstrumentBar(workspace, desk, self)
        outer.addWidget(self.bar)
        self.shown = "stance"
        self.look("stance")

    def look(self, key: str) -> None:
        """Put one of the four boards up."""
        self.shown = key
        self._stack.setCurrentWidget(self.boards[key])
        for button in self._buttons.buttons():
            button.setChecked(button.objectName() == f"look_{key}")
        if self._theme is not None:
            self.refresh(self._theme)

    def minimumSizeHint(self) -> QSize:
        """Small enough for a small screen; what does not fit is cut at the right."""
        return QSize(480, 360)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        unit = self._workspace.unit
        self.name.refresh()
        n = self._workspace.study.rig_numbers()
        front = n["front_load"].value or 0.0
        rear = n["rear_load"].value or 0.0
        text = f"front {show(front, 'mass', unit)} ({front / (front + rear):.0%})   rear {show(rear, 'mass', unit)}"
        left = n["gvwr_left"].value
        if left is not None:
            text += f"   {show(abs(left), 'mass', unit)} {'left' if left >= 0 else 'over'} of rating"
        self._facts.setText(text)
        self.boards[self.shown].refresh(theme)
        self.bar.refresh(theme)
