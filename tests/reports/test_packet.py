"""The shop packet: opened again by poppler and pypdf, its words and numbers held against the study and by hand, on
both papers, for links, leaves, both and nothing at all.
"""

from __future__ import annotations

import io
import math
import re
import subprocess
from pathlib import Path

import pytest
from pypdf import PdfReader

from stoutlink.cli.main import main
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.mechanics.bolt_torque import coarse_thread, grade_of, proof_strength, tensile_area, torque
from stoutlink.core.reports.packet import packet_pdf, packet_sheets
from stoutlink.core.reports.packet_pages import BOX, Written, draw_written, wrapped
from stoutlink.core.reports.pdf_writer import Title, load_fonts
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.hanging.test_parts import ruled

INCH = 0.0254


def demo(name: str) -> Project:
    return read_project(demo_file(f"{name}.stoutlink"))


def pages(data: bytes) -> list[str]:
    """The words of every page, by poppler."""
    done = subprocess.run(["pdftotext", "-layout", "-", "-"], input=data, capture_output=True, check=True)
    return done.stdout.decode().split("\f")[:-1]


@pytest.mark.parametrize(("name", "paper"), [("basalt", "A4"), ("tamarack", "Letter")])
def test_the_whole_packet_opens_and_has_everything(name: str, paper: str) -> None:
    study = Study(demo(name))
    data = packet_pdf(study, f"{name}.stoutlink", "2026-05-04", paper)  # type: ignore[arg-type]
    assert data is not None
    found = pages(data)
    whole = "\n".join(found)
    for wanted in ("Shop packet", "Links", "Parts of plate", "Stations of the rear housing", "Weld order of the rear"):
        assert wanted in whole
    for wanted in ("Bolts and torque", "axle at its stops", "driveshaft, to order by", "Before anything is cut"):
        assert wanted in whole
    for one in study.cuts:
        assert f"{one.cut.centre_to_centre / INCH:.3f}″" in whole
    assert "qualified welder" in found[0]
    assert "qualified welder" in found[-1]
    size = {
        (round(float(p.mediabox.width)), round(float(p.mediabox.height))) for p in PdfReader(io.BytesIO(data)).pages
    }
    wide, high = ((595, 842), (612, 792))[paper == "Letter"]
    assert size == {(wide, high), (high, wide)}


def test_it_is_black_and_white() -> None:
    """Drawn by poppler as SVG: every stroke and fill is black, white or nothing."""
    data = packet_pdf(Study(demo("tamarack")), "f", "d", "A4")
    assert data is not None
    for number in (1, 3, 12):
        one = ["-f", str(number), "-l", str(number)]
        done = subprocess.run(["pdftocairo", "-svg", *one, "-", "-"], input=data, capture_output=True, check=True)
        colours = set(re.findall(rb"(?:stroke|fill):\s*(rgb\([^)]*\)|#\w+)", done.stdout))
        colours |= set(re.findall(rb'(?:stroke|fill)="(rgb\([^)]*\)|#\w+)"', done.stdout))
        assert colours
        for colour in colours:
            parts = set(re.findall(rb"[\d.]+%?", colour))
            assert parts in ({b"0%"}, {b"100%"}, {b"0"}), colour


def test_templates_are_at_true_scale_among_all_the_rest(tmp_path: Path) -> None:
    """The check bar of a template's page is 100 mm long, and a hole as wide as the part's."""
    project = SetChoice("settings.units", "mm").apply(demo("basalt"))
    study = Study(project)
    data = packet_pdf(study, "rig", "2026-05-04", "A4")
    assert data is not None
    part = study.parts("rear")[0]
    number = next(k for k, words in enumerate(pages(data), 1) if part.name in words and "scale 1 : 1," in words)
    lines, _ = ruled(data, tmp_path, number)
    level = [abs(w[1][0] - w[0][0]) for w in lines if len(w) == 2 and abs(w[1][1] - w[0][1]) < 1e-6]
    assert any(abs(v - 100.0) < 0.01 for v in level)
    rounds = [max(p[0] for p in w) - min(p[0] for p in w) for w in lines if len(w) > 8]
    wanted = 1000 * part.pattern.holes[0].diameter
    assert sum(abs(v - wanted) < 0.01 for v in rounds) == len(part.pattern.holes)


def test_the_weld_order_has_a_box_for_every_bead_that_is_not_laid() -> None:
    study = Study(demo("basalt"))
    sheet = study.weld_sheet("rear")
    assert sheet is not None
    one = next(
        s for _, s in packet_sheets(study, "f", "d") if isinstance(s, Written) and s.title.startswith("Weld order")
    )
    assert [row[0] for row in one.rows] == [str(k) for k in range(1, len(sheet.run.steps) + 1)]
    assert [row[3] for row in one.rows] == ["done"] * sheet.laid + [BOX] * (len(one.rows) - sheet.laid)
    assert all(step.bead.seam.name in row[1] for step, row in zip(sheet.run.steps, one.rows, strict=True))
    assert [("turn" in row[2]) for row in one.rows] == [s.turned for s in sheet.run.steps]


