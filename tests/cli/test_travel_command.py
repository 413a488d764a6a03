"""Travel on the command line: the same as the window, as JSON, words and a table."""

from __future__ import annotations

import csv
import json
import math
from pathlib import Path

import numpy as np
import pytest

from stoutlink.cli.main import main
from stoutlink.core.analysis.cycle.travel import axle_travel
from stoutlink.core.analysis.vehicle.effective_vehicle import effective_vehicle
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.storage.files import write_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file


def test_the_axle_that_touches(capsys: pytest.CaptureFixture[str], tmp_path: Path, basalt: Project) -> None:
    table = tmp_path / "front.csv"
    assert main(["travel", str(demo_file("basalt.stoutlink")), "--end", "front", "--json", "--csv", str(table)]) == 1
    data = json.loads(capsys.readouterr().out)
    found = axle_travel(basalt, effective_vehicle(basalt).rig, "front")
    assert found is not None
    first = data["touching"][0]
    assert {first["one"], first["other"]} == {"Right lower", "Driveshaft"}
    assert first["least_m"] == pytest.approx(found.interference.contacts[0].least)
    assert sum(data["poses"].values()) == data["stations"]["heave"] * data["stations"]["roll"]
    assert data["poses"]["touches"] > 0
    inside = found.grid.within
    poses = data["poses"]
    assert poses["free"] + poses["near"] + poses["runs_out"] + poses["touches"] == int(inside.sum())
    # a rail at the spring's spacing, one side at bump and the other at droop: sin(roll) at ride is the lesser of both
    # over half the spacing
    half = 0.5 * (found.layout.spring_spacing_m or 2 * abs(found.layout.shock.axle_m[1] if found.layout.shock else 0.0))
    most = math.degrees(math.asin(min(data["side_droop_m"], data["side_bump_m"]) / half))
    assert most - 1.01 < data["roll_at_ride_deg"] <= most
    assert found.shaft is not None
    assert data["driveshaft"]["longest_m"] == pytest.approx(float(np.nanmax(found.shaft.length[inside])))
    assert table.read_text().startswith("over,heave_mm,roll_deg,drive_pct")
    rows = list(csv.DictReader(table.read_text().splitlines()))
    ride = next(r for r in rows if r["over"] == "heave" and float(r["heave_mm"]) == 0.0)
    gauge = next(g for g in Study(basalt).axles["front"].gauges if g.id == "drive")
    assert float(ride["drive_pct_pm"]) == pytest.approx(2 * gauge.sigma, rel=0.05)
    acts = data["behaviour"]
    weight = effective_vehicle(basalt).rig.mass_kg * 9.80665
    slope = math.radians(acts["grade_deg"])
    assert acts["climb"]["front_n"] + acts["climb"]["rear_n"] == pytest.approx(weight * math.cos(slope))
    across = acts["side_slope"]
    tyres = sum(across[f"{end}_{side}_n"] for end in ("front", "rear") for side in ("uphill", "downhill"))
    assert tyres == pytest.approx(weight * math.cos(math.radians(across["slope_deg"])))
    assert acts["back_over_sprung_deg"] < acts["back_over_deg"]
    assert data["steering"]["serves"] == "right"
    assert {f["code"] for f in data["findings"]} >= {"T301"}


def test_words_and_no_layout(capsys: pytest.CaptureFixture[str], tmp_path: Path, basalt: Project) -> None:
    assert main(["travel", str(demo_file("tamarack.stoutlink"))]) == 0
    said = capsys.readouterr().out.splitlines()
    assert said[0].startswith("rear axle")
    assert any(line.startswith("clears: ") for line in said)
    bare = tmp_path / "bare.stoutlink"
    write_project(with_parts(basalt, rear_layout=None, rear_compare=None), bare)
    assert main(["travel", str(bare)]) == 2
    assert "no rear layout" in capsys.readouterr().err
