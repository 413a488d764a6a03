"""``bench``: as text, JSON, table and paper; what is due and its exit code; the same answers as the window's study."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import pytest
from pypdf import PdfReader

from stoutlink.cli.main import main
from stoutlink.core.advice.bench_words import bolt_words, line_words
from stoutlink.core.document.bench import Fastener
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.storage.files import write_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file
from tests.bench.places import bare

DEMO = str(demo_file("basalt.stoutlink"))


def test_json_is_what_the_study_says(basalt: Project, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["bench", DEMO, "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert set(data) == {"cards", "gears", "fasteners", "cases", "brakes", "undone", "due", "first_drive"}
    study = Study(basalt)
    study.cycle()
    for card in data["cards"]:
        mine = study.bench_card(card["assembly"])
        assert mine is not None
        assert [s["standing"] for s in card["steps"]] == [one.standing for one in mine.lines]
        assert card["done"] == mine.done
    assert [b["torque_nm"] for b in data["fasteners"]] == [b.target for b in study.fasteners]
    assert data["brakes"]["locks_first"] == study.brake_sheet.lock.end if study.brake_sheet.lock else None
    assert [g["standing"] for g in data["first_drive"]["gates"]] == [g.standing for g in study.drive_sheet.gates]
    front = next(c for c in data["cards"] if c["assembly"] == "front")
    assert front["left_at"] == "shafts_out"
    assert front["lacking"] == ["kingpin socket"]


def test_due_says_what_is_due_and_answers_with_its_code(basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:  # fmt: skip
    assert main(["bench", DEMO, "--due"]) == 1
    said = capsys.readouterr().out
    assert "Flange bolts torqued and locked" in said
    assert "Front axle: left at “Shafts out”" in said
    none = with_parts(bare(basalt), front_donor=None, rear_donor=None)
    write_project(none, tmp_path / "x.stoutlink")
    assert main(["bench", str(tmp_path / "x.stoutlink"), "--due"]) == 0
    assert capsys.readouterr().out.strip() == "Nothing is due."


def test_text_has_every_card_bolt_and_gate(basalt: Project, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["bench", DEMO]) == 0
    said = capsys.readouterr().out
    study = Study(basalt)
    study.cycle()
    for card in study.cards.values():
        for one in card.lines:
            assert line_words(one, "in") in said
    for b in study.fasteners:
        assert bolt_words(b, "in") in said


def test_the_table_and_the_paper_open_again(
    basalt: Project, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    table, paper = tmp_path / "b.csv", tmp_path / "b.pdf"
    assert main(["bench", DEMO, "--csv", str(table), "--pdf", str(paper), "--paper", "Letter"]) == 0
    rows = list(csv.DictReader(table.read_text(encoding="utf-8").splitlines()))
    study = Study(basalt)
    study.cycle()
    assert len(rows) == sum(len(c.lines) for c in study.cards.values()) + len(study.fasteners)
    weighed = next(r for r in rows if r["assembly"] == "rear" and r["what"] == "Weigh it")
    donor = basalt.donor("rear")
    assert donor is not None
    assert donor.weight_kg is not None
    assert float(weighed["read"]) == pytest.approx(donor.weight_kg)
    assert weighed["by"] == "Bo"
    reader = PdfReader(paper)
    words = " ".join(" ".join(page.extract_text().split()) for page in reader.pages)
    for part in ("Front axle", "Rear axle", "Steering", "Driveline", "Bolts and torque", "First drive", "Left undone", "kingpin socket", "2 punch marks"):  # fmt: skip
        assert part in words, part
    assert float(reader.pages[0].mediabox.width) == pytest.approx(612, abs=1), "Letter"


def test_a_cell_that_a_spreadsheet_would_run_leaves_as_text(basalt: Project, tmp_path: Path) -> None:
    p = with_parts(bare(basalt), fasteners=(Fastener(id="own-1", name='=HYPERLINK("x")'),))
    write_project(p, tmp_path / "x.stoutlink")
    assert main(["bench", str(tmp_path / "x.stoutlink"), "--csv", str(tmp_path / "b.csv")]) == 0
    cells = [c for row in csv.reader((tmp_path / "b.csv").read_text(encoding="utf-8").splitlines()) for c in row]
    assert not any(c.startswith("=") for c in cells)
    assert any("HYPERLINK" in c for c in cells)


def test_a_file_that_is_not_there_is_one_sentence(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["bench", "/nowhere/x.stoutlink"]) == 2
    assert capsys.readouterr().err.startswith("stout-link:")
