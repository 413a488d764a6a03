"""The command line as it is called: output, exit codes, one sentence and no traceback for what cannot be used."""

from __future__ import annotations

import csv
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from stoutlink.cli.main import main
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file

DEMO = str(demo_file("basalt.stoutlink"))


def _run(*words: str) -> subprocess.CompletedProcess[str]:
    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "QT_QPA_PLATFORM")}
    return subprocess.run(
        [sys.executable, "-m", "stoutlink.cli.main", *words], capture_output=True, text=True, env=env, check=False
    )


def test_analyze_json_without_a_display() -> None:
    done = _run("analyze", DEMO, "--json", "--pose", "100", "5", "--pose", "-50", "0")
    assert done.returncode == 0, done.stderr
    rear = json.loads(done.stdout)["axles"]["rear"]
    wanted = {
        "side_view_centre",
        "support_slope",
        "anti_squat_pct",
        "anti_lift_braking_pct",
        "roll_centre_height_m",
        "roll_axis",
        "roll_steer_deg_per_deg",
        "lateral_hold",
        "plan_angles_deg",
        "pinion_change_deg_per_m",
        "pinion_change_over_heave_deg",
        "reached_heave_m",
        "poses",
    }
    assert wanted <= rear.keys()
    assert {"anti_lift_drive_pct", "anti_dive_pct"} <= json.loads(done.stdout)["axles"]["front"].keys()
    assert set(rear["anti_squat_pct"]) == {"full_thrust", "shared_locked", "shared_open"}
    assert [p["heave_m"] for p in rear["poses"]] == [0.1, -0.05]
    assert rear["poses"][1]["axle_centre_m"][2] == pytest.approx(0.473075 - 0.05)


def test_the_drawing_board_agrees_to_a_millionth(capsys: pytest.CaptureFixture[str]) -> None:
    """The demo's rear four-link by straight edge, in inches, from the dimensions typed into it."""
    assert main(["analyze", DEMO, "--json"]) == 0
    rear = json.loads(capsys.readouterr().out)["axles"]["rear"]
    upper, lower = (32.25 - 30.25) / (35.5 - 1), (25 - 17.25) / (41 - 2)
    x = ((17.25 - lower * 2) - (30.25 - upper * 1)) / (upper - lower)
    z = 30.25 + upper * (x - 1)
    assert rear["side_view_centre"]["x_m"] / 0.0254 == pytest.approx(x, abs=1e-6)
    assert rear["side_view_centre"]["z_m"] / 0.0254 == pytest.approx(z, abs=1e-6)
    assert rear["anti_squat_pct"]["full_thrust"]["whole_vehicle"] == pytest.approx(
        100 * z / x * 104.75 / 34.25, abs=1e-6
    )
    apex_u = 1 - 4.5 * 34.5 / 12
    apex_l = 41 + 12 * 39 / 10
    z_u, z_l = 30.25 + upper * (apex_u - 1), 17.25 + lower * (apex_l - 2)
    tilt = (z_l - z_u) / (apex_l - apex_u)
    assert rear["roll_centre_height_m"] / 0.0254 == pytest.approx(z_u - tilt * apex_u, abs=1e-6)
    assert rear["roll_steer_deg_per_deg"] == pytest.approx(tilt, abs=1e-6)


def test_analyze_as_text(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["analyze", DEMO, "--pose", "0", "0"]) == 0
    text = capsys.readouterr().out
    assert "Anti-squat · full thrust, rig CG" in text
    assert "Left upper" in text


