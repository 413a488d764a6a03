"""The sheet in view on paper: white, black lines that work without colour, vector; what it says in words follows on
pages of its own. Title, project, file, date and page stand on every page.

The window keeps its theme: only what the sheet paints itself is drawn again in ink, fields and labels as plain text;
buttons, sliders and lists to pick from stay away.
"""

from __future__ import annotations

import datetime
import re
from pathlib import Path

from msgspec import Struct
from PyQt6.QtCore import QBuffer, QIODevice, QLocale, QMarginsF, QPoint, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import (
    QColor,
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
    QPen,
    QRegion,
    QTextDocument,
)
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QAbstractScrollArea, QCheckBox, QComboBox, QLabel, QLineEdit, QListWidget, QWidget

from stoutlink.app.desk.theme import INK, font
from stoutlink.app.panels.instrument_bar import InstrumentBar
from stoutlink.app.shell.hands import Hands

DPI = 96
"""Of the screen: fonts keep their size beside the drawing. What is drawn is vector, so nothing is coarser for it."""
BLACK = QColor("#010101")
"""Not quite: a preview does not record the colour that a painter begins with, and shows the window's own instead."""
HEAD, FOOT = 40.0, 24.0
MARGIN = 10.0
"""Around the page, mm."""
MOST_COLUMNS = 12
ALIGN = Qt.AlignmentFlag
LINES_BELOW = 8
"""The last lines of a page of words are not begun lower than this many pixels from its end."""


class Titles(Struct, frozen=True):
    """What stands on every page."""

    title: str
    project: str
    file: str
    date: str


def titles_of(window: Hands) -> Titles:
    """The titles of the sheet in view."""
    w = window.workspace
    name = "not saved yet" if w.file is None else w.file.name
    return Titles(window.sheet_title(), w.project.name, name, datetime.date.today().isoformat())


def paper_here() -> QPageSize.PageSizeId:
    """Letter where inches are measured by law and habit, A4 elsewhere; the preview offers every other."""
    here = QLocale.system().measurementSystem() == QLocale.MeasurementSystem.ImperialUSSystem
    return QPageSize.PageSizeId.Letter if here else QPageSize.PageSizeId.A4


def page_layout(paper: QPageSize.PageSizeId) -> QPageLayout:
    """A page of this paper across."""
    return QPageLayout(QPageSize(paper), QPageLayout.Orientation.Landscape, QMarginsF(*[MARGIN] * 4))


def sheet_as_pdf(window: Hands, paper: QPageSize.PageSizeId = QPageSize.PageSizeId.A4) -> bytes:
    """The window's sheet as a PDF."""
    store = QBuffer()
    store.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(store)
    writer.setResolution(DPI)
    writer.setPageLayout(page_layout(paper))
    writer.setTitle(f"{window.workspace.project.name}: {window.sheet_title()}")
    print_sheet(window, writer)
    store.close()
    return store.data().data()


def printer_for(window: Hands, paper: QPageSize.PageSizeId) -> QPrinter:
    """The usual printer, or a PDF file where there is none, set for the sheet in view."""
    printer = QPrinter(QPrinter.PrinterMode.ScreenResolution)
    printer.setResolution(DPI)
    printer.setPageLayout(page_layout(paper))
    printer.setDocName(f"{window.workspace.project.name} {window.step}")
    if printer.outputFormat() == QPrinter.OutputFormat.PdfFormat:
        file = window.workspace.file
        printer.setOutputFileName(str((file.parent if file else Path.home()) / f"{window.step}.pdf"))
    return printer


def print_sheet(window: Hands, device: QPagedPaintDevice) -> int:
    """Draw the sheet and its words on a device; how many pages it took."""
    titles = titles_of(window)
    sheet = window.sheets[window.step]
    with QPainter(device) as p:
        page = QRectF(QPointF(), QSizeF(device.pageLayout().paintRectPixels(DPI).size()))
        room = QRectF(0, HEAD, page.width(), page.height() - HEAD - FOOT)
        rows = [line.split("\t")[:MOST_COLUMNS] for line in sheet.as_text().splitlines()]
        pages = _broken(p, rows, room)
        count = 1 + len(pages)
        _frame(p, titles, page, 1, count, "Drawing not to scale")
        p.save()
        factor = min(room.width() / sheet.width(), room.height() / sheet.height())
        p.translate(room.left() + (room.width() - factor * sheet.width()) / 2, room.top())
        p.scale(factor, factor)
        sheet.refresh(INK)
        try:
            _draw(p, sheet, sheet, QRectF(sheet.rect()))
        finally:
            p.restore()
            sheet.refresh(window.theme)
        for number, lines in enumerate(pages, 2):
            device.newPage()
            _frame(p, titles, page, number, count, "")
            for y, cells in lines:
                for box, cell in cells:
                    p.setPen(BLACK)
                    p.setFont(font(8))
                    p.drawText(
                        box.translated(0, y), int(ALIGN.AlignLeft | ALIGN.AlignTop | Qt.TextFlag.TextWordWrap), cell
                    )
    return count


