"""``export --parts``: every part of plate as DXF and SVG, and all of them 1:1 on paper."""

from __future__ import annotations

import argparse
import datetime
import sys
from pathlib import Path

from stoutlink.core.drawing.part_views import cope_loop
from stoutlink.core.errors import FileError
from stoutlink.core.geometry.pattern import Pattern
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


def write_parts(found: Study, args: argparse.Namespace) -> None:
    """Write every part of both axles into a folder that is there."""
    folder, unit = args.parts, found.project.settings.units
    if not folder.is_dir():
        raise FileError("F149", f"{folder} is not a folder; --parts writes one file a part into it.", "Make it first.")
    parts = tuple(one for end in ("rear", "front") for one in found.parts(end))
    for one in parts:
        placed = [(one.pattern, (0.0, 0.0), f"{one.name}, {one.count} off")]
        write_bytes(pattern_dxf(placed, unit), folder / f"{one.id}.dxf")
        write_bytes(pattern_svg(placed), folder / f"{one.id}.svg")
    if parts:
        today = datetime.date.today().isoformat()
        write_bytes(parts_pdf(parts, args.file.name, today, args.paper, unit), folder / "parts.pdf")
    if not found.needs and (plans := found.plate_plan()):
        write_bytes(plates_dxf(plans, found.project.plate, unit), folder / "plates.dxf")
    for cut in found.project.copes:
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
