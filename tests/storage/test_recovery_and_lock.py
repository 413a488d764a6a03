"""Unsaved work: never the only copy gone, never another run's, never anybody else's; and who has a file open."""

from __future__ import annotations

import contextlib
import json
import os
import stat
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import msgspec
import pytest

from stoutlink.core.document.project import Project
from stoutlink.core.errors import FileError
from stoutlink.core.storage.files import stamp_of, write_project
from stoutlink.core.storage.lock import holder_of, lock_of, release, take_lock
from stoutlink.core.storage.recovery import Recovery


def note(kept: Path, change: Callable[[dict[str, Any]], object]) -> None:
    """Change the note beside a kept project."""
    there = kept.with_suffix(".note")
    raw = json.loads(there.read_text(encoding="ascii"))
    change(raw)
    there.write_text(json.dumps(raw), encoding="ascii")


@contextlib.contextmanager
def held_elsewhere(file: Path) -> Iterator[subprocess.Popen[str]]:
    """A second real process that has a file open; it is killed at the end."""
    code = (
        "import sys, time; from pathlib import Path; from stoutlink.core.storage.lock import take_lock\n"
        "take_lock(Path(sys.argv[1])); print('held', flush=True); time.sleep(60)\n"
    )
    with subprocess.Popen([sys.executable, "-c", code, str(file)], stdout=subprocess.PIPE, text=True) as other:
        assert other.stdout is not None
        assert other.stdout.readline() == "held\n"
        try:
            yield other
        finally:
            other.kill()


def gone(kept: Path) -> None:
    """As a run that has ended left it."""
    note(kept, lambda raw: raw["owner"].update(number=999_999_999))


def test_what_a_run_that_is_gone_left_is_found_and_nothing_else(basalt: Project, tmp_path: Path) -> None:
    folder = tmp_path / "recovery"
    alive, left = Recovery(folder), Recovery(folder)
    alive.keep(basalt, None)
    left.keep(basalt, Path("/somewhere/rig.stoutlink"))
    assert Recovery(folder).leftovers() == []  # both still run
    gone(left.slot)
    (found,) = Recovery(folder).leftovers()
    assert (found.project, found.file, found.kept) == (basalt, Path("/somewhere/rig.stoutlink"), left.slot)
    assert found.when == pytest.approx(left.slot.stat().st_mtime)
    Recovery(folder).forget(found.kept)
    assert Recovery(folder).leftovers() == []
    assert alive.slot.exists()


def test_another_run_with_the_same_number_is_another_run(basalt: Project, tmp_path: Path) -> None:
    """The numbers of processes come round; when it began tells them apart, and the slots have names of their own."""
    left = Recovery(tmp_path / "r")
    left.keep(basalt, None)
    note(left.slot, lambda raw: raw["owner"].update(began="an earlier start"))
    now = Recovery(tmp_path / "r")
    now.keep(msgspec.structs.replace(basalt, name="now"), None)
    assert [one.project for one in now.leftovers()] == [basalt]
    now.clear()
    assert [one.project for one in now.leftovers()] == [basalt]


def test_odd_notes_are_no_matter(basalt: Project, tmp_path: Path) -> None:
    left = Recovery(tmp_path / "r")
    left.keep(basalt, None)
    for odd in ('{"owner":', "[]", '{"file": null, "process": 99999999999999999999999}', "\ud800"):
        left.slot.with_suffix(".note").write_text(odd, encoding="utf-8", errors="surrogatepass")
        assert [one.project for one in Recovery(tmp_path / "r").leftovers()] == [basalt]
    left.keep(basalt, None)
    note(left.slot, lambda raw: raw["owner"].update(number=10**30))
    assert len(Recovery(tmp_path / "r").leftovers()) == 1
    left.slot.with_suffix(".note").unlink()
    assert len(Recovery(tmp_path / "r").leftovers()) == 1


