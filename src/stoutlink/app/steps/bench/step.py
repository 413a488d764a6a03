"""The bench step, registered."""

from __future__ import annotations

from stoutlink.app.desk.actions import Command
from stoutlink.app.steps.bench.sheet import LOOKS, BenchSheet
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.reports.bench_paper import bench_csv, bench_pdf
from stoutlink.core.study.route_state import bench_state

BENCH_FILES = "PDF (*.pdf);;Table (*.csv)"


def _export(shell: Shell) -> None:
    study = shell.workspace.study
    if not study.cards and not study.project.bench.gears:
        shell.say("Nothing stands on the bench: choose an axle in Donors first.", True)
        return
    file = shell.workspace.file
    name = study.project.name if file is None else file.name

    def make(suffix: str) -> bytes:
        return bench_csv(study).encode() if suffix == ".csv" else bench_pdf(study, name, "A4")

    shell.write_as("Export the bench", "bench.pdf", BENCH_FILES, make)


def _sheet(shell: Shell) -> BenchSheet:
    sheet = BenchSheet(shell.workspace, shell.instruments)
    sheet.elsewhere.connect(shell.show_step)
    sheet.copy.connect(lambda: _copy(shell))
    sheet.export.connect(lambda: _export(shell))
    return sheet


def _copy(shell: Shell) -> None:
    sheet = shell.sheet(BenchSheet)
    title = next(title for key, title, _ in LOOKS if key == sheet.shown)
    shell.to_clipboard(sheet.as_text(), title)


def _commands(shell: Shell) -> list[Command]:
    return [
        Command("copy_bench", "Copy the bench's look as text", "Edit", "", "Put what the bench shows on the clipboard.", lambda: _copy(shell)),
        Command("export_bench", "Export the bench…", "File", "", "Write cards, bolts and the first-drive sheet as PDF or as a table.", lambda: _export(shell)),
    ]  # fmt: skip


STEP = Step(
    "bench",
    "Bench",
    "Cards of every assembly, parts marked, gears set up, bolts torqued, brakes balanced, and the first drive signed.",
    _sheet,
    BenchSheet,
    bench_state,
    LOOKS,
    _commands,
    owns=("gears", "cards", "fasteners", "cases", "brakes", "loose_ends", "first_drive"),
)