def _frame(p: QPainter, t: Titles, page: QRectF, number: int, count: int, scale: str) -> None:
    """Title above, file, date, scale and page below."""
    p.setPen(QPen(BLACK, 1))
    p.setFont(font(12, bold=True))
    p.drawText(QRectF(0, 0, page.width() * 0.62, 24), int(ALIGN.AlignLeft | ALIGN.AlignVCenter), t.title)
    p.setFont(font(9))
    project = p.fontMetrics().elidedText(t.project, Qt.TextElideMode.ElideRight, int(page.width() * 0.36))
    p.drawText(
        QRectF(page.width() * 0.63, 0, page.width() * 0.37, 24), int(ALIGN.AlignRight | ALIGN.AlignVCenter), project
    )
    p.drawLine(QPointF(0, 28), QPointF(page.width(), 28))
    p.setFont(font(8))
    foot = QRectF(0, page.height() - 16, page.width(), 16)
    file = p.fontMetrics().elidedText(t.file, Qt.TextElideMode.ElideMiddle, int(page.width() * 0.36))
    p.drawText(foot, int(ALIGN.AlignLeft | ALIGN.AlignBottom), f"{file}   {t.date}")
    p.drawText(foot, int(ALIGN.AlignHCenter | ALIGN.AlignBottom), scale)
    p.drawText(foot, int(ALIGN.AlignRight | ALIGN.AlignBottom), f"page {number} of {count}")


Cells = list[tuple[QRectF, str]]


def _broken(p: QPainter, rows: list[list[str]], room: QRectF) -> list[list[tuple[float, Cells]]]:
    """Rows laid out in columns and broken into pages: of each line its height on the page and its cells."""
    p.setFont(font(8))
    high = float(p.fontMetrics().height())
    wide = [0.0] * MOST_COLUMNS
    for row in rows:
        for i, cell in enumerate(row[:-1]):
            need = p.fontMetrics().horizontalAdvance(cell) + 1.5 * high
            wide[i] = min(0.3 * room.width(), max(wide[i], need))
    pages: list[list[tuple[float, Cells]]] = []
    y = room.bottom()
    flags = int(ALIGN.AlignLeft | ALIGN.AlignTop | Qt.TextFlag.TextWordWrap)
    for row in rows:
        x, most, cells = room.left(), high, list[tuple[QRectF, str]]()
        for i, cell in enumerate(row):
            box = QRectF(x, 0, room.right() - x if i == len(row) - 1 else wide[i], 40 * high)
            most = max(most, float(p.boundingRect(box, flags, cell).height()))
            cells.append((box, cell))
            x += wide[i]
        if y + most > room.bottom() - LINES_BELOW:
            pages.append([])
            y = room.top()
        pages[-1].append((y, cells))
        y += most
    return pages


def _draw(p: QPainter, sheet: QWidget, here: QWidget, clip: QRectF) -> None:
    """What of a widget and those below it goes on paper, in the order it lies on the screen."""
    at = here.mapTo(sheet, QPoint(0, 0))
    box = QRectF(QPointF(at), here.size().toSizeF()).intersected(clip)
    if box.isEmpty() or isinstance(here, InstrumentBar) or here.property("screen_only"):
        return
    p.save()
    p.setClipRect(box)
    _one(p, here, at)
    p.restore()
    for child in here.children():
        if isinstance(child, QWidget) and child.isVisible() and not child.isWindow():
            _draw(p, sheet, child, box)


def _one(p: QPainter, w: QWidget, at: QPoint) -> None:
    """One widget without what lies in it."""
    box = QRectF(QPointF(at), w.size().toSizeF())
    p.setPen(BLACK)
    p.setFont(w.font())
    if _paints(w):
        drawn = (w.viewport() if isinstance(w, QAbstractScrollArea) else w) or w
        drawn.render(p, at + w.mapFromGlobal(drawn.mapToGlobal(QPoint())), QRegion(drawn.rect()), QWidget.RenderFlag(0))
    elif isinstance(w, QListWidget):
        for i in range(w.count()):
            item = w.item(i)
            if item is not None:
                line = QRectF(w.visualItemRect(item)).translated(QPointF(at))
                p.drawText(line, int(ALIGN.AlignLeft | ALIGN.AlignVCenter), item.text())
    elif isinstance(w, QLineEdit):
        p.fillRect(box, QColor("white"))
        p.drawText(box.adjusted(2, 0, -2, -2), int(w.alignment() | ALIGN.AlignVCenter), w.text())
        p.setPen(QPen(BLACK, 0.5))
        p.drawLine(box.bottomLeft(), box.bottomRight())
    elif isinstance(w, QLabel):
        _label(p, w, box)
    elif isinstance(w, QComboBox):
        p.drawText(box.adjusted(4, 0, -2, 0), int(ALIGN.AlignLeft | ALIGN.AlignVCenter), w.currentText())
    elif isinstance(w, QCheckBox):
        p.drawText(box, int(ALIGN.AlignLeft | ALIGN.AlignVCenter), f"{'☑' if w.isChecked() else '☐'} {w.text()}")


def _paints(w: QWidget) -> bool:
    """Whether it is one of the program's own drawings."""
    own = (kind for kind in type(w).__mro__ if kind.__module__.startswith("stoutlink.app"))
    return any("paintEvent" in kind.__dict__ for kind in own)


def _label(p: QPainter, w: QLabel, box: QRectF) -> None:
    """A label's words in black."""
    text = w.text()
    if w.textFormat() != Qt.TextFormat.PlainText and "<" in text:
        words = QTextDocument()
        words.setDefaultFont(w.font())
        plain = re.sub(r"color:\s*#?\w+;?", "", text)
        words.setHtml(f"<div style='color: #010101'>{plain}</div>")
        words.setTextWidth(box.width())
        p.save()
        p.translate(box.topLeft())
        words.drawContents(p)
        p.restore()
        return
    wrap = int(Qt.TextFlag.TextWordWrap) if w.wordWrap() else 0
    p.drawText(box, int(w.alignment()) | wrap, text)
