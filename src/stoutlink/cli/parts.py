"""``export --parts``: every part of plate as DXF and SVG, and all of them 1:1 on paper; ``--packet``: the shop packet."""

from __future__ import annotations

import argparse
import datetime
import sys
from pathlib import Path

from stoutlink.core.drawing.part_views import cope_loop
from stoutlink.core.errors import FileError
from stoutlink.core.geometry.pattern import Pattern
from stoutlink.core.reports.packet import packet_pdf
from stoutlink.core.reports.part_files import pattern_dxf, pattern_svg, plates_dxf
from stoutlink.core.reports.part_paper import cope_pdf, parts_pdf
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.study.study import Study


def add_parts(one: argparse.ArgumentParser) -> None:
    """The argument."""
    one.add_argument(
        "--parts",
        type=Path,
        metavar="FOLDER",
        help="tabs and plates at true scale: a DXF and an SVG each, parts.pdf 1:1, plates.dxf as they are nested, and the wraps of copes",
    )
    one.add_argument(
        "--packet",
        type=Path,
        metavar="OUT.pdf",
        help="the shop packet: links, bars, templates, stations, weld order, bolts, full bump, driveshafts, one file",
    )


def write_packet(found: Study, args: argparse.Namespace) -> None:
    """Write the shop packet."""
    today = datetime.date.today().isoformat()
    data = packet_pdf(found, args.file.name, today, args.paper)
    assert data is not None
    write_bytes(data, args.packet)
    print(f"{args.packet} written")


def write_parts(found: Study, args: argparse.Namespace) -> None:
    """Write every part of both axles into a folder, which is made where it is not there."""
    folder, unit = args.parts, found.project.settings.units
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        raise FileError(
            "F149",
            f"{folder} is no folder and cannot be made one; --parts writes one file a part into it.",
            "Name a folder that may be written to.",
        ) from None
    parts = tuple(one for end in ("rear", "front") for one in found.parts(end))
    if not parts and not found.project.fabrication.copes:
        print("stout-link: there are no parts yet: lay out links or leaves first", file=sys.stderr)
    for one in parts:
        placed = [(one.pattern, (0.0, 0.0), f"{one.name}, {one.count} off")]
        write_bytes(pattern_dxf(placed, unit), folder / f"{one.id}.dxf")
        write_bytes(pattern_svg(placed), folder / f"{one.id}.svg")
    if parts:
        today = datetime.date.today().isoformat()
        write_bytes(parts_pdf(parts, args.file.name, today, args.paper, unit), folder / "parts.pdf")
    if not found.needs and (plans := found.plate_plan()):
        write_bytes(plates_dxf(plans, found.project.fabrication.plate, unit), folder / "plates.dxf")
    for cut in found.project.fabrication.copes:
        line = found.cope(cut)
        if isinstance(line, str):
            print(f"stout-link: {cut.name}: there is no such cut: {line}", file=sys.stderr)
            continue
        today = datetime.date.today().isoformat()
        write_bytes(
            pattern_dxf([(Pattern(cope_loop(line, 0.02)), (0.0, 0.0), cut.name)], unit), folder / f"{cut.id}.dxf"
        )
        write_bytes(cope_pdf(line, cut.name, args.file.name, today, args.paper, unit), folder / f"{cut.id}.pdf")
    print(f"{len(parts)} parts written to {folder}")
