"""The plan step's sheet: the plan, its parts list, the day."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from stoutlink.app.desk.theme import Theme
from stoutlink.app.desk.workspace import Workspace
from stoutlink.app.steps.plan.day_look import DayLook
from stoutlink.app.steps.plan.desk import PlanDesk
from stoutlink.app.steps.plan.parts_look import PartsListLook
from stoutlink.app.steps.plan.plan_look import PlanLook
from stoutlink.app.steps.sheet_head import head_buttons
from stoutlink.app.steps.step import Sheet, focus_field
from stoutlink.app.steps.working_look import WorkingLook
from stoutlink.app.widgets.look_bar import LookBar

LOOKS = (
    (
        "plan",
        "Plan",
        "The build as lanes: what comes next, what sets the date, what a late part moves, what a month costs.",
    ),
    (
        "parts_list",
        "Parts list",
        "Everything the build takes: ordered, late, here, fitted; prices to the cent; two builds.",
    ),
    ("day", "Day", "Today's tasks by person, where it was left, what is short, what goes along elsewhere."),
)


class PlanSheetView(Sheet):
    """``elsewhere`` asks for another step, its look and the end or assembly, ``copy`` and ``export`` the window to do it."""

    elsewhere = pyqtSignal(str, str, str)
    copy = pyqtSignal()
    export = pyqtSignal()

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("sheet_plan")
        self._theme: Theme | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        head = QHBoxLayout()
        head.setContentsMargins(14, 8, 14, 4)
        self.bar = LookBar(LOOKS, "plan_looks", 8, self)
        self.bar.picked.connect(self.look)
        head.addWidget(self.bar)
        head.addStretch(1)
        head_buttons(
            self, head, "plan", self.copy, self.export, "Writes what this look shows: calendar, table or paper."
        )
        outer.addLayout(head)
        self.desk = PlanDesk(workspace, self)
        self.plan, self.parts, self.day = (
            PlanLook(self.desk, self),
            PartsListLook(self.desk, self),
            DayLook(self.desk, self),
        )
        self.plan.elsewhere.connect(self.elsewhere.emit)
        self.plan.part_wanted.connect(self._to_part)
        self.day.part_wanted.connect(self._to_part)
        self.day.task_wanted.connect(self._to_task)
        self.looks: dict[str, WorkingLook] = {"plan": self.plan, "parts_list": self.parts, "day": self.day}
        self._stack = QStackedWidget(self)
        for one in self.looks.values():
            self._stack.addWidget(one)
        outer.addWidget(self._stack, 1)
        self.desk.worked_out.connect(self._worked_out)
        self.shown = "plan"

    def look(self, key: str) -> None:
        """Put a look up."""
        self.shown = key
        if self._theme is not None:
            self.refresh(self._theme)

    def _worked_out(self) -> None:
        if self._theme is not None and self.isVisible():
            self.refresh(self._theme)

    def _to_part(self, key: str) -> None:
        self.look("parts_list")
        self.parts.open_line(key)

    def _to_task(self, key: str) -> None:
        self.look("plan")
        self.plan.pick(key)

    def show_field(self, path: str) -> bool:
        """Put up the fields a path is among."""
        parts = path.split(".")
        money = parts[0] in ("prices", "own_costs") or path in ("build.ceiling", "build.month_ceiling")
        look = (
            "parts_list"
            if money or parts[1:2] == ["arrivals"]
            else "day"
            if parts[1:2] in (["trips"], ["closes"])
            else "plan"
        )
        if parts[0] == "build" or money:
            self.look(look)
            self.looks[look].show_path(path)  # type: ignore[attr-defined]
        return focus_field(self, path)

    def project_taken(self) -> None:
        """Another project has come into the window."""
        self.desk.forget()

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
        self.plan.stop()

    def refresh(self, theme: Theme) -> None:
        """Show the current project."""
        self._theme = theme
        self.bar.show_picked(self.shown)
        self._stack.setCurrentWidget(self.looks[self.shown])
        self.looks[self.shown].refresh(theme)
