"""``parts-list``, ``import --parts`` and ``plan --day``: the same answers as the window, tables that come back, exit codes."""

from __future__ import annotations

import csv
import datetime
import json
from pathlib import Path

import msgspec
import pytest
from pypdf import PdfReader

from stoutlink.cli.main import main
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.quantity.money import cents
from stoutlink.core.reports.parts_results import parts_json
from stoutlink.core.reports.plan_results import day_json
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.study.study import Study

TODAY = datetime.date(2026, 9, 21)
DAY = ["--today", "2026-09-21"]


@pytest.fixture
def file(basalt: Project, tmp_path: Path) -> str:
    write_project(basalt, tmp_path / "x.stoutlink")
    return str(tmp_path / "x.stoutlink")


def said(capsys: pytest.CaptureFixture[str]) -> str:
    return capsys.readouterr().out


def test_json_is_what_the_core_says(basalt: Project, file: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["parts-list", file, "--json", *DAY]) == 0
    data = json.loads(said(capsys))
    assert data == json.loads(json.dumps(parts_json(Study(basalt).parts_list(TODAY), "cr")))
    main(["analyze", file, "--json"])
    cost = json.loads(said(capsys))["cost_to_ready"]
    assert cents(cost["total"] + cost["tools"] - cost["hours"] * basalt.swap.choosing.hour_price) == cents(
        data["axles_ready"]
    )
    amounts = {k: x["amount"] for x in cost["lines"] for k in (x["id"], f"{x['id']}-{x['end']}")}
    for line in data["lines"]:
        if line["in_cost_of_axles"]:
            assert amounts[line["line"]] == line["amount"], line["line"]


def test_text_names_each_line_once_under_its_lane(
    basalt: Project, file: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["parts-list", file, *DAY]) == 0
    text = said(capsys)
    assert [h for h in text.splitlines() if h in ("Front axle", "Rear axle", "Frame", "Brakes", "Driveline")] == ["Front axle", "Rear axle", "Frame", "Brakes", "Driveline"]  # fmt: skip
    for line in Study(basalt).parts_list(TODAY).lines:
        assert line.wanted.title in text
    assert "came “kit with crush sleeve”" in text
    assert "Prices marked ~ are the program's estimates" in text


def test_due_gives_one_when_anything_is(
    basalt: Project, file: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["parts-list", file, "--due", "--json", *DAY]) == 1
    due = {x["line"]: x["why"] for x in json.loads(said(capsys))["due"]}
    assert due == {"gear_kit-rear": "Came as another than ordered", "joint-rod-100-l": "Late"}
    clean = msgspec.structs.replace(basalt, build=msgspec.structs.replace(basalt.build, arrivals=()))
    write_project(clean, tmp_path / "clean.stoutlink")
    assert main(["parts-list", str(tmp_path / "clean.stoutlink"), "--due", *DAY]) == 0
    assert "Nothing is late" in said(capsys)


def test_a_table_goes_out_is_changed_and_comes_in(
    file: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    out = tmp_path / "parts.csv"
    assert main(["parts-list", file, "--csv", str(out), *DAY]) == 0
    before = Path(file).read_bytes()
    assert main(["import", file, "--parts", str(out)]) == 0
    assert Path(file).read_bytes() == before, "what was not changed changes nothing"
    rows = list(csv.DictReader(out.read_text(encoding="utf-8").splitlines()))
    for row in rows:
        if row["line"] == "driveshaft-rear":
            row.update(price_each="351.20", state="ordered", ordered="2026-09-20")
        if row["line"] == "brake_lines-rear":
            row["state"] = "lost"
    with out.open("w", encoding="utf-8", newline="") as handle:
        writer = csv.DictWriter(handle, list(rows[0]))
        writer.writeheader()
        writer.writerows(rows)
    capsys.readouterr()
    assert main(["import", file, "--parts", str(out)]) == 1
    text = capsys.readouterr()
    assert "state “lost”: accepted are needed, ordered" in text.err
    assert f"{len(rows) - 1} parts taken in, 1 rows left out" in text.out
    after = read_project(Path(file))
    line = Study(after).parts_list(TODAY).line("driveshaft-rear")
    assert line is not None
    assert (line.amount, line.state) == (351.20, "ordered")


def test_what_is_no_table_is_refused_and_nothing_written(
    file: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    before = Path(file).read_bytes()
    (tmp_path / "bad.csv").write_text("item,price\nx,1\n", encoding="utf-8")
    assert main(["import", file, "--parts", str(tmp_path / "bad.csv")]) == 2
    assert "C116" in capsys.readouterr().err
    assert main(["import", file, "--parts", str(tmp_path / "none.csv")]) == 2
    assert Path(file).read_bytes() == before
    assert main(["parts-list", file, "--today", "yesterday"]) == 2
    assert "F151" in capsys.readouterr().err


def test_two_builds_side_by_side(
    basalt: Project, file: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    other = with_parts(basalt, rear_plan=msgspec.structs.replace(basalt.swap.rear_plan, shaved=True))
    write_project(other, tmp_path / "y.stoutlink")
    assert main(["parts-list", file, "--against", str(tmp_path / "y.stoutlink"), "--json", *DAY]) == 0
    data = json.loads(said(capsys))
    assert [x["line"] for x in data["only_b"]] == ["shave-rear"]
    assert data["only_a"] == []
    assert cents(data["b_costs_more"]) == cents(data["only_b"][0]["amount"])
    main(["parts-list", file, "--against", str(tmp_path / "y.stoutlink"), *DAY])
    text = said(capsys)
    assert text.startswith("y.stoutlink costs 130 more")
    assert "Only y.stoutlink: Shaving the housing and its cover, rear" in text


def test_paper_has_every_line(basalt: Project, file: str, tmp_path: Path) -> None:
    assert main(["parts-list", file, "--pdf", str(tmp_path / "p.pdf"), "--paper", "Letter", *DAY]) == 0
    reader = PdfReader(tmp_path / "p.pdf")
    assert round(float(reader.pages[0].mediabox.width)) == 612
    words = " ".join(" ".join(page.extract_text().split()) for page in reader.pages)
    for line in Study(basalt).parts_list(TODAY).lines:
        assert " ".join(line.wanted.title.split()[:2]) in words


def test_the_day_as_text_json_and_paper(
    basalt: Project, file: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    main(["plan", file, "--day", "--json", *DAY])
    assert json.loads(said(capsys)) == json.loads(json.dumps(day_json(Study(basalt), TODAY)))
    main(["plan", file, "--day", *DAY])
    text = said(capsys)
    assert text.startswith("Mon 2026-09-21. Looks ")
    assert "Left on 2026-09-19 (Ida)" in text
    assert "The shop with the press, 2026-09-26" in text
    main(["plan", file, "--day", "--pdf", str(tmp_path / "d.pdf"), *DAY])
    words = " ".join(" ".join(page.extract_text().split()) for page in PdfReader(tmp_path / "d.pdf").pages)
    assert "Day sheet, 2026-09-21" in words
    assert "Along to The shop with the press" in words
    assert "Angle gauge" in words
