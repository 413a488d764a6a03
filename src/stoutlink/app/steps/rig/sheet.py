"""The rig step: name, six looks at the same rig, and the instruments below."""

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
from stoutlink.app.steps.look import Look
from stoutlink.app.steps.rig.beside_board import BesideBoard
from stoutlink.app.steps.rig.case_board import CaseBoard
from stoutlink.app.steps.rig.stance_board import StanceBoard
from stoutlink.app.steps.rig.train_board import TrainBoard
from stoutlink.app.steps.rig.tyre_board import TyreBoard
from stoutlink.app.steps.rig.weight_board import WeightBoard
from stoutlink.app.steps.step import Sheet, focus_field
from stoutlink.app.widgets.kept_line import KeptLine
from stoutlink.app.widgets.word_field import WordField
from stoutlink.core.advice.finding import Finding
from stoutlink.core.quantity.shown import show

FIELD_OF = {
    "R101": "rig.stance.belly_z_m", "R102": "rig.stance.ride_{about}_m", "R110": "rig.drivetrain.output_m.1",
    "T101": "rig.{about}.tyre_free_radius_m", "T102": "rig.{about}.rolling_radius_m", "T103": "rig.{about}.rolling_radius_m",
    "T104": "rig.{about}.loaded_radius_m", "W101": "rig.weight.gvwr_kg", "W102": "rig.mass_kg", "W103": "rig.cg_height_m",
    "W104": "rig.{about}.unsprung_mass_kg", "W105": "rig.weight.scales.front_left_kg", "W120": "rig.weight.tilt.angle_rad",
}  # fmt: skip
"""The field a finding is about; of the others the subject is the field's path."""
LOOKS = (
    ("stance", "Stance", "How it stands: wheelbase, track, clearance, ground angles."),
    ("weight", "Weight", "What it weighs, where the balance point is, and how sure that is."),
    ("tyres", "Tyres", "Printed, free, loaded and rolling, each kept apart."),
    ("cases", "Cases", "Empty, laden, at its rating: sag, level, rates and numbers on the springs it has."),
    ("beside", "Beside", "This rig before the swap, or another file, on every headline number."),
    ("drivetrain", "Drivetrain", "Engine, gears, transfer case, and what the rig is for."),
)


class RigSheet(Sheet):
    """Six boards under one header."""

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
        self.name.setFixedWidth(150)
        row.addWidget(self.name)
        row.addSpacing(6)
        self._buttons = QButtonGroup(self)
        self.boards: dict[str, Look] = {
            "stance": StanceBoard(workspace, self),
            "weight": WeightBoard(workspace, self),
            "cases": CaseBoard(workspace, self),
            "beside": BesideBoard(workspace, self),
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
        """Put one of the boards up."""
        self.shown = key
        self._stack.setCurrentWidget(self.boards[key])
        for button in self._buttons.buttons():
            button.setChecked(button.objectName() == f"look_{key}")
        if self._theme is not None:
            self.refresh(self._theme)

    def as_text(self) -> str:
        """The board shown, in words."""
        return self.boards[self.shown].as_text()

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
        for board in self.boards.values():
            board.stop()

    def go(self, finding: Finding) -> None:
        """To the field a finding is about, else to the board."""
        about = finding.subject
        path = FIELD_OF.get(finding.code, "{about}").format(about=about)
        if not self.show_field(path):
            self.look("drivetrain" if finding.code == "R111" else "weight")

    def in_view(self, path: str) -> bool:
        """Whether the board in view has the field, or something below the path."""
        board = self.boards[self.shown]
        return any(one.place.startswith(path) for one in board.findChildren(KeptLine))

    def show_field(self, path: str) -> bool:
        """Put up the board that has the field."""
        for key, board in self.boards.items():
            if self._theme is not None:
                board.refresh(self._theme)  # fields of lists are made when a board is first shown
            if any(one.place == path for one in board.findChildren(KeptLine)):
                self.look(key)
                return focus_field(self, path)
        return focus_field(self, path)

    def minimumSizeHint(self) -> QSize:
        """Small enough for a small screen; what does not fit is cut at the right."""
        return QSize(480, 360)

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        unit = self._workspace.unit
        self.name.refresh()
        n = self._workspace.study.rig_numbers()
        front, rear = n["front_load"].value, n["rear_load"].value
        text = "axle loads: once weight and balance point are entered"
        if front is not None and rear is not None:
            text = f"front {show(front, 'mass', unit)} ({front / (front + rear):.0%})   rear {show(rear, 'mass', unit)}"
        left = n["gvwr_left"].value
        if left is not None:
            text += f"   {show(abs(left), 'mass', unit)} {'left' if left >= 0 else 'over rating'}"
        self._facts.setText(text)
        self.boards[self.shown].refresh(theme)
        self.bar.refresh(theme)
