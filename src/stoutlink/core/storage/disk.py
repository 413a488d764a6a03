"""Bytes in and out of files: bounded on reading; never in place, proved and flushed on writing, the old file kept.

A write goes into a part file beside its target, is flushed, and takes the target's name in one step. A part file that
a killed process left is taken away by the next write into the same folder.
"""

from __future__ import annotations

import contextlib
import errno
import hashlib
import os
import re
import secrets
import shutil
import stat
from pathlib import Path

from stoutlink.core.errors import FileError
from stoutlink.core.storage.process import host_mark, runs_here

LARGEST = 64 * 1024 * 1024
"""No file the program reads is larger than this."""


def read_bytes(path: Path, most: int = LARGEST) -> bytes:
    """The bytes of a file of at most ``most`` bytes; the size is looked at first. Raises :class:`FileError` (F101,
    F120, F121) for one that is larger, that is no ordinary file, or that the disk refuses.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            found = os.fstat(handle)
            kind = "a folder" if stat.S_ISDIR(found.st_mode) else "a device or a pipe"
            plain = stat.S_ISREG(found.st_mode)
            data = _all_of(handle, most + 1) if plain and found.st_size <= most else b""
        finally:
            os.close(handle)
    except (OSError, ValueError) as why:
        raise FileError("F121", f"{path} cannot be opened: {reason(why)}.") from None
    if not plain:
        raise FileError("F120", f"{path} is {kind}, not a file.")
    if found.st_size > most or len(data) > most:
        raise FileError("F101", f"{path.name} is larger than {most // 1024 // 1024} MiB, which no such file is.")
    return data


def write_bytes(data: bytes, path: Path, *, keep_previous: bool = False, private: bool = False) -> None:
    """Put ``data`` at ``path`` in one step, or leave what is there as it was; raises :class:`FileError` (F122).

    ``keep_previous`` keeps the old file as :func:`previous_of`, so that there is one at every moment. ``private``:
    for this user's eyes only, and a link at ``path`` is replaced, not followed.
    """
    part: Path | None = None
    try:
        if not private and _is_device(path):
            _into_device(path, data)
            return
        path = path if private else _followed(path)
        old = _there(path)
        if old is not None and stat.S_ISDIR(old.st_mode):
            raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR))
        if old is not None and not private and not os.access(path, os.W_OK):
            raise PermissionError(errno.EACCES, "the file is write-protected")
        _sweep(path.parent)
        part = _part_of(path)
        handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o600)
        with os.fdopen(handle, "wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
            if os.fstat(out.fileno()).st_size != len(data):
                raise OSError(errno.EIO, os.strerror(errno.EIO))
        if not private:
            os.chmod(part, old.st_mode & 0o777 if old is not None else 0o666 & ~_umask())
        if keep_previous and old is not None:
            _keep(path)
        os.replace(part, path)
        _sync_folder(path.parent)
    except (OSError, ValueError) as why:
        if part is not None:
            with contextlib.suppress(OSError):
                part.unlink()
        raise refused(path, why) from None


def refused(path: Path, why: OSError | ValueError) -> FileError:
    """What is said when the disk does not take something."""
    return FileError(
        "F122", f"{path} cannot be written: {reason(why)}.", "Nothing is lost: save under another name or make room."
    )


def previous_of(path: Path) -> Path:
    """Where the version before the last save is kept: ``NAME.previous``, the name cut where the disk takes no more.

    >>> previous_of(Path("/tmp/rig.stoutlink")).name
    'rig.stoutlink.previous'
    """
    return path.with_name(fitting(path, ".previous"))


def fitting(path: Path, tail: str, head: str = "") -> str:
    """A name beside ``path`` made of its own between ``head`` and ``tail``, cut to what the disk takes; a cut one
    carries a mark of the whole, so that two never meet.
    """
    name = os.fsencode(path.name)
    try:
        most = os.pathconf(path.parent, "PC_NAME_MAX")
    except (OSError, ValueError):
        most = 255
    room = most - len(os.fsencode(head)) - len(os.fsencode(tail))
    if len(name) > room:
        name = name[: room - 9].decode("utf-8", "ignore").encode() + b"~" + _mark_of(path.name).encode()
    return head + os.fsdecode(name) + tail


def reason(why: OSError | ValueError) -> str:
    """What the system says, for the end of a sentence."""
    if isinstance(why, OSError):
        if why.errno == errno.ENXIO:
            return "nobody reads from it"
        return (why.strerror or "unknown reason").lower()
    return "no file can have that name"


def _is_device(path: Path) -> bool:
    """Whether a path leads to a device or a pipe (as /dev/stdout does, by links that name no file)."""
    try:
        mode = os.stat(path).st_mode
    except OSError:
        return False
    return not stat.S_ISREG(mode) and not stat.S_ISDIR(mode)


def _into_device(path: Path, data: bytes) -> None:
    """A device or a pipe takes what it is given; one that nobody reads from is refused, not waited for."""
    handle = os.open(path, os.O_WRONLY | os.O_NONBLOCK | os.O_CLOEXEC)  # of a pipe without a reader: ENXIO
    os.set_blocking(handle, True)
    with os.fdopen(handle, "wb") as out:
        out.write(data)


def _all_of(handle: int, most: int) -> bytes:
    with os.fdopen(os.dup(handle), "rb") as there:
        return there.read(most)


def _followed(path: Path) -> Path:
    """Where a link leads; raises ``OSError`` for one that leads round in a circle."""
    if not path.is_symlink():
        return path
    there = Path(os.path.realpath(path))
    if there.is_symlink():
        raise OSError(errno.ELOOP, os.strerror(errno.ELOOP))
    return there


def _there(path: Path) -> os.stat_result | None:
    try:
        return os.lstat(path)
    except FileNotFoundError:
        return None


def _mark_of(name: str) -> str:
    return hashlib.sha256(os.fsencode(name)).hexdigest()[:8]


def _part_of(path: Path) -> Path:
    return path.with_name(f".{_mark_of(path.name)}.{host_mark()}.{os.getpid()}.{secrets.token_hex(4)}.part")


_PART = re.compile(r"\.[0-9a-f]{8}\.(?P<host>[0-9a-f]{4})\.(?P<process>\d+)\.[0-9a-f]{8}\.part")


def _sweep(folder: Path) -> None:
    """Take away part files of any target in a folder whose process on this machine is gone."""
    with contextlib.suppress(OSError), os.scandir(folder) as there:
        for one in there:
            found = _PART.fullmatch(one.name)
            if found and found["host"] == host_mark() and not runs_here(int(found["process"])):
                with contextlib.suppress(OSError):
                    os.unlink(one.path)


def _keep(path: Path) -> None:
    """Give the old file its second name; on a disk without links, a copy of it."""
    spare = _part_of(path)
    try:
        try:
            os.link(path, spare)
        except FileNotFoundError:
            return
        except OSError:
            _copy(path, spare)
        os.replace(spare, previous_of(path))
    finally:
        with contextlib.suppress(OSError):
            spare.unlink()


def _copy(path: Path, to: Path) -> None:
    shutil.copyfile(path, to)
    os.chmod(to, os.stat(path).st_mode & 0o777)
    with open(to, "rb") as copied:
        os.fsync(copied.fileno())


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)
