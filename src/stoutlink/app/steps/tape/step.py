"""The tape step, registered: its sheet, surveys in and out, outlines from drawings, its text."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from stoutlink.app.desk import dialogs
from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.files import TABLES
from stoutlink.app.steps.step import Intake, Shell, Step
from stoutlink.app.steps.tape.sheet import LOOKS, TapeSheet
from stoutlink.core.analysis.survey.mesh_place import first_anchors
from stoutlink.core.document.ids import free_id
from stoutlink.core.document.survey import MeshSolid, OutlineSolid, Survey
from stoutlink.core.drawing.shapes import ViewName
from stoutlink.core.editing.edits import PutInList
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.dxf_apart import DrawingReader
from stoutlink.core.storage.mesh_file import IN_METRES, UNITS, MeshReader
from stoutlink.core.storage.mesh_file import SUFFIXES as MESHES
from stoutlink.core.storage.photos import SUFFIXES
from stoutlink.core.storage.read_apart import ReadApart
from stoutlink.core.storage.survey_table import read_survey_file, write_survey
from stoutlink.core.study.route_state import tape_state

T = TypeVar("T")
MOST_OUTLINES = 40
NO_SURVEY = "There is no survey yet: start one in Tape."
VIEWS: dict[str, ViewName] = {"Side": "side", "Plan": "plan", "Rear": "rear"}


def take_survey(shell: Shell, path: Path) -> None:
    """Take in a survey table as a survey of its own; bad rows are named and the others offered."""
    new = free_id("survey-", (s.id for s in shell.workspace.project.tape.surveys))
    try:
        table = read_survey_file(path, shell.workspace.unit, new)
    except StoutError as why:
        shell.say(why.words, True)
        return
    points = len(table.survey.points)
    if table.problems:
        answer = shell.ask(
            "Some rows cannot be read",
            f"{points} stations can be taken. Not understood:\n\n" + "\n".join(table.problems[:12]),
            ("Take the others", "Cancel"),
        )
        if answer == "Cancel":
            return
    if shell.workspace.do(PutInList("surveys", table.survey, f"Import {table.survey.name}")):
        shell.show_step("tape")
        shell.sheet(TapeSheet).show_survey(new)
        left = f"{len(table.problems)} rows left out"
        shell.say(f"{points} stations taken from {path.name}, {left}", bool(table.problems))


def _read(shell: Shell, path: Path, reader: ReadApart, answer: Callable[[], T]) -> T | None:
    """Wait for what is read beside the window; ``None`` where it is given up or refused, and that is said."""
    if not dialogs.wait(shell.sheet(TapeSheet), f"Reading {path.name}", reader.done, reader.stop):
        shell.say(f"{path.name}: given up, nothing is taken")
        return None
    try:
        return answer()
    except StoutError as why:
        shell.say(why.words, True)
        return None


def take_outline(shell: Shell, path: Path) -> None:
    """Take the closed outlines of a drawing in as flat solids in the view the user names."""
    work, reader = shell.workspace, DrawingReader(path, shell.workspace.unit)
    outlines = _read(shell, path, reader, reader.outlines)
    if outlines is None:
        return
    answer = shell.ask(
        "Outline",
        f"{path.name} holds {len(outlines)} closed outlines. In which view are they drawn?",
        (*VIEWS, "Cancel"),
    )
    if answer == "Cancel":
        return
    high = max(work.rig.front.loaded, work.rig.rear.loaded)
    low, top = {"Side": (-0.05, 0.05), "Plan": (high, high + 0.1), "Rear": (0.0, 0.1)}[answer]
    new, taken = None, 0
    for n, outline in enumerate(outlines, 1):
        one = free_id("outline-", (s.id for s in work.project.tape.solids))
        name = path.stem[:100] if len(outlines) == 1 else f"{path.stem[:100]} {n}"
        solid = OutlineSolid(
            id=one, name=name, kind="other", view=VIEWS[answer], outline_m=outline, low_m=low, high_m=top
        )
        if taken < MOST_OUTLINES and work.do(PutInList("solids", solid, f"Import outline {name}")):
            new, taken = one, taken + 1
    if new is None:
        return
    shell.show_step("tape")
    shell.sheet(TapeSheet).pick_solid(new)
    left = len(outlines) - taken
    shell.say(f"{taken} outlines taken from {path.name}, the largest first, {left} left out", bool(left))


def take_mesh(shell: Shell, path: Path) -> None:
    """Take a mesh in as something in the way, made of convex pieces, to be placed by three points."""
    sheet, unit = shell.sheet(TapeSheet), "m"
    if path.suffix.lower() not in IN_METRES:
        unit = shell.ask("Mesh", f"In what unit is {path.name} drawn?", (*UNITS, "Cancel"))
        if unit == "Cancel":
            return
    reader = MeshReader(path, unit)
    pieces = _read(shell, path, reader, reader.pieces)
    if pieces is None:
        return
    new = free_id("mesh-", (s.id for s in shell.workspace.project.tape.solids))
    solid = MeshSolid(
        id=new,
        name=path.stem[:100] or "Mesh",
        kind="other",
        pieces=pieces,
        anchors=first_anchors(pieces),
    )
    guessed = tuple(f"anchors.{a.id}.at_m.{i}" for a in solid.anchors for i in range(3))
    if shell.workspace.do(PutInList("solids", solid, f"Import {solid.name}", guessed=guessed)):
        shell.show_step("tape")
        sheet.pick_solid(new)
        sheet.point_at(solid.anchors[0].id)
        shell.say(
            f"{len(pieces)} pieces taken from {path.name}; point at three places of it and say where they are on the rig"
        )


def _shown(shell: Shell) -> Survey | None:
    """The survey in view; without one that is said."""
    found = shell.workspace.project.survey(shell.sheet(TapeSheet).survey_id or "")
    if found is None:
        shell.say(NO_SURVEY, True)
    return found


def _import(shell: Shell) -> None:
    path = shell.choose("Import survey", TABLES)
    if path is not None:
        take_survey(shell, path)


def import_outline(shell: Shell) -> None:
    """Choose a DXF drawing and take in its outlines."""
    path = shell.choose("Import outline", "DXF drawings (*.dxf)")
    if path is not None:
        take_outline(shell, path)


def import_mesh(shell: Shell) -> None:
    """Choose a mesh and take it in."""
    path = shell.choose("Import mesh", f"Meshes ({' '.join(f'*{one}' for one in MESHES)})")
    if path is not None:
        take_mesh(shell, path)


def _export(shell: Shell) -> None:
    survey = _shown(shell)
    if survey is not None:
        shell.write("Export survey", f"{survey.id}.csv", TABLES, write_survey(survey, shell.workspace.unit).encode())


def _copy(shell: Shell) -> None:
    survey = _shown(shell)
    if survey is not None:
        shell.to_clipboard(write_survey(survey, shell.workspace.unit), "The survey")


def _commands(shell: Shell) -> list[Command]:
    return [
        Command(
            "import_survey", "Import survey…", "File", "", "Take in a CSV table of stations.", lambda: _import(shell)
        ),
        Command(
            "export_survey",
            "Export survey…",
            "File",
            "",
            "Write the survey in view as a CSV table.",
            lambda: _export(shell),
        ),
        Command(
            "import_outline",
            "Import outline from DXF…",
            "File",
            "",
            "Take in closed outlines as something that is in the way.",
            lambda: import_outline(shell),
        ),
        Command(
            "import_mesh",
            "Import mesh…",
            "File",
            "",
            "Take in an STL, OBJ or glTF model as something that is in the way, placed by three points.",
            lambda: import_mesh(shell),
        ),
        Command(
            "copy_survey",
            "Copy survey as text",
            "Edit",
            "",
            "Put the survey in view on the clipboard.",
            lambda: _copy(shell),
        ),
    ]


def take_photo(shell: Shell, path: Path) -> None:
    """Put a photo beside the project and open it to be marked."""
    sheet = shell.sheet(TapeSheet)
    shell.show_step("tape")
    sheet.look("photo")
    sheet.photo.photos.add(path)


def _make(shell: Shell) -> TapeSheet:
    sheet = TapeSheet(shell.workspace, shell.instruments)
    sheet.outline_wanted.connect(lambda: import_outline(shell))
    sheet.mesh_wanted.connect(lambda: import_mesh(shell))
    return sheet


STEP = Step(
    "tape",
    "Tape",
    "The frame as the tape finds it, and the reading that cannot be right.",
    _make,
    TapeSheet,
    tape_state,
    LOOKS,
    _commands,
    lambda shell: [
        Intake(".csv", lambda heading: "station" in heading, lambda path: take_survey(shell, path)),
        *(Intake(suffix, lambda heading: True, lambda path: take_photo(shell, path)) for suffix in SUFFIXES),
        *(Intake(suffix, lambda heading: True, lambda path: take_mesh(shell, path)) for suffix in MESHES),
        Intake(".dxf", lambda heading: True, lambda path: take_outline(shell, path)),
    ],
    owns=("surveys", "solids", "photos"),
)
