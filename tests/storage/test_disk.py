"""Writing that is all or nothing: kills, disks without links, long names, links in circles, devices; and bounded reads."""

from __future__ import annotations

import errno
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import msgspec
import pytest

from stoutlink.core.document.project import Project
from stoutlink.core.errors import FileError
from stoutlink.core.storage import files
from stoutlink.core.storage.disk import fitting, previous_of, read_bytes, write_bytes
from stoutlink.core.storage.files import read_project, stamp_of, write_project
from stoutlink.core.storage.process import Owner, began, runs_here, this_process


def test_a_disk_without_links_keeps_the_previous_version(
    basalt: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As on a stick: every link is refused, every save goes through, the version before is there."""

    def no_links(*_: object, **__: object) -> None:
        raise OSError(errno.EPERM, os.strerror(errno.EPERM))

    monkeypatch.setattr(os, "link", no_links)
    path = tmp_path / "rig.stoutlink"
    for name in ("one", "two", "three"):
        write_project(msgspec.structs.replace(basalt, name=name), path)
    assert read_project(path).name == "three"
    assert read_project(previous_of(path)).name == "two"
    assert sorted(p.name for p in tmp_path.iterdir() if p.is_file()) == ["rig.stoutlink", "rig.stoutlink.previous"]


@pytest.mark.parametrize("links", [True, False])
def test_at_no_step_of_a_save_is_there_no_previous_version(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, links: bool
) -> None:
    """Every call that changes the folder is watched; after each one both versions are whole."""
    path = tmp_path / "rig"
    write_bytes(b"1", path, keep_previous=True)
    write_bytes(b"2", path, keep_previous=True)
    seen: list[tuple[bytes, bytes]] = []

    def watched(real: Callable[..., object]) -> Callable[..., object]:
        def call(*args: object, **more: object) -> object:
            done = real(*args, **more)
            seen.append((path.read_bytes(), previous_of(path).read_bytes()))
            return done

        return call

    def no_links(*_: object, **__: object) -> None:
        raise OSError(errno.EPERM, os.strerror(errno.EPERM))

    with monkeypatch.context() as patched:
        patched.setattr(os, "link", watched(os.link) if links else no_links)
        for name in ("replace", "unlink", "chmod", "fsync"):
            patched.setattr(os, name, watched(getattr(os, name)))
        write_bytes(b"3", path, keep_previous=True)
    assert set(seen) <= {(b"2", b"1"), (b"2", b"2"), (b"3", b"2")}
    assert seen[-1] == (b"3", b"2")


def test_a_kill_in_the_middle_leaves_nothing_behind_after_the_next_save(tmp_path: Path) -> None:
    """A real process is killed while it saves over and over; what it left half written goes with the next save."""
    path = tmp_path / "rig"
    code = (
        "import sys; from pathlib import Path; from stoutlink.core.storage.disk import write_bytes\n"
        "n = 0\n"
        "while True:\n"
        "    n += 1; write_bytes(b'%06d' % n * 20000, Path(sys.argv[1]), keep_previous=True)\n"
    )
    for _ in range(6):
        before = path.read_bytes() if path.exists() else b""
        process = subprocess.Popen([sys.executable, "-c", code, str(path)])
        until = time.monotonic() + 20
        while (path.read_bytes() if path.exists() else b"") == before and time.monotonic() < until:
            time.sleep(0.002)
        process.send_signal(signal.SIGKILL)
        process.wait()
        data = path.read_bytes()
        assert len(data) == 120_000
        assert data == data[:6] * 20_000
    write_bytes(b"whole", path, keep_previous=True)
    assert sorted(p.name for p in tmp_path.iterdir() if p.is_file()) == ["rig", "rig.previous"]
    assert previous_of(path).read_bytes() == data


def test_what_another_writes_at_the_same_time_is_not_swept(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Two part files of the same target: the one of a process that runs stays, the one of a process that is gone goes."""
    path, parts = tmp_path / "rig", []
    with monkeypatch.context() as patched:  # a write that ends before its part file takes the name
        patched.setattr(os, "replace", lambda part, _: parts.append(Path(part)))
        write_bytes(b"1", path)
    (alive,) = parts
    ended = subprocess.Popen([sys.executable, "-c", ""])
    ended.wait()
    dead = alive.with_name(alive.name.replace(f".{os.getpid()}.", f".{ended.pid}."))
    dead.write_bytes(b"half")
    write_bytes(b"2", path)
    assert alive.exists()
    assert not dead.exists()


@pytest.mark.parametrize("length", [200, 244, 247, 253, 255])
def test_names_as_long_as_the_disk_takes(basalt: Project, tmp_path: Path, length: int) -> None:
    path = tmp_path / ("ö" + "x" * (length - 12) + ".stoutlink")
    assert len(os.fsencode(path.name)) == length
    write_project(basalt, path)
    write_project(msgspec.structs.replace(basalt, name="second"), path)
    assert read_project(path).name == "second"
    assert read_project(previous_of(path)).name == basalt.name


def test_two_long_names_never_share_a_second_name(tmp_path: Path) -> None:
    one, two = (tmp_path / ("x" * 250 + end) for end in "ab")
    assert fitting(one, ".previous") != fitting(two, ".previous")
    assert len(os.fsencode(fitting(one, ".previous"))) <= 255


def test_odd_paths_are_one_sentence(basalt: Project, tmp_path: Path) -> None:
    (tmp_path / "a").symlink_to(tmp_path / "b")
    (tmp_path / "b").symlink_to(tmp_path / "a")
    os.mkfifo(tmp_path / "pipe")
    for path, words in ((tmp_path / "a", "too many levels"), (tmp_path, "folder"), (Path("/tmp/a\0b"), "no file can")):
        with pytest.raises(FileError, match=words):
            read_project(path)
    for path, words in (
        (tmp_path / "a", "too many levels"),
        (tmp_path, "is a directory"),
        (tmp_path / ("x" * 300), "too long"),
        (Path("/tmp/a\0b"), "no file can"),
    ):
        with pytest.raises(FileError, match=words):
            write_project(basalt, path)
    for path in (tmp_path / "pipe", Path("/dev/zero")):
        with pytest.raises(FileError, match="pipe"):
            read_project(path)  # at once: nobody writes into it


def test_a_write_protected_file_is_not_replaced(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "rig"
    path.write_bytes(b"kept")
    monkeypatch.setattr(os, "access", lambda *_: False)  # the tests may run as one who may do everything
    with pytest.raises(FileError, match="write-protected"):
        write_bytes(b"new", path)
    assert path.read_bytes() == b"kept"


def test_a_link_is_followed_but_for_what_is_private(tmp_path: Path) -> None:
    there = tmp_path / "there"
    there.write_bytes(b"1")
    (tmp_path / "link").symlink_to(there)
    write_bytes(b"2", tmp_path / "link")
    assert (tmp_path / "link").is_symlink()
    assert there.read_bytes() == b"2"
    write_bytes(b"3", tmp_path / "link", private=True)
    assert not (tmp_path / "link").is_symlink()
    assert there.read_bytes() == b"2"
    assert (tmp_path / "link").stat().st_mode & 0o777 == 0o600


def test_a_device_takes_what_it_is_given() -> None:
    write_bytes(b"x", Path("/dev/null"))
    assert not Path("/dev/null").is_file()
    with pytest.raises(FileError, match="no space left"):
        write_bytes(b"x" * 10_000, Path("/dev/full"))


def test_size_is_looked_at_before_reading(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "big"
    path.touch()
    os.truncate(path, 10_000_000)
    assert len(read_bytes(path, 10_000_000)) == 10_000_000
    monkeypatch.setattr(os, "dup", lambda *_: pytest.fail("it was read"))
    with pytest.raises(FileError, match="larger"):
        read_bytes(path, 9_999_999)


def test_half_a_character_stops_nothing(basalt: Project, tmp_path: Path) -> None:
    """A lone surrogate in a text: the file is written, opens, and shows that a character is lost."""
    path = tmp_path / "half.stoutlink"
    write_project(msgspec.structs.replace(basalt, name="a\ud83db", notes="\udfff"), path)
    assert read_project(path).name == "a\ufffdb"
    raw = path.read_bytes().replace('"a\ufffdb"'.encode(), b'"a\\ud83db"')
    path.write_bytes(raw)
    assert read_project(path).name == "a\ufffdb"
    odd = tmp_path / os.fsdecode(b"rig\xff.stoutlink")
    write_project(basalt, odd)
    assert read_project(odd) == basalt
    with pytest.raises(FileError) as caught:
        read_project(odd.with_name(odd.name + "x"))
    caught.value.sentence.encode()


def test_a_stamp_knows_what_was_written(basalt: Project, tmp_path: Path) -> None:
    path = tmp_path / "rig.stoutlink"
    stamp = write_project(basalt, path)
    assert stamp_of(path) == stamp
    path.write_bytes(path.read_bytes() + b"\n")
    assert stamp_of(path) != stamp
    assert stamp_of(tmp_path / "none") is None


def test_a_process_is_its_number_and_its_beginning() -> None:
    me = this_process()
    assert me.runs
    assert not msgspec.structs.replace(me, began="another start").runs
    assert not msgspec.structs.replace(me, number=10**40).runs
    assert msgspec.structs.replace(me, host="elsewhere").runs  # nobody here can tell
    assert began(os.getpid()) == me.began != ""
    ended = subprocess.Popen([sys.executable, "-c", ""])
    ended.wait()
    assert not runs_here(ended.pid)
    assert not Owner(me.host, ended.pid, me.began).runs


def test_what_could_not_be_read_again_is_not_written(
    basalt: Project, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "rig.stoutlink"
    write_project(basalt, path)
    monkeypatch.setattr(files, "LARGEST", 50_000)
    with pytest.raises(FileError, match="larger than the 0 MiB that are read") as why:
        write_project(msgspec.structs.replace(basalt, name="larger"), path)
    assert why.value.code == "F123"
    assert read_project(path) == basalt


def test_what_is_written_to_the_standard_output_goes_there(tmp_path: Path) -> None:
    """/dev/stdout is a chain of links that ends in a pipe, which has no place of its own."""
    code = "from pathlib import Path; from stoutlink.core.storage.disk import write_bytes; write_bytes(b'hello', Path('/dev/stdout'))"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, check=False)
    assert (done.stdout, done.stderr, done.returncode) == (b"hello", b"", 0)
