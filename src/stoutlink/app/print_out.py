"""The sheet in view on paper: A4 across, the light theme, vector."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QMarginsF, QPoint
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

if TYPE_CHECKING:
    from stoutlink.app.window import MainWindow


def sheet_to_pdf(window: MainWindow, path: Path) -> bool:
    """Write the window's sheet as one page; ``False`` when the file cannot be written."""
    before = window.theme.name
    window.set_theme("light")
    try:
        writer = QPdfWriter(str(path))
        writer.setPageLayout(QPageLayout(QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Landscape, QMarginsF(10, 10, 10, 10)))
        writer.setTitle(f"{window.workspace.project.name}: {window.step}")
        p = QPainter()
        if not p.begin(writer):
            return False
        sheet = window.sheets[window.step]
        page = writer.pageLayout().paintRectPixels(writer.resolution())
        factor = min(page.width() / sheet.width(), page.height() / sheet.height())
        p.scale(factor, factor)
        sheet.render(p, QPoint(0, 0))
        return p.end()
    finally:
        window.set_theme(before)
