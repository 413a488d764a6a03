"""The plan step, registered."""

from __future__ import annotations

import datetime

from stoutlink.app.desk.actions import Command
from stoutlink.app.steps.plan.sheet import LOOKS, PlanSheetView
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.reports.plan_results import plan_csv, plan_ics, plan_pages
from stoutlink.core.reports.written_pdf import written_pdf
from stoutlink.core.study.route_state import plan_state

PLAN_FILES = "Calendar (*.ics);;Table (*.csv);;PDF (*.pdf)"


def _export(shell: Shell) -> None:
    view = shell.sheet(PlanSheetView)
    sheet, study = view.plan.sheet, shell.workspace.study
    if sheet is None:
        shell.say("There is no plan yet: say its first day.", True)
        return
    file = shell.workspace.file
    name = study.project.name if file is None else file.name

    def make(suffix: str) -> bytes:
        if suffix == ".csv":
            return plan_csv(sheet).encode()
        if suffix == ".pdf":
            return written_pdf(plan_pages(study, view.plan.minute), "Plan", study.project.name, name, "A4")
        return plan_ics(sheet, study.project.name, datetime.datetime.now(datetime.UTC))

    shell.write_as("Export the plan", "plan.ics", PLAN_FILES, make)


def _sheet(shell: Shell) -> PlanSheetView:
    sheet = PlanSheetView(shell.workspace)
    sheet.elsewhere.connect(shell.show_step)
    sheet.copy.connect(lambda: shell.to_clipboard(sheet.as_text(), "The plan"))
    sheet.export.connect(lambda: _export(shell))
    return sheet


def _commands(shell: Shell) -> list[Command]:
    return [
        Command("copy_plan", "Copy the plan as text", "Edit", "", "Put the plan on the clipboard.", lambda: shell.to_clipboard(shell.sheet(PlanSheetView).as_text(), "The plan")),
        Command("export_plan", "Export the plan…", "File", "", "Write the plan as a calendar, a table or a wall sheet.", lambda: _export(shell)),
    ]  # fmt: skip


STEP = Step(
    "plan",
    "Plan",
    "Tasks made from the choices, when each is done, what sets the date, what a late part moves.",
    _sheet,
    plan_state,
    LOOKS,
    _commands,
    owns=("build",),
)
