"""Who has a project file open: a small file beside it, so that two windows do not write over one another unasked."""

from __future__ import annotations

import contextlib
import errno
import fcntl
import getpass
import json
import os
import time
from collections.abc import Iterator
from pathlib import Path

import msgspec

from stoutlink.core.errors import StoutError
from stoutlink.core.storage.disk import fitting, read_bytes
from stoutlink.core.storage.process import Owner, this_process

MOST = 100_000
"""Bytes of a note."""
WITHOUT_LOCKS = (errno.ENOLCK, errno.ENOTSUP, errno.ENOSYS)
"""A disk, as of some networks, that has no locks of the kernel's: the note alone has to do there."""
TRIES, WAIT = 20, 0.005
"""How often, and after how many seconds again, it is tried while another process is at the note."""


class Holder(msgspec.Struct, frozen=True):
    """Who has it open, since when (s since the epoch), in which process."""

    who: str
    since: float
    owner: Owner


def lock_of(path: Path) -> Path:
    """Where the note on who has a file open stands; one for all the links that lead to the file."""
    there = Path(os.path.realpath(path))
    return there.with_name(fitting(there, ".lock", "."))


def holder_of(path: Path) -> Holder | None:
    """Who else has the file open now; ``None`` when nobody, or this process itself."""
    try:
        found = _read(lock_of(path))
    except ValueError:  # no file can have that name
        return None
    return found if found is not None and found.owner != this_process() and found.owner.runs else None


def take_lock(path: Path, *, over: bool = False) -> bool:
    """Note that this process has the file open. ``False`` where somebody else has it (unless ``over`` their note, which
    the user was asked about) and where no note can be written: then there is none, and nobody is kept out.

    Of several who ask at the same moment one gets it: looking and noting are one step, under the kernel's lock.
    """
    try:
        with _alone(lock_of(path)) as handle:
            found = _decoded(os.pread(handle, MOST, 0))
            if found is not None and found.owner != this_process() and found.owner.runs and not over:
                return False
            note = json.dumps(msgspec.to_builtins(Holder(_who(), time.time(), this_process()))).encode("ascii")
            os.ftruncate(handle, 0)
            os.pwrite(handle, note, 0)
    except (OSError, ValueError):
        return False
    return True


def release(path: Path) -> None:
    """Take this process's own note away; another's stays."""
    lock = lock_of(path)
    with contextlib.suppress(OSError, ValueError):
        if os.path.lexists(lock):
            with _alone(lock) as handle:
                found = _decoded(os.pread(handle, MOST, 0))
                if found is not None and found.owner == this_process():
                    lock.unlink()


@contextlib.contextmanager
def _alone(lock: Path) -> Iterator[int]:
    """The note, open, while nobody else may look at it or write to it. Links are not followed; raises ``OSError``,
    also where somebody holds it for longer than a moment.
    """
    for _ in range(TRIES):
        handle = os.open(lock, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, 0o644)
        try:
            if _got(handle, lock):
                yield handle
                return
        finally:
            os.close(handle)
        time.sleep(WAIT)
    raise OSError(errno.EWOULDBLOCK, os.strerror(errno.EWOULDBLOCK))


def _got(handle: int, lock: Path) -> bool:
    """Whether nobody else is at it, and it is not a note that was just taken away."""
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        here, there = os.fstat(handle), os.lstat(lock)
    except (BlockingIOError, FileNotFoundError):
        return False
    except OSError as why:
        return why.errno in WITHOUT_LOCKS
    return (here.st_ino, here.st_dev) == (there.st_ino, there.st_dev)


def _read(lock: Path) -> Holder | None:
    try:
        return _decoded(read_bytes(lock, MOST))
    except StoutError:
        return None


def _decoded(data: bytes) -> Holder | None:
    try:
        return msgspec.convert(json.loads(data.decode("utf-8")), Holder)
    except (ValueError, RecursionError):
        return None


def _who() -> str:
    try:
        return getpass.getuser()
    except (KeyError, OSError, ImportError):
        return "somebody"