def test_nothing_that_is_not_entered_stands_in_it() -> None:
    data = packet_pdf(Study(demo("starter")), "new", "2026-05-04", "A4")
    assert data is not None
    (page,) = pages(data)
    assert "wheelbase" in page
    bare = with_parts(demo("basalt"), rear_layout=None, front_layout=None, stations=(), welding=(), copes=())
    whole = "\n".join(pages(packet_pdf(Study(bare), "bare", "2026-05-04", "A4") or b""))
    assert "no layout" in whole
    assert "Weld order" not in whole
    assert "Rear: drive flanges" in whole, "an axle has bolts of its own"
    assert "Left lower" not in whole
    assert "U-bolts" not in whole


def test_long_names_and_long_tables_go_over_pages() -> None:
    rows = tuple((f"{'Very' * 30} {k}", "x" * 80) for k in range(60))
    from reportlab.pdfgen.canvas import Canvas  # noqa: PLC0415

    out = io.BytesIO()
    page = Canvas(out)
    load_fonts()
    one = Written("Long", ("word " * 200,), ("Name", "What"), rows, (1, 1), ("Take care. " * 30,))
    draw_written(page, one, Title("Long", "f", "d"), "A4")
    page.save()
    found = pages(out.getvalue())
    assert len(found) > 2
    assert all("Name" in words and "What" in words for words in found[:-1])
    assert all(str(k) in "\n".join(found) for k in range(60))
    boxes = subprocess.run(["pdftotext", "-bbox", "-", "-"], input=out.getvalue(), capture_output=True, check=True)
    rims = re.findall(rb'xMin="([\d.-]+)" yMin="([\d.-]+)" xMax="([\d.-]+)" yMax="([\d.-]+)"', boxes.stdout)
    assert len(rims) > 200
    assert all(float(a) > 0 and float(c) < 596 and float(b) > 0 and float(d) < 842 for a, b, c, d in rims)
    assert all(len(line) < 40 for line in wrapped("y" * 300, "House", 10, 200))


def test_it_can_be_given_up() -> None:
    parts: list[float] = []

    def tell(part: float) -> bool:
        parts.append(part)
        return len(parts) < 3

    assert packet_pdf(Study(demo("basalt")), "f", "d", "A4", tell) is None
    assert len(parts) == 3


def test_from_the_command_line(tmp_path: Path) -> None:
    out = tmp_path / "packet.pdf"
    assert main(["export", str(demo_file("tamarack.stoutlink")), "--packet", str(out), "--paper", "Letter"]) == 0
    assert "Shop packet: Tamarack" in pages(out.read_bytes())[0]


@pytest.mark.parametrize(
    ("diameter", "threads", "area"), [(0.25, 20, 0.0318), (0.5, 13, 0.1419), (0.625, 11, 0.226), (0.75, 10, 0.334)]
)
def test_stress_areas_of_coarse_inch_threads(diameter: float, threads: int, area: float) -> None:
    """Shigley's Mechanical Engineering Design, table 8-2 (unified screw threads), in²."""
    found = tensile_area(diameter * INCH, INCH / threads, False)
    assert found / INCH**2 == pytest.approx(area, rel=2e-3)
    thread = coarse_thread(diameter * INCH)
    assert thread is not None
    assert thread.name.endswith(f"-{threads}")


@pytest.mark.parametrize(
    ("d", "pitch", "area"), [(8, 1.25, 36.6), (12, 1.75, 84.3), (16, 2.0, 157.0), (20, 2.5, 245.0)]
)
def test_stress_areas_of_metric_threads(d: int, pitch: float, area: float) -> None:
    """ISO 898-1, nominal stress areas of coarse threads, mm²."""
    assert tensile_area(d * 1e-3, pitch * 1e-3, True) * 1e6 == pytest.approx(area, rel=3e-3)


def test_torque_by_hand() -> None:
    """5/8-11 grade 8 dry: F = 0.75 · 120 ksi · 0.226 in² = 20 340 lbf, T = 0.2 · F · 0.625 in = 211.9 lbf·ft."""
    thread = coarse_thread(0.625 * INCH)
    assert thread is not None
    assert torque(thread, "grade 8") / 1.3558179483 == pytest.approx(211.9, rel=2e-3)
    assert torque(thread, "grade 8", 0.15) == pytest.approx(0.75 * torque(thread, "grade 8"))
    metric = coarse_thread(0.012)
    assert metric is not None
    assert torque(metric, "10.9") == pytest.approx(0.2 * 0.75 * 830e6 * 84.3e-6 * 0.012, rel=3e-3)
    assert [grade_of(v, True) for v in (1100e6, 940e6, 700e6, 300e6)] == ["12.9", "10.9", "8.8", ""]
    assert proof_strength("grade 5", 1.1 * INCH) == pytest.approx(74 * 6.894757e6)
    assert math.isclose(proof_strength("8.8", 0.016), 580e6)
