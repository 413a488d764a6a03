"""The hill from a project, and the archive: opened by a plain unzip, by Python, and by the program itself elsewhere."""

from __future__ import annotations

import hashlib
import io
import json
import math
import shutil
import subprocess
import zipfile
from pathlib import Path

import ezdxf
import msgspec
import numpy as np
import pytest
from pypdf import PdfReader

from stoutlink.core.advice.log_words import hill_lines, hill_name
from stoutlink.core.analysis.log.hill import HillFound, profiles
from stoutlink.core.document.log import HILL_WORDS, Hill, HillPoint
from stoutlink.core.document.project import Project, with_parts
from stoutlink.core.mechanics.slopes import grade_loads
from stoutlink.core.quantity.constants import GRAVITY
from stoutlink.core.reports.hand_over import hand_over_archive, untested
from stoutlink.core.storage.files import read_project, write_project
from stoutlink.core.storage.photos import add_photo
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

PNG = bytes.fromhex("89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c4890000000d49444154789c6360000002000001e221bc330000000049454e44ae426082")  # fmt: skip


def on(project: Project, hill: Hill) -> Project:
    return msgspec.structs.replace(project, log=msgspec.structs.replace(project.log, hill=hill))


@pytest.fixture(scope="module")
def cycled() -> Study:
    study = Study(read_project(demo_file("basalt.stoutlink")))
    study.cycle()
    return study


def drive(cycled: Study, hill: Hill) -> HillFound:
    found = Study(on(cycled.project, hill), cycled).hill()
    assert isinstance(found, HillFound)
    return found


def test_a_long_grade_carries_what_the_closed_form_says(cycled: Study) -> None:
    """Far up a grade both axles carry W(a·cos α ± h·sin α)/L but for what the springs give."""
    found = drive(cycled, Hill(kind="grade", slope_rad=0.4, long_m=9.0))
    run, rig = found.run, cycled.true.rig
    k = int(np.abs(run.at - 3.5).argmin())
    front, rear = grade_loads(
        rig.mass_kg * GRAVITY, rig.wheelbase_m - rig.cg_ahead_of_rear_m, rig.wheelbase_m, rig.cg_height_m, 0.4
    )
    assert run.normal[k, :2].sum() == pytest.approx(front, rel=0.03)
    assert run.normal[k, 2:].sum() == pytest.approx(rear, rel=0.03)
    assert float(np.nanmin(run.used[k])) <= math.tan(0.4) <= float(np.nanmax(run.used[k])) + 1e-6
    assert run.work[-1] == pytest.approx(run.energy[-1], rel=0.01)


@pytest.mark.parametrize("kind", [k for k in HILL_WORDS if k != "own"])
def test_every_profile_is_driven_and_told(cycled: Study, kind: str) -> None:
    hill = Hill(kind=kind, high_m=0.25, slope_rad=0.3, skew_m=0.4)  # type: ignore[arg-type]
    found = drive(cycled, hill)
    assert found.run.rests.mean() > 0.97
    assert found.run.left_over[found.run.rests].max() <= 1.0
    lines = list(hill_lines(found, "in"))
    assert f"{found.needs:.2f}" in lines[0]
    assert HILL_WORDS[hill.kind] in hill_name(hill, "in")
    left, right = profiles(hill)
    assert left[0][1] == right[0][1] == 0.0


def test_what_does_not_go_says_why(cycled: Study) -> None:
    wall = drive(cycled, Hill(kind="ledge", high_m=1.2))
    assert wall.wall
    assert not wall.over
    slippery = with_parts(cycled.project, choosing=msgspec.structs.replace(cycled.project.swap.choosing, friction=0.3))
    found = Study(on(slippery, Hill(kind="grade", slope_rad=0.5, long_m=6.0)), cycled).hill()
    assert isinstance(found, HillFound)
    assert found.slides is not None
    assert any("slides" in line for line in hill_lines(found, "in"))
    side = drive(cycled, Hill(kind="side", slope_rad=1.0, long_m=6.0))
    assert side.tips is not None
    assert not side.over
    crest = drive(
        cycled,
        Hill(
            kind="own",
            points=tuple(
                HillPoint(id=f"p-{k}", along_m=x, left_m=z, right_m=z)
                for k, (x, z) in enumerate(((0.0, 0.0), (1.2, 0.9), (1.5, 0.9), (2.7, 0.0)))
            ),
        ),
    )
    assert any(t.room < 0.2 for t in crest.touches)


