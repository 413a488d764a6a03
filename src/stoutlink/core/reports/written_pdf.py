"""Written pages as one PDF."""

from __future__ import annotations

import datetime
import io
from collections.abc import Iterable

from stoutlink.core.reports.packet_pages import Written, draw_written
from stoutlink.core.reports.pdf_writer import Paper, Title, load_fonts


def written_pdf(pages: Iterable[Written], what: str, name: str, file: str, paper: Paper) -> bytes:
    """The pages, each with title, file and date."""
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415 - slow to load and only wanted for paper

    out = io.BytesIO()
    page = Canvas(out, pageCompression=1, invariant=1)
    page.setTitle(f"{what}, {name}")
    page.setCreator("Stout Link")
    load_fonts()
    today = datetime.date.today().isoformat()
    for one in pages:
        draw_written(page, one, Title(one.title, file, today), paper)
    page.save()
    return out.getvalue()
