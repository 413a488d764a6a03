"""The bench step: cards, parts, gears, bolts, a third member's fit, brakes, and the first drive."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.steps.bench.bolts_look import BoltsLook
from stoutlink.app.steps.bench.brakes_look import BrakesLook
from stoutlink.app.steps.bench.card_look import CardLook
from stoutlink.app.steps.bench.drive_look import DriveLook
from stoutlink.app.steps.bench.fit_look import FitLook
from stoutlink.app.steps.bench.gear_look import GearLook
from stoutlink.app.steps.bench.parts_look import PartsLook
from stoutlink.app.steps.sheet_head import head_buttons
from stoutlink.app.steps.step import Sheet, focus_field
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.core.advice.finding import Finding
from stoutlink.core.document.bench import ASSEMBLIES

LOOKS = (
    ("card", "Card", "One step at a time with its readings, gates and photos, and the whole card beside it."),
    ("parts", "Parts", "The axle drawn apart: marks, trays, the way out and back."),
    ("gears", "Gears", "Gears set up attempt by attempt: what it says, which shims to try next."),
    ("bolts", "Bolts", "Every bolt that matters with its torque, put down as it is tightened."),
    ("fit", "Fit", "A third member and its locker against the housing."),
    ("brakes", "Brakes", "Which end locks first, pedal, slope, joints of the lines."),
    ("drive", "First drive", "Gates to sign, and everything left undone."),
)
LOOK_OF = {
    "gears": "gears", "cards": "card", "fasteners": "bolts", "cases": "fit", "brakes": "brakes", "loose_ends": "drive", "first_drive": "drive",
}  # fmt: skip
GOES_TO = {"Parts": "parts", "Gears": "gears", "Bolts": "bolts", "Fit": "fit", "Brakes": "brakes"}


class BenchSheet(Sheet):
    """``elsewhere`` asks for another step, ``copy`` and ``export`` the window to do it."""

    elsewhere = pyqtSignal(str)
    copy = pyqtSignal()
    export = pyqtSignal()

    def __init__(self, workspace: Workspace, desk: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_bench")
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 8, 14, 4)
        self.bar = LookBar(LOOKS, "bench", 8, self)
        self.bar.picked.connect(self.look)
        head.addWidget(self.bar)
        head.addStretch(1)
        head_buttons(
            self,
            head,
            "bench",
            self.copy,
            self.export,
            "Writes cards, bolts and the first-drive sheet as PDF or as a table.",
        )
        outer.addLayout(head)
        self.card = CardLook(workspace, desk, self)
        self.card.wanted.connect(self._wanted)
        self.parts, self.gears = PartsLook(workspace, self), GearLook(workspace, self)
        self.bolts, self.fit_ = BoltsLook(workspace, desk, self), FitLook(workspace, self)
        self.brakes, self.drive = BrakesLook(workspace, self), DriveLook(workspace, self)
        self.looks: dict[str, WorkingLook] = {
            "card": self.card, "parts": self.parts, "gears": self.gears, "bolts": self.bolts, "fit": self.fit_, "brakes": self.brakes, "drive": self.drive,
        }  # fmt: skip
        self._stack = QStackedWidget(self)
        for one in self.looks.values():
            self._stack.addWidget(one)
        outer.addWidget(self._stack, 1)
        self.shown = "card"

    def look(self, key: str) -> None:
        """Put a look up."""
        self.shown = key
        if self._theme is not None:
            self.refresh(self._theme)

    def _wanted(self, where: str) -> None:
        if where in GOES_TO:
            self.look(GOES_TO[where])
        else:
            self.elsewhere.emit(where.partition(",")[0].lower())

    def go(self, finding: Finding) -> None:
        """Bring what a finding is about into view."""
        words = finding.subject.split(" ")
        if words[0] in ASSEMBLIES and words[1:2] in (["step"], ["sealed"]):
            self.look("card")
            self.card.open_card(words[0])
            self.card.pick("sealed" if words[1] == "sealed" else words[2])
        elif words[1:2] == ["case"]:
            self.look("fit")
        else:
            self.look({"bolts": "bolts", "brakes": "brakes"}.get(words[0], "drive"))
            if finding.code == "B111":
                self.brakes.show_group("joints")

    def open(self, subject: str) -> None:
        """Have the card of an assembly up."""
        if self.shown == "card" and subject in self.card.workspace.study.cards:
            self.card.open_card(subject)

    def show_field(self, path: str) -> bool:
        """Put up the fields a path is among."""
        parts = path.split(".")
        look = LOOK_OF.get(parts[0])
        if look is not None:
            if parts[0] == "cards" and len(parts) > 2 and parts[2] == "parts":
                look = "parts"
            self.look(look)
            self.looks[look].show_path(path)  # type: ignore[attr-defined]
        return focus_field(self, path)

    def end_changed(self) -> None:
        """The other axle is in work."""
        self.card.end_changed()

    def stop(self) -> None:
        """Leave off work beside the window, before it goes."""
        for one in self.looks.values():
            one.stop()

    def as_text(self) -> str:
        """What the look shows, in words."""
        if self._theme is not None:
            self.looks[self.shown].refresh(self._theme)
        return self.looks[self.shown].as_text()

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        self.bar.show_picked(self.shown)
        self._stack.setCurrentWidget(self.looks[self.shown])
        self.looks[self.shown].refresh(theme)
