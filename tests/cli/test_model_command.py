"""``stout-link model`` and ``film``: files that are read again, and one sentence for what cannot be."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
import trimesh
from PIL import Image

from stoutlink.cli.main import main
from stoutlink.demo import demo_file

BASALT = str(demo_file("basalt.stoutlink"))


def said(capsys: pytest.CaptureFixture[str]) -> str:
    out = capsys.readouterr()
    return (out.out + out.err).strip()


def test_a_model_at_ride_and_at_a_pose(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    bodies = {}
    for name, more in (("ride", []), ("up", ["--end", "front", "--pose", "60", "0", "15"])):
        out = tmp_path / f"{name}.glb"
        assert main(["model", BASALT, str(out), *more]) == 0
        assert ("at ride height" in said(capsys)) == (name == "ride")
        scene = trimesh.load_scene(io.BytesIO(out.read_bytes()), file_type="glb")
        bodies[name] = {n: scene.geometry[scene.graph[n][1]].bounds for n in scene.graph.nodes_geometry}
    for name in bodies["ride"]:
        moved = float(np.abs(bodies["up"][name] - bodies["ride"][name]).max())  # mm, z up
        if name.startswith(("Rig", "Rear")):
            assert moved == 0.0, name
    rise = bodies["up"]["Front axle: Axle tube"] - bodies["ride"]["Front axle: Axle tube"]
    assert rise[:, 2] == pytest.approx([60.0, 60.0], abs=2.0)
    tyre = "Front axle: Left tyre"
    assert np.ptp(bodies["up"][tyre], axis=0)[1] > np.ptp(bodies["ride"][tyre], axis=0)[1] + 50.0  # steered


def test_parts_and_beads_may_stay_away(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    counts = []
    for more in ([], ["--no-welds"], ["--no-parts", "--no-welds"]):
        assert main(["model", BASALT, str(tmp_path / "m.dxf"), *more]) == 0
        counts.append(int(said(capsys).split()[0]))
    assert counts[0] > counts[1] > counts[2] > 20


@pytest.mark.parametrize(
    ("words", "code", "tells"),
    [
        (["model", BASALT, "rig.stp"], "F153", ".glb"),
        (["model", BASALT, "rig.stl", "--pose", "900", "0", "0"], "F154", "mm on each side"),
        (["model", BASALT, "rig.stl", "--pose", "0", "0", "5"], "F154", "0 for the rear"),
        (["model", BASALT, "rig.stl", "--pose", "nan", "0", "0"], "F154", "does not get to"),
        (["film", BASALT, "f.gif", "--frames", "3"], "F155", "4 to 400"),
        (["film", BASALT, "f.gif", "--size", "9x9"], "F155", "640x420"),
        (["film", BASALT, "f.gif", "--of", "steer"], "F155", "front"),
        (["film", BASALT, "f.mp4", "--frames", "4"], "F155", "ends in .gif"),
        (["film", BASALT, "there", "--frames", "4", "--size", "64x64"], "F155", "is no folder"),
        (["film", BASALT, "there/frames", "--frames", "4", "--size", "64x64"], "F155", "may be written to"),
    ],
)
def test_what_cannot_be(
    words: list[str],
    code: str,
    tells: str,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.chdir(tmp_path)
    Path("there").write_text("a file")
    assert main(words) == 2
    text = said(capsys)
    assert code in text
    assert tells in text
    assert "\n" not in text
    assert [p.name for p in tmp_path.iterdir()] == ["there"]


def test_nothing_laid_out_or_entered(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    new = tmp_path / "new.stoutlink"
    assert main(["new", str(new)]) == 0
    said(capsys)
    assert main(["film", str(new), str(tmp_path / "f.gif")]) == 2
    assert "F135" in said(capsys)
    assert main(["model", str(new), str(tmp_path / "m.stl")]) == 2  # nobody has entered where the axles stand
    assert "wheelbase" in said(capsys).lower()


def test_a_film_of_the_hill_waits_for_what_it_needs(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    tamarack = str(demo_file("tamarack.stoutlink"))
    assert main(["film", tamarack, str(tmp_path / "h.gif"), "--of", "hill"]) == 2
    text = said(capsys)
    assert "F155" in text
    assert "springs are not known" in text
    assert not list(tmp_path.iterdir())


def test_a_film_and_single_pictures(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    film, folder = tmp_path / "f.gif", tmp_path / "frames"
    few = ["--frames", "6", "--size", "160x100", "--of", "roll"]
    assert main(["film", BASALT, str(film), *few]) == 0
    assert main(["film", BASALT, str(folder), "--end", "both", *few]) == 0
    with Image.open(film) as picture:
        assert picture.size == (160, 100)
        assert picture.n_frames > 3  # type: ignore[attr-defined]
    assert [p.name for p in sorted(folder.iterdir())] == [f"{k:03d}.png" for k in range(6)]
    one, two = (np.asarray(Image.open(io.BytesIO((folder / f"{k:03d}.png").read_bytes())), dtype=int) for k in (0, 1))
    assert one.shape == (100, 160, 3)
    assert np.abs(one - two).max() > 60
