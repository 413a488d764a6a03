"""Paper: white, black lines without colour, titled and numbered; the window is left as it is."""

from __future__ import annotations

import subprocess
from collections.abc import Callable
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QPageLayout, QPageSize, QPdfWriter
from PyQt6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from stoutlink.app.desk import dialogs
from stoutlink.app.shell.print_out import page_layout, print_sheet, sheet_as_pdf
from stoutlink.app.shell.window import MainWindow
from stoutlink.app.steps import registry
from tests.app.conftest import Answers


def words(path: Path) -> str:
    """A PDF read by another program."""
    return subprocess.run(["pdftotext", "-layout", str(path), "-"], capture_output=True, text=True, check=True).stdout


def pictures(path: Path, folder: Path) -> list[bytes]:
    """Its pages as pixels, three bytes each."""
    subprocess.run(["pdftoppm", "-r", "50", str(path), str(folder / "page")], check=True)
    out = []
    for page in sorted(folder.glob("page*.ppm")):
        head, size, depth, pixels = page.read_bytes().split(b"\n", 3)
        assert (head, depth) == (b"P6", b"255")
        assert size
        out.append(pixels)
    return out


@pytest.mark.parametrize("step", [one.id for one in registry.STEPS])
def test_every_sheet_prints_in_black_on_white_and_the_window_keeps_its_theme(
    window: MainWindow, tmp_path: Path, step: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    window.show_step(step)
    changed: list[str] = []
    monkeypatch.setattr(window, "set_theme", changed.append)
    path = tmp_path / "sheet.pdf"
    path.write_bytes(sheet_as_pdf(window))
    assert changed == []
    assert getattr(window.sheets[step], "_theme", window.theme) is window.theme
    for pixels in pictures(path, tmp_path):
        red, green, blue = pixels[0::3], pixels[1::3], pixels[2::3]
        assert max(map(abs, (a - b for a, b in zip(red, blue, strict=True)))) <= 2  # no colour at all
        assert max(map(abs, (a - b for a, b in zip(red, green, strict=True)))) <= 2
        assert sum(v > 250 for v in red) > 0.6 * len(red)  # paper, not a dark sheet
        assert min(red) < 60  # and black lines on it


def test_title_project_file_date_and_page_stand_on_every_page(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    answers.path = tmp_path / "crawler"
    assert window.files.save_as()
    window.show_step("donors")
    window.sheets["donors"].look("cost")
    path = tmp_path / "cost.pdf"
    path.write_bytes(sheet_as_pdf(window))
    pages = words(path).split("\f")[:-1]
    assert len(pages) >= 2
    for n, page in enumerate(pages, 1):
        assert "Donors, rear axle" in page
        assert "Basalt rear swap" in page
        assert "crawler.stoutlink" in page
        assert f"page {n} of {len(pages)}" in page
    assert "Drawing not to scale" in pages[0]
    assert not any(button in pages[0] for button in ("Put it under", "New axle", "Remove"))


def test_what_stands_in_fields_and_lists_is_printed(window: MainWindow, tmp_path: Path) -> None:
    window.show_step("rig")
    window.sheets["rig"].look("weight")
    path = tmp_path / "rig.pdf"
    path.write_bytes(sheet_as_pdf(window))
    said = words(path)
    for text in ("1155 lb", "1127 lb", "988 lb", "1005 lb", "Belly skid and sliders", "Weight: scales", "Basalt"):
        assert text in said, text
    assert "Add an item" not in said
    assert "Connect scales" not in said


@pytest.mark.parametrize(
    ("paper", "size"),
    [(QPageSize.PageSizeId.A4, (842, 595)), (QPageSize.PageSizeId.Letter, (792, 612))],
)
def test_a4_and_letter(window: MainWindow, tmp_path: Path, paper: QPageSize.PageSizeId, size: tuple[int, int]) -> None:
    path = tmp_path / "sheet.pdf"
    path.write_bytes(sheet_as_pdf(window, paper))
    said = subprocess.run(["pdfinfo", str(path)], capture_output=True, text=True, check=True).stdout
    line = next(one for one in said.splitlines() if one.startswith("Page size"))
    wide, high = (float(v) for v in line.split(":")[1].split("pts")[0].split("x"))
    assert (round(wide), round(high)) == size


def test_the_preview_paints_the_sheet_on_the_paper_chosen_there(
    window: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    seen: list[str] = []

    def preview(parent: QWidget, printer: QPrinter, paint: Callable[[QPrinter], object]) -> None:
        seen.append(printer.docName())
        for name, way in (("across", QPageLayout.Orientation.Landscape), ("upright", QPageLayout.Orientation.Portrait)):
            printer.setPageOrientation(way)
            printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
            printer.setOutputFileName(str(tmp_path / f"{name}.pdf"))
            paint(printer)

    monkeypatch.setattr(dialogs, "preview", preview)
    window.show_step("layout")
    window.actions_by_id["print"].trigger()
    assert seen == ["Basalt rear swap layout"]
    for name in ("across", "upright"):
        assert "Layout, rear axle" in words(tmp_path / f"{name}.pdf")


def test_long_names_and_an_empty_project_print_too(window: MainWindow, tmp_path: Path) -> None:
    window.take(msgspec.structs.replace(window.workspace.project, name="A project with a very long name " * 3), None)
    writer = QPdfWriter(str(tmp_path / "long.pdf"))
    writer.setResolution(96)
    writer.setPageLayout(page_layout(QPageSize.PageSizeId.A4))
    assert print_sheet(window, writer) == 1
    assert "A project with a very long" in words(tmp_path / "long.pdf")
    window.workspace.session.mark_saved()
    window.files.new()
    for step in window.sheets:
        window.show_step(step)
        assert sheet_as_pdf(window).startswith(b"%PDF")


def test_the_preview_shows_what_is_printed(qtbot: QtBot, window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    """The real box: every word of the title is as dark on its page as it is on paper, under a dark window too."""
    seen: list[int] = []

    def look() -> None:
        box = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QPrintPreviewDialog) and w.isVisible())
        shown = box.grab().toImage()
        page = [
            (x, y)
            for x in range(0, shown.width(), 2)
            for y in range(60, shown.height(), 2)
            if shown.pixelColor(x, y).lightness() == 255
        ]
        left, top = min(x for x, _ in page), min(y for _, y in page)
        title = [shown.pixelColor(x, y).lightness() for x in range(left, left + 120) for y in range(top, top + 30)]
        seen.append(min(title))
        box.close()

    monkeypatch.setattr(dialogs, "preview", dialogs._preview)
    window.show_step("cut")
    QTimer.singleShot(1000, look)
    window.actions_by_id["print"].trigger()
    assert seen
    assert seen[0] < 120
