"""The layout step, registered."""

from __future__ import annotations

from stoutlink.app.desk.actions import Command
from stoutlink.app.steps.layout.sheet import LOOKS, LayoutSheet
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.study.route_state import layout_state


def _commands(shell: Shell) -> list[Command]:
    return [
        Command(
            "copy_layout_look",
            "Copy the layout look as text",
            "Edit",
            "",
            "Put what the layout step shows on the clipboard.",
            lambda: shell.to_clipboard(shell.sheet(LayoutSheet).as_text(), "What the layout step shows"),
        )
    ]


STEP = Step(
    "layout",
    "Layout",
    "Where the links go, in three views, with live numbers.",
    lambda shell: LayoutSheet(shell.workspace),
    layout_state,
    LOOKS,
    _commands,
)