def test_what_cannot_be_read_is_named_and_left_alone(tmp_path: Path) -> None:
    folder = tmp_path / "r"
    folder.mkdir(mode=0o700)
    torn = folder / "unsaved-5.json"
    torn.write_bytes(b'{"format": "stout')
    recovery = Recovery(folder)
    assert recovery.leftovers() == []
    ((path, why),) = recovery.unreadable()
    assert path == torn
    assert "cut off" in why.sentence
    assert torn.exists()


def test_it_is_told_whether_the_file_was_written_since(basalt: Project, tmp_path: Path) -> None:
    file = tmp_path / "rig.stoutlink"
    write_project(basalt, file)
    left = Recovery(tmp_path / "r")
    left.keep(basalt, file, stamp_of(file))
    gone(left.slot)
    os.utime(file, (left.slot.stat().st_mtime - 60,) * 2)
    (found,) = Recovery(tmp_path / "r").leftovers()
    assert found.file_newer is None
    stamp = stamp_of(file)
    assert stamp is not None
    assert found.digest == stamp.digest
    os.utime(file, (left.slot.stat().st_mtime + 60,) * 2)
    (found,) = Recovery(tmp_path / "r").leftovers()
    assert found.file_newer == pytest.approx(left.slot.stat().st_mtime + 60)


def test_it_is_for_this_user_alone(basalt: Project, tmp_path: Path) -> None:
    folder = tmp_path / "r"
    folder.mkdir(mode=0o755)
    kept = Recovery(folder)
    target = tmp_path / "theirs"
    target.write_bytes(b"untouched")
    kept.slot.symlink_to(target)  # planted
    kept.keep(basalt, None)
    assert target.read_bytes() == b"untouched"
    assert stat.S_IMODE(folder.stat().st_mode) == 0o700
    assert {stat.S_IMODE(p.lstat().st_mode) for p in folder.iterdir()} == {0o600}
    planted = tmp_path / "planted"
    planted.symlink_to(tmp_path)
    with pytest.raises(FileError, match="own folder"):
        Recovery(planted).keep(basalt, None)


def test_a_disk_that_refuses_leaves_what_was_kept(
    basalt: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    kept = Recovery(tmp_path / "r")
    kept.keep(basalt, None)
    before = kept.slot.read_bytes()
    with monkeypatch.context() as patched:
        patched.setattr(os, "fsync", lambda *_: (_ for _ in ()).throw(OSError(28, os.strerror(28))))
        with pytest.raises(FileError, match="no space left"):
            kept.keep(msgspec.structs.replace(basalt, name="later"), None)
    assert kept.slot.read_bytes() == before


def test_any_file_name_goes_into_the_note(basalt: Project, tmp_path: Path) -> None:
    odd = tmp_path / os.fsdecode(b"rig\xff\xfe.stoutlink")
    left = Recovery(tmp_path / "r")
    left.keep(basalt, odd)
    gone(left.slot)
    assert Recovery(tmp_path / "r").leftovers()[0].file == odd


def test_who_has_a_file_open(tmp_path: Path) -> None:
    """A real second process has it; when it ends, even killed, the file is free."""
    file = tmp_path / ("x" * 240 + ".stoutlink")
    file.touch()
    (tmp_path / "other name").symlink_to(file)
    with held_elsewhere(file) as other:
        found = holder_of(tmp_path / "other name")
        assert found is not None
        assert found.owner.number == other.pid
        assert found.who
        release(file)  # not ours: it stays
        assert lock_of(file).exists()
    assert holder_of(file) is None
    assert take_lock(file)
    assert holder_of(file) is None  # it is this process
    release(file)
    assert not lock_of(file).exists()


def test_a_folder_that_takes_no_note_keeps_nobody_out() -> None:
    assert not take_lock(Path("/proc/rig.stoutlink"))
    assert holder_of(Path("/proc/rig.stoutlink")) is None
