"""The log step's sheet: as built, runs, tuning, the test hill, care, hand-over."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from stoutlink.app.desk.background import ASKED, Background
from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.panels.instrument_desk import InstrumentDesk
from stoutlink.app.steps.log.built_look import BuiltLook
from stoutlink.app.steps.log.care_look import CareLook
from stoutlink.app.steps.log.desk import LogDesk
from stoutlink.app.steps.log.hand_look import HandLook
from stoutlink.app.steps.log.hill_look import HillLook
from stoutlink.app.steps.log.runs_look import RunsLook
from stoutlink.app.steps.log.tune_look import TuneLook
from stoutlink.app.steps.sheet_head import head_buttons
from stoutlink.app.steps.step import Sheet, focus_field
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.look_bar import LookBar
from stoutlink.core.advice.finding import Finding

LOOKS = (
    (
        "as_built",
        "As built",
        "Every reading of the finished axle against the others, and the plan beside what was built.",
    ),
    ("runs", "Runs", "What was driven, how it was set, what was felt; run beside run; settings put back."),
    ("tune", "Tune", "What bears on what was felt, and every way to bolt it by what it costs elsewhere."),
    (
        "hill",
        "Test hill",
        "The rig over a ledge, steps, a side slope or a ditch, slowly, beside the settings of a run.",
    ),
    ("care", "Care", "What is due by distance and date, what broke, spares."),
    ("hand_over", "Hand-over", "The owner's file, and everything in one archive."),
)


class LogSheet(Sheet):
    """``copy`` and ``export`` ask the window to do it; ``archive`` and ``paper`` to write the hand-over."""

    copy = pyqtSignal()
    export = pyqtSignal()
    archive = pyqtSignal()
    paper = pyqtSignal()

    def __init__(self, workspace: Workspace, instruments: InstrumentDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_log")
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 8, 14, 4)
        self.bar = LookBar(LOOKS, "log_looks", 8, self)
        self.bar.picked.connect(self.look)
        head.addWidget(self.bar)
        head.addStretch(1)
        head_buttons(self, head, "log", self.copy, self.export, "Writes what this look shows as JSON or a table.")
        outer.addLayout(head)
        self.desk = LogDesk(workspace, self)
        self.built, self.runs, self.tune = (
            BuiltLook(self.desk, instruments, self),
            RunsLook(workspace, self),
            TuneLook(self.desk, self),
        )
        self.hill, self.care, self.hand = (
            HillLook(self.desk, self),
            CareLook(workspace, self),
            HandLook(workspace, self),
        )
        self.hand.archive.connect(self.archive.emit)
        self.hand.paper.connect(self.paper.emit)
        self.looks: dict[str, WorkingLook] = {
            "as_built": self.built, "runs": self.runs, "tune": self.tune, "hill": self.hill, "care": self.care, "hand_over": self.hand,
        }  # fmt: skip
        self._stack = QStackedWidget(self)
        for one in self.looks.values():
            self._stack.addWidget(one)
        outer.addWidget(self._stack, 1)
        self.writing: Background[bytes] = Background(self, ASKED)
        """Puts the hand-over together."""
        self.desk.worked_out.connect(self._worked_out)
        workspace.cycling.done.connect(self._worked_out)
        self.shown = "as_built"

    def look(self, key: str) -> None:
        """Put a look up."""
        self.shown = key
        if self._theme is not None:
            self.refresh(self._theme)

    def _worked_out(self) -> None:
        if self._theme is not None and self.isVisible():
            self.refresh(self._theme)

    def go(self, finding: Finding) -> None:
        """Bring what a finding is about into view."""
        if finding.code == "V104":
            self.look("care")
            self.care.pick("care", finding.subject.partition(" ")[2])
            return
        self.look("as_built")
        if "log.built.readings." in finding.subject:
            self.built.pick(finding.subject.rpartition(".")[2])

    def show_field(self, path: str) -> bool:
        """Put up the fields a path is among."""
        parts = path.split(".")
        look = {
            "built": "as_built",
            "runs": "runs",
            "care": "care",
            "broken": "care",
            "spares": "care",
            "hill": "hill",
            "hand_over": "hand_over",
        }.get(parts[1] if len(parts) > 1 else "")
        if parts[0] == "log" and look is not None:
            self.look(look)
            self.looks[look].show_path(path)  # type: ignore[attr-defined]
        return focus_field(self, path)

    def project_taken(self) -> None:
        """Another project: Tune begins with what was felt last in it."""
        self.tune.begin()

    def end_changed(self) -> None:
        """The other axle is in work."""
        if self._theme is not None and self.isVisible():
            self.refresh(self._theme)

    def ready(self) -> bool:
        """Whether what is shown is worked out."""
        return not self.desk.work.busy

    def as_text(self) -> str:
        """The look in words."""
        if self._theme is not None:
            self.looks[self.shown].refresh(self._theme)
        return self.looks[self.shown].as_text()

    def stop(self) -> None:
        """Leave off what is worked out beside the window."""
        self.desk.stop()
        self.writing.stop()
        for one in self.looks.values():
            one.stop()

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        self.bar.show_picked(self.shown)
        self._stack.setCurrentWidget(self.looks[self.shown])
        self.looks[self.shown].refresh(theme)
