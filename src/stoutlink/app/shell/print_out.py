"""The sheet in view on paper: A4 across, the light theme, vector; what can be said in words follows on pages of its
own.
"""

from __future__ import annotations

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QPoint, QRectF, Qt
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

from stoutlink.app.desk.theme import font
from stoutlink.app.shell.hands import Hands


def _words(p: QPainter, writer: QPdfWriter, text: str) -> None:
    """The sheet in words on pages of their own, columns under each other where lines have as many."""
    page = writer.pageLayout().paintRectPixels(writer.resolution())
    p.setFont(font(8))
    p.setPen(Qt.GlobalColor.black)
    high = p.fontMetrics().height()
    wide = [0.0] * 12
    rows = [line.split("\t")[:12] for line in text.splitlines()]
    for row in rows:
        for i, cell in enumerate(row[:-1]):
            wide[i] = min(0.3 * page.width(), max(wide[i], p.fontMetrics().horizontalAdvance(cell) + 1.5 * high))
    y = page.height()
    for row in rows:
        if y + 2 * high > page.height():
            writer.newPage()
            y = 0
        x, most = 0.0, high
        for i, cell in enumerate(row):
            room = QRectF(x, y, page.width() - x if i == len(row) - 1 else wide[i], 40 * high)
            flags = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap)
            most = max(most, int(p.boundingRect(room, flags, cell).height()))
            p.drawText(room, flags, cell)
            x += wide[i]
        y += most


def sheet_as_pdf(window: Hands) -> bytes:
    """The window's sheet as one page, and what it says in words on pages of their own."""
    before = window.theme.name
    window.set_theme("light")
    try:
        page_store = QBuffer()
        page_store.open(QIODevice.OpenModeFlag.WriteOnly)
        writer = QPdfWriter(page_store)
        writer.setPageLayout(
            QPageLayout(
                QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Landscape, QMarginsF(10, 10, 10, 10)
            )
        )
        writer.setTitle(f"{window.workspace.project.name}: {window.step}")
        p = QPainter(writer)
        sheet = window.sheets[window.step]
        page = writer.pageLayout().paintRectPixels(writer.resolution())
        factor = min(page.width() / sheet.width(), page.height() / sheet.height())
        p.scale(factor, factor)
        sheet.render(p, QPoint(0, 0))
        said = sheet.as_text()
        if said:
            p.resetTransform()
            _words(p, writer, said)
        p.end()
        page_store.close()
        return page_store.data().data()
    finally:
        window.set_theme(before)
