"""Parts and copes on paper at true scale, one after the other."""

from __future__ import annotations

from stoutlink.core.analysis.linkage.part import Part
from stoutlink.core.drawing.part_views import cope_sheet, part_sheet
from stoutlink.core.mechanics.cope import Cope
from stoutlink.core.quantity.length_text import UnitSystem
from stoutlink.core.quantity.shown import show
from stoutlink.core.reports.pdf_writer import Paper, Title, pages_bytes, pdf_bytes


def parts_pdf(parts: tuple[Part, ...], file: str, date: str, paper: Paper, unit: UnitSystem) -> bytes:
    """Every part 1:1, each from a new page, tiled where it does not fit one, each page with a bar to check the printer."""
    sheets = [
        (
            part_sheet(one, unit),
            Title(f"{one.name}, {one.count} off, {show(one.thickness, 'fine_length', unit)} plate", file, date),
        )
        for one in parts
    ]
    return pages_bytes(sheets, paper, 1.0, unit)


def cope_pdf(found: Cope, title: str, file: str, date: str, paper: Paper, unit: UnitSystem) -> bytes:
    """A wrap 1:1."""
    return pdf_bytes(cope_sheet(found, title, unit), Title(title, file, date), paper, 1.0, unit)