def test_export_and_overwriting(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "cuts.csv"
    assert main(["export", DEMO, "--cutlist", str(out)]) == 0
    assert len(list(csv.DictReader(out.read_text(encoding="utf-8").splitlines()))) == 8
    assert main(["export", DEMO, "--cutlist", str(tmp_path / "none" / "x.csv")]) == 2
    assert "cannot be written" in capsys.readouterr().err


def test_check_exit_codes(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", DEMO]) == 1
    assert "K121 danger" in capsys.readouterr().out
    assert main(["new", str(tmp_path / "n.stoutlink"), "--name", "Mine", "--units", "mm"]) == 0
    assert main(["check", str(tmp_path / "n.stoutlink")]) == 1
    said = capsys.readouterr().out
    assert "R130 warn: Not entered yet: wheelbase, front tyre" in said
    assert "1 open, 0 accepted" in said
    assert main(["analyze", str(tmp_path / "n.stoutlink")]) == 0
    said = capsys.readouterr().out
    assert "not entered yet: Wheelbase, Front tyre" in said
    assert "Weight, all up" not in said
    made = read_project(tmp_path / "n.stoutlink")
    assert (made.name, made.settings.units) == ("Mine", "mm")
    assert main(["new", str(tmp_path / "n.stoutlink")]) == 2
    assert "already there" in capsys.readouterr().err


@pytest.mark.parametrize("verb", [["analyze"], ["analyze", "--json"], ["check"]])
def test_bad_files_exit_2_with_one_line(tmp_path: Path, verb: list[str], capsys: pytest.CaptureFixture[str]) -> None:
    raw = json.loads(Path(DEMO).read_text(encoding="utf-8"))
    bad = {
        "torn": Path(DEMO).read_text(encoding="utf-8")[:500],
        "nan": json.dumps(raw | {"notes": float("nan")}),
    }
    for name, text in bad.items():
        path = tmp_path / f"{name}.stoutlink"
        path.write_text(text, encoding="utf-8")
        assert main([verb[0], str(path), *verb[1:]]) == 2
        said = capsys.readouterr()
        assert said.out == ""
        assert said.err.count("\n") == 1
        assert "Traceback" not in said.err


def test_a_layout_that_does_not_hold_is_said_beside_everything_that_can_be_worked_out(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """All rear links parallel to the ground's middle line: nothing holds the axle sideways; the front goes on."""
    raw = json.loads(Path(DEMO).read_text(encoding="utf-8"))
    for layout in raw["layouts"]:
        if layout["id"] == "rear-a":
            for link in layout["links"]:
                side = 0.45 if link["side"] == "left" else -0.45
                link["frame_pivot_m"][1] = link["axle_pivot_m"][1] = side
    path = str(tmp_path / "parallel.stoutlink")
    Path(path).write_text(json.dumps(raw), encoding="utf-8")
    words = "nothing holds the axle sideways"
    assert main(["analyze", path]) == 0
    text = capsys.readouterr().out
    assert "Rear: Rear four-link, first cut\n  no numbers: layouts.rear-a (Rear four-link, first cut)" in text
    assert words in text
    assert "Front: Front three-link with panhard\n  Anti-lift" in text
    assert main(["analyze", "--json", path]) == 0
    axles = json.loads(capsys.readouterr().out)["axles"]
    assert set(axles["rear"]) == {"layout", "kind", "problem"}
    assert words in axles["rear"]["problem"]
    assert any(key.endswith("_pct") for key in axles["front"])
    assert main(["check", path]) == 1
    assert (
        f"G110 danger: layouts.rear-a (Rear four-link, first cut) does not hold the axle: {words}"
        in capsys.readouterr().out
    )
    assert main(["travel", path]) == 2
    said = capsys.readouterr()
    assert said.out == ""
    assert words in said.err
    assert main(["travel", path, "--end", "front"]) in (0, 1)
    capsys.readouterr()
    assert main(["export", path, "--cutlist", str(tmp_path / "cuts.csv")]) == 0
    said = capsys.readouterr()
    assert "left out of the cut list" in said.err
    assert words in said.err
    rows = (tmp_path / "cuts.csv").read_text(encoding="utf-8").splitlines()[1:]
    assert {row.split(",")[0] for row in rows} == {"front"}


def test_two_links_on_one_line_are_named(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    raw = json.loads(Path(DEMO).read_text(encoding="utf-8"))
    links = raw["layouts"][0]["links"]
    for name in ("frame_pivot_m", "axle_pivot_m"):
        links[1][name] = links[0][name]
    path = tmp_path / "same.stoutlink"
    path.write_text(json.dumps(raw), encoding="utf-8")
    assert main(["analyze", str(path)]) == 2
    assert "upper_left and upper_right" in capsys.readouterr().err


def test_pose_out_of_range(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["analyze", DEMO, "--pose", "5000", "0"]) == 2
    assert "5000" in capsys.readouterr().err
    with pytest.raises(SystemExit) as stop:
        main(["analyze", DEMO, "--pose", "nan", "0"])
    assert stop.value.code == 2
