"""``make``: one axle of several records, and that window, command line and results say the same of it."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

import pytest

from stoutlink.cli.main import main
from stoutlink.core.analysis.swap.made import made_of
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file


@pytest.fixture
def file(tmp_path: Path) -> Path:
    return Path(shutil.copy(demo_file("basalt.stoutlink"), tmp_path / "rig.stoutlink"))


def test_an_axle_is_made_and_written(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    before = read_project(file)
    code = main(["make", str(file), "--of", "vh-36r", "--outers", "gs-31r", "--name", "Wide with light ends", "--json"])
    assert code == 0
    said = json.loads(capsys.readouterr().out)
    assert said["parts"] == {"housing": "vh-36r", "gears": "vh-36r", "shafts": "vh-36r", "outers": "gs-31r"}
    after = read_project(file)
    made = next(d for d in after.swap.donors if d.id == said["axle"])
    assert made.name == "Wide with light ends"
    assert len(after.swap.donors) == len(before.swap.donors) + 1
    ends = next(d for d in after.swap.donors if d.id == "gs-31r")
    assert (made.bolt_count, made.bolt_circle_m) == (ends.bolt_count, ends.bolt_circle_m)
    found = made_of(after, made)
    assert found is not None
    assert [(m["which"], m["fits"]) for m in said["meets"]] == [(m.title, m.fits) for m in found.mates]
    assert said["to_measure"] == list(found.to_measure)
    main(["analyze", str(file), "--json"])
    whole = json.loads(capsys.readouterr().out)
    assert whole["made_of"][-1] == said
    main(["make", str(file), "--of", "vh-36r", "--gears", "gs-31r"])
    words = capsys.readouterr().out
    assert "does not fit: gears in the housing: a ring gear of" in words
    assert "new: carrier and pinion bearings" in words


def test_what_is_not_there_is_said_and_nothing_written(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    before = file.read_bytes()
    assert main(["make", str(file), "--of", "vh-36r", "--gears", "nobody"]) == 2
    assert "There is no axle “nobody” in the catalogue" in capsys.readouterr().err
    assert file.read_bytes() == before
