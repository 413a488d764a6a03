"""Shocks, springs and driveshaft that cannot be are refused in one sentence, whether typed or opened."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from stoutlink.cli.main import main
from stoutlink.core.document.project import Project
from stoutlink.core.document.springing import CarrySpring, Driveshaft
from stoutlink.core.editing.edits import SetChoice, SetNumber
from stoutlink.core.errors import ValueOutOfRange
from stoutlink.demo import demo_file


def test_what_cannot_be_is_refused(basalt: Project) -> None:
    layout = basalt.layout("rear")
    assert layout is not None
    assert layout.driveshaft is not None
    assert layout.shock is not None
    at = f"layouts.{layout.id}"
    with pytest.raises(ValueOutOfRange, match="more than half"):
        SetChoice(f"{at}.driveshaft", Driveshaft(tube_od_m=0.03, tube_wall_m=0.02), "driveshaft").apply(basalt)
    with pytest.raises(ValueOutOfRange, match="more than half"):
        SetNumber(f"{at}.driveshaft.tube_od_m", 0.05).apply(
            SetNumber(f"{at}.driveshaft.tube_wall_m", 0.03).apply(basalt)
        )
    with pytest.raises(ValueOutOfRange, match="when shut"):
        SetNumber(f"{at}.shock.extended_m", layout.shock.collapsed_m - 0.01).apply(basalt)
    with pytest.raises(ValueOutOfRange, match="no shock"):
        SetChoice(f"{at}.shock", None, "shock").apply(basalt)
    with pytest.raises(ValueOutOfRange, match="both seats"):
        SetChoice(f"{at}.spring", CarrySpring(kind="coil", rate_n_per_m=3e4), "spring").apply(basalt)


def test_such_a_file_is_named_not_traced(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    data = json.loads(demo_file("basalt.stoutlink").read_text())
    for layout in data["layouts"]:
        layout["driveshaft"] = {"tube_od_m": 0.03, "tube_wall_m": 0.02}
    bad = tmp_path / "bad.stoutlink"
    bad.write_text(json.dumps(data))
    assert main(["travel", str(bad)]) == 2
    assert "Shaft tube wall (driveshaft) of " in capsys.readouterr().err
