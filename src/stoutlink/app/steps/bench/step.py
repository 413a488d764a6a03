"""The bench step, registered."""

from __future__ import annotations

from stoutlink.app.desk.actions import Command
from stoutlink.app.steps.bench.sheet import LOOKS, BenchSheet
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.study.route_state import bench_state


def _commands(shell: Shell) -> list[Command]:
    return [
        Command(
            "copy_bench",
            "Copy gear set-up as text",
            "Edit",
            "",
            "Put the gear set-up on the clipboard.",
            lambda: shell.to_clipboard(shell.sheet(BenchSheet).as_text(), "The gear set-up"),
        )
    ]


STEP = Step(
    "bench",
    "Bench",
    "Ring and pinion set up attempt by attempt, with the next shims from those owned; a simulated housing to practise on.",
    lambda shell: BenchSheet(shell.workspace),
    bench_state,
    LOOKS,
    _commands,
    owns=("gears",),
)
