"""The donors step, registered: its sheet, its tables in and out, its text."""

from __future__ import annotations

from pathlib import Path

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.files import TABLES
from stoutlink.app.steps.donors.sheet import LOOKS, DonorSheet
from stoutlink.app.steps.step import Intake, Shell, Step
from stoutlink.core.document.donor_marks import donor_marks
from stoutlink.core.editing.swap_edits import ImportDonors, Known
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.donor_table import read_donor_file, write_donors
from stoutlink.core.study.route_state import donors_state

ANSWERS: dict[str, Known] = {"Merge": "merge", "Replace": "replace", "Keep mine": "mine"}


def take_donors(shell: Shell, path: Path) -> None:
    """Merge a catalogue; bad rows are named and the others taken."""
    try:
        table = read_donor_file(path)
    except StoutError as why:
        shell.say(f"{why.sentence} {why.hint}", True)
        return
    have = {d.id: d for d in shell.workspace.project.donors}
    known: Known = "merge"
    same = [d for d in table.axles if d.id in have and have[d.id] != d]
    if same:
        names = ", ".join(d.name for d in same[:4]) + (" …" if len(same) > 4 else "")
        answer = shell.ask(
            "Axles that are here already",
            f"{len(same)} of {len(table.axles)} axles are in the project with other numbers: {names}.\n\n"
            "Merge keeps what is known and the more trusted number (measured, sheet, claim, estimate); "
            "Replace takes the table's records whole.",
            (*ANSWERS, "Cancel"),
        )
        if answer == "Cancel":
            return
        known = ANSWERS[answer]
    marks = tuple((one, name, basis) for (one, name), basis in table.marks.items())
    if table.axles and not shell.workspace.do(ImportDonors(table.axles, marks, known)):
        return
    if table.problems:
        shell.ask(
            "Some rows were left out",
            f"{len(table.axles)} axles taken. Left out:\n\n" + "\n".join(table.problems[:12]),
            ("OK",),
        )
    left = f"{len(table.problems)} rows left out"
    shell.say(f"{len(table.axles)} axles taken from {path.name}, {left}", bool(table.problems))


def _import(shell: Shell) -> None:
    path = shell.choose("Import donor catalogue", TABLES)
    if path is not None:
        take_donors(shell, path)


def _export(shell: Shell) -> None:
    project = shell.workspace.project
    table = write_donors(project.donors, donor_marks(project))
    shell.write("Export donor catalogue", "donors.csv", TABLES, table.encode())


def _commands(shell: Shell) -> list[Command]:
    return [
        Command(
            "import_donors",
            "Import donor catalogue…",
            "File",
            "",
            "Add donor axles from a CSV table.",
            lambda: _import(shell),
        ),
        Command(
            "export_donors",
            "Export donor catalogue…",
            "File",
            "",
            "Write the project's donor axles as a CSV table.",
            lambda: _export(shell),
        ),
        Command(
            "copy_donors",
            "Copy the donors look as text",
            "Edit",
            "",
            "Put what the donors step shows on the clipboard.",
            lambda: shell.to_clipboard(shell.sheet(DonorSheet).as_text(), "What the donors step shows"),
        ),
    ]


STEP = Step(
    "donors",
    "Donors",
    "Which axle goes under it, and what that tips over.",
    lambda shell: DonorSheet(shell.workspace),
    donors_state,
    LOOKS,
    _commands,
    lambda shell: [Intake(".csv", lambda heading: True, lambda path: take_donors(shell, path))],
)
