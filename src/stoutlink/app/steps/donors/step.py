"""The donors step, registered: its sheet, its tables in and out, its text."""

from __future__ import annotations

from pathlib import Path

import msgspec

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.files import TABLES
from stoutlink.app.steps.donors.sheet import LOOKS, DonorSheet
from stoutlink.app.steps.step import Intake, Shell, Step
from stoutlink.core.document.donor_marks import donor_marks
from stoutlink.core.editing.swap_edits import ImportDonors, Known, TakeExamples
from stoutlink.core.errors import StoutError
from stoutlink.core.storage.donor_table import read_donor_file, write_donors
from stoutlink.core.study.route_state import donors_state
from stoutlink.demo import demo_file

ANSWERS: dict[str, Known] = {"Merge": "merge", "Replace": "replace", "Keep mine": "mine"}


def take_donors(shell: Shell, path: Path) -> None:
    """Merge a catalogue; bad rows are named and the others taken."""
    try:
        table = read_donor_file(path)
    except StoutError as why:
        shell.say(why.words, True)
        return
    have = {d.id: d for d in shell.workspace.project.swap.donors}
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


def bring_examples(shell: Shell) -> None:
    """Add the invented axles that ship with the program, marked as examples; what is here already stays."""
    table = read_donor_file(demo_file("donors.csv"))
    marks = tuple((one, name, basis) for (one, name), basis in table.marks.items())
    axles = tuple(msgspec.structs.replace(d, example=True) for d in table.axles)
    if shell.workspace.do(ImportDonors(axles, marks, "mine")):
        shell.say(f"{len(axles)} invented axles added, each marked as an example")


def _drop_examples(shell: Shell) -> None:
    project = shell.workspace.project
    mine = (project.swap.front_donor, project.swap.rear_donor)
    gone = [d for d in project.swap.donors if d.example and d.id not in mine]
    if not gone:
        shell.say("There are no examples to take out")
    elif shell.workspace.do(TakeExamples()):
        stays = sum(d.example for d in project.swap.donors) - len(gone)
        shell.say(f"{len(gone)} examples taken out{f'; {stays} under the rig stay' if stays else ''}")


def _export(shell: Shell) -> None:
    project = shell.workspace.project
    table = write_donors(project.swap.donors, donor_marks(project))
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
            "bring_examples",
            "Bring in the example axles",
            "File",
            "",
            "Add the invented axles that ship with the program, each marked as an example.",
            lambda: bring_examples(shell),
        ),
        Command(
            "drop_examples",
            "Take the example axles out",
            "File",
            "",
            "Take out every example that is not under the rig; your own records stay.",
            lambda: _drop_examples(shell),
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


def _make(shell: Shell) -> DonorSheet:
    sheet = DonorSheet(shell.workspace)
    sheet.start.examples.clicked.connect(lambda: bring_examples(shell))
    sheet.start.table.clicked.connect(lambda: _import(shell))
    return sheet


STEP = Step(
    "donors",
    "Donors",
    "Which axle goes under it, and what that tips over.",
    _make,
    DonorSheet,
    donors_state,
    LOOKS,
    _commands,
    lambda shell: [Intake(".csv", lambda heading: True, lambda path: take_donors(shell, path))],
    owns=(
        "donors",
        "prices",
        "shelf",
        "made",
        "inspections",
        "choosing",
        "front_plan",
        "rear_plan",
        "front_donor",
        "rear_donor",
    ),
)
