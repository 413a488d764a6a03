"""The plan step, registered."""

from __future__ import annotations

import datetime
from pathlib import Path

from stoutlink.app.desk.actions import Command
from stoutlink.app.steps.plan.sheet import LOOKS, PlanSheetView
from stoutlink.app.steps.step import Intake, Shell, Step
from stoutlink.core.analysis.plan.parts_list import Between
from stoutlink.core.editing.plan_edits import TakeParts
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.parts_results import parts_csv, parts_pages
from stoutlink.core.reports.plan_results import day_pages, plan_csv, plan_ics, plan_pages
from stoutlink.core.reports.written_pdf import written_pdf
from stoutlink.core.storage.parts_table import read_parts
from stoutlink.core.storage.table_file import read_table_text
from stoutlink.core.study.route_state import plan_state

PLAN_FILES = "Calendar (*.ics);;Table (*.csv);;PDF (*.pdf)"
PARTS_FILES = "Table (*.csv);;PDF (*.pdf)"


def _export(shell: Shell) -> None:
    view = shell.sheet(PlanSheetView)
    study, file = shell.workspace.study, shell.workspace.file
    name, title, today = study.project.name if file is None else file.name, study.project.name, view.desk.today
    if view.shown == "parts_list":
        found = study.parts_list(today)

        def listed(suffix: str) -> bytes:
            if suffix == ".csv":
                return parts_csv(found, study.project).encode()
            pages = parts_pages(found, study.project.build, view.desk.currency, today)
            return written_pdf(pages, "Parts list", title, name, "A4")

        shell.write_as("Export the parts list", "parts.csv", PARTS_FILES, listed)
        return
    sheet = view.desk.sheet
    if sheet is None:
        shell.say("There is no plan yet: say its first day.", True)
        return
    if view.shown == "day":
        shell.write_as(
            "Export the day",
            "day.pdf",
            "PDF (*.pdf)",
            lambda _: written_pdf(day_pages(study, today), "Day", title, name, "A4"),
        )
        return

    def make(suffix: str) -> bytes:
        if suffix == ".csv":
            return plan_csv(sheet).encode()
        if suffix == ".pdf":
            return written_pdf(plan_pages(study, view.desk.minute), "Plan", title, name, "A4")
        return plan_ics(sheet, title, datetime.datetime.now(datetime.UTC))

    shell.write_as("Export the plan", "plan.ics", PLAN_FILES, make)


def take_parts(shell: Shell, path: Path) -> None:
    """Take a parts list in from a table; rows that cannot be read are told, the others kept."""
    try:
        listed = read_parts(read_table_text(path), shell.sheet(PlanSheetView).desk.states())
    except StoutError as why:
        shell.say(f"{path.name}: {why.words}".strip(), True)
        return
    rows = tuple((r.line, r.item, r.values) for r in listed.rows)
    if rows and not shell.workspace.do(TakeParts(rows)):
        return
    shell.show_step("plan")
    shell.sheet(PlanSheetView).look("parts_list")
    problems = listed.problems
    more = f" {len(problems) - 1} more rows were left out." if len(problems) > 1 else ""
    shell.say(f"{len(rows)} lines taken in." + (f" {problems[0]}{more}" if problems else ""), bool(problems))


def _read(shell: Shell) -> None:
    path = shell.choose("Take a parts list in", "Table (*.csv)")
    if path is not None:
        take_parts(shell, path)


def _against(shell: Shell) -> None:
    """Hold the parts list against that of another project file."""
    path = shell.choose("Another build", "Project (*.stoutlink)")
    if path is None:
        return
    view = shell.sheet(PlanSheetView)

    def failed(why: StoutError) -> None:
        shell.say(f"{path.name}: {why.words}", True)

    shell.say(f"Reading {path.name}…")
    view.desk.against(path, lambda two: _held(shell, path, two), failed)


def _held(shell: Shell, path: Path, two: Between) -> None:
    shell.say(f"{path.name} beside this build.")
    shell.show_step("plan")
    view = shell.sheet(PlanSheetView)
    view.look("parts_list")
    view.parts.hold_against(path.stem, two)


def _sheet(shell: Shell) -> PlanSheetView:
    sheet = PlanSheetView(shell.workspace)
    sheet.elsewhere.connect(shell.open_at)
    sheet.copy.connect(lambda: _copy(shell))
    sheet.export.connect(lambda: _export(shell))
    sheet.parts.read.connect(lambda: _read(shell))
    sheet.parts.against.connect(lambda: _against(shell))
    return sheet


def _copy(shell: Shell) -> None:
    sheet = shell.sheet(PlanSheetView)
    title = next(title for key, title, _ in LOOKS if key == sheet.shown)
    shell.to_clipboard(sheet.as_text(), title)


def _commands(shell: Shell) -> list[Command]:
    return [
        Command("copy_plan", "Copy the plan's look as text", "Edit", "", "Put what the plan shows on the clipboard.", lambda: _copy(shell)),
        Command("export_plan", "Export the plan…", "File", "", "Write the plan, the parts list or the day as a calendar, a table or on paper.", lambda: _export(shell)),
        Command("read_parts_list", "Take a parts list in…", "File", "", "Read a parts list that was exported as a table and changed.", lambda: _read(shell)),
        Command("two_builds", "Parts against another build…", "File", "", "Hold the parts list beside that of another project file.", lambda: _against(shell)),
    ]  # fmt: skip


STEP = Step(
    "plan",
    "Plan",
    "Tasks made from the choices, when each is done, what sets the date, what a late part moves; parts, money, the day.",
    _sheet,
    PlanSheetView,
    plan_state,
    LOOKS,
    _commands,
    lambda shell: [Intake(".csv", lambda heading: "paid_in_full" in heading, lambda path: take_parts(shell, path))],
    owns=("build",),
)
