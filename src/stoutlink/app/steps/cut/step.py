"""The cut step, registered: its sheet, the cut list as a table and as text."""

from __future__ import annotations

import datetime

from stoutlink.app.desk.actions import Command
from stoutlink.app.desk.files import DRAWINGS, PAPERS, TABLES
from stoutlink.app.steps.cut.cope_look import cope_title
from stoutlink.app.steps.cut.sheet import LOOKS, CutSheet
from stoutlink.app.steps.step import Shell, Step
from stoutlink.core.drawing.part_views import cope_loop
from stoutlink.core.geometry.pattern import Pattern
from stoutlink.core.reports.cut_list_csv import cut_list_csv
from stoutlink.core.reports.part_files import pattern_dxf, pattern_svg, plates_dxf
from stoutlink.core.reports.part_paper import cope_pdf, parts_pdf
from stoutlink.core.study.route_state import cut_state

WRAP = 0.02
"""Straight edge above the line of a wrap, m."""


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
            "shop_packet",
            "Shop packet…",
            "File",
            "",
            "Write everything the bench needs as one PDF on A4.",
            lambda: shell.sheet(CutSheet).pack("A4"),
        ),
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


def _part_out(shell: Shell, kind: str) -> None:
    """The part shown as DXF or SVG, or every part of both axles on paper."""
    w, part = shell.workspace, shell.sheet(CutSheet).parts.part
    if part is None:
        shell.say("There is no part yet.", True)
    elif kind == "pdf":
        parts = tuple(one for end in ("rear", "front") for one in w.study.parts(end))
        name = w.file.name if w.file is not None else w.project.name
        shell.write(
            "Parts 1:1", "parts.pdf", PAPERS, parts_pdf(parts, name, datetime.date.today().isoformat(), "A4", w.unit)
        )
    else:
        placed = [(part.pattern, (0.0, 0.0), f"{part.name}, {part.count} off")]
        data = pattern_dxf(placed, w.unit) if kind == "dxf" else pattern_svg(placed)
        shell.write(f"Part as {kind.upper()}", f"{part.id}.{kind}", DRAWINGS[kind], data)


def _cope_out(shell: Shell, kind: str) -> None:
    """The wrap shown as a file."""
    w, look = shell.workspace, shell.sheet(CutSheet).copes
    one, found = look.one, look.found
    if one is None or isinstance(found, str):
        shell.say("There is no cope to write." if one is None else f"There is no such cut: {found}.", True)
        return
    title = f"{one.name}: {cope_title(one, w.unit)}"
    if kind == "pdf":
        name = w.file.name if w.file is not None else w.project.name
        data = cope_pdf(found, title, name, datetime.date.today().isoformat(), "A4", w.unit)
        shell.write("Wrap 1:1", f"{one.id}.pdf", PAPERS, data)
        return
    placed = [(Pattern(cope_loop(found, WRAP)), (0.0, 0.0), title)]
    data = pattern_dxf(placed, w.unit) if kind == "dxf" else pattern_svg(placed)
    shell.write(f"Wrap as {kind.upper()}", f"{one.id}.{kind}", DRAWINGS[kind], data)


def _plates_out(shell: Shell) -> None:
    """Every plate as one drawing."""
    w = shell.workspace
    plans = () if w.study.needs else w.study.plate_plan()
    if not plans:
        shell.say("There is nothing to cut from plate.", True)
        return
    shell.write("Plates as DXF", "plates.dxf", DRAWINGS["dxf"], plates_dxf(plans, w.project.fabrication.plate, w.unit))


def _make(shell: Shell) -> CutSheet:
    sheet = CutSheet(shell.workspace, shell.instruments)
    sheet.copes.out.connect(lambda kind: _cope_out(shell, kind))
    sheet.plate.out.connect(lambda: _plates_out(shell))
    sheet.parts.out.connect(lambda kind: _part_out(shell, kind))
    sheet.packet.connect(lambda data, paper: shell.write(f"Shop packet on {paper}", "shop-packet.pdf", PAPERS, data))
    sheet.export.connect(lambda: _export(shell))
    sheet.copy.connect(lambda: shell.to_clipboard(sheet.as_text(), "The cut list"))
    return sheet


STEP = Step(
    "cut",
    "Cut and weld",
    "Links from plan to steel, parts of plate, stations of the housing, its welds, copes, and what all of it is cut from.",
    _make,
    CutSheet,
    cut_state,
    LOOKS,
    _commands,
    owns=("stock", "sawing", "copes", "plate", "stations", "made_parts", "welding", "cut_parts"),
)
