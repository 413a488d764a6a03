"""Who has a project file open: a small file beside it, so that two windows do not write over one another unasked."""

from __future__ import annotations

import contextlib
import getpass
import json
import os
import time
from pathlib import Path

import msgspec

from stoutlink.core.errors import StoutError
from stoutlink.core.storage.disk import fitting, read_bytes
from stoutlink.core.storage.process import Owner, this_process


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


def take_lock(path: Path) -> bool:
    """Note that this process has the file open, in place of whoever did; ``False`` where no note can be written (then
    there is none, and nobody is kept out)."""
    lock = lock_of(path)
    note = Holder(_who(), time.time(), this_process())
    try:
        with contextlib.suppress(FileNotFoundError):
            lock.unlink()
        handle = os.open(lock, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o644)
        with os.fdopen(handle, "w", encoding="ascii") as out:
            out.write(json.dumps(msgspec.to_builtins(note)))
    except (OSError, ValueError):
        return False
    return True


def release(path: Path) -> None:
    """Take this process's own note away; another's stays."""
    lock = lock_of(path)
    found = _read(lock)
    if found is not None and found.owner == this_process():
        with contextlib.suppress(OSError):
            lock.unlink()


def _read(lock: Path) -> Holder | None:
    try:
        return msgspec.convert(json.loads(read_bytes(lock, 100_000).decode("utf-8")), Holder)
    except (StoutError, ValueError, RecursionError):
        return None


def _who() -> str:
    try:
        return getpass.getuser()
    except (KeyError, OSError, ImportError):
        return "somebody"
