"""Files the program keeps for one user: nobody else's eyes, no links followed, bounded; and the note on who has a file open, when
several ask at once.
"""

from __future__ import annotations

import errno
import fcntl
import os
import stat
import subprocess
import sys
import time
from pathlib import Path

import pytest

from stoutlink.core.errors import FileError
from stoutlink.core.storage.disk import write_bytes
from stoutlink.core.storage.lock import holder_of, lock_of, release, take_lock
from stoutlink.core.storage.own_files import append_own, own_folder, read_own, write_own
from stoutlink.core.storage.photos import add_photo, is_whole, photo_folder


def test_what_is_written_is_for_this_user_alone(tmp_path: Path) -> None:
    path = tmp_path / "state" / "recent.json"
    assert write_own(b"[]", path)
    assert read_own(path) == b"[]"
    assert append_own("a fault\n", path.with_name("faults.log"))
    assert stat.S_IMODE(path.parent.stat().st_mode) == 0o700
    assert {stat.S_IMODE(p.stat().st_mode) for p in path.parent.iterdir()} == {0o600}
    os.chmod(path.parent, 0o755)
    own_folder(path.parent)
    assert stat.S_IMODE(path.parent.stat().st_mode) == 0o700


def test_no_link_is_followed(tmp_path: Path) -> None:
    theirs = tmp_path / "theirs"
    theirs.write_bytes(b"untouched")
    state = tmp_path / "state"
    state.mkdir(mode=0o700)
    for name in ("recent.json", "faults.log"):
        (state / name).symlink_to(theirs)
    assert read_own(state / "recent.json") is None
    assert write_own(b"[1]", state / "recent.json")
    assert read_own(state / "recent.json") == b"[1]"
    assert not append_own("x", state / "faults.log")
    assert theirs.read_bytes() == b"untouched"
    (tmp_path / "planted").symlink_to(tmp_path / "elsewhere")
    (tmp_path / "elsewhere").mkdir()
    assert not write_own(b"x", tmp_path / "planted" / "recent.json")
    with pytest.raises(FileError, match="not this user's own folder") as why:
        own_folder(tmp_path / "planted")
    assert why.value.code == "F124"
    assert list((tmp_path / "elsewhere").iterdir()) == []


def test_it_is_bounded_and_odd_things_are_as_none(tmp_path: Path) -> None:
    path = tmp_path / "s" / "log"
    for _ in range(3):
        append_own("x" * 100, path, most=150)
    assert path.stat().st_size == 100
    assert path.with_name("log.previous").stat().st_size == 200
    assert read_own(path, most=99) is None
    os.mkfifo(tmp_path / "s" / "pipe")
    assert read_own(tmp_path / "s" / "pipe") is None
    assert not append_own("x", tmp_path / "s" / "pipe")
    assert read_own(tmp_path / "s") is None
    assert read_own(Path("/tmp/a\0b")) is None
    assert append_own("half \ud83d", path)
    assert not write_own(b"x", Path("/proc/none/recent.json"))


def test_a_pipe_nobody_reads_from_is_not_waited_for(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe")
    with pytest.raises(FileError, match="nobody reads from it"):
        write_bytes(b"x", tmp_path / "pipe")
    reader = os.open(tmp_path / "pipe", os.O_RDONLY | os.O_NONBLOCK)
    write_bytes(b"hello", tmp_path / "pipe")
    assert os.read(reader, 10) == b"hello"
    os.close(reader)


def test_of_many_who_ask_at_once_one_has_it(tmp_path: Path) -> None:
    """Twelve real processes start at the same moment, over and over."""
    file = tmp_path / "rig.stoutlink"
    code = (
        "import sys, time; from pathlib import Path; from stoutlink.core.storage.lock import take_lock\n"
        "while time.time() < float(sys.argv[2]): pass\n"
        "print(int(take_lock(Path(sys.argv[1]))), flush=True); sys.stdin.read()\n"
    )
    for _ in range(3):
        start = str(time.time() + 2.0)
        many = [
            subprocess.Popen([sys.executable, "-c", code, str(file), start], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
            for _ in range(12)
        ]  # fmt: skip
        got = [one.stdout.readline().strip() for one in many if one.stdout is not None]
        assert sorted(got) == ["0"] * 11 + ["1"]
        holder = holder_of(file)
        assert holder is not None
        assert holder.owner.number == many[got.index("1")].pid
        assert not take_lock(file)
        for one in many:
            one.kill()
            one.communicate()
        assert holder_of(file) is None  # stale: its process is gone
    assert take_lock(file)
    release(file)
    assert not lock_of(file).exists()


def test_a_note_is_taken_over_only_when_the_user_said_so(tmp_path: Path) -> None:
    file = tmp_path / "rig"
    code = "import sys; from pathlib import Path; from stoutlink.core.storage.lock import take_lock; take_lock(Path(sys.argv[1])); print(1, flush=True); sys.stdin.read()"
    with subprocess.Popen([sys.executable, "-c", code, str(file)], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as other:  # fmt: skip
        assert other.stdout is not None
        other.stdout.readline()
        assert not take_lock(file)
        assert holder_of(file) is not None
        assert take_lock(file, over=True)
        assert holder_of(file) is None
        other.kill()
    lock_of(file).unlink()
    lock_of(file).symlink_to(tmp_path / "elsewhere")
    assert not take_lock(file)  # planted: not followed
    assert not (tmp_path / "elsewhere").exists()


def test_a_photo_that_was_cut_is_copied_again(tmp_path: Path) -> None:
    photo = tmp_path / "a.png"
    photo.write_bytes(b"\x89PNG\r\n\x1a\n" + b"y" * 500)
    name = add_photo(tmp_path / "rig.stoutlink", photo)
    there = photo_folder(tmp_path / "rig.stoutlink") / name
    there.write_bytes(there.read_bytes()[:100])
    assert not is_whole(there)
    add_photo(tmp_path / "rig.stoutlink", photo)
    assert is_whole(there)
    assert not is_whole(there.with_name("0" * 64 + ".png"))


def test_a_disk_without_locks_of_the_kernel_has_the_note_alone(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """As some network disks: who has the file open is still said."""

    def none(*_: object) -> None:
        raise OSError(errno.ENOLCK, os.strerror(errno.ENOLCK))

    monkeypatch.setattr(fcntl, "flock", none)
    assert take_lock(tmp_path / "rig")
    assert lock_of(tmp_path / "rig").exists()
    release(tmp_path / "rig")
    assert not lock_of(tmp_path / "rig").exists()
