"""Command line and window say the same: findings, cut list, numbers, ranking, drawings."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from stoutlink.app.main import make_app, make_window
from stoutlink.app.steps.cut.sheet import CutSheet
from stoutlink.cli.main import main
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

WAIT_MS = 30_000


@pytest.mark.parametrize("name", ["basalt", "tamarack"])
def test_check_and_the_knock_ons_are_the_same_list(name: str, qtbot: QtBot, capsys: pytest.CaptureFixture[str]) -> None:
    path = demo_file(f"{name}.stoutlink")
    assert main(["check", str(path)]) == 1
    *lines, count = capsys.readouterr().out.strip().splitlines()
    make_app("dark")
    window = make_window(read_project(path), None, "dark")
    qtbot.addWidget(window)
    window.show()
    with qtbot.waitSignal(window.workspace.cycling.done, timeout=WAIT_MS):
        pass  # nobody has looked at the travel: it is cycled all the same
    study = window.workspace.study
    assert [f"{f.code} {f.severity}: {f.sentence} {f.why}" for f in study.open_so_far] == lines
    listed = [c for key, c in window.knock_ons._cards.items() if key[2] is None]
    assert sum(len(key[0].findings) for key in window.knock_ons._cards) == len(lines)
    assert window.knock_ons._title.text() == f"Knock-ons  {len(listed)} open"
    assert count.startswith(f"{len(lines)} open, ")
    assert any(line.startswith("T3") for line in lines)


def test_json_text_and_window_list_the_same_cuts(
    capsys: pytest.CaptureFixture[str], qtbot: QtBot, tmp_path: Path
) -> None:
    path = demo_file("basalt.stoutlink")
    main(["analyze", str(path), "--json"])
    data = json.loads(capsys.readouterr().out)
    assert main(["export", str(path), "--cutlist", str(tmp_path / "c.csv")]) == 0
    table = [line.split(",") for line in (tmp_path / "c.csv").read_text(encoding="utf-8").splitlines()]
    make_app("dark")
    window = make_window(read_project(path), None, "dark")
    qtbot.addWidget(window)
    for unit, metre, to in (("in", 0.0254, 5e-4), ("mm", 0.001, 0.05)):
        if window.workspace.unit != unit:
            window.switch_units()
        sheet = [line.split("\t") for line in window.sheet(CutSheet).as_text().splitlines()[1:]]
        assert len(data["cut_list"]) == len(table) - 1 == len(sheet) - 1
        assert {len(row) for row in sheet} == {10}
        for one, row in zip(data["cut_list"], sheet[1:], strict=True):
            assert row[1] == one["name"]
            for cell, name in ((row[2], "centre_to_centre_m"), (row[3], "tube_cut_m")):
                number = float(cell.replace("″", " ").split()[0])
                assert number * metre == pytest.approx(one[name], abs=1.01 * to * metre)
    window.workspace.session.mark_saved()


def test_findings_of_the_analysis_are_those_of_check(capsys: pytest.CaptureFixture[str]) -> None:
    path = str(demo_file("tamarack.stoutlink"))
    main(["analyze", path, "--json"])
    said = [f["code"] for f in json.loads(capsys.readouterr().out)["findings"] if not f["accepted"]]
    main(["check", path])
    assert said == [line.split()[0] for line in capsys.readouterr().out.splitlines()[:-1]]


def test_travel_command_and_study(capsys: pytest.CaptureFixture[str]) -> None:
    path = demo_file("basalt.stoutlink")
    main(["travel", str(path), "--end", "front", "--json"])
    data = json.loads(capsys.readouterr().out)
    travel = Study(read_project(path)).travel("front")
    assert travel is not None
    assert len(data["touching"]) == len(travel.interference.contacts)
    least = {(c["one"], c["other"]): c["least_m"] for c in data["touching"]}
    for c in travel.interference.contacts[:20]:
        assert least[c.one, c.other] == pytest.approx(c.least, abs=1e-9)


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_drawings_from_the_command_line(paper: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path, pdf, dxf = str(demo_file("basalt.stoutlink")), tmp_path / "a.pdf", tmp_path / "a.dxf"
    wanted = ["--drawing", "rear", "side", str(pdf), "--drawing", "front", "plan", str(dxf)]
    assert main(["export", path, *wanted, "--paper", paper]) == 0
    assert pdf.read_bytes().startswith(b"%PDF")
    assert "LWPOLYLINE" in dxf.read_text(encoding="utf-8")
    box = re.search(rb"/MediaBox \[ ?0 0 ([\d.]+) ([\d.]+)", pdf.read_bytes())
    assert box is not None
    wide, high = float(box[1]), float(box[2])
    assert (wide, high) == pytest.approx((841.89, 595.28) if paper == "A4" else (792.0, 612.0), abs=0.01)
    capsys.readouterr()
    for bad in (("middle", "side", "a.pdf"), ("rear", "below", "a.pdf"), ("rear", "side", "a.txt")):
        assert main(["export", path, "--drawing", bad[0], bad[1], str(tmp_path / bad[2])]) == 2
        assert bad[0] in (said := capsys.readouterr().err) or bad[1] in said
