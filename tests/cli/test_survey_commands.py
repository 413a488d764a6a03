"""Surveys on the command line, and the rig's numbers in what it prints."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

import pytest

from stoutlink.cli.main import main
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file


@pytest.fixture
def rig(tmp_path: Path) -> Path:
    return Path(shutil.copy(demo_file("basalt.stoutlink"), tmp_path / "rig.stoutlink"))


def test_a_survey_goes_out_and_in_again(rig: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "frame.csv"
    assert main(["export", str(rig), "--survey", "as-built", str(out)]) == 0
    assert "17 stations written" in capsys.readouterr().out
    assert main(["import", str(rig), "--survey", str(out)]) == 0
    surveys = read_project(rig).tape.surveys
    assert [s.id for s in surveys] == ["as-built", "stripped", "survey-1"]
    assert surveys[2].points == surveys[0].points
    assert surveys[2].datum == surveys[0].datum
    assert rig.with_name("rig.stoutlink.previous").exists()


def test_bad_rows_are_named_and_the_others_taken(rig: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "in.csv").write_text("name,station_in,height_in\ngood,10,22\nbad,ten,22\n")
    assert main(["import", str(rig), "--survey", str(tmp_path / "in.csv")]) == 1
    told = capsys.readouterr()
    assert "Line 3, column station_in" in told.err
    assert "1 stations taken in as survey-1, 1 rows left out" in told.out
    assert len(read_project(rig).tape.surveys[-1].points) == 1


@pytest.mark.parametrize(
    ("command", "words"),
    [
        (["export", "RIG"], "was not told what to write"),
        (["export", "RIG", "--survey", "nowhere", "x.csv"], "Known: as-built, stripped"),
        (["import", "RIG", "--survey", "/nowhere.csv"], "cannot be opened"),
        (["export", "RIG", "--survey", "as-built", "/nowhere/x.csv"], "cannot be written"),
    ],
)
def test_refusals_are_one_sentence_and_exit_2(
    rig: Path, capsys: pytest.CaptureFixture[str], command: list[str], words: str
) -> None:
    before = rig.read_bytes()
    assert main([str(rig) if c == "RIG" else c for c in command]) == 2
    told = capsys.readouterr().err
    assert words in told
    assert told.count("\n") == 1
    assert rig.read_bytes() == before


def test_results_say_where_the_rigs_numbers_come_from(rig: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["analyze", str(rig), "--json"]) == 0
    data = json.loads(capsys.readouterr().out)
    project = read_project(rig)
    known = data["rig"]
    assert (known["mass_from"], known["cg_ahead_from"], known["cg_height_from"]) == ("scales", "scales", "stated")
    s = project.rig.weight.scales
    weighed = sum((s.front_left_kg or 0, s.front_right_kg or 0, s.rear_left_kg or 0, s.rear_right_kg or 0))
    later = sum(i.mass_kg for i in project.rig.weight.items if not i.weighed)
    swapped = 0.0
    for end in ("front", "rear"):
        donor = project.donor(end)
        assert donor is not None
        assert donor.weight_kg is not None
        swapped += donor.weight_kg - (project.rig.end(end).old_axle_mass_kg or 0.0)
    assert known["numbers"]["mass_kg"]["value"] == pytest.approx(weighed + later + swapped)
    assert known["numbers"]["gvwr_left_kg"]["value"] == pytest.approx(2240.0 - known["numbers"]["mass_kg"]["value"])
    assert all(n["sigma"] is None or n["sigma"] >= 0 for n in known["numbers"].values())
    parts = data["axles"]["rear"]["uncertainty_from"]["anti_squat_pct"]["parts"]
    assert len(parts) == 3
    assert all(0 < p["share"] <= 1 and 0.5 <= p["if_halved"] <= 1 and p["better"] for p in parts)
    point = data["surveys"][0]["points"][0]
    assert point["x_m"] == pytest.approx(-22 * 0.0254)
    assert [s["shape"] for s in data["solids"]] == ["box", "tube", "tube", "box", "box", "box"]


def test_the_page_of_text_shows_every_number_with_its_doubt(rig: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["analyze", str(rig)]) == 0
    page = capsys.readouterr().out
    for words in ("Weight, all up", "CG height", "Approach angle", "Left under the weight rating"):
        line = next(one for one in page.splitlines() if words in one)
        assert "±" in line
    assert "from the scales" in page


def test_check_names_the_reading_that_cannot_be_right(rig: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", str(rig)]) == 1
    told = capsys.readouterr().out
    assert "S103 warn: The height of the point at station 76″" in told
    assert "Measure that height again first" in told
