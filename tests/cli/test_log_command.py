"""``as-built``, ``log``, ``tune``, ``hill``, ``hand-over`` on the command line."""

from __future__ import annotations

import json
import zipfile
from pathlib import Path

import pytest

from stoutlink.cli.main import main
from stoutlink.core.document.log import FELT
from stoutlink.core.storage.files import read_project
from stoutlink.core.study.study import Study
from stoutlink.demo import demo_file

BASALT = str(demo_file("basalt.stoutlink"))


def answer(capsys: pytest.CaptureFixture[str], *words: str) -> tuple[int, str]:
    code = main(list(words))
    return code, capsys.readouterr().out


def test_as_built(capsys: pytest.CaptureFixture[str]) -> None:
    code, out = answer(capsys, "as-built", BASALT, "--json")
    found = json.loads(out)
    assert code == 1  # one reading cannot be right
    rear = found["rear"]
    wrong = [r for r in rear["readings"] if r["standing"] == "wrong"]
    assert [r["name"] for r in wrong] == ["Left lower, frame: height"]
    assert wrong[0]["error"] == pytest.approx(0.0254, abs=0.006)
    study = Study(read_project(demo_file("basalt.stoutlink")))
    built = study.as_built("rear")
    assert built is not None
    assert {n["id"]: n["built"] for n in rear["numbers"]} == pytest.approx({n.id: n.built for n in built.numbers})
    assert [n["name"] for n in rear["next"]] == [n.one.name for n in study.next_readings("rear")]
    code, out = answer(capsys, "as-built", BASALT)
    assert "too much by the others" in out
    code, out = answer(capsys, "as-built", str(demo_file("starter.stoutlink")))
    assert code == 0
    assert "Nothing has been read" in out


def test_log_and_what_is_due(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    code, out = answer(capsys, "log", BASALT, "--json", "--today", "2026-11-14")
    found = json.loads(out)
    assert code == 0
    assert len(found["runs"]) == 6
    assert found["tries"] == {"judged": 2, "better": 1, "worse": 0, "open": 0}
    assert {b["id"] for b in found["bands"]} >= {"rear-drive"}
    code, out = answer(capsys, "log", BASALT, "--due", "--today", "2026-11-14")
    assert code == 1
    assert "DUE: Link ends" in out
    code, out = answer(capsys, "log", BASALT, "--due", "--json", "--today", "2026-07-02")
    assert (code, json.loads(out)) == (0, {"care": [], "bolts": []})
    code, _ = answer(capsys, "log", BASALT, "--csv", str(tmp_path / "runs.csv"))
    rows = (tmp_path / "runs.csv").read_text(encoding="utf-8-sig").splitlines()
    assert code == 0
    assert len(rows) == 7
    code, out = answer(capsys, "log", BASALT)
    assert "Your own bands" in out
    assert "Spare:" in out


@pytest.mark.parametrize("felt", FELT)
def test_tune(capsys: pytest.CaptureFixture[str], felt: str) -> None:
    code, out = answer(capsys, "tune", BASALT, "--felt", felt, "--json")
    found = json.loads(out)
    assert code == 0
    assert found["felt"] == felt
    for one in found["advice"]:
        assert bool(one["ways"]) != bool(one["why_none"])
    code, out = answer(capsys, "tune", BASALT, "--felt", felt, "--end", "rear")
    assert code == 0
    assert "One change at a time" in out


def test_hill(capsys: pytest.CaptureFixture[str]) -> None:
    code, out = answer(capsys, "hill", BASALT, "--json")
    found = json.loads(out)
    assert code == 0
    assert found["over"]
    assert found["force_left_n"] <= 1.0
    assert len(found["at_m"]) == len(found["normal_n"])
    code, out = answer(capsys, "hill", BASALT, "--kind", "side")
    assert "off-camber" in out
    code, out = answer(capsys, "hill", str(demo_file("tamarack.stoutlink")))
    assert code == 1
    assert "springs are not known" in out


def test_hand_over(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    code, out = answer(capsys, "hand-over", BASALT, str(tmp_path / "all.zip"))
    assert code == 0
    assert "written" in out
    assert any(n.endswith("owners-file.pdf") for n in zipfile.ZipFile(tmp_path / "all.zip").namelist())
    code, _ = answer(capsys, "hand-over", BASALT, str(tmp_path / "owner.pdf"))
    assert (tmp_path / "owner.pdf").read_bytes().startswith(b"%PDF")
    assert main(["hand-over", BASALT, str(tmp_path / "no" / "such" / "all.zip")]) == 2
    capsys.readouterr()
    for other in ("owner.txt", "owner"):
        assert main(["hand-over", BASALT, str(tmp_path / other)]) == 2
        told = capsys.readouterr().err
        assert "F160" in told
        assert f"“{other}”" in told
        assert ".zip" in told
        assert not (tmp_path / other).exists()
