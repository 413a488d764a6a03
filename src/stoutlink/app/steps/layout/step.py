"""The layout step, registered."""

from __future__ import annotations

import datetime

from stoutlink.app.desk.actions import Command
from stoutlink.app.steps.layout.sheet import LOOKS, LayoutSheet
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.drawing.layout_sheet import TITLES, layout_drawing
from stoutlink.core.drawing.shapes import ViewName
from stoutlink.core.reports.dxf_writer import dxf_bytes
from stoutlink.core.reports.pdf_writer import Title, one_page
from stoutlink.core.study.route_state import layout_state

VIEWS: dict[str, ViewName] = {"Side": "side", "Plan": "plan", "Rear": "rear"}


def _export(shell: Shell) -> None:
    """The layout in use as a drawing with dimensions: DXF as it is, PDF on one page."""
    study, end = shell.workspace.study, shell.workspace.end
    layout = study.project.layout(end)
    if layout is None:
        shell.say(f"There is no {end} layout to draw: start from a kind in Layout.", True)
        return
    answer = shell.ask("Drawing of the layout", f"Which view of {layout.name}?", (*VIEWS, "Cancel"))
    if answer == "Cancel":
        return
    view = VIEWS[answer]

    def make(suffix: str) -> bytes:
        unit = study.project.settings.units
        if suffix == ".dxf":
            return dxf_bytes(layout_drawing(study, layout, view), unit)
        file = shell.workspace.file
        title = Title(
            f"{layout.name}: {TITLES[view]}",
            file.name if file is not None else study.project.name,
            datetime.date.today().isoformat(),
        )
        return one_page(lambda letters: layout_drawing(study, layout, view, letters), title, "A4", unit)

    shell.write_as("Drawing of the layout", f"{layout.id}-{view}.pdf", "Drawings (*.pdf *.dxf)", make)


def _commands(shell: Shell) -> list[Command]:
    return [
        Command(
            "export_drawing",
            "Drawing of the layout…",
            "File",
            "",
            "Write one view of the layout in work with dimensions, as PDF or DXF.",
            lambda: _export(shell),
        ),
        Command(
            "copy_layout_look",
            "Copy the layout look as text",
            "Edit",
            "",
            "Put what the layout step shows on the clipboard.",
            lambda: shell.to_clipboard(shell.sheet(LayoutSheet).as_text(), "What the layout step shows"),
        ),
    ]


STEP = Step(
    "layout",
    "Layout",
    "Where the links go, in three views, with live numbers.",
    lambda shell: LayoutSheet(shell.workspace),
    LayoutSheet,
    layout_state,
    LOOKS,
    _commands,
    owns=("layouts", "joints", "targets", "loads", "searches", "settings", "front_layout", "rear_layout"),
)