def test_a_profile_of_ones_own_is_the_same_as_the_one_picked(cycled: Study) -> None:
    picked = drive(cycled, Hill(kind="ledge", high_m=0.2))
    points = tuple(
        HillPoint(id=f"p-{k}", along_m=x, left_m=z, right_m=z) for k, (x, z) in enumerate(((0.0, 0.0), (0.0, 0.2)))
    )
    own = drive(cycled, Hill(kind="own", points=points))
    assert own.needs == pytest.approx(picked.needs, rel=1e-6)


@pytest.mark.parametrize("seed", range(4))
def test_any_profile_ends_in_an_answer(cycled: Study, seed: int) -> None:
    """Rough ground, walls, pits and points one over another: an answer, its loads known wherever it rests, no warning."""
    rng = np.random.default_rng(seed)
    places = np.sort(rng.uniform(0.0, 10.0, 12).round(0))
    points = tuple(
        HillPoint(id=f"p-{k}", along_m=float(x), left_m=float(rng.uniform(-1, 1)), right_m=float(rng.uniform(-1, 1)))
        for k, x in enumerate(places)
    )
    found = drive(cycled, Hill(kind="own", points=points))
    assert np.isfinite(found.run.normal[found.run.rests]).all()
    assert np.isnan(found.run.normal[~found.run.rests]).all()
    assert list(hill_lines(found, "mm"))
    wall = drive(cycled, Hill(kind="ledge", high_m=3.0, skew_m=-0.5))
    assert wall.wall


def test_what_is_not_asked_of_a_profile_does_not_change_it() -> None:
    plain = Hill(kind="grade", slope_rad=0.3, long_m=5.0)
    assert profiles(plain) == profiles(msgspec.structs.replace(plain, skew_m=2.0, high_m=1.0, count=7))


def test_what_lacks_is_one_sentence(cycled: Study) -> None:
    said = Study(on(cycled.project, Hill(kind="own")), cycled).hill()
    assert said == "A profile of your own takes two points or more."
    front = Study(read_project(demo_file("tamarack.stoutlink"))).hill()
    assert isinstance(front, str)
    assert "springs are not known" in front


def test_the_archive_opens_anywhere(tmp_path: Path) -> None:
    home = tmp_path / "shop"
    home.mkdir()
    file = home / "rig.stoutlink"
    (home / "one.png").write_bytes(PNG)
    name = add_photo(file, home / "one.png")
    project = with_parts(read_project(demo_file("basalt.stoutlink")), photos=())
    run = msgspec.structs.replace(project.log.runs[0], photos=(name, "0" * 64 + ".jpg"))
    project = msgspec.structs.replace(
        project, log=msgspec.structs.replace(project.log, runs=(run, *project.log.runs[1:]))
    )
    write_project(project, file)
    parts: list[float] = []

    def tell(part: float) -> bool:
        parts.append(part)
        return True

    data = hand_over_archive(Study(project), file, "A4", tell)
    assert parts == sorted(parts)
    out = tmp_path / "out.zip"
    out.write_bytes(data)
    there = tmp_path / "elsewhere"
    if shutil.which("unzip"):
        subprocess.run(["unzip", "-q", str(out), "-d", str(there)], check=True, timeout=60)
    else:
        zipfile.ZipFile(out).extractall(there)
    assert zipfile.ZipFile(io.BytesIO(data)).testzip() is None
    root = there / "rig-hand-over"
    again = read_project(root / "rig.stoutlink")
    assert again == project
    assert (root / "rig.photos" / name).read_bytes() == PNG
    for line in (root / "contents.txt").read_text().splitlines():
        digest, _, key = line.partition("  ")
        if digest.startswith("missing"):
            assert "0" * 64 in line
        else:
            assert hashlib.sha256((root / key).read_bytes()).hexdigest() == digest
    words = "".join(PdfReader(root / "owners-file.pdf").pages[0].extract_text().split())
    for said in untested(_cycled(project))[:6]:
        assert "".join(said.split())[:40] in words
    assert "weightratingstaysthevehicle" in "".join(
        "".join(p.extract_text().split()) for p in PdfReader(root / "owners-file.pdf").pages
    )
    assert PdfReader(root / "shop-packet.pdf").pages
    drawings = list((root / "parts").glob("*.dxf"))
    assert drawings
    for one in drawings:
        assert len(ezdxf.readfile(one).modelspace())  # type: ignore[attr-defined]
    log = json.loads((root / "log.json").read_text())
    assert len(log["log"]["runs"]) == 6
    assert project.photo_names() == (name, "0" * 64 + ".jpg")


def _cycled(project: Project) -> Study:
    study = Study(project)
    study.cycle()
    return study


def test_the_archive_is_given_up_when_told_to() -> None:
    with pytest.raises(InterruptedError):
        hand_over_archive(Study(read_project(demo_file("basalt.stoutlink"))), None, "A4", lambda part: part < 0.5)
