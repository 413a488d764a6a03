"""The log step, registered."""

from __future__ import annotations

import json

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.background import Progress
from stoutlink.app.steps.log.sheet import LOOKS, LogSheet
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.reports.hand_over import hand_over_archive, hand_over_pdf
from stoutlink.core.reports.log_results import built_json, hill_json, log_json, runs_csv, tune_json
from stoutlink.core.study.route_state import log_state

JSON_FILES = "JSON (*.json)"
RUN_FILES = "Table (*.csv);;JSON (*.json)"


def _export(shell: Shell) -> None:
    sheet, study = shell.sheet(LogSheet), shell.workspace.study
    today = shell.workspace.today()
    if sheet.shown == "hand_over":
        _archive(shell)
        return
    if sheet.shown in ("runs", "care"):
        shell.write_as(
            "Export the log",
            "runs.csv",
            RUN_FILES,
            lambda suffix: (
                runs_csv(study).encode() if suffix == ".csv" else json.dumps(log_json(study, today), indent=1).encode()
            ),
        )
        return
    if not sheet.ready():
        shell.say("Still being worked out: in a moment.", True)
        return

    def make(_: str) -> bytes:
        if sheet.shown == "tune":
            return json.dumps(tune_json(study, sheet.tune.felt, shell.workspace.end), indent=1).encode()
        if sheet.shown == "hill":
            found = sheet.hill.mine
            return json.dumps(hill_json("Nothing to drive yet." if found is None else found), indent=1).encode()
        return json.dumps(built_json(study), indent=1).encode()

    shell.write_as("Export this look", f"{sheet.shown.replace('_', '-')}.json", JSON_FILES, make)


def _beside(shell: Shell, title: str, name: str, pattern: str, make: object) -> None:
    """Have bytes made beside the window, then written where the user says."""
    sheet = shell.sheet(LogSheet)
    work = sheet.writing
    shell.say("Putting it together…")

    def run(tell: Progress) -> bytes | None:
        try:
            found: bytes = make(tell)  # type: ignore[operator]
        except InterruptedError:
            return None
        return found

    work.start(
        run,
        lambda data: shell.write(title, name, pattern, data),
        lambda part: shell.say(f"Putting it together, {part:.0%}"),
        lambda why: shell.say(why.words, True),
    )


def _archive(shell: Shell) -> None:
    study, file = shell.workspace.study, shell.workspace.file
    stem = "project" if file is None else file.stem
    _beside(
        shell,
        "Write the hand-over archive",
        f"{stem}-hand-over.zip",
        "Archive (*.zip)",
        lambda tell: hand_over_archive(study, file, "A4", tell),
    )


def _paper(shell: Shell) -> None:
    study, file = shell.workspace.study, shell.workspace.file
    name = study.project.name if file is None else file.name

    def make(tell: Progress) -> bytes:
        study.cycle(tell)
        return hand_over_pdf(study, name, "A4")

    _beside(shell, "Write the owner's file", "owners-file.pdf", "PDF (*.pdf)", make)


def _sheet(shell: Shell) -> LogSheet:
    sheet = LogSheet(shell.workspace, shell.instruments)
    sheet.copy.connect(lambda: _copy(shell))
    sheet.export.connect(lambda: _export(shell))
    sheet.archive.connect(lambda: _archive(shell))
    sheet.paper.connect(lambda: _paper(shell))
    return sheet


def _copy(shell: Shell) -> None:
    sheet = shell.sheet(LogSheet)
    title = next(title for key, title, _ in LOOKS if key == sheet.shown)
    shell.to_clipboard(sheet.as_text(), title)


def _commands(shell: Shell) -> list[Command]:
    return [
        Command("copy_log", "Copy the log's look as text", "Edit", "", "Put what the log shows on the clipboard.", lambda: _copy(shell)),
        Command("export_log", "Export the log…", "File", "", "Write what the log's look shows as JSON or a table.", lambda: _export(shell)),
        Command("hand_over", "Hand over: write the archive…", "File", "", "Write project, photos, papers, patterns and tables as one archive.", lambda: _archive(shell)),
        Command("owners_file", "Owner's file…", "File", "", "Write the owner's file as PDF.", lambda: _paper(shell)),
    ]  # fmt: skip


STEP = Step(
    "log",
    "Log",
    "As built against planned, runs with what was felt, what to change, the test hill, care, and the hand-over.",
    _sheet,
    LogSheet,
    log_state,
    LOOKS,
    _commands,
    owns=("log",),
)
