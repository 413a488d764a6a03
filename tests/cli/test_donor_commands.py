"""Donor axles on the command line: in, out, ranked."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from stoutlink.cli.main import main
from stoutlink.core.editing.edits import SetChoice
from stoutlink.core.storage.donor_table import read_donor_file
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.demo import demo_file


@pytest.fixture
def project(tmp_path: Path) -> Path:
    out = tmp_path / "p.stoutlink"
    out.write_bytes(demo_file("basalt.stoutlink").read_bytes())
    return out


def test_the_catalogue_goes_out_and_comes_in_the_same(
    project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    table = tmp_path / "d.csv"
    assert main(["export", str(project), "--donors", str(table)]) == 0
    before = read_project(project)
    assert read_donor_file(table).axles == before.swap.donors
    assert read_donor_file(table).marks["gs-30f", "width_m"] == "measured"
    assert main(["import", str(project), "--donors", str(table)]) == 0
    after = read_project(project)
    assert after.swap.donors == before.swap.donors
    assert {e.field for e in after.entries} == {e.field for e in before.entries}
    assert "axles taken in, 0 rows left out" in capsys.readouterr().out


def test_bad_rows_are_named_and_the_others_taken(
    project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    table = tmp_path / "bad.csv"
    rows = [
        "id,name,end,spline_teeth,spline_pitch_per_in,spline_major_diameter_m,ring_teeth,pinion_teeth,locker",
        "good,Good,rear,30,24,,41,10,air",
        "tight,Root over major,rear,35,24,0.030,41,10,",
        "half,More pinion than ring,rear,30,24,,41,43,",
        "open,Counted at the ring alone,rear,30,24,,41,,",
        "word,No such locker,rear,30,24,,41,10,magic",
        "up,No such end,up,30,24,,41,10,",
        "good,Twice,rear,30,24,,41,10,",
    ]
    table.write_text("\n".join(rows) + "\n", encoding="utf-8")
    assert main(["import", str(project), "--donors", str(table)]) == 1
    said = capsys.readouterr().err
    for words in (
        "Line 3, column spline_major_diameter_m: 35 teeth of 24 pitch have a root of 1.42″ (36 mm)",
        "Line 4, column pinion_teeth",
        "magic",
        "torque_sensing",
        "accepted is front, rear",
        "stands twice",
    ):
        assert words in said
    assert {"good", "open"} <= {d.id for d in read_project(project).swap.donors}
    assert not any(d.id in ("tight", "half", "word", "up") for d in read_project(project).swap.donors)


def test_ranking_as_data_and_as_text(project: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["rank", str(project), "--top", "5", "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    assert len(data["pairs"]) == 5
    assert data["considered"] == 165
    best = data["pairs"][0]
    weights = data["weights"]
    assert best["score"] == pytest.approx(sum(weights[k] * best["scaled"][k] for k in weights) / sum(weights.values()))
    assert main(["rank", str(project)]) == 0
    assert len(capsys.readouterr().out.splitlines()) == 11


def test_nothing_to_do_is_said(project: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["import", str(project)]) == 2
    assert "--donors" in capsys.readouterr().err
    raw = json.loads(project.read_bytes())
    raw.update(donors=[], front_donor=None, rear_donor=None, entries=[])
    project.write_text(json.dumps(raw), encoding="utf-8")
    assert main(["rank", str(project)]) == 2
    assert "no donor axles" in capsys.readouterr().err


def test_the_analysis_carries_the_ladder(project: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["analyze", str(project), "--json"]) == 0
    rear = json.loads(capsys.readouterr().out)["donors"]["rear"]
    margins = [r["margin"] for r in rear["ladder"]]
    assert margins == sorted(margins)
    spline = next(r for r in rear["ladder"] if r["part"] == "inner_spline")
    assert spline["demand_by_case_nm"]["one_wheel"] == pytest.approx(rear["shaft_demand_one_wheel_nm"])
    assert spline["demand_by_case_nm"]["level"] == pytest.approx(rear["shaft_demand_level_nm"])
    assert spline["capacity_nm"] >= rear["shaft_yield_torque_nm"]


@pytest.mark.parametrize(("units", "weight", "room"), [("in", "lb", "″"), ("mm", "kg", "mm")])
def test_a_ranking_speaks_the_projects_unit_and_the_axles_names(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], units: str, weight: str, room: str
) -> None:
    project = read_project(demo_file("basalt.stoutlink"))
    path = tmp_path / "rig.stoutlink"
    write_project(SetChoice("settings.units", units).apply(project), path)
    assert main(["rank", str(path), "--top", "2"]) == 0
    first = capsys.readouterr().out.splitlines()[1]
    main(["rank", str(path), "--top", "2", "--json"])
    best = json.loads(capsys.readouterr().out)["pairs"][0]
    names = {d.id: d.name for d in project.swap.donors}
    assert f"{names[best['front']]} + {names[best['rear']]}" in first
    number = best["weight_kg"] / (0.45359237 if units == "in" else 1.0)
    assert f"weight {number:.0f} {weight}" in first
    height = best["clearance_m"] / (0.0254 if units == "in" else 0.001)
    assert f"under the housing {height:.{1 if units == 'in' else 0}f}{'' if units == 'in' else ' '}{room}" in first
