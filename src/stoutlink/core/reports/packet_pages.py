"""Pages of words and tables for the bench: upright, black and white, large print, boxes to tick and room to write."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from msgspec import Struct

from stoutlink.core.drawing.shapes import Shape, extent_of, plain
from stoutlink.core.reports.pdf_writer import HEAD as TITLE_BLOCK
from stoutlink.core.reports.pdf_writer import MARGIN, PAPERS, POINT, Paper, Title, draw_shapes

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

SIZE, LEAD = 10.5, 1.32
"""Letters of a table, points, and lines over letters."""
PAD = 3.5
BOX = "☐"
"""A cell with this is drawn as a box to tick."""
HEAD = 46.0
"""Over the first line of a page, points."""


class Written(Struct, frozen=True):
    """A page of words and at most one table. ``shares`` of the width by column; a cell of :data:`BOX` is a box to tick, an
    empty one room to write. ``cautions`` stand in a frame at the end."""

    title: str
    words: tuple[str, ...] = ()
    head: tuple[str, ...] = ()
    rows: tuple[tuple[str, ...], ...] = ()
    shares: tuple[float, ...] = ()
    cautions: tuple[str, ...] = ()
    picture: tuple[Shape, ...] = ()
    """Drawn in what is left of the page, as large as it fits; not to any scale."""


class Drawn(Struct, frozen=True):
    """A drawing at 1 : ``scale`` over as many pages as it takes."""

    title: str
    shapes: tuple[Shape, ...]
    scale: float


Sheet = Written | Drawn


class _Pen:
    """Where the next line goes; a new page when it does not fit."""

    def __init__(self, page: Canvas, one: Written, title: Title, paper: Paper) -> None:
        self.page, self.one, self.title = page, one, title
        self.wide, self.high = (v / POINT for v in PAPERS[paper])
        self.left, self.right = MARGIN / POINT + 4, self.wide - MARGIN / POINT - 4
        self.number = 0
        self.y = 0.0
        self.begin()

    def begin(self) -> None:
        """A new page with its head."""
        self.number += 1
        self.page.setPageSize((self.wide, self.high))
        self.page.setDash([])
        top = self.high - MARGIN / POINT
        self.page.setFont("House-Bold", 15)
        self.page.drawString(self.left, top - 15, self.one.title[:70])
        self.page.setFont("House", 8)
        self.page.drawRightString(self.right, top - 12, f"page {self.number}")
        self.page.drawString(self.left, top - 28, f"{self.title.file}  {self.title.date}"[:120])
        self.page.setLineWidth(0.8)
        self.page.line(self.left, top - 33, self.right, top - 33)
        self.y = self.high - MARGIN / POINT - HEAD

    def need(self, room: float) -> bool:
        """Room for so many points; whether a new page was begun for it."""
        if self.y - room >= MARGIN / POINT + 6:
            return False
        self.page.showPage()
        self.begin()
        return True


def wrapped(text: str, face: str, size: float, wide: float) -> list[str]:
    """Words in lines that fit a width, points; a word longer than the line is broken."""
    from reportlab.lib.utils import simpleSplit  # noqa: PLC0415 - only wanted for paper
    from reportlab.pdfbase.pdfmetrics import stringWidth  # noqa: PLC0415

    out: list[str] = []
    for line in simpleSplit(text, face, size, wide) or [""]:
        while stringWidth(line, face, size) > wide and len(line) > 1:
            n = next(k for k in range(len(line), 0, -1) if k == 1 or stringWidth(line[:k], face, size) <= wide)
            out.append(line[:n])
            line = line[n:]
        out.append(line)
    return out


def draw_written(page: Canvas, one: Written, title: Title, paper: Paper) -> None:
    """A page of words and a table, over as many pages as it takes; the heading of the table stands on each."""
    pen = _Pen(page, one, title, paper)
    for words in one.words:
        _paragraph(pen, words, "House", 11.0)
    if one.head:
        shares = one.shares or tuple(1.0 for _ in one.head)
        whole = sum(shares)
        widths = [(pen.right - pen.left) * s / whole for s in shares]
        _row(pen, one.head, widths, bold=True)
        for row in one.rows:
            lines = _lines(row, widths, bold=False)
            if pen.need(_height(lines)):
                _row(pen, one.head, widths, bold=True)
            _row(pen, row, widths, bold=False)
    pen.y -= 8
    for words in one.cautions:
        said = wrapped(words, "House-Bold", 10.5, pen.right - pen.left - 16)
        high = len(said) * 10.5 * LEAD + 10
        pen.need(high + 6)
        page.setLineWidth(1.4)
        page.rect(pen.left, pen.y - high, pen.right - pen.left, high)
        page.setFont("House-Bold", 10.5)
        for k, line in enumerate(said):
            page.drawString(pen.left + 8, pen.y - 13 - k * 10.5 * LEAD, line)
        pen.y -= high + 6
    if one.picture:
        _picture(pen, one.picture)
    page.showPage()


def _picture(pen: _Pen, shapes: tuple[Shape, ...]) -> None:
    """Shapes in the rest of the page, where there is room for them."""
    drawn = list(plain(shapes))
    extent, low = extent_of(drawn), MARGIN / POINT + 8
    wide, high = (pen.right - pen.left) * POINT, (pen.y - low - 8) * POINT
    if extent is None or high < 0.04:
        return
    size = extent[1][0] - extent[0][0], extent[1][1] - extent[0][1]
    scale = max(size[0] / wide, size[1] / high)
    room = size[0] / scale, size[1] / scale
    pen.page.saveState()
    pen.page.translate(pen.left - MARGIN / POINT, pen.y - 8 - room[1] / POINT - (MARGIN + TITLE_BLOCK) / POINT)
    draw_shapes(pen.page, drawn, extent[0], scale, room)
    pen.page.restoreState()


def _paragraph(pen: _Pen, words: str, face: str, size: float) -> None:
    for line in wrapped(words, face, size, pen.right - pen.left):
        pen.need(size * LEAD)
        pen.page.setFont(face, size)
        pen.page.drawString(pen.left, pen.y - size, line)
        pen.y -= size * LEAD
    pen.y -= 4


def _lines(row: Sequence[str], widths: Sequence[float], *, bold: bool) -> list[list[str]]:
    face = "House-Bold" if bold else "House"
    return [wrapped(cell, face, SIZE, wide - 2 * PAD) for cell, wide in zip(row, widths, strict=True)]


def _height(lines: list[list[str]]) -> float:
    return max(len(cell) for cell in lines) * SIZE * LEAD + 2 * PAD + 3


def _row(pen: _Pen, row: Sequence[str], widths: Sequence[float], *, bold: bool) -> None:
    """One row of the table, its cells framed."""
    lines = _lines(row, widths, bold=bold)
    high = _height(lines)
    page, x = pen.page, pen.left
    page.setLineWidth(1.0 if bold else 0.4)
    for cell, wide, words in zip(row, widths, lines, strict=True):
        page.rect(x, pen.y - high, wide, high)
        if cell == BOX:
            side = SIZE * 1.15
            page.setLineWidth(0.9)
            page.rect(x + 0.5 * (wide - side), pen.y - 0.5 * (high + side), side, side)
            page.setLineWidth(0.4)
        else:
            page.setFont("House-Bold" if bold else "House", SIZE)
            for k, line in enumerate(words):
                page.drawString(x + PAD, pen.y - PAD - SIZE - k * SIZE * LEAD, line)
        x += wide
    pen.y -= high
