"""The travel step, registered: its sheet, its table, the sheet for the shaft shop, springs on offer, its text."""

from __future__ import annotations

from pathlib import Path

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.files import TABLES
from stoutlink.app.steps.step import Intake, Shell, Step
from stoutlink.app.steps.travel.round_files import export_film, export_model
from stoutlink.app.steps.travel.sheet import LOOKS, TravelSheet
from stoutlink.core.editing.edits import ReplaceList
from stoutlink.core.errors import StoutError
from stoutlink.core.reports.bump_sheet import bump_csv
from stoutlink.core.reports.shaft_sheet import shaft_sheet
from stoutlink.core.reports.travel_csv import travel_csv
from stoutlink.core.storage.spring_table import read_spring_file
from stoutlink.core.study.route_state import travel_state

NOT_YET = "The travel is not worked out yet: look at Travel first."
NO_SHAFT = "There is no driveshaft to order yet: it needs the output's place in Rig and the axle's pinion in Donors."


def take_springs(shell: Shell, path: Path) -> None:
    """Take a list of springs in place of the one that is there; bad rows are named and the others taken."""
    try:
        table = read_spring_file(path)
    except StoutError as why:
        shell.say(why.words, True)
        return
    if table.springs and not shell.workspace.do(ReplaceList("springs", table.springs, "Read a list of springs")):
        return
    if table.problems:
        shell.ask(
            "Some rows were left out",
            f"{len(table.springs)} springs taken. Left out:\n\n" + "\n".join(table.problems[:12]),
            ("OK",),
        )
    left = f"{len(table.problems)} rows left out"
    shell.say(f"{len(table.springs)} springs taken from {path.name}, {left}", bool(table.problems))


def _import_springs(shell: Shell) -> None:
    path = shell.choose("Read a list of springs", TABLES)
    if path is not None:
        take_springs(shell, path)


def _export_travel(shell: Shell) -> None:
    sheet = shell.sheet(TravelSheet)
    travel = sheet.travel
    if travel is None:
        shell.say(NOT_YET, True)
        return
    name = f"travel-{travel.layout.end}.csv"
    shell.write("Export travel table", name, TABLES, travel_csv(travel, sheet.bands).encode())


def _export_shaft(shell: Shell) -> None:
    travel = shell.sheet(TravelSheet).travel
    words = "" if travel is None else shaft_sheet(shell.workspace.project, travel)
    if travel is None or not words:
        shell.say(NO_SHAFT, True)
        return
    shell.write("Sheet for the shaft shop", f"driveshaft-{travel.layout.end}.txt", "Text (*.txt)", words.encode())


def _export_bump(shell: Shell) -> None:
    travel = shell.sheet(TravelSheet).travel
    if travel is None:
        shell.say(NOT_YET, True)
        return
    w = shell.workspace
    data = bump_csv(w.project, travel, w.study.bump_sheet(travel)).encode()
    shell.write("Full-bump sheet", f"full-bump-{travel.layout.end}.csv", TABLES, data)


def _commands(shell: Shell) -> list[Command]:
    return [
        Command(
            "import_springs",
            "Read a list of springs…",
            "File",
            "",
            "Springs on offer as a CSV table, ranked in Travel, Springs.",
            lambda: _import_springs(shell),
        ),
        Command(
            "export_shaft_sheet",
            "Sheet for the shaft shop…",
            "File",
            "",
            "Write what the driveshaft of the axle in work is to be ordered by.",
            lambda: _export_shaft(shell),
        ),
        Command(
            "export_bump_sheet",
            "Full-bump sheet…",
            "File",
            "",
            "Write what to measure at ride, full bump, full droop and crossed, with room for the tape's readings.",
            lambda: _export_bump(shell),
        ),
        Command(
            "export_travel",
            "Export travel table…",
            "File",
            "",
            "Write the travel of the axle in work as a CSV table.",
            lambda: _export_travel(shell),
        ),
        Command(
            "export_model",
            "Model for CAD…",
            "File",
            "",
            "Write rig, axles, links, parts and welds as bodies in mm, at the pose Travel shows: STL, glTF or DXF.",
            lambda: export_model(shell),
        ),
        Command(
            "export_film",
            "Film of the travel…",
            "File",
            "",
            "Write the travel of the axle in work as a film, seen from where the round view looks.",
            lambda: export_film(shell),
        ),
        Command(
            "copy_travel_look",
            "Copy the travel look as text",
            "Edit",
            "",
            "Put what the travel step shows on the clipboard.",
            lambda: shell.to_clipboard(shell.sheet(TravelSheet).as_text(), "What the travel step shows"),
        ),
        Command(
            "play",
            "Play the travel",
            "View",
            "Ctrl+Space",
            "Run through bump, droop and roll; again to hold.",
            lambda: shell.sheet(TravelSheet).play.toggle(),
        ),
    ]


def _make(shell: Shell) -> TravelSheet:
    sheet = TravelSheet(shell.workspace)
    sheet.export_table.connect(lambda: _export_travel(shell))
    sheet.import_springs.connect(lambda: _import_springs(shell))
    sheet.export_bump.connect(lambda: _export_bump(shell))
    sheet.export_shaft.connect(lambda: _export_shaft(shell))
    return sheet


STEP = Step(
    "travel",
    "Travel",
    "Cycled before it is welded: what touches, binds or runs out, and every number over the way.",
    _make,
    TravelSheet,
    travel_state,
    LOOKS,
    _commands,
    lambda shell: [
        Intake(
            ".csv",
            lambda heading: "free_in" in heading or "free_mm" in heading,
            lambda path: take_springs(shell, path),
        )
    ],
    owns=("springs",),
)
