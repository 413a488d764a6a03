"""Quick forms of what ``./run endure`` does at length: under a minute in all. And every file that once failed."""

from __future__ import annotations

import errno
import json
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from stoutlink.app.desk import memory
from stoutlink.app.shell.window import MainWindow
from stoutlink.core.document.project import Project
from stoutlink.core.storage.files import read_project
from stoutlink.demo import demo_file
from tests.endure import bad_files
from tests.endure.absurd import try_absurd
from tests.endure.bad_files import NOT_SAID, judge, readers, try_reader
from tests.endure.hostile_text import TEXTS, Written, hostile, write_everything
from tests.endure.long_days import OF_THE_PLATFORM
from tests.endure.mad_instruments import go_mad, odd_devices
from tests.endure.refusing_disk import refuse_everything

CORPUS = Path(__file__).parents[1] / "corpus"
KINDS = ("project", "survey", "donors", "springs", "parts", "drawing", "photo", "instrument", "left by others")
FILES = sorted(p for p in CORPUS.rglob("*") if p.is_file())
READ_BY = {"own": ("left by others",), "project": ("project", "left by others")}


def test_a_reader_without_end_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(bad_files, "SECONDS", 0.1)

    def for_ever() -> None:
        while True:
            try:
                sum(range(1000))
            except Exception:  # as a reader of others' making does
                continue

    read, wrong, _ = judge(for_ever)
    assert not read
    assert wrong.startswith("took 0.2")


@pytest.mark.parametrize("file", FILES, ids=[f"{p.parent.name}/{p.stem}" for p in FILES])
def test_what_once_failed(file: Path, tmp_path: Path) -> None:
    every = {one.kind: one for one in readers(tmp_path)}
    kinds = READ_BY.get(file.parent.name, (file.parent.name,))
    data = file.read_bytes()
    for kind in kinds:
        _, wrong, _ = judge(lambda kind=kind: every[kind].read(tmp_path, data), table=every[kind].table)  # type: ignore[misc]
        assert wrong == "", wrong


@pytest.mark.parametrize("kind", KINDS)
def test_bad_files(kind: str, tmp_path: Path) -> None:
    one = next(r for r in readers(tmp_path) if r.kind == kind)
    out = try_reader(one, tmp_path, seed=0, count=40)
    assert out.faults == []
    assert out.read + out.refused == out.tried == 40
    assert out.refused > 0, "nothing that was tried was bad"


def test_every_whole_file_is_read(tmp_path: Path) -> None:
    """Else the refusals above would say nothing."""
    for one in readers(tmp_path):
        for data in one.whole:
            read, wrong, _ = judge(lambda one=one, data=data: one.read(tmp_path, data), table=one.table)  # type: ignore[misc]
            assert (read, wrong) == (True, ""), one.kind


@pytest.mark.parametrize(
    "words", ["rig.wheelbase_m is 3", "text matching regex", "sigma is 2", "at `$.x`", "<Rig object at 0x7f>"]
)
def test_words_of_the_program_are_noticed(words: str) -> None:
    assert NOT_SAID.search(words)


def test_own_files_that_somebody_twisted(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """What the window remembers, in any state: it starts as if nothing had been."""
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    there = tmp_path / "stout-link" / "window.json"
    there.parent.mkdir()
    odd = (
        "",
        "{",
        "[]",
        '{"place": [1, 2, 9e99, 4]}',
        '{"place": [1, 2, 100000000000, 4]}',
        '{"scale": 1e308}',
        '{"scale": -1}',
        "[" * 9000,
    )
    for text in odd:
        there.write_text(text, encoding="utf-8")
        assert memory.recalled() == memory.Memory()
    there.unlink()
    there.symlink_to("/dev/zero")
    assert memory.recalled() == memory.Memory()
    memory.remember(memory.Memory(theme="light"))
    assert memory.recalled().theme == "light"
    assert there.stat().st_mode & 0o777 == 0o600
    assert there.parent.stat().st_mode & 0o777 == 0o700


def test_a_disk_that_refuses(tmp_path: Path, basalt: Project) -> None:
    out = refuse_everything(tmp_path, read_project(demo_file("starter.stoutlink")), (errno.ENOSPC,))
    assert out.faults == []
    assert out.refused > 40


def test_killed_at_any_moment(tmp_path: Path) -> None:
    """In a process of its own: it forks, which a window in this one would not bear."""
    code = (
        "import json, sys; from pathlib import Path; from tests.endure.kills import kill_often\n"
        "out = kill_often(Path(sys.argv[1]), 0, 5)\n"
        "print(json.dumps([out.kills, out.saves, out.edits, out.faults]))\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, str(tmp_path)], capture_output=True, text=True, check=True, cwd=CORPUS.parents[1]
    )
    kills, saves, edits, faults = json.loads(done.stdout)
    assert faults == []
    assert kills == 5
    assert saves > 0
    assert edits > 20


def test_hostile_text_everywhere(basalt: Project, tmp_path: Path) -> None:
    """One text with a bit of each; all of them one by one in the long form."""
    out = Written()
    write_everything(basalt, "=1+1<b>&;,\n\x07../../x\\", tmp_path / "all", out, packed=False)
    assert out.faults == []
    assert out.cells > 1000
    assert len(TEXTS) > 20


def test_hostile_text_on_the_screen(window: MainWindow, basalt: Project, qtlog: Any) -> None:
    """Markup, controls, line ends and turned writing in every name: nothing breaks, Qt complains of nothing."""
    window.take(hostile(basalt, "<b>x</b>&\na\r\u202e\u2028\x00;}{'"), None)
    for step in window.sheets:
        window.show_step(step)
        window.grab()
        window.sheets[step].as_text()
    said = [r.message for r in qtlog.records if not any(x in r.message for x in OF_THE_PLATFORM)]
    assert said == []


def test_mad_instruments(window: MainWindow, tmp_path: Path) -> None:
    out = go_mad(window, 0, 14)
    assert out.faults == []
    assert out.kept > 0, "not one true reading was taken"
    assert odd_devices(tmp_path) == []


def test_numbers_at_the_ends_of_their_ranges() -> None:
    out = try_absurd(0, 2)
    assert out.faults == []
    assert out.numbers > 500


def test_a_day_of_random_hands(tmp_path: Path) -> None:
    """In a process of its own, whose exceptions and warnings it listens to."""
    done = subprocess.run(
        [sys.executable, "-m", "tests.endure", "days", "--seed", "0", "--count", "100"],
        capture_output=True,
        text=True,
        check=False,
        cwd=CORPUS.parents[1],
    )
    said = json.loads(done.stdout.strip().splitlines()[-1])
    assert said["faults"] == []
    assert done.returncode == 0
    assert said["words"].startswith("100 actions")
    assert re.search(r"\b[1-9]\d* words held against a fresh computation", said["words"])
