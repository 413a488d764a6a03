"""The cut step, registered: its sheet, the cut list as a table and as text."""

from __future__ import annotations

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.files import TABLES
from stoutlink.app.steps.cut.sheet import LOOKS, CutSheet
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.study.route_state import cut_state


def _export(shell: Shell) -> None:
    study = shell.workspace.study
    cuts = study.cuts
    if not cuts:
        shell.say("There is no cut list: no layout that works yet.", True)
        return
    shell.write("Export cut list", "cut-list.csv", TABLES, cut_list_csv(cuts, study.cut_waits).encode())


def _commands(shell: Shell) -> list[Command]:
    return [
        Command(
            "export_cuts",
            "Export cut list…",
            "File",
            "Ctrl+E",
            "Write the cut list of both axles as a CSV table.",
            lambda: _export(shell),
        ),
        Command(
            "copy_cuts",
            "Copy cut list as text",
            "Edit",
            "",
            "Put the cut list on the clipboard.",
            lambda: shell.to_clipboard(shell.sheet(CutSheet).as_text(), "The cut list"),
        ),
    ]


def _make(shell: Shell) -> CutSheet:
    sheet = CutSheet(shell.workspace)
    sheet.export.connect(lambda: _export(shell))
    sheet.copy.connect(lambda: shell.to_clipboard(sheet.as_text(), "The cut list"))
    return sheet


STEP = Step(
    "cut",
    "Cut",
    "How long to cut each tube and how much thread is left.",
    _make,
    cut_state,
    LOOKS,
    _commands,
    owns=("stock", "sawing"),
)
